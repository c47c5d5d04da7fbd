package raster

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/require"
)

// The distance of each pixel is that to the nearest of all pixels of the other kind, and no more than was asked for.
func TestSignedDistanceIsToTheNearestOfTheOtherKind(t *testing.T) {
	rnd := rand.New(rand.NewSource(1))
	for n := range 200 {
		w, h := 1+rnd.Intn(40), 1+rnd.Intn(40)
		in := make([]bool, w*h)
		for range rnd.Intn(4) { // none, or some rectangles
			x, y := rnd.Intn(w), rnd.Intn(h)
			for yy := y; yy < min(h, y+1+rnd.Intn(20)); yy++ {
				for xx := x; xx < min(w, x+1+rnd.Intn(20)); xx++ {
					in[yy*w+xx] = true
				}
			}
		}
		if n%5 == 0 {
			for i := range in {
				in[i] = rnd.Intn(2) == 0
			}
		}
		most := []float64{1e6, 3, 7.5}[rnd.Intn(3)]
		got := SignedDistanceWithin(func(i int) bool { return in[i] }, w, h, most)
		for i := range in {
			want := most
			for j := range in {
				if in[j] != in[i] {
					want = min(want, math.Hypot(float64(i%w-j%w), float64(i/w-j/w))-0.5)
				}
			}
			if !in[i] {
				want = -want
			}
			require.InDelta(t, want, got[i], 1e-5*math.Abs(want), "%d x %d up to %g, pixel %d", w, h, most, i)
		}
	}
	require.Empty(t, SignedDistance(nil, 5, 0))
	require.Empty(t, SignedDistance(nil, 0, 5))
}
