package raster

import "math"

// Move is a similarity of the plane: what lies around one point is turned, scaled and maybe flipped, and set around another.
type Move struct {
	about, to [2]float64
	back      [4]float64
	scale     float64
}

// NewMove returns the move that takes what lies around about to around to, turned by degrees clockwise and scaled (0 is 1). Flipped
// means that left and right are swapped before it is turned. All of it is in pixels of the full size.
func NewMove(about, to [2]float64, turn, scale float64, flip bool) Move {
	if scale == 0 {
		scale = 1
	}
	sin, cos := math.Sincos(-turn * math.Pi / 180)
	m := Move{about, to, [4]float64{cos / scale, -sin / scale, sin / scale, cos / scale}, scale}
	if flip {
		m.back[0], m.back[1] = -m.back[0], -m.back[1]
	}
	return m
}

// Still reports whether the move leaves everything where it is.
func (m Move) Still() bool { return m.about == m.to && m.back == [4]float64{1, 0, 0, 1} }

// Back returns where what is at a place now came from.
func (m Move) Back(x, y float64) (fx, fy float64) {
	dx, dy := x-m.to[0], y-m.to[1]
	return m.about[0] + m.back[0]*dx + m.back[1]*dy, m.about[1] + m.back[2]*dx + m.back[3]*dy
}

// Forth returns where what was at a place is now.
func (m Move) Forth(x, y float64) (tx, ty float64) {
	k := m.scale * m.scale // the inverse of a similarity is its transpose over the square of its scale
	dx, dy := x-m.about[0], y-m.about[1]
	return m.to[0] + k*(m.back[0]*dx+m.back[2]*dy), m.to[1] + k*(m.back[1]*dx+m.back[3]*dy)
}

// Needs returns the rectangle of the full-size picture, x0, y0, x1, y1, from which an area of a plane at place comes.
func (m Move) Needs(place Place, area Rect) [4]float64 {
	o := [4]float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	s := place.Scale()
	for _, q := range [4][2]int{{area.X0, area.Y0}, {area.X1, area.Y0}, {area.X0, area.Y1}, {area.X1, area.Y1}} {
		x, y := m.Back(place.X+float64(q[0])*s, place.Y+float64(q[1])*s)
		o = [4]float64{min(o[0], x), min(o[1], y), max(o[2], x), max(o[3], y)}
	}
	return o
}

// Level returns the coarsest of the levels that shows at least what can be seen in pixels that are step full-size pixels wide.
func (m Move) Level(step float64, levels int) int {
	return max(0, min(levels-1, int(math.Floor(math.Log2(max(1, step/m.scale))+1e-9))))
}

// From returns the rectangle of a level, w x h pixels, from which the move takes what comes to an area of a plane at place, and that
// rectangle's own place. It goes a pixel beyond the level's edges at most, so that what is past them can be known to be nothing.
func (m Move) From(place Place, area Rect, level, w, h int) (Rect, Place) {
	step := float64(int(1) << level)
	need := m.Needs(place, area)
	at := func(v, least, most float64) int { return int(max(least, min(most, v))) }
	q := Rect{X0: at(math.Floor(need[0]/step)-1, -1, float64(w)), Y0: at(math.Floor(need[1]/step)-1, -1, float64(h)),
		X1: at(math.Ceil(need[2]/step)+1, 0, float64(w+1)), Y1: at(math.Ceil(need[3]/step)+1, 0, float64(h+1))}
	return q, Place{X: float64(q.X0) * step, Y: float64(q.Y0) * step, Step: step}
}

// Take returns what comes to an area of a plane at place, ch values a pixel, from a w x h plane of such pixels at a place of its own.
// Past that plane's edge its last pixels stand for what is not there. Each pixel is the mean over what it covers.
func (m Move) Take(place Place, area Rect, src []float32, ch, w, h int, at Place, done Done) []float32 {
	out := make([]float32, ch*area.W()*area.H())
	s, t := place.Scale(), at.Scale()
	// A pixel covers several of a finer source.
	n := max(1, min(8, int(math.Ceil(s/m.scale/t-0.01))))
	done.Parallel(area.H(), func(row int) {
		to := out[ch*row*area.W():]
		for x := area.X0; x < area.X1; x++ {
			fx, fy := place.Full(x, area.Y0+row)
			for j := range n {
				for i := range n {
					sx, sy := m.Back(fx+s*((float64(i)+0.5)/float64(n)-0.5), fy+s*((float64(j)+0.5)/float64(n)-0.5))
					AddSample(to[:ch], src, ch, w, h, (sx-at.X)/t-0.5, (sy-at.Y)/t-0.5, 1/float32(n*n))
				}
			}
			to = to[ch:]
		}
	})
	return out
}

// AddSample adds weight times the linear interpolation of a w x h plane of ch values a pixel at x, y, in pixels from the middle of the first.
// Outside the plane the nearest value inside counts.
func AddSample(to, p []float32, ch, w, h int, x, y float64, weight float32) {
	x, y = max(0, min(float64(w-1), x)), max(0, min(float64(h-1), y))
	x0, y0 := int(x), int(y)
	u, v := float32(x-float64(x0)), float32(y-float64(y0))
	i, j := ch*(y0*w+x0), ch*(min(y0+1, h-1)*w+x0)
	r := 0
	if x0+1 < w {
		r = ch
	}
	a, b, c, d := weight*(1-u)*(1-v), weight*u*(1-v), weight*(1-u)*v, weight*u*v
	for k := range to {
		to[k] += a*p[i+k] + b*p[i+r+k] + c*p[j+k] + d*p[j+r+k]
	}
}
