package main

import (
	"fmt"
	"math"
	"time"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/scenes"
	"episema/internal/textured"
)

func marks() {
	fmt.Println("Marks: mean error of the share in the edge band (aim 0.06, and two thirds of the guided filter's)")
	bobble := isolate.Pick{Kind: "marks", Join: "add", Ring: [][2]float64{{330, 60}, {800, -30}, {1400, 20}, {1640, 550}, {1500, 950}, {900, 1230}, {350, 1120}, {250, 600}},
		Inside: []isolate.Stroke{stroke(60, [2]float64{700, 500}, [2]float64{1100, 500}, [2]float64{900, 700})}}
	scarf := isolate.Pick{Kind: "marks", Join: "add", Ring: [][2]float64{{500, 80}, {1180, 80}, {1200, 1030}, {480, 1030}},
		Inside: []isolate.Stroke{stroke(30, [2]float64{620, 250}, [2]float64{700, 600}, [2]float64{1000, 300}, [2]float64{1050, 700}, [2]float64{650, 850})}}
	// What somebody sees on the first answer and mends: the white cloth's other half in deep shade, between the boards and
	// behind the fringe, and joints as dark as the cloth.
	mended := map[string]isolate.Pick{
		"scarf-white": {Inside: []isolate.Stroke{
			stroke(12, [2]float64{1094, 390}, [2]float64{1094, 445}), stroke(12, [2]float64{1098, 652}, [2]float64{1098, 687}),
			stroke(12, [2]float64{1098, 895}, [2]float64{1098, 1010}, [2]float64{960, 992}, [2]float64{840, 975}),
			stroke(10, [2]float64{805, 992}, [2]float64{820, 1000}), stroke(10, [2]float64{905, 1006}, [2]float64{1020, 1016})},
			Outside: []isolate.Stroke{stroke(12, [2]float64{877, 84}, [2]float64{877, 110})}},
		"scarf-black": {Outside: []isolate.Stroke{stroke(12, [2]float64{880, 82}, [2]float64{1030, 82}), stroke(12, [2]float64{510, 918}, [2]float64{560, 918})}},
	}
	for _, c := range []struct {
		picture, mask string
		pick          isolate.Pick
	}{{"bobble", "bobble-mask", bobble}, {"scarf-red", "scarf-mask", scarf}, {"scarf-teal", "scarf-mask", scarf}, {"scarf-white", "scarf-mask", scarf}, {"scarf-black", "scarf-mask", scarf}} {
		pic, err := scenes.RGB(truth, c.picture)
		check(err)
		t, err := scenes.Mask(truth, c.mask)
		check(err)
		start := time.Now()
		m := render(scenes.NewPyramid(pic), nil, c.pick)
		took := time.Since(start).Seconds()
		// What somebody without a matte would do: the same marks as a cut, hard, refined by a guided filter (He, Sun
		// and Tang 2013) of the best of three radii. The same filter on the truth made hard shows what it could do.
		cut := render(scenes.NewPyramid(pic), nil, isolate.Pick{Kind: "sweep", Join: "add", Strokes: c.pick.Inside},
			isolate.Pick{Kind: "sweep", Join: "subtract", Strokes: []isolate.Stroke{stroke(20, append(c.pick.Ring, c.pick.Ring[0])...)}})
		best, ideal := math.Inf(1), math.Inf(1)
		for _, radius := range []int{4, 10, 25} {
			best = math.Min(best, scenes.AlphaError(guided(pic, cut, radius), t))
			ideal = math.Min(ideal, scenes.AlphaError(guided(pic, t, radius), t))
		}
		e := scenes.AlphaError(m, t)
		fmt.Printf("  %-12s %.3f   guided filter of the hard cut %.3f, ratio %.2f (of the hard truth %.3f)   %.1f s", c.picture, e, best, e/best, ideal, took)
		if more, ok := mended[c.picture]; ok {
			c.pick.Inside = append(append([]isolate.Stroke{}, c.pick.Inside...), more.Inside...)
			c.pick.Outside = more.Outside
			e := scenes.AlphaError(render(scenes.NewPyramid(pic), nil, c.pick), t)
			fmt.Printf("   with %d more strokes %.3f, ratio %.2f", len(more.Inside)+len(more.Outside), e, e/best)
		}
		fmt.Println()
	}
}

// guided refines a mask, made hard, by a guided filter with the picture as guide.
func guided(pic *raster.RGB, t *raster.Mask, radius int) *raster.Mask {
	hard := make([]float32, len(t.Pix))
	for i, v := range t.Pix {
		if v >= raster.Whole/2 {
			hard[i] = 1
		}
	}
	o := raster.NewMask(t.W, t.H)
	for i, v := range isolate.GuidedFilter(pic, hard, radius) {
		o.Pix[i] = uint16(max(0, min(1, v))*raster.Whole + 0.5)
	}
	return o
}

// texturedMarks measures Marks with a loose ring and the strokes that a sweep is given, on things whose ground has many of their colours.
func texturedMarks() {
	fmt.Printf("%-22s %-5s %7s %9s\n", "Marks, textured", "", "IoU", "band error")
	check(textured.Each(truth, "", func(t *textured.Thing, pic *raster.RGB, mask *raster.Mask) {
		m := render(scenes.NewPyramid(pic), nil, isolate.Pick{Kind: "marks", Join: "add", Ring: textured.Loose(mask), Inside: t.In, Outside: t.Out})
		iou, _ := scenes.Compare(m, mask)
		fmt.Printf("  %-20s %-5s %7.4f %9.3f\n", t.Name+" "+t.Colour, t.Where(), iou, scenes.AlphaError(m, mask))
	}))
}
