// Command spill measures what Repaint leaves at a thing's edge where the mask is wider than the thing: the mean CIEDE2000 to the same
// scene rendered in other colours, through the camera, within three pixels of the true edge. The scenes that nothing is tuned on are
// printed apart.
package main

import (
	"flag"
	"fmt"
	"log"
	"strings"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// near is how far from the true edge is looked, in pixels.
const near = 3

var wider = []float32{0, 2, 4, 10} // pixels

func main() {
	dir := flag.String("truth", "demo/truth", "folder with the rendered truth")
	only := flag.String("scene", "", "measure these scenes alone, a comma between them")
	aside := flag.Bool("aside", true, "measure the scenes that are kept aside too")
	flag.Parse()
	fmt.Printf("mean CIEDE2000 within %d px of the true edge, through the camera, own colour given; masks wider by px\n", near)
	fmt.Printf("%-8s %-8s %-8s |", "scene", "from", "to")
	for _, by := range wider {
		fmt.Printf(" %5.0f", by)
	}
	fmt.Println()
	for _, apart := range []bool{false, true} {
		if apart {
			fmt.Println("aside")
		}
		for _, t := range scenes.Truths(*dir) {
			if *only != "" && !strings.Contains(","+*only+",", ","+t.Name+",") || t.Aside != apart || t.Aside && !*aside {
				continue
			}
			if err := t.Load(); err != nil {
				log.Fatal(err)
			}
			measure(t)
		}
	}
}

// measure prints a line for each colour that a scene's part becomes.
func measure(t *scenes.Truth) {
	edge := raster.SignedDistance(func(i int) bool { return t.Mask.Pix[i] >= raster.Whole/2 }, t.Mask.W, t.Mask.H)
	from := t.From[0]
	src := shot(t, from)
	learned := make([]*recolour.Learned, len(wider))
	masks := make([]*raster.Mask, len(wider))
	for i, by := range wider {
		masks[i] = grown(t.Mask, edge, by)
		var err error
		if learned[i], err = recolour.Learn(src, masks[i]); err != nil {
			log.Fatal(err)
		}
	}
	for _, to := range t.To {
		if to == from {
			continue
		}
		truth := shot(t, to)
		fmt.Printf("%-8s %-8s %-8s |", t.Name, from, to)
		for i := range wider {
			fmt.Printf(" %5.2f", band(paint(learned[i], src, masks[i], scenes.Albedos[from], scenes.Albedos[to]), truth, edge))
		}
		fmt.Println()
	}
}

func shot(t *scenes.Truth, name string) *raster.RGB {
	p, err := t.Shot(name, false)
	if err != nil {
		log.Fatal(err)
	}
	return p
}

// grown gives the mask wider by so many pixels; the same one by none.
func grown(m *raster.Mask, edge []float32, by float32) *raster.Mask {
	if by == 0 {
		return m
	}
	o := raster.NewMask(m.W, m.H)
	for i, d := range edge {
		o.Pix[i] = max(m.Pix[i], uint16(max(0, min(1, d+by+0.5))*raster.Whole))
	}
	return o
}

func paint(learned *recolour.Learned, src *raster.RGB, mask *raster.Mask, own, goal colour.RGB) *raster.RGB {
	o := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
	plan, _, err := learned.Plan(colour.SRGB, recolour.Request{Own: &own, Goal: goal, Settings: recolour.Defaults()})
	if err != nil {
		log.Fatal(err)
	}
	plan.Apply(src, o, mask, raster.Place{}, raster.Rect{X1: o.W, Y1: o.H})
	return o
}

func band(p, truth *raster.RGB, edge []float32) float64 {
	var sum, n float64
	for i, d := range edge {
		if d >= -near && d <= near {
			sum += colour.DeltaE00(lab(p, i), lab(truth, i))
			n++
		}
	}
	return sum / n
}

func lab(p *raster.RGB, i int) colour.Lab {
	return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
}
