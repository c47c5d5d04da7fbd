package mend

import (
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// membrane is what is added to a cover, in coded values, so that it runs into what is around it: at the rim the difference of the
// two, inside the harmonic function with these values. Adding it to the cover is what solves the Poisson equation with the
// cover's gradients (Perez, Gangnet and Blake, 2003, equation 4).
type membrane struct {
	place raster.Place
	w, h  int
	by    [3][]float32
}

// mostCells is how many cells a side a membrane has at most: it is smooth, and in between it is linear.
const mostCells = 384

// FitStep returns how wide, in full-size pixels, the pixels shall be that Fit is given.
func (c *Cover) FitStep() float64 {
	step := 1.0
	for long := max(c.box[2]-c.box[0], c.box[3]-c.box[1]) + 4; long/step > mostCells; {
		step *= 2
	}
	return step
}

// FitArea returns the rectangle of a level (of pixels FitStep wide) that Fit needs to see of the picture.
func (c *Cover) FitArea() raster.Rect {
	s := c.FitStep()
	return raster.Rect{X0: int(math.Floor(c.box[0]/s)) - 2, Y0: int(math.Floor(c.box[1]/s)) - 2, X1: int(math.Ceil(c.box[2]/s)) + 2, Y1: int(math.Ceil(c.box[3]/s)) + 2}
}

// Fit finds what makes the cover seamless. around has the picture before the patch, over FitArea or what of it lies in the picture;
// from has what covers it, at a place of its own.
func (c *Cover) Fit(around *raster.RGB, place raster.Place, from *raster.RGB, at raster.Place, done raster.Done) {
	w, h := around.W, around.H
	m := &membrane{place: place, w: w, h: h}
	inside := make([]bool, w*h)
	for i, v := range raster.FillPath(c.path, place, w, h) {
		inside[i] = v >= 0.5
	}
	for k := range m.by {
		m.by[k] = make([]float32, w*h)
	}
	cover := c.move.Take(place, raster.Rect{X1: w, Y1: h}, from.Pix, 3, from.W, from.H, at, done)
	raster.Parallel(h, func(y int) {
		done.Check()
		for x := range w {
			i := y*w + x
			if inside[i] {
				continue
			}
			for k := range m.by {
				m.by[k][i] = coded(around.Pix[3*i+k]) - coded(cover[3*i+k])
			}
		}
	})
	raster.Parallel(3, func(k int) { harmonic(m.by[k], inside, w, h, done) })
	c.veil = m
}

func coded(v float32) float32 { return colour.Coded32(max(0, min(1, v))) }

// over adds the membrane to a linear colour at a place of the full size.
func (m *membrane) over(c [3]float32, x, y float64) [3]float32 {
	s := m.place.Scale()
	u, v := (x-m.place.X)/s-0.5, (y-m.place.Y)/s-0.5
	for k := range c {
		c[k] = colour.Light32(max(0, min(1, coded(c[k])+raster.Sample(m.by[k], m.w, m.h, u, v))))
	}
	return c
}

// harmonic fills what is inside so that each value is the mean of its four neighbours; what lies past the plane's edge is left out of
// the mean. It goes from coarse to fine, each step begun with what the coarser one found and smoothed by successive over-relaxation.
func harmonic(p []float32, inside []bool, w, h int, done raster.Done) {
	if min(w, h) > 4 {
		cw, ch := (w+1)/2, (h+1)/2
		cp, ci, n := make([]float32, cw*ch), make([]bool, cw*ch), make([]float32, cw*ch)
		for y := range h {
			for x := range w {
				if !inside[y*w+x] {
					cp[y/2*cw+x/2] += p[y*w+x]
					n[y/2*cw+x/2]++
				}
			}
		}
		for i := range cp {
			if n[i] > 0 {
				cp[i] /= n[i]
			} else {
				ci[i] = true
			}
		}
		harmonic(cp, ci, cw, ch, done)
		for y := range h {
			for x := range w {
				if inside[y*w+x] {
					p[y*w+x] = raster.Sample(cp, cw, ch, float64(x)/2-0.25, float64(y)/2-0.25)
				}
			}
		}
	}
	done.Check()
	long := float64(max(w, h))
	pull := float32(2 / (1 + math.Sin(math.Pi/(0.5*long+2)))) // of successive over-relaxation, for a thing half as wide as the plane
	for range 60 {
		for odd := range 2 {
			for y := range h {
				for x := (y + odd) % 2; x < w; x += 2 {
					i := y*w + x
					if !inside[i] {
						continue
					}
					sum, n := float32(0), float32(0)
					if x > 0 {
						sum, n = sum+p[i-1], n+1
					}
					if x < w-1 {
						sum, n = sum+p[i+1], n+1
					}
					if y > 0 {
						sum, n = sum+p[i-w], n+1
					}
					if y < h-1 {
						sum, n = sum+p[i+w], n+1
					}
					if n > 0 {
						p[i] += pull * (sum/n - p[i])
					}
				}
			}
		}
	}
}
