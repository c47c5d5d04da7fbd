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

// A selection does not know left from right, above from below, or across from down: of a picture that is mirrored, with what was drawn on
// it, the mirrored thing is selected.
func TestASelectionIsTheSameInTheMirror(t *testing.T) {
	const w, h = 224, 144
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
	in := []isolate.Stroke{{Radius: 10, Points: [][2]float64{{165.5, 150.5}, {250.5, 160.5}, {225.5, 220.5}}}, {Radius: 2, Points: [][2]float64{{310.5, 97.5}, {335.5, 130.5}, {312.5, 190.5}}}}
	out := []isolate.Stroke{{Radius: 8, Points: [][2]float64{{60.5, 60.5}, {80.5, 250.5}}}, {Radius: 8, Points: [][2]float64{{390.5, 40.5}, {400.5, 240.5}, {250.5, 278.5}}}}
	ring := [][2]float64{{125, 70}, {285, 65}, {355, 90}, {350, 200}, {270, 268}, {140, 268}, {118, 180}}
	reach := 0.4
	for name, c := range map[string]struct {
		picks []isolate.Pick
		edge  *isolate.Edge
		least float64 // of what the two have in common
	}{
		"sweep":   {[]isolate.Pick{{Kind: "sweep", Join: "add", Strokes: in}, {Kind: "sweep", Join: "subtract", Strokes: out}}, nil, 0.97},
		"reach":   {[]isolate.Pick{{Kind: "sweep", Join: "add", Strokes: in[:1], Reach: &reach}}, nil, 0.9},
		"marks":   {[]isolate.Pick{{Kind: "marks", Join: "add", Ring: ring, Inside: in, Outside: out}}, nil, 0.99},
		"subject": {[]isolate.Pick{{Kind: "subject", Join: "add"}}, nil, 0.92},
		"like":    {[]isolate.Pick{{Kind: "like", Join: "add", Samples: [][2]float64{{200.5, 150.5}, {160.5, 200.5}}, Boxes: [][4]float64{{210, 120, 230, 160}}, Not: [][2]float64{{60.5, 60.5}}, Tolerance: 9, Light: 25, Connected: true}}, nil, 0.995},
		"bands":   {[]isolate.Pick{{Kind: "hues", Join: "add", From: 340, To: 60, Soft: 10}, {Kind: "tones", Join: "intersect", From: 10, To: 70, Soft: 5}, {Kind: "depth", Join: "subtract", From: 0, To: 0.3, Soft: 0.1}}, nil, 0.9999},
		"outline": {[]isolate.Pick{{Kind: "outline", Join: "add", Snap: true, Nodes: []isolate.Node{{P: [2]float64{134, 104}}, {P: [2]float64{278, 104}, Out: &[2]float64{280, 160}}, {P: [2]float64{262, 240}, In: &[2]float64{276, 200}}, {P: [2]float64{150, 240}}}}}, nil, 0.99},
		"brush":   {[]isolate.Pick{{Kind: "brush", Join: "add", Softness: 0.5, Limit: true, Strokes: []isolate.Stroke{{Radius: 30, Points: [][2]float64{{270.5, 130.5}, {290.5, 220.5}}, Pressure: []float64{0.5, 1}}}}}, nil, 0.99},
		"edge":    {[]isolate.Pick{{Kind: "mask", Join: "add", File: "thing"}}, &isolate.Edge{Feather: 3, Grow: -1.5, Smooth: 2, Tidy: 4, FillHolesUnder: 500, DropSpecksUnder: 60}, 0.965},
		"areas":   {[]isolate.Pick{{Kind: "like", Join: "add", Samples: [][2]float64{{60.5, 60.5}}, Tolerance: 6}}, &isolate.Edge{DropSpecksUnder: 40, FillHolesUnder: 30}, 0.999},
	} {
		t.Run(name, func(t *testing.T) {
			c.picks = turn{}.picks(c.picks)
			want := picked(t, pic, depth, thing, c.picks, c.edge)
			share := 0.0
			for _, v := range want.Pix {
				share += float64(v) / raster.Whole / (w * h)
			}
			assert.Greater(t, share, 0.01, "something is selected")
			assert.Less(t, share, 0.9)
			for way, turn := range map[string]turn{"left and right": {flipX: true}, "above and below": {flipY: true}, "across and down": {swap: true}} {
				turn.w, turn.h = w, h
				got := picked(t, turn.rgb(pic), turn.mask(depth), turn.mask(thing), turn.picks(c.picks), c.edge)
				both := common(turn.mask(want), got)
				t.Logf("%s: %.4f in common", way, both)
				assert.GreaterOrEqual(t, both, c.least, way)
			}
		})
	}
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
	return both / math.Max(1, any)
}

// turn mirrors a picture of w x h and what was drawn on it; swap exchanges across and down. The zero turn halves what was drawn, for these
// pictures are half as large as what it was drawn on.
type turn struct {
	w, h               float64
	flipX, flipY, swap bool
}

func (t turn) point(p [2]float64) [2]float64 {
	switch {
	case t.flipX:
		return [2]float64{t.w - p[0], p[1]}
	case t.flipY:
		return [2]float64{p[0], t.h - p[1]}
	case t.swap:
		return [2]float64{p[1], p[0]}
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
	switch {
	case t.flipX:
		return w, h, func(i int) int { return i/w*w + w - 1 - i%w }
	case t.flipY:
		return w, h, func(i int) int { return (h-1-i/w)*w + i%w }
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
		if t == (turn{}) {
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
