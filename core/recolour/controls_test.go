package recolour_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
)

// ball is a shaded thing of one colour with a glint on it, before a ground; gloss is the even veil over it, of the ground's
// colour.
func ball(own, ground colour.RGB, gloss float64) (*raster.RGB, *raster.Mask) {
	const w, h = 160, 120
	p, m := raster.NewRGB(w, h), raster.NewMask(w, h)
	for y := range h {
		for x := range w {
			i := y*w + x
			dx, dy := (float64(x)-70)/50, (float64(y)-60)/50
			for c := range 3 {
				p.Pix[3*i+c] = float32(ground[c])
			}
			if d := dx*dx + dy*dy; d < 1 {
				m.Pix[i] = raster.Whole
				n := math.Sqrt(1 - d)
				e := 0.15 + 0.85*math.Max(0, -0.5*dx-0.3*dy+0.8*n)
				s := 0.8 * math.Pow(math.Max(0, -0.5*dx-0.35*dy+0.79*n), 60)
				for c := range 3 {
					p.Pix[3*i+c] = float32(math.Min(1, own[c]*e+s+gloss*ground[c]))
				}
			}
		}
	}
	return p, m
}

func lightness(p *raster.RGB, x, y int) float64 {
	i := 3 * (y*p.W + x)
	return colour.SRGB.Lab(colour.RGB{float64(p.Pix[i]), float64(p.Pix[i+1]), float64(p.Pix[i+2])})[0]
}

func spreadOf(p *raster.RGB, m *raster.Mask) float64 {
	var n, s, ss float64
	for y := range p.H {
		for x := range p.W {
			if m.Pix[y*p.W+x] == raster.Whole {
				l := lightness(p, x, y)
				n, s, ss = n+1, s+l, ss+l*l
			}
		}
	}
	return math.Sqrt(ss/n - s*s/n/n)
}

func TestShadeDepthDeepensAndFlattens(t *testing.T) {
	p, m := cloth(someColours["red"])
	spread := func(depth float64) float64 {
		s := recolour.Defaults()
		s.ShadeDepth = depth
		o, plan, tone := apply(t, p, m, recolour.Request{Goal: someColours["teal"], Settings: s})
		assert.Less(t, colour.DeltaE00(colour.SRGB.Lab(plan.Result(tone.Linear)), colour.SRGB.Lab(someColours["teal"])), 0.6, "the lit tone stays the target's")
		return spreadOf(o, m)
	}
	flat, plain, deep := spread(-60), spread(0), spread(60)
	assert.Less(t, flat, 0.8*plain)
	assert.Greater(t, deep, 1.1*plain)
}

func TestHighlightsAreOfTheGlintAlone(t *testing.T) {
	p, m := ball(someColours["red"], colour.RGB{0.15, 0.15, 0.15}, 0)
	at := func(highlights float64) (glint, body float64) {
		s := recolour.Defaults()
		s.Highlights = highlights
		o, _, _ := apply(t, p, m, recolour.Request{Goal: someColours["teal"], Settings: s})
		return lightness(o, 41, 40), lightness(o, 90, 70)
	}
	none, bodyNone := at(0)
	half, _ := at(50)
	all, body := at(100)
	assert.Greater(t, half, none+5)
	assert.Greater(t, all, half+5)
	assert.InDelta(t, body, bodyNone, 1.5, "the body stays")
}

func TestStrengthIsAShareOfTheWay(t *testing.T) {
	p, m := cloth(someColours["red"])
	way := func(strength float64) float64 {
		s := recolour.Defaults()
		s.Strength = strength
		o, _, _ := apply(t, p, m, recolour.Request{Goal: someColours["teal"], Settings: s})
		i := 3 * (45*p.W + 60)
		return float64(o.Pix[i]-p.Pix[i]) / float64(p.Pix[i])
	}
	whole := way(100)
	assert.Less(t, whole, -0.5)
	last := 0.0
	for _, s := range []float64{25, 50, 75} {
		v := way(s)
		assert.Less(t, v, last, "more at %g", s)
		assert.Greater(t, v, whole)
		last = v
	}
}

// The match point is a place: across first, then down.
func TestTheMatchPointIsWhereItWasPut(t *testing.T) {
	p, m := cloth(someColours["red"])
	for _, at := range [][2]int{{80, 30}, {36, 52}, {60, 20}} {
		_, plan, tone := apply(t, p, m, recolour.Request{Goal: someColours["teal"], Match: &[2]int{at[0], at[1]}, Settings: recolour.Defaults()})
		require.Equal(t, at, [2]int{tone.X, tone.Y})
		i := 3 * (at[1]*p.W + at[0])
		for c := range 3 {
			assert.InDelta(t, p.Pix[i+c], tone.Linear[c], 0.02, "the tone of that place, channel %d at %v", c, at)
		}
		assert.Less(t, colour.DeltaE00(colour.SRGB.Lab(plan.Result(tone.Linear)), colour.SRGB.Lab(someColours["teal"])), 0.5)
	}
}

// A glossy thing mirrors its surroundings evenly; that veil is no part of the body's colour. Between two shades of a body it
// shows, so that the result is a body in the new colour with the same veil and not one without.
func TestAnEvenVeilIsTakenForAVeil(t *testing.T) {
	ground := colour.RGB{0.5, 0.5, 0.5}
	const gloss = 0.03
	p, m := ball(someColours["red"], ground, gloss)
	truth, _ := ball(someColours["black"], ground, gloss)
	own := someColours["red"]
	o, _, _ := apply(t, p, m, recolour.Request{Own: &own, Goal: someColours["black"], Settings: recolour.Defaults()})
	bare, _ := ball(own, ground, 0)
	without, _, _ := apply(t, bare, m, recolour.Request{Own: &own, Goal: someColours["black"], Settings: recolour.Defaults()})
	var with, none, n float64
	for y := 30; y < 90; y++ {
		for x := 40; x < 105; x++ {
			if m.Pix[y*p.W+x] == raster.Whole {
				with += math.Abs(lightness(o, x, y) - lightness(truth, x, y))
				none += math.Abs(lightness(without, x, y) - lightness(truth, x, y))
				n++
			}
		}
	}
	assert.Less(t, with/n, 3.0, "near the thing that was black")
	assert.Greater(t, none/n, with/n+1, "where there is no veil none is put on")
}

// A known own colour says how much of what is seen is light: under a light of half, a thing as the target is shows half of it.
func TestAKnownColourMakesTheTargetTheThingsOwn(t *testing.T) {
	own := someColours["red"]
	var half colour.RGB
	for c := range half {
		half[c] = own[c] / 2
	}
	p, m := cloth(half)
	goal := someColours["teal"]
	_, plan, tone := apply(t, p, m, recolour.Request{Own: &own, Goal: goal, Settings: recolour.Defaults()})
	_, estimated, _ := apply(t, p, m, recolour.Request{Goal: goal, Settings: recolour.Defaults()})
	dark := colour.SRGB.Lab(colour.RGB{goal[0] / 2, goal[1] / 2, goal[2] / 2})
	assert.Less(t, colour.DeltaE00(colour.SRGB.Lab(plan.Result(tone.Linear)), dark), 3.0)
	assert.Less(t, colour.DeltaE00(colour.SRGB.Lab(estimated.Result(tone.Linear)), colour.SRGB.Lab(goal)), 0.5)
}
