package isolate

import (
	"math"
	"sync"

	"episema/core/colour"
	"episema/core/raster"
)

// Stroke is a stroke that selects. Pressure, where given, has a share of the radius for each point, 0 to 1.
type Stroke struct {
	raster.Stroke
	Pressure []float64 `json:"pressure,omitempty"`
}

// seeded is a stroke with the side it stands for.
type seeded struct {
	Stroke
	inside bool
}

// Pyramid gives a picture at halved sizes; level 0 is the full size.
type Pyramid interface {
	// Size gives the size of a level.
	Size(level int) (w, h int)
	// Levels gives how many levels there are; the last is at most 256 pixels on its long side.
	Levels() int
	// Linear reads a rectangle, which must lie inside the level, in linear light.
	Linear(level int, r raster.Rect) (*raster.RGB, error)
}

const (
	coarsest = 400  // long side at which the whole picture is cut
	finest   = 1900 // long side up to which the band along the edge is cut again
	quickest = 400  // the same while the hand is still moving
	core     = 0.45 // share of a stroke's radius that is claimed for sure
	contrast = 55.0 // weight of the boundary term
)

// sweep solves strokes inside and outside: colour models learned from them, a boundary that prefers strong
// edges, and a minimum cut (Boykov and Jolly 2001; Rother, Kolmogorov and Blake 2004), first over the whole
// picture at a coarse level, then in a band along the edge at finer ones (Lombaert et al. 2005).
func (c *compiler) sweep(strokes []seeded, reach *float64) (coverage, error) {
	l, err := c.swept(strokes, reach)
	if err != nil {
		return nil, err
	}
	return &sweep{l, c.effort == Quick}, nil
}

// swept gives the answer to strokes, remembered, and with it those to all that came before the last: each is what was
// looked at when the next was made. (In the middle of their reach, so that answers of all reaches begin at one.)
func (c *compiler) swept(strokes []seeded, reach *float64) (*Labels, error) {
	type flat struct {
		S  Stroke
		In bool
	}
	what := struct {
		Strokes []flat
		Effort  Effort
		Reach   *float64
	}{Effort: c.effort, Reach: reach}
	for _, s := range strokes {
		what.Strokes = append(what.Strokes, flat{s.Stroke, s.inside})
	}
	seedsAt := func(w, h, level int) []uint8 { return rasterSeeds(strokes, w, h, level) }
	return c.labels("sweep", what, func() (*Labels, error) {
		views := []view{c.sharpened, c.sharpenedPlain}
		if c.effort == Quick {
			// While a hand goes on, the view in which its beginning was seen best stays.
			var begun [][2]float64
			for _, s := range strokes {
				begun = append(begun, s.Points[0])
			}
			at, err := once(c, "sweep's view", begun, func(int) int { return 64 }, func() (int, error) {
				_, best, err := c.grow(seedsAt, nil, views...)
				return best, err
			})
			if err != nil {
				return nil, err
			}
			views = views[at : at+1]
		}
		focus, err := c.focusOf(seedsAt)
		if err != nil {
			return nil, err
		}
		l, _, err := c.grow(seedsAt, focus, views...)
		if err != nil || c.effort == Quick && reach == nil {
			return l, err
		}
		var was *Labels
		if before := len(strokes) - 1; before > 0 && before < lookedAt && c.effort != Quick {
			if was, err = c.swept(strokes[:before], nil); err != nil {
				return nil, err
			}
		}
		return c.reached(strokes, l, was, reach)
	})
}

// levelBelow is the finest level whose long side is at most side.
func (c *compiler) levelBelow(side int) int {
	level := 0
	for level < c.p.Levels()-1 {
		if w, h := c.p.Size(level); max(w, h) <= side {
			break
		}
		level++
	}
	return level
}

// planes gives the features of a whole level, remembered.
func (c *compiler) planes(level int) (*planes, error) {
	return once(c, "planes", level, func(f *planes) int { return 48 * len(f.bin) }, func() (*planes, error) {
		w, h := c.p.Size(level)
		pic, err := c.p.Linear(level, raster.Rect{X1: w, Y1: h})
		if err != nil {
			return nil, err
		}
		return features(pic, doneOf(c.p)), nil
	})
}

// sharpened gives a level's features with the steps between its pixels measured two levels finer: an edge of a
// thing stays a step there, while what light and folds do becomes a slope.
func (c *compiler) sharpened(level int) (*planes, error) {
	return once(c, "sharpened planes", level, func(f *planes) int { return 56 * len(f.bin) }, func() (*planes, error) {
		f, err := c.planes(level)
		if err != nil || level == 0 {
			return f, err
		}
		fine := max(0, level-2)
		g, err := c.planes(fine)
		if err != nil {
			return nil, err
		}
		n := 1 << (level - fine)
		s := &planes{w: f.w, h: f.h, lab: f.lab, bin: f.bin, bins: f.bins}
		s.stepX, s.stepY = make([]float32, f.w*f.h), make([]float32, f.w*f.h)
		// Two fine pixels apart, so that an antialiased rim counts whole.
		step := func(x, y, dx, dy int) float32 {
			x, y = min(x, g.w-1), min(y, g.h-1)
			return float32(g.plain2(y*g.w+x, min(y+dy, g.h-1)*g.w+min(x+dx, g.w-1)))
		}
		doneOf(c.p).Parallel(f.h, func(y int) {
			for x := range f.w {
				var sx, sy float32
				for k := range n {
					var mx, my float32
					for t := range n {
						mx = max(mx, step(x*n+n/2+t-1, y*n+k, 2, 0))
						my = max(my, step(x*n+k, y*n+n/2+t-1, 0, 2))
					}
					sx += mx
					sy += my
				}
				s.stepX[y*f.w+x], s.stepY[y*f.w+x] = sx/float32(n), sy/float32(n)
			}
		})
		return s, nil
	})
}

// view is how a level's colours are looked at while a thing is cut out.
type view func(level int) (*planes, error)

// grow gives labels at the finest level that is cut, from seeds at any level. Where several views of the colours
// are given, each cuts the coarsest level, and the one whose cut follows the edges best goes on; its index is given too. focus may be nil.
func (c *compiler) grow(seedsAt func(w, h, level int) []uint8, focus *focusMap, views ...view) (*Labels, int, error) {
	side, rounds, scans := coarsest, 3, 3
	if c.effort == Quick {
		side, rounds, scans = coarsest*5/8, 1, 1
	}
	level := c.levelBelow(side)
	type cut struct {
		f      *planes
		m      *models
		labels []uint8
		score  float64
	}
	cuts := make([]cut, len(views))
	for i, look := range views {
		f, err := look(level)
		if err != nil {
			return nil, 0, err
		}
		cuts[i].f = f
	}
	seeds := seedsAt(cuts[0].f.w, cuts[0].f.h, level)
	raster.Parallel(len(cuts), func(i int) {
		k := &cuts[i]
		k.m = learn(k.f, seeds, doneOf(c.p))
		k.m.focus = focus
		k.labels = k.m.cutWhole(k.f, seeds, rounds, scans)
		if len(cuts) > 1 {
			k.score = k.f.along(k.labels, doneOf(c.p))
		}
	})
	best := 0
	for i := range cuts {
		if cuts[i].score > cuts[best].score {
			best = i
		}
	}
	l, err := c.refine(level, cuts[best].f, cuts[best].m, cuts[best].labels, seedsAt)
	return l, best, err
}

// refine cuts again in a band along the edge, at finer and finer levels.
func (c *compiler) refine(level int, f *planes, m *models, labels []uint8, seedsAt func(w, h, level int) []uint8) (*Labels, error) {
	plain := f.plain
	fine := c.levelBelow(finest)
	if c.effort == Quick {
		fine = c.levelBelow(quickest)
	}
	for level > fine {
		w, h := f.w, f.h
		level--
		var err error
		if f, err = c.planes(level); err != nil {
			return nil, err
		}
		if plain {
			if f, err = c.plain(level, f); err != nil {
				return nil, err
			}
		}
		m.done.Check()
		seeds := seedsAt(f.w, f.h, level)
		labels = m.cutBand(f, seeds, upsample(labels, w, h, f.w, f.h), 4)
	}
	return &Labels{level, f.w, f.h, labels}, nil
}

// refineOpen is refine that keeps areas no stroke touches, where there are no strokes.
func (c *compiler) refineOpen(level int, f *planes, m *models, labels []uint8) (*Labels, error) {
	for fine := c.levelBelow(finest); level > fine; {
		w, h := f.w, f.h
		level--
		var err error
		if f, err = c.planes(level); err != nil {
			return nil, err
		}
		m.done.Check()
		labels = m.cutBandOpen(f, make([]uint8, f.w*f.h), upsample(labels, w, h, f.w, f.h), 4)
	}
	return &Labels{level, f.w, f.h, labels}, nil
}

// along says how well the border of a labelling follows edges: what it costs to cut there, below 0, for each
// pixel of the thing's size, so that neither a long way through even colours nor a ragged border is cheap.
func (f *planes) along(labels []uint8, done raster.Done) float64 {
	link := f.links(done)
	cost, area := 0.0, 0.0
	for y := range f.h {
		for x := range f.w {
			i := y*f.w + x
			area += float64(labels[i])
			for _, d := range [2]int{0, 2} {
				xx, yy := x+dirX[d], y+dirY[d]
				if xx >= f.w || yy >= f.h {
					continue
				}
				if j := yy*f.w + xx; labels[i] != labels[j] {
					cost += float64(link.at(i, j, d)) + 0.05
				}
			}
		}
	}
	return -cost / math.Max(1, math.Sqrt(area))
}

// sharpenedPlain is sharpened with colours as they are: things whose shade is tinted by another light than what lights
// them are told better so.
func (c *compiler) sharpenedPlain(level int) (*planes, error) {
	f, err := c.sharpened(level)
	if err != nil {
		return nil, err
	}
	return c.plain(-1-level, f)
}

// plain gives features with plain colours of the same pixels, remembered under a key.
func (c *compiler) plain(key int, f *planes) (*planes, error) {
	return once(c, "plain planes", key, func(p *planes) int { return 4 * len(p.bin) }, func() (*planes, error) {
		p := &planes{w: f.w, h: f.h, lab: f.lab, stepX: f.stepX, stepY: f.stepY, link: f.links(doneOf(c.p)), plain: true}
		p.sort()
		return p, nil
	})
}

func upsample(l []uint8, w, h, nw, nh int) []uint8 {
	o := make([]uint8, nw*nh)
	for y := 0; y < nh; y++ {
		row := l[min(y/2, h-1)*w:]
		for x := 0; x < nw; x++ {
			o[y*nw+x] = row[min(x/2, w-1)]
		}
	}
	return o
}

const (
	unknown uint8 = iota
	seedIn
	seedOut
)

// rasterSeeds draws the strokes at a level; a later stroke wins over an earlier one.
func rasterSeeds(strokes []seeded, w, h, level int) []uint8 {
	s := make([]uint8, w*h)
	k := 1 / float64(int(1)<<level)
	for _, st := range strokes {
		label := seedOut
		if st.inside {
			label = seedIn
		}
		// Hands are quick: a stroke claims for sure only what lies near its middle, so that one that
		// laps over an edge does not claim what lies across it. It is at least one pixel wide.
		r := math.Max(st.Radius*k*core, 0.5)
		raster.Along(st.At(raster.Place{Step: 1 / k}), func(int) float64 { return r }, raster.Rect{X1: w, Y1: h}, nil, func(_, x, y int, _ float64) { s[y*w+x] = label })
	}
	return s
}

// oklab is Oklab as if every picture were in sRGB: what tells things apart need not be exact.
var oklab = colour.NewFast(colour.SRGB)

// feature planes of a picture: Oklab for contrast, and a shading-tolerant triple for the colour models.
type planes struct {
	w, h int
	lab  []float32 // Oklab, three a pixel
	bin  []int32   // index of the pixel's quantised colour
	bins []binned
	// stepX and stepY, where given, are the squared steps to the right and down as a finer level shows them.
	stepX, stepY []float32

	plain bool // the models see the colours as they are, not what light and shade leave of them

	linking sync.Mutex
	link    *links
}

type binned struct {
	v [3]float64
	n float64
}

const (
	quantBits = 5
	quant     = 1 << quantBits // colour bins an axis
)

func features(p *raster.RGB, done raster.Done) *planes {
	f := &planes{w: p.W, h: p.H, lab: make([]float32, 3*p.W*p.H)}
	done.Parallel(p.H, func(y int) {
		for i := y * p.W; i < (y+1)*p.W; i++ {
			f.lab[3*i], f.lab[3*i+1], f.lab[3*i+2] = oklab.Oklab(p.Pix[3*i], p.Pix[3*i+1], p.Pix[3*i+2])
		}
	})
	done.Check()
	f.sort()
	return f
}

// sort puts the pixels into bins of like colours.
func (f *planes) sort() {
	seen := tolerant
	if f.plain {
		seen = plainOklab
	}
	f.bin = make([]int32, f.w*f.h)
	raster.Parallel(f.h, func(y int) {
		for i := y * f.w; i < (y+1)*f.w; i++ {
			v := seen(f.lab[3*i], f.lab[3*i+1], f.lab[3*i+2])
			key := int32(0)
			for c, x := range [3]float32{v[0], v[1] + 0.5, v[2] + 0.5} {
				key |= int32(max(0, min(quant-1, x*quant))) << (quantBits * c)
			}
			f.bin[i] = key // the key for now; its index below
		}
	})
	index := make([]int32, 1<<(3*quantBits))
	for i, key := range f.bin {
		k := index[key] - 1
		if k < 0 {
			k = int32(len(f.bins))
			index[key] = k + 1
			f.bins = append(f.bins, binned{})
		}
		bin := &f.bins[k]
		bin.n++
		for c, v := range seen(f.lab[3*i], f.lab[3*i+1], f.lab[3*i+2]) {
			bin.v[c] += float64(v)
		}
		f.bin[i] = k
	}
	for k := range f.bins {
		for c := range 3 {
			f.bins[k].v[c] /= f.bins[k].n
		}
	}
}

// plainOklab are Oklab colours, spread so that the bins tell tints apart.
func plainOklab(l, a, b float32) [3]float32 { return [3]float32{l, 2.5 * a, 2.5 * b} }

// tolerant turns Oklab into what colour models are learned from: light and shade scale L, a and b alike in
// Oklab, so a/L and b/L stay with the paint.
func tolerant(l, a, b float32) [3]float32 {
	k := 1 / (l + 0.12)
	return [3]float32{l, a * k, b * k}
}
