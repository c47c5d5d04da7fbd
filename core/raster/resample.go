package raster

import (
	"math"
	"sync/atomic"
)

// Shrink averages a plane of ch interleaved channels over output pixels: output pixel i covers the source
// from x0 + i*step to x0 + (i+1)*step, and the same in y; places outside are the nearest inside.
// step is at least 1 for an average; below 1 the nearest pixel is taken.
func Shrink(src []float32, w, h, ch int, x0, y0, step float64, ow, oh int) []float32 {
	out, _ := ShrinkFrom(func(from, to int) ([]float32, error) { return src[from*w*ch : to*w*ch], nil }, w, h, ch, x0, y0, step, ow, oh)
	return out // what is there is read without an error
}

// Rows reads the rows of a plane from one up to another. It may be called by several at once.
type Rows func(from, to int) ([]float32, error)

// ShrinkFrom is Shrink of a plane that is read on the way, some rows at a time, so that it is never there as a whole. It returns the error that
// reading ends with.
func ShrinkFrom(read Rows, w, h, ch int, x0, y0, step float64, ow, oh int) ([]float32, error) {
	xi := spans(x0, step, w, ow)
	yi := spans(y0, step, h, oh)
	across := groups(xi)
	out := make([]float32, ow*oh*ch)
	var failed atomic.Pointer[error]
	Parallel((oh+31)/32, func(n int) {
		if failed.Load() != nil {
			return
		}
		rows := yi[n*32 : min(oh, n*32+32)]
		last := &rows[len(rows)-1]
		from := rows[0].first
		src, err := read(from, last.first+len(last.weight))
		if err != nil {
			failed.CompareAndSwap(nil, &err)
			return
		}
		var acc []float32
		for k := range rows {
			y, s := n*32+k, &rows[k]
			row := src[(s.first-from)*w*ch : (s.first-from+1)*w*ch]
			if len(s.weight) > 1 {
				if acc == nil {
					acc = make([]float32, w*ch)
				}
				down(acc, src[(s.first-from)*w*ch:], s.weight)
				row = acc
			}
			o := out[y*ow*ch : (y+1)*ow*ch]
			for _, g := range across {
				if g.same {
					copy(o[g.x*ch:(g.x+g.n)*ch], row[xi[g.x].first*ch:])
					continue
				}
				for x := g.x; x < g.x+g.n; x++ {
					s := &xi[x]
					switch ch {
					case 1:
						var v float32
						for k, wt := range s.weight {
							v += wt * row[s.first+k]
						}
						o[x] = v
					case 3:
						o[3*x], o[3*x+1], o[3*x+2] = s.mean(row[3*s.first : 3*(s.first+len(s.weight))])
					default:
						for k, wt := range s.weight {
							for c, v := range row[(s.first+k)*ch : (s.first+k+1)*ch] {
								o[x*ch+c] += wt * v
							}
						}
					}
				}
			}
		}
	})
	if err := failed.Load(); err != nil {
		return nil, *err
	}
	return out, nil
}

// down puts the weighted sum of rows that follow each other, two at least, into one. Most are two or three.
func down(acc, src, weight []float32) {
	n := len(acc)
	first, next := src[:n], src[n:2*n]
	a, b := weight[0], weight[1]
	rest := weight[2:]
	if len(rest) == 0 {
		for i, v := range first {
			acc[i] = a*v + b*next[i]
		}
		return
	}
	c, third := rest[0], src[2*n:3*n]
	for i, v := range first {
		acc[i] = a*v + b*next[i] + c*third[i]
	}
	for k, wt := range rest[1:] {
		for i, v := range src[(k+3)*n : (k+4)*n] {
			acc[i] += wt * v
		}
	}
}

// mean gives the weighted mean of pixels of three channels.
func (s *span) mean(in []float32) (r, g, b float32) {
	switch w := s.weight; len(w) {
	case 2:
		in = in[:6]
		return w[0]*in[0] + w[1]*in[3], w[0]*in[1] + w[1]*in[4], w[0]*in[2] + w[1]*in[5]
	case 3:
		in = in[:9]
		return w[0]*in[0] + w[1]*in[3] + w[2]*in[6], w[0]*in[1] + w[1]*in[4] + w[2]*in[7], w[0]*in[2] + w[1]*in[5] + w[2]*in[8]
	}
	for k, wt := range s.weight {
		r, g, b = r+wt*in[3*k], g+wt*in[3*k+1], b+wt*in[3*k+2]
	}
	return r, g, b
}

// group is n output pixels side by side, from x on. The same ones are pixels of the source as they are, side by side too: at the size of
// the source nearly all are.
type group struct {
	x, n int
	same bool
}

func groups(s []span) (all []group) {
	for x := range s {
		same := len(s[x].weight) == 1 // of which the weight is 1
		if last := len(all) - 1; last >= 0 && all[last].same == same && (!same || s[x].first == s[x-1].first+1) {
			all[last].n++
			continue
		}
		all = append(all, group{x, 1, same})
	}
	return all
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
