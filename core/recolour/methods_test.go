package recolour

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// The formulas of W3C Compositing and Blending Level 1, sections 9.2 (separable) and 10.1 (non-separable), each
// worked by hand for one pair of channels: backdrop 0.25, source 0.75, and the reverse where it tells more.
func TestBlendModesAsTheSpecificationHasThem(t *testing.T) {
	for mode, want := range map[string][2]float64{ // B(0.25, 0.75), B(0.75, 0.25)
		"normal": {0.75, 0.25}, "multiply": {0.1875, 0.1875}, "screen": {0.8125, 0.8125}, "darken": {0.25, 0.25}, "lighten": {0.75, 0.75},
		"overlay": {0.375, 0.625}, "hard-light": {0.625, 0.375}, "color-dodge": {1, 1}, "color-burn": {0, 0},
		"soft-light": {0.25 + 0.5*(((16*0.25-12)*0.25+4)*0.25-0.25), 0.75 - 0.5*0.75*0.25}, "difference": {0.5, 0.5}, "exclusion": {0.625, 0.625}} {
		got := Blend(mode, [3]float64{0.25, 0.75, 0.25}, [3]float64{0.75, 0.25, 0.75})
		assert.InDelta(t, want[0], got[0], 1e-12, mode)
		assert.InDelta(t, want[1], got[1], 1e-12, mode)
	}
	assert.Equal(t, 0.0, dodge(0, 1))
	assert.Equal(t, 1.0, burn(1, 0))
	b, s := [3]float64{0.2, 0.5, 0.8}, [3]float64{0.9, 0.3, 0.1}
	assert.InDelta(t, lum(b), lum(Blend("hue", b, s)), 1e-9, "hue keeps the backdrop's luminosity")
	assert.InDelta(t, lum(b), lum(Blend("color", b, s)), 1e-9)
	assert.InDelta(t, lum(s), lum(Blend("luminosity", b, s)), 1e-9)
	assert.InDelta(t, lum(b), lum(Blend("saturation", b, s)), 1e-9)
	r := rand.New(rand.NewSource(1))
	for range 2000 {
		b, s := [3]float64{r.Float64(), r.Float64(), r.Float64()}, [3]float64{r.Float64(), r.Float64(), r.Float64()}
		for _, m := range BlendModes {
			for _, v := range Blend(m, b, s) {
				require.True(t, v >= -1e-9 && v <= 1+1e-9, "%s of %v and %v gives %g", m, b, s, v)
			}
		}
	}
}

func TestCurvesAreMonotoneAndPassThroughTheirPoints(t *testing.T) {
	// The data of Fritsch and Carlson (1980), table 1 (RPN 14), given from memory and scaled to 0..1.
	x := []float64{7.99, 8.09, 8.19, 8.7, 9.2, 10, 12, 15, 20}
	y := []float64{0, 2.76429e-5, 4.37498e-2, 0.169183, 0.469428, 0.943740, 0.998636, 0.999919, 0.999994}
	var p [][2]float64
	for i := range x {
		p = append(p, [2]float64{(x[i] - x[0]) / (x[8] - x[0]), y[i]})
	}
	s := newSpline(p, true)
	last := 0.0
	for i := range 5001 {
		v := s.at(float64(i) / 5000)
		require.GreaterOrEqual(t, v, last-1e-12, "it never falls, at %d", i)
		last = v
	}
	for _, q := range p {
		assert.InDelta(t, q[1], s.at(q[0]), 1e-12)
	}
	pinned := newSpline([][2]float64{{0.5, 0.7}}, false)
	assert.Equal(t, []float64{0, 0.7, 1}, []float64{pinned.at(0), pinned.at(0.5), pinned.at(1)}, "the ends stay")
	assert.Equal(t, 0.37, newSpline(nil, true).at(0.37), "no points, no change")
}

func TestIdentitySettingsAreTheIdentity(t *testing.T) {
	assert.Nil(t, newFinish(colour.SRGB, NewFinish()))
	r := rand.New(rand.NewSource(2))
	turn, curves := newTurn(colour.SRGB, colour.RGB{0.3, 0.3, 0.3}, colour.RGB{0.1, 0.5, 0.2}, nil), newCurves(nil)
	for range 500 {
		c := [3]float32{r.Float32(), r.Float32(), r.Float32()}
		for name, p := range map[string]painter{"turn of a grey part": turn, "curves without points": curves} {
			a, b, d := p(c[0], c[1], c[2])
			assert.InDeltaSlice(t, c[:], []float32{a, b, d}, 2e-4, name)
		}
	}
}

func TestTurnHueBringsTheOwnHueToTheTargets(t *testing.T) {
	own, goal := colour.RGB{0.42, 0.034, 0.018}, colour.RGB{0.013, 0.145, 0.168}
	p := newTurn(colour.SRGB, own, goal, nil)
	r, g, b := p(float32(own[0]), float32(own[1]), float32(own[2]))
	got, want, was := colour.SRGB.Oklab(colour.RGB{float64(r), float64(g), float64(b)}), colour.SRGB.Oklab(goal), colour.SRGB.Oklab(own)
	assert.InDelta(t, math.Atan2(want[2], want[1]), math.Atan2(got[2], got[1]), 1e-3)
	assert.InDelta(t, was[0], got[0], 1e-4, "lightness stays")
	assert.InDelta(t, math.Hypot(was[1], was[2]), math.Hypot(got[1], got[2]), 1e-4, "and so does chroma")
}

func TestTwoToneGovernsBothEnds(t *testing.T) {
	lit, goal := colour.RGB{0.7, 0.7, 0.65}, colour.RGB{0.013, 0.145, 0.168}
	p, err := newTwoTone(colour.SRGB, lit, goal, &TwoTone{Dark: "#200010", Middle: 50})
	require.NoError(t, err)
	near := func(want colour.RGB, in colour.RGB) {
		r, g, b := p(float32(in[0]), float32(in[1]), float32(in[2]))
		assert.Less(t, colour.DeltaE00(colour.SRGB.Lab(want), colour.SRGB.Lab(colour.RGB{float64(r), float64(g), float64(b)})), 1.0)
	}
	dark, _ := colour.ParseCSS("#200010")
	near(goal, lit)
	near(colour.SRGB.Linear(dark), colour.RGB{})
	near(colour.RGB{1, 1, 1}, colour.RGB{1, 1, 1})
	// Linked, the dark end is the target's hue, deep: Oklab's hue, less light and half as vivid.
	p, err = newTwoTone(colour.SRGB, lit, goal, nil)
	require.NoError(t, err)
	r, g, b := p(0, 0, 0)
	deep, top := colour.SRGB.Oklab(colour.RGB{float64(r), float64(g), float64(b)}), colour.SRGB.Oklab(goal)
	assert.Less(t, deep[0], 0.7*top[0])
	assert.InDelta(t, math.Atan2(top[2], top[1]), math.Atan2(deep[2], deep[1]), 0.01)
	assert.InDelta(t, 0.5*math.Hypot(top[1], top[2]), math.Hypot(deep[1], deep[2]), 0.002)
}

func TestFastOklabIsOklab(t *testing.T) {
	for _, s := range []*colour.Space{colour.SRGB, colour.DisplayP3} {
		f := colour.NewFast(s)
		for i := range 343 {
			c := colour.RGB{float64(i%7) / 6, float64(i/7%7) / 6, float64(i/49) / 6}
			want := s.Oklab(c)
			l, a, b := f.Oklab(float32(c[0]), float32(c[1]), float32(c[2]))
			assert.InDeltaSlice(t, want[:], []float64{float64(l), float64(a), float64(b)}, 2e-4)
			r, g, bb := f.Light(l, a, b)
			assert.InDeltaSlice(t, c[:], []float64{float64(r), float64(g), float64(bb)}, 1e-4)
		}
	}
}

func FuzzSettings(f *testing.F) {
	f.Add(0.5, 30.0, -50.0, 1.2, 20.0, uint8(9), float32(0.2), float32(0.9), float32(0.01))
	f.Fuzz(func(t *testing.T, exposure, a, b, middle, black float64, mode uint8, r, g, bl float32) {
		s := Defaults()
		s.OnlyOwn = 0 // the picture has nothing to learn from
		s.Method = Methods[int(mode)%4]
		s.Turn = &Turn{Hue: a, Saturation: b, Lightness: a}
		s.TwoTone = &TwoTone{Middle: 50 + a/3}
		s.Curves = &Curves{All: [][2]float64{{0.3, math.Abs(b) / 100}}, Red: [][2]float64{{0.6, 0.1}}}
		s.Finish = &Finish{Black: black, White: 255, Middle: middle, OutWhite: 255, Exposure: exposure, Highlights: a, Shadows: b, Saturation: b, Vibrance: a, Blend: BlendModes[int(mode/4)%16]}
		if s.Validate() != nil || !(r >= 0 && r <= 1 && g >= 0 && g <= 1 && bl >= 0 && bl <= 1) {
			return
		}
		l := &Learned{Tone: Tone{Linear: colour.RGB{0.4, 0.1, 0.1}}, pic: raster.NewRGB(1, 1), mask: raster.NewMask(1, 1)}
		p, _, err := l.Plan(colour.SRGB, Request{Goal: colour.RGB{0.1, 0.3, 0.4}, Settings: s})
		if err != nil {
			t.Fatal(err)
		}
		x, y, z := p.paint(r, g, bl)
		for _, v := range [3]float32{x, y, z} {
			if math.IsNaN(float64(v)) || math.IsInf(float64(v), 0) {
				t.Fatalf("%+v of %g %g %g is %g %g %g", s, r, g, bl, x, y, z)
			}
		}
	})
}
