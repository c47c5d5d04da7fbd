package recolour

import (
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// member tells by degree whether a colour is one of the part's. A mask on a photo always holds some of something else: at
// its edge, what stands around the part. Colours that are common just outside the mask and as good as missing deep
// inside are not the part's. Where the ground has the part's own colours, both are common, and all of it stays.
type member struct {
	odds [memberSide * memberSide * memberSide]float32 // logarithm of outside over inside, by the coded colour
	from float32                                       // odds up to which a colour is the part's
	span float32                                       // and over which it goes down to none
	lit  float32                                       // linear light of the part's lit places
	own  [memberSide * memberSide * memberSide]bool    // cells of the table all of whose corners are the part's
}

const (
	memberSide = 24  // a side of the table over the coded cube
	memberAB   = 30  // bins of a/L and b/L
	memberL    = 12  // bins of L
	memberRing = 24  // pixels of the full size around the mask that are looked at
	memberLit  = 1.6 // the part's lit places may be so much lighter than they are deep inside, in Oklab's L: four times the light
	memberDeep = 14  // and from its edge on inwards what is surely the part's, if it is as thick as that
)

// memberCell is the cell of the table in which a channel lies, by its linear value.
var memberCell = func() (t [4096]uint8) {
	for i := range t {
		t[i] = uint8(min(memberSide-2, int(colour.SRGBEncode(float64(i)/4095)*(memberSide-1))))
	}
	return t
}()

// density is a smoothed histogram of colours: lightness, and what shade leaves alone.
type density struct {
	at     []float32
	n      float32
	lights [128]float32 // how many have each lightness
}

func memberBins(o [3]float32) (l, a, b int) {
	bin := func(v float32, n int) int { return max(0, min(n-1, int(v*float32(n)))) }
	k := o[0] + 0.12
	return bin(o[0], memberL), bin(o[1]/k*1.1+0.5, memberAB), bin(o[2]/k*1.1+0.5, memberAB)
}

func newDensity() *density { return &density{at: make([]float32, memberL*memberAB*memberAB)} }

func (d *density) add(o [3]float32) {
	l, a, b := memberBins(o)
	d.at[(l*memberAB+a)*memberAB+b]++
	d.lights[max(0, min(len(d.lights)-1, int(o[0]*float32(len(d.lights)))))]++
	d.n++
}

// smooth spreads each colour: widely over lightness, since shade is no other colour, but to none lighter than most.
func (d *density) smooth(most float32) {
	for l := range memberL {
		raster.Gauss(d.at[l*memberAB*memberAB:(l+1)*memberAB*memberAB], memberAB, memberAB, 1.1)
	}
	var kernel [memberL]float32
	for i := range kernel {
		kernel[i] = float32(math.Exp(-float64(i*i) / (2 * 1.6 * 1.6)))
	}
	line := make([]float32, lightsUpTo(most))
	for i := range memberAB * memberAB {
		for l := range line {
			var s, w float32
			for j := range memberL {
				k := kernel[max(l-j, j-l)]
				s, w = s+k*d.at[j*memberAB*memberAB+i], w+k
			}
			line[l] = s / w
		}
		for l, v := range line {
			d.at[l*memberAB*memberAB+i] = v
		}
	}
}

// shade makes a colour as common in every light up to most as it is in half of its lights together: the part has shade and light that
// were not seen deep inside.
func (d *density) shade(most float32) {
	for i := range memberAB * memberAB {
		var sum float32
		for l := range memberL {
			sum += d.at[l*memberAB*memberAB+i]
		}
		for l := range lightsUpTo(most) {
			d.at[l*memberAB*memberAB+i] = max(d.at[l*memberAB*memberAB+i], sum/(2*memberL))
		}
	}
}

// lightsUpTo gives how many bins of lightness begin at most at one.
func lightsUpTo(most float32) int { return min(memberL, int(most*memberL)+1) }

// lit gives the lightness of which one in twenty is lighter.
func (d *density) lit() float32 {
	var lighter float32
	for l := len(d.lights) - 1; l > 0; l-- {
		if lighter += d.lights[l]; lighter > 0.05*d.n {
			return float32(l+1) / float32(len(d.lights))
		}
	}
	return 0
}

func (d *density) of(o [3]float32) float32 {
	l, a, b := memberBins(o)
	return d.at[(l*memberAB+a)*memberAB+b] / max(1, d.n)
}

// memberOdds looks at the part and around it once; nil where there is too little of either.
func (l *Learned) memberOdds(space *colour.Space, scale float64) *member {
	l.onceMember.Do(func() {
		w, h := l.pic.W, l.pic.H
		in := raster.SignedDistance(func(i int) bool { return l.mask.Pix[i] >= raster.Whole/2 }, w, h)
		thick := float32(0)
		for _, d := range in {
			thick = max(thick, d)
		}
		deep := min(memberDeep/float32(scale), 0.45*thick)
		lab := colour.NewFast(space)
		core, ring := newDensity(), newDensity()
		for i, d := range in {
			to := core
			switch {
			case d >= deep && l.mask.Pix[i] >= sureIn:
			case d < -1.5 && d >= -memberRing/float32(scale) && l.mask.Pix[i] == 0:
				to = ring
			default:
				continue
			}
			a, b, c := lab.Oklab(l.pic.Pix[3*i], l.pic.Pix[3*i+1], l.pic.Pix[3*i+2])
			to.add([3]float32{a, b, c})
		}
		if core.n < 200 || ring.n < 200 {
			return
		}
		lit := core.lit()
		// No light on the part is many times as strong as that of its lit places: what is so much brighter is something else.
		most := memberLit * lit
		core.smooth(most)
		core.shade(most)
		ring.smooth(1)
		m := &member{lit: lit * lit * lit}
		for i := range m.odds {
			r, g, b := i%memberSide, i/memberSide%memberSide, i/memberSide/memberSide
			v := func(k int) float32 { return colour.Light32(float32(k) / (memberSide - 1)) }
			x, y, z := lab.Oklab(v(r), v(g), v(b))
			o := [3]float32{x, y, z}
			m.odds[i] = float32(math.Log(float64((ring.of(o) + 1e-5) / (core.of(o) + 1e-5))))
		}
		l.member = m
		l.clean()
	})
	return l.member
}

// strictMember is what the part's has at a strictness.
type strictMember struct {
	strictness float64
	*member
}

// strictMember returns what a strictness makes of memberOdds: the same for the same one, as long as no other was asked for.
func (l *Learned) strictMember(space *colour.Space, scale, strictness float64) *member {
	last := l.strict.Load()
	if last == nil || last.strictness != strictness {
		last = &strictMember{strictness, l.memberOdds(space, scale).withStrictness(strictness)}
		l.strict.Store(last)
	}
	return last.member
}

// clean looks at the part again without what does not have its colours, which would shift its lit tone.
func (l *Learned) clean() {
	m := l.member.withStrictness(50)
	mask := raster.NewMask(l.mask.W, l.mask.H)
	var all, left float64
	for i, v := range l.mask.Pix {
		if v == 0 {
			continue
		}
		all++
		if m.of(l.pic.Pix[3*i], l.pic.Pix[3*i+1], l.pic.Pix[3*i+2]) >= 0.5 {
			mask.Pix[i] = v
			left++
		}
	}
	if left > 0.995*all || left < 0.3*all {
		return
	}
	if o, err := LearnIn(l.pic, mask, l.shades); err == nil {
		l.cleaned = o
	}
}

// withoutForeign gives the part as it is to be learned from.
func (l *Learned) withoutForeign() *Learned {
	if l.cleaned != nil {
		return l.cleaned
	}
	return l
}

// withStrictness gives what a strictness from 0 to 100 makes of it: at 50 a colour must be some twenty times as common
// outside to count as foreign.
func (m *member) withStrictness(s float64) *member {
	if m == nil || s <= 0 {
		return nil
	}
	o := *m
	o.from, o.span = float32(3+(50-s)*0.06), 1.4
	for i := range o.own {
		if i+1+memberSide+memberSide*memberSide >= len(o.odds) {
			break
		}
		o.own[i] = true
		for _, step := range [...]int{0, 1, memberSide, memberSide + 1} {
			o.own[i] = o.own[i] && o.odds[i+step] <= o.from && o.odds[i+step+memberSide*memberSide] <= o.from
		}
	}
	return &o
}

// of gives how much of a colour, linear in the picture, is the part's: 1 all, 0 none.
func (m *member) of(r, g, b float32) float32 {
	if cell := func(v float32) int { return int(memberCell[int(unit(v)*4095)]) }; m.own[(cell(b)*memberSide+cell(g))*memberSide+cell(r)] {
		return 1 // most pixels are, and a small table says so
	}
	return m.share(m.oddsOf(r, g, b))
}

// share gives how much of a colour of some odds is the part's.
func (m *member) share(odds float32) float32 {
	t := (odds - m.from) / m.span
	if t <= 0 {
		return 1
	}
	t = min(1, t)
	return 1 - t*t*(3-2*t)
}

// oddsOf gives the odds of a colour, whatever the strictness.
func (m *member) oddsOf(r, g, b float32) float32 {
	const n = memberSide - 1
	x, y, z := colour.Coded32(max(0, min(1, r)))*n, colour.Coded32(max(0, min(1, g)))*n, colour.Coded32(max(0, min(1, b)))*n
	i, j, k := min(n-1, int(x)), min(n-1, int(y)), min(n-1, int(z))
	u, v, w := x-float32(i), y-float32(j), z-float32(k)
	at := (k*memberSide+j)*memberSide + i
	row := func(a int) float32 { return m.odds[a] + u*(m.odds[a+1]-m.odds[a]) }
	plane := func(a int) float32 { p, q := row(a), row(a+memberSide); return p + v*(q-p) }
	p, q := plane(at), plane(at+memberSide*memberSide)
	return p + w*(q-p)
}
