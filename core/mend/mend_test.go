package mend

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// wall is a grainy wall lighter to the right with a part (the left third) and a vertical line of another colour on it.
func wall(w, h int, line colour.RGB) (p, clean *raster.RGB, part *raster.Mask) {
	r := rand.New(rand.NewSource(3))
	p, clean, part = raster.NewRGB(w, h), raster.NewRGB(w, h), raster.NewMask(w, h)
	for y := range h {
		for x := range w {
			i := y*w + x
			if x < w/3 {
				part.Pix[i] = raster.Whole
			}
			grain := 1 + r.NormFloat64()*0.05
			for c, v := range [3]float64{0.3, 0.25, 0.2} {
				v *= (0.8 + 0.4*float64(x)/float64(w)) * grain
				clean.Pix[3*i+c] = float32(v)
				if x >= w/2 && x < w/2+3 {
					v = line[c] * grain
				}
				p.Pix[3*i+c] = float32(v)
			}
		}
	}
	return p, clean, part
}

func mean(p *raster.RGB, r raster.Rect, f func(c int, v float32) float64) float64 {
	s := 0.0
	for y := r.Y0; y < r.Y1; y++ {
		for x := r.X0; x < r.X1; x++ {
			for c := range 3 {
				s += f(c, p.Pix[3*(y*p.W+x)+c])
			}
		}
	}
	return s / float64(3*r.W()*r.H())
}

func TestTheBrushTakesTheColourBesideItAndKeepsTheGrain(t *testing.T) {
	p, clean, part := wall(180, 120, colour.RGB{0.5, 0.05, 0.05})
	s := Stroke{Stroke: raster.Stroke{Radius: 8, Points: [][2]float64{{91, 20}, {91, 100}}}, Strength: 1}
	over := raster.Rect{X0: 90, Y0: 25, X1: 93, Y1: 95}
	s.Apply(p, part, raster.Place{}, nil)
	was := mean(clean, over, func(_ int, v float32) float64 { return float64(v) })
	assert.InDelta(t, was, mean(p, over, func(_ int, v float32) float64 { return float64(v) }), 0.012, "the line has the wall's colour")
	spread := func(q *raster.RGB) float64 {
		return math.Sqrt(mean(q, over, func(c int, v float32) float64 {
			m := mean(q, over, func(k int, v float32) float64 {
				if k == c {
					return 3 * float64(v)
				}
				return 0
			})
			return (float64(v) - m) * (float64(v) - m)
		}))
	}
	assert.Greater(t, spread(p), 0.6*spread(clean), "and its grain")

	// At a low strength it builds up, stroke by stroke.
	p, _, _ = wall(180, 120, colour.RGB{0.5, 0.05, 0.05})
	s.Strength = 0.3
	last := 0.0
	for n := range 4 {
		s.Apply(p, part, raster.Place{}, nil)
		red := mean(p, over, func(c int, v float32) float64 {
			if c == 0 {
				return 3 * float64(v)
			}
			return 0
		})
		if n > 0 {
			assert.Less(t, red, last)
		}
		last = red
	}
	assert.Greater(t, last, was)

	// A sampled colour is taken as it is.
	p, _, _ = wall(180, 120, colour.RGB{0.5, 0.05, 0.05})
	s.Strength = 1
	s.Apply(p, part, raster.Place{}, &colour.RGB{0.1, 0.4, 0.1})
	assert.InDelta(t, 0.2, mean(p, over, func(_ int, v float32) float64 { return float64(v) }), 0.01)
}

func TestTheBrushNeverCrossesIntoThePartUnlessAsked(t *testing.T) {
	p, _, part := wall(180, 120, colour.RGB{0.5, 0.05, 0.05})
	before := append([]float32(nil), p.Pix...)
	s := Stroke{Stroke: raster.Stroke{Radius: 20, Points: [][2]float64{{60, 60}, {62, 80}}}, Strength: 1}
	s.Apply(p, part, raster.Place{}, nil)
	for i, m := range part.Pix {
		if m > 0 {
			require.Equal(t, before[3*i:3*i+3], p.Pix[3*i:3*i+3])
		}
	}
	s.Into = true
	s.Apply(p, part, raster.Place{}, nil)
	assert.NotEqual(t, before[3*(60*180+55)], p.Pix[3*(60*180+55)])
}

func TestStrokesRenderedInPiecesMeetWithoutASeam(t *testing.T) {
	whole, _, part := wall(240, 200, colour.RGB{0.5, 0.05, 0.05})
	s := Stroke{Stroke: raster.Stroke{Radius: 12, Points: [][2]float64{{100, 20}, {130, 90}, {121, 180}}}, Strength: 0.8}
	src := &raster.RGB{W: whole.W, H: whole.H, Pix: append([]float32(nil), whole.Pix...)}
	s.Apply(whole, part, raster.Place{}, nil)
	for y := 0; y < 200; y += 40 {
		r := raster.Rect{X1: 240, Y0: y, Y1: y + 40}.Grow(s.Margin(1)).And(raster.Rect{X1: 240, Y1: 200})
		strip, m := raster.NewRGB(240, r.H()), raster.NewMask(240, r.H())
		copy(strip.Pix, src.Pix[3*240*r.Y0:3*240*r.Y1])
		copy(m.Pix, part.Pix[240*r.Y0:240*r.Y1])
		s.Apply(strip, m, raster.Place{Y: float64(r.Y0), Step: 1}, nil)
		for i := range 3 * 240 * 40 {
			require.InDelta(t, whole.Pix[3*240*y+i], strip.Pix[3*240*(y-r.Y0)+i], 2e-5, "row %d", y+i/720)
		}
	}
}

// floor is a grey floor with a disc on it that throws its colour on what is near; it gives the picture with the disc in
// one colour.
func floor(disc colour.RGB, most float64) (*raster.RGB, *raster.Mask) {
	const w, h = 300, 240
	r := rand.New(rand.NewSource(9))
	p, m := raster.NewRGB(w, h), raster.NewMask(w, h)
	u := unit(disc)
	for y := range h {
		for x := range w {
			i := y*w + x
			d := math.Hypot(float64(x)-150, float64(y)-120) - 50
			light := 0.8 + 0.3*float64(x)/w
			for c, v := range [3]float64{0.3, 0.29, 0.26} {
				v *= light * (1 + most*math.Exp(-max(0, d)/14)*u[c])
				if d < 0 {
					v = disc[c] * light
				}
				p.Pix[3*i+c] = float32(v * (1 + r.NormFloat64()*0.02))
			}
			if d < 0 {
				m.Pix[i] = raster.Whole
			}
		}
	}
	return p, m
}

func TestTheOldCastIsTurnedToTheNewColour(t *testing.T) {
	red, teal := colour.RGB{0.45, 0.05, 0.04}, colour.RGB{0.02, 0.3, 0.34}
	p, m := floor(red, 0.35)
	want, _ := floor(teal, 0.35)
	f := FindCast(p, m, m, red, 1, 40)
	error := func(q *raster.RGB) float64 {
		s, n := 0.0, 0.0
		for i, v := range m.Pix {
			d := math.Hypot(float64(i%300)-150, float64(i/300)-120) - 50
			if v > 0 || d > 20 || d < 2 {
				continue
			}
			lab := func(r *raster.RGB) colour.Lab {
				return colour.SRGB.Lab(colour.RGB{float64(r.Pix[3*i]), float64(r.Pix[3*i+1]), float64(r.Pix[3*i+2])})
			}
			s, n = s+colour.DeltaE00(lab(q), lab(want)), n+1
		}
		return s / n
	}
	was := error(p)
	whole := raster.Rect{X1: p.W, Y1: p.H}
	turned := &raster.RGB{W: p.W, H: p.H, Pix: append([]float32(nil), p.Pix...)}
	f.Turn(turned, m, raster.Place{}, whole, &Cast{Amount: 100, Reach: 40}, teal)
	assert.Less(t, error(turned), 0.1*was, "nearer to the same floor around a teal disc (was %.1f)", was)

	shown := f.Mask(raster.Place{}, p.W, p.H)
	assert.Greater(t, shown.Pix[120*300+205], 4*shown.Pix[120*300+280]+1000, "it is shown where it is strong")

	plain, _ := floor(red, 0)
	none := FindCast(plain, m, m, red, 1, 40)
	most, _, _ := none.Most()
	assert.Less(t, most, 0.05, "no cast, none found")
	grey := FindCast(p, m, m, colour.RGB{0.3, 0.3, 0.3}, 1, 40)
	most, _, _ = grey.Most()
	assert.Zero(t, most, "a grey thing throws none")
}

// Zoomed out, the brush does what it does at full size: the half of what it made there is what it makes of the half.
func TestTheBrushZoomedOutIsTheBrushSeenSmaller(t *testing.T) {
	full, _, part := wall(240, 200, colour.RGB{0.5, 0.05, 0.05})
	small := raster.Half(full)
	shown := raster.NewMask(120, 100)
	for y := range 100 {
		for x := range 120 {
			shown.Pix[y*120+x] = part.Pix[2*y*240+2*x]
		}
	}
	before := append([]float32(nil), small.Pix...)
	s := Stroke{Stroke: raster.Stroke{Radius: 14, Points: [][2]float64{{112, 30}, {124, 100}, {121, 170}}}, Strength: 0.8}
	s.Apply(full, part, raster.Place{}, nil)
	s.Apply(small, shown, raster.Place{Step: 2}, nil)
	want := raster.Half(full)
	for x := 0; x < 118; x += 3 { // column by column: where the stroke lies, and where it does not
		r := raster.Rect{X0: x, X1: x + 3, Y0: 20, Y1: 80}
		level := func(p *raster.RGB) float64 { return mean(p, r, func(_ int, v float32) float64 { return float64(v) }) }
		assert.InDelta(t, level(want), level(small), 0.006, "columns from %d", x)
	}
	moved := 0
	for i, v := range small.Pix {
		if v != before[i] {
			moved++
			x, y := float64(i/3%120)*2+1, float64(i/360)*2+1
			d := math.Min(raster.ToSegment(x, y, s.Points[0], s.Points[1]), raster.ToSegment(x, y, s.Points[1], s.Points[2]))
			require.Less(t, d, s.Radius+2, "nothing moves outside the tip")
		}
	}
	assert.Greater(t, moved, 3*400)
}

// A cast found on a smaller level is that of the full size, lies where that lies, and its strongest place is said in
// pixels of the full size.
func TestACastIsTheSameOnASmallerLevel(t *testing.T) {
	pic, part := floor(colour.RGB{0.5, 0.06, 0.05}, 0.35)
	half := raster.NewMask(150, 120)
	for i := range half.Pix {
		half.Pix[i] = part.Pix[2*(i/150)*300+2*(i%150)]
	}
	full := FindCast(pic, part, part, colour.RGB{0.5, 0.06, 0.05}, 1, 60)
	small := FindCast(raster.Half(pic), half, half, colour.RGB{0.5, 0.06, 0.05}, 2, 60)
	require.Equal(t, [2]int{150, 120}, [2]int{small.W, small.H})
	n := 0
	for y := 20; y < 220; y += 7 {
		for x := 20; x < 280; x += 7 {
			if d := math.Hypot(float64(x)-150, float64(y)-120) - 50; d < 8 || d > 70 {
				continue
			}
			n++
			assert.InDelta(t, full.at(float64(x), float64(y)), small.at(float64(x), float64(y)), 0.06, "%d, %d", x, y)
		}
	}
	assert.Greater(t, n, 300)
	most, x, y := small.Most()
	assert.InDelta(t, 62, math.Hypot(x-150, y-120), 15, "beside the disc, in pixels of the full size")
	assert.InDelta(t, most, small.at(x, y), 1e-5)
	for _, v := range small.Weight {
		require.LessOrEqual(t, float64(v), most)
	}
	for name, place := range map[string]raster.Place{"half": {Step: 2}, "a part of it": {X: 100, Y: 60, Step: 1}} {
		m := small.Mask(place, 60, 50)
		for i, v := range m.Pix {
			fx, fy := place.Full(i%60, i/60)
			require.InDelta(t, math.Min(1, float64(small.at(fx, fy))/castMost), float64(v)/raster.Whole, 1e-4, name)
		}
	}
	// Far from the disc there is nothing: further than its reach allows.
	near := FindCast(pic, part, part, colour.RGB{0.5, 0.06, 0.05}, 1, 20)
	assert.Zero(t, near.at(290, 230))
	assert.Greater(t, near.at(150, 176), float32(0.05))
}
