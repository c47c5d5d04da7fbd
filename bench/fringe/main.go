// Command fringe measures how old colour left around the edge is found and mended, on the demo's truth: with the
// exact mask nothing is left and every place named is false; with a mask drawn in by some pixels along part of
// the edge, a fringe of known size is planted.
package main

import (
	"flag"
	"fmt"
	"log"
	"math"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/mend"
	"episema/core/proof"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

func main() {
	dir := flag.String("truth", "demo/truth", "folder with the rendered truth")
	only := flag.String("scene", "", "measure this scene alone")
	list := flag.Bool("places", false, "list the places")
	flag.Parse()
	fmt.Printf("%-6s %-7s %-7s | %6s %7s | %-8s %6s %6s %6s %7s\n", "scene", "from", "to", "false", "pixels", "planted", "found", "false", "left", "beside")
	for _, n := range scenes.Names {
		if *only != "" && *only != n {
			continue
		}
		mask, err := scenes.Mask(*dir, n+"-mask")
		if err != nil {
			log.Fatal(err)
		}
		for _, from := range scenes.Colours {
			src, err := scenes.RGB(*dir, n+"-"+from)
			if err != nil {
				log.Fatal(err)
			}
			for _, to := range []string{"teal"} {
				if from == to {
					continue
				}
				clean := proof.OldColourLeft(colour.SRGB, paint(src, mask, to), 0, 1)
				fmt.Printf("%-6s %-7s %-7s | %6d %7d |", n, from, to, len(clean.Places), clean.Pixels)
				if *list {
					fmt.Print(clean.Places)
				}
				drawn, planted := drawnIn(mask, 2.5)
				ideal := paint(src, mask, to).After
				r := paint(src, drawn, to)
				was := &raster.RGB{W: r.After.W, H: r.After.H, Pix: append([]float32(nil), r.After.Pix...)}
				f := mend.FindFringe(colour.SRGB, r.Before, r.After, drawn, 1)
				other := 0
				for _, p := range proof.OldColourLeft(colour.SRGB, r, 0, 1).Places {
					if !nearby(planted, mask.W, mask.H, p.X, p.Y) {
						other++
					}
				}
				f.Mend(r.After, nil)
				shows, found, left, beside := 0, 0, 0, 0.0
				for i := range planted {
					if !near(f.Found, mask.W, mask.H, i) {
						beside = math.Max(beside, colour.DeltaE00(lab(was, i), lab(r.After, i)))
					}
					// A planted pixel counts where the old colour makes a difference, to what should be there and
					// to what stands beside it.
					if !planted[i] || colour.DeltaE00(lab(was, i), lab(ideal, i)) < 8 || colour.DeltaE00(lab(src, i), lab(src, outward(mask, i))) < 8 {
						continue
					}
					shows++
					if f.Found[i] {
						found++
					}
					if remains(r.After, was, ideal, i) > 0.25 {
						left++
					}
				}
				share := func(n int) float64 { return 100 * float64(n) / math.Max(1, float64(shows)) }
				fmt.Printf(" %-8d %5.1f%% %6d %5.1f%% %7.2f\n", shows, share(found), other, share(left), beside)
			}
		}
	}
}

func paint(src *raster.RGB, mask *raster.Mask, to string) *develop.Rendered {
	l, err := recolour.Learn(src, mask)
	if err != nil {
		log.Fatal(err)
	}
	plan, _, err := l.Plan(colour.SRGB, recolour.Request{Goal: scenes.Albedos[to], Settings: recolour.Defaults()})
	if err != nil {
		log.Fatal(err)
	}
	o := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
	plan.Apply(src, o, mask, raster.Place{}, raster.Rect{X1: o.W, Y1: o.H})
	return &develop.Rendered{Before: src, After: o, Masks: []*raster.Mask{mask}}
}

// drawnIn draws a mask in by some pixels over two eighths of its turn, and tells the pixels that this leaves out.
func drawnIn(mask *raster.Mask, by float32) (*raster.Mask, []bool) {
	d := raster.SignedDistance(func(i int) bool { return mask.Pix[i] >= raster.Whole/2 }, mask.W, mask.H)
	var sx, sy, n float64
	for i, v := range mask.Pix {
		if v > 0 {
			sx, sy, n = sx+float64(i%mask.W), sy+float64(i/mask.W), n+1
		}
	}
	out := raster.NewMask(mask.W, mask.H)
	planted := make([]bool, len(mask.Pix))
	for i, v := range mask.Pix {
		out.Pix[i] = v
		turn := math.Atan2(float64(i/mask.W)-sy/n, float64(i%mask.W)-sx/n)
		if k := int((turn + math.Pi) / (math.Pi / 4)); k != 1 && k != 6 {
			continue
		}
		out.Pix[i] = min(v, uint16(max(0, min(1, d[i]-by+0.5))*raster.Whole))
		planted[i] = v > raster.Whole*3/4 && out.Pix[i] < raster.Whole/4
	}
	return out, planted
}

// outward gives a pixel that lies out of the part, some pixels from the nearest of them to another.
func outward(m *raster.Mask, i int) int {
	x, y := i%m.W, i/m.W
	best, at, far := 1e9, i, 0.0
	for yy := max(0, y-9); yy <= min(m.H-1, y+9); yy++ {
		for xx := max(0, x-9); xx <= min(m.W-1, x+9); xx++ {
			if m.Pix[yy*m.W+xx] == 0 {
				best = min(best, math.Hypot(float64(xx-x), float64(yy-y)))
			}
		}
	}
	for yy := max(0, y-9); yy <= min(m.H-1, y+9); yy++ {
		for xx := max(0, x-9); xx <= min(m.W-1, x+9); xx++ {
			d := math.Hypot(float64(xx-x), float64(yy-y))
			if m.Pix[yy*m.W+xx] == 0 && d < best+4 && d > far {
				far, at = d, yy*m.W+xx
			}
		}
	}
	return at
}

// remains is how much of the difference between two pictures is left in a third, at a pixel.
func remains(now, was, ideal *raster.RGB, i int) float64 {
	var n, d float64
	for c := range 3 {
		u, v := float64(was.Pix[3*i+c]-ideal.Pix[3*i+c]), float64(now.Pix[3*i+c]-ideal.Pix[3*i+c])
		n, d = n+u*v, d+u*u
	}
	return n / d
}

func lab(p *raster.RGB, i int) colour.Lab {
	return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
}

func near(f []bool, w, h, i int) bool { return nearWithin(f, w, h, i%w, i/w, 1) }

func nearby(f []bool, w, h, x, y int) bool { return nearWithin(f, w, h, x, y, 12) }

func nearWithin(f []bool, w, h, x, y, r int) bool {
	for yy := max(0, y-r); yy <= min(h-1, y+r); yy++ {
		for xx := max(0, x-r); xx <= min(w-1, x+r); xx++ {
			if f[yy*w+xx] {
				return true
			}
		}
	}
	return false
}
