// Command truth measures Repaint with the exact mask against the same scenes rendered in other colours, clean and through a
// camera, beside two plain baselines: HSL hue and saturation replaced, and CIELAB a*b* replaced with L* shifted. Scenes
// that nothing is tuned on are printed apart.
package main

import (
	"flag"
	"fmt"
	"log"
	"math"
	"strings"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

type score struct {
	in, edge, rim float64
}

var stride = flag.Int("stride", 1, "look at every n-th pixel of every n-th row alone, which is quicker")

func main() {
	dir := flag.String("truth", "demo/truth", "folder with the rendered truth")
	only := flag.String("scene", "", "measure these scenes alone, a comma between them")
	brief := flag.Bool("brief", false, "print a line a scene and colour it comes from, not each pair")
	aside := flag.Bool("aside", true, "measure the scenes that are kept aside too")
	flag.Parse()
	fmt.Println("mean CIEDE2000 to the re-rendered truth; own = own colour given, est = estimated (after one overall gain), plain = better of HSL and a*b*")
	fmt.Printf("%-8s %-8s %-8s %-6s | %6s %6s %6s %5s | %6s %5s | %6s %6s\n", "scene", "from", "to", "", "own", "edge", "rim", "e/i", "est", "e/o", "HSL", "ab")
	var lines []string
	for _, t := range scenes.Truths(*dir) {
		if *only != "" && !strings.Contains(","+*only+",", ","+t.Name+",") || t.Aside && !*aside {
			continue
		}
		if err := t.Load(); err != nil {
			log.Fatal(err)
		}
		for _, clean := range []bool{true, false} {
			shots := map[string]*raster.RGB{}
			shot := func(name string) *raster.RGB {
				if shots[name] == nil {
					p, err := t.Shot(name, clean)
					if err != nil {
						log.Fatal(err)
					}
					shots[name] = p
				}
				return shots[name]
			}
			kind := map[bool]string{true: "clean", false: "camera"}[clean]
			for _, from := range t.From {
				var n float64
				var all, plain, est score
				for _, to := range t.To {
					if from == to {
						continue
					}
					src, truth := shot(from), shot(to)
					ownC, goal := scenes.Albedos[from], scenes.Albedos[to]
					o := paint(src, t.Mask, &ownC, goal)
					s := compare(o, truth, t.Mask)
					b := paint(src, t.Mask, nil, goal)
					gain(b, truth, t.Mask)
					e := compare(b, truth, t.Mask)
					h := compare(scenes.PlainHSL(src, t.Mask, goal), truth, t.Mask)
					a := compare(scenes.PlainAB(src, t.Mask, ownC, goal), truth, t.Mask)
					if !*brief {
						fmt.Printf("%-8s %-8s %-8s %-6s | %6.2f %6.2f %6.2f %5.2f | %6.2f %5.2f | %6.2f %6.2f\n", t.Name, from, to, kind, s.in, s.edge, s.rim, s.edge/s.in, e.in, e.in/s.in, h.in, a.in)
					}
					n++
					all.in, all.edge, est.in, plain.in = all.in+s.in, all.edge+s.edge, est.in+e.in, plain.in+math.Min(h.in, a.in)
				}
				where := "tuned"
				if t.Aside {
					where = "aside"
				}
				lines = append(lines, fmt.Sprintf("%-8s %-8s %-6s %-5s | own %5.2f  edge/inside %4.2f  est/own %4.2f  plain %5.2f  own/plain %4.2f", t.Name, from, kind, where,
					all.in/n, all.edge/all.in, est.in/all.in, plain.in/n, all.in/plain.in))
				if *brief {
					fmt.Println(lines[len(lines)-1])
				}
			}
		}
	}
	if *brief {
		return
	}
	fmt.Println("\nmeans over the colours a part becomes")
	for _, where := range []string{"tuned", "aside"} {
		for _, l := range lines {
			if strings.Contains(l, where) {
				fmt.Println(l)
			}
		}
	}
}

func paint(src *raster.RGB, mask *raster.Mask, own *colour.RGB, goal colour.RGB) *raster.RGB {
	o := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
	learned, err := recolour.Learn(src, mask)
	if err != nil {
		log.Fatal(err)
	}
	plan, _, err := learned.Plan(colour.SRGB, recolour.Request{Own: own, Goal: goal, Settings: recolour.Defaults()})
	if err != nil {
		log.Fatal(err)
	}
	plan.Apply(src, o, mask, raster.Place{}, raster.Rect{X1: o.W, Y1: o.H})
	return o
}

// gain scales pic within the mask by the one factor that brings its mean light to the truth's.
func gain(pic, truth *raster.RGB, mask *raster.Mask) {
	var a, b float64
	for i, m := range mask.Pix {
		if m == raster.Whole {
			for c := range 3 {
				a += float64(pic.Pix[3*i+c])
				b += float64(truth.Pix[3*i+c])
			}
		}
	}
	k := float32(b / a)
	for i, m := range mask.Pix {
		if m > 0 {
			s := 1 + (k-1)*float32(m)/raster.Whole
			for c := range 3 {
				pic.Pix[3*i+c] = min(1, pic.Pix[3*i+c]*s)
			}
		}
	}
}

// compare gives the mean difference inside the part and in a band of 2 pixels on either side of its edge.
func compare(p, truth *raster.RGB, mask *raster.Mask) score {
	w, h := mask.W, mask.H
	band := make([]float32, w*h)
	for y := range h {
		for x := range w {
			i := y*w + x
			in := mask.Pix[i] >= raster.Whole/2
			if x+1 < w && (mask.Pix[i+1] >= raster.Whole/2) != in || y+1 < h && (mask.Pix[i+w] >= raster.Whole/2) != in {
				band[i] = 1
			}
		}
	}
	raster.BoxSum(band, w, h, 2)
	var s score
	var n, e, r float64
	for i, m := range mask.Pix {
		if i%w%*stride != 0 || i/w%*stride != 0 {
			continue
		}
		isBand := band[i] > 0.5
		if m == 0 && !isBand {
			continue
		}
		d := colour.DeltaE00(lab(p, i), lab(truth, i))
		if isBand {
			s.edge += d
			e++
			if m == raster.Whole {
				s.rim += d
				r++
			}
		} else if m >= raster.Whole/2 {
			s.in += d
			n++
		}
	}
	s.in /= n
	s.edge /= e
	s.rim /= r
	return s
}

func lab(p *raster.RGB, i int) colour.Lab {
	return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
}
