package isolate

import (
	"math"

	"episema/core/raster"
)

// regionsBetter is how much better supported an answer of regions has to be than that of pixels, which follows smooth things
// more closely, to be given first: strength of edges and unlikeness across them, 0..2. Found on the scenes of bench/sweep.
const (
	regionsBetter = 0.13
	biasPrior     = 0.5  // what the most bias takes from an answer's support
	nextAnswer    = 0.06 // share of its size by which an answer differs from the one before
	mostAnswers   = 4    // on each side of the one that is given first
	regionBand    = 6    // pixels of the regions' level within which the edge is looked for again
)

// reached gives the answer for a reach: nil and the middle are the best supported one, of the pixels' own labels base and
// those of regions; less walks inwards and more outwards. Each lies inside the next. was is the answer before the last stroke,
// or nil.
func (c *compiler) reached(strokes []seeded, base, was *Labels, reach *float64) (*Labels, error) {
	r, err := c.regions()
	if err != nil {
		return nil, err
	}
	seedsAt := func(w, h, level int) []uint8 { return rasterSeeds(strokes, w, h, level) }
	level := c.levelBelow(regionSide)
	all := r.answersOf(seedsAt(r.w, r.h, level), doneOf(c.p))
	fix := correctionOf(strokes, was, r.w, r.h, level)
	first := base
	if best := r.best(all, base, regionsBetter, fix); best >= 0 {
		if first, err = c.edged(r, all.labels[best], seedsAt); err != nil {
			return nil, err
		}
	}
	if first, err = c.withoutGaps(fix.kept(first), seedsAt); err != nil {
		return nil, err
	}
	if reach == nil || *reach == 0.5 {
		return first, nil
	}
	given := first.on(r.w, r.h)
	wider := *reach > 0.5
	steps := all.beside(r, given, wider)
	n := int(math.Round(math.Abs(*reach-0.5) * 2 * float64(len(steps))))
	l := first
	for _, k := range steps[:n] {
		next, err := c.edged(r, all.labels[k], seedsAt)
		if err != nil {
			return nil, err
		}
		l = joined(l, next, wider)
	}
	return l, nil
}

// best returns which of the answers is best supported, or -1 if none of them is by margin better supported than the pixels' own labels base.
func (r *regions) best(all *answers, base *Labels, margin float64, fix *correction) int {
	support := func(l []uint8) float64 { return r.along(l) + r.contrastOf(l) - fix.cost(l) }
	supports := make([]float64, len(all.labels))
	raster.Parallel(len(supports), func(k int) {
		supports[k] = support(r.pixels(all.labels[k])) - biasPrior*all.bias[k]*all.bias[k]
	})
	best, at := support(base.on(r.w, r.h))+margin, -1
	for k, v := range supports {
		if v > best {
			best, at = v, k
		}
	}
	return at
}

// edged gives an answer of regions with its edge looked for again in the pixels. Without strokes, seedsAt being nil, areas that none touches are kept.
func (c *compiler) edged(r *regions, in []bool, seedsAt func(w, h, level int) []uint8) (*Labels, error) {
	level := c.levelBelow(regionSide)
	labels := r.pixels(in)
	if c.effort == Quick {
		return &Labels{level, r.w, r.h, labels}, nil
	}
	f, err := c.planes(level)
	if err != nil {
		return nil, err
	}
	m := &models{done: doneOf(c.p), focus: r.focusBeside(in)}
	m.relearn(f, labels)
	if seedsAt == nil {
		return c.refineOpen(level, f, m, m.cutBandOpen(f, make([]uint8, f.w*f.h), labels, regionBand))
	}
	return c.refine(level, f, m, m.cutBand(f, seedsAt(r.w, r.h, level), labels, regionBand), seedsAt)
}

// beside lists the answers that are larger than a labelling, or smaller, each by a good piece more than the last.
func (a *answers) beside(r *regions, given []uint8, wider bool) []int {
	size := 0.0
	for _, v := range given {
		size += float64(v)
	}
	var found []int
	for n := range a.labels {
		k := n
		if !wider {
			k = len(a.labels) - 1 - n
		}
		in := 0.0
		for i, o := range r.of {
			if a.labels[k][o] && (wider || given[i] == 1) || wider && given[i] == 1 {
				in++
			}
		}
		if wider && in > size*(1+nextAnswer) || !wider && in < size*(1-nextAnswer) {
			size = in
			found = append(found, k)
		}
	}
	for len(found) > mostAnswers {
		// The outermost stays, and every second before it.
		var half []int
		for i := len(found) - 1; i >= 0; i -= 2 {
			half = append([]int{found[i]}, half...)
		}
		found = half
	}
	return found
}

// joined gives what is in both, or in either, at the finer of their levels.
func joined(a, b *Labels, either bool) *Labels {
	if a.Level > b.Level {
		a, b = b, a
	}
	o := &Labels{a.Level, a.W, a.H, make([]uint8, len(a.In))}
	other := b.In
	if b.W != a.W || b.H != a.H {
		other = b.on(a.W, a.H)
	}
	for i, v := range a.In {
		if either {
			o.In[i] = v | other[i]
		} else {
			o.In[i] = v & other[i]
		}
	}
	return o
}

// Prepare works out what a picture is made of, so that strokes need not wait for it.
func Prepare(p Pyramid, solved Solved) (err error) {
	defer raster.Recover(&err)
	_, err = (&compiler{p: p, solved: solved}).regions()
	return err
}
