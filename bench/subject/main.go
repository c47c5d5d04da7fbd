// Command subject measures the candidates of the Subject pick against the exact masks of the rendered scenes and the masks of
// the things in the photographs (see internal/photos).
package main

import (
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"log"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"episema/core/colour"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/photos"
	"episema/internal/scenes"
)

// aside are the pictures that nothing is tuned on.
var aside = map[string]bool{"tote": true, "pot": true, "curtain": true, "cushion": true, "muff": true}

func main() {
	sheet := flag.String("sheet", "", "folder for a contact sheet: each picture five times, darkened outside its candidates and outside the mask")
	only := flag.String("only", "", "tuned: those that things are tuned on; aside: the others")
	dir := flag.String("truth", "demo/truth", "folder with the rendered truth")
	flag.Parse()
	fmt.Printf("%-16s %8s %8s %8s %8s  %8s %5s\n", "picture", "1st", "2nd", "3rd", "4th", "best 3", "sure")
	var sum [2]struct{ n, good, all int }
	show := func(name string, isAside bool, pic *raster.RGB, truth *raster.Mask) {
		if *only != "" && (*only == "tuned") == isAside {
			return
		}
		p, seen := scenes.NewPyramid(pic), scenes.Kept{}
		best := 0.0
		var masks []*raster.Mask
		var ious [isolate.SubjectCandidates]float64
		for k := range ious {
			sel, err := isolate.Compile(p, []isolate.Pick{{Kind: "subject", Join: "add", Candidate: k}}, nil, isolate.Inputs{}, seen, isolate.Exact)
			check(err)
			m, err := sel.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
			check(err)
			masks = append(masks, m)
			ious[k], _ = scenes.Compare(m, truth)
			if k < 3 {
				best = max(best, ious[k])
			}
		}
		sure, err := isolate.Subject(p, isolate.Inputs{}, seen)
		check(err)
		if *sheet != "" {
			check(draw(filepath.Join(*sheet, name+".png"), pic, append(masks, truth)))
		}
		at, mark := 0, ""
		if isAside {
			at, mark = 1, " (aside)"
		}
		sum[at].n++
		if best >= 0.9 {
			sum[at].good++
		}
		if slices.Max(ious[:]) >= 0.9 {
			sum[at].all++
		}
		fmt.Printf("%-16s %8.3f %8.3f %8.3f %8.3f  %8.3f %5.2f%s\n", name, ious[0], ious[1], ious[2], ious[3], best, sure[0], mark)
	}
	files, err := filepath.Glob(filepath.Join(*dir, "*-mask.png"))
	check(err)
	for _, f := range files {
		name := strings.TrimSuffix(filepath.Base(f), "-mask.png")
		truth, err := scenes.Mask(*dir, name+"-mask")
		check(err)
		for _, c := range []string{"red", "a1", ""} {
			file := strings.TrimSuffix(name+"-"+c, "-")
			if !exists(filepath.Join(*dir, file+".png")) {
				continue
			}
			pic, err := scenes.RGB(*dir, file)
			check(err)
			// Where the part is not all of its thing, the thing is what is looked for.
			if whole := strings.TrimSuffix(name, "-same") + "-whole"; exists(filepath.Join(*dir, whole+".png")) {
				truth, err = scenes.Mask(*dir, whole)
				check(err)
			}
			show(file, aside[name], pic, truth)
			break
		}
	}
	for _, p := range photos.All() {
		if p.Detail {
			continue // nobody would offer it first
		}
		pic, mask, err := p.ReadWhole()
		if err != nil {
			fmt.Println(p.Name, err)
			continue
		}
		show(p.Name, p.Aside, pic, mask)
	}
	fmt.Printf("best of three at 0.9 or more: %d of %d tuned on, %d of %d aside (aim three quarters); of all four: %d and %d\n", sum[0].good, sum[0].n, sum[1].good, sum[1].n, sum[0].all, sum[1].all)
}

// draw writes a picture once for each mask side by side, what lies outside each mask darkened.
func draw(path string, pic *raster.RGB, masks []*raster.Mask) error {
	step := max(1, max(pic.W, pic.H)/300)
	w, h := pic.W/step, pic.H/step
	out := image.NewRGBA(image.Rect(0, 0, w*len(masks), h))
	for k, m := range masks {
		for y := range h {
			for x := range w {
				i := y*step*pic.W + x*step
				light := 0.15 + 0.85*float64(m.Pix[i])/raster.Whole
				code := func(c int) uint8 {
					return uint8(255*light*colour.SRGBEncode(float64(max(0, min(1, pic.Pix[3*i+c])))) + 0.5)
				}
				out.Set(k*w+x, y, color.RGBA{code(0), code(1), code(2), 255})
			}
		}
	}
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	if err := png.Encode(f, out); err != nil {
		f.Close()
		return err
	}
	return f.Close()
}

func exists(path string) bool {
	_, err := os.Stat(path)
	return err == nil
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
