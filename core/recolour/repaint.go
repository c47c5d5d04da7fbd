// Package recolour turns source, mask and target into pixels; one file a method.
package recolour

import (
	"fmt"
	"math"
	"slices"
	"strings"

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

	Even  float64 `json:"even,omitempty"`  // 0..100 percent: mixed tints are brought to one first
	Inner string  `json:"inner,omitempty"` // of Repaint: what becomes of several tones; empty leaves the rest as it is
}

// Defaults gives the settings that change nothing about shading and highlights.
func Defaults() Settings { return Settings{ShadeDepth: 0, Highlights: 100, Strength: 100} }

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
	return inRange([]ranged{{"even", s.Even, 0, 100}, {"shade_depth", s.ShadeDepth, -100, 100}, {"highlights", s.Highlights, 0, 200}, {"strength", s.Strength, 0, 100}})
}

// Methods are the ways to recolour.
var Methods = []string{"repaint", "turn-hue", "two-tone", "curves"}

// Plan is a part's change of colour, ready to be applied to any rectangle at any level.
type Plan struct {
	space *colour.Space
	own   [3]float32 // linear colour of the body at its typical lit tone
	goal  [3]float32 // linear colour it becomes there
	veil  [3]float32 // even sheen, already taken out of own

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

	body    *bodyField // nil but for dark glossy bodies
	rebuilt *rebuilt   // nil: what clipped stays as it is

	codedRims bool // mixed pixels were mixed in coded values
}

// shadeSteps is how finely the factor of the shading is kept; the light runs from 0 to 2.
const shadeSteps = 4096

// basis is the least squares with one colour of sheen.
type basis struct {
	colour    [3]float32
	b, c, det float32
	most      float32 // sheen of this colour is no stronger; 0 where there is none
}

// NewPlan prepares Repaint. own, goal and veil are linear RGB of the space.
func NewPlan(space *colour.Space, own, goal, veil colour.RGB, set Settings) *Plan {
	p := &Plan{space: space}
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
	p.white = p.basisOf([3]float32{1, 1, 1})
	if v := (p.veil[0] + p.veil[1] + p.veil[2]) / 3; v > 0 {
		p.mirror = p.basisOf([3]float32{p.veil[0] / v, p.veil[1] / v, p.veil[2] / v})
		// At grazing angles a glossy thing mirrors most of what stands around it.
		p.mirror.most = 0.7 * v / fresnel
	}
	for i, o := range p.own {
		p.wiener[i] = o / (o*o + 0.02*top*top)
	}
	if set.ShadeDepth != 0 {
		// The light to a power that leaves the typical lit tone where it is.
		g := math.Pow(2, set.ShadeDepth/100)
		p.shade = make([]float32, 2*shadeSteps)
		for i := range p.shade {
			m := (float64(i) + 0.5) / shadeSteps
			p.shade[i] = float32(math.Pow(m, g-1))
		}
	}
	p.high = float32(set.Highlights / 100)
	p.strength = float32(set.Strength / 100)
	p.finish = newFinish(space, set.Finish)
	return p
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

// split parts one pixel into the body's light a channel (1 at the typical lit tone), sheen, and a rest
// that neither explains: I = own*e + sheen + rest + veil. The body's light is at most top.
func (p *Plan) split(r, g, b, top float32) (e, sheen, rest [3]float32) {
	r, g, b = r-p.veil[0], g-p.veil[1], b-p.veil[2]
	s, h := p.white.fit(p, r, g, b)
	l := p.white.colour
	if p.mirror.most > 0 {
		// Weak sheen is the surroundings', strong sheen the light's.
		if k := 1 - h/p.mirror.most; k > 0 {
			s2, h2 := p.mirror.fit(p, r, g, b)
			s += k * (s2 - s)
			for i := range l {
				l[i] = (1-k)*h + k*h2*p.mirror.colour[i]
			}
			h = 1
		}
	}
	for i := range l {
		sheen[i] = h * l[i]
	}
	if s > top {
		// More light than a body sends back: the excess is sheen.
		for i := range sheen {
			sheen[i] += (s - top) * p.ownMean
		}
		s = top
	}
	for i, v := range [3]float32{r, g, b} {
		res := v - s*p.own[i] - sheen[i]
		k := res * p.wiener[i]
		k = max(-0.2*s, min(0.2*s, k)) // no light is tinted more; what is left is a coloured reflection
		e[i] = s + k
		rest[i] = res - k*p.own[i]
	}
	return e, sheen, rest
}

// paint gives the colour a pixel that lies wholly in the part becomes.
func (p *Plan) paint(r, g, b float32) (float32, float32, float32) {
	in := [3]float32{r, g, b}
	if p.first != nil {
		in[0], in[1], in[2] = p.first(r, g, b)
	}
	var o [3]float32
	if p.other != nil {
		o[0], o[1], o[2] = p.other(in[0], in[1], in[2])
	} else {
		o = p.repaint(in[0], in[1], in[2])
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

func (p *Plan) repaint(r, g, b float32) [3]float32 { return p.repaintTo(r, g, b, bodyTop) }

// repaintTo repaints a pixel whose body sends back no more than top times what it does at its typical lit tone.
func (p *Plan) repaintTo(r, g, b, top float32) (o [3]float32) {
	e, h, rest := p.split(r, g, b, top)
	if p.even > 0 {
		m, l := (e[0]+e[1]+e[2])/3, luma(rest[0], rest[1], rest[2])
		for i := range e {
			e[i] += p.even * (m - e[i])
			rest[i] += p.even * (l - rest[i])
		}
	}
	if p.shade != nil {
		k := p.shade[int(max(0, min(2*shadeSteps-1, (e[0]+e[1]+e[2])*(shadeSteps/3.0))))]
		for i := range e {
			e[i] *= k
		}
	}
	for i := range o {
		o[i] = p.goal[i]*e[i] + p.high*h[i] + rest[i] + p.veil[i]
	}
	return o
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
