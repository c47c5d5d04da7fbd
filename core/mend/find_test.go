package mend

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/core/raster"
)

// On a wall of stripes a cover must keep their phase, hold none of what must go, and no other sign.
func TestACoverIsFoundThatGoesOnWithWhatIsAround(t *testing.T) {
	const w, h, period = 300, 200, 20
	sign := func(x, y, cx, cy float64) bool { return math.Abs(x-cx) < 14 && math.Abs(y-cy) < 12 }
	wall := func(x, y float64) float64 { return 0.4 + 0.15*math.Sin(2*math.Pi*x/period) + 0.0006*y }
	p := linearOf(w, h, func(x, y float64) float64 {
		if sign(x, y, 100, 100) || sign(x, y, 220, 60) {
			return 0.95
		}
		return wall(x, y)
	})
	patch := Patch{Nodes: corners(82, 85, 118, 85, 118, 115, 82, 115), Seamless: true, Feather: 2}
	found := FindCovers(p, 1, patch, 3, nil)
	require.Len(t, found, 3)
	for i, f := range found {
		phase := math.Mod(f.Shift[0]+10*period, period)
		assert.Less(t, min(phase, period-phase), 1.5, "%v keeps the stripes' phase", f.Shift)
		patch.Shift = f.Shift
		out := lay(p, p, patch)
		worst := 0.0
		for y := 80; y < 120; y++ {
			for x := 78; x < 122; x++ {
				worst = max(worst, math.Abs(float64(coded(out.Pix[3*(y*w+x)]))-wall(float64(x), float64(y))))
			}
		}
		assert.Less(t, worst, 0.05, "cover %d, %v, leaves the wall", i, f.Shift)
		assert.False(t, f.Repeats, "nothing in it stands out")
		for _, g := range found[:i] {
			assert.Greater(t, math.Hypot(f.Shift[0]-g.Shift[0], f.Shift[1]-g.Shift[1]), 15.0, "each is another place")
		}
	}
	// The same at a coarser scale of a larger picture: shifts are of the full size.
	big := FindCovers(p, 4, Patch{Nodes: corners(4*82, 4*85, 4*118, 4*85, 4*118, 4*115, 4*82, 4*115)}, 1, nil)
	require.Len(t, big, 1)
	assert.Equal(t, [2]float64{4 * found[0].Shift[0], 4 * found[0].Shift[1]}, big[0].Shift)
}

func TestWhatWouldBeSeenTwiceIsSaid(t *testing.T) {
	// There is room for one cover alone, and it holds a knot.
	p := linearOf(60, 30, func(x, y float64) float64 {
		if math.Hypot(x-45, y-15) < 5 {
			return 0.9
		}
		return 0.4
	})
	found := FindCovers(p, 1, Patch{Nodes: corners(3, 3, 27, 3, 27, 27, 3, 27)}, 1, nil)
	require.Len(t, found, 1)
	assert.True(t, found[0].Repeats)
}

func TestWhereNothingCanCoverNothingIsFound(t *testing.T) {
	p := linearOf(60, 30, func(x, y float64) float64 { return 0.4 })
	assert.Empty(t, FindCovers(p, 1, Patch{Nodes: corners(3, 3, 57, 3, 57, 27, 3, 27)}, 3, nil), "there is no room")
	assert.Empty(t, FindCovers(p, 1, Patch{Nodes: corners(300, 3, 400, 3, 400, 27)}, 3, nil), "it lies outside")
	assert.Empty(t, FindCovers(p, 1, Patch{Nodes: corners(-9, -9, 90, -9, 90, 90, -9, 90)}, 3, nil), "all of it must go")
	assert.Panics(t, func() {
		FindCovers(linearOf(200, 200, texture), 1, Patch{Nodes: []isolate.Node{{P: [2]float64{50, 50}}, {P: [2]float64{80, 50}}, {P: [2]float64{80, 80}}}}, 3, stopped())
	}, "nobody waits any more")
}

func stopped() raster.Done {
	c := make(chan struct{})
	close(c)
	return c
}

// A hole of 500 x 500 pixels in 24 megapixels, searched at a quarter of the size.
func BenchmarkFindCovers(b *testing.B) {
	p := linearOf(1500, 1000, texture)
	patch := Patch{Nodes: corners(2000, 1500, 2500, 1500, 2500, 2000, 2000, 2000)}
	for b.Loop() {
		FindCovers(p, 4, patch, 3, nil)
	}
}

// The same hole made seamless.
func BenchmarkFit(b *testing.B) {
	patch := Patch{Nodes: corners(200, 150, 700, 150, 700, 650, 200, 650), Shift: [2]float64{300, 100}, Seamless: true}
	p := linearOf(1500, 1000, texture)
	for b.Loop() {
		c := NewCover(patch)
		s := c.FitStep()
		h := p
		for k := 1.0; k < s; k *= 2 {
			h = raster.Half(h)
		}
		r := c.FitArea().And(raster.Rect{X1: h.W, Y1: h.H})
		c.Fit(h.Crop(r), raster.Place{X: float64(r.X0) * s, Y: float64(r.Y0) * s, Step: s}, h, raster.Place{Step: s}, nil)
	}
}
