package recolour

import (
	"fmt"
	"math"

	"episema/core/colour"
)

// Turn is the method that turns the part's hues as they are, keeping its differences.
type Turn struct {
	Hue        float64 `json:"hue"`        // degrees added to the turn that brings the own hue to the target's, -180..180
	Saturation float64 `json:"saturation"` // percent of chroma more or less, -100..100
	Lightness  float64 `json:"lightness"`  // -100..100
}

// Validate says which setting is out of its range.
func (t *Turn) Validate() error {
	if t == nil {
		return nil
	}
	return inRange([]ranged{{"hue", t.Hue, -180, 180}, {"saturation", t.Saturation, -100, 100}, {"lightness", t.Lightness, -100, 100}})
}

type ranged struct {
	name      string
	v, lo, hi float64
}

func inRange(list []ranged) error {
	for _, c := range list {
		if !(c.v >= c.lo && c.v <= c.hi) {
			return fmt.Errorf("%s is %g; it runs from %g to %g", c.name, c.v, c.lo, c.hi)
		}
	}
	return nil
}

// painter gives the colour a pixel wholly in the part becomes, in linear light.
type painter func(r, g, b float32) (float32, float32, float32)

// lanesPainter does that to the first n pixels of a run.
type lanesPainter func(l *lanes, n int)

// each paints one pixel after the other.
func (f painter) each(l *lanes, n int) {
	for i := range n {
		r, g, b := f(l.at(i))
		l.set(i, r, g, b)
	}
}

// newTurn rotates in Oklab. Where the part or the target is grey it has no hue, and nothing is turned by itself.
func newTurn(space *colour.Space, own, goal colour.RGB, t *Turn) painter {
	if t == nil {
		t = &Turn{}
	}
	a, b := space.Oklab(own), space.Oklab(goal)
	angle := 0.0
	const grey = 0.015
	if math.Hypot(a[1], a[2]) > grey && math.Hypot(b[1], b[2]) > grey {
		angle = math.Atan2(b[2], b[1]) - math.Atan2(a[2], a[1])
	}
	angle += t.Hue * math.Pi / 180
	chroma := 1 + t.Saturation/100
	cos, sin := float32(math.Cos(angle)*chroma), float32(math.Sin(angle)*chroma)
	light := float32(t.Lightness / 100)
	f := colour.NewFast(space)
	return func(r, g, b float32) (float32, float32, float32) {
		l, x, y := f.Oklab(r, g, b)
		if light > 0 {
			l += light * (1 - l)
		} else {
			l += light * l
		}
		return f.Light(l, x*cos-y*sin, x*sin+y*cos)
	}
}
