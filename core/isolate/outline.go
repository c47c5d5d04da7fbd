package isolate

import (
	"fmt"
	"math"

	"episema/core/raster"
)

// outline fills a closed path of straight and curved segments (cubic Bezier).
type outline struct{ path [][2]float64 }

func (c *compiler) outline(pick *Pick) (coverage, error) {
	w, h := c.p.Size(0)
	room := 2 * float64(max(w, h))
	for _, n := range pick.Nodes {
		for _, q := range []*[2]float64{&n.P, n.In, n.Out} {
			if q != nil && (q[0] < -room || q[1] < -room || q[0] > float64(w)+room || q[1] > float64(h)+room) {
				return nil, problem(fmt.Sprintf("a node or handle lies at %g, %g, far outside the picture of %d x %d; bring it nearer", q[0], q[1], w, h))
			}
		}
	}
	path := Flatten(pick.Nodes)
	if !pick.Snap {
		return &outline{path}, nil
	}
	what := struct {
		Nodes  []Node
		Effort Effort
	}{pick.Nodes, c.effort}
	path, err := once(c, "snapped outline", what, func(p [][2]float64) int { return 16 * len(p) }, func() ([][2]float64, error) {
		return c.snap(path)
	})
	return &outline{path}, err
}

// Flatten gives the closed path of an outline as points less than a tenth of a pixel off its curves.
func Flatten(nodes []Node) [][2]float64 {
	var path [][2]float64
	for i, n := range nodes {
		m := nodes[(i+1)%len(nodes)]
		path = append(path, n.P)
		if n.Out == nil && m.In == nil {
			continue
		}
		p := [4][2]float64{n.P, n.P, m.P, m.P}
		if n.Out != nil {
			p[1] = *n.Out
		}
		if m.In != nil {
			p[2] = *m.In
		}
		// The distance of a cubic from its chord falls with the square of the number of steps.
		bend := 0.0
		for k := range 2 {
			bend = math.Max(bend, math.Hypot(p[k][0]-2*p[k+1][0]+p[k+2][0], p[k][1]-2*p[k+1][1]+p[k+2][1]))
		}
		steps := min(500, int(math.Ceil(math.Sqrt(0.75*bend/0.1)))+1)
		for s := 1; s < steps; s++ {
			t := float64(s) / float64(steps)
			u := 1 - t
			var q [2]float64
			for k := range q {
				q[k] = u*u*u*p[0][k] + 3*u*u*t*p[1][k] + 3*u*t*t*p[2][k] + t*t*t*p[3][k]
			}
			path = append(path, q)
		}
	}
	return path
}

func (o *outline) render(_ Pyramid, level int, r raster.Rect) ([]float32, error) {
	return fillPath(o.path, level, r), nil
}

// fillPath gives the share of each pixel of a rectangle of a level that lies in a closed path.
func fillPath(path [][2]float64, level int, r raster.Rect) []float32 {
	step := float64(int(1) << level)
	return raster.FillPath(path, raster.Place{X: float64(r.X0) * step, Y: float64(r.Y0) * step, Step: step}, r.W(), r.H())
}
