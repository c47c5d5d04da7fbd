package isolate

import (
	"math"

	"episema/core/raster"
)

const (
	gapShare = 0.02 // half of how wide a gap is at most, against the thing's size
	gapMost  = 16   // and in pixels
)

// withoutGaps closes narrow gaps between pieces of a thing, open ones too, that look like it or like a glint on it: a rim's reflection
// parts it from the body, and what is left beside a thing's edge is too narrow to be cut out by itself. What strokes took away stays away.
func (c *compiler) withoutGaps(l *Labels, seedsAt func(w, h, level int) []uint8) (*Labels, error) {
	area, box := 0, raster.Rect{X0: l.W, Y0: l.H}
	for i, v := range l.In {
		if v == 1 {
			x, y := i%l.W, i/l.W
			area++
			box = raster.Rect{X0: min(box.X0, x), Y0: min(box.Y0, y), X1: max(box.X1, x+1), Y1: y + 1}
		}
	}
	half := int(math.Min(gapMost, math.Round(gapShare*math.Sqrt(float64(area)))))
	if half < 1 {
		return l, nil
	}
	done := doneOf(c.p)
	r := box.Grow(half + 1).And(raster.Rect{X1: l.W, Y1: l.H})
	w, h := r.W(), r.H()
	at := func(i int) int { return (i/w+r.Y0)*l.W + i%w + r.X0 }
	away := raster.SignedDistanceWithin(func(i int) bool { return l.In[at(i)] == 1 }, w, h, float64(half)+1)
	done.Check()
	deep := raster.SignedDistanceWithin(func(i int) bool { return away[i] > -float32(half) }, w, h, float64(half)+1)
	done.Check()
	seeds := seedsAt(l.W, l.H, l.Level)
	closed := make([]uint8, len(l.In)) // 1 but in gaps
	for i := range closed {
		closed[i] = 1
	}
	var all []int
	for i, d := range deep {
		if j := at(i); l.In[j] == 0 && d > float32(half)-0.5 {
			closed[j] = 0
			all = append(all, j)
		}
	}
	if len(all) == 0 {
		return l, nil
	}
	f, err := c.planes(l.Level)
	if err != nil {
		return nil, err
	}
	var gaps []*hole
	seen := make([]bool, len(closed))
	for _, i := range all {
		if !seen[i] {
			if q := f.gapAt(i, closed, l.In, seeds, seen); q != nil {
				gaps = append(gaps, q)
			}
		}
	}
	m := &models{done: done}
	m.relearn(f, l.In, gaps...)
	if m.in == nil || m.out == nil {
		return l, nil
	}
	done.Check()
	pull := m.pulls(f)
	o := &Labels{l.Level, l.W, l.H, append([]uint8(nil), l.In...)}
	for _, q := range gaps {
		n, sum := float64(len(q.pixels)), 0.0
		for _, i := range q.pixels {
			sum += float64(pull[f.bin[i]])
		}
		glint := q.bright() && sum/n > glintPull*maxPull
		if glint || sum/n > 0 {
			q.fill(o.In)
		}
	}
	return o, nil
}

// gapAt gathers a gap around a pixel, and marks it as seen; nil where a stroke took some of it away or nothing of the thing is beside it.
func (f *planes) gapAt(start int, closed, labels, seeds []uint8, seen []bool) *hole {
	q := &hole{pixels: []int{start}}
	seen[start] = true
	for k := 0; k < len(q.pixels); k++ {
		i := q.pixels[k]
		q.open = q.open || seeds[i] == seedOut
		q.light += float64(f.lab[3*i])
		x, y := i%f.w, i/f.w
		for d := 0; d < 8; d += 2 {
			xx, yy := x+dirX[d], y+dirY[d]
			if xx < 0 || yy < 0 || xx >= f.w || yy >= f.h {
				continue
			}
			j := yy*f.w + xx
			switch {
			case labels[j] == 1:
				q.rimLight += float64(f.lab[3*j])
				q.rim++
			case closed[j] == 0 && !seen[j]:
				seen[j] = true
				q.pixels = append(q.pixels, j)
			}
		}
	}
	if q.open || q.rim == 0 {
		return nil
	}
	return q
}
