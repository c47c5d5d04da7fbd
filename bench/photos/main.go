// Command photos measures Repaint on photographs, of which there is no truth: what burns or is crushed beyond the photo,
// what tint a neutral target gets, and how much of the fine light and dark is kept, beside the better of two plain
// methods. The photographs are read where Debian's packages opencv-doc, python3-skimage and python3-sklearn put them;
// the masks are made with the product from picks that are kept. A contact sheet is written for looking at.
package main

import (
	"flag"
	"fmt"
	"image"
	"image/png"
	"log"
	"math"
	"os"
	"path/filepath"
	"slices"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/photos"
	"episema/internal/scenes"
)

var targets = []struct {
	css     string
	neutral bool
}{{"#1b1b1f", true}, {"#808080", true}, {"#f4f4f0", true}, {"#1d6a72", false}, {"#b7c9e0", false}, {"#1c2f6e", false}}

// figures are what is measured of one result. Shares are percent of the part's pixels; fine is that of the part by itself, and seen that
// with its edge against the ground (scenes.FineKept).
type figures struct{ burned, crushed, mean, p95, fine, seen float64 }

func main() {
	sheet := flag.String("sheet", filepath.Join(os.TempDir(), "photos"), "folder for the contact sheets")
	only := flag.String("photo", "", "measure this photo alone")
	aside := flag.Bool("aside", true, "measure the photographs that are kept aside too")
	plain := flag.Bool("plain", true, "measure the plain methods")
	flag.Parse()
	all := photos.All()
	check(os.MkdirAll(*sheet, 0o755))
	fmt.Printf("%-11s %-5s %-8s | %6s %7s %6s %6s %5s %5s | plain: %6s %7s %6s %6s %5s %5s\n", "photo", "", "target", "burned", "crushed", "C* avg", "95 %", "fine", "seen", "burned", "crushed", "C* avg", "95 %", "fine", "seen")
	for _, aside2 := range []bool{false, true} {
		for _, f := range all {
			if f.Picks == nil || f.Aside != aside2 || f.Aside && !*aside || *only != "" && *only != f.Name {
				continue
			}
			measure(f, *sheet, *plain)
		}
	}
}

func measure(f photos.Photo, folder string, plain bool) {
	pic, mask, err := f.Read()
	if err != nil {
		fmt.Printf("%-11s is not here: %v\n", f.Name, err)
		return
	}
	whole := raster.Rect{X1: pic.W, Y1: pic.H}
	learned, err := recolour.Learn(pic, mask)
	check(err)
	row := []*raster.RGB{pic, cutOut(pic, mask)}
	for _, t := range targets {
		want, err := colour.ParseCSS(t.css)
		check(err)
		goal := colour.SRGB.Linear(want)
		plan, _, err := learned.Plan(colour.SRGB, recolour.Request{Goal: goal, Settings: recolour.Defaults()})
		check(err)
		out := &raster.RGB{W: pic.W, H: pic.H, Pix: slices.Clone(pic.Pix)}
		plan.Apply(pic, out, mask, raster.Place{}, whole)
		row = append(row, out)
		m := figuresOf(pic, out, mask, t.neutral)
		where := "tuned"
		if f.Aside {
			where = "aside"
		}
		fmt.Printf("%-11s %-5s %-8s | %6.1f %7.1f %6.1f %6.1f %5.2f %5.2f", f.Name, where, t.css, m.burned, m.crushed, m.mean, m.p95, m.fine, m.seen)
		if plain {
			best := figures{burned: 1e9}
			for _, o := range []*raster.RGB{scenes.PlainHSL(pic, mask, goal), scenes.PlainAB(pic, mask, learned.Tone.Linear, goal)} {
				if p := figuresOf(pic, o, mask, t.neutral); p.burned+p.crushed+p.p95-10*p.fine < best.burned+best.crushed+best.p95-10*best.fine {
					best = p
				}
			}
			fmt.Printf(" | plain: %6.1f %7.1f %6.1f %6.1f %5.2f %5.2f", best.burned, best.crushed, best.mean, best.p95, best.fine, best.seen)
		}
		fmt.Println()
	}
	check(write(filepath.Join(folder, f.Name+".png"), row))
}

// figuresOf compares a result with its photo, over the pixels that lie wholly in the part. A neutral result's pixel is
// burned where a channel is as good as full, and crushed where one is nothing; a coloured one's where all are.
func figuresOf(was, now *raster.RGB, mask *raster.Mask, neutral bool) (f figures) {
	code := func(p *raster.RGB, i int) (lo, hi float64) {
		lo, hi = 255, 0
		for c := range 3 {
			v := math.Round(255 * colour.SRGBEncode(float64(p.Pix[3*i+c])))
			lo, hi = math.Min(lo, v), math.Max(hi, v)
		}
		return lo, hi
	}
	var n float64
	var chroma []float64
	for i, m := range mask.Pix {
		if m < raster.Whole*98/100 {
			continue
		}
		n++
		lo0, hi0 := code(was, i)
		lo, hi := code(now, i)
		if neutral {
			f.burned += count(hi >= 254 && hi0 < 254)
			f.crushed += count(lo <= 0 && lo0 > 0)
		} else {
			f.burned += count(lo >= 254 && lo0 < 254)
			f.crushed += count(hi <= 0 && hi0 > 0)
		}
		chroma = append(chroma, scenes.LabAt(now, i).Chroma())
	}
	f.burned, f.crushed = 100*f.burned/n, 100*f.crushed/n
	for _, c := range chroma {
		f.mean += c / n
	}
	slices.Sort(chroma)
	f.p95 = chroma[len(chroma)*95/100]
	f.fine, f.seen = scenes.FineKept(was, now, mask)
	return f
}

func count(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// cutOut shows what the mask holds before a chequered ground of greys.
func cutOut(p *raster.RGB, mask *raster.Mask) *raster.RGB {
	o := raster.NewRGB(p.W, p.H)
	for i, m := range mask.Pix {
		a := float32(m) / raster.Whole
		g := float32(0.15 + 0.1*float64((i%p.W/16+i/p.W/16)%2))
		for c := range 3 {
			o.Pix[3*i+c] = a*p.Pix[3*i+c] + (1-a)*g
		}
	}
	return o
}

// write puts pictures beside each other into a file.
func write(path string, row []*raster.RGB) error {
	w, h := row[0].W, row[0].H
	o := image.NewRGBA(image.Rect(0, 0, w*len(row), h))
	for k, p := range row {
		for i := range w * h {
			at := o.PixOffset(k*w+i%w, i/w)
			for c := range 3 {
				o.Pix[at+c] = uint8(math.Round(255 * colour.SRGBEncode(float64(max(0, min(1, p.Pix[3*i+c]))))))
			}
			o.Pix[at+3] = 255
		}
	}
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	if err := png.Encode(f, o); err != nil {
		return err
	}
	return f.Close()
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
