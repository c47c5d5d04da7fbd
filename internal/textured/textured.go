// Package textured has the things of petals, fur, bricks and patterns that selections are measured on, in benches only: rendered scenes as a camera
// shows them, with their exact masks, and photographs out of Debian's packages with traced ones; with the strokes that were put on each by hand.
package textured

import (
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/photos"
	"episema/internal/scenes"
)

//go:embed things.json
var list []byte

// Thing is a thing of the list.
type Thing struct {
	Name, Colour string // a scene and its colour, or without a colour a photograph
	Aside        bool   // not to be looked at while something is tuned
	In, Out      []isolate.Stroke
}

// Where is what a table prints beside the thing.
func (t *Thing) Where() string {
	if t.Aside {
		return "aside"
	}
	return "tuned"
}

// Loose is a ring as hands draw one around the truth: its box, grown by a twenty-fifth of the picture's half circumference.
func Loose(truth *raster.Mask) [][2]float64 {
	box := raster.Rect{X0: truth.W, Y0: truth.H}
	for i, v := range truth.Pix {
		if x, y := i%truth.W, i/truth.W; v >= raster.Whole/2 {
			box = raster.Rect{X0: min(box.X0, x), Y0: min(box.Y0, y), X1: max(box.X1, x), Y1: max(box.Y1, y)}
		}
	}
	m := 0.04 * float64(truth.W+truth.H)
	x0, y0, x1, y1 := float64(box.X0)-m, float64(box.Y0)-m, float64(box.X1)+m, float64(box.Y1)+m
	return [][2]float64{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}
}

// Each reads the list's things, or those of a name, the ones that are kept aside last. dir has the rendered truth. A photograph that is not on
// this machine is left out, with a line that says so.
func Each(dir, only string, do func(t *Thing, pic *raster.RGB, truth *raster.Mask)) error {
	var all []Thing
	if err := json.Unmarshal(list, &all); err != nil {
		return err
	}
	for _, aside := range []bool{false, true} {
		for i := range all {
			t := &all[i]
			if t.Aside != aside || only != "" && only != t.Name {
				continue
			}
			pic, truth, err := t.read(dir)
			if err != nil {
				fmt.Printf("%-18s is not here: %v\n", t.Name, err)
				continue
			}
			do(t, pic, truth)
		}
	}
	return nil
}

// read gives a scene as a camera shows it with its exact mask, or a photograph with that of its thing.
func (t *Thing) read(dir string) (*raster.RGB, *raster.Mask, error) {
	if t.Colour == "" {
		for _, p := range photos.All() {
			if p.Name == t.Name {
				return p.ReadWhole()
			}
		}
		return nil, nil, errors.New("no such photograph")
	}
	s := scenes.Bare(dir, t.Name)
	if err := s.Load(); err != nil {
		return nil, nil, err
	}
	pic, err := s.Shot(t.Colour, false)
	return pic, s.Mask, err
}
