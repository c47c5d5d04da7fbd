package isolate

import (
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// likeness tells how far any colour is from the nearest of some samples, and whether it is nearer to them than
// to what they are not. Far colours are read from a table over the coded cube; near ones are worked out exactly.
type likeness struct {
	space   *colour.Space
	in, not []colour.Lab
	lights  []litSample // of in, where light and shade are tolerated
	against []litSample // of not, where what is picked has colour in any light
	near    []float32   // distance to the nearest sample at the table's nodes
	side    []float32   // of its distances to both, the share of that to the nearest counter-sample; nil without any
}

const (
	likeNodes = 33
	likeExact = 8 // distances below this are worked out
	likeSlack = 3 // and only where the table cannot be sure that they are within the tolerance
)

// newLikeness learns from samples and counter-samples in linear light. light is how far, in CIE L*, a sample may be lighter or
// darker for the light it stands in.
func newLikeness(space *colour.Space, in, not []colour.RGB, light float64) *likeness {
	l := &likeness{space: space, near: make([]float32, likeNodes*likeNodes*likeNodes)}
	for _, c := range in {
		l.in = append(l.in, space.Lab(c))
		if light > 0 {
			l.lights = append(l.lights, newLitSample(space, c, light, lightShare(space.Lab(c))))
		}
	}
	for _, c := range not {
		l.not = append(l.not, space.Lab(c))
	}
	// A grey floor in shade is the floor too: against what has colour, counter-samples stand in as much light as that is given, grey or not.
	most := 0.0
	for _, s := range l.lights {
		most = max(most, s.share)
	}
	if most > 0 {
		for _, c := range not {
			l.against = append(l.against, newLitSample(space, c, light, most))
		}
	}
	if len(not) > 0 {
		l.side = make([]float32, len(l.near))
	}
	var decode [likeNodes]float64
	for i := range decode {
		decode[i] = colour.SRGBDecode(float64(i) / (likeNodes - 1))
	}
	raster.Parallel(likeNodes, func(r int) {
		for g := range likeNodes {
			for b := range likeNodes {
				lab := space.Lab(colour.RGB{decode[r], decode[g], decode[b]})
				i := (r*likeNodes+g)*likeNodes + b
				d, m := l.exact(lab)
				l.near[i] = float32(d)
				if l.side != nil {
					l.side[i] = float32(m)
				}
			}
		}
	})
	return l
}

// litCost is what a sample that is lit otherwise counts as farther, for each CIE L* it stands off, where samples are weighed against
// counter-samples: of two that would look alike in the right light, the one that needs less of it is the likelier. Found on the scenes of bench/isolate.
const litCost = 0.05

// exact gives the distance to the nearest sample, and the side: 1 on a sample, 0 on a counter-sample, half
// where both are as far.
func (l *likeness) exact(lab colour.Lab) (near, side float64) {
	near, here := nearest(lab, l.in, l.lights)
	if len(l.not) == 0 {
		return near, 1
	}
	_, far := nearest(lab, l.not, l.against)
	if here+far == 0 {
		return near, 0.5
	}
	return near, far / (here + far)
}

// nearest gives the distance of a colour to the nearest of samples and of their looks in other light, and the same where other light costs.
func nearest(lab colour.Lab, samples []colour.Lab, lights []litSample) (near, costly float64) {
	near = math.Inf(1)
	for _, s := range samples {
		near = math.Min(near, colour.DeltaE00(lab, s))
	}
	costly = near
	for i := range lights {
		d := colour.DeltaE00(lab, lights[i].at(lab[0]))
		near, costly = math.Min(near, d), math.Min(costly, d+litCost*math.Abs(lab[0]-samples[i][0]))
	}
	return near, costly
}

// memo keeps exact distances of colours met lately; one goroutine uses it.
type memo struct {
	key [1 << 12][3]float32
	val [1 << 12][2]float32
}

func newMemo() *memo {
	m := &memo{}
	for i := range m.key {
		m.key[i][0] = -1
	}
	return m
}

// look gives distance and side of a linear colour.
func (l *likeness) look(px []float32, tolerance float64, m *memo) (near, side float64) {
	const top = likeNodes - 1
	r, g, b := codeOf(px[0])*top, codeOf(px[1])*top, codeOf(px[2])*top
	ri, gi, bi := min(top-1, int(r)), min(top-1, int(g)), min(top-1, int(b))
	fr, fg, fb := r-float32(ri), g-float32(gi), b-float32(bi)
	at := (ri*likeNodes+gi)*likeNodes + bi
	read := func(t []float32) float32 {
		const dg, dr = likeNodes, likeNodes * likeNodes
		c := func(o int) float32 { return t[at+o] + fb*(t[at+o+1]-t[at+o]) }
		a, d := c(0)+fg*(c(dg)-c(0)), c(dr)+fg*(c(dr+dg)-c(dr))
		return a + fr*(d-a)
	}
	d := float64(read(l.near))
	if d < likeExact && d > tolerance-likeSlack {
		h := (math.Float32bits(px[0])*0x9E3779B1 ^ math.Float32bits(px[1])*0x85EBCA77 ^ math.Float32bits(px[2])*0xC2B2AE3D) >> 20
		k := [3]float32{px[0], px[1], px[2]}
		if m.key[h] == k {
			return float64(m.val[h][0]), float64(m.val[h][1])
		}
		e, s := l.exact(l.space.Lab(colour.RGB{float64(px[0]), float64(px[1]), float64(px[2])}))
		m.key[h], m.val[h] = k, [2]float32{float32(e), float32(s)}
		return e, s
	}
	if l.side == nil {
		return d, 1
	}
	return d, float64(read(l.side))
}
