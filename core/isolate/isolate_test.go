package isolate

import (
	"encoding/json"
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

// flat is a picture of one disc on a ground, with its pyramid.
type flat struct{ level []*raster.RGB }

func (p *flat) Size(l int) (int, int) { return p.level[l].W, p.level[l].H }
func (p *flat) Levels() int           { return len(p.level) }
func (p *flat) Linear(l int, r raster.Rect) (*raster.RGB, error) {
	o := raster.NewRGB(r.W(), r.H())
	for y := range o.H {
		copy(o.Pix[3*y*o.W:3*(y+1)*o.W], p.level[l].Pix[3*((y+r.Y0)*p.level[l].W+r.X0):])
	}
	return o, nil
}

// disc draws an antialiased disc, shaded from left to right, with sensor noise.
func disc(w, h int, cx, cy, radius float64, in, out [3]float32) (*flat, *raster.Mask) {
	r := rand.New(rand.NewSource(9))
	p, m := raster.NewRGB(w, h), raster.NewMask(w, h)
	for y := range h {
		for x := range w {
			a := float32(math.Max(0, math.Min(1, radius+0.5-math.Hypot(float64(x)+0.5-cx, float64(y)+0.5-cy))))
			shade := 1.1 - 0.7*float32(x)/float32(w)
			i := y*w + x
			m.Pix[i] = uint16(a*raster.Whole + 0.5)
			for c := range 3 {
				p.Pix[3*i+c] = max(0, a*in[c]*shade+(1-a)*out[c]+float32(r.NormFloat64())*0.004)
			}
		}
	}
	return newPyramid(p), m
}

func iou(a, b *raster.Mask) float64 {
	var both, any float64
	for i := range a.Pix {
		both += math.Min(float64(a.Pix[i]), float64(b.Pix[i]))
		any += math.Max(float64(a.Pix[i]), float64(b.Pix[i]))
	}
	return both / any
}

func compile(p Pyramid, picks ...Pick) (*Selection, error) {
	return Compile(p, picks, nil, Inputs{}, nil, Exact)
}

func stroke(radius float64, pts ...[2]float64) Stroke {
	return Stroke{Stroke: raster.Stroke{Radius: radius, Points: pts}}
}

func TestSweepFindsAShadedDiscToItsSoftEdge(t *testing.T) {
	p, truth := disc(1000, 700, 480, 340, 210, [3]float32{0.5, 0.05, 0.03}, [3]float32{0.18, 0.22, 0.16})
	picks := []Pick{{Kind: "sweep", Join: "add", Strokes: []Stroke{stroke(14, [2]float64{340, 340}, [2]float64{620, 340})}}}
	sel, err := compile(p, picks...)
	require.NoError(t, err)
	m, err := sel.Render(0, raster.Rect{X1: 1000, Y1: 700})
	require.NoError(t, err)
	assert.Greater(t, iou(m, truth), 0.985)
	// The share of rim pixels is worked out, not just yes or no.
	d, n := 0.0, 0.0
	for i, v := range truth.Pix {
		if v > 3000 && v < 62000 {
			d += math.Abs(float64(v)-float64(m.Pix[i])) / raster.Whole
			n++
		}
	}
	assert.Less(t, d/n, 0.056, "mean error of the share of rim pixels")

	t.Run("rectangles meet without a seam", func(t *testing.T) {
		for _, r := range []raster.Rect{{X0: 200, Y0: 100, X1: 333, Y1: 222}, {X0: 267, Y0: 130, X1: 268, Y1: 131}, {X0: 600, Y0: 500, X1: 1000, Y1: 700}} {
			part, err := sel.Render(0, r)
			require.NoError(t, err)
			for y := range part.H {
				for x := range part.W {
					require.InDelta(t, m.Pix[(y+r.Y0)*1000+x+r.X0], part.Pix[y*part.W+x], 2)
				}
			}
		}
	})
	t.Run("a coarser level is the same mask, smaller", func(t *testing.T) {
		w, h := p.Size(1)
		half, err := sel.Render(1, raster.Rect{X1: w, Y1: h})
		require.NoError(t, err)
		sum := func(m *raster.Mask) (s float64) {
			for _, v := range m.Pix {
				s += float64(v)
			}
			return s
		}
		assert.InEpsilon(t, sum(m), 4*sum(half), 0.01)
	})
}

func TestASubtractingSweepMendsTheOneBeforeIt(t *testing.T) {
	p, _ := disc(600, 400, 300, 200, 120, [3]float32{0.2, 0.3, 0.4}, [3]float32{0.2, 0.3, 0.4})
	add := Pick{Kind: "sweep", Join: "add", Strokes: []Stroke{stroke(10, [2]float64{250, 200}, [2]float64{350, 200})}}
	away := Pick{Kind: "sweep", Join: "subtract", Strokes: []Stroke{stroke(10, [2]float64{40, 60}, [2]float64{560, 60})}}
	render := func(picks ...Pick) *raster.Mask {
		s, err := compile(p, picks...)
		require.NoError(t, err)
		m, err := s.Render(0, raster.Rect{X1: 600, Y1: 400})
		require.NoError(t, err)
		return m
	}
	with := render(add, away)
	assert.Zero(t, with.Pix[60*600+300], "what was taken away is out")
	assert.EqualValues(t, raster.Whole, with.Pix[200*600+300], "what was swept is in")
	away.Off = true
	assert.Equal(t, render(add), render(add, away), "a pick switched off is as if it were not there")
	assert.Equal(t, raster.NewMask(600, 400), render(away), "nothing on, nothing selected")
}

func TestJoins(t *testing.T) {
	p, _ := disc(200, 100, 100, 50, 30, [3]float32{0.5, 0.1, 0.1}, [3]float32{0.1, 0.1, 0.1})
	left, right := raster.NewMask(200, 100), raster.NewMask(200, 100)
	for y := range 100 {
		for x := range 200 {
			if x < 120 {
				left.Pix[y*200+x] = raster.Whole
			}
			if x >= 80 {
				right.Pix[y*200+x] = raster.Whole
			}
		}
	}
	files := map[string]*raster.Mask{"l": left, "r": right}
	at := func(join string, x int) uint16 {
		s, err := Compile(p, []Pick{{Kind: "mask", Join: "add", File: "l"}, {Kind: "mask", Join: join, File: "r"}}, nil, Inputs{Masks: files}, nil, Exact)
		require.NoError(t, err)
		m, err := s.Render(0, raster.Rect{X0: x, Y0: 50, X1: x + 1, Y1: 51})
		require.NoError(t, err)
		return m.Pix[0]
	}
	for join, want := range map[string][3]uint16{"add": {65535, 65535, 65535}, "subtract": {65535, 0, 0}, "intersect": {0, 65535, 0}} {
		assert.Equal(t, want, [3]uint16{at(join, 40), at(join, 100), at(join, 160)}, join)
	}
}

func TestBrushIsAntialiasedAndSoft(t *testing.T) {
	p, _ := disc(100, 100, 50, 50, 10, [3]float32{}, [3]float32{})
	render := func(k Pick) *raster.Mask {
		s, err := compile(p, k)
		require.NoError(t, err)
		m, err := s.Render(0, raster.Rect{X1: 100, Y1: 100})
		require.NoError(t, err)
		return m
	}
	hard := render(Pick{Kind: "brush", Join: "add", Strokes: []Stroke{stroke(20, [2]float64{50, 50})}})
	sum := 0.0
	for _, v := range hard.Pix {
		sum += float64(v) / raster.Whole
	}
	assert.InEpsilon(t, math.Pi*400, sum, 0.01, "the area of the disc it paints")
	half := 0.5
	soft := render(Pick{Kind: "brush", Join: "add", Softness: 1, Strength: &half, Strokes: []Stroke{stroke(20, [2]float64{50, 50})}})
	assert.InDelta(t, raster.Whole/2, soft.Pix[50*100+50], 700)
	for x := 51; x < 72; x++ {
		assert.LessOrEqual(t, soft.Pix[50*100+x], soft.Pix[50*100+x-1])
	}
}

func TestWrongPicksSayWhichAndWhy(t *testing.T) {
	ok := []Stroke{stroke(5, [2]float64{1, 1})}
	for want, p := range map[string]Pick{
		"not known": {Kind: "wand", Join: "add"}, "join is": {Kind: "brush", Join: "plus", Strokes: ok},
		"no strokes": {Kind: "sweep", Join: "add"}, "radius": {Kind: "brush", Join: "add", Strokes: []Stroke{stroke(-1, [2]float64{1, 1})}},
		"no points": {Kind: "brush", Join: "add", Strokes: []Stroke{{Stroke: raster.Stroke{Radius: 3}}}}, "softness": {Kind: "brush", Join: "add", Softness: 2, Strokes: ok},
		"in no picture": {Kind: "brush", Join: "add", Strokes: []Stroke{stroke(3, [2]float64{math.NaN(), 0})}}, "names its file": {Kind: "mask", Join: "add"},
		"pressures": {Kind: "brush", Join: "add", Strokes: []Stroke{{Stroke: raster.Stroke{Radius: 3, Points: [][2]float64{{1, 1}}}, Pressure: []float64{1, 1}}}}} {
		var e *InputError
		err := Validate([]Pick{{Kind: "brush", Join: "add", Strokes: ok}, p})
		require.ErrorAs(t, err, &e, want)
		assert.Equal(t, 2, e.Pick)
		assert.Contains(t, err.Error(), want)
	}
}

func FuzzPicks(f *testing.F) {
	p, _ := disc(96, 64, 48, 32, 20, [3]float32{0.4, 0.1, 0.1}, [3]float32{0.1, 0.2, 0.1})
	f.Add([]byte(`[{"kind":"sweep","join":"add","strokes":[{"radius":4,"points":[[40,30],[50,34]]}]},{"kind":"brush","join":"subtract","softness":0.4,"strokes":[{"radius":9,"points":[[1,1]],"pressure":[0.5]}]}]`))
	f.Add([]byte(`[{"kind":"sweep","join":"subtract","strokes":[{"radius":1e5,"points":[[-1e6,1e6]]}]}]`))
	f.Fuzz(func(t *testing.T, b []byte) {
		var picks []Pick
		if json.Unmarshal(b, &picks) != nil || len(picks) > 6 {
			return
		}
		s, err := compile(p, picks...)
		if err != nil {
			return
		}
		if _, err := s.Render(0, raster.Rect{X0: 3, Y0: 5, X1: 90, Y1: 60}); err != nil {
			t.Fatal(err)
		}
	})
}
