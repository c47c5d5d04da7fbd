package recolour_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
)

func TestAPlanStopsOnceNobodyWaits(t *testing.T) {
	pic, mask := ramp(colour.RGB{0.3, 0.1, 0.1})
	learned, err := recolour.Learn(pic, mask)
	require.NoError(t, err)
	p, _, err := learned.Plan(colour.SRGB, recolour.Request{Goal: colour.RGB{0.1, 0.2, 0.5}, Settings: recolour.Defaults()})
	require.NoError(t, err)
	done := make(chan struct{})
	whole := raster.Rect{X1: pic.W, Y1: pic.H}
	assert.Positive(t, p.Until(done).Apply(pic, raster.NewRGB(pic.W, pic.H), mask, raster.Place{}, whole).Inside)
	close(done)
	assert.Zero(t, p.Until(done).Apply(pic, raster.NewRGB(pic.W, pic.H), mask, raster.Place{}, whole).Inside, "no row is begun")
	assert.Positive(t, p.Apply(pic, raster.NewRGB(pic.W, pic.H), mask, raster.Place{}, whole).Inside, "the plan itself goes on")
}

func TestWhatIsChangedIsNotLookedForOnceNobodyWaits(t *testing.T) {
	p, src, mask := mugInTeal(t)
	done := make(chan struct{})
	assert.Positive(t, slices.Max(p.Until(done).Changed(src, mask).Pix))
	close(done)
	assert.Zero(t, slices.Max(p.Until(done).Changed(src, mask).Pix))
}
