package isolate

import "math"

// geodesic gives each pixel's distance to the nearest start, where a step costs as much as the colours on
// its ends differ: about 1 for crossing an edge, little for walking along even shading. Raster scans in
// turn (Toivanen, New geodesic distance transforms for gray-scale images, 1996).
func geodesic(f *planes, beta float64, start []bool) []float32 {
	d := make([]float32, f.w*f.h)
	const never = 1e9
	for i := range d {
		if !start[i] {
			d[i] = never
		}
	}
	const walk = 0.002 // per pixel, so that of two smooth ways the shorter is nearer
	relax := func(i, x, y, dir int) {
		xx, yy := x+dirX[dir], y+dirY[dir]
		if xx < 0 || yy < 0 || xx >= f.w || yy >= f.h {
			return
		}
		j := yy*f.w + xx
		if d[j] >= d[i] {
			return
		}
		step := float32(1 - math.Exp(-0.5*beta*f.diff2(i, j)) + walk)
		if n := d[j] + step; n < d[i] {
			d[i] = n
		}
	}
	for range 3 {
		for y := 0; y < f.h; y++ {
			for x := 0; x < f.w; x++ {
				i := y*f.w + x
				relax(i, x, y, 4)
				relax(i, x, y, 5)
				relax(i, x, y, 6)
				relax(i, x, y, 7)
			}
		}
		for y := f.h - 1; y >= 0; y-- {
			for x := f.w - 1; x >= 0; x-- {
				i := y*f.w + x
				relax(i, x, y, 0)
				relax(i, x, y, 1)
				relax(i, x, y, 2)
				relax(i, x, y, 3)
			}
		}
	}
	return d
}

const (
	openWay = 0.8  // how much more a stroke says where no edge lies between it and a pixel
	noEdge  = 0.15 // the distance up to which none does
)

// reach says of each pixel whether the strokes inside (+1) or the rest (-1) are nearer on a way that
// crosses few edges (after Price, Morse and Cohen, Geodesic graph cut, 2010). The rest starts at outside
// strokes, at colours far from the part's, and at the frame where an edge parts it from the strokes.
func (m *models) reach(f *planes, seeds []uint8, beta float64) []float32 {
	n := f.w * f.h
	start := make([]bool, n)
	for i, s := range seeds {
		start[i] = s == seedIn
	}
	in := geodesic(f, beta, start)
	farBin := make([]bool, len(f.bins))
	for b := range f.bins {
		farBin[b] = m.in != nil && m.in.nearest(f.bins[b].v) > 3*farColour
	}
	for i := range start {
		x, y := i%f.w, i/f.w
		frame := x == 0 || y == 0 || x == f.w-1 || y == f.h-1
		start[i] = seeds[i] == seedOut || seeds[i] != seedIn && (farBin[f.bin[i]] || frame && in[i] > 1)
	}
	out := geodesic(f, beta, start)
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
