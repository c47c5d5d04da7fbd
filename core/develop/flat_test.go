package develop_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// drawn is a flat disc on a flat ground, its rim mixed in coded values as renderers of drawings do.
func drawn(disc, ground [3]float64) *raster.RGB {
	const w, h = 300, 200
	p := raster.NewRGB(w, h)
	for y := range h {
		for x := range w {
			a := math.Max(0, math.Min(1, 60.8-math.Hypot(float64(x)-140, float64(y)-100)))
			for c := range 3 {
				p.Pix[3*(y*w+x)+c] = float32(colour.SRGBDecode(math.Round(255*(a*disc[c]+(1-a)*ground[c])) / 255))
			}
		}
	}
	return p
}

// One flat colour taken at tolerance 0 and repainted leaves no halo of the old: the drawing is as if it had been
// drawn in the new colour.
func TestADrawingIsRecolouredAsIfDrawnAnew(t *testing.T) {
	for name, ground := range map[string][3]float64{"pale": {0.95, 0.93, 0.87}, "dark": {0.1, 0.12, 0.2}, "middle": {0.3, 0.6, 0.4}} {
		before, want := drawn([3]float64{0.8, 0.16, 0.12}, ground), drawn([3]float64{0x1d / 255., 0x6a / 255., 0x72 / 255.}, ground)
		doc := document.Picture{Parts: []document.Part{{ID: "a", Name: "A", Settings: recolour.Defaults(), Target: document.Target{CSS: "#1d6a72"},
			Picks: []isolate.Pick{{Kind: "like", Join: "add", Samples: [][2]float64{{140, 100}}}}}}}
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(before), Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X1: 300, Y1: 200})
		require.NoError(t, err)
		lab := func(p *raster.RGB, i int) colour.Lab {
			return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
		}
		worst := 0.0
		for i := range 300 * 200 {
			worst = math.Max(worst, colour.DeltaE00(lab(r.After, i), lab(want, i)))
		}
		assert.Less(t, worst, 1.1, "%s ground", name)
	}
}
