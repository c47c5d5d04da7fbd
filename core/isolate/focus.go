package isolate

import (
	"math"
	"slices"

	"episema/core/raster"
)

// Found on the photographs of bench/sweep and bench/subject that are tuned on.
const (
	focusFine   = 0.7  // blurs between which the steps of what is in focus lose most, in pixels of the regions' level
	focusCoarse = 2.5  //
	focusFloor  = 4e-5 // squared steps of Oklab lightness that say little
	focusNone   = 1.0  // how much finer steps are than coarser ones, squared, in what is out of focus,
	focusWhole  = 2.6  // and in what is in focus
	focusParts  = 6.0  // how much the strength of a boundary keeps regions from hearing each other
	focusRounds = 40   // in which regions hear of their neighbours
	focusRim    = 0.55 // a picture whose frame is in focus to this share has no plane of focus
	focusThing  = 0.02 // and neither has one with less of it in focus

	focusOpen     = 0.125 // weight of a boundary between regions, where what is in focus is cut out,
	focusWeight   = 1.0   // of focus against ways and likeness,
	focusPull     = 8.0   // of focus against a pixel's colour (maxPull),
	focusSays     = 1.4   // and of focus for a set of regions being a thing
	focusSurely   = 0.25  // more in focus than that where a cut is made is surely in it
	focusUnlikely = 0.15  // and less than that, at the frame, surely not
	blurred       = 0.35  // what is less in focus is no part of a thing that is begun in the middle
)

// focusCuts are the shares of focus at which what is in focus is cut out.
var focusCuts = []float32{0.25, 0.4, 0.55}

// focus returns how much each region is in focus, 0 to 1, or nil where the picture has no plane of focus: it is in focus all over, at its frame,
// or nowhere. Where little is to be seen in a region its neighbours say it. Measured is what a blur takes from the steps in it (the
// re-blurring of Zhuo and Sim, Defocus map estimation from a single image, 2011, over regions instead of at edges).
func (r *regions) focus(f *planes, done raster.Done) []float32 {
	own, weight := r.sharpness(f, done)
	s := r.heard(own, weight)
	var rim, rimIn, all, in float32
	for k, v := range s {
		rim, rimIn = rim+r.atRim[k], rimIn+r.atRim[k]*v
		all, in = all+r.area[k], in+r.area[k]*v
	}
	if rimIn > focusRim*rim || in < focusThing*all {
		return nil
	}
	return s
}

// sharpness gives how sharp each region is by itself, 0 to 1, and how much that says.
func (r *regions) sharpness(f *planes, done raster.Done) (sharp, weight []float32) {
	light := make([]float32, f.w*f.h)
	for i := range light {
		light[i] = f.lab[3*i]
	}
	fine, coarse := steps(light, f.w, f.h, focusFine), steps(light, f.w, f.h, focusCoarse)
	done.Check()
	sorted := slices.Clone(fine)
	slices.Sort(sorted)
	noise := sorted[len(sorted)/5]
	n := len(r.words)
	sharp, weight = make([]float32, n), make([]float32, n)
	for i, o := range r.of {
		sharp[o] += max(0, fine[i]-noise)
		weight[o] += coarse[i]
	}
	for k, e := range weight {
		sharp[k] = max(0, min(1, (sharp[k]/(e+1e-12)-focusNone)/(focusWhole-focusNone)))
		weight[k] = e / (e + focusFloor*r.area[k])
	}
	return sharp, weight
}

// steps returns the squared steps of a plane after a blur.
func steps(p []float32, w, h int, blur float64) []float32 {
	b := slices.Clone(p)
	raster.Gauss(b, w, h, blur)
	out := make([]float32, w*h)
	for y := range h {
		for x := range w {
			i := y*w + x
			dx := (b[i+min(1, w-1-x)] - b[i-min(1, x)]) / 2
			dy := (b[i+w*min(1, h-1-y)] - b[i-w*min(1, y)]) / 2
			out[i] = dx*dx + dy*dy
		}
	}
	return out
}

// heard joins what each region says of itself with what those say that it meets, the more the less parts them (Jacobi's method).
func (r *regions) heard(own, weight []float32) []float32 {
	side := float32(math.Sqrt(float64(len(r.of)) / float64(len(own))))
	meet := make([]float32, len(r.near))
	for k, b := range r.near {
		meet[k] = b.length / side * float32(math.Exp(-focusParts*float64(b.strength)))
	}
	s := slices.Clone(own)
	sum, all := make([]float32, len(own)), make([]float32, len(own))
	for range focusRounds {
		for k, w := range weight {
			sum[k], all[k] = w*own[k], w
		}
		for k, b := range r.near {
			sum[b.a] += meet[k] * s[b.b]
			sum[b.b] += meet[k] * s[b.a]
			all[b.a] += meet[k]
			all[b.b] += meet[k]
		}
		for k := range s {
			s[k] = sum[k] / (all[k] + 1e-9)
		}
	}
	return s
}

// inFocus gives what is in focus, cut out at some shares of it, and what strokes on the sharpest of each would mean; nothing where the picture
// has no plane of focus.
func (r *regions) inFocus(done raster.Done) (all [][]bool) {
	if r.sharp == nil {
		return nil
	}
	size := float32(len(r.of)) / float32(len(r.words))
	for _, t := range focusCuts {
		done.Check()
		g := r.linked(r.costs(focusOpen))
		for k, s := range r.sharp {
			g.Term[k] = (s - t) * r.area[k] / size
		}
		in := g.Solve()
		seeds := make([]uint8, len(r.of))
		for i, o := range r.of {
			switch s := r.sharp[o]; {
			case in[o] && s > t+focusSurely:
				seeds[i] = seedIn
			case s < t-focusUnlikely && r.atRim[o] > 0:
				seeds[i] = seedOut
			}
		}
		all = append(all, in)
		all = append(all, r.answersOf(seeds, done).labels...)
	}
	return all
}

// focusSaid says of each region how much its focus speaks for a part, -1 to 1: for being as sharp, or as blurred, as what is marked inside is on
// the whole rather than as what is outside. Where both are as sharp it says nothing; nil where the picture has no plane of focus.
func (r *regions) focusSaid(isIn, isOut []bool) []float32 {
	if r.sharp == nil {
		return nil
	}
	mean := func(of []bool) (m float32, any bool) {
		var sum, all float32
		for k, v := range of {
			if v {
				sum, all = sum+r.area[k]*r.sharp[k], all+r.area[k]
			}
		}
		return sum / max(all, 1), all > 0
	}
	in, ok := mean(isIn)
	if !ok {
		return nil
	}
	out, ok := mean(isOut)
	if !ok && in < 0.5 {
		out = 1 // who strokes what is blurred does not mean what is sharp
	}
	said := make([]float32, len(r.sharp))
	for k, s := range r.sharp {
		said[k] = (in - out) * (2*s - in - out)
	}
	return said
}

// focusMap is what focus says of the pixels.
type focusMap struct {
	r    *regions
	said []float32
}

// focusMap gives what focus says where regions are in and out, or nil.
func (r *regions) focusMap(isIn, isOut []bool) *focusMap {
	if said := r.focusSaid(isIn, isOut); said != nil {
		return &focusMap{r, said}
	}
	return nil
}

// focusOf gives what focus says of the pixels where strokes are known by their seeds, or nil; while a hand goes on it is not asked, for it takes
// the regions.
func (c *compiler) focusOf(seedsAt func(w, h, level int) []uint8) (*focusMap, error) {
	if c.effort == Quick {
		return nil, nil
	}
	r, err := c.regions()
	if err != nil || r.sharp == nil {
		return nil, err
	}
	return r.focusMap(r.seeded(seedsAt(r.w, r.h, c.levelBelow(regionSide)))), nil
}

// focusBeside gives what focus says of the pixels along the edge of a set of regions, or nil.
func (r *regions) focusBeside(in []bool) *focusMap {
	out := make([]bool, len(in))
	for k, v := range in {
		out[k] = !v
	}
	return r.focusMap(in, out)
}

// at gives what is said of a pixel of a level of w by h pixels.
func (m *focusMap) at(x, y, w, h int) float32 {
	return m.said[m.r.of[min(y*m.r.h/h, m.r.h-1)*m.r.w+min(x*m.r.w/w, m.r.w-1)]]
}
