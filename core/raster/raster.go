// Package raster holds pixel planes and the few whole-plane operations the rest of the core needs.
package raster

import (
	"fmt"
	"runtime"
	"runtime/debug"
	"sync"
	"sync/atomic"
)

// Rect is a half-open rectangle of pixels.
type Rect struct{ X0, Y0, X1, Y1 int }

// W and H give the size; an empty rectangle gives 0.
func (r Rect) W() int { return max(0, r.X1-r.X0) }

// H gives the height.
func (r Rect) H() int { return max(0, r.Y1-r.Y0) }

// Empty says whether no pixel lies in r.
func (r Rect) Empty() bool { return r.X1 <= r.X0 || r.Y1 <= r.Y0 }

// Grow gives r with m more pixels on each side.
func (r Rect) Grow(m int) Rect { return Rect{r.X0 - m, r.Y0 - m, r.X1 + m, r.Y1 + m} }

// And gives the intersection.
func (r Rect) And(o Rect) Rect {
	i := Rect{max(r.X0, o.X0), max(r.Y0, o.Y0), min(r.X1, o.X1), min(r.Y1, o.Y1)}
	if i.Empty() {
		return Rect{}
	}
	return i
}

// Or gives the smallest rectangle that holds both.
func (r Rect) Or(o Rect) Rect {
	switch {
	case r.Empty():
		return o
	case o.Empty():
		return r
	}
	return Rect{min(r.X0, o.X0), min(r.Y0, o.Y0), max(r.X1, o.X1), max(r.Y1, o.Y1)}
}

// RGB is a picture in linear light: three float32 a pixel, interleaved, row by row, 1 = white.
type RGB struct {
	W, H int
	Pix  []float32
}

// NewRGB makes a black picture.
func NewRGB(w, h int) *RGB { return &RGB{w, h, make([]float32, 3*w*h)} }

// At gives a pixel; coordinates outside are moved to the nearest inside.
func (p *RGB) At(x, y int) (r, g, b float32) {
	x, y = max(0, min(p.W-1, x)), max(0, min(p.H-1, y))
	i := 3 * (y*p.W + x)
	return p.Pix[i], p.Pix[i+1], p.Pix[i+2]
}

// Mask is a part's share of each pixel: 0 none, 65535 whole.
type Mask struct {
	W, H int
	Pix  []uint16
}

// NewMask makes an empty mask.
func NewMask(w, h int) *Mask { return &Mask{w, h, make([]uint16, w*h)} }

// Shares returns the share of each pixel, 0..1.
func (m *Mask) Shares() []float32 {
	out := make([]float32, len(m.Pix))
	for i, v := range m.Pix {
		out[i] = float32(v) / Whole
	}
	return out
}

// Crop returns a rectangle of a plane of ch values a pixel that covers outer. It shares the plane's memory where it can: where
// whole rows are wanted. r must lie in outer.
func Crop[T any](p []T, ch int, outer, r Rect) []T {
	n := ch * outer.W()
	if r.X0 == outer.X0 && r.X1 == outer.X1 {
		return p[(r.Y0-outer.Y0)*n : (r.Y1-outer.Y0)*n]
	}
	out := make([]T, 0, ch*r.W()*r.H())
	for y := r.Y0; y < r.Y1; y++ {
		at := (y-outer.Y0)*n + ch*(r.X0-outer.X0)
		out = append(out, p[at:at+ch*r.W()]...)
	}
	return out
}

// Framed returns a rectangle that covers the one of a plane of ch values a pixel, with nothing around that. inner must lie in r.
func Framed[T any](p []T, ch int, inner, r Rect) []T {
	if inner == r {
		return p
	}
	out := make([]T, ch*r.W()*r.H())
	n := ch * inner.W()
	for y := range inner.H() {
		copy(out[ch*((inner.Y0-r.Y0+y)*r.W()+inner.X0-r.X0):], p[y*n:(y+1)*n])
	}
	return out
}

// Crop returns a rectangle, which must lie inside the mask; see Crop.
func (m *Mask) Crop(r Rect) *Mask {
	return &Mask{r.W(), r.H(), Crop(m.Pix, 1, Rect{X1: m.W, Y1: m.H}, r)}
}

// Crop returns a rectangle, which must lie inside the picture; see Crop.
func (p *RGB) Crop(r Rect) *RGB {
	return &RGB{r.W(), r.H(), Crop(p.Pix, 3, Rect{X1: p.W, Y1: p.H}, r)}
}

// Whole is the value of a pixel that lies wholly in the part.
const Whole = 65535

// Half gives the picture at half size (odd edges keep their last pixel), averaged in linear light.
func Half(p *RGB) *RGB {
	o := NewRGB((p.W+1)/2, (p.H+1)/2)
	for y := 0; y < o.H; y++ {
		y0, y1 := 2*y, min(2*y+1, p.H-1)
		for x := 0; x < o.W; x++ {
			x0, x1 := 2*x, min(2*x+1, p.W-1)
			a, b, c, d := 3*(y0*p.W+x0), 3*(y0*p.W+x1), 3*(y1*p.W+x0), 3*(y1*p.W+x1)
			i := 3 * (y*o.W + x)
			for k := range 3 {
				o.Pix[i+k] = (p.Pix[a+k] + p.Pix[b+k] + p.Pix[c+k] + p.Pix[d+k]) / 4
			}
		}
	}
	return o
}

// LevelSize gives the size of a picture's side at a pyramid level: halved, rounded up, level times.
func LevelSize(n, level int) int {
	for range level {
		n = (n + 1) / 2
	}
	return max(1, n)
}

// BoxSum replaces each value of a w x h plane by the sum over the (2r+1) square around it, cut at the edges. Sums of
// whole numbers are the same wherever a plane begins; those of others differ by what is rounded.
func BoxSum[T float32 | int32](p []T, w, h, r int) {
	tmp := make([]T, max(w, h))
	for y := 0; y < h; y++ {
		row := p[y*w : y*w+w]
		boxLine(row, tmp[:w], w, r)
	}
	// Columns go together, a row at a time, so that memory is read in order.
	acc := make([]T, w)
	was := make([]T, (r+1)*w) // the last rows as they were before they were replaced
	for y := -r; y < h; y++ {
		if a := y + r; a < h {
			for x, v := range p[a*w : a*w+w] {
				acc[x] += v
			}
		}
		if d := y - r - 1; d >= 0 {
			for x, v := range was[d%(r+1)*w:][:w] {
				acc[x] -= v
			}
		}
		if y >= 0 {
			copy(was[y%(r+1)*w:], p[y*w:y*w+w])
			copy(p[y*w:], acc)
		}
	}
}

func boxLine[T float32 | int32](row, tmp []T, n, r int) {
	var s T
	for i := 0; i < min(r, n); i++ {
		s += row[i]
	}
	for i := 0; i < n; i++ {
		if i+r < n {
			s += row[i+r]
		}
		if d := i - r - 1; d >= 0 {
			s -= row[d]
		}
		tmp[i] = s
	}
	copy(row, tmp)
}

// Parallel calls f for 0..n-1 on as many goroutines as there are processors. A panic in one of them is one of the caller's,
// who can recover from it; the others finish what they are at.
func Parallel(n int, f func(i int)) {
	workers := min(n, runtime.GOMAXPROCS(0))
	if workers <= 1 {
		for i := range n {
			f(i)
		}
		return
	}
	var next atomic.Int64
	var wg sync.WaitGroup
	var broke atomic.Pointer[Panic]
	for range workers {
		wg.Go(func() {
			defer func() {
				if v := recover(); v != nil {
					broke.CompareAndSwap(nil, &Panic{v, debug.Stack()})
					next.Store(int64(n))
				}
			}()
			for {
				i := int(next.Add(1)) - 1
				if i >= n {
					return
				}
				f(i)
			}
		})
	}
	wg.Wait()
	if p := broke.Load(); p != nil {
		if p.Value == ErrStopped {
			panic(ErrStopped)
		}
		panic(p)
	}
}

// Panic is what a goroutine of Parallel panicked with, and where.
type Panic struct {
	Value any
	Stack []byte
}

// Error gives the value and the stack of the goroutine.
func (p *Panic) Error() string { return fmt.Sprintf("%v\n%s", p.Value, p.Stack) }

// Place says where a plane lies in its picture: its corner in pixels of the full size, and how many of those
// one of its pixels is wide. The zero value is a plane that is the full-size picture.
type Place struct{ X, Y, Step float64 }

// Full gives the full-size coordinates of the middle of a pixel.
func (p Place) Full(x, y int) (fx, fy float64) {
	s := p.Scale()
	return p.X + (float64(x)+0.5)*s, p.Y + (float64(y)+0.5)*s
}

// Scale is how many full-size pixels one is wide.
func (p Place) Scale() float64 {
	if p.Step == 0 {
		return 1
	}
	return p.Step
}
