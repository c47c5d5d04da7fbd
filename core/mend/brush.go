package mend

import (
	"errors"
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// Stroke is a stroke of the mending brush, in pixels of the full size.
type Stroke struct {
	raster.Stroke
	Strength float64     `json:"strength"`         // 0..1 of the way to the colour nearby
	Sample   *[2]float64 `json:"sample,omitempty"` // where the colour is taken from; nil: from beside the stroke
	Into     bool        `json:"into,omitempty"`   // it may cross into parts
}

// MostRadius is the largest tip of the mending brush.
const MostRadius = 300

// Validate says what is wrong with a stroke.
func (s Stroke) Validate() error {
	finite := func(v, most float64) bool { return v >= -most && v <= most }
	for _, p := range s.Points {
		if !finite(p[0], 1e6) || !finite(p[1], 1e6) {
			return errors.New("a point of a mending stroke is not a number within a million")
		}
	}
	switch {
	case !(s.Radius >= 0.5 && s.Radius <= MostRadius):
		return errors.New("the mending brush has a radius of 0.5 to 300 pixels")
	case !(s.Strength >= 0 && s.Strength <= 1):
		return errors.New("the strength of a mending stroke runs from 0 to 1")
	case s.Sample != nil && (!finite(s.Sample[0], 1e6) || !finite(s.Sample[1], 1e6)):
		return errors.New("the sampled point of a mending stroke is not a number within a million")
	}
	return nil
}

// reach is how far around the stroke colours are gathered, in pixels of the full size: twice a box of it.
func (s Stroke) reach() float64 { return max(6, 0.9*s.Radius) }

// Margin is how much more than a rectangle Apply must see to mend it as the whole would, in pixels of a plane.
func (s Stroke) Margin(step float64) int {
	return int(math.Ceil((2*s.reach()+3.7*s.Radius)/max(1, step))) + 12
}

const fine = 2.5 // what is finer than so many full-size pixels counts as grain

// Apply brushes over dst, which lies in the picture at place. parts is the share of all parts, which is left alone
// unless the stroke goes into them. sample is the colour at the sampled point, where one was.
func (s Stroke) Apply(dst *raster.RGB, parts *raster.Mask, place raster.Place, sample *colour.RGB) {
	step := place.Scale()
	reach := max(2, int(math.Round(s.reach()/step)))
	box := s.Box(place, 1).And(raster.Rect{X1: dst.W, Y1: dst.H})
	if box.Empty() {
		return
	}
	r := box.Grow(max(2*reach, int(2.8*s.Radius/step)) + 10).And(raster.Rect{X1: dst.W, Y1: dst.H})
	b := s.look(dst, parts, place, r, reach)
	for y := box.Y0; y < box.Y1; y++ {
		for x := box.X0; x < box.X1; x++ {
			i, j := (y-r.Y0)*r.W()+x-r.X0, y*dst.W+x
			k := b.under[i] * b.free[i] * float32(s.Strength)
			if k == 0 {
				continue
			}
			grain := b.grainFor(x, y, s.Radius/step)
			for c := range 3 {
				to := float32(0)
				switch {
				case sample != nil:
					to = float32(sample[c])
				case b.near[3][i] > 1e-3:
					to = b.near[c][i] / b.near[3][i]
				default:
					continue // nothing beside it to take
				}
				dst.Pix[3*j+c] = max(0, dst.Pix[3*j+c]+k*(to+grain[c]-dst.Pix[3*j+c]))
			}
		}
	}
}

// besideStroke is what lies around a stroke, in a rectangle of a plane.
type besideStroke struct {
	r           raster.Rect
	under, free []float32    // how much of each pixel the tip covered, and how much of it may be mended
	near, soft  [4][]float32 // colours beside the stroke, and what they count for: widely around, and without their grain
	was         [3][]float32 // the pixels before anything was mended
}

// look gathers what lies around a stroke.
func (s Stroke) look(pic *raster.RGB, parts *raster.Mask, place raster.Place, r raster.Rect, reach int) *besideStroke {
	w, h := r.W(), r.H()
	b := &besideStroke{r: r, under: s.cover(r, place), free: make([]float32, w*h)}
	for c := range b.near {
		b.near[c], b.soft[c] = make([]float32, w*h), make([]float32, w*h)
	}
	for c := range b.was {
		b.was[c] = make([]float32, w*h)
	}
	for y := range h {
		for x := range w {
			i, j := y*w+x, (y+r.Y0)*pic.W+x+r.X0
			b.free[i] = 1
			if parts != nil && !s.Into {
				b.free[i] = 1 - float32(parts.Pix[j])/raster.Whole
			}
			beside := b.free[i] * b.free[i] * max(0, 1-4*b.under[i])
			for c := range 3 {
				b.was[c][i] = pic.Pix[3*j+c]
				b.near[c][i] = beside * pic.Pix[3*j+c]
				b.soft[c][i] = beside * pic.Pix[3*j+c]
			}
			b.near[3][i], b.soft[3][i] = beside, beside
		}
	}
	raster.Parallel(4, func(c int) {
		raster.BoxSum(b.near[c], w, h, reach)
		raster.BoxSum(b.near[c], w, h, reach)
		raster.Gauss(b.soft[c], w, h, fine/place.Scale())
	})
	return b
}

// grainFor returns the grain of a pixel beside the stroke, the nearest of some around, so that nothing of what lay under it stays; none
// where there is no such pixel. radius is the stroke's, in pixels of the plane.
func (b *besideStroke) grainFor(x, y int, radius float64) (grain [3]float32) {
	for n := 1; n <= 3; n++ {
		far := radius * (0.9 + 0.6*float64(n))
		for k := range 8 {
			sin, cos := math.Sincos(float64(k)*math.Pi/4 + math.Pi/8)
			xx, yy := x+int(math.Round(far*cos)), y+int(math.Round(far*sin))
			if xx < b.r.X0 || yy < b.r.Y0 || xx >= b.r.X1 || yy >= b.r.Y1 {
				continue
			}
			if i := (yy-b.r.Y0)*b.r.W() + xx - b.r.X0; b.under[i] == 0 && b.free[i] == 1 && b.soft[3][i] > 0.5 {
				for c := range grain {
					grain[c] = b.was[c][i] - b.soft[c][i]/b.soft[3][i]
				}
				return grain
			}
		}
	}
	return grain
}

// cover gives how much of each pixel of a rectangle the soft tip covered.
func (s Stroke) cover(r raster.Rect, place raster.Place) []float32 {
	out := make([]float32, r.W()*r.H())
	step := place.Scale()
	raster.Along(s.At(place), func(int) float64 { return s.Radius/step + 1 }, r, nil, func(_, x, y int, d float64) {
		// Hard to seven tenths of the radius, then falling off; never harder than a pixel.
		v := float32(max(0, min(1, (s.Radius-d*step)/max(0.3*s.Radius, step)+0.5*step/max(s.Radius, step))))
		i := (y-r.Y0)*r.W() + x - r.X0
		out[i] = max(out[i], v)
	})
	return out
}
