// Package recolour turns source, mask and target into pixels; one file a method.
package recolour

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"

	"episema/core/colour"
)

// Settings say how a part is recoloured. The zero value is not the default; use Defaults.
type Settings struct {
	Method  string   `json:"method,omitempty"` // one of Methods; empty is repaint
	Turn    *Turn    `json:"turn,omitempty"`
	TwoTone *TwoTone `json:"two_tone,omitempty"`
	Curves  *Curves  `json:"curves,omitempty"`
	Finish  *Finish  `json:"finish,omitempty"`

	// The hands of Repaint; strength is of any method.
	ShadeDepth float64 `json:"shade_depth"` // -100..100; 0 keeps the picture's shading
	Highlights float64 `json:"highlights"`  // 0..200 percent of the picture's own
	Strength   float64 `json:"strength"`    // 0..100 percent of the change

	Rebuild *Rebuild `json:"rebuild,omitempty"`

	OnlyOwn float64 `json:"only_own,omitempty"` // 0..100: how strictly only what has the part's colours is changed; 0 changes all of the mask

	Even  float64 `json:"even,omitempty"`  // 0..100 percent: mixed tints are brought to one first
	Inner string  `json:"inner,omitempty"` // of Repaint: what becomes of several tones; empty leaves the rest as it is
}

// Defaults gives the settings that change nothing about shading and highlights.
func Defaults() Settings { return Settings{ShadeDepth: 0, Highlights: 100, Strength: 100, OnlyOwn: 50} }

// Validate says which setting is out of its range.
func (s Settings) Validate() error {
	if s.Method != "" && !slices.Contains(Methods, s.Method) {
		return fmt.Errorf("the method %q is not known; use one of %s", s.Method, strings.Join(Methods, ", "))
	}
	for _, v := range []interface{ Validate() error }{s.Turn, s.TwoTone, s.Curves, s.Finish, s.Rebuild} {
		if err := v.Validate(); err != nil {
			return err
		}
	}
	if s.Inner != "" && s.Inner != InnerFlat && s.Inner != InnerKeep {
		return fmt.Errorf("inner is %q; use flat or keep, or leave it out", s.Inner)
	}
	return inRange([]ranged{{"even", s.Even, 0, 100}, {"only_own", s.OnlyOwn, 0, 100}, {"shade_depth", s.ShadeDepth, -100, 100}, {"highlights", s.Highlights, 0, 200}, {"strength", s.Strength, 0, 100}})
}

// Methods are the ways to recolour.
var Methods = []string{"repaint", "turn-hue", "two-tone", "curves"}

// Plan is a part's change of colour, ready to be applied to any rectangle at any level.
type Plan struct {
	space *colour.Space
	own   [3]float32 // linear colour of the body at its typical lit tone
	goal  [3]float32 // linear colour it becomes there
	veil  [3]float32 // even sheen, already taken out of own
	over  [3]float32 // and what of it lies over the goal

	// least squares of one pixel: I - veil = s*own + h*sheen colour, for the light's colour (white) and
	// for that of the surroundings
	white, mirror basis
	a             float32
	ownMean       float32
	wiener        [3]float32
	shade         []float32 // factor on the light by the light, in steps of 1/shadeSteps; nil for none
	high          float32
	strength      float32

	first  painter  // what is done before; nil for nothing
	even   float32  // share of a pixel's own tint that is taken away
	other  painter  // another method than Repaint; nil for Repaint
	finish finisher // nil for none

	film      *film       // nil: the picture's values are the light itself
	carry     float32     // 0..1 of the tint of the light, and of what is left over, that the target takes
	whole     bool        // the curve acts on the strongest channel, and the others go along
	mirrored  float32     // 0..1 of the tint of what is mirrored that it takes
	body      *lightField // nil but for dark glossy bodies
	large     *lightField // light around each place; nil where it does not matter
	dull      float32     // 0..1: sheen no brighter than the body around it is the body's
	sheenAt   float32     // so much brighter than the body around it, a pixel has all of its sheen
	crisp     float32     // 0..1: how much more fine light and dark than in the picture
	gleam     float32     // share of the sheen that the target keeps
	lit, room float32     // light where the target is met, and up to which there is room above it, in typical lit tones
	roll      shoulder
	floor     float32  // what a pixel with any light in it is not darker than
	steady    *steady  // nil: each pixel for itself
	member    *member  // nil: the whole mask is the part's
	rebuilt   *rebuilt // nil: what clipped stays as it is

	quick bool   // Apply makes a table to read from
	table *table // nil: each pixel is worked out

	codedRims bool // mixed pixels were mixed in coded values

	share  []float32 // of each pixel, that Apply adds to what is there; nil: it changes what is there
	hidden []bool    // pixels that Apply leaves alone; nil: none

	done <-chan struct{} // ends Apply early
}

// shadeSteps is how finely the factor of the shading is kept; the light runs from 0 to 2.
const shadeSteps = 4096

// basis is the least squares with one colour of sheen.
type basis struct {
	colour    [3]float32
	b, c, det float32
	most      float32 // sheen of this colour is no stronger; 0 where there is none
}

// newPlan prepares Repaint. own, goal and veil are linear RGB of the space; carry is what the target takes of tints.
func newPlan(space *colour.Space, own, goal, veil colour.RGB, carry, mirrored float64, gamma float64, set Settings) *Plan {
	p := &Plan{space: space, carry: float32(carry), mirrored: float32(mirrored), gleam: 1, sheenAt: sheenFull}
	top := float32(0)
	for i := range 3 {
		p.own[i] = float32(math.Max(own[i], least/4))
		p.goal[i] = float32(goal[i])
		p.veil[i] = float32(veil[i])
		top = max(top, p.own[i])
	}
	for _, o := range p.own {
		p.a += o * o
		p.ownMean += o / 3
	}
	y := luma(p.veil[0], p.veil[1], p.veil[2])
	for i, v := range p.veil {
		p.over[i] = y + p.mirrored*(v-y)
	}
	p.white = p.basisOf([3]float32{1, 1, 1})
	if v := (p.veil[0] + p.veil[1] + p.veil[2]) / 3; v > 0 {
		p.mirror = p.basisOf([3]float32{p.veil[0] / v, p.veil[1] / v, p.veil[2] / v})
		// At grazing angles a glossy thing mirrors most of what stands around it.
		p.mirror.most = 0.7 * v / fresnel
	}
	for i, o := range p.own {
		p.wiener[i] = o / (o*o + 0.02*top*top)
	}
	if g := gamma * math.Pow(2, set.ShadeDepth/100); g != 1 {
		// The light to a power that leaves the typical lit tone where it is.
		logs := shadeLogs()
		if gamma < 1 {
			logs = liftedLogs()
		}
		p.shade = make([]float32, len(logs))
		for i, l := range logs {
			p.shade[i] = float32(math.Exp((g - 1) * l))
		}
	}
	p.high = float32(set.Highlights / 100)
	p.strength = float32(set.Strength / 100)
	p.finish = newFinish(space, set.Finish)
	return p
}

// shadeLogs and liftedLogs give the logarithm of each light that a shade is tabulated for; with the latter the noise of the dark is not
// lifted without end.
var (
	shadeLogs  = sync.OnceValue(func() []float64 { return logsOfLight(0) })
	liftedLogs = sync.OnceValue(func() []float64 { return logsOfLight(0.02) })
)

func logsOfLight(lift float64) []float64 {
	logs := make([]float64, 2*shadeSteps)
	for i := range logs {
		logs[i] = math.Log(((float64(i)+0.5)/shadeSteps + lift) / (1 + lift))
	}
	return logs
}

// carryOf tells how much of a light's tint, as seen on a body, a target takes: all of it where the body is as good as
// neutral, so that the tint was seen for sure, or where the target has a colour that covers it.
func carryOf(space *colour.Space, own, goal colour.RGB) float64 {
	saturation := func(c colour.RGB, from, to float64) float64 {
		o := space.Oklab(c)
		t := math.Max(0, math.Min(1, (math.Hypot(o[1], o[2])/math.Max(o[0], 0.05)-from)/(to-from)))
		return t * t * (3 - 2*t)
	}
	return math.Max(1-saturation(own, 0.02, 0.08), saturation(goal, 0.03, 0.14))
}

// basisOf prepares the least squares. The light's tint differs from place to place by some percent of what
// the body sends back; sheen is mostly weak. Both are weighed against each other, so that where the own
// colour is nearly that of the sheen a tint is not mistaken for sheen.
func (p *Plan) basisOf(l [3]float32) basis {
	const tint, sheen = 0.06, 0.03
	o := basis{colour: l}
	for i := range l {
		o.b += l[i] * p.own[i]
		o.c += l[i] * l[i]
	}
	o.c += tint*tint*p.a/3/(sheen*sheen) + 0.02
	o.det = p.a*o.c - o.b*o.b
	return o
}

// fit gives the body's light and the sheen of one pixel.
func (b *basis) fit(p *Plan, r, g, bl float32) (s, h float32) {
	d := r*p.own[0] + g*p.own[1] + bl*p.own[2]
	f := r*b.colour[0] + g*b.colour[1] + bl*b.colour[2]
	s = (b.c*d - b.b*f) / b.det
	h = (p.a*f - b.b*d) / b.det
	if h < 0 {
		h, s = 0, d/p.a
	}
	if s < 0 {
		s, h = 0, max(0, f/(b.colour[0]*b.colour[0]+b.colour[1]*b.colour[1]+b.colour[2]*b.colour[2]))
	}
	return s, h
}

// channels is a value for each channel. Unlike an array a struct of three is kept in registers: a view is worked out a tenth sooner.
type channels struct{ r, g, b float32 }

func (v channels) each() [3]float32 { return [3]float32{v.r, v.g, v.b} }

func (v channels) mean() float32 { return (v.r + v.g + v.b) / 3 }

func (v channels) luma() float32 { return luma(v.r, v.g, v.b) }

// scaled returns k times the values.
func (v channels) scaled(k float32) channels { return channels{v.r * k, v.g * k, v.b * k} }

// toward returns the values drawn to one, by a share.
func (v channels) toward(to, share float32) channels {
	return channels{v.r + share*(to-v.r), v.g + share*(to-v.g), v.b + share*(to-v.b)}
}

// from returns the values at a share of their distance to one.
func (v channels) from(one, share float32) channels {
	return channels{one + share*(v.r-one), one + share*(v.g-one), one + share*(v.b-one)}
}

// split parts one pixel into the body's light a channel (1 at the typical lit tone), sheen, and a rest
// that neither explains: I = own*e + sheen + rest + veil. The body's light is at most top.
func (p *Plan) split(r, g, b, top float32) (e, sheen, rest channels) {
	r, g, b = r-p.veil[0], g-p.veil[1], b-p.veil[2]
	s, h := p.white.fit(p, r, g, b)
	w := &p.white.colour
	sheen = channels{h * w[0], h * w[1], h * w[2]}
	if p.mirror.most > 0 {
		// Weak sheen is the surroundings', strong sheen the light's.
		if k := 1 - h/p.mirror.most; k > 0 {
			s2, h2 := p.mirror.fit(p, r, g, b)
			s += k * (s2 - s)
			c, own := &p.mirror.colour, (1-k)*h
			sheen = channels{own + k*h2*c[0], own + k*h2*c[1], own + k*h2*c[2]}
		}
	}
	if s > top {
		// More light than a body sends back: the excess is sheen.
		over := (s - top) * p.ownMean
		sheen = channels{sheen.r + over, sheen.g + over, sheen.b + over}
		s = top
	}
	e.r, rest.r = p.part(0, r, s, sheen.r)
	e.g, rest.g = p.part(1, g, s, sheen.g)
	e.b, rest.b = p.part(2, b, s, sheen.b)
	return e, sheen, rest
}

// part parts what is left of a channel without the body's light and the sheen into a tint of the light and a rest.
func (p *Plan) part(c int, v, s, sheen float32) (e, rest float32) {
	res := v - s*p.own[c] - sheen
	k := res * p.wiener[c]
	k = max(-0.2*s, min(0.2*s, k)) // no light is tinted more; what is left is a coloured reflection
	return s + k, res - k*p.own[c]
}

// dulled takes back what was taken for sheen on a body that is not dark, where the pixel is no brighter than the body around
// it: there it is a paler place of the body, or noise. Sheen comes on top of the body's light.
func (p *Plan) dulled(e, sheen channels, top, y, light float32) (channels, channels) {
	own := luma(p.own[0], p.own[1], p.own[2])
	over := (y-luma(p.veil[0], p.veil[1], p.veil[2]))/(light*own+1e-6) - 1
	back := p.dull * (1 - max(0, min(1, over/p.sheenAt)))
	if p.film == nil {
		back *= trust(top) // what clipped says nothing
	}
	h := sheen.scaled(back)
	return channels{e.r + h.r/own, e.g + h.g/own, e.b + h.b/own}, channels{sheen.r - h.r, sheen.g - h.g, sheen.b - h.b}
}

// carried takes from the light, the sheen and the rest the tint that the target cannot carry: what looks like a tint on a
// strong colour is mostly the colour's own, and a neutral target would show it.
func (p *Plan) carried(e, sheen, rest channels) (channels, channels, channels) {
	if p.carry == 1 {
		return e, sheen, rest
	}
	return e.from(e.mean(), p.carry), sheen.from(sheen.luma(), p.mirrored), rest.scaled(p.carry)
}

// paint gives the colour a pixel that lies wholly in the part becomes, wherever it is.
func (p *Plan) paint(r, g, b float32) (float32, float32, float32) {
	return p.paintIn(r, g, b, surroundings{top: bodyTop})
}

// surroundings are what a pixel's place says about it.
type surroundings struct {
	top   float32     // the body sends back no more, in typical lit tones
	x, y  float64     // in pixels of the full size, where large is asked
	large *lightField // light of the body around it, in typical lit tones; nil where it does not matter
	light float32     // that light where it is known already; else 0
	body  float32     // light of a dark glossy body; 0 where it does not matter
}

// paintIn is paint where the place matters.
func (p *Plan) paintIn(r, g, b float32, at surroundings) (float32, float32, float32) {
	in := [3]float32{r, g, b}
	if p.first != nil {
		in[0], in[1], in[2] = p.first(r, g, b)
	}
	if p.film != nil {
		for c, v := range in {
			in[c] = p.film.light(v)
		}
	}
	var o [3]float32
	switch {
	case p.other != nil:
		o[0], o[1], o[2] = p.other(in[0], in[1], in[2])
	default:
		o = p.repaintIn(in[0], in[1], in[2], at)
	}
	if p.film != nil {
		o = p.film.values(o, p.whole)
	}
	if p.steady != nil {
		o = p.steady.of(r, g, b, o)
	}
	if p.roll.knee > 0 {
		if p.roll.amount > 0 {
			o = p.roll.of(o, max(r, g, b))
		}
		if low := min(p.floor, 0.5*min(r, g, b)); low > 0 {
			for c, v := range o {
				o[c] = max(v, low)
			}
		}
	}
	return p.complete([3]float32{r, g, b}, o)
}

// complete does what follows every method: the finish and the strength of the change.
func (p *Plan) complete(was, o [3]float32) (float32, float32, float32) {
	if p.finish != nil {
		o = p.finish(was, o)
	}
	if p.strength != 1 {
		for i, v := range was {
			o[i] = v + p.strength*(o[i]-v)
		}
	}
	return o[0], o[1], o[2]
}

func (p *Plan) repaint(r, g, b float32) [3]float32 {
	return p.repaintIn(r, g, b, surroundings{top: bodyTop})
}

// repaintIn repaints the light of a pixel.
func (p *Plan) repaintIn(r, g, b float32, at surroundings) (o [3]float32) {
	e, h, rest := p.split(r, g, b, at.top)
	if at.body > 0 {
		// The light is mostly the neighbourhood's, and what is left over or missing is what the body mirrors.
		s := e.toward(at.body, p.body.weight)
		h = channels{h.r + p.own[0]*(e.r-s.r), h.g + p.own[1]*(e.g-s.g), h.b + p.own[2]*(e.b-s.b)}
		e = s
	}
	light := at.light // of the body around
	if at.large != nil && (p.crisp > 0 || p.room > 0 || p.dull > 0 && h.r+h.g+h.b > 1e-4) {
		light = max(1e-3, at.large.at(at.x, at.y))
	}
	if p.dull > 0 && light > 0 {
		e, h = p.dulled(e, h, max(r, g, b), luma(r, g, b), light)
	}
	if p.even > 0 {
		e, rest = e.toward(e.mean(), p.even), rest.toward(rest.luma(), p.even)
	}
	e, h, rest = p.carried(e, h, rest)
	if light > 0 {
		e = p.shaded(e, light)
	}
	if p.shade != nil {
		e = e.scaled(p.shade[int(max(0, min(2*shadeSteps-1, (e.r+e.g+e.b)*(shadeSteps/3.0))))])
	}
	gleam := p.high * p.gleam
	return [3]float32{p.goal[0]*e.r + gleam*h.r + rest.r + p.over[0], p.goal[1]*e.g + gleam*h.g + rest.g + p.over[1], p.goal[2]*e.b + gleam*h.b + rest.b + p.over[2]}
}

// shaded gives a body's light more contrast against the light around, and rolls off what is lit above the target's room.
func (p *Plan) shaded(e channels, light float32) channels {
	if p.crisp > 0 {
		// Raised by the square, which is the power a table would cost more for.
		q := max(0.4, min(1.8, (e.r+e.g+e.b)/(3*light)))
		e = e.scaled(1 + p.crisp*(q-1))
	}
	if p.room > 0 {
		if m := min(light, e.mean()); m > p.lit {
			e = e.scaled(1 + p.roll.amount*(p.within(m)/m-1))
		}
	}
	return e
}

// Beyond tells how far a pixel's result lies out of gamut, and how far above white, before it is brought back.
func (p *Plan) Beyond(px []float32) (gamut, white float64) {
	r, g, b := p.paint(px[0], px[1], px[2])
	lo, hi := float64(min(r, g, b)), float64(max(r, g, b))
	if lo > 1 {
		return 0, lo - 1
	}
	return max(0, -lo-0.001, hi-1.001), 0
}
