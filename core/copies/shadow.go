package copies

import (
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// Field is a value for each place of a rectangle of one of the picture's small levels, and nothing around it.
type Field struct {
	Rect  raster.Rect // of the level
	Scale float64     // full-size pixels a pixel of it
	Pix   []float32
}

// At returns the value at a place of the full size.
func (f *Field) At(x, y float64) float32 {
	u, v := x/f.Scale-0.5-float64(f.Rect.X0), y/f.Scale-0.5-float64(f.Rect.Y0)
	if u < 0 || v < 0 || u > float64(f.Rect.W()-1) || v > float64(f.Rect.H()-1) {
		return 0
	}
	return raster.Sample(f.Pix, f.Rect.W(), f.Rect.H(), u, v)
}

// Area returns the pixels of a w x h plane at place in which there may be something.
func (f *Field) Area(place raster.Place, w, h int) raster.Rect {
	s := place.Scale()
	at := func(v int, from float64) int { return int(math.Floor((float64(v)*f.Scale - from) / s)) }
	return raster.Rect{X0: at(f.Rect.X0, place.X), Y0: at(f.Rect.Y0, place.Y), X1: at(f.Rect.X1, place.X) + 1, Y1: at(f.Rect.Y1, place.Y) + 1}.And(raster.Rect{X1: w, Y1: h})
}

// Bytes returns about what it takes in memory.
func (f *Field) Bytes() int { return 4 * len(f.Pix) }

const (
	bands = 6 // of height, each of which is as soft as its height asks for
	// lowest is how steep a shadow lies in the picture at least: one that falls to the side lies on the floor, which is seen from above.
	lowest = 0.12
	// hangs is how far above the foot of the thing, of its height, what is below a column of it counts as standing on the floor.
	hangs = 0.2
	// crisp is the spread of what is not soft at all, in pixels of the level.
	crisp = 0.7
)

// Cast finds where a thing throws a shadow: mask is where it stands, at a level whose pixels are scale full-size pixels wide.
// Every point of it is thrown away from the point on the floor below, by its height times the length. The result is the share of
// the light that is taken away at full strength.
func (s *Shadow) Cast(mask *raster.Mask, scale float64, done raster.Done) *Field {
	base, box := footOf(mask)
	height := float64(box.H() - 1)
	if height <= 0 {
		return &Field{Scale: scale}
	}
	sin, cos := math.Sincos(s.Direction * math.Pi / 180)
	if down := sin; math.Abs(down) < lowest {
		sin = math.Copysign(lowest, down)
	}
	softest := max(crisp, s.Softness/scale/2.5)
	reach := s.Length * height
	f := &Field{Scale: scale, Rect: raster.Rect{X0: box.X0 + int(math.Floor(min(0, cos*reach))), Y0: box.Y0 + int(math.Floor(min(0, sin*reach))), X1: box.X1 + int(math.Ceil(max(0, cos*reach))), Y1: box.Y1 + int(math.Ceil(max(0, sin*reach)))}.
		Grow(int(math.Ceil(3*softest)) + 2).And(raster.Rect{X0: -mask.W, Y0: -mask.H, X1: 2 * mask.W, Y1: 2 * mask.H})}
	w, h := f.Rect.W(), f.Rect.H()
	f.Pix = make([]float32, w*h)
	band := make([][]float32, bands)
	for i := range band {
		band[i] = make([]float32, w*h)
	}
	n := max(1, int(math.Ceil(s.Length))) // so that no gaps open between points that are thrown far apart
	for x := box.X0; x < box.X1; x++ {
		done.Check()
		if base[x] < 0 {
			continue
		}
		for y := box.Y0; y < box.Y1; y++ {
			v := float32(mask.Pix[y*mask.W+x]) / raster.Whole
			if v == 0 {
				continue
			}
			for k := range n {
				up := max(0, float64(base[x]-y)-float64(k)/float64(n))
				tx, ty := float64(x-f.Rect.X0)+cos*s.Length*up, float64(base[x]-f.Rect.Y0)+sin*s.Length*up
				high := up / height * (bands - 1)
				i := min(bands-2, int(high))
				part := float32(min(1, high-float64(i)))
				splat(band[i], w, h, tx, ty, v*(1-part))
				splat(band[i+1], w, h, tx, ty, v*part)
			}
		}
	}
	for i := range band {
		done.Check()
		for j, v := range band[i] {
			band[i][j] = min(1, v) // where several points fall there is no more than shadow
		}
		raster.Gauss(band[i], w, h, max(crisp, softest*float64(i)/(bands-1)))
		for j, v := range band[i] {
			f.Pix[j] = min(1, f.Pix[j]+v)
		}
	}
	return f
}

// footOf returns for each column where it stands on the floor (-1: there is nothing of the thing), and the thing's box. A column that
// ends high above the foot of the thing hangs over the floor; the floor below it is where the thing's foot is.
func footOf(mask *raster.Mask) (base []int, box raster.Rect) {
	w, h := mask.W, mask.H
	base, box = make([]int, w), raster.Rect{X0: w, Y0: h}
	for x := range base {
		base[x] = -1
	}
	for y := range h {
		for x, v := range mask.Pix[y*w : (y+1)*w] {
			if v >= raster.Whole/2 {
				base[x] = y
				box = raster.Rect{X0: min(box.X0, x), Y0: min(box.Y0, y), X1: max(box.X1, x+1), Y1: y + 1}
			}
		}
	}
	for x, b := range base {
		if b >= 0 && float64(box.Y1-1-b) > hangs*float64(box.H()) {
			base[x] = box.Y1 - 1
		}
	}
	return base, box
}

// splat adds a value to the four pixels around a place.
func splat(p []float32, w, h int, x, y float64, v float32) {
	x0, y0 := math.Floor(x), math.Floor(y)
	u, t := float32(x-x0), float32(y-y0)
	for _, q := range [4]struct {
		dx, dy int
		a      float32
	}{{0, 0, (1 - u) * (1 - t)}, {1, 0, u * (1 - t)}, {0, 1, (1 - u) * t}, {1, 1, u * t}} {
		if i, j := int(x0)+q.dx, int(y0)+q.dy; i >= 0 && j >= 0 && i < w && j < h {
			p[j*w+i] += v * q.a
		}
	}
}

// Left returns what a shadow leaves of the light, for a share of it, 0..1, that it takes away at full strength.
func (s *Shadow) Left(space *colour.Space) func(share float32) [3]float32 {
	var tint colour.RGB
	if s.Colour != "" {
		if c, err := colour.ParseCSS(s.Colour); err == nil { // Validate has read it
			tint = space.MapToGamut(space.Linear(c))
		}
	}
	return func(share float32) (left [3]float32) {
		a := share * float32(s.Strength/100)
		for k := range left {
			left[k] = 1 - a*(1-float32(tint[k]))
		}
		return left
	}
}
