package pattern_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/pattern"
)

var tilted = [4][2]float64{{100, 50}, {1000, 120}, {920, 900}, {60, 1000}}

// gridOf returns the nodes of a grid that are no corners, in the order in which a pattern has them.
func gridOf(at func(s, t float64) [2]float64) *[12][2]float64 {
	var g [12][2]float64
	k := 0
	for j := range 4 {
		for i := range 4 {
			if i%3 != 0 || j%3 != 0 {
				g[k] = at(float64(i)/3, float64(j)/3)
				k++
			}
		}
	}
	return &g
}

func laid(t *testing.T, corners [4][2]float64, grid *[12][2]float64) *pattern.Lay {
	t.Helper()
	p := hand(func(p *pattern.Pattern) { p.Corners, p.Grid, p.Size = &corners, grid, 1000 })
	require.NoError(t, p.Validate())
	return pattern.NewLay(p, 1, pattern.Found{Grid: pattern.NewGrid(&p, nil)})
}

// perspective returns where a place of the square lies, by the four rays' own algebra: the square's diagonals and vanishing points are
// not asked, its corners' weights are (the plane's point s, t is a weighted mean of its corners).
func perspective(q [4][2]float64) func(s, t float64) [2]float64 {
	cross := func(a, b, c [2]float64) float64 { return (b[0]-a[0])*(c[1]-a[1]) - (b[1]-a[1])*(c[0]-a[0]) }
	// A corner's weight is the area of the triangle of the other three (barycentric co-ordinates of a projective frame).
	w := [4]float64{cross(q[1], q[2], q[3]), cross(q[0], q[2], q[3]), cross(q[0], q[1], q[3]), cross(q[0], q[1], q[2])}
	return func(s, t float64) [2]float64 {
		k := [4]float64{w[0] * (1 - s) * (1 - t), w[1] * s * (1 - t), w[2] * s * t, w[3] * (1 - s) * t}
		var at [2]float64
		sum := 0.0
		for i := range q {
			sum += k[i]
			at[0], at[1] = at[0]+k[i]*q[i][0], at[1]+k[i]*q[i][1]
		}
		return [2]float64{at[0] / sum, at[1] / sum}
	}
}

// A grid whose nodes lie where the perspective has them changes nothing, inside and far outside.
func TestAGridAtRestChangesNothing(t *testing.T) {
	at := perspective(tilted)
	plain, bent := laid(t, tilted, nil), laid(t, tilted, gridOf(at))
	for _, q := range [][2]float64{{0.5, 0.5}, {0.1, 0.9}, {1.4, 0.2}, {-0.6, 1.7}} {
		p := at(q[0], q[1])
		u, v, ok := plain.At(p[0], p[1])
		require.True(t, ok)
		assert.InDelta(t, q[0], u, 1e-9, "the perspective itself")
		assert.InDelta(t, q[1], v, 1e-9)
		u, v, _ = bent.At(p[0], p[1])
		assert.InDelta(t, q[0], u, 1e-6)
		assert.InDelta(t, q[1], v, 1e-6)
	}
}

// The cloth lies on its nodes. What bends like a parabola it follows exactly in the middle, as curves of Catmull and Rom do, and nearly
// towards the rim.
func TestAGridLiesOnItsNodes(t *testing.T) {
	flat := [4][2]float64{{0, 0}, {900, 0}, {900, 900}, {0, 900}}
	warp := func(s, t float64) [2]float64 {
		return [2]float64{900 * (s + 0.3*s*(1-s)*(0.2+t*t)), 900 * (t - 0.3*s*(1-s) + 0.1*t*(1-t))}
	}
	lay := laid(t, flat, gridOf(warp))
	for j := range 22 {
		for i := range 22 {
			s, d := float64(i)/21, float64(j)/21
			p := warp(s, d)
			u, v, ok := lay.At(p[0], p[1])
			require.True(t, ok)
			near := 0.012
			if i%7 == 0 && j%7 == 0 || i >= 7 && i <= 14 && j >= 7 && j <= 14 {
				near = 0.0005
			}
			assert.InDelta(t, s, u, near)
			assert.InDelta(t, d, v, near)
		}
	}
	// A node can be pulled by half the way to the next one without the cloth lying over itself.
	at := perspective(flat)
	laid(t, flat, gridOf(func(s, d float64) [2]float64 {
		p := at(s, d)
		if s > 0.6 && s < 0.7 && d > 0.3 && d < 0.4 {
			p[0], p[1] = p[0]+150, p[1]-150
		}
		return p
	}))
	// A side beyond the square the bend has died away.
	u, v, _ := lay.At(-910, 300)
	assert.InDelta(t, -910.0/900, u, 1e-9)
	assert.InDelta(t, 300.0/900, v, 1e-9)
}

// However its nodes are pulled, as long as that is allowed, the cloth does not lie over itself, and has no step at the square's rim.
func TestAGridNeverFolds(t *testing.T) {
	at := perspective(tilted)
	chance := rand.New(rand.NewPCG(5, 0))
	tried := 0
	for range 120 {
		far := 150 * chance.Float64()
		grid := gridOf(func(s, d float64) [2]float64 {
			p := at(s, d)
			return [2]float64{p[0] + far*(2*chance.Float64()-1), p[1] + far*(2*chance.Float64()-1)}
		})
		p := hand(func(p *pattern.Pattern) { p.Corners, p.Grid, p.Size = &tilted, grid, 1000 })
		if p.Validate() != nil {
			continue
		}
		tried++
		lay := laid(t, tilted, grid)
		for range 200 {
			s, d := 3*chance.Float64()-1, 3*chance.Float64()-1
			q := at(s, d)
			u0, v0, _ := lay.At(q[0], q[1])
			u1, v1, _ := lay.At(q[0]+2, q[1])
			u2, v2, _ := lay.At(q[0], q[1]+2)
			require.Positive(t, (u1-u0)*(v2-v0)-(u2-u0)*(v1-v0), "%v at %v", grid, q)
			require.Less(t, math.Abs(u1-u0)+math.Abs(v1-v0)+math.Abs(u2-u0)+math.Abs(v2-v0), 0.3)
		}
	}
	assert.Greater(t, tried, 40)
}

func TestGridsThatCannotBe(t *testing.T) {
	at := perspective(tilted)
	for what, change := range map[string]func(*pattern.Pattern){
		"give its corners":      func(p *pattern.Pattern) { p.Corners = nil },
		"past the horizon":      func(p *pattern.Pattern) { p.Grid[4] = at(0.3, -1.02/(1-0.995)) },
		"pull its nodes apart":  func(p *pattern.Pattern) { p.Grid[4], p.Grid[5] = p.Grid[5], p.Grid[4] },
		"within a million":      func(p *pattern.Pattern) { p.Grid[0][1] = math.NaN() },
		"not made of numbers w": func(p *pattern.Pattern) { p.Grid[11][0] = math.Inf(1) },
	} {
		p := hand(func(p *pattern.Pattern) { c := tilted; p.Corners, p.Grid = &c, gridOf(at) })
		require.NoError(t, p.Validate())
		change(&p)
		assert.ErrorContains(t, p.Validate(), what)
	}
}
