package recolour

// lanes are the values of a run's pixels, channel by channel.
type lanes [3][block]float32

// of returns the values of the first n pixels.
func (l *lanes) of(n int) (r, g, b []float32) { return l[0][:n], l[1][:n], l[2][:n] }

func (l *lanes) set(i int, r, g, b float32) { l[0][i], l[1][i], l[2][i] = r, g, b }

func (l *lanes) at(i int) (r, g, b float32) { return l[0][i], l[1][i], l[2][i] }

func (l *lanes) pixel(i int) [3]float32 { return [3]float32{l[0][i], l[1][i], l[2][i]} }

func (l *lanes) most(i int) float32 { return max(l[0][i], l[1][i], l[2][i]) }

// run is up to block pixels that a plan repaints together: each step of it is a short loop over all of them. One pixel after
// the other, most of the time went into calls and into values that were put aside for them.
type run struct {
	n   int
	was lanes // what the pixels are, in the picture's values, wholly in the part
	o   lanes // what they become

	top   [block]float32 // the body sends back no more, in typical lit tones
	light [block]float32 // of the body around, in typical lit tones; 0 where it does not matter
	body  [block]float32 // light of a dark glossy body; 0 where it does not matter
	over  [block]float32 // so much brighter than the body around, as a share of that; only where looksAround
	aside [block]float32 // how far results around lie off a steady line

	in       lanes // their light, before the camera's curve
	e, h     lanes // the body's light, and sheen
	rest     lanes // while they are told apart: the light without the even sheen
	s, sheen [2][block]float32

	seen view
	taken
}

// view is what was found out about a run's pixels, wherever that is kept: their light, that of the body in it, and sheen.
type view struct{ in, e, h [3][]float32 }

// lanesOf returns the values of the first n pixels.
func lanesOf(l *[3][]float32, n int) (r, g, b []float32) { return l[0][:n], l[1][:n], l[2][:n] }

// found returns what a run found out itself.
func (s *run) found() (v view) {
	for c := range s.in {
		v.in[c], v.e[c], v.h[c] = s.in[c][:s.n], s.e[c][:s.n], s.h[c][:s.n]
	}
	return v
}

// add puts a colour into the run, wherever it is.
func (s *run) add(r, g, b float32) {
	s.was.set(s.n, r, g, b)
	s.top[s.n], s.light[s.n], s.body[s.n], s.aside[s.n] = bodyTop, 0, 0, 0
	s.n++
}

// addAll puts pixels, three values each, into an empty run, wherever they are.
func (s *run) addAll(pix []float32) {
	s.n = len(pix) / 3
	s.was.apart(pix)
	copy(s.top[:s.n], tops[:])
	clear(s.light[:s.n])
	clear(s.body[:s.n])
	clear(s.aside[:s.n])
}

// tops is bodyTop for every pixel of a run.
var tops = func() (t [block]float32) {
	for i := range t {
		t[i] = bodyTop
	}
	return t
}()

// place says where in the full size the run's pixels lie, all in one row, for what their place says about them. Where the part is
// rebuilt, the light that was carried on takes the place of what the camera lost. step is how many pixels of the full size one is wide.
func (s *run) place(p *Plan, fx []float64, fy, step float64) {
	if p.other == nil && p.body != nil {
		p.body.along(s.body[:s.n], fx, fy, 1e-6)
	}
	if p.other == nil && p.looksAround() {
		p.large.along(s.light[:s.n], fx, fy, 1e-3)
	}
	s.steadied(p, fx, fy)
	if p.rebuilt == nil {
		return
	}
	for k, x := range fx {
		px := s.was.pixel(k)
		if lost := clipped(p.own, px[:]); lost > 0 {
			seen, more := p.rebuiltLight(px[:], x, fy, step, lost)
			s.was.set(k, seen[0], seen[1], seen[2])
			s.top[k] += more
			s.light[k], s.body[k] = 0, 0
		}
	}
}

// lightOf adds to to the body's light of the run's pixels, a mean over the channels, and empties it. They are light before the camera's curve.
func (s *run) lightOf(p *Plan, to []float32) []float32 {
	s.in = s.was
	s.split(p)
	for i := range s.n {
		to = append(to, (s.e[0][i]+s.e[1][i]+s.e[2][i])/3)
	}
	s.n = 0
	return to
}

// repaintLanes repaints the light of n pixels, wherever they are, in place.
func (s *run) repaintLanes(p *Plan, l *lanes, n int) *lanes {
	s.n, s.in = n, *l
	for i := range n {
		s.top[i] = bodyTop
	}
	s.parted(p)
	s.repaint(p)
	return &s.o
}

// looksAround reports whether the light around a place matters.
func (p *Plan) looksAround() bool { return p.large != nil && (p.crisp > 0 || p.room > 0 || p.dull > 0) }

// steadied says how far results around the run's pixels lie off a steady line.
func (s *run) steadied(p *Plan, fx []float64, fy float64) {
	if p.steady != nil {
		p.steady.around.along(s.aside[:s.n], fx, fy, -1)
	}
}

// paint works out what the pixels of the run become.
func (s *run) paint(p *Plan) {
	s.see(p)
	s.become(p)
}

// see finds out what the run's pixels are made of, whatever they become.
func (s *run) see(p *Plan) {
	s.in = s.was
	if p.first != nil {
		p.first(&s.in, s.n)
	}
	if p.film != nil {
		p.film.lightsOf(&s.in, s.n)
	}
	if p.other == nil {
		s.parted(p)
	}
}

// parted parts the light of the pixels into the body's and sheen.
func (s *run) parted(p *Plan) {
	s.split(p)
	s.seen = s.found()
	if p.body != nil {
		s.mirrored(p)
	}
	if p.looksAround() {
		s.compared(p)
	}
}

// compared compares the pixels with the body around them.
func (s *run) compared(p *Plan) {
	own, veil := luma(p.own[0], p.own[1], p.own[2]), luma(p.veil[0], p.veil[1], p.veil[2])
	r, g, b := s.in.of(s.n)
	light, over := s.light[:s.n], s.over[:s.n]
	for i, l := range light {
		over[i] = (luma(r[i], g[i], b[i])-veil)/(l*own+1e-6) - 1
	}
}

// fit gives the body's light and the sheen of the pixels, l being their light without the even sheen.
func (b *basis) fit(p *Plan, l *lanes, light, sheen []float32) {
	rs, gs, bs := l.of(len(light))
	sheen = sheen[:len(light)]
	o0, o1, o2, a := p.own[0], p.own[1], p.own[2], p.a
	l0, l1, l2 := b.colour[0], b.colour[1], b.colour[2]
	once, alone := 1/b.det, 1/a
	for i, r := range rs {
		d := r*o0 + gs[i]*o1 + bs[i]*o2
		f := r*l0 + gs[i]*l1 + bs[i]*l2
		h := max(0, (a*f-b.b*d)*once) // half of the pixels have none: a branch would be guessed wrong for many
		s := (d - b.b*h) * alone
		if s < 0 {
			s, h = 0, max(0, f/(l0*l0+l1*l1+l2*l2))
		}
		light[i], sheen[i] = s, h
	}
}

// split parts each pixel into the body's light a channel (1 at the typical lit tone), sheen, and a rest
// that neither explains: I = own*e + sheen + rest + veil. The body's light is at most top.
func (s *run) split(p *Plan) {
	n := s.n
	for c, v := range p.veil {
		in, rest := s.in[c][:n], s.rest[c][:n]
		for i := range rest {
			rest[i] = in[i] - v
		}
	}
	lit, sheen := s.s[0][:n], s.sheen[0][:n]
	p.white.fit(p, &s.rest, lit, sheen)
	for c := range s.h {
		copy(s.h[c][:n], sheen)
	}
	if p.mirror.most > 0 {
		s.mirrors(p)
	}
	hr, hg, hb := s.h.of(n)
	top := s.top[:n]
	for i, v := range lit {
		if v > top[i] {
			// More light than a body sends back: the excess is sheen, but a strong colour's own is only lit more.
			over := (v - top[i]) * p.glare
			hr[i], hg[i], hb[i] = hr[i]+over, hg[i]+over, hb[i]+over
			lit[i] -= over / p.ownMean
		}
	}
	for c := range s.e {
		own, wiener := p.own[c], p.wiener[c]
		e, h, rest := s.e[c][:n], s.h[c][:n], s.rest[c][:n]
		for i, v := range lit {
			k := (rest[i] - v*own - h[i]) * wiener
			if most := 0.2 * v; k > most { // no light is tinted more; what is left is a coloured reflection
				k = most
			} else if k < -most {
				k = -most
			}
			e[i] = v + k
		}
	}
}

// mirrors gives weak sheen the colour of the surroundings; strong sheen has the light's.
func (s *run) mirrors(p *Plan) {
	n := s.n
	lit, sheen, lit2, sheen2 := s.s[0][:n], s.sheen[0][:n], s.s[1][:n], s.sheen[1][:n]
	p.mirror.fit(p, &s.rest, lit2, sheen2)
	hr, hg, hb := s.h.of(n)
	c := &p.mirror.colour
	for i, h := range sheen {
		if k := 1 - h/p.mirror.most; k > 0 {
			lit[i] += k * (lit2[i] - lit[i])
			own, weak := (1-k)*h, k*sheen2[i]
			hr[i], hg[i], hb[i] = own+weak*c[0], own+weak*c[1], own+weak*c[2]
		}
	}
}

// mirrored is for dark glossy bodies: the light is mostly the neighbourhood's, and what is left over or missing is what the body mirrors.
func (s *run) mirrored(p *Plan) {
	weight := p.body.weight
	for c, own := range p.own {
		e, h, body := s.e[c][:s.n], s.h[c][:s.n], s.body[:s.n]
		for i, around := range body {
			if around > 0 {
				to := e[i] + weight*(around-e[i])
				h[i], e[i] = h[i]+own*(e[i]-to), to
			}
		}
	}
}

// unit and above bring a value into 0..1, and above nothing. In loops over pixels branches that mostly go one way are quicker than min and
// max, which take care of zeros that are below nothing.
func unit(v float32) float32 {
	if v > 1 {
		return 1
	}
	return above(v)
}

func above(v float32) float32 {
	if v > 0 {
		return v
	}
	return 0
}
