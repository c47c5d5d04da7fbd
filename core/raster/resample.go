package raster

import "math"

// Shrink averages a plane of ch interleaved channels over output pixels: output pixel i covers the source
// from x0 + i*step to x0 + (i+1)*step, and the same in y; places outside are the nearest inside.
// step is at least 1 for an average; below 1 the nearest pixel is taken.
func Shrink(src []float32, w, h, ch int, x0, y0, step float64, ow, oh int) []float32 {
	xi := spans(x0, step, w, ow)
	yi := spans(y0, step, h, oh)
	out := make([]float32, ow*oh*ch)
	Parallel((oh+31)/32, func(n int) {
		acc := make([]float32, w*ch)
		for y := n * 32; y < min(oh, n*32+32); y++ {
			clear(acc)
			for k, wt := range yi[y].weight {
				row := src[(yi[y].first+k)*w*ch : (yi[y].first+k+1)*w*ch]
				for i, v := range row {
					acc[i] += wt * v
				}
			}
			o := out[y*ow*ch : (y+1)*ow*ch]
			for x := 0; x < ow; x++ {
				s := &xi[x]
				for k, wt := range s.weight {
					p := (s.first + k) * ch
					for c := 0; c < ch; c++ {
						o[x*ch+c] += wt * acc[p+c]
					}
				}
			}
		}
	})
	return out
}

type span struct {
	first  int
	weight []float32
}

func spans(at, step float64, n, count int) []span {
	s := make([]span, count)
	for i := range s {
		a, b := at+float64(i)*step, at+float64(i+1)*step
		if step < 1 {
			k := max(0, min(n-1, int(math.Floor((a+b)/2))))
			s[i] = span{k, []float32{1}}
			continue
		}
		a, b = math.Max(0, math.Min(a, float64(n)-1)), math.Max(1, math.Min(b, float64(n)))
		first := int(a + 1e-9)
		last := min(n-1, int(math.Ceil(b-1e-9))-1)
		var w []float32
		sum := float32(0)
		for k := first; k <= last; k++ {
			v := float32(math.Min(b, float64(k+1)) - math.Max(a, float64(k)))
			w = append(w, v)
			sum += v
		}
		if sum <= 0 {
			w, sum = []float32{1}, 1
		}
		for k := range w {
			w[k] /= sum
		}
		s[i] = span{first, w}
	}
	return s
}
