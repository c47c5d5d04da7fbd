package recolour

import (
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// steady is the straight line nearest to the tone curve that a plan makes of a part: which lightness becomes which. Results
// are drawn towards it where little is known of a thing. There a plan's guess at each pixel's sheen and tint is partly
// noise, and what it makes of the tones is steep for some and flat for others, so that the fine light and dark that
// everybody saw in the picture drowns.
type steady struct {
	weight float32
	at, to float32 // this coded luminance becomes that one
	slope  float32
	line   [steadySteps + 2]float32 // what a luminance becomes, coded, over its square root
}

const steadySteps = 1024

// looked is how many pixels are looked at for the line, about. Thirty thousand move half of the pictures of bench/same by at most 6e-6 of
// linear light, nine in ten by 2e-4, and the one that moves most by 4e-3.
const looked = 12_000

// steadyOf looks at what a plan makes of a part, whose tone met equals the target.
func (l *Learned) steadyOf(p *Plan, met Tone, scale, weight float64) *steady {
	const bins = 256
	const pieces = 16 // as many on any machine, so that the sums are the same
	var n [bins]float64
	var m, sx, sy, sxx, sxy float64
	step := max(1, len(l.mask.Pix)/looked)
	seen := (len(l.mask.Pix) + step - 1) / step
	var all [pieces]struct {
		n                   [bins]float64
		m, sx, sy, sxx, sxy float64
	}
	raster.Parallel(pieces, func(k int) {
		s := &all[k]
		var q run
		var fx [block]float64
		row := -1
		look := func() {
			if q.n > 0 && p.placed() {
				q.place(p, fx[:q.n], (float64(row)+0.5)*scale, scale)
			}
			q.paint(p)
			for i := range q.n {
				x, y := lightness(q.was.at(i)), lightness(q.o.at(i))
				s.m, s.sx, s.sy, s.sxx, s.sxy = s.m+1, s.sx+x, s.sy+y, s.sxx+x*x, s.sxy+x*y
				s.n[int(x*(bins-1))]++
			}
			q.n = 0
		}
		for i := k * seen / pieces * step; i < (k+1)*seen/pieces*step && i < len(l.mask.Pix); i += step {
			if l.mask.Pix[i] < sureIn {
				continue
			}
			if q.n == block || q.n > 0 && i/l.mask.W != row {
				look()
			}
			row, fx[q.n] = i/l.mask.W, (float64(i%l.mask.W)+0.5)*scale
			q.add(l.pic.Pix[3*i], l.pic.Pix[3*i+1], l.pic.Pix[3*i+2])
		}
		look()
	})
	for k := range all {
		s := &all[k]
		m, sx, sy, sxx, sxy = m+s.m, sx+s.sx, sy+s.sy, sxx+s.sxx, sxy+s.sxy
		for i, v := range s.n {
			n[i] += v
		}
	}
	if m < 50 {
		return nil
	}
	slope := (sxy - sx*sy/m) / math.Max(1e-9, sxx-sx*sx/m)
	px := [3]float32{float32(met.Linear[0]), float32(met.Linear[1]), float32(met.Linear[2])}
	r, g, b := p.paint(px[0], px[1], px[2])
	at, to := lightness(px[0], px[1], px[2]), lightness(r, g, b)
	// Its foot is above black.
	lo, below := 0, 0.0
	for below < 0.01*m {
		below += n[lo]
		lo++
	}
	if d := at - float64(lo)/(bins-1); d > 0 {
		slope = math.Min(slope, 0.9*to/d)
	}
	s := &steady{weight: float32(weight), at: float32(at), to: float32(to), slope: float32(slope)}
	s.draw()
	return s
}

// draw works the line out for each luminance. It neither burns nor crushes: near its ends it bends.
func (s *steady) draw() {
	low, high := min(0.6*s.to, 0.5), max(0.5, s.to-0.02)
	for i := range s.line {
		root := float32(i) / steadySteps
		line := s.to + s.slope*(colour.Coded32(min(1, root*root))-s.at)
		if line < low {
			d := low * 0.8
			line = low - d*(1-exp32((line-low)/d))
		}
		if line > high {
			d := max(0.985-high, 0.005)
			line = high + d*(1-exp32((high-line)/d))
		}
		s.line[i] = line
	}
}

// of draws results towards the line.
func (s *steady) of(q *run) {
	var light, coded [block]float32
	y, c := light[:q.n], coded[:q.n]
	r, g, b := q.o.of(q.n)
	wr, wg, wb := q.was.of(q.n)
	for i := range r {
		y[i] = luma(r[i], g[i], b[i])
	}
	colour.Code(c, y)
	for i, c := range c {
		if c > 1 {
			c = 1
		}
		p := float32(math.Sqrt(float64(unit(luma(wr[i], wg[i], wb[i]))))) * steadySteps
		k := int(p)
		line := s.line[k] + (p-float32(k))*(s.line[k+1]-s.line[k])
		w := s.weight * max(0.8, min(1, 1-(c-line-0.06)*(1/0.3))) // strong sheen stays what it is, mostly
		coded[i] = c + w*(line-c)
	}
	colour.Decode(c, c)
	for i, to := range c {
		if y[i] > 1e-6 {
			k := to / y[i]
			r[i], g[i], b[i] = r[i]*k, g[i]*k, b[i]*k
		}
	}
}

func exp32(v float32) float32 { return float32(math.Exp(float64(v))) }

// lightness is that of a linear colour, coded.
func lightness(r, g, b float32) float64 {
	return float64(colour.Coded32(max(0, min(1, luma(r, g, b)))))
}

// steadyWeight tells how much of the line a request gets: most where the target is much darker or much lighter than most
// things are, for there tones lie close together.
func (l *Learned) steadyWeight(p *Plan, q Request) float64 {
	if q.Own != nil || p.other != nil || q.rebuilds() {
		return 0
	}
	y := float64(luma(float32(q.Goal[0]), float32(q.Goal[1]), float32(q.Goal[2])))
	own := float64(luma(float32(l.Tone.Linear[0]), float32(l.Tone.Linear[1]), float32(l.Tone.Linear[2])))
	light := math.Max(0, math.Min(1, (y-0.55)/0.2)) * math.Max(0, math.Min(1, (own-0.03)/0.05)) * math.Max(0, math.Min(1, (y/own-1.1)/0.3))
	return math.Max(0.9*float64(p.crisp), 0.75*light)
}
