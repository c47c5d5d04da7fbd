package isolate

import (
	"math"

	"episema/core/raster"
)

// FitPath gives few nodes whose curve runs within most pixels of each point of an open path, drawn by hand: cubic Bezier curves
// fitted by least squares and split where they are too far off (Schneider, An algorithm for automatically fitting digitized
// curves, Graphics Gems, 1990). Sharp turns become corners, and straight pieces have no handles. Fewer than two different
// points give one node or none.
func FitPath(points [][2]float64, most float64) []Node {
	pts := apart(points)
	if len(pts) < 2 {
		nodes := []Node{}
		for _, p := range pts {
			nodes = append(nodes, Node{P: p})
		}
		return nodes
	}
	f := &fitter{most2: most * most}
	nodes := []Node{{P: pts[0]}}
	from := 0
	for _, to := range append(corners(pts, most), len(pts)-1) {
		nodes = f.piece(nodes, pts[from:to+1])
		from = to
	}
	return nodes
}

// apart leaves out points on top of the one before.
func apart(points [][2]float64) [][2]float64 {
	var out [][2]float64
	for _, p := range points {
		if n := len(out); n == 0 || math.Hypot(p[0]-out[n-1][0], p[1]-out[n-1][1]) > 1e-6 {
			out = append(out, p)
		}
	}
	return out
}

const (
	cornerReach = 4.0 // times the error: how far on both sides of a point its directions are taken
	cornerTurn  = 60  // degrees from which a turn is a corner
)

// corners lists the points where a path turns sharply.
func corners(pts [][2]float64, most float64) []int {
	reach := cornerReach * most
	ends := func(i, by int) ([2]float64, bool) {
		for j := i + by; j >= 0 && j < len(pts); j += by {
			if d := sub2(pts[j], pts[i]); math.Hypot(d[0], d[1]) >= reach {
				return unit(d), true
			}
		}
		return [2]float64{}, false
	}
	turn := make([]float64, len(pts))
	for i := range pts {
		a, okA := ends(i, -1)
		b, okB := ends(i, 1)
		if okA && okB {
			turn[i] = 180 - math.Acos(max(-1, min(1, dot2(a, b))))*180/math.Pi
		}
	}
	var out []int
	for i, t := range turn {
		if t < cornerTurn {
			continue
		}
		sharpest := true
		for j := range turn {
			if d := sub2(pts[j], pts[i]); j != i && math.Hypot(d[0], d[1]) < reach && (turn[j] > t || turn[j] == t && j < i) && abs(j-i) < len(pts)/2 {
				sharpest = false
			}
		}
		if sharpest {
			out = append(out, i)
		}
	}
	return out
}

func abs(n int) int { return max(n, -n) }

type fitter struct{ most2 float64 }

// piece adds the nodes of a piece without corners to a path that ends at its first point.
func (f *fitter) piece(nodes []Node, pts [][2]float64) []Node {
	if straight(pts, f.most2) {
		return append(nodes, Node{P: pts[len(pts)-1]})
	}
	return f.cubic(nodes, pts, f.tangent(pts, 0, 1), f.tangent(pts, len(pts)-1, -1))
}

// straight says whether all points lie by the line between the ends.
func straight(pts [][2]float64, most2 float64) bool {
	a, b := pts[0], pts[len(pts)-1]
	for _, p := range pts {
		if d := raster.ToSegment(p[0], p[1], a, b); d*d > most2/4 {
			return false
		}
	}
	return true
}

// tangent is the direction of a path at one of its ends, looking by (1 or -1), over a way of a few errors so that a trembling
// hand does not decide it.
func (f *fitter) tangent(pts [][2]float64, i, by int) [2]float64 {
	var sum [2]float64
	for j := i + by; j >= 0 && j < len(pts); j += by {
		d := sub2(pts[j], pts[i])
		sum[0] += d[0]
		sum[1] += d[1]
		if dot2(d, d) > 4*f.most2 {
			break
		}
	}
	return unit(sum)
}

const fitRounds = 16 // of moving the points along the curve before it is split

func (f *fitter) cubic(nodes []Node, pts [][2]float64, t1, t2 [2]float64) []Node {
	n := len(pts)
	var curve [4][2]float64
	put := func() []Node {
		out, in := curve[1], curve[2]
		nodes[len(nodes)-1].Out = &out
		return append(nodes, Node{P: pts[n-1], In: &in})
	}
	if n == 2 {
		d := sub2(pts[1], pts[0])
		l := math.Hypot(d[0], d[1]) / 3
		curve = [4][2]float64{pts[0], add2(pts[0], t1, l), add2(pts[1], t2, l), pts[1]}
		return put()
	}
	u := chord(pts)
	worst, at := 0.0, 0
	for range fitRounds {
		curve = leastSquares(pts, u, t1, t2)
		worst, at = farthest(pts, u, curve)
		if worst <= f.most2 {
			return put()
		}
		for i := range u {
			u[i] = nearer(curve, pts[i], u[i])
		}
	}
	mid := centre(pts, at)
	back := [2]float64{-mid[0], -mid[1]}
	nodes = f.cubic(nodes, pts[:at+1], t1, mid)
	return f.cubic(nodes, pts[at:], back, t2)
}

// centre is the direction back along a path at a point inside it.
func centre(pts [][2]float64, at int) [2]float64 {
	a, b := pts[max(0, at-2)], pts[min(len(pts)-1, at+2)]
	if d := unit(sub2(a, b)); d != [2]float64{} {
		return d
	}
	return unit(sub2(pts[at-1], pts[at]))
}

// chord gives each point its share of the way.
func chord(pts [][2]float64) []float64 {
	u := make([]float64, len(pts))
	for i := 1; i < len(pts); i++ {
		d := sub2(pts[i], pts[i-1])
		u[i] = u[i-1] + math.Hypot(d[0], d[1])
	}
	for i := range u {
		u[i] /= u[len(u)-1]
	}
	return u
}

// leastSquares gives the curve with given ends and directions that is nearest to the points at u.
func leastSquares(pts [][2]float64, u []float64, t1, t2 [2]float64) [4][2]float64 {
	first, last := pts[0], pts[len(pts)-1]
	var c [2][2]float64
	var x [2]float64
	for i, p := range pts {
		t := u[i]
		s := 1 - t
		b0, b1, b2, b3 := s*s*s, 3*s*s*t, 3*s*t*t, t*t*t
		a1, a2 := [2]float64{t1[0] * b1, t1[1] * b1}, [2]float64{t2[0] * b2, t2[1] * b2}
		c[0][0] += dot2(a1, a1)
		c[0][1] += dot2(a1, a2)
		c[1][1] += dot2(a2, a2)
		d := [2]float64{p[0] - first[0]*(b0+b1) - last[0]*(b2+b3), p[1] - first[1]*(b0+b1) - last[1]*(b2+b3)}
		x[0] += dot2(a1, d)
		x[1] += dot2(a2, d)
	}
	l := sub2(last, first)
	third := math.Hypot(l[0], l[1]) / 3
	a, b := third, third
	if det := c[0][0]*c[1][1] - c[0][1]*c[0][1]; math.Abs(det) > 1e-12 {
		a, b = (x[0]*c[1][1]-x[1]*c[0][1])/det, (c[0][0]*x[1]-c[0][1]*x[0])/det
	}
	// A handle that turns back, or runs far off, is no answer: Wu and Barsky's third stands for it.
	if least, far := 1e-3*third, 12*third; a < least || b < least || a > far || b > far {
		a, b = third, third
	}
	return [4][2]float64{first, add2(first, t1, a), add2(last, t2, b), last}
}

func bezier(c [4][2]float64, t float64) (p [2]float64) {
	s := 1 - t
	for k := range p {
		p[k] = s*s*s*c[0][k] + 3*s*s*t*c[1][k] + 3*s*t*t*c[2][k] + t*t*t*c[3][k]
	}
	return p
}

// farthest gives the largest squared distance of a point from its place on the curve, and which it is: never an end.
func farthest(pts [][2]float64, u []float64, c [4][2]float64) (worst float64, at int) {
	at = len(pts) / 2
	for i := 1; i < len(pts)-1; i++ {
		d := sub2(bezier(c, u[i]), pts[i])
		if v := dot2(d, d); v > worst {
			worst, at = v, i
		}
	}
	return worst, at
}

// nearer moves a place on a curve towards the point it stands for (a step of Newton's).
func nearer(c [4][2]float64, p [2]float64, t float64) float64 {
	s := 1 - t
	var d, d1, d2 [2]float64
	for k := range d {
		d1[k] = 3 * (s*s*(c[1][k]-c[0][k]) + 2*s*t*(c[2][k]-c[1][k]) + t*t*(c[3][k]-c[2][k]))
		d2[k] = 6 * (s*(c[2][k]-2*c[1][k]+c[0][k]) + t*(c[3][k]-2*c[2][k]+c[1][k]))
	}
	d = sub2(bezier(c, t), p)
	below := dot2(d1, d1) + dot2(d, d2)
	if math.Abs(below) < 1e-12 {
		return t
	}
	return max(0, min(1, t-dot2(d, d1)/below))
}

func sub2(a, b [2]float64) [2]float64            { return [2]float64{a[0] - b[0], a[1] - b[1]} }
func dot2(a, b [2]float64) float64               { return a[0]*b[0] + a[1]*b[1] }
func add2(a, b [2]float64, k float64) [2]float64 { return [2]float64{a[0] + k*b[0], a[1] + k*b[1]} }

func unit(d [2]float64) [2]float64 {
	l := math.Hypot(d[0], d[1])
	if l == 0 {
		return d
	}
	return [2]float64{d[0] / l, d[1] / l}
}
