package isolate

import (
	"math"

	"episema/core/raster"
)

const (
	trust   = 0.5 // what a change of what was let stand takes from an answer's support, when all of it changes
	against = 0.5 // share of a stroke that has to go against the answer before it
	aboutIt = 0.5 // as far as this share of its length a stroke speaks for what is about it, ever less

	// Of so many strokes that are solved together each is held against the answer before it; of more none, as if all had been
	// there at once: a document that nobody has open solves all answers in turn, and may come with millions of strokes.
	lookedAt = 24
)

// correction is a stroke through what is wrong in an answer. It speaks for what lies about it; the rest was looked at too, and
// let stand: little changes far away without much support, and nothing at all against the stroke's own direction.
type correction struct {
	last seeded
	was  *Labels

	on   []uint8   // the answer before, at the size that answers are compared at
	away []float32 // each pixel's distance from the stroke there: 0 beside it, 1 where it says nothing
}

// correctionOf is nil where the last stroke does not go against the answer before it, which may be nil: it is a hint like the
// first one. Level is that of the size.
func correctionOf(strokes []seeded, was *Labels, w, h, level int) *correction {
	if was == nil {
		return nil
	}
	last := strokes[len(strokes)-1]
	k := &correction{last: last, was: was, on: was.on(w, h)}
	said := rasterSeeds(strokes[len(strokes)-1:], w, h, level)
	var n, other float64
	for i, v := range said {
		if v != unknown {
			n++
			if (k.on[i] == 1) != last.inside {
				other++
			}
		}
	}
	if n == 0 || other < against*n {
		return nil
	}
	lo, hi := last.Points[0], last.Points[0]
	for _, p := range last.Points {
		for i := range p {
			lo[i], hi[i] = math.Min(lo[i], p[i]), math.Max(hi[i], p[i])
		}
	}
	about := max(1, aboutIt*(math.Hypot(hi[0]-lo[0], hi[1]-lo[1])+2*last.Radius)/float64(int(1)<<level))
	k.away = raster.SignedDistanceWithin(func(i int) bool { return said[i] == unknown }, w, h, about)
	for i, v := range k.away {
		k.away[i] = min(1, max(0, v)/float32(about))
	}
	return k
}

// cost is what speaks against an answer, for changing what was let stand.
func (k *correction) cost(l []uint8) float64 {
	if k == nil {
		return 0
	}
	var changed, any float64
	for i, v := range l {
		any += float64(v | k.on[i])
		switch {
		case v == k.on[i]:
		case (v == 1) == k.last.inside:
			changed += float64(k.away[i])
		default:
			changed++
		}
	}
	return trust * changed / math.Max(1, any)
}

// kept gives an answer from which a stroke that adds has taken nothing away, and to which one that takes away has added nothing.
func (k *correction) kept(l *Labels) *Labels {
	if k == nil {
		return l
	}
	return joined(l, k.was, k.last.inside)
}
