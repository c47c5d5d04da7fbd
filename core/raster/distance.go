package raster

import "math"

// SignedDistance gives each pixel's distance to the nearest pixel of the other kind, in pixels, less half a
// pixel: above 0 inside, below 0 outside. Where all pixels are of one kind it is far (1e6). Exact Euclidean
// distances (Felzenszwalb and Huttenlocher, Distance transforms of sampled functions, 2012).
func SignedDistance(inside func(i int) bool, w, h int) []float32 {
	return SignedDistanceWithin(inside, w, h, 1e6)
}

// SignedDistanceWithin gives SignedDistance as far as it is at most so much, and that elsewhere, which takes a fraction of the time.
func SignedDistanceWithin(inside func(i int) bool, w, h int, most float64) []float32 {
	d := make([]float32, w*h)
	if len(d) == 0 {
		return d
	}
	in := make([]bool, w*h)
	// First to the nearest pixel of the other kind in the same column.
	const strip = 64
	Parallel((w+strip-1)/strip, func(s int) {
		x0, x1 := s*strip, min(w, (s+1)*strip)
		for x := x0; x < x1; x++ {
			in[x], d[x] = inside(x), never
		}
		for y := 1; y < h; y++ {
			for i := y*w + x0; i < y*w+x1; i++ {
				if in[i] = inside(i); in[i] == in[i-w] {
					d[i] = d[i-w] + 1
				} else {
					d[i] = 1
				}
			}
		}
		for y := h - 2; y >= 0; y-- {
			for i := y*w + x0; i < y*w+x1; i++ {
				if in[i] == in[i+w] {
					d[i] = min(d[i], d[i+w]+1)
				} else {
					d[i] = 1
				}
			}
		}
	})
	const rows = 16
	Parallel((h+rows-1)/rows, func(s int) {
		e := newEnvelope(w, most+1)
		for y := s * rows; y < min(h, (s+1)*rows); y++ {
			row, kind := d[y*w:(y+1)*w], in[y*w:(y+1)*w]
			copy(e.column, row)
			e.along(row, kind, true)
			e.along(row, kind, false)
		}
	})
	return d
}

// never is farther than any pixel, and one more.
const never = 1e9

// envelope finds the nearest goals of a row's pixels as the lower envelope of parabolas over what their columns say.
type envelope struct {
	most   float64
	column []float32 // the distance to the nearest pixel of the other kind in the column
	at     []int     // where the parabolas stand that the envelope is made of
	high   []float64 // and how high
	from   []float64 // where they begin to be the lowest
}

func newEnvelope(w int, most float64) *envelope {
	return &envelope{most: most, column: make([]float32, w), at: make([]int, w), high: make([]float64, w), from: make([]float64, w+1)}
}

// along puts the signed distances of a row's pixels of one kind.
func (e *envelope) along(row []float32, kind []bool, of bool) {
	k := -1
	for q, c := range e.column {
		f := float64(c) * float64(c)
		if kind[q] != of {
			// A goal; where it lies between goals its neighbours are nearer to everything.
			if f = 0; q > 0 && q+1 < len(kind) && kind[q-1] != of && kind[q+1] != of {
				continue
			}
		} else if float64(c) > e.most {
			continue
		}
		for k >= 0 {
			p := e.at[k]
			s := (f + float64(q*q) - e.high[k] - float64(p*p)) / float64(2*(q-p))
			if s > e.from[k] {
				e.from[k+1] = s
				break
			}
			k--
		}
		k++
		e.at[k], e.high[k] = q, f
		if k == 0 {
			e.from[0] = math.Inf(-1)
		}
		e.from[k+1] = math.Inf(1)
	}
	far := e.most - 1
	for q, j := 0, 0; q < len(row); q++ {
		if kind[q] != of {
			continue
		}
		v := far
		if k >= 0 {
			for e.from[j+1] < float64(q) {
				j++
			}
			d := float64(q - e.at[j])
			v = min(far, math.Sqrt(d*d+e.high[j])-0.5)
		}
		if !of {
			v = -v
		}
		row[q] = float32(v)
	}
}
