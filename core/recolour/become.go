package recolour

// become works out what the pixels of the run become, once they are seen.
func (s *run) become(p *Plan) {
	n := s.n
	if p.other != nil {
		s.o = s.in
		p.other(&s.o, n)
	} else {
		s.repaint(p)
	}
	if p.film != nil {
		p.film.valuesOf(&s.o, n, p.whole)
	}
	if p.steady != nil {
		p.steady.of(s)
	}
	if p.roll.knee > 0 {
		s.roll(p)
	}
	s.complete(p)
}

// roll keeps results from burning and from being crushed.
func (s *run) roll(p *Plan) {
	wr, wg, wb := s.was.of(s.n)
	or, og, ob := s.o.of(s.n)
	if p.roll.amount > 0 {
		for i := range or {
			o := p.roll.of(s.o.pixel(i), max(wr[i], wg[i], wb[i]))
			s.o.set(i, o[0], o[1], o[2])
		}
	}
	if least, _ := ends(or, og, ob); least >= p.floor {
		return
	}
	for i := range or {
		if or[i] >= p.floor && og[i] >= p.floor && ob[i] >= p.floor {
			continue
		}
		if low := min(p.floor, 0.5*min(wr[i], wg[i], wb[i])); low > 0 {
			or[i], og[i], ob[i] = max(or[i], low), max(og[i], low), max(ob[i], low)
		}
	}
}

// complete does what follows every method: the finish and the strength of the change.
func (s *run) complete(p *Plan) {
	if p.finish != nil {
		p.finish(&s.was, &s.o, s.n)
	}
	if p.strength == 1 {
		return
	}
	for c := range s.o {
		o, was := s.o[c][:s.n], s.was[c][:s.n]
		for i, v := range was {
			o[i] = v + p.strength*(o[i]-v)
		}
	}
}

// repaint repaints the light of the pixels, once they are seen. Of each channel it is
//
//	goal*light + gleam*sheen + less*rest + over
//
// with the light, the sheen and what neither explains as far as the target takes them: all of that is worked out for the pixel first, so that a
// channel is one sum of products. As far as a target without a colour does not take the tint of what neither explains, that is light all the same.
func (s *run) repaint(p *Plan) {
	s.returned(p)
	s.lighten(p)
	n := s.n
	tint := p.carry * (1 - p.even)
	s.weigh(&s.seen.h, n, &weighing{tint, p.sheenAsLight(), p.high * p.gleam, p.mirrored})
	if p.relit > 0 {
		k := p.restAsLight()
		s.relight(&s.seen, n, &k)
	}
	for c := range s.o {
		less := unit(p.goal[c]/p.own[c]) * tint
		s.mix(s.o[c][:n], s.seen.in[c], s.seen.e[c], s.seen.h[c], &mixing{p.goal[c], less, p.own[c], p.over[c] - less*p.veil[c]})
	}
	if p.even > 0 {
		s.levelled(p)
	}
}

// sheenAsLight returns how much of a body's light makes as much light as sheen does.
func (p *Plan) sheenAsLight() float32 { return 1 / luma(p.own[0], p.own[1], p.own[2]) }

// restAsLight returns how much light there is in what neither the body's light nor sheen explains, as far as that is to be light: on a darker target in
// the proportion in which all of the body is darker.
func (p *Plan) restAsLight() relighting {
	k := p.relit / max(luma(p.own[0], p.own[1], p.own[2]), luma(p.goal[0], p.goal[1], p.goal[2]))
	r := relighting{of: [3]float32{luma(k, 0, 0), luma(0, k, 0), luma(0, 0, k)}}
	for c, w := range r.of {
		r.body[c], r.veil = w*p.own[c], r.veil+w*p.veil[c]
	}
	return r
}

// returned finds what was taken for sheen on a body that is not dark, where a pixel is no brighter than the body around it: there it is a
// paler place of the body, or noise. Sheen comes on top of the body's light.
func (s *run) returned(p *Plan) {
	back := s.back[:s.n]
	if p.dull == 0 {
		clear(back)
		return
	}
	s.giveBack(s.light[:s.n], s.over[:s.n], p.dull, 1/p.sheenAt)
	if p.film != nil {
		return
	}
	r, g, b := lanesOf(&s.seen.in, s.n)
	if _, most := ends(r, g, b); most <= clipFrom {
		return
	}
	for i, v := range r {
		back[i] *= trust(max(v, g[i], b[i])) // what clipped says nothing
	}
}

// lighten works out the body's light over all channels, and how much brighter it becomes: with more contrast against the light around, rolled off
// where it is lit above the target's room, and deepened by a factor that follows from it.
func (s *run) lighten(p *Plan) {
	n := s.n
	s.average(&s.seen.e, &s.seen.h, n, p.sheenAsLight())
	if p.crisp > 0 {
		s.sharpen(s.light[:n], p.crisp)
	}
	if p.room > 0 {
		mean, gain := s.mean[:n], s.gain[:n]
		for i, l := range s.light[:n] {
			if l <= 0 {
				continue
			}
			if m := min(l, gain[i]*mean[i]); m > p.lit {
				gain[i] *= 1 + p.roll.amount*(p.within(m)/m-1)
			}
		}
	}
	if p.shade != nil {
		s.deepen(n, p.shade)
	}
}

// levelled is for targets that take less of each pixel's own tint: of what neither light nor sheen explains they take that share without its tint.
func (s *run) levelled(p *Plan) {
	var rest [3]float32
	for i := range s.n {
		for c := range rest {
			rest[c] = s.seen.in[c][i] - p.veil[c] - p.own[c]*s.seen.e[c][i] - s.seen.h[c][i]
		}
		y := p.carry * p.even * luma(rest[0], rest[1], rest[2])
		for c := range rest {
			s.o[c][i] += unit(p.goal[c]/p.own[c]) * y
		}
	}
}

// takenOf returns what the target takes of the first pixel's light and sheen, and of what neither explains.
func (s *run) takenOf(p *Plan) (e, h, rest [3]float32) {
	for c := range e {
		e[c], h[c] = s.seen.e[c][0], s.seen.h[c][0]
		rest[c] = s.seen.in[c][0] - p.veil[c] - p.own[c]*e[c] - h[c]
	}
	m, y := (e[0]+e[1]+e[2])/3, luma(h[0], h[1], h[2])
	of := p.restAsLight().of
	lit := of[0]*rest[0] + of[1]*rest[1] + of[2]*rest[2]
	for c := range e {
		e[c], h[c], rest[c] = m+p.carry*(e[c]-m)+lit, y+p.mirrored*(h[c]-y), p.carry*rest[c]
	}
	return e, h, rest
}
