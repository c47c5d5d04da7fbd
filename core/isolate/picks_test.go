package isolate

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// tufts is a thing whose rim fades over many pixels, as hair and plush do, and beside it a small one of the same colour. It
// gives the true shares of both.
func tufts() (*flat, *raster.Mask) {
	const w, h = 240, 200
	r := rand.New(rand.NewSource(6))
	p, m := raster.NewRGB(w, h), raster.NewMask(w, h)
	thing, ground := [3]float64{0.42, 0.1, 0.05}, [3]float64{0.1, 0.26, 0.34}
	for y := range h {
		for x := range w {
			i := y*w + x
			d := 52 - math.Hypot(float64(x)-100, float64(y)-100)
			a := math.Max(0, math.Min(1, d/14+0.5))
			b := math.Max(0, math.Min(1, 13.5-math.Hypot(float64(x)-205, float64(y)-60)))
			m.Pix[i] = uint16(math.Max(a, b)*raster.Whole + 0.5)
			a = math.Max(a, b)
			for c := range 3 {
				p.Pix[3*i+c] = float32(math.Max(0, thing[c]*a+ground[c]*(1-a)+r.NormFloat64()*0.004))
			}
		}
	}
	return &flat{[]*raster.RGB{p}}, m
}

func ring(cx, cy, r float64) (out [][2]float64) {
	for i := range 40 {
		a := 2 * math.Pi * float64(i) / 40
		out = append(out, [2]float64{cx + r*math.Cos(a), cy + r*math.Sin(a)})
	}
	return out
}

func TestMarksGiveSharesAndNotAHardCut(t *testing.T) {
	p, truth := tufts()
	m := whole(t, p, nil, Inputs{}, Pick{Kind: "marks", Join: "add", Ring: ring(100, 100, 80), Inside: []Stroke{{Stroke: raster.Stroke{Radius: 10, Points: [][2]float64{{80, 100}, {120, 100}}}}}})
	var off, hard, n float64
	for i, v := range truth.Pix {
		if x := i % 240; x > 170 || v == 0 || v == raster.Whole {
			continue
		}
		want, got := float64(v)/raster.Whole, float64(m.Pix[i])/raster.Whole
		off, hard, n = off+math.Abs(want-got), hard+math.Min(want, 1-want), n+1
	}
	require.Greater(t, n, 3000.0)
	assert.Less(t, off/n, 0.4*hard/n, "mean error of the share in the rim; the best hard cut has %.3f", hard/n)
}

func TestMarksStrokesOutsideAreOutside(t *testing.T) {
	p, _ := tufts()
	marks := Pick{Kind: "marks", Join: "add", Ring: ring(130, 95, 108), Inside: []Stroke{{Stroke: raster.Stroke{Radius: 10, Points: [][2]float64{{80, 100}, {120, 100}}}}, {Stroke: raster.Stroke{Radius: 5, Points: [][2]float64{{205, 60}}}}}}
	at := func(q Pick, x, y int) float64 {
		return float64(whole(t, p, nil, Inputs{}, q).Pix[y*240+x]) / raster.Whole
	}
	assert.Greater(t, at(marks, 205, 60), 0.9)
	assert.Greater(t, at(marks, 100, 60), 0.95)
	without := marks
	without.Outside = []Stroke{{Stroke: raster.Stroke{Radius: 8, Points: [][2]float64{{80, 60}, {120, 60}}}}}
	assert.Less(t, at(without, 100, 60), 0.05, "a stroke says that it is not of the thing")
	assert.Greater(t, at(without, 100, 110), 0.95)
}

// Pressure is a share of the radius, at each point.
func TestPressureIsAShareOfTheRadius(t *testing.T) {
	p := &flat{[]*raster.RGB{raster.NewRGB(240, 80)}}
	width := func(m *raster.Mask, x int) (s float64) {
		for y := range 80 {
			s += float64(m.Pix[y*240+x]) / raster.Whole
		}
		return s
	}
	stroke := Stroke{Stroke: raster.Stroke{Radius: 20, Points: [][2]float64{{30, 40}, {60, 40}, {180, 40}, {210, 40}}}}
	even := whole(t, p, nil, Inputs{}, Pick{Kind: "brush", Join: "add", Strokes: []Stroke{stroke}})
	assert.InDelta(t, 40, width(even, 60), 1.5)
	assert.InDelta(t, 40, width(even, 200), 1.5)
	stroke.Pressure = []float64{1, 1, 0.25, 0.25}
	pressed := whole(t, p, nil, Inputs{}, Pick{Kind: "brush", Join: "add", Strokes: []Stroke{stroke}})
	assert.InDelta(t, 40, width(pressed, 45), 1.5)
	assert.InDelta(t, 10, width(pressed, 200), 1.5)
}

func TestBoxesOfLikeColoursAreSamplesOfAllTheirColours(t *testing.T) {
	p, _ := drawing()
	disc, ground := math.Pi*55.3*55.3, 0.0
	box := whole(t, p, nil, Inputs{}, Pick{Kind: "like", Join: "add", Tolerance: 4, Boxes: [][4]float64{{80, 90, 100, 110}}})
	assert.Greater(t, area(box), 0.95*disc)
	ground = float64(box.Pix[5*300+5])
	assert.Zero(t, ground)
	// A box over two colours takes both.
	both := whole(t, p, nil, Inputs{}, Pick{Kind: "like", Join: "add", Tolerance: 4, Boxes: [][4]float64{{80, 30, 100, 110}}})
	assert.Greater(t, float64(both.Pix[5*300+5]), 0.95*raster.Whole)
	// And a sample's colour stays beside a box's.
	more := whole(t, p, nil, Inputs{}, Pick{Kind: "like", Join: "add", Tolerance: 4, Samples: [][2]float64{{5, 5}}, Boxes: [][4]float64{{80, 90, 100, 110}}})
	assert.Greater(t, float64(more.Pix[100*300+90]), 0.95*raster.Whole)
	assert.Greater(t, float64(more.Pix[5*300+5]), 0.95*raster.Whole)
}

// Tones are of L*, whatever the colour: a picture whose lightness runs across and whose hue runs down.
func TestTonesAreOfLightnessAlone(t *testing.T) {
	const w, h = 200, 60
	p := raster.NewRGB(w, h)
	for y := range h {
		for x := range w {
			c := colour.SRGB.Linear(colour.Lab{20 + 60*float64(x)/(w-1), -20 + 40*float64(y)/(h-1), 15 - 30*float64(y)/(h-1)})
			for k := range 3 {
				p.Pix[3*(y*w+x)+k] = float32(c[k])
			}
		}
	}
	m := whole(t, &flat{[]*raster.RGB{p}}, nil, Inputs{}, Pick{Kind: "tones", Join: "add", From: 40, To: 60, Soft: 5})
	for y := 2; y < h; y += 8 {
		for x := range w {
			l := 20 + 60*float64(x)/(w-1)
			want := math.Max(0, math.Min(1, math.Min((l-35)/5, (65-l)/5)))
			require.InDelta(t, want, float64(m.Pix[y*w+x])/raster.Whole, 0.03, "L* %.1f in row %d", l, y)
		}
	}
}
