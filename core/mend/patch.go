package mend

import (
	"errors"
	"fmt"
	"math"

	"episema/core/isolate"
	"episema/core/raster"
)

// Patch covers what must go by what is elsewhere in the picture.
type Patch struct {
	Nodes []isolate.Node `json:"nodes"` // the outline of what is covered, in pixels of the full size
	// Shift leads from the middle of what is covered to the middle of what covers it.
	Shift [2]float64 `json:"shift"`
	Turn  float64    `json:"turn,omitempty"`  // degrees, clockwise: how the cover is turned
	Scale float64    `json:"scale,omitempty"` // how much larger the cover is than where it comes from, 0.1..10; 0 is 1
	Flip  bool       `json:"flip,omitempty"`  // left and right of the cover are swapped
	// Feather is how wide the edge is, in pixels of the full size, 0..200.
	Feather float64 `json:"feather"`
	// Seamless lets the cover's light and colour run into what is around it: its gradients stay (Perez, Gangnet and Blake, Poisson
	// Image Editing, 2003).
	Seamless bool `json:"seamless,omitempty"`
	// Fill says that it is filled by example instead, in one of Fillings ways; shift, turn, scale, flip and seamless are of no account then.
	Fill int `json:"fill,omitempty"`
}

// MaxPatchNodes bounds the outline of a patch.
const MaxPatchNodes = 5000

// Validate says what is wrong with a patch.
func (p *Patch) Validate() error {
	near := func(q [2]float64) bool { return math.Abs(q[0]) <= 1e6 && math.Abs(q[1]) <= 1e6 } // false for what is no number
	switch {
	case len(p.Nodes) < 3:
		return errors.New("a patch has an outline of at least three nodes")
	case len(p.Nodes) > MaxPatchNodes:
		return fmt.Errorf("the outline of a patch has at most %d nodes", MaxPatchNodes)
	case !near(p.Shift):
		return errors.New("the shift of a patch is not made of numbers within a million")
	case !(p.Turn >= -360 && p.Turn <= 360):
		return errors.New("a patch is turned by -360 to 360 degrees")
	case p.Scale != 0 && !(p.Scale >= 0.1 && p.Scale <= 10):
		return errors.New("a patch is scaled by 0.1 to 10")
	case p.Fill < 0 || p.Fill > Fillings:
		return fmt.Errorf("a patch is filled in one of %d ways", Fillings)
	case !(p.Feather >= 0 && p.Feather <= 200):
		return errors.New("the feather of a patch runs from 0 to 200 pixels")
	}
	for _, n := range p.Nodes {
		for _, q := range []*[2]float64{&n.P, n.In, n.Out} {
			if q != nil && !near(*q) {
				return errors.New("a node of a patch is not made of numbers within a million")
			}
		}
	}
	return nil
}

// Cover is a patch made ready.
type Cover struct {
	Patch
	path [][2]float64
	box  [4]float64 // of the path
	move raster.Move
	veil *membrane // nil: the cover as it is
	fill *Filling  // nil: it is covered from one place
}

// Filled returns the same patch filled by example.
func (c *Cover) Filled(f *Filling) *Cover {
	q := *c
	q.fill = f
	return &q
}

// Needs returns the rectangle of the full-size picture, x0, y0, x1, y1, from which an area of a plane at place is covered.
func (c *Cover) Needs(place raster.Place, area raster.Rect) [4]float64 {
	if c.fill != nil {
		return c.fill.needs(place, area)
	}
	return c.move.Needs(place, area)
}

// NewCover makes a patch ready. One that is to be seamless needs Fit before it is laid.
func NewCover(p Patch) *Cover {
	c := &Cover{Patch: p, path: isolate.Flatten(p.Nodes)}
	c.box = [4]float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	for _, q := range c.path {
		c.box = [4]float64{min(c.box[0], q[0]), min(c.box[1], q[1]), max(c.box[2], q[0]), max(c.box[3], q[1])}
	}
	if p.Fill > 0 { // it has no one place to come from
		p = Patch{}
	}
	mid := [2]float64{(c.box[0] + c.box[2]) / 2, (c.box[1] + c.box[3]) / 2}
	c.move = raster.NewMove([2]float64{mid[0] + p.Shift[0], mid[1] + p.Shift[1]}, mid, p.Turn, p.Scale, p.Flip)
	return c
}

// Bytes returns about what it takes in memory.
func (c *Cover) Bytes() int {
	n := 16 * len(c.path)
	n += c.fill.Bytes()
	if c.veil != nil {
		n += 12 * c.veil.w * c.veil.h
	}
	return n
}

// Move is how what covers comes to what is covered.
func (c *Cover) Move() raster.Move { return c.move }

// soft is the spread of the Gaussian that makes the edge as wide as the feather, in pixels of the full size.
func (c *Cover) soft() float64 { return c.Feather / 2.5 }

// Area returns the pixels of a w x h plane at place that the patch may change.
func (c *Cover) Area(place raster.Place, w, h int) raster.Rect {
	s, grow := place.Scale(), 3*c.soft()+place.Scale()
	at := func(v, from float64) int { return int(max(-1e6, min(1e6, math.Floor((v-from)/s)))) }
	return raster.Rect{X0: at(c.box[0]-grow, place.X), Y0: at(c.box[1]-grow, place.Y), X1: at(c.box[2]+grow, place.X) + 1, Y1: at(c.box[3]+grow, place.Y) + 1}.And(raster.Rect{X1: w, Y1: h})
}

// share returns how much of each pixel of an area is covered, 0..1.
func (c *Cover) share(place raster.Place, area raster.Rect) []float32 {
	s := place.Scale()
	sigma := c.soft() / s
	m := int(math.Ceil(3 * sigma))
	if sigma < 0.3 {
		sigma, m = 0, 0
	}
	r := area.Grow(m)
	at := raster.Place{X: place.X + float64(r.X0)*s, Y: place.Y + float64(r.Y0)*s, Step: s}
	f := raster.FillPath(c.path, at, r.W(), r.H())
	if m == 0 {
		return f
	}
	raster.Gauss(f, r.W(), r.H(), sigma)
	return raster.Crop(f, 1, r, area)
}

// Lay covers what lies in an area of dst, which lies in the picture at place. from has the pixels that cover it, at a place of its
// own: what Needs asks for, at a step that is no coarser.
func (c *Cover) Lay(dst *raster.RGB, place raster.Place, area raster.Rect, from *raster.RGB, at raster.Place, done raster.Done) {
	share := c.share(place, area)
	var px []float32
	if c.fill != nil {
		px = c.fill.take(place, area, from, at, done)
	} else {
		px = c.move.Take(place, area, from.Pix, 3, from.W, from.H, at, done)
	}
	raster.Parallel(area.H(), func(row int) {
		done.Check()
		for x := area.X0; x < area.X1; x++ {
			i := row*area.W() + x - area.X0
			a := share[i]
			if a <= 0 {
				continue
			}
			cover := [3]float32(px[3*i : 3*i+3])
			if c.veil != nil {
				fx, fy := place.Full(x, area.Y0+row)
				cover = c.veil.over(cover, fx, fy)
			}
			to := dst.Pix[3*((area.Y0+row)*dst.W+x):]
			for k, v := range cover {
				to[k] += a * (v - to[k])
			}
		}
	})
}
