// Command truth measures Repaint with the exact mask against the same scenes rendered in other colours,
// beside two plain baselines: HSL hue and saturation replaced, and CIELAB a*b* replaced with L* shifted.
package main

import (
	"flag"
	"fmt"
	"log"
	"math"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

type score struct {
	in, edge, rim float64
}

func main() {
	dir := flag.String("truth", "demo/truth", "folder with the rendered truth")
	only := flag.String("scene", "", "measure this scene alone")
	flag.Parse()
	fmt.Println("mean CIEDE2000 to the re-rendered truth; own = own colour given, est = estimated (after one overall gain)")
	fmt.Printf("%-6s %-7s %-7s | %6s %6s %6s %5s | %6s %5s | %6s %6s\n", "scene", "from", "to", "own", "edge", "rim", "e/i", "est", "e/o", "HSL", "ab")
	groups := map[string][]float64{}
	for _, n := range scenes.Names {
		if *only != "" && *only != n {
			continue
		}
		mask, err := scenes.Mask(*dir, n+"-mask")
		if err != nil {
			log.Fatal(err)
		}
		pics := map[string]*raster.RGB{}
		for _, c := range scenes.Colours {
			if pics[c], err = scenes.RGB(*dir, n+"-"+c); err != nil {
				log.Fatal(err)
			}
		}
		for _, from := range scenes.Colours {
			for _, to := range scenes.Colours {
				if from == to {
					continue
				}
				src, truth := pics[from], pics[to]
				ownC, goal := scenes.Albedos[from], scenes.Albedos[to]
				own := paint(src, mask, &ownC, goal)
				est := paint(src, mask, nil, goal)
				gain(est, truth, mask)
				s, e := compare(own, truth, mask), compare(est, truth, mask)
				h := compare(baselineHSL(src, mask, goal), truth, mask)
				a := compare(baselineAB(src, mask, ownC, goal), truth, mask)
				fmt.Printf("%-6s %-7s %-7s | %6.2f %6.2f %6.2f %5.2f | %6.2f %5.2f | %6.2f %6.2f\n", n, from, to, s.in, s.edge, s.rim, s.edge/s.in, e.in, e.in/s.in, h.in, a.in)
				kind := from
				if kind == "red" || kind == "teal" || kind == "pastel" {
					kind = "coloured"
				}
				groups[kind+" own"] = append(groups[kind+" own"], s.in)
				groups[kind+" edge/in"] = append(groups[kind+" edge/in"], s.edge/s.in)
				groups[kind+" est/own"] = append(groups[kind+" est/own"], e.in/s.in)
				groups[kind+" better baseline"] = append(groups[kind+" better baseline"], math.Min(h.in, a.in))
				groups[n+" "+kind+" own"] = append(groups[n+" "+kind+" own"], s.in)
			}
		}
	}
	for _, k := range []string{"coloured", "white", "black"} {
		fmt.Printf("%-9s own %.2f (mug %.2f scarf %.2f tote %.2f)  edge/inside %.2f  est/own %.2f  better baseline %.2f\n", k, mean(groups[k+" own"]),
			mean(groups["mug "+k+" own"]), mean(groups["scarf "+k+" own"]), mean(groups["tote "+k+" own"]),
			mean(groups[k+" edge/in"]), mean(groups[k+" est/own"]), mean(groups[k+" better baseline"]))
	}
}

func mean(v []float64) float64 {
	s := 0.0
	for _, x := range v {
		s += x
	}
	return s / float64(len(v))
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

func each(src *raster.RGB, mask *raster.Mask, f func(c colour.RGB) colour.RGB) *raster.RGB {
	o := raster.NewRGB(src.W, src.H)
	copy(o.Pix, src.Pix)
	for i, m := range mask.Pix {
		if m == 0 {
			continue
		}
		a := float32(m) / raster.Whole
		c := f(colour.RGB{float64(src.Pix[3*i]), float64(src.Pix[3*i+1]), float64(src.Pix[3*i+2])})
		for k := range 3 {
			v := float32(math.Max(0, math.Min(1, c[k])))
			o.Pix[3*i+k] += a * (v - src.Pix[3*i+k])
		}
	}
	return o
}

func baselineAB(src *raster.RGB, mask *raster.Mask, own, goal colour.RGB) *raster.RGB {
	f, t := colour.SRGB.Lab(own), colour.SRGB.Lab(goal)
	return each(src, mask, func(c colour.RGB) colour.RGB {
		l := colour.SRGB.Lab(c)
		return colour.SRGB.Linear(colour.Lab{math.Max(0, math.Min(100, l[0]+t[0]-f[0])), t[1], t[2]})
	})
}

func baselineHSL(src *raster.RGB, mask *raster.Mask, goal colour.RGB) *raster.RGB {
	th, ts, _ := toHSL(colour.SRGB.Coded(goal))
	return each(src, mask, func(c colour.RGB) colour.RGB {
		_, _, l := toHSL(colour.SRGB.Coded(c))
		k := func(n float64) float64 {
			v := math.Mod(n+th*12, 12)
			return l - ts*math.Min(l, 1-l)*math.Max(-1, math.Min(math.Min(v-3, 9-v), 1))
		}
		return colour.SRGB.LinearOf(colour.RGB{k(0), k(8), k(4)})
	})
}

func toHSL(c colour.RGB) (h, s, l float64) {
	hi, lo := math.Max(c[0], math.Max(c[1], c[2])), math.Min(c[0], math.Min(c[1], c[2]))
	l = (hi + lo) / 2
	d := hi - lo
	if d == 0 {
		return 0, 0, l
	}
	s = d / (1 - math.Abs(2*l-1))
	switch hi {
	case c[0]:
		h = math.Mod((c[1]-c[2])/d+6, 6) / 6
	case c[1]:
		h = ((c[2]-c[0])/d + 2) / 6
	default:
		h = ((c[0]-c[1])/d + 4) / 6
	}
	return h, math.Min(1, s), l
}
