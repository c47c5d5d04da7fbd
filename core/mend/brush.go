package mend

import (
	"errors"
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// Stroke is a stroke of the mending brush, in pixels of the full size.
type Stroke struct {
	Radius   float64      `json:"radius"`
	Points   [][2]float64 `json:"points"`
	Strength float64      `json:"strength"`         // 0..1 of the way to the colour nearby
	Sample   *[2]float64  `json:"sample,omitempty"` // where the colour is taken from; nil: from beside the stroke
	Into     bool         `json:"into,omitempty"`   // it may cross into parts
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
	box := s.box(place).And(raster.Rect{X1: dst.W, Y1: dst.H})
	if box.Empty() {
		return
	}
	r := box.Grow(max(2*reach, int(2.8*s.Radius/step)) + 10).And(raster.Rect{X1: dst.W, Y1: dst.H})
	w, h := r.W(), r.H()
	under := s.cover(r, place)
	near, soft := [4][]float32{}, [4][]float32{} // colours beside the stroke: widely around, and without their grain
	for c := range near {
		near[c], soft[c] = make([]float32, w*h), make([]float32, w*h)
	}
	free := make([]float32, w*h)
	for y := range h {
		for x := range w {
			i, j := y*w+x, (y+r.Y0)*dst.W+x+r.X0
			free[i] = 1
			if parts != nil && !s.Into {
				free[i] = 1 - float32(parts.Pix[j])/raster.Whole
			}
			beside := free[i] * free[i] * max(0, 1-4*under[i])
			for c := range 3 {
				near[c][i] = beside * dst.Pix[3*j+c]
				soft[c][i] = beside * dst.Pix[3*j+c]
			}
			near[3][i], soft[3][i] = beside, beside
		}
	}
	raster.Parallel(4, func(c int) {
		raster.BoxSum(near[c], w, h, reach)
		raster.BoxSum(near[c], w, h, reach)
		raster.Gauss(soft[c], w, h, fine/step)
	})
	// The grain is taken from beside the stroke too, so that nothing of what lay under it stays.
	was := append([]float32(nil), dst.Pix[3*r.Y0*dst.W:3*r.Y1*dst.W]...)
	lift := func(x, y int) (at int, ok bool) {
		for n := 1; n <= 3; n++ {
			far := s.Radius / step * (0.9 + 0.6*float64(n))
			for k := range 8 {
				sin, cos := math.Sincos(float64(k)*math.Pi/4 + math.Pi/8)
				xx, yy := x+int(math.Round(far*cos)), y+int(math.Round(far*sin))
				if xx < r.X0 || yy < r.Y0 || xx >= r.X1 || yy >= r.Y1 {
					continue
				}
				if i := (yy-r.Y0)*w + xx - r.X0; under[i] == 0 && free[i] == 1 && soft[3][i] > 0.5 {
					return i, true
				}
			}
		}
		return 0, false
	}
	for y := box.Y0; y < box.Y1; y++ {
		for x := box.X0; x < box.X1; x++ {
			i, j := (y-r.Y0)*w+x-r.X0, y*dst.W+x
			k := under[i] * free[i] * float32(s.Strength)
			if k == 0 {
				continue
			}
			q, ok := lift(x, y)
			for c := range 3 {
				to := float32(0)
				switch {
				case sample != nil:
					to = float32(sample[c])
				case near[3][i] > 1e-3:
					to = near[c][i] / near[3][i]
				default:
					continue // nothing beside it to take
				}
				if ok {
					to += was[3*((q/w)*dst.W+q%w+r.X0)+c] - soft[c][q]/soft[3][q]
				}
				dst.Pix[3*j+c] = max(0, dst.Pix[3*j+c]+k*(to-dst.Pix[3*j+c]))
			}
		}
	}
}

// box is the rectangle of a plane that the stroke can touch.
func (s Stroke) box(place raster.Place) raster.Rect {
	r := raster.Rect{X0: math.MaxInt32, Y0: math.MaxInt32, X1: math.MinInt32, Y1: math.MinInt32}
	step := place.Scale()
	for _, p := range s.Points {
		x, y, k := (p[0]-place.X)/step, (p[1]-place.Y)/step, s.Radius/step+1
		r.X0, r.Y0 = min(r.X0, int(math.Floor(x-k))), min(r.Y0, int(math.Floor(y-k)))
		r.X1, r.Y1 = max(r.X1, int(math.Ceil(x+k))), max(r.Y1, int(math.Ceil(y+k)))
	}
	return r
}

// cover gives how much of each pixel of a rectangle the soft tip covered.
func (s Stroke) cover(r raster.Rect, place raster.Place) []float32 {
	out := make([]float32, r.W()*r.H())
	step := place.Scale()
	points := make([][2]float64, len(s.Points))
	for i, p := range s.Points {
		points[i] = [2]float64{(p[0] - place.X) / step, (p[1] - place.Y) / step}
	}
	raster.Along(points, func(int) float64 { return s.Radius/step + 1 }, r, nil, func(_, x, y int, d float64) {
		// Hard to seven tenths of the radius, then falling off; never harder than a pixel.
		v := float32(max(0, min(1, (s.Radius-d*step)/max(0.3*s.Radius, step)+0.5*step/max(s.Radius, step))))
		i := (y-r.Y0)*r.W() + x - r.X0
		out[i] = max(out[i], v)
	})
	return out
}
