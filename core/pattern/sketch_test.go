package pattern_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/pattern"
	"episema/core/raster"
)

func share(m *raster.Mask, figure, figures int) float64 {
	n := len(m.Pix) / figures
	s := 0.0
	for _, v := range m.Pix[figure*n : (figure+1)*n] {
		s += float64(v) / raster.Whole
	}
	return s / float64(n)
}

func sketch(t *testing.T, strokes ...pattern.Sketched) (*raster.Mask, []int) {
	t.Helper()
	m, n, err := pattern.Sketch(strokes, nil)
	require.NoError(t, err)
	return m, n
}

// A dot covers what a disc does, wherever it lies: what leaves the tile on one side comes in on the other.
func TestSketchedDotsRepeat(t *testing.T) {
	want := math.Pi * 0.1 * 0.1
	for _, at := range [][2]float64{{500, 500}, {0, 0}, {1000, 300}, {-950, 2020}, {40, 990}} {
		m, n := sketch(t, pattern.Sketched{Radius: 100, Points: [][2]float64{at}})
		assert.Equal(t, []int{0}, n)
		assert.InDelta(t, want, share(m, 0, 1), 0.0005, "%v", at)
	}
	// A stroke through the whole tile is a stripe, and goes on where it begins.
	m, _ := sketch(t, pattern.Sketched{Radius: 50, Points: [][2]float64{{0, 400}, {1000, 400}}})
	assert.InDelta(t, 0.1, share(m, 0, 1), 0.0005)
	at := func(x, y int) uint16 { return m.Pix[y*m.W+x] }
	assert.Equal(t, at(0, 205), at(m.W-1, 205))
}

func TestSketchedStrokesLieOverEachOther(t *testing.T) {
	stripe := pattern.Sketched{Radius: 50, Points: [][2]float64{{0, 500}, {1000, 500}}}
	dot := pattern.Sketched{Figure: 1, Radius: 50, Points: [][2]float64{{500, 500}}}
	m, n := sketch(t, stripe, dot)
	require.Equal(t, []int{0, 1}, n)
	disc := math.Pi * 0.05 * 0.05
	assert.InDelta(t, disc, share(m, 1, 2), 0.0005)
	assert.InDelta(t, 0.1-disc, share(m, 0, 2), 0.0007, "what lies over it takes from it")
	dot.Figure = -1
	m, n = sketch(t, stripe, dot)
	require.Equal(t, []int{0}, n)
	assert.InDelta(t, 0.1-disc, share(m, 0, 1), 0.0007, "taken away")
	_, err := pattern.NewDrawn(m, len(n))
	assert.NoError(t, err)

	// What nothing is left of is left out.
	third := dot
	third.Figure, third.Points = 3, [][2]float64{{500, 100}}
	m, n = sketch(t, stripe, pattern.Sketched{Radius: 60, Figure: 2, Points: stripe.Points}, third)
	assert.Equal(t, []int{2, 3}, n)
	assert.InDelta(t, 0.12, share(m, 0, 2), 0.0007)
	assert.InDelta(t, disc, share(m, 1, 2), 0.0005)
}

func TestSketchesThatCannotBe(t *testing.T) {
	ok := pattern.Sketched{Radius: 20, Points: [][2]float64{{1, 1}}}
	for what, list := range map[string][]pattern.Sketched{
		"nothing is on":     nil,
		"nothing is on the": {ok, {Figure: -1, Radius: 30, Points: ok.Points}},
		"figure 0 to 3":     {{Figure: 4, Radius: 20, Points: ok.Points}},
		"a tip of 2":        {{Radius: math.NaN(), Points: ok.Points}},
		"1 to 400 points":   {{Radius: 9}},
		"too far away":      {{Radius: 9, Points: [][2]float64{{math.Inf(1), 0}}}},
		"begin anew":        make([]pattern.Sketched, 301),
	} {
		_, _, err := pattern.Sketch(list, nil)
		assert.ErrorContains(t, err, what)
	}
}
