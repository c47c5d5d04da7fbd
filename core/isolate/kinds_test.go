package isolate

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

func whole(t *testing.T, p *flat, edge *Edge, in Inputs, picks ...Pick) *raster.Mask {
	t.Helper()
	s, err := Compile(p, picks, edge, in, nil, Exact)
	require.NoError(t, err)
	w, h := p.Size(0)
	m, err := s.Render(0, raster.Rect{X1: w, Y1: h})
	require.NoError(t, err)
	return m
}

func area(m *raster.Mask) float64 {
	s := 0.0
	for _, v := range m.Pix {
		s += float64(v) / raster.Whole
	}
	return s
}

// drawing is a flat disc on a flat ground, its rim antialiased in coded values as renderers do, with a second
// disc whose colour is one step of eight bits away.
func drawing() (*flat, *raster.Mask) {
	const w, h = 300, 200
	p, m := raster.NewRGB(w, h), raster.NewMask(w, h)
	code := func(v uint8) float64 { return float64(v) / 255 }
	ground, red, twin := [3]uint8{240, 236, 220}, [3]uint8{200, 40, 30}, [3]uint8{201, 40, 30}
	for y := range h {
		for x := range w {
			i := y*w + x
			d := func(cx, cy, r float64) float64 {
				return math.Max(0, math.Min(1, r+0.5-math.Hypot(float64(x)+0.5-cx, float64(y)+0.5-cy)))
			}
			a, b := d(90, 100, 55.3), d(220, 100, 50)
			m.Pix[i] = uint16(a*raster.Whole + 0.5)
			for c := range 3 {
				v := code(ground[c])*(1-a-b) + code(red[c])*a + code(twin[c])*b
				p.Pix[3*i+c] = float32(colour.SRGBDecode(math.Round(v*255) / 255))
			}
		}
	}
	f := &flat{[]*raster.RGB{p}}
	for max(p.W, p.H) > 256 {
		p = raster.Half(p)
		f.level = append(f.level, p)
	}
	return f, m
}

func TestToleranceNoneTakesOneFlatColourWithItsRim(t *testing.T) {
	p, truth := drawing()
	m := whole(t, p, nil, Inputs{}, Pick{Kind: "like", Join: "add", Samples: [][2]float64{{90, 100}}})
	for i, v := range truth.Pix {
		require.InDelta(t, v, m.Pix[i], 0.04*raster.Whole, "share at %d, %d", i%300, i/300)
	}
	wide := whole(t, p, nil, Inputs{}, Pick{Kind: "like", Join: "add", Samples: [][2]float64{{90, 100}}, Tolerance: 2})
	assert.Greater(t, area(wide), 1.7*area(truth), "with some tolerance the twin is taken too")
	not := whole(t, p, nil, Inputs{}, Pick{Kind: "like", Join: "add", Samples: [][2]float64{{90, 100}}, Not: [][2]float64{{220, 100}}, Tolerance: 0.2})
	assert.InEpsilon(t, area(truth), area(not), 0.02)
	only := whole(t, p, nil, Inputs{}, Pick{Kind: "like", Join: "add", Samples: [][2]float64{{90, 100}}, Tolerance: 2, Connected: true})
	assert.InEpsilon(t, area(truth), area(only), 0.02, "connected only")
}

// Distances read from the table agree with the formula to a fraction of what a tolerance is set by.
func TestLikenessIsTheColourDifference(t *testing.T) {
	in := colour.RGB{0.4, 0.05, 0.04}
	l := newLikeness(colour.SRGB, []colour.RGB{in}, nil, 0)
	m := newMemo()
	off := 0
	for i := range 4096 {
		px := []float32{float32(i%16) / 15, float32(i/16%16) / 15, float32(i/256) / 15}
		want := colour.DeltaE00(colour.SRGB.Lab(colour.RGB{float64(px[0]), float64(px[1]), float64(px[2])}), colour.SRGB.Lab(in))
		got, _ := l.look(px, 0, m)
		if want < 15 {
			require.InDelta(t, want, got, 0.35, "%v", px)
		}
		if math.Abs(want-got) > 0.4+0.03*want {
			off++ // hues opposite to the sample's, where the formula itself has a jump
		}
	}
	assert.Less(t, off, 82, "two percent")
}

func TestBandsHaveSoftEndsAndHuesWrap(t *testing.T) {
	for _, c := range []struct{ v, from, to, soft, want float64 }{{5, 0, 10, 2, 1}, {-1, 0, 10, 2, 0.5}, {12.5, 0, 10, 2, 0}, {10, 0, 10, 0, 1}, {10.1, 0, 10, 0, 0}} {
		assert.InDelta(t, c.want, ramp(c.v, c.from, c.to, c.soft), 1e-9)
	}
	c := &compiler{}
	red := c.band(&Pick{Kind: "hues", From: 340, To: 20, Soft: 10}).(*band)
	for h, want := range map[float64]float64{0: 1, 350: 1, 19: 1, 25: 0.5, 335: 0.5, 180: 0, -5: 1} {
		assert.InDelta(t, want, red.hueShare(h), 1e-9, "hue %g", h)
	}
	// Grey has no hue: it comes in with the chroma, from none at 2 to all at 6.
	pic := raster.NewRGB(5, 1)
	for i, chroma := range []float64{0, 1.9, 4, 6.1, 20} {
		for k, v := range colour.SRGB.Linear(colour.Lab{50, chroma, 0}) {
			pic.Pix[3*i+k] = float32(v)
		}
	}
	m := whole(t, &flat{[]*raster.RGB{pic}}, nil, Inputs{}, Pick{Kind: "hues", Join: "add", From: 340, To: 20, Soft: 10})
	for i, want := range []float64{0, 0, 0.5, 1, 1} {
		assert.InDelta(t, want, float64(m.Pix[i])/raster.Whole, 0.02, "pixel %d", i)
	}
	// Single precision stays near the double one.
	o := newLabOf(colour.SRGB)
	for i := range 200 {
		v := colour.RGB{float64(i%7) / 6, float64(i%11) / 10, float64(i%13) / 12}
		want := colour.SRGB.Lab(v)
		l, a, b := o.of(float32(v[0]), float32(v[1]), float32(v[2]))
		assert.InDeltaSlice(t, want[:], []float64{float64(l), float64(a), float64(b)}, 0.02)
	}
}

func TestOutlineFillsItsCurveAndSnapsToTheEdge(t *testing.T) {
	p, truth := disc(600, 400, 300, 200, 120.4, [3]float32{0.5, 0.1, 0.06}, [3]float32{0.15, 0.2, 0.15})
	// A circle of four cubic curves is round to 0.03 percent (the usual 0.5523, common practice).
	circle := func(r float64) []Node {
		k := 0.5522847 * r
		at := func(x, y float64) *[2]float64 { return &[2]float64{300 + x, 200 + y} }
		return []Node{{P: *at(r, 0), In: at(r, -k), Out: at(r, k)}, {P: *at(0, r), In: at(k, r), Out: at(-k, r)}, {P: *at(-r, 0), In: at(-r, k), Out: at(-r, -k)}, {P: *at(0, -r), In: at(-k, -r), Out: at(k, -r)}}
	}
	m := whole(t, p, nil, Inputs{}, Pick{Kind: "outline", Join: "add", Nodes: circle(100)})
	assert.InEpsilon(t, math.Pi*100*100, area(m), 0.001)
	snapped := whole(t, p, nil, Inputs{}, Pick{Kind: "outline", Join: "add", Nodes: circle(116), Snap: true})
	assert.Greater(t, iou(snapped, truth), 0.99)
	assert.Less(t, iou(whole(t, p, nil, Inputs{}, Pick{Kind: "outline", Join: "add", Nodes: circle(116)}), truth), 0.94, "without snapping it is as drawn")
	half, err := Compile(p, []Pick{{Kind: "outline", Join: "add", Nodes: circle(100)}}, nil, Inputs{}, nil, Exact)
	require.NoError(t, err)
	w, h := p.Size(1)
	c, err := half.Render(1, raster.Rect{X1: w, Y1: h})
	require.NoError(t, err)
	assert.InEpsilon(t, math.Pi*50*50, area(c), 0.002, "coarser, the same shape")
}

// On a large picture the edge is looked for coarsely and then at full size: it is found from as far away as snapReach reaches on the small
// one, to a fraction of a pixel.
func TestAnOutlineSnapsOnALargePicture(t *testing.T) {
	p, truth := disc(2400, 1600, 1210, 790, 480.4, [3]float32{0.5, 0.1, 0.06}, [3]float32{0.15, 0.2, 0.15})
	var rough []Node
	for i := range 24 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 24)
		r := 480 + 14*float64(i%3-1)
		rough = append(rough, Node{P: [2]float64{1210 + r*cos, 790 + r*sin}})
	}
	pick := Pick{Kind: "outline", Join: "add", Nodes: rough, Snap: true}
	assert.Greater(t, iou(whole(t, p, nil, Inputs{}, pick), truth), 0.995)
	quick, err := Compile(p, []Pick{pick}, nil, Inputs{}, nil, Quick)
	require.NoError(t, err)
	m, err := quick.Render(0, raster.Rect{X1: 2400, Y1: 1600})
	require.NoError(t, err)
	assert.Greater(t, iou(m, truth), 0.985, "under a hand, nearly")
	pick.Snap = false
	assert.Less(t, iou(whole(t, p, nil, Inputs{}, pick), truth), 0.975, "as drawn")
}

// A glint on a thing is the thing's, and a speck is nothing; what shows the ground through a hole is not the thing's.
func TestHolesAreFilledWhereTheyAreGlintsOrSpecks(t *testing.T) {
	stroked := Pick{Kind: "sweep", Join: "add", Strokes: []Stroke{stroke(16, [2]float64{210, 150}, [2]float64{210, 250}, [2]float64{330, 250})}}
	around := Pick{Kind: "sweep", Join: "subtract", Strokes: []Stroke{stroke(12, [2]float64{60, 60}, [2]float64{540, 60}, [2]float64{540, 340}, [2]float64{60, 340})}}
	for name, c := range map[string]struct {
		radius float64
		colour [3]float32
		filled bool
	}{
		"a glint": {12, [3]float32{0.95, 0.95, 0.95}, true},
		"a hole":  {22, [3]float32{0.15, 0.2, 0.15}, false},
		"a speck": {2, [3]float32{0.15, 0.2, 0.15}, true},
	} {
		p, _ := disc(600, 400, 300, 200, 120.4, [3]float32{0.5, 0.1, 0.06}, [3]float32{0.15, 0.2, 0.15})
		for y := 150; y < 250; y++ {
			for x := 280; x < 380; x++ {
				if math.Hypot(float64(x)+0.5-330, float64(y)+0.5-190) < c.radius {
					copy(p.level[0].Pix[3*(y*600+x):], c.colour[:])
				}
			}
		}
		m := whole(t, newPyramid(p.level[0]), nil, Inputs{}, stroked, around)
		assert.Equal(t, c.filled, m.Pix[190*600+330] > raster.Whole/2, name)
	}
}

func TestEdgeMovesByFractionsAndKeepsStraightEdges(t *testing.T) {
	p, truth := disc(600, 400, 300, 200, 100, [3]float32{0.5, 0.1, 0.06}, [3]float32{0.15, 0.2, 0.15})
	in := Inputs{Masks: map[string]*raster.Mask{"m": truth}}
	pick := Pick{Kind: "mask", Join: "add", File: "m"}
	radius := func(m *raster.Mask) float64 { return math.Sqrt(area(m) / math.Pi) }
	for _, g := range []float64{0.3, 1, 2.5, -0.4, -3} {
		assert.InDelta(t, 100+g, radius(whole(t, p, &Edge{Grow: g}, in, pick)), 0.12, "grow %g", g)
	}
	soft := whole(t, p, &Edge{Feather: 2}, in, pick)
	assert.InDelta(t, 100, radius(soft), 0.1, "a feather keeps the place")
	row := func(x int) float64 { return float64(soft.Pix[200*600+x]) / raster.Whole }
	assert.Less(t, row(402), 0.06)
	assert.Greater(t, row(397), 0.94)
	assert.InDelta(t, 0.5, (row(399)+row(400))/2, 0.03)
	even := whole(t, p, &Edge{Smooth: 4}, in, pick)
	assert.InDelta(t, 100, radius(even), 0.25)
	assert.Greater(t, even.Pix[200*600+397], uint16(raster.Whole*98/100), "smoothing keeps an edge as sharp as it was")
	assert.Less(t, even.Pix[200*600+402], uint16(raster.Whole*2/100))
	// A feather is as wide at every level of the picture.
	wide, err := Compile(p, []Pick{pick}, &Edge{Feather: 12}, in, nil, Exact)
	require.NoError(t, err)
	full, err := wide.Render(0, raster.Rect{X1: 600, Y1: 400})
	require.NoError(t, err)
	half, err := wide.Render(1, raster.Rect{X1: 300, Y1: 200})
	require.NoError(t, err)
	for x := range 300 {
		mean := 0.0
		for _, i := range [4]int{0, 1, 600, 601} {
			mean += float64(full.Pix[200*600+2*x+i]) / 4 / raster.Whole
		}
		require.InDelta(t, mean, float64(half.Pix[100*300+x])/raster.Whole, 0.02, "at %d of the half", x)
	}
	// Rectangles meet without a seam.
	s, err := Compile(p, []Pick{pick}, &Edge{Feather: 3, Grow: 1.5, Smooth: 2}, in, nil, Exact)
	require.NoError(t, err)
	all, err := s.Render(0, raster.Rect{X1: 600, Y1: 400})
	require.NoError(t, err)
	part, err := s.Render(0, raster.Rect{X0: 180, Y0: 90, X1: 260, Y1: 170})
	require.NoError(t, err)
	for y := range part.H {
		for x := range part.W {
			require.InDelta(t, all.Pix[(y+90)*600+x+180], part.Pix[y*part.W+x], 700)
		}
	}
}

func TestTidyFindsTheEdgeNearby(t *testing.T) {
	p, truth := disc(600, 400, 300, 200, 100, [3]float32{0.5, 0.1, 0.06}, [3]float32{0.15, 0.2, 0.15})
	loose := raster.NewMask(600, 400)
	for y := range 400 {
		for x := range 600 {
			if math.Hypot(float64(x)-300, float64(y)-200)+4*math.Sin(float64(x)*0.2) < 100 {
				loose.Pix[y*600+x] = raster.Whole
			}
		}
	}
	in := Inputs{Masks: map[string]*raster.Mask{"m": loose}}
	pick := Pick{Kind: "mask", Join: "add", File: "m"}
	assert.Greater(t, iou(whole(t, p, &Edge{Tidy: 8}, in, pick), truth), 0.985)
	assert.Less(t, iou(loose, truth), 0.97)
	for x := range 60 { // a ramp that is soft on purpose, far from any edge
		for y := range 60 {
			loose.Pix[(y+20)*600+x+20] = uint16((x + 1) * raster.Whole / 200)
		}
	}
	assert.Equal(t, loose.Pix[50*600+50], whole(t, p, &Edge{Tidy: 8}, in, pick).Pix[50*600+50], "what is soft on purpose stays")
}

func TestAreasAreDroppedAndFilledBySizeAndByPlace(t *testing.T) {
	p, _ := disc(400, 300, 200, 150, 60, [3]float32{0.5, 0.1, 0.06}, [3]float32{0.15, 0.2, 0.15})
	m := raster.NewMask(400, 300)
	box := func(x0, y0, x1, y1 int, v uint16) {
		for y := y0; y < y1; y++ {
			for x := x0; x < x1; x++ {
				m.Pix[y*400+x] = v
			}
		}
	}
	box(100, 100, 300, 250, raster.Whole)
	box(150, 150, 156, 155, 0) // 30 pixels
	box(200, 150, 220, 170, 0) // 400
	box(20, 20, 25, 26, raster.Whole)
	box(350, 20, 380, 50, raster.Whole)
	in := Inputs{Masks: map[string]*raster.Mask{"m": m}}
	pick := Pick{Kind: "mask", Join: "add", File: "m"}
	s, err := Compile(p, []Pick{pick}, nil, in, nil, Exact)
	require.NoError(t, err)
	all, err := s.Areas(nil)
	require.NoError(t, err)
	require.Len(t, all, 5)
	assert.Equal(t, []int{200*150 - 430, 900, 400, 30, 30}, []int{all[0].Pixels, all[1].Pixels, all[2].Pixels, all[3].Pixels, all[4].Pixels})
	assert.Equal(t, raster.Rect{X0: 350, Y0: 20, X1: 380, Y1: 50}, all[1].Box)
	got := whole(t, p, &Edge{DropSpecksUnder: 31, FillHolesUnder: 31}, in, pick)
	assert.EqualValues(t, 200*150-400+900, area(got))
	got = whole(t, p, &Edge{DropAt: [][2]float64{all[1].At}, FillAt: [][2]float64{{210, 160}}}, in, pick)
	assert.EqualValues(t, 200*150-30+30, area(got))
}

func TestBrushKeepsToEdgesAndBuildsUp(t *testing.T) {
	p, truth := disc(400, 300, 200, 150, 80, [3]float32{0.5, 0.1, 0.06}, [3]float32{0.15, 0.2, 0.15})
	k := Pick{Kind: "brush", Join: "add", Strokes: []Stroke{stroke(40, [2]float64{150, 110}, [2]float64{250, 110})}}
	over := func(m *raster.Mask) (s float64) {
		for i, v := range m.Pix {
			s += math.Max(0, float64(v)-float64(truth.Pix[i])) / raster.Whole
		}
		return s
	}
	free := whole(t, p, nil, Inputs{}, k)
	k.Limit = true
	held := whole(t, p, nil, Inputs{}, k)
	assert.Less(t, over(held), 0.12*over(free), "next to nothing runs over the edge")
	assert.Greater(t, area(held)-over(held), 0.9*(area(free)-over(free)), "and the inside is painted all the same")
	flow := 0.25
	once := Pick{Kind: "brush", Join: "add", Flow: &flow, Strokes: []Stroke{stroke(20, [2]float64{100, 150})}}
	twice := once
	twice.Strokes = append(twice.Strokes, once.Strokes[0])
	a, b := whole(t, p, nil, Inputs{}, once).Pix[150*400+100], whole(t, p, nil, Inputs{}, twice).Pix[150*400+100]
	assert.InDelta(t, 0.25*raster.Whole, a, 300)
	assert.InDelta(t, 0.4375*raster.Whole, b, 300, "what is left gets a quarter more")
}

func TestSubjectFindsAThingAndDoubtsAnEmptyPicture(t *testing.T) {
	p, truth := disc(700, 500, 330, 240, 110, [3]float32{0.5, 0.06, 0.05}, [3]float32{0.18, 0.2, 0.17})
	assert.Greater(t, iou(whole(t, p, nil, Inputs{}, Pick{Kind: "subject", Join: "add"}), truth), 0.95)
	sure, err := Subject(p, Inputs{}, nil)
	require.NoError(t, err)
	assert.Greater(t, sure[0], SubjectUnsure)
	empty, _ := disc(700, 500, 330, 240, 0, [3]float32{}, [3]float32{0.18, 0.2, 0.17})
	unsure, err := Subject(empty, Inputs{}, nil)
	require.NoError(t, err)
	for _, u := range unsure {
		assert.Less(t, u, SubjectUnsure)
	}
}

// Of two things that are alike the one in the middle comes first, and one that the picture cuts off after one that it has whole.
func TestSubjectKnowsWhereThingsArePut(t *testing.T) {
	red, ground := [3]float32{0.5, 0.06, 0.05}, [3]float32{0.18, 0.2, 0.17}
	for _, c := range [][2][2]float64{{{350, 250}, {120, 110}}, {{350, 250}, {590, 400}}, {{240, 250}, {690, 250}}, {{350, 300}, {350, 4}}} {
		p, first := disc(700, 500, c[0][0], c[0][1], 80, red, ground)
		q, other := disc(700, 500, c[1][0], c[1][1], 80, red, ground)
		for i, v := range other.Pix {
			if v > 0 {
				copy(p.level[0].Pix[3*i:3*i+3], q.level[0].Pix[3*i:3*i+3])
			}
		}
		found := whole(t, newPyramid(p.level[0]), nil, Inputs{}, Pick{Kind: "subject", Join: "add"})
		both := raster.NewMask(700, 500)
		for i := range both.Pix {
			both.Pix[i] = max(first.Pix[i], other.Pix[i])
		}
		assert.Greater(t, max(iou(found, first), iou(found, both)), 0.9, "%v", c)
		assert.Greater(t, iou(found, first), iou(found, other)-0.001, "%v", c)
	}
}

// Of things that are as large, as closed and as unlike what is beside them, one that is unlike the rest of the picture is likelier what
// it shows than one of which there are more.
func TestAThingIsUnlikeTheRest(t *testing.T) {
	blue, red, ground := [3]float32{0.06, 0.1, 0.45}, [3]float32{0.4, 0.05, 0.05}, [3]float32{0.18, 0.2, 0.17}
	p, _ := disc(640, 480, 0, 0, 0, blue, ground)
	at := [][2]float64{{160, 120}, {480, 120}, {160, 360}, {480, 360}}
	things := make([]*raster.Mask, len(at))
	for k, c := range at {
		paint := blue
		if k == 0 {
			paint = red
		}
		_, things[k] = disc(640, 480, c[0], c[1], 70, paint, ground)
		for i, v := range things[k].Pix {
			if v > raster.Whole/2 {
				copy(p.level[0].Pix[3*i:3*i+3], paint[:])
			}
		}
	}
	f := features(p.level[0], nil)
	r := newRegions(f, nil)
	score := func(m *raster.Mask) float64 {
		l := make([]uint8, len(m.Pix))
		for i, v := range m.Pix {
			if v > raster.Whole/2 {
				l[i] = 1
			}
		}
		return r.objectness(r.mostly(l), make([]float32, len(r.words)))
	}
	for k := range at[1:] {
		assert.Greater(t, score(things[0]), score(things[k+1])+0.1)
	}
}

// Where a picture holds two things, one after the other is offered; no candidate is another once more.
func TestSubjectOffersOneThingAfterTheOther(t *testing.T) {
	p, first := disc(700, 500, 220, 250, 105, [3]float32{0.5, 0.06, 0.05}, [3]float32{0.18, 0.2, 0.17})
	_, second := disc(700, 500, 520, 250, 80, [3]float32{0.5, 0.06, 0.05}, [3]float32{0.18, 0.2, 0.17})
	for i, v := range second.Pix {
		if v > raster.Whole/2 {
			copy(p.level[0].Pix[3*i:3*i+3], []float32{0.05, 0.1, 0.5})
		}
	}
	pic := newPyramid(p.level[0])
	solved := kept{} // so that all is looked for once
	var found []*raster.Mask
	best := [2]float64{}
	for k := range SubjectCandidates {
		sel, err := Compile(pic, []Pick{{Kind: "subject", Join: "add", Candidate: k}}, nil, Inputs{}, solved, Exact)
		require.NoError(t, err)
		m, err := sel.Render(0, raster.Rect{X1: 700, Y1: 500})
		require.NoError(t, err)
		for i, truth := range []*raster.Mask{first, second} {
			best[i] = max(best[i], iou(m, truth))
		}
		found = append(found, m)
	}
	assert.Greater(t, best[0], 0.95, "the larger one")
	assert.Greater(t, best[1], 0.95, "the smaller one")
	sure, err := Subject(pic, Inputs{}, solved)
	require.NoError(t, err)
	for i := range min(len(sure), len(found)) {
		for k := range i {
			assert.Less(t, iou(found[i], found[k]), 0.9, "%d and %d", k, i)
		}
	}
	assert.Error(t, Validate([]Pick{{Kind: "subject", Join: "add", Candidate: SubjectCandidates}}))
}

func TestDepthIsReadBetweenItsPixels(t *testing.T) {
	p, _ := disc(400, 200, 200, 100, 60, [3]float32{0.5, 0.1, 0.06}, [3]float32{0.15, 0.2, 0.15})
	near := raster.NewMask(4, 2) // far on the left, near on the right
	for i := range near.Pix {
		near.Pix[i] = uint16(i % 4 * raster.Whole / 3)
	}
	m := whole(t, p, nil, Inputs{Depth: near}, Pick{Kind: "depth", Join: "add", From: 0.5, To: 1, Soft: 0.2})
	assert.Zero(t, m.Pix[100*400+20])
	assert.EqualValues(t, raster.Whole, m.Pix[100*400+380])
	// The map's pixels have their middles at 50, 150, 250 and 350: 0.4, the middle of the ramp, lies 20 beyond the second.
	assert.InDelta(t, 0.5*raster.Whole, m.Pix[100*400+169]/2+m.Pix[100*400+170]/2, 60, "half a ramp below the end")
	_, err := compile(p, Pick{Kind: "depth", Join: "add", To: 1})
	assert.ErrorContains(t, err, "no depth map")
}

func TestPicksSurviveJSON(t *testing.T) {
	flow := 0.5
	in := []Pick{{Kind: "brush", Join: "add", Flow: &flow, Limit: true, Strokes: []Stroke{{Stroke: raster.Stroke{Radius: 3, Points: [][2]float64{{1, 2}}}, Pressure: []float64{0.4}}}},
		{Kind: "like", Join: "intersect", Samples: [][2]float64{{1, 2}}, Boxes: [][4]float64{{1, 2, 3, 4}}, Not: [][2]float64{{5, 6}}, Tolerance: 11, Connected: true},
		{Kind: "outline", Join: "subtract", Snap: true, Nodes: []Node{{P: [2]float64{1, 1}, In: &[2]float64{0, 1}, Out: &[2]float64{2, 1}}, {P: [2]float64{9, 9}}, {P: [2]float64{1, 9}}}},
		{Kind: "marks", Join: "add", Ring: [][2]float64{{0, 0}, {9, 0}, {9, 9}}, Inside: []Stroke{stroke(2, [2]float64{4, 4})}, Outside: []Stroke{stroke(2, [2]float64{8, 1})}},
		{Kind: "hues", Join: "add", From: 200, To: 260, Soft: 20}, {Kind: "part", Join: "add", Part: "x"}, {Kind: "mask", Join: "add", File: "m.png"}, {Kind: "subject", Join: "add", Off: true}}
	require.NoError(t, Validate(in))
	b, err := json.Marshal(in)
	require.NoError(t, err)
	var out []Pick
	require.NoError(t, json.Unmarshal(b, &out))
	assert.Equal(t, in, out)
}

func TestEachKindSaysWhatIsWrongWithIt(t *testing.T) {
	for want, p := range map[string]Pick{
		"neither samples nor boxes": {Kind: "like", Join: "add"}, "tolerance is": {Kind: "like", Join: "add", Samples: [][2]float64{{1, 1}}, Tolerance: -1},
		"encloses nothing": {Kind: "outline", Join: "add", Nodes: []Node{{}, {}}}, "its ring has": {Kind: "marks", Join: "add"},
		"no stroke inside": {Kind: "marks", Join: "add", Ring: [][2]float64{{0, 0}, {1, 0}, {1, 1}}}, "for depth it runs": {Kind: "depth", Join: "add", From: 0.2, To: 3},
		"give the smaller first": {Kind: "tones", Join: "add", From: 50, To: 10}, "soft is": {Kind: "hues", Join: "add", Soft: -4},
		"names no other part": {Kind: "part", Join: "add"}, "flow is": {Kind: "brush", Join: "add", Flow: new(float64), Strokes: nil}} {
		if want == "flow is" {
			f := 2.0
			p.Flow, p.Strokes = &f, []Stroke{stroke(2, [2]float64{1, 1})}
		}
		assert.ErrorContains(t, Validate([]Pick{p}), want)
	}
	for want, e := range map[string]Edge{"feather is": {Feather: -1}, "grow is": {Grow: math.NaN()}, "in no picture": {DropAt: [][2]float64{{math.Inf(1), 0}}}} {
		assert.ErrorContains(t, e.Validate(), want)
	}
}

func TestTheLimitsOfLikeColoursAreTheirs(t *testing.T) {
	ok := func(change func(p *Pick)) error {
		p := Pick{Kind: "like", Join: "add", Samples: [][2]float64{{1, 1}}, Tolerance: 5}
		change(&p)
		return Validate([]Pick{p})
	}
	for _, c := range [][3]float64{{0, -200, 200}, {100, 200, -200}} {
		assert.NoError(t, ok(func(p *Pick) { p.Colours = [][3]float64{c} }))
		assert.NoError(t, ok(func(p *Pick) { p.NotLike = [][3]float64{c} }))
	}
	for _, c := range [][3]float64{{-0.1, 0, 0}, {100.1, 0, 0}, {50, 200.1, 0}, {50, 0, -200.1}, {math.NaN(), 0, 0}} {
		assert.ErrorContains(t, ok(func(p *Pick) { p.Colours = [][3]float64{c} }), "no CIELAB colour")
		assert.ErrorContains(t, ok(func(p *Pick) { p.NotLike = [][3]float64{c} }), "no CIELAB colour")
	}
	assert.NoError(t, ok(func(p *Pick) { p.Samples = make([][2]float64, maxSamples) }))
	assert.ErrorContains(t, ok(func(p *Pick) { p.Samples = make([][2]float64, maxSamples); p.Colours = make([][3]float64, 1) }), "samples")
	assert.NoError(t, ok(func(p *Pick) { p.Not = make([][2]float64, maxSamples) }))
	assert.ErrorContains(t, ok(func(p *Pick) { p.Not = make([][2]float64, maxSamples); p.NotLike = make([][3]float64, 1) }), "samples")
	for _, v := range []float64{0, 100} {
		assert.NoError(t, ok(func(p *Pick) { p.Tolerance = v }))
		assert.NoError(t, ok(func(p *Pick) { p.Light = v }))
	}
	for _, v := range []float64{-1, 100.5, math.NaN()} {
		assert.ErrorContains(t, ok(func(p *Pick) { p.Tolerance = v }), "tolerance")
		assert.ErrorContains(t, ok(func(p *Pick) { p.Light = v }), "light")
	}
}

// Thin pictures have no middle between their borders, and pictures of a pixel no border.
func TestSubjectOnPicturesOfEveryOddSize(t *testing.T) {
	for _, size := range [][2]int{{1, 1}, {2, 1}, {1, 3}, {2, 2}, {3, 3}, {2000, 3}, {16, 900}, {5, 700}, {700, 1}, {257, 1}, {64, 64}} {
		p := raster.NewRGB(size[0], size[1])
		for i := range p.Pix {
			p.Pix[i] = float32(i%7) / 7
		}
		pyramid := &flat{[]*raster.RGB{p}}
		for q := p; max(q.W, q.H) > 256; {
			q = raster.Half(q)
			pyramid.level = append(pyramid.level, q)
		}
		solved := kept{} // so that all is looked for once
		_, err := Subject(pyramid, Inputs{}, solved)
		assert.NoError(t, err, "%v", size)
		sel, err := Compile(pyramid, []Pick{{Kind: "subject", Join: "add"}}, nil, Inputs{}, solved, Exact)
		require.NoError(t, err, "%v", size)
		_, err = sel.Render(0, raster.Rect{X1: p.W, Y1: p.H})
		assert.NoError(t, err, "%v", size)
	}
}
