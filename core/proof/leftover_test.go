package proof

import (
	"math"
	"math/rand"
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

// planted is a red disc on a grey-green ground whose mask leaves a fringe of the old colour along a stretch of
// its edge; it gives the result of repainting it teal and the pixels of the fringe.
func planted(t *testing.T, fringe float64) (*develop.Developed, []bool) {
	t.Helper()
	const w, h = 420, 320
	r := rand.New(rand.NewSource(6))
	p, m := raster.NewRGB(w, h), raster.NewMask(w, h)
	left := make([]bool, w*h)
	for y := range h {
		for x := range w {
			i := y*w + x
			dx, dy := float64(x)+0.5-200, float64(y)+0.5-160
			dist := math.Hypot(dx, dy)
			a := math.Max(0, math.Min(1, 100.5-dist))
			cut := 100.0
			if dx > 0 && math.Abs(dy) < 40 {
				cut -= fringe
				left[i] = a > 0.5 && dist > cut+0.5
			}
			m.Pix[i] = uint16(math.Max(0, math.Min(1, cut+0.5-dist)) * raster.Whole)
			shade := 1.1 - 0.5*float64(x)/w
			for c, v := range [3][2]float64{{0.45, 0.2}, {0.05, 0.24}, {0.03, 0.18}} {
				p.Pix[3*i+c] = float32(math.Max(0, a*v[0]*shade+(1-a)*v[1]+r.NormFloat64()*0.003))
			}
		}
	}
	set := recolour.Defaults()
	doc := document.Picture{Parts: []document.Part{{ID: "a", Name: "A", Settings: set, Target: document.Target{CSS: "#1d6a72"}, Picks: []isolate.Pick{{Kind: "mask", Join: "add", File: "m"}}}}}
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(p), Space: colour.SRGB, Masks: map[string]*raster.Mask{"m": m}}, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	return d, left
}

func TestPlantedFringesAreFoundAndCleanEdgesAreClean(t *testing.T) {
	d, _ := planted(t, 0)
	c, err := Closely(d, 0, nil)
	require.NoError(t, err)
	clean, kept := c.Left, c.Detail
	assert.LessOrEqual(t, len(clean.Places), 2, "false places on a clean edge: %v", clean.Places)
	assert.Less(t, clean.Pixels, 12)
	assert.Greater(t, kept, 0.5, "only grain is there to be kept")
	for _, width := range []float64{2, 3} {
		d, left := planted(t, width)
		r, err := d.Render(0, raster.Rect{X1: 420, Y1: 320})
		require.NoError(t, err)
		found := OldColourLeft(d.Space, r, 0, 1)
		want := 0
		for _, l := range left {
			if l {
				want++
			}
		}
		require.NotEmpty(t, found.Places)
		assert.Greater(t, float64(found.Pixels), 0.9*float64(want), "fringe of %g: %d of %d pixels", width, found.Pixels, want)
		assert.Less(t, float64(found.Pixels), 1.6*float64(want)+20)
		assert.InDelta(t, 298, found.Places[0].X, 8, "where it was planted")
		assert.InDelta(t, 160, found.Places[0].Y, 8)
	}
}

func TestMendingTheEdgeTakesTheFringeAndNothingElse(t *testing.T) {
	d, left := planted(t, 2.5)
	whole := raster.Rect{X1: 420, Y1: 320}
	r, err := d.Render(0, whole)
	require.NoError(t, err)
	found := OldColourLeft(d.Space, r, 0, 1)
	require.NotEmpty(t, found.Places)
	doc := document.Picture{Parts: []document.Part{d.Parts[0].Part}, Mends: []document.Mend{{Kind: "edge", Part: "a"}}}
	mended, err := develop.Develop(d.Source, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	m, err := mended.Render(0, whole)
	require.NoError(t, err)
	assert.LessOrEqual(t, OldColourLeft(d.Space, m, 0, 1).Pixels, found.Pixels/20, "of %d pixels", found.Pixels)
	assert.Zero(t, ChangedOutside(m), "what mends change is meant")
	// Beside the fringe nothing changes.
	lab := func(p *raster.RGB, i int) colour.Lab { return d.Space.Lab(at(p, i)) }
	for i := range left {
		x, y := i%420, i/420
		if math.Abs(math.Hypot(float64(x)-199.5, float64(y)-159.5)-98.5) > 6 {
			require.Less(t, colour.DeltaE00(lab(r.After, i), lab(m.After, i)), 1.0, "at %d, %d", x, y)
		}
	}
	// Strips give what the whole gives.
	for y := 0; y < 320; y += 80 {
		s, err := mended.Render(0, raster.Rect{X1: 420, Y0: y, Y1: y + 80})
		require.NoError(t, err)
		for i, v := range s.After.Pix {
			require.InDelta(t, m.After.Pix[3*420*y+i], v, 1e-6, "row %d", y+i/1260)
		}
	}
	doc.Mends[0].Off = true
	off, err := develop.Develop(d.Source, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	o, err := off.Render(0, whole)
	require.NoError(t, err)
	assert.Equal(t, r.After.Pix, o.After.Pix, "switched off they do nothing")
}

// A box mends the edge within it, and there alone.
func TestMendingABoxOfTheEdgeMendsThat(t *testing.T) {
	d, left := planted(t, 2.5)
	whole := raster.Rect{X1: 420, Y1: 320}
	r, err := d.Render(0, whole)
	require.NoError(t, err)
	box := [4]float64{280, 140, 320, 162}
	doc := document.Picture{Parts: []document.Part{d.Parts[0].Part}, Mends: []document.Mend{{Kind: "edge", Part: "a", Box: &box}}}
	mended, err := develop.Develop(d.Source, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	m, err := mended.Render(0, whole)
	require.NoError(t, err)
	was, is, beside := 0.0, 0.0, 0
	red := func(px []float32) float64 { return float64(px[0]) - float64(px[1]) }
	for i, fringe := range left {
		x, y := i%420, i/420
		in := float64(x) >= box[0] && float64(x) < box[2] && float64(y) >= box[1] && float64(y) < box[3]
		switch {
		case in && fringe:
			was, is = was+red(r.After.Pix[3*i:3*i+3]), is+red(m.After.Pix[3*i:3*i+3])
		case !in && (float64(y) > box[3]+8 || float64(y) < box[1]-8):
			if r.After.Pix[3*i] != m.After.Pix[3*i] {
				beside++
			}
		}
	}
	assert.Less(t, is, 0.35*was, "the fringe within it is gone")
	assert.Zero(t, beside, "and elsewhere nothing is another")
}
