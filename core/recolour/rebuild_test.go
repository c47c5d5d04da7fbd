package recolour_test

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
)

// burned is a rough thing lit so strongly in its middle that the picture clips there. It gives the picture and the same
// thing in another colour that does not clip.
func burned(own, other colour.RGB) (p, truth *raster.RGB, m *raster.Mask) {
	const w, h = 340, 260
	r := rand.New(rand.NewSource(12))
	p, truth, m = raster.NewRGB(w, h), raster.NewRGB(w, h), raster.NewMask(w, h)
	for y := range h {
		for x := range w {
			i := y*w + x
			light := 0.55 + 1.5*math.Exp(-(math.Pow(float64(x)-120, 2)+math.Pow(float64(y)-100, 2))/(2*40*40))
			inside := x > 10 && y > 10 && x < w-10 && y < h-10
			if inside {
				m.Pix[i] = raster.Whole
			}
			light *= 1 + r.NormFloat64()*0.04
			for c := range 3 {
				a, b := 0.15, 0.15
				if inside {
					a, b = own[c]*light, other[c]*light
				}
				p.Pix[3*i+c], truth.Pix[3*i+c] = float32(min(1, a)), float32(min(1, b))
			}
		}
	}
	return p, truth, m
}

func TestWhatTheLightBurnedOutIsRebuilt(t *testing.T) {
	for name, own := range map[string]colour.RGB{"white": {0.8, 0.78, 0.72}, "coloured": {0.85, 0.3, 0.2}} {
		goal := colour.RGB{0.03, 0.16, 0.18}
		p, truth, m := burned(own, goal)
		q := recolour.Request{Goal: goal, Own: &own, Settings: recolour.Defaults(), Scale: 1,
			Fine: func(r raster.Rect) (*raster.RGB, error) {
				o := raster.NewRGB(r.W(), r.H())
				for y := range o.H {
					copy(o.Pix[3*y*o.W:3*(y+1)*o.W], p.Pix[3*((y+r.Y0)*p.W+r.X0):])
				}
				return o, nil
			}}
		burnt := func(i int) bool {
			return p.Pix[3*i] >= 1 && (name == "coloured" || p.Pix[3*i+2] >= 1)
		}
		off := func(o *raster.RGB) float64 {
			s, n := 0.0, 0.0
			for i := range m.Pix {
				if burnt(i) {
					lab := func(r *raster.RGB) colour.Lab {
						return colour.SRGB.Lab(colour.RGB{float64(r.Pix[3*i]), float64(r.Pix[3*i+1]), float64(r.Pix[3*i+2])})
					}
					s, n = s+colour.DeltaE00(lab(o), lab(truth)), n+1
				}
			}
			require.Greater(t, n, 1000.0)
			return s / n
		}
		left, _, _ := apply(t, p, m, q)
		q.Settings.Rebuild = recolour.NewRebuild()
		o, _, tone := apply(t, p, m, q)
		flat := &raster.RGB{W: p.W, H: p.H, Pix: append([]float32(nil), p.Pix...)}
		for i := range m.Pix {
			for c := range 3 {
				flat.Pix[3*i+c] = float32(goal[c] * tone.Linear[c] / own[c])
			}
		}
		assert.Less(t, off(o), 0.6*off(flat), "%s: against one flat colour", name)
		assert.Less(t, off(o), 0.7*off(left), "%s: against leaving it", name)

		// Grain goes on at its strength.
		rough := func(q *raster.RGB, x0 int) float64 {
			s, n := 0.0, 0.0
			for y := 80; y < 120; y++ {
				for x := x0; x < x0+40; x++ {
					a, b := q.Pix[3*(y*q.W+x)+1], q.Pix[3*(y*q.W+x+1)+1]
					s, n = s+math.Pow(float64(a-b)/float64(a+b), 2), n+1
				}
			}
			return math.Sqrt(s / n)
		}
		assert.InDelta(t, 1, rough(o, 100)/rough(truth, 100), 0.4, "%s: grain", name)

		// It is a step: weakened it lies between, brushed away it is as if it were not there.
		q.Settings.Rebuild.Amount = 40
		half, _, _ := apply(t, p, m, q)
		assert.Greater(t, off(half), off(o))
		assert.Less(t, off(half), off(left))
		q.Settings.Rebuild = recolour.NewRebuild()
		q.Settings.Rebuild.Away = []raster.Stroke{{Radius: 300, Points: [][2]float64{{120, 100}}}}
		away, _, _ := apply(t, p, m, q)
		assert.Greater(t, off(away), 1.4*off(o), "%s: brushed away", name)
	}
}

func TestRebuildLeavesWhatDidNotClip(t *testing.T) {
	p, m := cloth(someColours["teal"])
	q := recolour.Request{Goal: someColours["red"], Settings: recolour.Defaults()}
	want, _, _ := apply(t, p, m, q)
	q.Settings.Rebuild = recolour.NewRebuild()
	got, _, _ := apply(t, p, m, q)
	assert.Equal(t, want.Pix, got.Pix)
}
