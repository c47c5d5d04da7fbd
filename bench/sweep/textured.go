package main

import (
	"fmt"
	"path/filepath"

	"episema/core/raster"
	"episema/internal/scenes"
	"episema/internal/textured"
)

// texturedThings measures first strokes on things of petals, fur, bricks and patterns: the answer that is given first, and the best
// of those that its reach walks through.
func texturedThings(dir, save, only string) {
	fmt.Printf("%-18s %-5s %7s %9s %8s | %7s at reach\n", "textured", "", "IoU", "edge px", "seconds", "best")
	check(textured.Each(dir, only, func(t *textured.Thing, pic *raster.RGB, truth *raster.Mask) {
		m, took := sweep(pic, strokes{In: t.In, Out: t.Out})
		iou, edge := scenes.Compare(m, truth)
		fmt.Printf("%-18s %-5s %7.4f %9.2f %8.3f", t.Name+" "+t.Colour, t.Where(), iou, edge, took)
		best, at := iou, 0.5
		for _, reach := range []float64{0, 0.125, 0.25, 0.375, 0.625, 0.75, 0.875, 1} {
			m, _ := sweep(pic, strokes{t.In, t.Out, &reach})
			if v, _ := scenes.Compare(m, truth); v > best {
				best, at = v, reach
			}
		}
		fmt.Printf(" | %7.4f %g\n", best, at)
		if save != "" {
			check(write(filepath.Join(save, t.Name+"-"+t.Colour+".png"), m))
		}
	}))
}
