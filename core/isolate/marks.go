package isolate

import (
	"math"
	"slices"

	"episema/core/raster"
)

// matted is an alpha matte worked out at one level: coarser levels average it, finer ones carry it over to
// their pixels through a locally linear relation to the colours.
type matted struct {
	level, w, h int
	alpha       []float32
}

// marks works out everything between a loose ring and strokes inside: first a cut says roughly where the
// thing ends, then the shares in a wide band around it are solved for as a matte.
func (c *compiler) marks(pick *Pick) (coverage, error) {
	what := struct {
		Ring            [][2]float64
		Inside, Outside []Stroke
		Effort          Effort
	}{pick.Ring, pick.Inside, pick.Outside, c.effort}
	return once(c, "marks", what, func(m *matted) int { return 4 * len(m.alpha) }, func() (*matted, error) {
		side := finest
		if c.effort == Quick {
			side = quickMatte
		}
		seedsAt := pick.markSeeds()
		labels, told, err := c.marked(pick.Ring, seedsAt)
		if err != nil {
			return nil, err
		}
		level := c.levelBelow(side)
		in := labels.In
		for l := labels.Level; l > level; l-- {
			lw, lh := c.p.Size(l)
			nw, nh := c.p.Size(l - 1)
			in = upsample(in, lw, lh, nw, nh)
		}
		f, err := c.planes(level)
		if err != nil {
			return nil, err
		}
		pic, err := c.p.Linear(level, raster.Rect{X1: f.w, Y1: f.h})
		if err != nil {
			return nil, err
		}
		ring := fillPath(pick.Ring, level, raster.Rect{X1: f.w, Y1: f.h})
		doneOf(c.p).Check()
		zones, pull := trimap(f, in, seedsAt(f.w, f.h, level), ring, told, doneOf(c.p))
		return &matted{level, f.w, f.h, solveMatte(pic, zones, pull, doneOf(c.p))}, nil
	})
}

// markSeeds draws what marks claim at a level: the strokes, and as outside what lies outside the ring.
func (p *Pick) markSeeds() func(w, h, level int) []uint8 {
	var strokes []seeded
	for _, s := range p.Outside {
		strokes = append(strokes, seeded{s, false})
	}
	for _, s := range p.Inside {
		strokes = append(strokes, seeded{s, true})
	}
	return func(w, h, level int) []uint8 {
		seeds := rasterSeeds(strokes, w, h, level)
		for i, v := range fillPath(p.Ring, level, raster.Rect{X1: w, Y1: h}) {
			if v < 0.5 && seeds[i] == unknown {
				seeds[i] = seedOut
			}
		}
		return seeds
	}
}

func (m *matted) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	out := make([]float32, r.W()*r.H())
	switch whole := (raster.Rect{X1: m.w, Y1: m.h}); {
	case level == m.level:
		return slices.Clone(raster.Crop(m.alpha, 1, whole, r)), nil // others write into what they are given
	case level > m.level:
		n := 1 << (level - m.level)
		for y := range r.H() {
			for x := range r.W() {
				var sum, cnt float32
				for yy := (y + r.Y0) * n; yy < min((y+r.Y0+1)*n, m.h); yy++ {
					for xx := (x + r.X0) * n; xx < min((x+r.X0+1)*n, m.w); xx++ {
						sum += m.alpha[yy*m.w+xx]
						cnt++
					}
				}
				out[y*r.W()+x] = sum / max(1, cnt)
			}
		}
		return out, nil
	}
	return m.carry(p, level, r)
}

// carry takes the matte to a finer level: where it is neither none nor whole, each 5 x 5 window's share is
// fitted as a linear function of its colours, and the means of those functions are read at the finer
// level's colours (He and Sun, Fast guided filter, 2015).
func (m *matted) carry(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	out := make([]float32, r.W()*r.H())
	d := m.level - level
	scale := 1 << d
	const radius = 2
	coarse := raster.Rect{X0: r.X0>>d - 2*radius - 1, Y0: r.Y0>>d - 2*radius - 1, X1: (r.X1-1)>>d + 2*radius + 2, Y1: (r.Y1-1)>>d + 2*radius + 2}.And(raster.Rect{X1: m.w, Y1: m.h})
	cw, ch := coarse.W(), coarse.H()
	alpha := slices.Clone(raster.Crop(m.alpha, 1, raster.Rect{X1: m.w, Y1: m.h}, coarse))
	even := true
	for _, v := range alpha {
		even = even && v == alpha[0]
	}
	if even {
		for i := range out {
			out[i] = alpha[0]
		}
		return out, nil
	}
	guide, err := p.Linear(m.level, coarse)
	if err != nil {
		return nil, err
	}
	pic, err := p.Linear(level, r)
	if err != nil {
		return nil, err
	}
	fit := guidedFit(guide, alpha, radius)
	raster.Parallel(r.H(), func(y int) {
		for x := range r.W() {
			i := y*r.W() + x
			cx := (float64(x+r.X0)+0.5)/float64(scale) - 0.5 - float64(coarse.X0)
			cy := (float64(y+r.Y0)+0.5)/float64(scale) - 0.5 - float64(coarse.Y0)
			x0, y0 := max(0, min(cw-1, int(math.Floor(cx)))), max(0, min(ch-1, int(math.Floor(cy))))
			x1, y1 := min(cw-1, x0+1), min(ch-1, y0+1)
			fx, fy := float32(max(0, min(1, cx-float64(x0)))), float32(max(0, min(1, cy-float64(y0))))
			a, b, c, e := y0*cw+x0, y0*cw+x1, y1*cw+x0, y1*cw+x1
			mix := func(q []float32) float32 {
				return (q[a]*(1-fx)+q[b]*fx)*(1-fy) + (q[c]*(1-fx)+q[e]*fx)*fy
			}
			if alpha[a] == alpha[b] && alpha[a] == alpha[c] && alpha[a] == alpha[e] && (alpha[a] == 0 || alpha[a] == 1) {
				out[i] = alpha[a]
				continue
			}
			v := mix(fit[3])
			for k := range 3 {
				v += mix(fit[k]) * pic.Pix[3*i+k]
			}
			out[i] = max(0, min(1, v))
		}
	})
	return out, nil
}
