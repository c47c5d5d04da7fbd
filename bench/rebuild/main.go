// Command rebuild measures Rebuild: the demo's cloths exposed so that they clip, repainted in colours that do not clip at
// that exposure, against the same scenes rendered in those colours. Beside it stands painting what clipped flat with
// the part's median lit colour, and leaving it.
package main

import (
	"fmt"
	"log"
	"math"
	"sort"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

var owns = map[string]colour.RGB{"tote": {0.80, 0.755, 0.66}, "scarf": {0.36, 0.05, 0.075}}

func main() {
	fmt.Println("mean CIEDE2000 to the re-rendered truth over the pixels that clipped, the thing's own colour given")
	fmt.Printf("%-6s %-6s | %8s | %8s %8s %8s | %8s\n", "scene", "to", "clipped", "rebuilt", "flat", "left", "r/flat")
	for _, n := range []string{"tote", "scarf"} {
		dir := "demo/truth"
		src, err := scenes.RGB(dir, n+"-bright")
		if err != nil {
			log.Fatal(err)
		}
		mask, err := scenes.Mask(dir, n+"-bright-mask")
		if err != nil {
			log.Fatal(err)
		}
		for _, to := range []string{"teal", "black"} {
			truth, err := scenes.RGB(dir, n+"-bright-"+to)
			if err != nil {
				log.Fatal(err)
			}
			own := owns[n]
			q := recolour.Request{Goal: scenes.Albedos[to], Own: &own, Settings: recolour.Defaults(), Scale: 1, Fine: func(r raster.Rect) (*raster.RGB, error) {
				o := raster.NewRGB(r.W(), r.H())
				for y := range o.H {
					copy(o.Pix[3*y*o.W:3*(y+1)*o.W], src.Pix[3*((y+r.Y0)*src.W+r.X0):])
				}
				return o, nil
			}}
			l, err := recolour.Learn(src, mask)
			if err != nil {
				log.Fatal(err)
			}
			paint := func() *raster.RGB {
				p, _, err := l.Plan(colour.SRGB, q)
				if err != nil {
					log.Fatal(err)
				}
				o := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
				p.Apply(src, o, mask, raster.Place{}, raster.Rect{X1: src.W, Y1: src.H})
				return o
			}
			left := paint()
			q.Settings.Rebuild = recolour.NewRebuild()
			rebuilt := paint()
			burnt := func(i int) bool {
				// Clipped in every channel in which the thing has colour to speak of.
				for c, v := range own {
					if v > 0.3 && src.Pix[3*i+c] < 0.985 {
						return false
					}
				}
				return mask.Pix[i] >= raster.Whole*98/100
			}
			// The median colour of the lit part that did not clip, in the result.
			var lit [3][]float64
			for i, m := range mask.Pix {
				if m >= raster.Whole*98/100 && !burnt(i) && src.Pix[3*i] > 0.5 {
					for c := range lit {
						lit[c] = append(lit[c], float64(left.Pix[3*i+c]))
					}
				}
			}
			var flat colour.RGB
			for c := range lit {
				sort.Float64s(lit[c])
				flat[c] = lit[c][len(lit[c])/2]
			}
			var e [3]float64
			n1 := 0.0
			for i := range mask.Pix {
				if !burnt(i) {
					continue
				}
				want := lab(truth, i)
				e[0] += colour.DeltaE00(lab(rebuilt, i), want)
				e[1] += colour.DeltaE00(colour.SRGB.Lab(flat), want)
				e[2] += colour.DeltaE00(lab(left, i), want)
				n1++
			}
			fmt.Printf("%-6s %-6s | %8.0f | %8.2f %8.2f %8.2f | %8.2f\n", n, to, n1, e[0]/n1, e[1]/n1, e[2]/n1, e[0]/math.Max(e[1], 1e-9))
		}
	}
}

func lab(p *raster.RGB, i int) colour.Lab {
	return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
}
