package recolour

import (
	"fmt"
	"math"
	"sort"

	"episema/core/colour"
)

// Curves is the method that bends the coded values of the channels.
type Curves struct {
	All   [][2]float64 `json:"all,omitempty"`
	Red   [][2]float64 `json:"red,omitempty"`
	Green [][2]float64 `json:"green,omitempty"`
	Blue  [][2]float64 `json:"blue,omitempty"`
	Free  bool         `json:"free,omitempty"` // the ends may move; else 0 stays 0 and 1 stays 1
}

const maxCurvePoints = 64

// Validate says what is wrong: points run from 0 to 1, each place once.
func (c *Curves) Validate() error {
	if c == nil {
		return nil
	}
	for name, p := range map[string][][2]float64{"all": c.All, "red": c.Red, "green": c.Green, "blue": c.Blue} {
		if len(p) > maxCurvePoints {
			return fmt.Errorf("the curve %s has %d points; at most %d are taken", name, len(p), maxCurvePoints)
		}
		seen := map[float64]bool{}
		for _, q := range p {
			if !(q[0] >= 0 && q[0] <= 1 && q[1] >= 0 && q[1] <= 1) {
				return fmt.Errorf("the curve %s has a point at %g, %g; both run from 0 to 1", name, q[0], q[1])
			}
			if seen[q[0]] {
				return fmt.Errorf("the curve %s has two points at %g", name, q[0])
			}
			seen[q[0]] = true
		}
	}
	return nil
}

// spline is a monotone cubic through points (Fritsch and Carlson, Monotone piecewise cubic interpolation, 1980).
type spline struct{ x, y, slope []float64 }

func newSpline(points [][2]float64, free bool) *spline {
	p := append([][2]float64(nil), points...)
	sort.Slice(p, func(a, b int) bool { return p[a][0] < p[b][0] })
	if !free {
		kept := p[:0]
		for _, q := range p {
			if q[0] > 0 && q[0] < 1 {
				kept = append(kept, q)
			}
		}
		p = append(append([][2]float64{{0, 0}}, kept...), [2]float64{1, 1})
	}
	s := &spline{}
	for _, q := range p {
		s.x, s.y = append(s.x, q[0]), append(s.y, q[1])
	}
	n := len(p)
	s.slope = make([]float64, n)
	if n < 2 {
		return s
	}
	chord := make([]float64, n-1)
	for i := range chord {
		chord[i] = (s.y[i+1] - s.y[i]) / (s.x[i+1] - s.x[i])
	}
	s.slope[0], s.slope[n-1] = chord[0], chord[n-2]
	for i := 1; i < n-1; i++ {
		if chord[i-1]*chord[i] > 0 {
			s.slope[i] = (chord[i-1] + chord[i]) / 2
		}
	}
	for i, d := range chord {
		if d == 0 {
			s.slope[i], s.slope[i+1] = 0, 0
			continue
		}
		a, b := s.slope[i]/d, s.slope[i+1]/d
		if h := a*a + b*b; h > 9 {
			t := 3 / math.Sqrt(h)
			s.slope[i], s.slope[i+1] = t*a*d, t*b*d
		}
	}
	return s
}

func (s *spline) at(x float64) float64 {
	n := len(s.x)
	switch {
	case n == 0:
		return x
	case x <= s.x[0]:
		return s.y[0]
	case x >= s.x[n-1]:
		return s.y[n-1]
	}
	i := sort.SearchFloat64s(s.x, x)
	if s.x[i] == x {
		return s.y[i]
	}
	i--
	h := s.x[i+1] - s.x[i]
	t := (x - s.x[i]) / h
	return s.y[i]*(1+2*t)*(1-t)*(1-t) + s.slope[i]*h*t*(1-t)*(1-t) + s.y[i+1]*t*t*(3-2*t) + s.slope[i+1]*h*t*t*(t-1)
}

// newCurves applies the curve of all channels, then each channel's own.
func newCurves(c *Curves) painter {
	if c == nil {
		c = &Curves{}
	}
	const steps = 2048
	var table [3][steps + 1]float32
	all := newSpline(c.All, c.Free && len(c.All) > 0)
	for k, own := range [3][][2]float64{c.Red, c.Green, c.Blue} {
		s := newSpline(own, c.Free && len(own) > 0)
		for i := range table[k] {
			table[k][i] = float32(s.at(math.Max(0, math.Min(1, all.at(float64(i)/steps)))))
		}
	}
	bend := func(k int, v float32) float32 {
		f := max(0, min(1, colour.Coded32(v))) * steps
		i := min(steps-1, int(f))
		return colour.Light32(table[k][i] + (f-float32(i))*(table[k][i+1]-table[k][i]))
	}
	return func(r, g, b float32) (float32, float32, float32) { return bend(0, r), bend(1, g), bend(2, b) }
}
