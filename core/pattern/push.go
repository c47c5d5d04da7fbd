package pattern

import (
	"errors"
	"fmt"
	"math"

	"episema/core/raster"
)

// Push moves a pattern by hand: under a round tip that is dragged along, what lies on the thing goes with it, most in the middle of the
// tip and not at all at its rim. Lengths are pixels of the full size.
type Push raster.Stroke

const (
	mostPushes  = 400
	mostDabs    = 6000 // that all pushes together are taken apart into
	dabsARadius = 4    // a tip goes on by a quarter of its radius at once: by more the pattern could fold over itself
)

func validatePushes(list []Push) error {
	if len(list) > mostPushes {
		return fmt.Errorf("a pattern is pushed %d times at most; take some back", mostPushes)
	}
	dabs := 0.0
	for _, p := range list {
		if !(p.Radius >= 2 && p.Radius <= 5000) {
			return errors.New("what pushes a pattern has a radius of 2 to 5000 pixels")
		}
		for i, q := range p.Points {
			if !(math.Abs(q[0]) <= 1e6 && math.Abs(q[1]) <= 1e6) {
				return errors.New("a point of a push is not made of numbers within a million")
			}
			if i > 0 {
				dabs += 1 + math.Hypot(q[0]-p.Points[i-1][0], q[1]-p.Points[i-1][1])*dabsARadius/p.Radius
			}
		}
	}
	if dabs > mostDabs {
		return errors.New("the pattern is pushed too far for tips so small; push with a larger one, or take some back")
	}
	return nil
}

// Pushed is how far all pushes together move a pattern, everywhere.
type Pushed struct {
	x, y   float64 // of the first node
	cell   float64 // full-size pixels between two
	w, h   int
	dx, dy []float32
}

// Bytes returns what it takes in memory.
func (f *Pushed) Bytes() int {
	if f == nil {
		return 0
	}
	return 8 * f.w * f.h
}

// mostNodes is how many nodes the field has at most.
const mostNodes = 300_000

// NewPushed works out what valid pushes do one after the other; nil for none.
func NewPushed(list []Push, done raster.Done) *Pushed {
	x0, y0, x1, y1, least := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1), math.Inf(1)
	for _, p := range list {
		b := p.box()
		x0, y0, x1, y1 = min(x0, b[0]), min(y0, b[1]), max(x1, b[2]), max(y1, b[3])
		if len(p.Points) > 1 {
			least = min(least, p.Radius)
		}
	}
	if math.IsInf(least, 1) {
		return nil
	}
	f := &Pushed{x: x0, y: y0, cell: max(least/16, math.Sqrt((x1-x0)*(y1-y0)/mostNodes))}
	f.w, f.h = int((x1-x0)/f.cell)+2, int((y1-y0)/f.cell)+2
	f.dx, f.dy = make([]float32, f.w*f.h), make([]float32, f.w*f.h)
	reach := make([][4]float64, len(list)) // of each push: most places are in none
	for i, p := range list {
		reach[i] = p.box()
	}
	done.Parallel(f.h, func(row int) {
		done.Check()
		for col := range f.w {
			x, y := f.x+float64(col)*f.cell, f.y+float64(row)*f.cell
			px, py := x, y
			for i := len(list) - 1; i >= 0; i-- {
				if b := &reach[i]; px > b[0] && py > b[1] && px < b[2] && py < b[3] {
					px, py = list[i].back(px, py)
				}
			}
			f.dx[row*f.w+col], f.dy[row*f.w+col] = float32(px-x), float32(py-y)
		}
	})
	return f
}

// box is the rectangle outside of which the push moves nothing.
func (p *Push) box() [4]float64 {
	b := [4]float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	for _, q := range p.Points {
		b = [4]float64{min(b[0], q[0]-p.Radius), min(b[1], q[1]-p.Radius), max(b[2], q[0]+p.Radius), max(b[3], q[1]+p.Radius)}
	}
	return b
}

// back tells where what lies at a place was before the push.
func (p *Push) back(x, y float64) (float64, float64) {
	for i := len(p.Points) - 1; i > 0; i-- {
		a, b := p.Points[i-1], p.Points[i]
		if raster.ToSegment(x, y, a, b) >= p.Radius {
			continue
		}
		n := math.Ceil(math.Hypot(b[0]-a[0], b[1]-a[1]) * dabsARadius / p.Radius)
		if n == 0 {
			continue
		}
		sx, sy := (b[0]-a[0])/n, (b[1]-a[1])/n
		for k := n; k > 0; k-- {
			dx, dy := x-a[0]-k*sx, y-a[1]-k*sy
			if t := 1 - (dx*dx+dy*dy)/(p.Radius*p.Radius); t > 0 {
				x, y = x-t*t*sx, y-t*t*sy
			}
		}
	}
	return x, y
}

// At returns by how much a place of the full size lies elsewhere in the pattern as it was before.
func (f *Pushed) At(x, y float64) (dx, dy float64) {
	u, v := (x-f.x)/f.cell, (y-f.y)/f.cell
	if u <= 0 || v <= 0 || u >= float64(f.w-1) || v >= float64(f.h-1) {
		return 0, 0
	}
	return float64(raster.Sample(f.dx, f.w, f.h, u, v)), float64(raster.Sample(f.dy, f.w, f.h, u, v))
}
