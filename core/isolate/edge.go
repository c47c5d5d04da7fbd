package isolate

import (
	"errors"
	"math"

	"episema/core/raster"
)

// sweep renders solved labels: coarser levels average them, finer ones find the edge again in the pixels.
type sweep struct {
	l     *Labels
	rough bool // the edge is only rounded, not found in the pixels
}

func (s *sweep) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	if level > s.l.Level {
		n := 1 << (level - s.l.Level)
		out := make([]float32, r.W()*r.H())
		for y := r.Y0; y < r.Y1; y++ {
			for x := r.X0; x < r.X1; x++ {
				sum, cnt := 0, 0
				for yy := y * n; yy < min((y+1)*n, s.l.H); yy++ {
					for xx := x * n; xx < min((x+1)*n, s.l.W); xx++ {
						sum += int(s.l.In[yy*s.l.W+xx])
						cnt++
					}
				}
				if cnt > 0 {
					out[(y-r.Y0)*r.W()+x-r.X0] = float32(sum) / float32(cnt)
				}
			}
		}
		return out, nil
	}
	// In squares: those without an edge cost next to nothing, the others go side by side.
	out := make([]float32, r.W()*r.H())
	square := 192
	if s.rough {
		square = 32 // a rounded edge needs nothing around it
	}
	across, down := (r.W()+square-1)/square, (r.H()+square-1)/square
	errs := make([]error, across*down)
	doneOf(p).Parallel(across*down, func(n int) {
		x, y := r.X0+n%across*square, r.Y0+n/across*square
		q := raster.Rect{X0: x, Y0: y, X1: min(r.X1, x+square), Y1: min(r.Y1, y+square)}
		part, err := s.refine(p, level, q)
		if err != nil {
			errs[n] = err
			return
		}
		for y := range q.H() {
			copy(out[(y+q.Y0-r.Y0)*r.W()+q.X0-r.X0:], part[y*q.W():(y+1)*q.W()])
		}
	})
	return out, errors.Join(errs...)
}

// even says whether all labels under a rectangle, enlarged by scale, are alike, and which they are.
func (s *sweep) even(r raster.Rect, scale int) (bool, float32) {
	x0, y0 := max(0, r.X0/scale-2), max(0, r.Y0/scale-2)
	x1, y1 := min(s.l.W, r.X1/scale+3), min(s.l.H, r.Y1/scale+3)
	first := s.l.In[min(y0, s.l.H-1)*s.l.W+min(x0, s.l.W-1)]
	for y := y0; y < y1; y++ {
		for _, v := range s.l.In[y*s.l.W+x0 : y*s.l.W+x1] {
			if v != first {
				return false, 0
			}
		}
	}
	return true, float32(first)
}

// refine works out soft edges at a level at least as fine as the labels: the labels, smoothed and
// enlarged, say roughly where the edge is; the colours surely inside and surely outside near a pixel
// say which mixture of the two it is.
func (s *sweep) refine(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	scale := 1 << (s.l.Level - level)
	reach := 3*scale/2 + 2 // pixels on either side of the rough edge whose share is open
	if scale == 1 {
		reach = 2
	}
	window := 2*reach + 3
	lw, lh := p.Size(level)
	whole := raster.Rect{X1: lw, Y1: lh}
	out := make([]float32, r.W()*r.H())
	if alike, v := s.even(r.Grow(reach+2).And(whole), scale); alike {
		for i := range out {
			out[i] = v
		}
		return out, nil
	}
	if s.rough {
		return s.enlarged(r, scale), nil
	}
	outer := r.Grow(2*reach + window + 2).And(whole)
	rough := s.enlarged(outer, scale)
	open := openBand(rough, outer.W(), outer.H(), reach)
	for y := range r.H() {
		row := rough[(y+r.Y0-outer.Y0)*outer.W()+r.X0-outer.X0:][:r.W()]
		for x, v := range row {
			if v >= 0.5 {
				out[y*r.W()+x] = 1
			}
		}
	}
	// Colours are asked for around what is open here, and nowhere else.
	box := boxOf(open, outer, r.Grow(1).And(outer))
	if box.Empty() {
		return out, nil
	}
	inner := box.Grow(window).And(outer)
	pic, err := p.Linear(level, inner)
	if err != nil {
		return nil, err
	}
	rough, open = raster.Crop(rough, 1, outer, inner), raster.Crop(open, 1, outer, inner)
	soft := smoothBand(unmixBand(pic, rough, open, window), open, inner.W(), inner.H())
	both := r.And(inner)
	for y := both.Y0; y < both.Y1; y++ {
		copy(out[(y-r.Y0)*r.W()+both.X0-r.X0:][:both.W()], soft[(y-inner.Y0)*inner.W()+both.X0-inner.X0:])
	}
	return out, nil
}

// enlarged gives the labels under a rectangle, smoothed.
func (s *sweep) enlarged(r raster.Rect, scale int) []float32 {
	out := make([]float32, r.W()*r.H())
	flat := make([]bool, r.W()/scale+2) // of the labels that a row may touch
	first, last := r.X0/scale, -1
	for y := r.Y0; y < r.Y1; y++ {
		// Far from an edge nothing need be weighed.
		if iy := y / scale; iy != last {
			last = iy
			s.flats(first, iy, flat)
		}
		row := out[(y-r.Y0)*r.W() : (y-r.Y0+1)*r.W()]
		labels := s.l.In[min(s.l.H-1, last)*s.l.W : (min(s.l.H-1, last)+1)*s.l.W]
		for x := 0; x < len(row); {
			cell := (x + r.X0) / scale
			next := cell + 1
			if flat[cell-first] {
				for next-first < len(flat) && flat[next-first] { // flat side by side, they are all alike
					next++
				}
				v, end := float32(labels[min(s.l.W-1, cell)]), min(len(row), next*scale-r.X0)
				for ; x < end; x++ {
					row[x] = v
				}
				continue
			}
			for end := min(len(row), next*scale-r.X0); x < end; x++ {
				row[x] = s.smooth(float64(x+r.X0)+0.5, float64(y)+0.5, float64(scale))
			}
		}
	}
	return out
}

// boxOf gives the smallest rectangle around what is open of a rectangle, an empty one where nothing is; open covers from.
func boxOf(open []bool, from, of raster.Rect) raster.Rect {
	box := raster.Rect{X0: of.X1, Y0: of.Y1, X1: of.X0, Y1: of.Y0}
	for y := of.Y0; y < of.Y1; y++ {
		row := open[(y-from.Y0)*from.W() : (y-from.Y0+1)*from.W()]
		for x := of.X0; x < of.X1; x++ {
			if row[x-from.X0] {
				box.X0, box.X1 = min(box.X0, x), max(box.X1, x+1)
				box.Y0, box.Y1 = min(box.Y0, y), max(box.Y1, y+1)
			}
		}
	}
	return box
}

// openBand tells which pixels have a rough edge within reach: what lies in none is surely inside or outside.
func openBand(rough []float32, w, h, reach int) []bool {
	edge := make([]float32, w*h)
	for y := range h {
		for x := range w {
			i := y*w + x
			in := rough[i] >= 0.5
			if x+1 < w && (rough[i+1] >= 0.5) != in || y+1 < h && (rough[i+w] >= 0.5) != in {
				edge[i] = 1
			}
		}
	}
	raster.BoxSum(edge, w, h, reach)
	open := make([]bool, w*h)
	for i, v := range edge {
		open[i] = v > 0.5
	}
	return open
}

// unmixBand gives each pixel of the open band the share that a mixture of the colours surely inside and surely outside around it says,
// as far as those can be told apart; elsewhere the share is none or all.
func unmixBand(pic *raster.RGB, rough []float32, open []bool, window int) []float32 {
	w, h := pic.W, pic.H
	mean := make([][]float32, 8) // sums of r, g, b and counts: inside, then outside
	for c := range mean {
		mean[c] = make([]float32, w*h)
	}
	for i := range rough {
		if open[i] {
			continue
		}
		o := 4
		if rough[i] >= 0.5 {
			o = 0
		}
		mean[o][i], mean[o+1][i], mean[o+2][i], mean[o+3][i] = pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2], 1
	}
	for c := range mean {
		raster.BoxSum(mean[c], w, h, window)
	}
	alpha := make([]float32, w*h)
	for i := range alpha {
		if !open[i] {
			if rough[i] >= 0.5 {
				alpha[i] = 1
			}
			continue
		}
		alpha[i] = rough[i]
		nf, nb := mean[3][i], mean[7][i]
		if nf < 3 || nb < 3 {
			continue
		}
		var f, b [3]float32
		var size float32
		for c := range 3 {
			f[c], b[c] = mean[c][i]/nf, mean[4+c][i]/nb
			size += f[c] + b[c]
		}
		share, len2 := raster.Unmix((*[3]float32)(pic.Pix[3*i:]), &b, &f)
		tau := 0.03*size + 0.004
		trust := len2 / (len2 + tau*tau)
		// Inside and outside vary a little themselves; only a clear mixture counts as one.
		share = max(0, min(1, (share-0.12)/0.76))
		alpha[i] = trust*share + (1-trust)*rough[i]
	}
	return alpha
}

// smoothBand smooths lightly along the band, which takes the sensor's noise out of the edge.
func smoothBand(alpha []float32, open []bool, w, h int) []float32 {
	soft := append([]float32(nil), alpha...)
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			if i := y*w + x; open[i] {
				soft[i] = 0.5*alpha[i] + 0.125*(alpha[i-1]+alpha[i+1]+alpha[i-w]+alpha[i+w])
			}
		}
	}
	return soft
}

// at gives a label; places outside are the nearest inside.
func (s *sweep) at(x, y int) uint8 {
	return s.l.In[max(0, min(s.l.H-1, y))*s.l.W+max(0, min(s.l.W-1, x))]
}

// flats tells of labels side by side, from x on, whether those around each are like it.
func (s *sweep) flats(x, y int, flat []bool) {
	row := func(y int) []uint8 {
		y = max(0, min(s.l.H-1, y))
		return s.l.In[y*s.l.W : (y+1)*s.l.W]
	}
	up, mid, down := row(y-1), row(y), row(y+1)
	const mixed = 255
	column := func(x int) uint8 {
		x = max(0, min(s.l.W-1, x))
		if v := mid[x]; v == up[x] && v == down[x] {
			return v
		}
		return mixed
	}
	left, here := column(x-1), column(x)
	for i := range flat {
		right := column(x + i + 1)
		flat[i] = left == here && here == right && here != mixed
		left, here = here, right
	}
}

// smooth samples the labels with a quadratic B-spline, so that the enlarged edge is no staircase.
func (s *sweep) smooth(x, y, scale float64) float32 {
	fx, fy := x/scale, y/scale
	ix, iy := int(math.Floor(fx)), int(math.Floor(fy))
	tx, ty := fx-float64(ix)-0.5, fy-float64(iy)-0.5
	wx := [3]float64{0.5 * (0.5 - tx) * (0.5 - tx), 0.75 - tx*tx, 0.5 * (0.5 + tx) * (0.5 + tx)}
	wy := [3]float64{0.5 * (0.5 - ty) * (0.5 - ty), 0.75 - ty*ty, 0.5 * (0.5 + ty) * (0.5 + ty)}
	v := 0.0
	for j := range wy {
		for i := range wx {
			v += wx[i] * wy[j] * float64(s.at(ix-1+i, iy-1+j))
		}
	}
	return float32(v)
}
