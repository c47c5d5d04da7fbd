package raster

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// bellAt is the blur by definition: along rows, then along columns, cut at three sigma.
func bellAt(p []float32, w, h int, sigma float64) []float64 {
	n := int(math.Ceil(3 * sigma))
	pass := func(at func(x, y int) float64) []float64 {
		out := make([]float64, w*h)
		for i := range out {
			sum := 0.0
			for d := -n; d <= n; d++ {
				k := math.Exp(-0.5 * float64(d*d) / (sigma * sigma))
				out[i] += k * at(i, d)
				sum += k
			}
			out[i] /= sum
		}
		return out
	}
	rows := pass(func(i, d int) float64 { return float64(p[i/w*w+max(0, min(w-1, i%w+d))]) })
	return pass(func(i, d int) float64 { return rows[max(0, min(h-1, i/w+d))*w+i%w] })
}

// plane is one as masks are: even, with edges, a soft one among them, or noise.
func plane(rnd *rand.Rand, w, h int) []float32 {
	p := make([]float32, w*h)
	x, y := rnd.Intn(w), rnd.Intn(h)
	for i := range p {
		switch {
		case i%w >= x && i/w >= y:
			p[i] = 1
		case i%w == x-1:
			p[i] = 0.25
		}
	}
	if rnd.Intn(4) == 0 {
		for i := range p {
			p[i] = rnd.Float32()
		}
	}
	return p
}

// isNearTheBell blurs planes of up to w x h pixels and holds them against the definition.
func isNearTheBell(t *testing.T, rounds, w, h int, least, most, by float64) {
	rnd := rand.New(rand.NewSource(1))
	for range rounds {
		w, h, sigma := 1+rnd.Intn(w), 1+rnd.Intn(h), least+(most-least)*rnd.Float64()
		p := plane(rnd, w, h)
		want := bellAt(p, w, h, sigma)
		Gauss(p, w, h, sigma)
		for i := range p {
			require.InDelta(t, want[i], p[i], by, "%d x %d, sigma %g, pixel %d", w, h, sigma, i)
		}
	}
}

func TestGaussIsTheBellByDefinition(t *testing.T) { isNearTheBell(t, 60, 120, 60, 0.3, 8.3, 2e-6) }

// A wide bell is one of steps: an edge is a thousandth off at most, what is even stays so, and nothing is lost or gained.
func TestWideGaussIsNearTheBell(t *testing.T) {
	isNearTheBell(t, 12, 300, 200, 22, 102, 1e-3)
	even := make([]float32, 50*40)
	for i := range even {
		even[i] = 0.7
	}
	Gauss(even, 50, 40, 60)
	for _, v := range even {
		require.Equal(t, float32(0.7), v)
	}
	dot := make([]float32, 500*500)
	dot[250*500+250] = 1
	Gauss(dot, 500, 500, 30)
	sum, falls := 0.0, true
	for i, v := range dot {
		sum += float64(v)
		if x := i % 500; i/500 == 250 && x > 250 && v > dot[i-1]+1e-9 {
			falls = false
		}
	}
	assert.InDelta(t, 1, sum, 1e-4)
	assert.True(t, falls, "from the middle outwards it never rises")
}

func BenchmarkGauss(b *testing.B) {
	for _, sigma := range []float64{3, 20, 98} {
		b.Run(map[float64]string{3: "narrow", 20: "middle", 98: "wide"}[sigma], func(b *testing.B) {
			const w, h = 1500, 1300
			p := make([]float32, w*h)
			for b.Loop() {
				for i := range p {
					p[i] = 0
					if i%w > w/2 {
						p[i] = 1
					}
				}
				Gauss(p, w, h, sigma)
			}
		})
	}
}
