package isolate_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/scenes"
)

// selecting is what a selection was drawn on, and what was drawn: a case of each kind.
type selecting struct {
	pic          *raster.RGB
	depth, thing *raster.Mask
	cases        map[string]drawnOn
}

type drawnOn struct {
	picks []isolate.Pick
	edge  *isolate.Edge
	least float64 // of what a selection has in common with that in the mirror, of what either has
	large float64 // and with that in a large picture; 0 where that is another one (an outline is drawn to an edge as near as so many pixels) or is found on a small one anyway
}

const mirrorW, mirrorH = 224, 144

func onTheMug(t *testing.T) selecting {
	t.Helper()
	const w, h = mirrorW, mirrorH
	mug, err := scenes.RGB("../../demo/truth", "mug-red")
	require.NoError(t, err)
	truth, err := scenes.Mask("../../demo/truth", "mug-mask")
	require.NoError(t, err)
	pic := raster.Half(raster.Half(raster.Half(mug))).Crop(raster.Rect{X1: w, Y1: h})
	thing := raster.NewMask(w, h)
	for i := range thing.Pix {
		thing.Pix[i] = truth.Pix[(8*(i/w)+4)*truth.W+8*(i%w)+4]
	}
	depth := raster.NewMask(w/2, h/2)
	for i := range depth.Pix {
		depth.Pix[i] = uint16(40*(i%depth.W) + 300*(i/depth.W))
	}
	in := []isolate.Stroke{{Stroke: raster.Stroke{Radius: 10, Points: [][2]float64{{165.5, 150.5}, {250.5, 160.5}, {225.5, 220.5}}}}, {Stroke: raster.Stroke{Radius: 2, Points: [][2]float64{{310.5, 97.5}, {335.5, 130.5}, {312.5, 190.5}}}}}
	out := []isolate.Stroke{{Stroke: raster.Stroke{Radius: 8, Points: [][2]float64{{60.5, 60.5}, {80.5, 250.5}}}}, {Stroke: raster.Stroke{Radius: 8, Points: [][2]float64{{390.5, 40.5}, {400.5, 240.5}, {250.5, 278.5}}}}}
	ring := [][2]float64{{125, 70}, {285, 65}, {355, 90}, {350, 200}, {270, 268}, {140, 268}, {118, 180}}
	reach := 0.4
	return selecting{pic, depth, thing, map[string]drawnOn{
		"sweep":   {turn{}.picks([]isolate.Pick{{Kind: "sweep", Join: "add", Strokes: in}, {Kind: "sweep", Join: "subtract", Strokes: out}}), nil, 0.97, 0.92},
		"reach":   {turn{}.picks([]isolate.Pick{{Kind: "sweep", Join: "add", Strokes: in[:1], Reach: &reach}}), nil, 0.9, 0},
		"marks":   {turn{}.picks([]isolate.Pick{{Kind: "marks", Join: "add", Ring: ring, Inside: in, Outside: out}}), nil, 0.99, 0.93},
		"subject": {turn{}.picks([]isolate.Pick{{Kind: "subject", Join: "add"}}), nil, 0.92, 0},
		"like":    {turn{}.picks([]isolate.Pick{{Kind: "like", Join: "add", Samples: [][2]float64{{200.5, 150.5}, {160.5, 200.5}}, Boxes: [][4]float64{{210, 120, 230, 160}}, Not: [][2]float64{{60.5, 60.5}}, Tolerance: 9, Light: 25, Connected: true}}), nil, 0.995, 0.91},
		"bands":   {turn{}.picks([]isolate.Pick{{Kind: "hues", Join: "add", From: 340, To: 60, Soft: 10}, {Kind: "tones", Join: "intersect", From: 10, To: 70, Soft: 5}, {Kind: "depth", Join: "subtract", From: 0, To: 0.3, Soft: 0.1}}), nil, 0.9999, 0.99},
		"outline": {turn{}.picks([]isolate.Pick{{Kind: "outline", Join: "add", Snap: true, Nodes: []isolate.Node{{P: [2]float64{134, 104}}, {P: [2]float64{278, 104}, Out: &[2]float64{280, 160}}, {P: [2]float64{262, 240}, In: &[2]float64{276, 200}}, {P: [2]float64{150, 240}}}}}), nil, 0.99, 0},
		"brush":   {turn{}.picks([]isolate.Pick{{Kind: "brush", Join: "add", Softness: 0.5, Limit: true, Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 30, Points: [][2]float64{{270.5, 130.5}, {290.5, 220.5}}}, Pressure: []float64{0.5, 1}}}}}), nil, 0.99, 0.95},
		"edge":    {turn{}.picks([]isolate.Pick{{Kind: "mask", Join: "add", File: "thing"}}), &isolate.Edge{Feather: 3, Grow: -1.5, Smooth: 2, Tidy: 3, FillHolesUnder: 500, DropSpecksUnder: 60}, 0.965, 0.9},
		"areas":   {turn{}.picks([]isolate.Pick{{Kind: "like", Join: "add", Samples: [][2]float64{{60.5, 60.5}}, Tolerance: 6}}), &isolate.Edge{DropSpecksUnder: 40, FillHolesUnder: 30}, 0.999, 0.9},
	}}
}

// A selection does not know left from right, or across from down, and so not above from below: of a picture that is mirrored, with what was drawn on
// it, the mirrored thing is selected.
func TestASelectionIsTheSameInTheMirror(t *testing.T) {
	const w, h = mirrorW, mirrorH
	s := onTheMug(t)
	for name, c := range s.cases {
		t.Run(name, func(t *testing.T) {
			want := picked(t, s.pic, s.depth, s.thing, c.picks, c.edge)
			share := 0.0
			for _, v := range want.Pix {
				share += float64(v) / raster.Whole / (w * h)
			}
			assert.Greater(t, share, 0.01, "something is selected")
			assert.Less(t, share, 0.9)
			for way, turn := range map[string]turn{"left and right": {flipX: true}, "across and down": {swap: true}} {
				turn.w = w
				got := picked(t, turn.rgb(s.pic), turn.mask(s.depth), turn.mask(s.thing), turn.picks(c.picks), c.edge)
				both := common(turn.mask(want), got)
				t.Logf("%s: %.4f in common", way, both)
				assert.GreaterOrEqual(t, both, c.least, way)
			}
		})
	}
}

// Nor does it know how large a picture is: of one eight times as large, of which strokes, cuts and outlines are worked out on a smaller one,
// the same is selected, seen from afar and at full size.
func TestASelectionIsTheSameInALargePicture(t *testing.T) {
	const w, h, k, level = mirrorW, mirrorH, 8, 3
	s := onTheMug(t)
	large := scenes.NewPyramid(enlarged(s.pic, k))
	thing := raster.NewMask(k*w, k*h)
	for i := range thing.Pix {
		thing.Pix[i] = s.thing.Pix[i/(k*w)/k*w+i%(k*w)/k]
	}
	for name, c := range s.cases {
		if c.large == 0 {
			continue
		}
		t.Run(name, func(t *testing.T) {
			want := picked(t, s.pic, s.depth, s.thing, c.picks, c.edge)
			edge := c.edge
			if edge != nil {
				edge = &isolate.Edge{Feather: k * edge.Feather, Grow: k * edge.Grow, Smooth: k * edge.Smooth, Tidy: k * edge.Tidy, FillHolesUnder: k * k * edge.FillHolesUnder, DropSpecksUnder: k * k * edge.DropSpecksUnder}
			}
			sel, err := isolate.Compile(large, turn{by: k}.picks(c.picks), edge, isolate.Inputs{Depth: s.depth, Masks: map[string]*raster.Mask{"thing": thing}}, nil, isolate.Exact)
			require.NoError(t, err)
			afar, err := sel.Render(level, raster.Rect{X1: w, Y1: h})
			require.NoError(t, err)
			both := common(want, afar)
			t.Logf("from afar: %.4f in common", both)
			r := raster.Rect{X0: 100, Y0: 40, X1: 160, Y1: 90}
			near, err := sel.Render(0, raster.Rect{X0: k * r.X0, Y0: k * r.Y0, X1: k * r.X1, Y1: k * r.Y1})
			require.NoError(t, err)
			a, b := raster.NewMask(r.W(), r.H()), raster.NewMask(r.W(), r.H())
			sums := make([]float64, len(a.Pix))
			for i, v := range near.Pix {
				sums[i/near.W/k*a.W+i%near.W/k] += float64(v) / (k * k)
			}
			for i := range a.Pix {
				a.Pix[i] = uint16(sums[i])
				b.Pix[i] = afar.Pix[(i/a.W+r.Y0)*w+i%a.W+r.X0]
			}
			t.Logf("at full size: %.4f in common", common(a, b))
			assert.GreaterOrEqual(t, both, c.large, "from afar")
			assert.GreaterOrEqual(t, common(a, b), c.large, "at full size")
		})
	}
}

// enlarged returns a picture k times as large, even between the middles of its pixels.
func enlarged(p *raster.RGB, k int) *raster.RGB {
	o := raster.NewRGB(k*p.W, k*p.H)
	raster.Parallel(o.H, func(y int) {
		v := (float64(y)+0.5)/float64(k) - 0.5
		y0 := max(0, min(p.H-2, int(math.Floor(v))))
		fy := float32(max(0, min(1, v-float64(y0))))
		for x := range o.W {
			u := (float64(x)+0.5)/float64(k) - 0.5
			x0 := max(0, min(p.W-2, int(math.Floor(u))))
			fx := float32(max(0, min(1, u-float64(x0))))
			for c := range 3 {
				i := 3*(y0*p.W+x0) + c
				above, below := p.Pix[i]+fx*(p.Pix[i+3]-p.Pix[i]), p.Pix[i+3*p.W]+fx*(p.Pix[i+3*p.W+3]-p.Pix[i+3*p.W])
				o.Pix[3*(y*o.W+x)+c] = above + fy*(below-above)
			}
		}
	})
	return o
}

func picked(t *testing.T, pic *raster.RGB, depth, thing *raster.Mask, picks []isolate.Pick, edge *isolate.Edge) *raster.Mask {
	t.Helper()
	s, err := isolate.Compile(scenes.NewPyramid(pic), picks, edge, isolate.Inputs{Depth: depth, Masks: map[string]*raster.Mask{"thing": thing}}, nil, isolate.Exact)
	require.NoError(t, err)
	m, err := s.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
	require.NoError(t, err)
	return m
}

// common is what two masks have in common, of what either has.
func common(a, b *raster.Mask) float64 {
	var both, any float64
	for i, v := range a.Pix {
		both, any = both+float64(min(v, b.Pix[i])), any+float64(max(v, b.Pix[i]))
	}
	if any == 0 {
		return 1 // nothing either way
	}
	return both / any
}

// turn mirrors a picture of w x h and what was drawn on it; swap exchanges across and down. by enlarges what was drawn; the zero turn
// halves it, for these pictures are half as large as what it was drawn on.
type turn struct {
	w, by       float64
	flipX, swap bool
}

func (t turn) point(p [2]float64) [2]float64 {
	switch {
	case t.flipX:
		return [2]float64{t.w - p[0], p[1]}
	case t.swap:
		return [2]float64{p[1], p[0]}
	}
	if t.by > 0 {
		return [2]float64{t.by * p[0], t.by * p[1]}
	}
	return [2]float64{math.Floor(p[0]/2) + 0.5, math.Floor(p[1]/2) + 0.5} // the middle of a pixel: no mirror puts it into its neighbour
}

func (t turn) points(list [][2]float64) (out [][2]float64) {
	for _, p := range list {
		out = append(out, t.point(p))
	}
	return out
}

// at returns the size of a turned plane, and for each of its pixels which one of the w x h plane it was.
func (t turn) at(w, h int) (tw, th int, from func(i int) int) {
	if t.flipX {
		return w, h, func(i int) int { return i/w*w + w - 1 - i%w }
	}
	return h, w, func(i int) int { return i%h*w + i/h }
}

func (t turn) rgb(p *raster.RGB) *raster.RGB {
	w, h, from := t.at(p.W, p.H)
	o := raster.NewRGB(w, h)
	for i := range w * h {
		copy(o.Pix[3*i:3*i+3], p.Pix[3*from(i):])
	}
	return o
}

func (t turn) mask(m *raster.Mask) *raster.Mask {
	w, h, from := t.at(m.W, m.H)
	o := raster.NewMask(w, h)
	for i := range o.Pix {
		o.Pix[i] = m.Pix[from(i)]
	}
	return o
}

func (t turn) strokes(list []isolate.Stroke) (out []isolate.Stroke) {
	for _, s := range list {
		s.Points = t.points(s.Points)
		switch {
		case t.by > 0:
			s.Radius *= t.by
		case t == turn{}:
			s.Radius /= 2
		}
		out = append(out, s)
	}
	return out
}

func (t turn) picks(list []isolate.Pick) (out []isolate.Pick) {
	for _, p := range list {
		p.Strokes, p.Inside, p.Outside = t.strokes(p.Strokes), t.strokes(p.Inside), t.strokes(p.Outside)
		p.Samples, p.Not, p.Ring = t.points(p.Samples), t.points(p.Not), t.points(p.Ring)
		var boxes [][4]float64
		for _, b := range p.Boxes {
			a, c := t.point([2]float64{b[0], b[1]}), t.point([2]float64{b[2], b[3]})
			boxes = append(boxes, [4]float64{min(a[0], c[0]), min(a[1], c[1]), max(a[0], c[0]), max(a[1], c[1])})
		}
		p.Boxes = boxes
		var nodes []isolate.Node
		for _, n := range p.Nodes {
			handle := func(h *[2]float64) *[2]float64 {
				if h == nil {
					return nil
				}
				q := t.point(*h)
				return &q
			}
			nodes = append(nodes, isolate.Node{P: t.point(n.P), In: handle(n.In), Out: handle(n.Out)})
		}
		p.Nodes = nodes
		out = append(out, p)
	}
	return out
}
