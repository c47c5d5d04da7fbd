package develop_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/pattern"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// BenchmarkStep is a step of a slider under a hand, on a part that fills much of the view: plain, and with a pattern of two figures on it.
func BenchmarkStep(b *testing.B) {
	pic, err := scenes.RGB(truthDir, "scarf-red")
	require.NoError(b, err)
	m, err := scenes.Mask(truthDir, "scarf-mask")
	require.NoError(b, err)
	src := develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB, Masks: map[string]*raster.Mask{storedMask: m}}
	for _, c := range []struct {
		name string
		lay  *pattern.Pattern
	}{
		{"plain", nil},
		{"dots", &pattern.Pattern{Tile: "dots", Share: 40, Size: 60, Folds: 25, Strength: 100}},
		{"perspective", &pattern.Pattern{Tile: "stripes", Share: 40, Size: 150, Folds: 25, Strength: 100, Corners: &[4][2]float64{{300, 200}, {1500, 250}, {1400, 1100}, {350, 1000}}}},
	} {
		b.Run(c.name, func(b *testing.B) {
			doc := stepped(c.lay)
			memo := remembering{}
			n := 0.0
			for b.Loop() {
				n++
				doc.Parts[0].Settings.ShadeDepth = float64(int(n) % 40)
				d, err := develop.Develop(src, doc, nil, memo, isolate.Quick)
				require.NoError(b, err)
				d.Again = true
				w, h := d.Size(1)
				_, err = d.Render(1, raster.Rect{X1: w, Y1: h})
				require.NoError(b, err)
			}
		})
	}
}

func stepped(lay *pattern.Pattern) document.Picture {
	p := document.Part{ID: "it", Name: "It", Settings: recolour.Defaults(), Target: document.Target{CSS: "#1d6a72"}, Picks: []isolate.Pick{{Kind: "mask", Join: "add", File: storedMask}}}
	if lay != nil {
		p.Pattern = &document.Pattern{Lay: *lay, Colours: []document.Target{{CSS: "#e8e0d0"}, {CSS: "#203a80"}}}
	}
	return document.Picture{Parts: []document.Part{p}}
}
