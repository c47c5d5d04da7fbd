package recolour

import "math"

// shoulder rolls off what lies above the target's lit tone, so that a light target does not burn: from the knee on values
// climb ever more slowly to the ceiling. What burned in the picture may burn.
type shoulder struct{ knee, ceiling, amount float32 }

const (
	ceilingAt = 0.982  // just under the last code of 8 bits but one
	burnedAt  = 0.987  // and what counts as burned
	floorAt   = 0.0006 // between the first codes of 8 bits: nothing that had any light is crushed
)

// shoulderOver gives the shoulder for a target, in linear values of the picture.
func shoulderOver(goal [3]float64) shoulder {
	top := float32(max(goal[0], goal[1], goal[2]))
	return shoulder{knee: max(0.6, top), ceiling: ceilingAt}
}

// of rolls a value off by its largest channel, so that its colour stays. was is the largest channel the pixel had.
func (s shoulder) of(o [3]float32, was float32) [3]float32 {
	top := max(o[0], o[1], o[2])
	if top <= s.knee || s.knee >= s.ceiling {
		return o
	}
	d := s.ceiling - s.knee
	to := s.knee + d*(1-float32(math.Exp(-float64((top-s.knee)/d))))
	if was > burnedAt {
		to += (was - burnedAt) / (1 - burnedAt) * (min(top, 1) - to)
	}
	k := 1 + s.amount*(to/top-1)
	return [3]float32{o[0] * k, o[1] * k, o[2] * k}
}

// within brings light into the room there is above where the target is met.
func (p *Plan) within(light float32) float32 {
	d := p.room - p.lit
	return p.lit + d*(1-float32(math.Exp(-float64((light-p.lit)/d))))
}

// makeRoom prepares what keeps light targets from burning and dark ones from being crushed. at is the tone that meets the
// target before the camera's curve, and goal the target in linear values of the picture.
func (l *Learned) makeRoom(p *Plan, at Tone, goal [3]float64, q Request) {
	p.roll, p.floor = shoulderOver(goal), floorAt
	var s run
	s.add(float32(at.Linear[0]), float32(at.Linear[1]), float32(at.Linear[2]))
	p.lit = max(1, s.lightOf(p, nil)[0])
	top, ceiling := max(p.goal[0], p.goal[1], p.goal[2]), float32(ceilingAt)
	if p.film != nil {
		ceiling = p.film.light(ceilingAt)
	}
	room := max(1.02*p.lit, 0.97*ceiling/max(top, 1e-6))
	if q.Own != nil {
		return // of a known colour the camera would have burned as much
	}
	// Where nothing would burn nothing is held back.
	p.roll.amount = float32(math.Max(0, math.Min(1, (l.burning(p)-0.001)/0.004)))
	if p.roll.amount > 0 && room < bodyTop {
		p.room = room
	}
}

// burning is the share of the part's pixels that a plan would burn and that are not burned in the picture.
func (l *Learned) burning(p *Plan) float64 {
	var n, burned float64
	step := max(1, len(l.mask.Pix)/12_000)
	var s run
	look := func() {
		s.in = s.was
		s.parted(p)
		s.repaint(p)
		for k := range s.n {
			was, is := s.was.most(k), s.o.most(k)
			if p.film != nil {
				was, is = p.film.value(was), p.film.value(is)
			}
			if is > burnedAt && was <= burnedAt {
				burned++
			}
		}
		n, s.n = n+float64(s.n), 0
	}
	for i := 0; i < len(l.mask.Pix); i += step {
		if l.mask.Pix[i] < sureIn {
			continue
		}
		s.add(l.pic.Pix[3*i], l.pic.Pix[3*i+1], l.pic.Pix[3*i+2])
		if s.n == block {
			look()
		}
	}
	look()
	return burned / max(n, 1)
}
