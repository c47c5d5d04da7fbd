package recolour

import (
	"math"
	"sync"
	"sync/atomic"

	"episema/core/colour"
	"episema/core/raster"
)

// Request is what somebody asked of Repaint.
type Request struct {
	Own      *colour.RGB // the thing's own colour where it is known; nil to estimate it
	Goal     colour.RGB  // target, linear in the picture's space
	Match    *[2]int     // the pixel of the plane whose tone shall equal the target; nil for the typical lit tone
	Settings Settings
	Coded    bool    // the picture is a drawing, whose rims are mixed in coded values
	Scale    float64 // full-size pixels a pixel of what was learned from; 0 is 1
	Fine     Fine    // reads the full size; nil: no grain is taken
}

// rebuilds says whether what clipped is rebuilt.
func (q *Request) rebuilds() bool { return q.Settings.Rebuild != nil && q.Settings.Rebuild.Amount > 0 }

// clips says whether the photo lost some of the part's light.
func (l *Learned) clips() bool {
	own := ownOf(l.Tone.Linear)
	for i, m := range l.mask.Pix {
		if m >= raster.Whole/2 && clipped(own, l.pic.Pix[3*i:3*i+3]) > 0.5 {
			return true
		}
	}
	return false
}

// Learned is what a part says about itself, whatever it shall become.
type Learned struct {
	Tone Tone // the typical lit tone
	veil colour.RGB
	pic  *raster.RGB
	mask *raster.Mask

	once  sync.Once
	tints []tint // where asked for

	shades     *Shades // of the whole picture
	onceShades sync.Once
	member     *member
	onceMember sync.Once
	strict     atomic.Pointer[strictMember]
	cleaned    *Learned // the same part without what does not have its colours; nil where that is next to nothing

	lights sync.Mutex
	light  map[lightKey]*lightField // what lightOf made

	film   *film // what was taken out already; nil for nothing
	filmed sync.Mutex
	byFilm map[*film]*Learned
}

// Learn looks at a part in pic (any level of the picture, linear) through its mask (the same size).
func Learn(pic *raster.RGB, mask *raster.Mask) (*Learned, error) { return LearnIn(pic, mask, nil) }

// LearnIn is Learn in a picture whose shades are known; nil to look at them when they are needed.
func LearnIn(pic *raster.RGB, mask *raster.Mask, shades *Shades) (*Learned, error) {
	tone, err := LitTone(pic, mask)
	if err != nil {
		return nil, err
	}
	return &Learned{Tone: tone, veil: veilOf(pic, mask, tone), pic: pic, mask: mask, shades: shades}, nil
}

// Plan prepares Repaint. It gives the plan, and the tone at which the result must equal the target.
func (l *Learned) Plan(space *colour.Space, q Request) (*Plan, Tone, error) {
	var foreign *member
	if q.Settings.OnlyOwn > 0 && !q.Coded {
		foreign = l.strictMember(space, max(q.Scale, 1), q.Settings.OnlyOwn)
		l = l.withoutForeign()
	}
	if q.rebuilds() {
		// What is rebuilt follows from the body's colour: it must be one that the camera saw whole.
		own, err := litTone(l.pic, l.mask, true)
		if err != nil {
			return nil, own, err
		}
		l = &Learned{Tone: own, veil: l.veil, pic: l.pic, mask: l.mask, shades: l.shades}
	}
	p, tone, err := l.plan(space, q)
	if err != nil {
		return nil, tone, err
	}
	p.codedRims = q.Coded
	p.member = foreign
	if q.Settings.Even > 0 {
		p.first = l.evened(space, q.Settings.Even/100)
	}
	if r := q.Settings.Rebuild; q.rebuilds() {
		if p.ownMean == 0 { // another method than Repaint
			p.own = ownOf(l.Tone.Linear)
		}
		if p.rebuilt, err = newRebuilt(l.pic, l.mask, p.own, max(q.Scale, 1), r, q.Fine); err != nil {
			return nil, tone, err
		}
	}
	return p, tone, nil
}

func (l *Learned) plan(space *colour.Space, q Request) (*Plan, Tone, error) {
	if err := q.Settings.Validate(); err != nil {
		return nil, Tone{}, err
	}
	if m := q.Settings.Method; m != "" && m != "repaint" {
		return l.otherPlan(space, q)
	}
	tone := l.Tone
	if q.Match != nil {
		tone = patch(l.pic, l.mask, q.Match[0], q.Match[1], tone)
	}
	var f *film
	// What clipped says nothing of a curve, and several tones keep their differences as they are seen.
	if !(q.rebuilds() && l.clips()) && q.Settings.Inner == "" {
		if f = l.shadesOnce().filmOf(l.Tone.Linear, q.Own); f != nil && q.Own == nil {
			f = f.wary
		}
	}
	here, seen := q, l
	if f != nil {
		tone.Linear = f.lights(tone.Linear)
		l = l.before(f)
		if q.Own == nil {
			here.Goal = f.lightsOfWhole(q.Goal)
		}
	}
	p, met, err := l.planHere(space, here, tone)
	if err != nil {
		return p, met, err
	}
	if f != nil {
		for c, v := range met.Linear {
			met.Linear[c] = float64(f.value(float32(v)))
		}
	}
	if w, large := seen.steadyWeight(p, q); w > unseen {
		p.steady = seen.steadyOf(p, met, max(q.Scale, 1), w, large)
	}
	return p, met, nil
}

// unseen is how little of a change of tones is left out: it moves no tone by a whole step of 8 bits.
const unseen = 1.0 / 256

// planHere prepares Repaint of the light before the camera's curve.
func (l *Learned) planHere(space *colour.Space, q Request, tone Tone) (*Plan, Tone, error) {
	light := [3]float64{1, 1, 1}
	if q.Own != nil {
		light = lightAt(l.body(l.Tone.Linear), *q.Own)
	}
	p := l.repaint(space, q, l.Tone.Linear, tone.Linear, q.Goal, light)
	p.film, p.whole = l.film, q.Own == nil
	p.body = l.bodyLight(p, q.Scale)
	p.dull = dullOf(p)
	l.makeRoom(p, tone, l.seenOf(q.Goal), q)
	if p.dull > 0 || p.room > 0 {
		p.large = l.lightOf(p, q.Scale)
	}
	if q.Own == nil {
		// On a target much darker than the body all tones lie close together: fine light and dark are raised over it, and
		// sheen, which would stand out of it as specks, is believed later.
		y := luma(float32(q.Goal[0]), float32(q.Goal[1]), float32(q.Goal[2]))
		darker := luma(p.own[0], p.own[1], p.own[2])/max(y, 1e-4) - 1
		dark := (1 - max(0, min(1, (y-0.02)/0.1))) * max(0, min(1, darker/3))
		if dark > unseen {
			p.crisp = dark
		}
		p.gleam = 1 - dark*gleamLess
		p.sheenAt = sheenFull + dark*sheenLater
		p.dull += dark * (min(1, p.dull*1.25) - p.dull)
	}
	if q.Settings.Inner == "" {
		return p, tone, nil
	}
	all := l.tintsOf(space)
	if len(all) < 2 {
		return p, tone, nil
	}
	plans := make([]*Plan, len(all))
	for k, t := range all {
		goal := q.Goal
		if q.Settings.Inner == InnerKeep {
			goal = related(space, all[0].tone.Linear, t.tone.Linear, q.Goal)
		}
		plans[k] = l.repaint(space, q, t.tone.Linear, t.tone.Linear, goal, light)
	}
	if q.Match != nil {
		// The place meets the target whichever tint it lies in: all of them are brought along.
		var at lanes
		at.set(0, float32(tone.Linear[0]), float32(tone.Linear[1]), float32(tone.Linear[2]))
		newBlended(space, all, plans).paint(&at, 1)
		got := at.pixel(0)
		for _, o := range plans {
			for c := range 3 {
				o.goal[c] *= float32(q.Goal[c]) / max(got[c], 0.02*float32(q.Goal[c])+1e-5)
			}
		}
	}
	p.other = newBlended(space, all, plans).paint
	if q.Match == nil {
		tone = all[0].tone // a tone that is there, not the mean of several
	}
	return p, tone, nil
}

// body gives a seen tone without its even sheen.
func (l *Learned) body(seen colour.RGB) (own colour.RGB) {
	for c := range own {
		own[c] = math.Max(seen[c]-l.veil[c], 0.25*seen[c])
	}
	return own
}

// repaint prepares the repainting of a body seen as such; at is the tone that shall equal goal. light is what
// is known of the light at the body's tone.
func (l *Learned) repaint(space *colour.Space, q Request, seen, at, target colour.RGB, light [3]float64) *Plan {
	own, goal := l.body(seen), target
	for c, e := range light {
		goal[c] *= e
	}
	carry := carryOf(space, own, target)
	mirrored, gamma := 1.0, 1.0
	if q.Own == nil {
		// What looks like a tint on a strong colour is guessed here, and a vivid target of another hue would show it too.
		carry = math.Min(carry, math.Max(seenTint(space, own, target), 0.3))
		mirrored, gamma = math.Max(carry, 0.35), l.gammaOf(target)
	} else {
		carry = math.Max(carry, 0.5) // half of what the bench of rendered truth shows either way
	}
	made := func() *Plan {
		p := newPlan(space, own, goal, l.veil, carry, mirrored, gamma, q.Settings)
		p.relit = float32(1 - math.Max(carry, saturation(space, target, 0.03, 0.14))) // in a colour it would be noise of that colour
		return p
	}
	p := made()
	if q.Match == nil && q.Own != nil {
		return p
	}
	// The place equals the target, sheen and all: the body gives what its sheen does not.
	var s run
	s.add(float32(at[0]), float32(at[1]), float32(at[2]))
	s.in = s.was
	s.split(p)
	s.seen = s.found()
	e, sheen, rest := s.takenOf(p)
	for c := range goal {
		if lit := e[c]; lit > 1e-4 {
			body := target[c] - float64(sheen[c]+rest[c]+p.over[c])
			goal[c] = math.Max(body, 0.15*target[c]) / float64(lit)
		}
	}
	return made()
}

// evened prepares what brings mixed tints to the main one before the part is recoloured.
func (l *Learned) evened(space *colour.Space, amount float64) lanesPainter {
	q := Request{Settings: Defaults(), Own: &colour.RGB{}} // the light is as it is
	one := [3]float64{1, 1, 1}
	main := l.Tone.Linear
	all := l.tintsOf(space)
	if len(all) > 1 {
		main = all[0].tone.Linear
	} else {
		all = []tint{{tone: l.Tone}}
	}
	plans := make([]*Plan, len(all))
	for k, t := range all {
		from, to := l.body(t.tone.Linear), l.body(main)
		for c := range to {
			to[c] = from[c] + amount*(to[c]-from[c])
		}
		plans[k] = l.repaint(space, q, t.tone.Linear, t.tone.Linear, to, one)
		plans[k].even, plans[k].carry, plans[k].relit = float32(amount), 1, 0 // no more than that is taken away
	}
	if len(plans) == 1 {
		return func(l *lanes, n int) {
			var s run
			*l = *s.repaintLanes(plans[0], l, n)
		}
	}
	return newBlended(space, all, plans).paint
}

// tintsOf finds the part's tints once.
func (l *Learned) tintsOf(space *colour.Space) []tint {
	l.once.Do(func() { l.tints = tints(space, l.pic, l.mask) })
	return l.tints
}

// otherPlan prepares another method than Repaint.
func (l *Learned) otherPlan(space *colour.Space, q Request) (*Plan, Tone, error) {
	tone := l.Tone
	if q.Match != nil {
		tone = patch(l.pic, l.mask, q.Match[0], q.Match[1], tone)
	}
	own := tone.Linear
	if q.Own != nil {
		own = *q.Own
	}
	p := &Plan{space: space, strength: float32(q.Settings.Strength / 100), finish: newFinish(space, q.Settings.Finish)}
	var err error
	switch q.Settings.Method {
	case "turn-hue":
		p.other = newTurn(space, own, q.Goal, q.Settings.Turn).each
	case "two-tone":
		var f painter
		f, err = newTwoTone(space, tone.Linear, q.Goal, q.Settings.TwoTone)
		p.other = f.each
	case "curves":
		p.other = newCurves(q.Settings.Curves).each
	}
	return p, tone, err
}

// patch gives the mean tone of the part's pixels in a 5 x 5 square.
func patch(pic *raster.RGB, mask *raster.Mask, x, y int, fallback Tone) Tone {
	t := Tone{X: x, Y: y}
	n := 0.0
	for yy := max(0, y-2); yy <= min(pic.H-1, y+2); yy++ {
		for xx := max(0, x-2); xx <= min(pic.W-1, x+2); xx++ {
			i := yy*pic.W + xx
			w := float64(mask.Pix[i])
			for c := range 3 {
				t.Linear[c] += w * float64(pic.Pix[3*i+c])
			}
			n += w
		}
	}
	if n == 0 {
		fallback.X, fallback.Y = x, y
		return fallback
	}
	for c := range 3 {
		t.Linear[c] /= n
	}
	return t
}

const (
	least    = 0.002 // nothing real reflects less
	fresnel  = 0.030 // share of its surroundings that a glossy dielectric mirrors, averaged over directions
	veilTold = 0.3   // a veil of whose weak channel so much is not as a body of its colour would have it is told from the body
	bodyTop  = 1.5   // the body of a thing is at most this much brighter than its typical lit tone
)

// veilOf estimates the even sheen over the whole part: a glossy thing mirrors a few percent of what
// stands around it (Fresnel, for an index near 1.5), and takes that colour on. How glossy it is shows in
// its glints: light that the body cannot have sent back.
func veilOf(pic *raster.RGB, mask *raster.Mask, tone Tone) colour.RGB {
	var around colour.RGB
	n := 0.0
	var glint []float32
	lit := luma(float32(tone.Linear[0]), float32(tone.Linear[1]), float32(tone.Linear[2]))
	for i, m := range mask.Pix {
		r, g, b := pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2]
		if m == 0 {
			around[0] += float64(r)
			around[1] += float64(g)
			around[2] += float64(b)
			n++
		} else if m >= sureIn {
			glint = append(glint, luma(r, g, b)-bodyTop*lit)
		}
	}
	if n == 0 || len(glint) < 50 {
		return colour.RGB{}
	}
	top := float64(raster.Nth(glint, len(glint)*995/1000))
	k := math.Max(0, math.Min(1, top/0.05)) * fresnel
	share := veilShare(pic, mask, tone, colour.RGB{around[0] / n * k, around[1] / n * k, around[2] / n * k})
	// And it is no lighter than the part's darkest places.
	for c := range around {
		if v := around[c] / n * k; v > 0 {
			share = math.Min(share, darkest(pic, mask, c)/v)
		}
	}
	for c := range around {
		around[c] = math.Min(around[c]/n*k*share, 0.7*tone.Linear[c])
	}
	return around
}

// darkest gives a channel's value that a part's pixels are hardly ever below.
func darkest(pic *raster.RGB, mask *raster.Mask, c int) float64 {
	var v []float32
	for i, m := range mask.Pix {
		if m >= sureIn {
			v = append(v, pic.Pix[3*i+c])
		}
	}
	return float64(raster.Nth(v, len(v)*8/100))
}

// veilShare tells how much of a supposed veil there is. A veil lies over the shade as it does over the light: where a body
// is coloured, its weak channel does not go out with the strong one.
func veilShare(pic *raster.RGB, mask *raster.Mask, tone Tone, veil colour.RGB) float64 {
	hi, lo := 0, 0
	for c, v := range tone.Linear {
		if v > tone.Linear[hi] {
			hi = c
		}
		if v < tone.Linear[lo] {
			lo = c
		}
	}
	coloured := math.Max(0, math.Min(1, (0.7-tone.Linear[lo]/tone.Linear[hi])/0.2))
	if coloured == 0 {
		return 1
	}
	var n, sx, sy, sxx, sxy float64
	for i, m := range mask.Pix {
		x, y := float64(pic.Pix[3*i+hi]), float64(pic.Pix[3*i+lo])
		if m < sureIn || x > tone.Linear[hi] {
			continue
		}
		n, sx, sy, sxx, sxy = n+1, sx+x, sy+y, sxx+x*x, sxy+x*y
	}
	slope := (sxy - sx*sy/n) / math.Max(1e-12, sxx-sx*sx/n)
	if n < 50 || slope <= 0 {
		return 1
	}
	left := (sy - slope*sx) / n // of the weak channel where the strong one is nothing
	due := veil[lo] - slope*veil[hi]
	share := 0.0 // what stands around has the body's own colour: what it mirrors of that cannot be told from the body, and goes with it
	if due > 0 {
		told := math.Min(1, due/(veilTold*veil[lo]))
		share = told * math.Max(0, math.Min(1, left/due))
	}
	return 1 + coloured*(share-1)
}

func luma(r, g, b float32) float32 { return 0.2126*r + 0.7152*g + 0.0722*b }

// lightAt gives the light at the lit tone, a channel each: what the camera saw over what the thing
// reflects. Where the thing reflects next to nothing that quotient is mostly sheen and noise, so it is
// drawn towards the other channels' as far as it is uncertain.
func lightAt(seen, own colour.RGB) [3]float64 {
	const tint, stray = 0.12, 0.004 // spread of lights' tints; light that is not the body's
	var e [3]float64
	var num, den float64
	for c := range e {
		o := math.Max(own[c], least)
		e[c] = seen[c] / o
		num += seen[c] * o
		den += o * o
	}
	ref := num / den
	if ref <= 0 {
		return [3]float64{1, 1, 1}
	}
	for c := range e {
		spread := stray / (math.Max(own[c], least) * ref)
		k := tint * tint / (tint*tint + spread*spread)
		e[c] = ref * (1 + k*(e[c]/ref-1))
	}
	return e
}

// Result gives the linear colour that a tone lying wholly in the part becomes, in gamut.
func (p *Plan) Result(tone colour.RGB) colour.RGB {
	r, g, b := p.paint(float32(tone[0]), float32(tone[1]), float32(tone[2]))
	return p.space.MapToGamut(colour.RGB{float64(r), float64(g), float64(b)})
}

// shadesOnce looks at the picture's shades once.
func (l *Learned) shadesOnce() *Shades {
	l.onceShades.Do(func() {
		if l.shades == nil {
			l.shades = ShadesOf(l.pic)
		}
	})
	return l.shades
}

// seenOf gives a colour as it is in the picture.
func (l *Learned) seenOf(c colour.RGB) [3]float64 {
	if l.film != nil {
		var o lanes
		o.set(0, float32(c[0]), float32(c[1]), float32(c[2]))
		l.film.valuesOf(&o, 1, true)
		c = colour.RGB{float64(o[0][0]), float64(o[1][0]), float64(o[2][0])}
	}
	return c
}

// gammaOf gives the power of the light on a dark target of which no more is known. Eyes and files tell few tones down
// there: the picture's contrast would drown in them.
func (l *Learned) gammaOf(target colour.RGB) float64 {
	y := float64(luma(float32(target[0]), float32(target[1]), float32(target[2])))
	steep := 1.0
	if l.film != nil {
		// What the curve makes of a dark tone's contrast.
		x := float32(math.Max(y, 1e-4))
		steep = math.Max(1, math.Log(float64(l.film.value(1.05*x)/l.film.value(x)))/math.Log(1.05))
		y = float64(l.film.value(x))
	}
	t := math.Max(0, math.Min(1, math.Log(y/0.011)/math.Log(0.12/0.011)))
	return 1 / (steep + (1-steep)*t)
}
