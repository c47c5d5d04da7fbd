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
	"episema/internal/everyfield"
	"episema/internal/scenes"
)

func patterned(set func(q *document.Part)) document.Picture {
	for _, m := range everyfield.Moves(storedMask) {
		if m.Field == "Pattern.Strength" {
			p := m.Before()
			set(&p.Parts[0])
			return p
		}
	}
	panic("there is no pattern among the documents of every field")
}

func rendered(t *testing.T, doc document.Picture, level int) (*develop.Developed, *develop.Rendered) {
	t.Helper()
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	w, h := d.Size(level)
	r, err := d.Render(level, raster.Rect{X1: w, Y1: h})
	require.NoError(t, err)
	return d, r
}

// A pattern whose figures take all of the part is Repaint in their colour, edges too; one of the part's own target is Repaint as well.
func TestAPatternOfOneColourIsRepaint(t *testing.T) {
	target := document.Target{CSS: "#9c2a1e"}
	_, repainted := rendered(t, patterned(func(q *document.Part) { q.Pattern, q.Target = nil, target }), 0)
	_, both := rendered(t, patterned(func(q *document.Part) { q.Target, q.Pattern.Colours = target, []document.Target{target} }), 0)
	for i, v := range repainted.After.Pix {
		require.InDelta(t, v, both.After.Pix[i], 2e-6)
	}
	_, unpainted := rendered(t, patterned(func(q *document.Part) {
		q.Target, q.Pattern.Colours, q.Pattern.Lay.Tile, q.Pattern.Lay.Share = document.Target{}, []document.Target{target}, "stripes", 99
	}), 0)
	same, n := 0.0, 0
	for i, v := range repainted.After.Pix {
		if repainted.Masks[0].Pix[i/3] == raster.Whole {
			same, n = same+math.Abs(float64(v-unpainted.After.Pix[i])), n+1
		}
	}
	assert.Less(t, same/float64(n), 0.004, "ninety-nine of a hundred of it")
}

// It never leaves the part, is the same in strips, and at half the size it is its half.
func TestAPatternStaysInThePart(t *testing.T) {
	doc := patterned(func(q *document.Part) { q.Pattern.Lay.Folds, q.Pattern.Lay.Angle = 60, 30 })
	d, whole := rendered(t, doc, 0)
	changed := 0
	for i, m := range whole.Masks[0].Pix {
		if m == 0 {
			require.Equal(t, whole.Before.Pix[3*i:3*i+3], whole.After.Pix[3*i:3*i+3], "pixel %d", i)
		} else if whole.Before.Pix[3*i] != whole.After.Pix[3*i] {
			changed++
		}
	}
	assert.Greater(t, changed, 4000)
	assert.Nil(t, whole.Meant, "nothing outside of the part was meant to change")
	w := whole.After.W
	for y := 0; y < whole.After.H; y += 19 {
		strip, err := d.Render(0, raster.Rect{Y0: y, X1: w, Y1: min(whole.After.H, y+19)})
		require.NoError(t, err)
		for i, v := range strip.After.Pix {
			require.InDelta(t, whole.After.Pix[3*y*w+i], v, 1./255) // the outline of the mask is filled in such steps
		}
	}
	_, half := rendered(t, doc, 1)
	want := raster.Half(whole.After)
	sum := 0.0
	for i, v := range half.After.Pix {
		sum += math.Abs(float64(v - want.Pix[i]))
	}
	assert.Less(t, sum/float64(len(want.Pix)), 0.004)
}

// The proof is of the ground: what figures cover has colours of its own. A colourway has its own colours for them.
func TestAPatternHasColoursOfItsOwn(t *testing.T) {
	doc := patterned(func(*document.Part) {})
	d, with := rendered(t, doc, 0)
	r, err := d.Ground().Render(0, raster.Rect{X1: with.After.W, Y1: with.After.H})
	require.NoError(t, err)
	_, without := rendered(t, patterned(func(q *document.Part) { q.Pattern = nil }), 0)
	assert.Equal(t, without.After.Pix, r.After.Pix)
	assert.NotEqual(t, without.After.Pix, with.After.Pix)

	way := document.Colourway{ID: "w", Name: "W", Cells: map[string]document.Cell{"The disc": {Target: document.Target{CSS: "#402060"}, Pattern: []document.Target{{CSS: "#e8e0d0", PaletteID: "p"}}}}}
	in := way.In(doc)
	assert.Equal(t, "#e8e0d0", in.Parts[0].Pattern.Colours[0].CSS)
	assert.Equal(t, "#9c2a1e", in.Parts[0].Pattern.Colours[1].CSS, "where it says nothing it is as the picture has it")
	assert.Equal(t, "#d8c8a0", doc.Parts[0].Pattern.Colours[0].CSS, "and the picture stays as it is")
	c := document.Content{Palette: []document.Swatch{{ID: "p", CSS: "#112233"}}}
	c.Resolve(&in)
	assert.Equal(t, "#112233", in.Parts[0].Pattern.Colours[0].CSS)
	_, is := rendered(t, in, 0)
	assert.NotEqual(t, with.After.Pix, is.After.Pix)
}

// How much a pattern covers is remembered while its colours change, and found anew once anything moves: the pattern, the part's edge, who has
// the pixels, or what is looked at.
func TestARememberedCoverIsTheRightOne(t *testing.T) {
	memo := remembering{}
	src := develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB}
	render := func(doc document.Picture, level int, r raster.Rect, memo develop.Memo) []float32 {
		d, err := develop.Develop(src, doc, nil, memo, isolate.Exact)
		require.NoError(t, err)
		out, err := d.Render(level, r)
		require.NoError(t, err)
		return out.After.Pix
	}
	whole, part := raster.Rect{X1: 240, Y1: 160}, raster.Rect{X0: 40, Y0: 30, X1: 200, Y1: 130}
	for _, c := range []struct {
		name  string
		set   func(q *document.Part)
		level int
		r     raster.Rect
	}{
		{"first", func(*document.Part) {}, 0, whole},
		{"another colour", func(q *document.Part) { q.Pattern.Colours[0].CSS = "#206030" }, 0, whole},
		{"moved", func(q *document.Part) { q.Pattern.Lay.Offset[0] += 3 }, 0, whole},
		{"a smaller part", func(q *document.Part) { q.Edge = &isolate.Edge{Grow: -6} }, 0, whole},
		{"elsewhere", func(*document.Part) {}, 0, part},
		{"beside that", func(*document.Part) {}, 0, raster.Rect{X0: 47, Y0: 34, X1: 207, Y1: 134}},
		{"from afar", func(*document.Part) {}, 1, raster.Rect{X1: 120, Y1: 80}},
		{"the first again", func(*document.Part) {}, 0, whole},
	} {
		doc := patterned(c.set)
		w, h := src.Size(c.level)
		r := c.r.And(raster.Rect{X1: w, Y1: h})
		assert.Equal(t, render(doc, c.level, r, nil), render(doc, c.level, r, memo), c.name)
	}
}
