package recolour

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

// What a run becomes is its definition, step by step in double precision: what neither light nor sheen explains is found first, sheen is given back,
// tints are levelled and carried as far as the target takes them, the light is sharpened, brought into its room and deepened, and all is put together.
func TestARunBecomesWhatItsStepsSay(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 3))
	some := func(v float32) float32 {
		if r.IntN(3) == 0 {
			return 0
		}
		return v
	}
	for range 400 {
		own := colour.RGB{0.05 + 0.5*r.Float64(), 0.05 + 0.5*r.Float64(), 0.05 + 0.5*r.Float64()}
		set := Defaults()
		set.ShadeDepth, set.Highlights = float64(r.IntN(3)*40-40), float64(r.IntN(200))
		p := newPlan(colour.SRGB, own, colour.RGB{r.Float64(), r.Float64(), r.Float64()}, colour.RGB{0.01, 0.012, 0.02}, r.Float64(), r.Float64(), 1, set)
		p.dull, p.even, p.crisp, p.relit = some(r.Float32()), some(r.Float32()), some(r.Float32()), some(r.Float32())
		if r.IntN(2) == 0 {
			p.lit, p.room, p.roll.amount = 1, 1.3, r.Float32()
		}
		var s run
		tinted := r.IntN(2) == 0
		for range block {
			s.add(r.Float32(), r.Float32(), r.Float32())
		}
		s.in = s.was
		for i := range s.n {
			sheen := some(0.3 * r.Float32())
			for c := range 3 {
				s.e[c][i], s.h[c][i] = 2*r.Float32(), sheen
				if tinted {
					s.h[c][i] = some(0.3 * r.Float32())
				}
			}
			s.light[i], s.over[i] = some(1.5*r.Float32()), 2*r.Float32()-1
		}
		s.seen = s.found()
		s.repaint(p)
		f := func(v float32) float64 { return float64(v) }
		grey := func(v [3]float64) float64 { return 0.2126*v[0] + 0.7152*v[1] + 0.0722*v[2] }
		for i := range s.n {
			var e, h, rest [3]float64
			for c := range e {
				e[c], h[c] = f(s.e[c][i]), f(s.h[c][i])
				rest[c] = f(s.in[c][i]) - f(p.veil[c]) - f(p.own[c])*e[c] - h[c]
			}
			around := f(s.light[i])
			if p.dull > 0 && around > 0 {
				back := f(p.dull) * (1 - max(0, min(1, f(s.over[i])/f(p.sheenAt))))
				if most := s.in.most(i); most > clipFrom {
					back *= f(trust(most))
				}
				for c := range e {
					e[c], h[c] = e[c]+back*h[c]/grey([3]float64{f(p.own[0]), f(p.own[1]), f(p.own[2])}), (1-back)*h[c]
				}
			}
			m, y, g := (e[0]+e[1]+e[2])/3, grey(rest), grey(h)
			untinted := f(p.relit) * y / max(grey([3]float64{f(p.own[0]), f(p.own[1]), f(p.own[2])}), grey([3]float64{f(p.goal[0]), f(p.goal[1]), f(p.goal[2])}))
			for c := range e {
				e[c] = m + (1-f(p.even))*(e[c]-m)
				rest[c] += f(p.even) * (y - rest[c])
				e[c], h[c], rest[c] = m+f(p.carry)*(e[c]-m), g+f(p.mirrored)*(h[c]-g), f(p.carry)*rest[c]
			}
			gain := 1.0
			if p.crisp > 0 && around > 0 {
				gain = 1 + f(p.crisp)*(max(0.4, min(1.8, m/around))-1)
			}
			if p.room > 0 && around > 0 {
				if lit := min(around, gain*m); lit > f(p.lit) {
					gain *= 1 + f(p.roll.amount)*(f(p.within(float32(lit)))/lit-1)
				}
			}
			if p.shade != nil {
				gain *= f(p.shade[min(2*shadeSteps-1, int(gain*m*shadeSteps))])
			}
			for c := range e {
				want := f(p.goal[c])*(gain*e[c]+untinted) + f(p.high*p.gleam)*h[c] + max(0, min(1, f(p.goal[c])/f(p.own[c])))*rest[c] + f(p.over[c])
				require.InDelta(t, want, s.o[c][i], 2e-3*math.Max(1, want), "channel %d", c)
			}
		}
	}
}

// A bluish fleck in red paint, or what is mirrored in it, is no colour of a grey target's, but light it is: on a lighter target as much as it was, on a
// darker one in the proportion in which all of the paint is darker.
func TestWhatNeitherExplainsIsLightOnANeutralTarget(t *testing.T) {
	own := colour.RGB{0.3, 0.05, 0.04}
	paint := luma(0.3, 0.05, 0.04)
	for _, grey := range []float32{0.02, 0.2, 0.7} {
		p := newPlan(colour.SRGB, own, colour.RGB{float64(grey), float64(grey), float64(grey)}, colour.RGB{}, 0, 0.35, 1, Defaults())
		p.relit = 1
		var s run
		s.add(0.3, 0.05, 0.04)
		s.add(0.3, 0.10, 0.12)
		s.in = s.was
		for i := range s.n {
			s.e.set(i, 1, 1, 1)
			s.h.set(i, 0, 0, 0)
		}
		s.seen = s.found()
		s.repaint(p)
		r, g, b := s.o.at(1)
		require.InDelta(t, r, g, 1e-6)
		require.InDelta(t, r, b, 1e-6)
		require.InDelta(t, luma(0, 0.05, 0.08)*min(1, grey/paint), r-s.o[0][0], 1e-5, "on %g", grey)
	}
}
