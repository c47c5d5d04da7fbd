package isolate

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

// patchedMarks are marks on the disc of patched.
var patchedMarks = Pick{Kind: "marks", Join: "add", Ring: ring(95, 100, 75), Inside: []Stroke{{Stroke: raster.Stroke{Radius: 5, Points: [][2]float64{{80, 90}, {100, 110}}}}}}

// discsShare is what a mask has in common with the disc of patched, of what either has.
func discsShare(in func(i int) bool) float64 {
	both, either := 0.0, 0.0
	for i := range 300 * 200 {
		disc := math.Hypot(float64(i%300)-95, float64(i/300)-100) < 50
		if in(i) && disc {
			both++
		}
		if in(i) || disc {
			either++
		}
	}
	return both / either
}

// What happens to be of the thing's colours within the ring is not the thing: patches of the ground that the disc has too.
func TestMarksTakeAThingWhoseColoursItsGroundHasToo(t *testing.T) {
	for _, seed := range []int64{1, 4, 5, 7} {
		m := whole(t, newPyramid(patched(seed)), nil, Inputs{}, patchedMarks)
		assert.Greater(t, discsShare(func(i int) bool { return m.Pix[i] >= raster.Whole/2 }), 0.95, "seed %d", seed)
	}
}

func TestWhetherColoursTell(t *testing.T) {
	tell := func(p Pyramid, pick Pick) bool {
		c := &compiler{p: p, effort: Exact}
		_, told, err := c.marked(pick.Ring, pick.markSeeds())
		require.NoError(t, err)
		return told
	}
	p, _ := tufts()
	assert.True(t, tell(p, Pick{Ring: ring(100, 100, 80), Inside: patchedMarks.Inside}), "tufts that are not of the ground's colours")
	assert.False(t, tell(newPyramid(patched(1)), patchedMarks), "patches of which the ground has some too")
}

// While a hand moves nothing is waited for; once the regions are known they are looked at then too.
func TestMarksUnderAHandUseTheRegionsThatAreKnown(t *testing.T) {
	p, solved := newPyramid(patched(1)), kept{}
	quick := func(solved Solved) float64 {
		s, err := Compile(p, []Pick{patchedMarks}, nil, Inputs{}, solved, Quick)
		require.NoError(t, err)
		m, err := s.Render(0, raster.Rect{X1: 300, Y1: 200})
		require.NoError(t, err)
		return discsShare(func(i int) bool { return m.Pix[i] >= raster.Whole/2 })
	}
	without := quick(solved)
	for _, v := range solved {
		_, is := v.(*regions)
		assert.False(t, is, "regions are worked out while a hand waits")
	}
	solved = kept{}
	require.NoError(t, Prepare(p, solved))
	assert.Greater(t, quick(solved), without+0.02)
}

func TestAQuantileIsOfTheWeight(t *testing.T) {
	values, weights := []float32{5, 1, 3}, []float64{1, 2, 1}
	for q, want := range map[float64]float32{0.1: 1, 0.5: 1, 0.6: 3, 0.9: 5} {
		assert.Equal(t, want, quantile(values, weights, q), "at %g", q)
	}
	assert.Zero(t, quantile(values, make([]float64, 3), 0.5))
}
