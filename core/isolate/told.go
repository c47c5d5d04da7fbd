package isolate

import (
	"cmp"
	"math"
	"slices"

	"episema/core/raster"
)

// marked gives the cut that marks' shares are solved around, and whether colours tell the thing from what is around it. Where they do, the cut of
// pixels has every thread; where they do not, it takes what happens to be of the thing's colours, and the best supported answer of regions does not.
func (c *compiler) marked(ring [][2]float64, seedsAt func(w, h, level int) []uint8) (cut *Labels, told bool, err error) {
	cut, _, err = c.grow(seedsAt, nil, c.planes) // hair is all sharp steps
	if err != nil {
		return nil, false, err
	}
	f, err := c.planes(cut.Level)
	if err != nil {
		return nil, false, err
	}
	if told = coloursTell(f, seedsAt(f.w, f.h, cut.Level), fillPath(ring, cut.Level, raster.Rect{X1: f.w, Y1: f.h}), doneOf(c.p)); told {
		return cut, true, nil
	}
	r, err := c.regionsAtHand()
	if err != nil || r == nil {
		return cut, false, err
	}
	all := r.answersOf(seedsAt(r.w, r.h, c.levelBelow(regionSide)), doneOf(c.p))
	if best := r.best(all, cut, untoldBetter, nil); best >= 0 {
		cut, err = c.edged(r, all.labels[best], seedsAt)
	}
	return cut, false, err
}

const (
	tellShare    = 0.03 // of either side so much may lie on the other's, for light and noise are everywhere
	tellMargin   = 2.0  // by how much pulls of the two sides must lie apart
	untoldBetter = 0.05 // regionsBetter where colours do not tell: the cut of pixels has no more to it then

	aroundRing = 0.4 // how far from the ring colours are what is around the thing, as a share of the ring's size
)

// coloursTell reports whether the colours under the strokes inside and those outside the ring (and under strokes outside) lie apart, by models
// learned from both: whether hardly any of one side pulls as any of the other does.
func coloursTell(f *planes, seeds []uint8, ring []float32, done raster.Done) bool {
	size := 0.0
	for _, v := range ring {
		size += float64(v)
	}
	away := raster.SignedDistance(func(i int) bool { return ring[i] >= 0.5 }, f.w, f.h)
	done.Check()
	in, out := make([]float64, len(f.bins)), make([]float64, len(f.bins))
	far := -float32(aroundRing * math.Sqrt(size))
	for i, s := range seeds {
		switch {
		case s == seedIn:
			in[f.bin[i]]++
		case s == seedOut && away[i] > far:
			out[f.bin[i]]++
		}
	}
	m := &models{in: fit(f.bins, in), out: fit(f.bins, out), done: done}
	pulls := m.pulls(f)
	return quantile(pulls, in, tellShare)-quantile(pulls, out, 1-tellShare) > tellMargin
}

// quantile returns the value of which the share q of the weight is not above it; 0 without weight.
func quantile[T float32 | float64](values []T, weights []float64, q float64) T {
	type weighted struct {
		value  T
		weight float64
	}
	var all []weighted
	total := 0.0
	for i, w := range weights {
		if w > 0 {
			all = append(all, weighted{values[i], w})
			total += w
		}
	}
	slices.SortFunc(all, func(a, b weighted) int { return cmp.Compare(a.value, b.value) })
	sum := 0.0
	for _, a := range all {
		if sum += a.weight; sum >= q*total {
			return a.value
		}
	}
	return 0
}
