package recolour

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// half gives a ball half in light and half in shade, with fine light and dark on it, and with the noise of a camera; what is brighter than it
// can tell has clipped.
func half(side int, own [3]float64, shine float64) (pic *raster.RGB, mask *raster.Mask) {
	r := rand.New(rand.NewPCG(7, 8))
	pic, mask = raster.NewRGB(side, side), raster.NewMask(side, side)
	for y := range side {
		for x := range side {
			i := y*side + x
			if math.Hypot(float64(x-side/2), float64(y-side/2)) < float64(side)*0.46 {
				mask.Pix[i] = raster.Whole
			}
			lit := 1 / (1 + math.Exp(-float64(x-side/2)/12))
			light := (0.08 + 1.2*lit) * (1 + 0.1*r.NormFloat64())
			gloss := shine * lit * max(0, r.NormFloat64())
			for c, o := range own {
				pic.Pix[3*i+c] = float32(max(0, min(1, o*light+gloss+0.003*r.NormFloat64())))
			}
		}
	}
	return pic, mask
}

// fineOf gives the lightness of the pixels beside that of their surroundings.
func fineOf(pic *raster.RGB) []float32 {
	d := make([]float32, pic.W*pic.H)
	for i := range d {
		d[i] = float32(colour.SRGB.Lab(colour.RGB{float64(pic.Pix[3*i]), float64(pic.Pix[3*i+1]), float64(pic.Pix[3*i+2])})[0])
	}
	soft := append([]float32(nil), d...)
	raster.Gauss(soft, pic.W, pic.H, 3)
	for i := range d {
		d[i] -= soft[i]
	}
	return d
}

func TestFineLightAndDarkIsKeptOnBlackAndWhite(t *testing.T) {
	for _, c := range []struct {
		name   string
		own    [3]float64
		shine  float64
		goal   colour.RGB
		enough float64
	}{
		{"an orange to black", [3]float64{0.9, 0.4, 0.03}, 0.04, colour.RGB{0.011, 0.011, 0.013}, 0.9},
		{"a dark glaze to white", [3]float64{0.12, 0.03, 0.01}, 0.01, colour.RGB{0.9, 0.9, 0.87}, 0.85},
	} {
		pic, mask := half(240, c.own, c.shine)
		deep := raster.SignedDistance(func(i int) bool { return mask.Pix[i] > 0 }, pic.W, pic.H)
		l, err := Learn(pic, mask)
		require.NoError(t, err)
		p, _, err := l.Plan(colour.SRGB, Request{Goal: c.goal, Settings: Defaults()})
		require.NoError(t, err)
		require.NotNil(t, p.steady)
		kept := func(p *Plan) float64 {
			out := &raster.RGB{W: pic.W, H: pic.H, Pix: append([]float32(nil), pic.Pix...)}
			p.Apply(pic, out, mask, raster.Place{}, raster.Rect{X1: pic.W, Y1: pic.H})
			var xx, yy, xy float64
			x, y := fineOf(pic), fineOf(out)
			for i, d := range deep {
				if d > 10 {
					u, v := float64(x[i]), float64(y[i])
					xx, yy, xy = xx+u*u, yy+v*v, xy+u*v
				}
			}
			return xy / math.Sqrt(xx*yy)
		}
		got := kept(p)
		alone := *p
		alone.steady = nil
		t.Logf("%v: %.3f, without %.3f", c.name, got, kept(&alone))
		assert.Greater(t, got, c.enough, "%v", c.name)
	}
}

func TestTheLargeShadeIsMostlyAsThePlanMadeIt(t *testing.T) {
	pic, mask := half(480, [3]float64{0.12, 0.03, 0.01}, 0.01)
	l, err := Learn(pic, mask)
	require.NoError(t, err)
	goal := colour.RGB{0.9, 0.9, 0.87}
	p, met, err := l.Plan(colour.SRGB, Request{Goal: goal, Settings: Defaults()})
	require.NoError(t, err)
	mean := func(p *Plan, x0, y0 int) (sum float64) {
		out := &raster.RGB{W: pic.W, H: pic.H, Pix: append([]float32(nil), pic.Pix...)}
		p.Apply(pic, out, mask, raster.Place{}, raster.Rect{X1: pic.W, Y1: pic.H})
		for y := y0; y < y0+40; y++ {
			for x := x0; x < x0+40; x++ {
				i := 3 * (y*pic.W + x)
				sum += lightness(out.Pix[i], out.Pix[i+1], out.Pix[i+2]) / 1600
			}
		}
		return sum
	}
	alone, line := *p, *p
	alone.steady = nil
	flat := *p.steady
	flat.large = 1
	line.steady = &flat
	// How much darker the shade is than the light.
	depth := func(p *Plan) float64 { return mean(p, 380, 220) - mean(p, 60, 220) }
	made, drawn, got := depth(&alone), depth(&line), depth(p)
	assert.Greater(t, made-drawn, 0.03, "the line alone takes some of it away")
	assert.InDelta(t, largeLight*drawn+(1-largeLight)*made, got, 0.1*(made-drawn))

	var s run
	s.add(float32(met.Linear[0]), float32(met.Linear[1]), float32(met.Linear[2]))
	s.place(p, []float64{float64(met.X) + 0.5}, float64(met.Y)+0.5, 1)
	s.paint(p)
	assert.InDelta(t, lightness(float32(goal[0]), float32(goal[1]), float32(goal[2])), lightness(s.o.at(0)), 2.0/255, "and where the target is met it is met")
}
