package isolate

import "episema/core/raster"

// depth picks what is between a near and a far limit.
type depth struct {
	near           *raster.Mask
	from, to, soft float64
}

func (c *compiler) depth(pick *Pick) (coverage, error) {
	if c.in.Depth == nil {
		return nil, problem("this picture has no depth map; bring one in (a grey PNG or TIFF, white near), or use another kind of pick")
	}
	return &depth{c.in.Depth, pick.From, pick.To, pick.Soft}, nil
}

func (d *depth) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	out := make([]float32, r.W()*r.H())
	w, h := p.Size(level)
	raster.Parallel(r.H(), func(y int) {
		for x := range r.W() {
			v := Nearness(d.near, (float64(r.X0+x)+0.5)/float64(w), (float64(r.Y0+y)+0.5)/float64(h))
			out[y*r.W()+x] = float32(ramp(v, d.from, d.to, d.soft))
		}
	})
	return out, nil
}

// Nearness reads a depth map at a point given as shares of its width and height, between its pixels linearly.
func Nearness(m *raster.Mask, u, v float64) float64 {
	x, y := u*float64(m.W)-0.5, v*float64(m.H)-0.5
	x0, y0 := max(0, min(m.W-1, int(x))), max(0, min(m.H-1, int(y)))
	x1, y1 := min(m.W-1, x0+1), min(m.H-1, y0+1)
	fx, fy := max(0, min(1, x-float64(x0))), max(0, min(1, y-float64(y0)))
	at := func(x, y int) float64 { return float64(m.Pix[y*m.W+x]) / raster.Whole }
	return (at(x0, y0)*(1-fx)+at(x1, y0)*fx)*(1-fy) + (at(x0, y1)*(1-fx)+at(x1, y1)*fx)*fy
}
