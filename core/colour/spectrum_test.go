package colour

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestThePerfectWhiteIsThatOfD50(t *testing.T) {
	// ICC.1:2022, 6.3.4.3 gives the white of D50 as X 0.9642, Y 1, Z 0.8249; the observer's curves hold as much energy each
	// (CIE 15: equal-energy light is x = y = 1/3).
	for c, want := range [3]float64{0.9642, 1, 0.8249} {
		assert.InDelta(t, want, whiteOfTables[c], 0.0006)
	}
	var sum [3]float64
	for _, b := range observer2 {
		for c, v := range b {
			sum[c] += v
		}
	}
	assert.InDelta(t, 1, sum[0]/sum[1], 0.002)
	assert.InDelta(t, 1, sum[2]/sum[1], 0.002)
}

func TestLabOfSpectra(t *testing.T) {
	flat := func(v float64, n int) []float64 {
		s := make([]float64, n)
		for i := range s {
			s[i] = v
		}
		return s
	}
	l, err := SpectrumLab(400, 10, flat(1, 31))
	require.NoError(t, err)
	assert.InDelta(t, 100, l[0], 1e-9)
	l, err = SpectrumLab(380, 5, flat(0.1842, 81))
	require.NoError(t, err)
	for c, want := range [3]float64{50, 0, 0} { // L* 50 is Y 0.1842 (CIE 15, 8.2.1)
		assert.InDelta(t, want, l[c], 0.01)
	}
	// A surface that sends back what is longer than 580 nm is red, what is shorter than 480 blue, what lies between green.
	band := func(in func(nm float64) bool) Lab {
		s := flat(0, 41)
		for i := range s {
			if in(380 + 10*float64(i)) {
				s[i] = 0.9
			}
		}
		l, err := SpectrumLab(380, 10, s)
		require.NoError(t, err)
		return l
	}
	hue := func(l Lab) float64 { return math.Atan2(l[2], l[1]) * 180 / math.Pi }
	assert.InDelta(t, 45, hue(band(func(nm float64) bool { return nm > 580 })), 25)
	assert.InDelta(t, -60, hue(band(func(nm float64) bool { return nm < 480 })), 25)
	assert.InDelta(t, 135, hue(band(func(nm float64) bool { return nm >= 480 && nm <= 580 })), 25)
	for _, s := range []struct {
		from, step float64
		n          int
	}{{400, 10, 5}, {500, 10, 31}, {400, 10, 20}, {400, 0.5, 600}, {400, 30, 20}, {math.NaN(), 10, 31}} {
		_, err := SpectrumLab(s.from, s.step, flat(0.5, s.n))
		assert.Error(t, err, "%v", s)
	}
	_, err = SpectrumLab(400, 10, flat(80, 31))
	assert.ErrorContains(t, err, "reflectance")
}
