package recolour

import (
	"math"
	"sync"

	"episema/core/colour"
	"episema/core/raster"
)

// film is what a camera does to light before it is coded: a curve with a toe and a shoulder, more or less of it. Repaint
// works on the light before the curve, where a body's pixels are its colour times the light, and puts the curve back.
type film struct {
	amount  float64
	wary    *film                  // the same, that does not ask of values near the end how much light there was
	inverse [filmSteps + 2]float32 // by the square root of the value, 0..1
	forward [filmSteps + 2]float32 // by the square root of the light over filmTop
}

const (
	filmSteps = 4096
	filmTop   = 16 // light above is as good as this

	// A strong channel near its end says little of the light: the whole curve would have it that a red of 255 was lit three times as
	// strongly as one of 240, and grey paint in its place would be white here and nearly black there. Where nobody said what the thing's
	// own colour is, the curve is straight from this value on. Of 0.5 to 0.8 and no knee at all, 0.6 was best over the tuned scenes of
	// bench/truth.
	waryFrom = 0.6
)

// filmCurve is the whole curve: the rational fit to a reference film curve by Narkowicz (2015), exposed so that middle grey
// stays near where it was.
func filmCurve(x float64) float64 {
	x *= 0.76
	return x * (2.51*x + 0.03) / (x*(2.43*x+0.59) + 0.14)
}

// films are the amounts that are told apart, none first.
// Pictures have none or most of it: filmPrior is how unlikely each is, as half a chi-square.
var filmPrior = [...]float64{0, 1, 0.8, 0.4, 0.2}

var films = sync.OnceValue(func() (f []*film) {
	for _, a := range []float64{0, 0.25, 0.5, 0.75, 1} {
		whole := newFilm(a)
		whole.wary = whole.straightFrom(waryFrom)
		f = append(f, whole)
	}
	return f
})

func newFilm(amount float64) *film {
	f := &film{amount: amount}
	// Between none and all the two are mixed by their logarithms.
	curve := func(x float64) float64 {
		if x <= 0 {
			return 0
		}
		return math.Exp((1-amount)*math.Log(x) + amount*math.Log(filmCurve(x)))
	}
	for i := range f.forward {
		s := float64(i) / filmSteps
		f.forward[i] = float32(curve(s * s * filmTop))
	}
	for i := range f.inverse {
		s := float64(i) / filmSteps
		v := s * s
		lo, hi := 0.0, float64(filmTop)
		for range 60 {
			if m := (lo + hi) / 2; curve(m) < v {
				lo = m
			} else {
				hi = m
			}
		}
		f.inverse[i] = float32(lo)
	}
	return f
}

// straightFrom gives the curve with what lies above a value drawn on as steeply as it is there.
func (f *film) straightFrom(knee float32) *film {
	o := *f
	at := f.light(knee)
	slope := (f.value(1.01*at) - knee) / (0.01 * at)
	for i := range o.forward {
		if s := float32(i) / filmSteps; s*s*filmTop > at {
			o.forward[i] = knee + slope*(s*s*filmTop-at)
		}
	}
	for i := range o.inverse {
		if s := float32(i) / filmSteps; s*s > knee {
			o.inverse[i] = at + (s*s-knee)/slope
		}
	}
	return &o
}

// light gives the light before the curve of a value of the picture, and value the way back.
func (f *film) light(v float32) float32 {
	return curved(v, &f.inverse, 1)
}

func (f *film) value(x float32) float32 {
	return curved(x, &f.forward, 1.0/filmTop)
}

// lightsOf turns values of the picture into the light before the curve.
func (f *film) lightsOf(l *lanes, n int) {
	for c := range l {
		curve(l[c][:n], &f.inverse, 1)
	}
}

// valuesOf gives the picture's values of colours of light. If whole, channels keep their ratios: the curve would take
// the colour out of a light target that was chosen as it shall look.
func (f *film) valuesOf(o *lanes, n int, whole bool) {
	if !whole {
		for c := range o {
			curve(o[c][:n], &f.forward, 1.0/filmTop)
		}
		return
	}
	r, g, b := o.of(n)
	curveWhole(r, g, b, &f.forward, 1.0/filmTop)
}

// lightsOfWhole is the way back of values for a whole colour.
func (f *film) lightsOfWhole(c colour.RGB) colour.RGB {
	top := math.Max(c[0], math.Max(c[1], c[2]))
	if top <= 0 {
		return colour.RGB{}
	}
	k := float64(f.light(float32(top))) / top
	return colour.RGB{c[0] * k, c[1] * k, c[2] * k}
}

func (f *film) lights(c colour.RGB) colour.RGB {
	for k, v := range c {
		c[k] = float64(f.light(float32(v)))
	}
	return c
}

// before gives the part as it was before the curve.
func (l *Learned) before(f *film) *Learned {
	l.filmed.Lock()
	defer l.filmed.Unlock()
	if o := l.byFilm[f]; o != nil {
		return o
	}
	pic := raster.NewRGB(l.pic.W, l.pic.H)
	for i, v := range l.pic.Pix {
		pic.Pix[i] = f.light(v)
	}
	tone := l.Tone
	tone.Linear = f.lights(tone.Linear)
	o := &Learned{Tone: tone, veil: veilOf(pic, l.mask, tone), pic: pic, mask: l.mask, film: f}
	if l.byFilm == nil {
		l.byFilm = map[*film]*Learned{}
	}
	l.byFilm[f] = o
	return o
}

// filmOf tells how much of a curve the picture has: by its shades, and from a part whose own colour is known. There
// light is nearly as strong in each channel, sheen takes nothing away, and somebody exposed for the picture. nil is none.
func (s *Shades) filmOf(seen colour.RGB, own *colour.RGB) *film {
	best, least := 0, math.Inf(1)
	for k, f := range films() {
		c := filmPrior[k]
		if s != nil && s.n > 0 {
			d := (s.slope[k] - 0.05) / 0.1
			c += d * d * min(1, float64(s.n)/60)
		}
		if own != nil {
			c += f.unlikely(f.lights(seen), *own)
		}
		if c < least {
			best, least = k, c
		}
	}
	if best == 0 {
		return nil
	}
	return films()[best]
}

func (f *film) unlikely(seen, own colour.RGB) float64 {
	const (
		spread = 0.10  // of a light's tint, a channel
		stray  = 0.004 // light that is not the body's
		sheen  = 0.015
		level  = 0.35 // of the logarithm of the light at the lit tone
	)
	least := math.Inf(1)
	for h := 0.0; h < 0.05; h += 0.001 {
		var e, s [3]float64
		var num, den float64
		for c := range e {
			o := math.Max(own[c], 0.004)
			e[c] = (seen[c] - h) / o
			s[c] = spread*spread + (stray/o)*(stray/o)
			num += e[c] / s[c]
			den += 1 / s[c]
		}
		l := num / den
		if l <= 0 {
			continue
		}
		cost := (h / sheen) * (h / sheen)
		for c := range e {
			d := e[c]/l - 1
			cost += d * d / (spread*spread + math.Pow(stray/(math.Max(own[c], 0.004)*l), 2))
		}
		d := math.Log(l/1.05) / level
		least = math.Min(least, cost+d*d)
	}
	return least
}
