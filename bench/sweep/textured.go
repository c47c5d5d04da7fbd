package main

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"path/filepath"

	"episema/core/raster"
	"episema/internal/photos"
	"episema/internal/scenes"
)

//go:embed textured.json
var texturedList []byte

// thing is a thing of the list, with the strokes that were put on it by hand.
type thing struct {
	Name, Colour string
	Aside        bool
	strokes
}

func (t thing) where() string {
	if t.Aside {
		return "aside"
	}
	return "tuned"
}

// eachThing reads the list's things, or the one of a name, those that are kept aside last.
func eachThing(dir, only string, do func(t thing, pic *raster.RGB, truth *raster.Mask)) {
	var all []thing
	check(json.Unmarshal(texturedList, &all))
	for _, aside := range []bool{false, true} {
		for _, t := range all {
			if t.Aside != aside || only != "" && only != t.Name {
				continue
			}
			pic, truth, err := texturedPicture(dir, t.Name, t.Colour)
			if err != nil {
				fmt.Printf("%-18s is not here: %v\n", t.Name, err)
				continue
			}
			do(t, pic, truth)
		}
	}
}

// textured measures first strokes on things of petals, fur, bricks and patterns: the answer that is given first, and the best
// of those that its reach walks through.
func textured(dir, save, only string) {
	fmt.Printf("%-18s %-5s %7s %9s %8s | %7s at reach\n", "textured", "", "IoU", "edge px", "seconds", "best")
	eachThing(dir, only, func(t thing, pic *raster.RGB, truth *raster.Mask) {
		m, took := sweep(pic, t.strokes)
		iou, edge := scenes.Compare(m, truth)
		fmt.Printf("%-18s %-5s %7.4f %9.2f %8.3f", t.Name+" "+t.Colour, t.where(), iou, edge, took)
		best, at := iou, 0.5
		for _, reach := range []float64{0, 0.125, 0.25, 0.375, 0.625, 0.75, 0.875, 1} {
			s := t.strokes
			s.Reach = &reach
			m, _ := sweep(pic, s)
			if v, _ := scenes.Compare(m, truth); v > best {
				best, at = v, reach
			}
		}
		fmt.Printf(" | %7.4f %g\n", best, at)
		if save != "" {
			check(write(filepath.Join(save, t.Name+"-"+t.Colour+".png"), m))
		}
	})
}

// texturedPicture gives a scene as a camera shows it with its exact mask, or a photograph with that of its thing.
func texturedPicture(dir, name, colour string) (*raster.RGB, *raster.Mask, error) {
	if colour == "" {
		for _, p := range photos.All() {
			if p.Name == name {
				return p.ReadWhole()
			}
		}
		return nil, nil, fmt.Errorf("no such photograph")
	}
	t := scenes.Bare(dir, name)
	if err := t.Load(); err != nil {
		return nil, nil, err
	}
	pic, err := t.Shot(colour, false)
	return pic, t.Mask, err
}
