package isolate

import (
	"math"

	"episema/core/raster"
)

const (
	snapSide  = 1000 // long side of the level at which a path is first laid to the edge
	snapReach = 7    // how far it may move there, in pixels of that level
	snapFine  = 3    // and at each finer level
)

// snap lays a closed path to the edge near it: the shortest path over the gradient, in a strip along the
// drawn path (dynamic programming as in Amini, Weymouth and Jain, Using dynamic programming for solving
// variational problems in vision, 1990). First coarsely, then at full size, to a fraction of a pixel.
func (c *compiler) snap(path [][2]float64) ([][2]float64, error) {
	level := c.levelBelow(snapSide)
	reach := float64(snapReach)
	last := 0
	if c.effort == Quick {
		last = level
	}
	for ; level >= last; level-- {
		k := 1 / float64(int(1)<<level)
		scaled := make([][2]float64, len(path))
		for i, p := range path {
			scaled[i] = [2]float64{p[0] * k, p[1] * k}
		}
		strip := newStrip(resample(scaled, 1.2), reach)
		if len(strip.at) < 8 {
			return path, nil
		}
		moved, err := c.lay(strip, level)
		if err != nil {
			return nil, err
		}
		path = path[:0:0]
		for _, p := range moved {
			path = append(path, [2]float64{p[0] / k, p[1] / k})
		}
		reach = snapFine
	}
	return path, nil
}

// resample walks a closed path in even steps.
func resample(path [][2]float64, step float64) [][2]float64 {
	var out [][2]float64
	left := 0.0
	for i, a := range path {
		b := path[(i+1)%len(path)]
		l := math.Hypot(b[0]-a[0], b[1]-a[1])
		t := left
		for ; t < l; t += step {
			out = append(out, [2]float64{a[0] + (b[0]-a[0])*t/l, a[1] + (b[1]-a[1])*t/l})
		}
		left = t - l
	}
	return out
}

// strip is a path with its normals: what may move, and where to.
type strip struct {
	at, normal [][2]float64
	reach      float64
}

func newStrip(path [][2]float64, reach float64) *strip {
	n := len(path)
	s := &strip{at: path, normal: make([][2]float64, n), reach: reach}
	// At corners the normals turn over a stretch, so that the strips of both sides do not cross.
	wide := max(2, int(reach/2))
	for i := range path {
		var tx, ty float64
		for d := 1; d <= wide; d++ {
			a, b := path[((i-d)%n+n)%n], path[(i+d)%n]
			tx += b[0] - a[0]
			ty += b[1] - a[1]
		}
		if l := math.Hypot(tx, ty); l > 0 {
			s.normal[i] = [2]float64{-ty / l, tx / l}
		}
	}
	return s
}

const snapStep = 0.5 // pixels between the places a point may move to

// lay moves each point along its normal to where the edge is, neighbours by nearly the same.
func (c *compiler) lay(s *strip, level int) ([][2]float64, error) {
	w, h := c.p.Size(level)
	box := raster.Stroke{Points: s.at, Radius: s.reach + 6}.Box(raster.Place{Step: 1}, 3).And(raster.Rect{X1: w, Y1: h})
	if box.Empty() {
		return s.at, nil
	}
	pic, err := c.p.Linear(level, box)
	if err != nil {
		return nil, err
	}
	l := &laying{strip: s, half: int(s.reach / snapStep)}
	l.wide = 2*l.half + 1
	l.look(pic, box, doneOf(c.p))
	offset := l.settle(l.costs())
	n := len(s.at)
	out := make([][2]float64, n)
	for i := range out {
		// A light smoothing along the path takes the grain out.
		o := 0.5*offset[i] + 0.25*(offset[(i+1)%n]+offset[(i+n-1)%n])
		out[i] = [2]float64{s.at[i][0] + s.normal[i][0]*o, s.at[i][1] + s.normal[i][1]*o}
	}
	return out, nil
}

// laying looks for the edge along the normals of a strip: wide places each, half of them on either side.
type laying struct {
	*strip
	half, wide int
	strength   []float32 // of the edge at each place of each point
}

// look works out how strong the edge is at each place: how far the mean colours on both sides of it differ.
func (l *laying) look(pic *raster.RGB, box raster.Rect, done raster.Done) {
	lab := make([]float32, len(pic.Pix))
	done.Parallel(pic.H, func(y int) {
		for i := y * pic.W; i < (y+1)*pic.W; i++ {
			lab[3*i], lab[3*i+1], lab[3*i+2] = oklab.Oklab(pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2])
		}
	})
	sample := func(x, y float64) (v [3]float32) {
		x, y = x-float64(box.X0)-0.5, y-float64(box.Y0)-0.5
		x, y = math.Max(0, math.Min(float64(pic.W-1), x)), math.Max(0, math.Min(float64(pic.H-1), y))
		x0, y0 := min(int(x), max(0, pic.W-2)), min(int(y), max(0, pic.H-2))
		x1, y1 := min(x0+1, pic.W-1), min(y0+1, pic.H-1)
		fx, fy := float32(x-float64(x0)), float32(y-float64(y0))
		for k := range 3 {
			a := lab[3*(y0*pic.W+x0)+k]*(1-fx) + lab[3*(y0*pic.W+x1)+k]*fx
			b := lab[3*(y1*pic.W+x0)+k]*(1-fx) + lab[3*(y1*pic.W+x1)+k]*fx
			v[k] = a*(1-fy) + b*fy
		}
		return v
	}
	const around = 6 // places on each side that make up its mean
	l.strength = make([]float32, len(l.at)*l.wide)
	done.Parallel(len(l.at), func(i int) {
		line := make([][3]float32, l.wide+2*around)
		for j := range line {
			o := float64(j-around-l.half) * snapStep
			line[j] = sample(l.at[i][0]+l.normal[i][0]*o, l.at[i][1]+l.normal[i][1]*o)
		}
		for j := range l.wide {
			var d2 float32
			for k := range 3 {
				var in, out, weight float32
				for q := 1; q <= around; q++ {
					f := 1 / float32(q+1)
					in += f * line[j+around-q][k]
					out += f * line[j+around+q][k]
					weight += f
				}
				d := (in - out) / weight
				if k > 0 {
					d *= 1.6 // tint parts things where lightness may be a shadow
				}
				d2 += d * d
			}
			l.strength[i*l.wide+j] = float32(math.Sqrt(float64(d2)))
		}
	})
}

// costs tells what it costs to go through each place. They are relative to the strongest edge around, so that a faint stretch follows
// its own.
func (l *laying) costs() []float32 {
	n := len(l.at)
	cost := make([]float32, n*l.wide)
	top := make([]float32, n)
	for i := range n {
		for _, v := range l.strength[i*l.wide : (i+1)*l.wide] {
			top[i] = max(top[i], v)
		}
	}
	for i := range n {
		t := float32(0.01)
		for d := -12; d <= 12; d++ {
			t = max(t, top[((i+d)%n+n)%n])
		}
		for j := range l.wide {
			away := float32(j-l.half) / float32(l.half)
			cost[i*l.wide+j] = 1 - l.strength[i*l.wide+j]/t + 0.3*away*away
		}
	}
	return cost
}

// settle finds the cheapest way along all points, and returns how far each moves along its normal. It goes twice around the closed
// path; the second round starts and ends where the first has settled.
func (l *laying) settle(cost []float32) []float64 {
	const turn = 0.25
	n, wide := len(l.at), l.wide
	total := make([]float32, wide)
	next := make([]float32, wide)
	from := make([]int16, 2*n*wide)
	for step := range 2 * n {
		i := step % n
		for j := range wide {
			best, b := total[j], j
			for _, o := range [2]int{j - 1, j + 1} {
				if o >= 0 && o < wide && total[o]+turn < best {
					best, b = total[o]+turn, o
				}
			}
			next[j] = best + cost[i*wide+j]
			from[step*wide+j] = int16(b)
		}
		total, next = next, total
	}
	end := 0
	for j := range total {
		if total[j] < total[end] {
			end = j
		}
	}
	offset := make([]float64, n)
	for step := 2*n - 1; step >= n/2; step-- {
		if step < n/2+n {
			offset[step%n] = l.summit(step%n, end)
		}
		end = int(from[step*wide+end])
	}
	return offset
}

// summit returns how far from its point the edge near a place lies: the summit of a parabola through three places.
func (l *laying) summit(i, j int) float64 {
	o := float64(j-l.half) * snapStep
	if j == 0 || j == l.wide-1 {
		return o
	}
	a, b, c := float64(l.strength[i*l.wide+j-1]), float64(l.strength[i*l.wide+j]), float64(l.strength[i*l.wide+j+1])
	if d := a - 2*b + c; d < 0 {
		o += snapStep * math.Max(-1, math.Min(1, (a-c)/(2*d)))
	}
	return o
}
