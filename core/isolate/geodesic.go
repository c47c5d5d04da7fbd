package isolate

import (
	"math"

	"episema/core/raster"
)

// geodesic gives each pixel's distance to the nearest start, where a step costs as much as the colours on
// its ends differ: about 1 for crossing an edge, little for walking along even shading. Raster scans in
// turn (Toivanen, New geodesic distance transforms for gray-scale images, 1996).
// Twice over is enough where a rough answer is; thrice leaves next to nothing.
func geodesic(f *planes, step [][4]float32, start []bool, scans int) []float32 {
	d := make([]float32, f.w*f.h)
	for i := range d {
		if !start[i] {
			d[i] = never
		}
	}
	w, h := f.w, f.h
	for range scans {
		for y := range h {
			for x := range w {
				i := y*w + x
				v := d[i]
				if x > 0 {
					v = min(v, d[i-1]+step[i-1][0])
				}
				if y > 0 {
					v = min(v, d[i-w]+step[i-w][2])
					if x > 0 {
						v = min(v, d[i-w-1]+step[i-w-1][1])
					}
					if x < w-1 {
						v = min(v, d[i-w+1]+step[i-w+1][3])
					}
				}
				d[i] = v
			}
		}
		for y := h - 1; y >= 0; y-- {
			for x := w - 1; x >= 0; x-- {
				i := y*w + x
				s := &step[i]
				v := d[i]
				if x < w-1 {
					v = min(v, d[i+1]+s[0])
				}
				if y < h-1 {
					v = min(v, d[i+w]+s[2])
					if x < w-1 {
						v = min(v, d[i+w+1]+s[1])
					}
					if x > 0 {
						v = min(v, d[i+w-1]+s[3])
					}
				}
				d[i] = v
			}
		}
	}
	return d
}

const never = 1e9

// steps gives what the steps to each pixel's neighbours in the first four directions cost: they are walked over and over.
func (f *planes) steps(link func(i, j, d int) float32) [][4]float32 {
	step := make([][4]float32, f.w*f.h)
	raster.Parallel(f.h, func(y int) {
		for x := range f.w {
			i := y*f.w + x
			for k := range step[i] {
				xx, yy := x+dirX[k], y+dirY[k]
				step[i][k] = never
				if xx >= 0 && yy >= 0 && xx < f.w && yy < f.h {
					step[i][k] = link(i, yy*f.w+xx, k)
				}
			}
		}
	})
	return step
}

const walk = 0.002 // what a pixel costs, so that of two smooth ways the shorter is nearer

// crossing is what a step costs by how alike its ends are.
func crossing(alike float32) float32 { return 1 - float32(math.Sqrt(float64(alike))) + walk }

const (
	openWay = 0.8  // how much more a stroke says where no edge lies between it and a pixel
	noEdge  = 0.15 // the distance up to which none does
)

// reach says of each pixel whether the strokes inside (+1) or the rest (-1) are nearer on a way that
// crosses few edges (after Price, Morse and Cohen, Geodesic graph cut, 2010). The rest starts at outside
// strokes, at colours far from the part's, and at the frame where an edge parts it from the strokes.
func (m *models) reach(f *planes, seeds []uint8, scans int) []float32 {
	all := f.links(m.done)
	all.once.Do(func() { all.steps = f.steps(func(i, j, d int) float32 { return crossing(all.at(i, j, d)) }) })
	n := f.w * f.h
	start := make([]bool, n)
	for i, s := range seeds {
		start[i] = s == seedIn
	}
	in := geodesic(f, all.steps, start, scans)
	farBin := make([]bool, len(f.bins))
	for b := range f.bins {
		farBin[b] = m.in != nil && m.in.nearest(f.bins[b].v) > 3*farColour
	}
	for i := range start {
		x, y := i%f.w, i/f.w
		frame := x == 0 || y == 0 || x == f.w-1 || y == f.h-1
		start[i] = seeds[i] == seedOut || seeds[i] != seedIn && (farBin[f.bin[i]] || frame && in[i] > 1)
	}
	out := geodesic(f, all.steps, start, scans)
	for i := range in {
		d := in[i]
		in[i] = (out[i] - d) / (out[i] + d + 0.05)
		if in[i] > 0 {
			// An enclosed hole is nearer to the strokes than to the rest, whatever it is: little is said,
			// unless no edge lies between.
			in[i] *= 0.2 + openWay*float32(math.Exp(-float64(d*d/(noEdge*noEdge))))
		}
	}
	return in
}
