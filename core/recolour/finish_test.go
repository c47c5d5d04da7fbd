package recolour

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

// The blend modes once more, written from the text of W3C Compositing and Blending Level 1 (sections 9.1 and 9.2) in another
// way than the code: by cases on numbers of a grid that has every branch and its ends in it.
func specified(mode string, b, s [3]float64) [3]float64 {
	each := func(f func(b, s float64) float64) (o [3]float64) {
		for c := range o {
			o[c] = f(b[c], s[c])
		}
		return o
	}
	multiply := func(b, s float64) float64 { return b * s }
	screen := func(b, s float64) float64 { return 1 - (1-b)*(1-s) }
	hard := func(b, s float64) float64 {
		if s <= 0.5 {
			return multiply(b, 2*s)
		}
		return screen(b, 2*s-1)
	}
	luminance := func(c [3]float64) float64 { return 0.3*c[0] + 0.59*c[1] + 0.11*c[2] }
	clip := func(c [3]float64) [3]float64 {
		l := luminance(c)
		n, x := math.Inf(1), math.Inf(-1)
		for _, v := range c {
			n, x = math.Min(n, v), math.Max(x, v)
		}
		for i := range c {
			if n < 0 {
				c[i] = l + (c[i]-l)*l/(l-n)
			}
		}
		for i := range c {
			if x > 1 {
				c[i] = l + (c[i]-l)*(1-l)/(x-l)
			}
		}
		return c
	}
	withLum := func(c [3]float64, l float64) [3]float64 {
		d := l - luminance(c)
		return clip([3]float64{c[0] + d, c[1] + d, c[2] + d})
	}
	spread := func(c [3]float64) float64 {
		return math.Max(c[0], math.Max(c[1], c[2])) - math.Min(c[0], math.Min(c[1], c[2]))
	}
	withSat := func(c [3]float64, s float64) [3]float64 {
		lo, hi := 0, 0
		for i := range 3 {
			if c[i] < c[lo] {
				lo = i
			}
			if c[i] >= c[hi] {
				hi = i
			}
		}
		if c[hi] == c[lo] {
			return [3]float64{}
		}
		mid := 3 - lo - hi
		o := [3]float64{}
		o[mid] = (c[mid] - c[lo]) * s / (c[hi] - c[lo])
		o[hi] = s
		return o
	}
	switch mode {
	case "normal":
		return s
	case "multiply":
		return each(multiply)
	case "screen":
		return each(screen)
	case "overlay":
		return each(func(b, s float64) float64 { return hard(s, b) })
	case "darken":
		return each(math.Min)
	case "lighten":
		return each(math.Max)
	case "color-dodge":
		return each(func(b, s float64) float64 {
			if b == 0 {
				return 0
			}
			if s == 1 {
				return 1
			}
			return math.Min(1, b/(1-s))
		})
	case "color-burn":
		return each(func(b, s float64) float64 {
			if b == 1 {
				return 1
			}
			if s == 0 {
				return 0
			}
			return 1 - math.Min(1, (1-b)/s)
		})
	case "hard-light":
		return each(hard)
	case "soft-light":
		return each(func(b, s float64) float64 {
			if s <= 0.5 {
				return b - (1-2*s)*b*(1-b)
			}
			d := math.Sqrt(b)
			if b <= 0.25 {
				d = 16*b*b*b - 12*b*b + 4*b
			}
			return b + (2*s-1)*(d-b)
		})
	case "difference":
		return each(func(b, s float64) float64 { return math.Abs(b - s) })
	case "exclusion":
		return each(func(b, s float64) float64 { return b + s - 2*b*s })
	case "hue":
		return withLum(withSat(s, spread(b)), luminance(b))
	case "saturation":
		return withLum(withSat(b, spread(s)), luminance(b))
	case "color":
		return withLum(s, luminance(b))
	case "luminosity":
		return withLum(b, luminance(s))
	}
	panic(mode)
}

func TestEveryBlendModeOverAGrid(t *testing.T) {
	grid := []float64{0, 0.1, 0.25, 0.3, 0.5, 0.6, 0.9, 1}
	n := len(grid)
	for _, mode := range BlendModes {
		f, err := finish(func(f *Finish) { f.Blend = mode })
		if mode != "normal" {
			require.NoError(t, err)
		}
		for i := range n * n * n {
			b := [3]float64{grid[i%n], grid[i/n%n], grid[i/n/n]}
			s := [3]float64{grid[(i+3)%n], grid[(i*5+1)%n], grid[(i*3+2)%n]}
			want := specified(mode, b, s)
			got := Blend(mode, b, s)
			require.InDeltaSlice(t, want[:], got[:], 1e-9, "%s of %v and %v", mode, b, s)
			if f == nil || i%7 != 0 {
				continue
			}
			// The finish lays what is painted, coded, over what was there.
			now := finishOne(f, linear(b), linear(s))
			for c := range 3 {
				require.InDelta(t, want[c], colour.SRGBEncode(float64(now[c])), 2e-3, "%s of %v and %v, channel %d", mode, b, s, c)
			}
		}
	}
}

func linear(c [3]float64) (o [3]float32) {
	for i, v := range c {
		o[i] = float32(colour.SRGBDecode(v))
	}
	return o
}

// finish gives the finisher of one setting that is not at rest.
func finish(set func(f *Finish)) (finisher, error) {
	f := NewFinish()
	set(f)
	return newFinish(colour.SRGB, f), f.Validate()
}

// finishOne gives what a finisher makes of one pixel.
func finishOne(f finisher, was, now [3]float32) [3]float32 {
	var a, b lanes
	a.set(0, was[0], was[1], was[2])
	b.set(0, now[0], now[1], now[2])
	f(&a, &b, 1)
	return b.pixel(0)
}

// finished gives a coded colour after one setting.
func finished(t *testing.T, c [3]float64, set func(f *Finish)) [3]float64 {
	t.Helper()
	f, err := finish(set)
	require.NoError(t, err)
	require.NotNil(t, f)
	now := finishOne(f, linear(c), linear(c))
	var o [3]float64
	for i, v := range now {
		o[i] = colour.SRGBEncode(float64(v))
	}
	return o
}

// Levels are a line between the black and the white point, a power of one over the middle, and a line again (common practice).
func TestLevelsAreALineAPowerAndALine(t *testing.T) {
	for _, c := range []struct {
		black, middle, white, outBlack, outWhite float64
		in, out                                  float64 // coded, of 255
	}{
		{51, 1, 255, 0, 255, 51, 0}, {51, 1, 255, 0, 255, 153, 127.5}, {0, 1, 204, 0, 255, 102, 127.5}, {0, 1, 204, 0, 255, 230, 255}, {51, 1, 255, 0, 255, 20, 0},
		{0, 2, 255, 0, 255, 63.75, 127.5}, {0, 0.5, 255, 0, 255, 127.5, 63.75}, {0, 1, 255, 51, 255, 0, 51}, {0, 1, 255, 0, 204, 255, 204}, {0, 1, 255, 51, 204, 127.5, 127.5},
		{0, 1, 255, 255, 0, 64, 191},
	} {
		got := finished(t, [3]float64{c.in / 255, c.in / 255, c.in / 255}, func(f *Finish) {
			f.Black, f.Middle, f.White, f.OutBlack, f.OutWhite = c.black, c.middle, c.white, c.outBlack, c.outWhite
		})
		for k := range 3 {
			assert.InDelta(t, c.out, got[k]*255, 0.35, "%+v", c)
		}
	}
}

// A stop is twice the light, by definition.
func TestExposureIsInStops(t *testing.T) {
	for _, stops := range []float64{-2, -0.5, 1, 1.5} {
		f, err := finish(func(f *Finish) { f.Exposure = stops })
		require.NoError(t, err)
		in := [3]float32{0.2, 0.05, 0.1}
		now := finishOne(f, in, in)
		for c := range 3 {
			assert.InDelta(t, float64(in[c])*math.Pow(2, stops), now[c], 1e-6)
		}
	}
}

func TestTheTonesControlsMoveTheirOwnTonesTheRightWay(t *testing.T) {
	grey := func(v float64) [3]float64 { return [3]float64{v, v, v} }
	move := func(v float64, set func(f *Finish)) float64 { return finished(t, grey(v), set)[0] - v }
	bright, dark := 0.75, 0.2
	hi := func(v float64) func(f *Finish) { return func(f *Finish) { f.Highlights = v } }
	lo := func(v float64) func(f *Finish) { return func(f *Finish) { f.Shadows = v } }
	assert.Greater(t, move(bright, hi(60)), 0.03)
	assert.Less(t, move(bright, hi(-60)), -0.03)
	assert.Greater(t, move(dark, lo(60)), 0.03)
	assert.Less(t, move(dark, lo(-60)), -0.03)
	assert.Less(t, move(dark, hi(60)), 0.6*move(bright, hi(60)), "bright tones are the highlights'")
	assert.Less(t, move(bright, lo(60)), 0.6*move(dark, lo(60)), "dark tones are the shadows'")
	for _, set := range []func(f *Finish){hi(100), hi(-100), lo(100), lo(-100)} {
		assert.InDelta(t, 0, move(0, set), 2e-3, "black stays")
		assert.InDelta(t, 0, move(1, set), 2e-3, "white stays")
		last := -1.0
		for i := range 101 {
			v := float64(i)/100 + move(float64(i)/100, set)
			require.GreaterOrEqual(t, v, last-1e-3, "the order of tones stays, at %d", i)
			last = v
		}
	}
}

func chromaOf(c [3]float64) (lightness, chroma, hue float64) {
	l := colour.SRGB.Oklab(colour.RGB{colour.SRGBDecode(c[0]), colour.SRGBDecode(c[1]), colour.SRGBDecode(c[2])})
	return l[0], math.Hypot(l[1], l[2]), math.Atan2(l[2], l[1])
}

func TestSaturationIsOfChromaAndVibranceSparesTheVivid(t *testing.T) {
	c := [3]float64{0.55, 0.45, 0.42}
	l, chroma, hue := chromaOf(c)
	for _, s := range []float64{-100, -50, 50, 100} {
		ll, cc, hh := chromaOf(finished(t, c, func(f *Finish) { f.Saturation = s }))
		assert.InDelta(t, l, ll, 1e-3, "lightness stays")
		assert.InDelta(t, chroma*(1+s/100), cc, 1e-3, "%g %% more chroma", s)
		if s > -100 {
			assert.InDelta(t, hue, hh, 0.01)
		}
	}
	vivid := [3]float64{0.9, 0.15, 0.1}
	gain := func(c [3]float64) float64 {
		_, was, _ := chromaOf(c)
		_, now, _ := chromaOf(finished(t, c, func(f *Finish) { f.Vibrance = 80 }))
		return now / was
	}
	assert.Greater(t, gain(c), 1.5)
	assert.InDelta(t, 1, gain(vivid), 0.02)
	_, less, _ := chromaOf(finished(t, c, func(f *Finish) { f.Vibrance = -80 }))
	assert.Less(t, less, 0.6*chroma)
}

func TestEachChannelHasItsOwnCurve(t *testing.T) {
	bent := [][2]float64{{0.5, 0.8}}
	for k, c := range []Curves{{Red: bent}, {Green: bent}, {Blue: bent}} {
		r, g, b := newCurves(&c)(colour.Light32(0.5), colour.Light32(0.5), colour.Light32(0.5))
		for i, v := range []float32{r, g, b} {
			want := 0.5
			if i == k {
				want = 0.8
			}
			assert.InDelta(t, want, colour.Coded32(v), 2e-3, "curve %d, channel %d", k, i)
		}
	}
	// The curve of all comes first: 0.5 becomes 0.8 and that 0.4.
	r, _, _ := newCurves(&Curves{All: bent, Red: [][2]float64{{0.8, 0.4}}})(colour.Light32(0.5), 0, 0)
	assert.InDelta(t, 0.4, colour.Coded32(r), 2e-3)
	free := newCurves(&Curves{All: [][2]float64{{0, 0.2}, {1, 0.7}}, Free: true})
	lo, _, hi := free(0, 0, 1)
	assert.InDelta(t, 0.2, colour.Coded32(lo), 1e-3)
	assert.InDelta(t, 0.7, colour.Coded32(hi), 1e-3)
}

// The middle is the tone, in percent of the lit one's lightness, at which both ends count alike.
func TestTheMiddleOfTwoTonesIsWhereBothCountAlike(t *testing.T) {
	lit, goal, dark := colour.RGB{0.6, 0.6, 0.6}, colour.RGB{0.5, 0.1, 0.05}, "#102040"
	d, err := colour.ParseCSS(dark)
	require.NoError(t, err)
	a, b := colour.SRGB.Oklab(colour.SRGB.Linear(d)), colour.SRGB.Oklab(goal)
	top := colour.SRGB.Oklab(lit)[0]
	for _, middle := range []float64{25, 50, 75} {
		p, err := newTwoTone(colour.SRGB, lit, goal, &TwoTone{Dark: dark, Middle: middle})
		require.NoError(t, err)
		l := top * middle / 100
		v := float32(l * l * l) // a grey's linear value is the cube of its Oklab lightness
		r, g, bb := p(v, v, v)
		got := colour.SRGB.Oklab(colour.RGB{float64(r), float64(g), float64(bb)})
		for c := range 3 {
			assert.InDelta(t, (a[c]+b[c])/2, got[c], 2e-3, "middle %g", middle)
		}
	}
}

func TestTurnsControlsTurnTheRightWay(t *testing.T) {
	own := colour.RGB{0.3, 0.08, 0.04}
	at := func(set Turn) (l, c, h float64) {
		r, g, b := newTurn(colour.SRGB, own, own, &set)(float32(own[0]), float32(own[1]), float32(own[2]))
		o := colour.SRGB.Oklab(colour.RGB{float64(r), float64(g), float64(b)})
		return o[0], math.Hypot(o[1], o[2]), math.Atan2(o[2], o[1])
	}
	l, c, h := at(Turn{})
	_, _, turned := at(Turn{Hue: 30})
	assert.InDelta(t, 30, (turned-h)*180/math.Pi, 0.1)
	_, more, _ := at(Turn{Saturation: 40})
	assert.InDelta(t, 1.4*c, more, 1e-3)
	_, less, _ := at(Turn{Saturation: -40})
	assert.InDelta(t, 0.6*c, less, 1e-3)
	light, _, _ := at(Turn{Lightness: 50})
	assert.InDelta(t, l+0.5*(1-l), light, 1e-3)
	dark, _, _ := at(Turn{Lightness: -50})
	assert.InDelta(t, 0.5*l, dark, 1e-3)
	// Grey has no hue to turn from or to: what is turned is no more than was asked for.
	grey, other := colour.RGB{0.2, 0.2, 0.21}, colour.RGB{0.02, 0.1, 0.3}
	for _, c := range [][2]colour.RGB{{own, grey}, {grey, other}} {
		r, g, b := newTurn(colour.SRGB, c[0], c[1], nil)(float32(own[0]), float32(own[1]), float32(own[2]))
		assert.InDeltaSlice(t, []float64{own[0], own[1], own[2]}, []float64{float64(r), float64(g), float64(b)}, 1e-4)
	}
}
