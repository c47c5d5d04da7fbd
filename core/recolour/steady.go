package recolour

import (
	"math"
	"slices"

	"episema/core/colour"
	"episema/core/raster"
)

// steady draws results towards the straight line nearest to the tone curve that a plan makes of a part: which lightness
// becomes which. It does so where little is known of a thing. There a plan's guess at each pixel's sheen and tint is partly
// noise, and what it makes of the tones is steep for some and flat for others, so that the fine light and dark that
// everybody saw in the picture drowns. The large shade is as the plan made it, mostly: how far its results lie off the line is
// kept for each place's surroundings, not for the pixel.
type steady struct {
	weight float32 // of the line against what the plan made of the pixel
	large  float32 // and in the large shade
	at, to float32 // this coded luminance becomes that one
	slope  float32
	colour [3]float32               // of the target, of luminance 1: of what is missing to the line
	line   [steadySteps + 2]float32 // what a luminance becomes, coded, over its square root
	around *lightField              // how far results lie off it, beside those where the target is met
}

const (
	largeDark  = 0.7  // of the line in the large shade of dark targets, where what is dark for the plan is soon black
	largeLight = 0.4  // and of light ones, which are flat without the plan's
	shineFrom  = 0.1  // what the plan made so much lighter, coded, is shine
	shineKept  = 0.25 // and of what is above, so much is kept
)

const steadySteps = 1024

// looked is how many pixels are looked at for the line, about. Thirty thousand move half of the pictures of bench/same by at most 6e-6 of
// linear light, nine in ten by 2e-4, and the one that moves most by 4e-3.
const looked = 12_000

// steadyOf looks at what a plan makes of a part, whose tone met equals the target.
func (l *Learned) steadyOf(p *Plan, met Tone, scale float64, weight, large float32) *steady {
	all := l.tonesMade(p, scale)
	if len(all) < 50 {
		return nil
	}
	const bins = 256
	var n [bins]float64
	var m, sx, sy, sxx, sxy float64
	for _, t := range all {
		x, y := float64(t.was), float64(t.is)
		m, sx, sy, sxx, sxy = m+1, sx+x, sy+y, sxx+x*x, sxy+x*y
		n[int(x*(bins-1))]++
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
	s := &steady{weight: weight, large: large, at: float32(at), to: float32(to), slope: float32(slope), colour: [3]float32{1, 1, 1}}
	if y := luma(r, g, b); y > 1e-4 {
		s.colour = [3]float32{r / y, g / y, b / y}
	}
	s.draw()
	s.around = l.aside(s, all, scale)
	var here [1]float32
	s.around.along(here[:], []float64{(float64(met.X) + 0.5) * scale}, (float64(met.Y)+0.5)*scale, -1)
	for i := range s.around.light {
		s.around.light[i] -= here[0] // the tone that is met stays on the line
	}
	return s
}

// toneMade is what a pixel was and what it became, coded.
type toneMade struct {
	at      int // in the picture that was learned from
	was, is float32
}

// tonesMade gives what a plan makes of some pixels that lie wholly in the part.
func (l *Learned) tonesMade(p *Plan, scale float64) []toneMade {
	const pieces = 16 // as many on any machine, so that the sums are the same
	step := max(1, len(l.mask.Pix)/looked)
	seen := (len(l.mask.Pix) + step - 1) / step
	var all [pieces][]toneMade
	raster.Parallel(pieces, func(k int) {
		var q run
		var fx [block]float64
		var at [block]int
		row := -1
		look := func() {
			if q.n > 0 && p.placed() {
				q.place(p, fx[:q.n], (float64(row)+0.5)*scale, scale)
			}
			q.paint(p)
			for i := range q.n {
				all[k] = append(all[k], toneMade{at[i], float32(lightness(q.was.at(i))), float32(lightness(q.o.at(i)))})
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
			row, fx[q.n], at[q.n] = i/l.mask.W, (float64(i%l.mask.W)+0.5)*scale, i
			q.add(l.pic.Pix[3*i], l.pic.Pix[3*i+1], l.pic.Pix[3*i+2])
		}
		look()
	})
	return slices.Concat(all[:]...)
}

// aside gives how far what a plan makes of the part lies off the line, around each place.
func (l *Learned) aside(s *steady, all []toneMade, scale float64) *lightField {
	f, n := l.newField(scale)
	for _, t := range all {
		c := t.at/l.pic.W/bodyCell*f.w + t.at%l.pic.W/bodyCell
		f.light[c] += t.is - s.lineOf(colour.Light32(t.was))
		n[c]++
	}
	f.spread(n)
	return f
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

// lineOf gives what a luminance becomes, coded.
func (s *steady) lineOf(y float32) float32 {
	p := float32(math.Sqrt(float64(unit(y)))) * steadySteps
	k := int(p)
	return s.line[k] + (p-float32(k))*(s.line[k+1]-s.line[k])
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
		to := s.lineOf(luma(wr[i], wg[i], wb[i])) + (1-s.large)*q.aside[i]
		to += shineKept * above(c-to-shineFrom)
		coded[i] = c + s.weight*(to-c)
	}
	colour.Decode(c, c)
	tr, tg, tb := s.colour[0], s.colour[1], s.colour[2]
	for i, to := range c {
		if to > y[i] {
			// More light on the thing, not more of the tint that a dark place has.
			more := to - y[i]
			r[i], g[i], b[i] = r[i]+more*tr, g[i]+more*tg, b[i]+more*tb
		} else if y[i] > 1e-6 {
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

// steadyWeight tells how much of the line a request gets, and how much in its large shade: most where the target is much darker or
// much lighter than most things are, for there tones lie close together.
func (l *Learned) steadyWeight(p *Plan, q Request) (weight, large float32) {
	if q.Own != nil || p.other != nil || q.rebuilds() {
		return 0, 0
	}
	y := luma(float32(q.Goal[0]), float32(q.Goal[1]), float32(q.Goal[2]))
	own := luma(float32(l.Tone.Linear[0]), float32(l.Tone.Linear[1]), float32(l.Tone.Linear[2]))
	light := unit((y-0.55)/0.2) * unit((own-0.03)/0.05) * unit((y/own-1.1)/0.3)
	if p.crisp >= light {
		return p.crisp, largeDark
	}
	return light, largeLight
}
