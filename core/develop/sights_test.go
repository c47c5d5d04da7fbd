package develop_test

import (
	"maps"
	"slices"
	"strings"
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

// seenAgain renders all of a picture as the view of a stage is, which keeps what it finds out; without a memo it finds it out anew.
func seenAgain(t *testing.T, src develop.Source, doc document.Picture, memo develop.Memo) []float32 {
	t.Helper()
	d, err := develop.Develop(src, doc, nil, memo, isolate.Exact)
	require.NoError(t, err)
	d.Again = memo != nil
	r, err := d.Render(0, raster.Rect{X1: everyfield.W, Y1: everyfield.H})
	require.NoError(t, err)
	return r.After.Pix
}

// TestWhatIsRenderedOnceIsNotKept renders rectangles as a pan and a delivery do, and one again and again.
func TestWhatIsRenderedOnceIsNotKept(t *testing.T) {
	src := develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB, Masks: map[string]*raster.Mask{storedMask: everyfield.Stored()}}
	memo := remembering{}
	ahead := false
	render := func(again bool, x int) {
		d, err := develop.Develop(src, stepped(nil), nil, memo, isolate.Exact)
		require.NoError(t, err)
		d.Again, d.Ahead = again, ahead
		_, err = d.Render(0, raster.Rect{X0: x, X1: x + 100, Y1: everyfield.H})
		require.NoError(t, err)
	}
	kept := func() bool {
		return slices.ContainsFunc(slices.Collect(maps.Keys(memo)), func(k string) bool { return strings.HasPrefix(k, "last sights") })
	}
	for x := range 4 {
		render(true, x)
	}
	for range 3 {
		render(false, 9)
	}
	assert.False(t, kept())
	render(true, 5)
	ahead = true
	render(true, 6)
	render(true, 6)
	assert.False(t, kept(), "nobody asked for it")
	render(true, 5)
	assert.True(t, kept(), "that was asked for, and another is rendered ahead")
}

// TestAnotherMaskOfAnEvenThingIsSeenAnew changes the mask of a thing that is of one colour, which says the same of itself through either.
func TestAnotherMaskOfAnEvenThingIsSeenAnew(t *testing.T) {
	pic := raster.NewRGB(everyfield.W, everyfield.H)
	for i := range pic.Pix {
		pic.Pix[i] = []float32{0.02, 0.01, 0.005}[i%3] // so dark that no light around it matters
	}
	src := develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB, Masks: map[string]*raster.Mask{storedMask: everyfield.Stored()}}
	render := func(memo develop.Memo, grow float64) []float32 {
		doc := stepped(nil)
		doc.Parts[0].Settings.OnlyOwn, doc.Parts[0].Edge = 0, &isolate.Edge{Grow: grow}
		return seenAgain(t, src, doc, memo)
	}
	memo := remembering{}
	for range 3 {
		render(memo, 0)
	}
	require.False(t, slices.Equal(render(nil, 0), render(nil, 5)))
	for range 3 {
		require.True(t, slices.Equal(render(nil, 5), render(memo, 5)))
	}
}
