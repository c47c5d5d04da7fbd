package pattern_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/pattern"
)

func hand(change func(*pattern.Pattern)) pattern.Pattern {
	p := pattern.Pattern{Tile: "stripes", Share: 50, Size: 40, Strength: 100}
	change(&p)
	return p
}

// Cloth round a cylinder, by the cylinder's own geometry: a point at an angle and a height, seen by parallel rays from above, carries
// the cloth that lies an arc away from the front.
func TestRoundLiesOnACylinder(t *testing.T) {
	const side, left, top = 400.0, 100.0, 50.0
	for _, round := range []float64{20, 60, 100} {
		for _, above := range []float64{-40, 0, 70} {
			p := hand(func(p *pattern.Pattern) {
				p.Corners = &[4][2]float64{{left, top}, {left + side, top}, {left + side, top + side}, {left, top + side}}
				p.Round, p.Above = round, above
			})
			require.NoError(t, p.Validate())
			lay := pattern.NewLay(p, 1, pattern.Found{})
			half := round / 100 * 88 * math.Pi / 180
			radius := side / 2 / math.Sin(half)
			for _, k := range []float64{-0.95, -0.5, 0, 0.3, 0.9} {
				for _, height := range []float64{0, 120, 300} {
					angle := k * half
					x := left + side/2 + radius*math.Sin(angle)
					y := top + height + above/100*radius*(math.Cos(angle)-1)
					u, v, ok := lay.At(x, y)
					require.True(t, ok)
					assert.InDelta(t, (side/2+radius*angle)*1000/side/40, u, 1e-9)
					assert.InDelta(t, height*1000/side/40, v, 1e-9)
				}
			}
			_, _, ok := lay.At(left+side/2+1.01*radius, top+10)
			assert.False(t, ok, "beyond the cylinder there is none of it")
		}
	}
}

// What lies under the middle of the tip goes along with it to where it is let go; at the tip's rim and beyond nothing moves.
func TestPushTakesThePatternAlong(t *testing.T) {
	push := pattern.Push{Radius: 60, Points: [][2]float64{{200, 300}, {230, 320}, {270, 320}}}
	f := pattern.NewPushed([]pattern.Push{push}, nil)
	dx, dy := f.At(270, 320)
	assert.InDelta(t, -70, dx, 1)
	assert.InDelta(t, -20, dy, 1)
	for _, q := range [][2]float64{{200, 235}, {335, 320}, {10, 10}, {-1e5, 4e5}} {
		dx, dy := f.At(q[0], q[1])
		assert.Zero(t, dx)
		assert.Zero(t, dy)
	}
	plain := hand(func(*pattern.Pattern) {})
	pushed := hand(func(p *pattern.Pattern) { p.Pushes = []pattern.Push{push} })
	require.NoError(t, pushed.Validate())
	u0, v0, _ := pattern.NewLay(plain, 1, pattern.Found{}).At(200, 300)
	u1, v1, _ := pattern.NewLay(pushed, 1, pattern.Found{Pushed: f}).At(270, 320)
	assert.InDelta(t, u0, u1, 0.03)
	assert.InDelta(t, v0, v1, 0.03)
	assert.Nil(t, pattern.NewPushed([]pattern.Push{{Radius: 10, Points: [][2]float64{{5, 5}}}}, nil), "a click pushes nothing")
}

func TestPushesAndRoundnessThatCannotBe(t *testing.T) {
	far := pattern.Push{Radius: 2, Points: [][2]float64{{0, 0}, {9e5, 0}}}
	for what, change := range map[string]func(*pattern.Pattern){
		"with a larger one": func(p *pattern.Pattern) { p.Pushes = []pattern.Push{far} },
		"radius of 2":       func(p *pattern.Pattern) { p.Pushes = []pattern.Push{{Radius: math.NaN()}} },
		"within a million": func(p *pattern.Pattern) {
			p.Pushes = []pattern.Push{{Radius: 9, Points: [][2]float64{{math.Inf(1), 0}}}}
		},
		"take some back":       func(p *pattern.Pattern) { p.Pushes = make([]pattern.Push, 401) },
		"give its corners":     func(p *pattern.Pattern) { p.Round = 50 },
		"runs from 0 to 100":   func(p *pattern.Pattern) { p.Round = 101 },
		"runs from -100 to 10": func(p *pattern.Pattern) { p.Above = math.NaN() },
	} {
		p := hand(change)
		assert.ErrorContains(t, p.Validate(), what)
	}
}
