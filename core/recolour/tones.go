package recolour

import (
	"math"
	"sort"

	"episema/core/colour"
	"episema/core/raster"
)

// What becomes of the different tones of a printed, striped or panelled part.
const (
	InnerFlat = "flat" // all become the target
	InnerKeep = "keep" // they keep their differences to the main one, relative to the new colour
)

// tint is one of the colours that a part is made of: its typical lit tone, and where it lies among the
// others: a/L and b/L of Oklab, which the shading leaves alone, and a little of its lightness.
type tint struct {
	tone Tone
	at   [3]float64
	mass float64
}

const (
	tintBins  = 60   // a side of the histogram of a/L and b/L
	tintSpan  = 0.45 // it runs from -tintSpan to tintSpan
	tintLeast = 0.03 // share of the part that a tint has at least
	tintLight = 0.05 // weight of lightness among tints
	tintDark  = 0.2  // Oklab lightness below which a pixel says nothing of its tint
)

// tintPixel is a pixel with its lightness and a/L and b/L, in Oklab.
type tintPixel struct {
	i       int
	l, u, v float64
}

// tints finds the colours a part is made of, the one with most pixels first: peaks of the histogram of
// a/L and b/L, and within each, lightnesses with a valley in between.
func tints(space *colour.Space, pic *raster.RGB, mask *raster.Mask) []tint {
	all := tintPixels(space, pic, mask)
	if len(all) < 200 {
		return nil
	}
	least := tintLeast * float64(len(all))
	var out []tint
	for _, g := range byTint(all) {
		if float64(len(g)) < least {
			continue
		}
		for _, sub := range byLightness(g) {
			m := raster.NewMask(mask.W, mask.H)
			for _, p := range sub {
				m.Pix[p.i] = raster.Whole
			}
			tone, err := LitTone(pic, m)
			if err != nil || float64(len(sub)) < least {
				continue
			}
			o := space.Oklab(tone.Linear)
			out = append(out, tint{tone, [3]float64{o[1] / o[0], o[2] / o[0], tintLight * o[0]}, float64(len(sub))})
		}
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].mass > out[b].mass })
	return out[:min(len(out), 6)]
}

// tintPixels lists the pixels surely in the part that say something of its tint.
func tintPixels(space *colour.Space, pic *raster.RGB, mask *raster.Mask) []tintPixel {
	var all []tintPixel
	for i, m := range mask.Pix {
		if m < sureIn {
			continue
		}
		r, g, b := pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2]
		o := space.Oklab(colour.RGB{float64(r), float64(g), float64(b)})
		if o[0] < tintDark || r > 0.985 && g > 0.985 && b > 0.985 {
			continue
		}
		all = append(all, tintPixel{i, o[0], o[1] / o[0], o[2] / o[0]})
	}
	return all
}

// byTint parts pixels by the nearest peak of the histogram of their tints.
func byTint(all []tintPixel) [][]tintPixel {
	hist := make([]float32, tintBins*tintBins)
	bin := func(v float64) int { return max(0, min(tintBins-1, int((v/tintSpan+1)/2*tintBins))) }
	for _, p := range all {
		hist[bin(p.v)*tintBins+bin(p.u)]++
	}
	raster.Gauss(hist, tintBins, tintBins, 1.2)
	peaks := peaksOf(hist, tintBins, tintBins, 0.6)
	groups := make([][]tintPixel, len(peaks))
	for _, p := range all {
		best, at := math.Inf(1), 0
		for k, q := range peaks {
			if d := math.Hypot(float64(bin(p.u)-q%tintBins), float64(bin(p.v)-q/tintBins)); d < best {
				best, at = d, k
			}
		}
		groups[at] = append(groups[at], p)
	}
	return groups
}

// byLightness parts pixels of one tint half way between the peaks of their lightness, darkest first.
func byLightness(g []tintPixel) [][]tintPixel {
	const steps = 48
	light := make([]float32, steps)
	for _, p := range g {
		light[min(steps-1, int(p.l*steps))]++
	}
	raster.Gauss(light, steps, 1, 1.5)
	tops := peaksOf(light, steps, 1, 0.35)
	sort.Ints(tops)
	out := make([][]tintPixel, len(tops))
	for k, top := range tops {
		lo, hi := 0.0, 2.0
		if k > 0 {
			lo = float64(tops[k-1]+top+1) / 2 / steps
		}
		if k < len(tops)-1 {
			hi = float64(tops[k+1]+top+1) / 2 / steps
		}
		for _, p := range g {
			if p.l >= lo && p.l < hi {
				out[k] = append(out[k], p)
			}
		}
	}
	return out
}

// peaksOf gives the maxima of a plane, each parted from every higher one by a valley below the share of it.
func peaksOf(p []float32, w, h int, valley float32) []int {
	order := make([]int, 0, len(p))
	for i, v := range p {
		if v > 0 {
			order = append(order, i)
		}
	}
	sort.SliceStable(order, func(a, b int) bool { return p[order[a]] > p[order[b]] })
	// Flooded from above: where two peaks' ground meets, the lower one is a peak of its own only if the ground
	// there lies deep enough.
	of := make([]int, len(p)) // 1 + the peak each bin belongs to
	var peaks []int
	root := map[int]int{}
	find := func(k int) int {
		for root[k] != k {
			k = root[k]
		}
		return k
	}
	for _, i := range order {
		x, y := i%w, i/w
		at := -1
		for yy := max(0, y-1); yy <= min(h-1, y+1); yy++ {
			for xx := max(0, x-1); xx <= min(w-1, x+1); xx++ {
				j := yy*w + xx
				if of[j] == 0 {
					continue
				}
				k := find(of[j] - 1)
				if at < 0 || at == k {
					at = k
					continue
				}
				a, b := at, k // two meet here
				if p[peaks[a]] < p[peaks[b]] {
					a, b = b, a
				}
				if p[i] > valley*p[peaks[b]] {
					root[b] = a
				}
				at = a
			}
		}
		if at < 0 {
			at = len(peaks)
			peaks = append(peaks, i)
			root[at] = at
		}
		of[i] = at + 1
	}
	var out []int
	for k, i := range peaks {
		if root[k] == k {
			out = append(out, i)
		}
	}
	return out
}

// blended paints with a plan for each tint, weighed by how near a pixel lies to it.
type blended struct {
	lab   *colour.Fast
	tints []tint
	plans []*Plan
	reach float64 // half a step of it between two tints is shared
}

func newBlended(space *colour.Space, tints []tint, plans []*Plan) *blended {
	b := &blended{lab: colour.NewFast(space), tints: tints, plans: plans, reach: math.Inf(1)}
	for i := range tints {
		for j := range i {
			b.reach = math.Min(b.reach, math.Sqrt(apart(tints[i].at, tints[j].at)))
		}
	}
	return b
}

func apart(a, b [3]float64) float64 {
	return (a[0]-b[0])*(a[0]-b[0]) + (a[1]-b[1])*(a[1]-b[1]) + (a[2]-b[2])*(a[2]-b[2])
}

func (b *blended) paint(l *lanes, n int) {
	var w [6][block]float32
	var wanted [6]bool
	for i := range n {
		b.weigh(l, i, &w, &wanted)
	}
	var s run
	var o lanes
	var sum [block]float32
	for k, p := range b.plans {
		if !wanted[k] {
			continue
		}
		made := s.repaintLanes(p, l, n)
		for i, v := range w[k][:n] {
			if v == 0 {
				continue
			}
			for c := range o {
				o[c][i] += v * made[c][i]
			}
			sum[i] += v
		}
	}
	for c := range o {
		for i := range n {
			l[c][i] = o[c][i] / sum[i]
		}
	}
}

// weigh gives how much of each plan the pixel i gets, and notes which are wanted at all.
func (b *blended) weigh(l *lanes, i int, w *[6][block]float32, wanted *[6]bool) {
	light, x, y := b.lab.Oklab(l.at(i))
	light = max(light, 0.05)
	at := [3]float64{float64(x / light), float64(y / light), tintLight * float64(light)}
	var d [6]float64
	least := math.Inf(1)
	for k := range b.tints {
		d[k] = apart(at, b.tints[k].at)
		least = math.Min(least, d[k])
	}
	for k := range b.plans {
		v := float32(math.Exp(-(d[k] - least) / (0.15 * b.reach * b.reach)))
		if v < 0.01 {
			continue
		}
		w[k][i], wanted[k] = v, true
	}
}

// related gives the colour that stands to goal as other stands to main: lightness moved alike, chroma in the
// same ratio, hue turned alike (Oklab). A neutral main has no hue: there the difference itself is added.
func related(space *colour.Space, main, other, goal colour.RGB) colour.RGB {
	m, o, g := space.Oklab(main), space.Oklab(other), space.Oklab(goal)
	l := g[0] + o[0] - m[0]
	// Lightness that would leave the range is drawn in towards its end, so that the order is kept.
	const ease = 0.12
	if l > 1-ease {
		l = 1 - ease + ease*(1-math.Exp(-(l-1+ease)/ease))
	}
	if l < ease {
		l = ease * math.Exp((l-ease)/ease)
	}
	a, b := g[1]+o[1]-m[1], g[2]+o[2]-m[2]
	cm, co := math.Hypot(m[1], m[2]), math.Hypot(o[1], o[2])
	if cm > 0.03 && co > 0.03 {
		k := co / cm
		turn := math.Atan2(o[2], o[1]) - math.Atan2(m[2], m[1])
		a = k * (g[1]*math.Cos(turn) - g[2]*math.Sin(turn))
		b = k * (g[1]*math.Sin(turn) + g[2]*math.Cos(turn))
	}
	return space.MapToGamut(space.FromOklab([3]float64{l, a, b}))
}
