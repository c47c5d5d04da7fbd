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
	// crisp is the spread of what is not soft at all, in pixels of the level.
	crisp = 0.7
)

// Cast finds where a thing throws a shadow: mask is where it stands, at a level whose pixels are scale full-size pixels wide.
// The thing is taken for a pile of slices that are as deep for their width as its foot (see solid): every slice is thrown on the floor
// from above the foot, by its height times the length. The result is the share of the light that is taken away at full strength.
func (s *Shadow) Cast(mask *raster.Mask, scale float64, done raster.Done) *Field {
	t := solidOf(mask)
	if t.height() <= 0 {
		return &Field{Scale: scale}
	}
	sin, cos := math.Sincos(s.Direction * math.Pi / 180)
	if down := sin; math.Abs(down) < lowest {
		sin = math.Copysign(lowest, down)
	}
	sin -= t.slant * cos // all is drawn where the floor lies level
	softest := max(crisp, s.Softness/scale/2.5)
	f := &Field{Scale: scale, Rect: t.thrown(cos*s.Length, sin*s.Length).Grow(int(math.Ceil(3*softest)) + 2).And(raster.Rect{X0: -mask.W, Y0: -mask.H, X1: 2 * mask.W, Y1: 2 * mask.H})}
	w, h := f.Rect.W(), f.Rect.H()
	f.Pix = make([]float32, w*h)
	var band [bands][]float32
	for i := range band {
		band[i] = make([]float32, w*h)
	}
	n := max(1, int(math.Ceil(s.Length))) // so that no gaps open between slices that are thrown far apart
	for y := t.top; y <= t.foot; y++ {
		done.Check()
		for _, slice := range t.slicesOf(y) {
			slice.x, slice.y = slice.x-float64(f.Rect.X0), slice.y-float64(f.Rect.Y0)
			for k := range n {
				up := max(0, float64(t.foot-y)-float64(k)/float64(n))
				high := up / t.height() * (bands - 1)
				i := min(bands-2, int(high))
				part := float32(min(1, high-float64(i)))
				thrown := slice
				thrown.x, thrown.y = slice.x+cos*s.Length*up, slice.y+sin*s.Length*up
				thrown.draw(band[i], w, h, 1-part)
				thrown.draw(band[i+1], w, h, part)
			}
		}
	}
	for i := range band {
		done.Check()
		summedRows(band[i], w)
		raster.Gauss(band[i], w, h, max(crisp, softest*float64(i)/(bands-1)))
		for j, v := range band[i] {
			f.Pix[j] = min(1, f.Pix[j]+v)
		}
	}
	if t.slant != 0 {
		f.Pix = sheared(f.Pix, w, h, t.slant, t.middle-float64(f.Rect.X0))
	}
	return f
}

// ellipse is a slice of a thing where its shadow falls: its middle and half axes, in pixels.
type ellipse struct{ x, y, across, down float64 }

// draw adds an ellipse to the differences from pixel to pixel in the rows of a w x h plane.
func (e ellipse) draw(p []float32, w, h int, v float32) {
	if v == 0 {
		return
	}
	n := int(math.Ceil(e.down))
	for k := -n; k <= n; k++ {
		across, y := e.across, e.y
		if n > 0 {
			q := float64(k) / float64(n)
			across, y = e.across*math.Sqrt(1-q*q), e.y+q*e.down
		}
		row := math.Floor(y - 0.5)
		low := float32(y - 0.5 - row)
		for i, a := range [2]float32{v * (1 - low), v * low} {
			if j := int(row) + i; j >= 0 && j < h {
				edge(p[j*w:(j+1)*w], e.x-across, a)
				edge(p[j*w:(j+1)*w], e.x+across, -a)
			}
		}
	}
}

// edge lets a row of differences rise by v from a place on.
func edge(row []float32, x float64, v float32) {
	x = max(0, min(float64(len(row)-1), x))
	i := int(x)
	part := float32(x - float64(i))
	row[i] += v * (1 - part)
	if i+1 < len(row) {
		row[i+1] += v * part
	}
}

// summedRows makes of the differences in rows of w values the values, none above 1: where several slices fall there is no more than
// shadow.
func summedRows(p []float32, w int) {
	for y := 0; y < len(p); y += w {
		sum := float32(0)
		for x := y; x < y+w; x++ {
			sum += p[x]
			p[x] = max(0, min(1, sum))
		}
	}
}

// sheared returns a w x h plane whose columns are moved down by slant for each pixel that they lie to the right of middle.
func sheared(p []float32, w, h int, slant, middle float64) []float32 {
	out := make([]float32, len(p))
	for x := range w {
		by := slant * (float64(x) + 0.5 - middle)
		for y := range h {
			from := float64(y) - by
			i := int(math.Floor(from))
			k := float32(from - float64(i))
			if i >= 0 && i+1 < h {
				out[y*w+x] = (1-k)*p[i*w+x] + k*p[(i+1)*w+x]
			}
		}
	}
	return out
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
