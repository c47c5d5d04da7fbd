// Package recolour turns source, mask and target into pixels; one file a method.
package recolour

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"

	"episema/core/colour"
	"episema/core/raster"
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
	glare         float32 // of light that a body does not send back, so much is sheen
	wiener        [3]float32
	shade         []float32 // factor on the light by the light, in steps of 1/shadeSteps; nil for none
	high          float32
	strength      float32

	first  lanesPainter // what is done before; nil for nothing
	even   float32      // share of a pixel's own tint that is taken away
	other  lanesPainter // another method than Repaint; nil for Repaint
	finish finisher     // nil for none

	film      *film       // nil: the picture's values are the light itself
	carry     float32     // 0..1 of the tint of the light, and of what is left over, that the target takes
	relit     float32     // 0..1 of what is left over that it takes as light, without a tint
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

	codedRims bool // mixed pixels were mixed in coded values

	share  []float32 // of each pixel, that Apply adds to what is there; nil: it changes what is there
	hidden []bool    // pixels that Apply leaves alone; nil: none
	sight  *Sight    // of others of the same part; nil: none

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
	p.glare = p.glareOf()
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

// glareOf tells how much of the light above what a body sends back is sheen. Sheen is in all channels alike, so that a strong colour's excess
// is the body's own but for what its weakest channel shares. Of a dark body's, which is no more than a glossy thing mirrors anyway, all is sheen.
func (p *Plan) glareOf() float32 {
	return min(p.ownMean, min(p.own[0], p.own[1], p.own[2])+darkSheen)
}

// darkSheen is what a glossy thing mirrors at least, where that is noticed.
const darkSheen = 0.02

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

// carryOf tells how much of a light's tint, as seen on a body, a target takes: all of it where the tint was seen for sure, or where the target
// has a colour that covers it.
func carryOf(space *colour.Space, own, goal colour.RGB) float64 {
	return math.Max(seenTint(space, own, goal), saturation(space, goal, 0.03, 0.14))
}

// seenTint tells how sure it is that a tint on a body is the light's: as far as the body is neutral, and as far as a target that is lighter
// than the body does not make much of what a dark one mirrors.
func seenTint(space *colour.Space, own, goal colour.RGB) float64 {
	const mirrors = 0.15 // of a body that sends back so much half is believed; the best over the tuned scenes of bench/truth
	light := func(c colour.RGB) float64 { return float64(luma(float32(c[0]), float32(c[1]), float32(c[2]))) }
	y := light(own)
	lighter := math.Max(0, math.Min(1, (light(goal)/math.Max(y, least)-1)/2))
	return (1 - saturation(space, own, 0.02, 0.08)) * (1 - lighter*mirrors*mirrors/(y*y+mirrors*mirrors))
}

// saturation tells whether a colour has any, from 0 at the one value of chroma over lightness to 1 at the other.
func saturation(space *colour.Space, c colour.RGB, from, to float64) float64 {
	o := space.Oklab(c)
	t := math.Max(0, math.Min(1, (math.Hypot(o[1], o[2])/math.Max(o[0], 0.05)-from)/(to-from)))
	return t * t * (3 - 2*t)
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

// paint gives the colour a pixel that lies wholly in the part becomes, wherever it is.
func (p *Plan) paint(r, g, b float32) (float32, float32, float32) {
	var s run
	s.add(r, g, b)
	s.paint(p)
	return s.o.at(0)
}

// Beyond tells of some pixels of a picture how far each one's result lies out of gamut, and how far above white, before it is brought back. It ends
// early once nobody waits.
func (p *Plan) Beyond(pic *raster.RGB, pixels []int) (gamut, white []float32) {
	gamut, white = make([]float32, len(pixels)), make([]float32, len(pixels))
	raster.Parallel((len(pixels)+beyondPiece-1)/beyondPiece, func(n int) {
		if closed(p.done) {
			return
		}
		var s run
		for from := n * beyondPiece; from < min(len(pixels), (n+1)*beyondPiece); from += block {
			s.n = 0
			for _, i := range pixels[from:min(len(pixels), from+block)] {
				s.add(pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2])
			}
			s.paint(p)
			for k := range s.n {
				r, g, b := s.o.at(k)
				if lo := min(r, g, b); lo > 1 {
					white[from+k] = lo - 1
				} else {
					gamut[from+k] = max(0, -lo-0.001, max(r, g, b)-1.001)
				}
			}
		}
	})
	return gamut, white
}

// beyondPiece is how many pixels go one after the other.
const beyondPiece = 128 * block
