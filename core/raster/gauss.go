package raster

import "math"

// Gauss blurs a w x h plane with a Gaussian of so many pixels that is cut at three times that, the plane continued by its edge values. Where
// all within reach of a pixel is alike it stays as it is. From a width of some 20 pixels on the bell is one of steps, so that it costs the same
// however wide it is: an edge comes out within a thousandth of its height.
func Gauss(p []float32, w, h int, sigma float64) {
	b := bellOf(sigma)
	const strip = 16 // lines go side by side, so that memory is read in order
	Parallel((h+strip-1)/strip, func(s int) {
		l := b.lines(w)
		for y := s * strip; y < min(h, (s+1)*strip); y++ {
			row := p[y*w : (y+1)*w]
			copy(l.in[b.n:], row)
			l.blur(row)
		}
	})
	Parallel((w+strip-1)/strip, func(s int) {
		x0, x1 := s*strip, min(w, (s+1)*strip)
		l := b.lines(h)
		columns, out := make([]float32, (x1-x0)*h), make([]float32, h)
		for y := range h {
			for x, v := range p[y*w+x0 : y*w+x1] {
				columns[x*h+y] = v
			}
		}
		for x := range x1 - x0 {
			column := columns[x*h : (x+1)*h]
			copy(l.in[b.n:], column)
			copy(out, column)
			l.blur(out)
			copy(column, out)
		}
		for y := range h {
			for x := range x1 - x0 {
				p[y*w+x0+x] = columns[x*h+y]
			}
		}
	})
}

// bell is a Gaussian by what it weighs each pixel away from the middle, up to the nth, or, where it is wide, by boxes around the middle.
type bell struct {
	n     int
	taps  []float32
	boxes []box
}

// box weighs all pixels up to the reach-th alike.
type box struct {
	reach  int
	weight float64
}

const (
	wide  = 64 // pixels from which on a bell is made of boxes
	steps = 24 // and of how many
)

func bellOf(sigma float64) bell {
	b := bell{n: int(math.Ceil(3 * sigma))}
	k := make([]float64, b.n+1)
	sum := 0.0
	for i := range k {
		k[i] = math.Exp(-0.5 * float64(i*i) / (sigma * sigma))
		sum += k[i]
		if i > 0 {
			sum += k[i]
		}
	}
	if b.n <= wide {
		b.taps = make([]float32, b.n+1)
		for i, v := range k {
			b.taps[i] = float32(v / sum)
		}
		return b
	}
	// A step is as high as the bell in the mean over it, and the shorter the steeper the bell is: what a step is off by in all goes with its
	// height and its length, and is about the same of each then.
	steep := make([]float64, len(k))
	all := 0.0
	for i, v := range k {
		steep[i] = math.Sqrt(float64(i) * v)
		all += steep[i]
	}
	was, passed, from := 0.0, 0.0, 0
	for i := range k {
		passed += steep[i]
		if passed < all*float64(len(b.boxes)+1)/steps && i < b.n {
			continue
		}
		mean := 0.0
		for _, v := range k[from : i+1] {
			mean += v / float64(i+1-from)
		}
		if len(b.boxes) > 0 {
			b.boxes[len(b.boxes)-1].weight = was - mean
		}
		b.boxes = append(b.boxes, box{i, mean})
		was, from = mean, i+1
	}
	sum = 0
	for _, q := range b.boxes {
		sum += q.weight * float64(2*q.reach+1)
	}
	for i := range b.boxes {
		b.boxes[i].weight /= sum
	}
	return b
}

// lines is what lines of a length are blurred with, one after the other.
type lines struct {
	bell
	in  []float32 // the line, with n pixels more on each side
	sum []float64 // of in up to each pixel
	out []float64
}

func (b bell) lines(length int) *lines {
	l := &lines{bell: b, in: make([]float32, length+2*b.n)}
	if b.taps == nil {
		l.sum, l.out = make([]float64, len(l.in)+1), make([]float64, length)
	}
	return l
}

// blur blurs the line that lies in the middle of in, and in out already.
func (l *lines) blur(out []float32) {
	n := l.n
	first, last := l.in[n], l.in[n+len(out)-1]
	for i := range n {
		l.in[i], l.in[n+len(out)+i] = first, last
	}
	// Nothing changes but within n pixels of where the line does.
	from, to := 0, -1
	summed := l.sum == nil
	for x := 1; x <= len(out); x++ {
		end := x == len(out)
		if !end && l.in[n+x] == l.in[n+x-1] {
			continue
		}
		if !end && to >= x-n {
			to = min(len(out), x+n)
			continue
		}
		if to >= 0 {
			if !summed {
				l.sumUp()
				summed = true
			}
			l.stretch(out[from:to], from)
		}
		from, to = max(0, x-n), min(len(out), x+n)
	}
}

func (l *lines) sumUp() {
	for i, v := range l.in {
		l.sum[i+1] = l.sum[i] + float64(v)
	}
}

// stretch blurs the piece of the line that begins at from.
func (l *lines) stretch(out []float32, from int) {
	in := l.in[from:]
	if l.sum == nil {
		mid := in[l.n:][:len(out)]
		for x := range out {
			out[x] = l.taps[0] * mid[x]
		}
		for i, k := range l.taps[1:] {
			a, b := in[l.n-i-1:][:len(out)], in[l.n+i+1:][:len(out)]
			for x := range out {
				out[x] += k * (a[x] + b[x])
			}
		}
		return
	}
	acc := l.out[:len(out)]
	clear(acc)
	for _, q := range l.boxes {
		a, b := l.sum[from+l.n-q.reach:][:len(out)], l.sum[from+l.n+q.reach+1:][:len(out)]
		for x := range acc {
			acc[x] += q.weight * (b[x] - a[x])
		}
	}
	for x, v := range acc {
		out[x] = float32(v)
	}
}
