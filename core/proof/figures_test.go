package proof

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// Places: what lies within two pixels is one; small ones are no place; where and how large is said in pixels of the full size.
func TestWhatWasFoundIsGatheredIntoPlaces(t *testing.T) {
	const w, h = 60, 50
	found := make([]bool, w*h)
	block := func(x0, y0, x1, y1 int) {
		for y := y0; y < y1; y++ {
			for x := x0; x < x1; x++ {
				found[y*w+x] = true
			}
		}
	}
	block(0, 0, 5, 6)     // 30, in the corner
	block(40, 30, 50, 40) // 100
	block(51, 30, 53, 40) // 20 more, a gap of one away: the same place
	block(20, 20, 24, 24) // 16 by itself: too small
	block(57, 44, 60, 50) // 18, and more than two from the rest
	l := gather(found, w, h, 4)
	require.Len(t, l.Places, 2)
	assert.Equal(t, 16*(30+120), l.Pixels)
	assert.Equal(t, Place{4*45 + 2, 4*34 + 2, 16 * 120}, l.Places[0], "the largest first")
	assert.Equal(t, Place{4*2 + 2, 4*2 + 2, 16 * 30}, l.Places[1])
}

// pair is a rendering of a square whose before and after are made of fine luminance.
func pair(before, after func(x, y int) float64) *develop.Rendered {
	const n = 80
	r := &develop.Rendered{Before: raster.NewRGB(n, n), After: raster.NewRGB(n, n), Masks: []*raster.Mask{raster.NewMask(n, n)}}
	for y := range n {
		for x := range n {
			i := y*n + x
			if x > 5 && y > 5 && x < n-6 && y < n-6 {
				r.Masks[0].Pix[i] = raster.Whole
			}
			for c := range 3 {
				r.Before.Pix[3*i+c], r.After.Pix[3*i+c] = float32(before(x, y)), float32(after(x, y))
			}
		}
	}
	return r
}

// The detail kept is a correlation: of twice the same it is 1, of its negative -1, of something else about 0, and of half of
// each what it must be.
func TestTheDetailKeptIsACorrelation(t *testing.T) {
	noise := func(seed uint64) func(x, y int) float64 {
		r := rand.New(rand.NewPCG(seed, 9))
		v := make([]float64, 6400)
		for i := range v {
			v[i] = r.NormFloat64()
		}
		return func(x, y int) float64 { return v[y*80+x] }
	}
	a, b := noise(1), noise(2)
	of := func(f func(x, y int) float64) func(x, y int) float64 {
		return func(x, y int) float64 { return math.Pow(0.6+0.01*f(x, y), 3) } // lightness is a cube root
	}
	assert.InDelta(t, 1, DetailKept(pair(of(a), of(func(x, y int) float64 { return 5 + 2*a(x, y) })), 0), 1e-3, "lighter and with twice the contrast")
	assert.InDelta(t, -1, DetailKept(pair(of(a), of(func(x, y int) float64 { return -a(x, y) })), 0), 1e-3)
	assert.InDelta(t, 0, DetailKept(pair(of(a), of(b)), 0), 0.05)
	assert.InDelta(t, math.Sqrt(0.5), DetailKept(pair(of(a), of(func(x, y int) float64 { return a(x, y) + b(x, y) })), 0), 0.04)
	flat := func(int, int) float64 { return 0.2 }
	assert.Equal(t, 1.0, DetailKept(pair(flat, flat), 0), "nothing to keep")
	r := pair(of(a), of(b))
	for i := range r.After.Pix { // outside of the part all may change
		if x, y := i/3%80, i/240; x < 2 || y < 2 {
			r.After.Pix[i] = 0.9
		}
	}
	assert.InDelta(t, DetailKept(pair(of(a), of(b)), 0), DetailKept(r, 0), 1e-9)
	r.Masks[0] = nil
	assert.Equal(t, 1.0, DetailKept(r, 0))

	// A bowl: what is finer than the blur has a mean of its own, which is no detail.
	bowl := func(x, y int) float64 { return 0.2 * (math.Pow(float64(x)-40, 2) + math.Pow(float64(y)-40, 2)) }
	bowls := pair(of(func(x, y int) float64 { return a(x, y) + bowl(x, y) }), of(func(x, y int) float64 { return b(x, y) + bowl(x, y) }))
	assert.InDelta(t, 0, DetailKept(bowls, 0), 0.05)
}

// The most vivid like colour: of the wanted hue within 25 degrees and of its lightness within 0.2, and of the thirty most vivid
// pixels the least.
func TestTheMostVividLikeColourIsOneThePhotoHas(t *testing.T) {
	pic := raster.NewRGB(100, 10)
	set := func(i int, l, c, h float64) {
		for k, v := range colour.SRGB.FromOklab(colour.OklabOfPolar(l, c, h)) {
			pic.Pix[3*i+k] = float32(v)
		}
	}
	for i := range 1000 {
		set(i, 0.5, 0.005, 0) // grey
	}
	for i := range 30 {
		set(i, 0.55, 0.08+0.0005*float64(i), 200)
		set(100+i, 0.55, 0.12, 200+26) // another hue
		set(200+i, 0.55+0.21, 0.1, 200)
	}
	want := colour.SRGB.Lab(colour.SRGB.FromOklab(colour.OklabOfPolar(0.55, 0.09, 200)))
	assert.InDelta(t, 0.08, MostVivid(colour.SRGB, pic, want), 1e-3, "thirty have at least that")
	set(500, 0.55, 0.11, 200)
	assert.InDelta(t, 0.0805, MostVivid(colour.SRGB, pic, want), 1e-3, "one more, and it is the next")
	for i := range 5 {
		set(i, 0.5, 0.005, 0)
	}
	assert.Zero(t, MostVivid(colour.SRGB, pic, want), "twenty-six are none")
	assert.InDelta(t, 0.12, MostVivid(colour.SRGB, pic, colour.SRGB.Lab(colour.SRGB.FromOklab(colour.OklabOfPolar(0.55, 0.09, 226)))), 2e-3, "that hue, wanted")
}

// proved measures an evenly lit square of a picture whose long side is twice that of the learning level, with what is done to
// its result before it is looked at.
func proved(t *testing.T, own, goal string, spoil func(i int, px []float32)) (Whole, *develop.Developed, *develop.Rendered) {
	t.Helper()
	const w, h = 120, 90
	lab, err := colour.ParseCSS(own)
	require.NoError(t, err)
	c := colour.SRGB.Linear(lab)
	p := raster.NewRGB(w, h)
	for y := range h {
		for x := range w {
			for k := range 3 {
				v := 0.3
				if x >= 20 && x < 100 && y >= 20 && y < 70 {
					v = c[k] * (0.8 + 0.2*float64(x-20)/80)
				}
				p.Pix[3*(y*w+x)+k] = float32(v)
			}
		}
	}
	box := isolate.Pick{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{20, 20}}, {P: [2]float64{100, 20}}, {P: [2]float64{100, 70}}, {P: [2]float64{20, 70}}}}
	part := document.Part{ID: "a", Name: "A", Picks: []isolate.Pick{box}, Target: document.Target{CSS: goal}, Settings: recolour.Defaults()}
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(p), Space: colour.SRGB}, document.Picture{Parts: []document.Part{part}}, nil, nil, isolate.Exact)
	require.NoError(t, err)
	r, err := d.Overview()
	require.NoError(t, err)
	if spoil != nil {
		n := 0
		for i, m := range r.Masks[0].Pix {
			if m == raster.Whole {
				spoil(n, r.After.Pix[3*i:3*i+3])
				n++
			}
		}
	}
	return whole(d, r, 0), d, r
}

// every calls f for one in so many pixels.
func every(n int, f func(px []float32)) func(i int, px []float32) {
	return func(i int, px []float32) {
		if i%n == 0 {
			f(px)
		}
	}
}

func TestBurnedCrushedAndTintedAreShares(t *testing.T) {
	good, _, _ := proved(t, "#9c2a1e", "#1d6a72", nil)
	assert.Less(t, good.Median, 0.5)
	assert.Less(t, good.Most, 1.0)
	assert.Zero(t, good.Burned+good.Crushed+good.Tinted)
	assert.True(t, good.Meets(2))

	burned, _, _ := proved(t, "#9c2a1e", "#1d6a72", every(10, func(px []float32) { px[0], px[1], px[2] = 1, 1, 1 }))
	assert.InDelta(t, 10, burned.Burned, 0.5)
	assert.Zero(t, burned.Crushed)
	assert.False(t, burned.Meets(2))

	crushed, _, _ := proved(t, "#9c2a1e", "#1d6a72", every(20, func(px []float32) { px[0], px[1], px[2] = 0, 0, 0 }))
	assert.InDelta(t, 5, crushed.Crushed, 0.5)
	assert.Zero(t, crushed.Burned)
	assert.False(t, crushed.Meets(2))

	blue := func(px []float32) { px[2] *= 1.5 }
	tinted, _, _ := proved(t, "#9c2a1e", "#777777", every(5, blue))
	assert.InDelta(t, 20, tinted.Tinted, 1)
	assert.False(t, tinted.Meets(2))
	coloured, _, _ := proved(t, "#9c2a1e", "#1d6a72", every(5, blue))
	assert.Zero(t, coloured.Tinted, "only what shall be nearly neutral can be tinted")

	// Shade of the target is the target; another hue is not. A third of the lit tones moves the 95th percentile alone.
	darker, _, _ := proved(t, "#9c2a1e", "#1d6a72", every(3, func(px []float32) { px[0], px[1], px[2] = 0.9*px[0], 0.9*px[1], 0.9*px[2] }))
	assert.Less(t, darker.Most, 2.0)
	redder, _, _ := proved(t, "#9c2a1e", "#1d6a72", every(3, func(px []float32) { px[0] += 0.1 }))
	assert.Less(t, redder.Median, 0.5)
	assert.Greater(t, redder.Most, 6.0)
	assert.False(t, redder.Meets(2))
}

// The lit tone is the median of the lighter pixels, without the lightest tenth, and its place is one that has it.
func TestTheLitToneIsTheMedianOfTheLight(t *testing.T) {
	_, d, r := proved(t, "#9c2a1e", "#1d6a72", nil)
	tone, pixel := lit(d, r, 0)
	x, y := pixel%r.After.W, pixel/r.After.W
	assert.True(t, x >= 20 && x < 100 && y >= 20 && y < 70, "%d, %d", x, y)
	// The light rises evenly from left to right: half to nine tenths of the way, and in the middle of that seven tenths.
	assert.InDelta(t, 20+0.7*80, float64(x), 3)
	got := d.Space.Lab(at(r.After, pixel))
	assert.Less(t, colour.DeltaE00(tone, got), 0.3)
	plan := d.Space.Lab(d.Parts[0].Plan.Result(at(r.Before, 45*120+20+56)))
	assert.Less(t, colour.DeltaE00(tone, plan), 0.5)
}

// What lies furthest out of gamut is where the light is strongest, and said in pixels of the full size.
func TestTheWorstPlacesAreWhereTheyAre(t *testing.T) {
	_, d, r := proved(t, "#9c2a1e", "color(display-p3 0 1 0)", nil)
	gamut, _ := worst(d, r, 0, 4)
	require.NotNil(t, gamut)
	assert.Greater(t, gamut[0], 4*90.0, "at the lit end")
	assert.InDelta(t, 4*45, gamut[1], 4*26)
	i := int(gamut[1]/4)*120 + int(gamut[0]/4)
	out, _ := d.Parts[0].Plan.Beyond(r.Before, []int{i})
	for j, m := range r.Masks[0].Pix {
		if m == raster.Whole {
			o, _ := d.Parts[0].Plan.Beyond(r.Before, []int{j})
			require.LessOrEqual(t, o[0], out[0])
		}
	}
	_, fine, rest := proved(t, "#9c2a1e", "#1d6a72", nil)
	gamut, clipped := worst(fine, rest, 0, 1)
	assert.Nil(t, gamut)
	assert.Nil(t, clipped)
}

// Where the result is measured is said in pixels of the full size.
func TestMeasuredPlacesAreOfTheFullSize(t *testing.T) {
	const w, h = 1600, 400 // learned two levels further out
	p := raster.NewRGB(w, h)
	for i := range w * h {
		v := [3]float32{0.3, 0.3, 0.3}
		if x := i % w; x >= 800 && x < 1500 {
			e := float32(0.6 + 0.4*float64(x-800)/700)
			v = [3]float32{0.4 * e, 0.05 * e, 0.04 * e}
		}
		copy(p.Pix[3*i:], v[:])
	}
	box := isolate.Pick{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{800, 0}}, {P: [2]float64{1500, 0}}, {P: [2]float64{1500, 400}}, {P: [2]float64{800, 400}}}}
	part := document.Part{ID: "a", Name: "A", Picks: []isolate.Pick{box}, Target: document.Target{CSS: "#1d6a72"}, Settings: recolour.Defaults()}
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(p), Space: colour.SRGB}, document.Picture{Parts: []document.Part{part}}, nil, nil, isolate.Exact)
	require.NoError(t, err)
	require.Greater(t, d.LearnLevel(), 0)
	parts, _, err := Measure(d)
	require.NoError(t, err)
	q := parts[0]
	assert.InDelta(t, 100*700.0/1600, q.Share, 0.5)
	assert.InDelta(t, 800+0.7*700, q.LitAt[0], 30)
	wide := float64(int(1) << d.LearnLevel())
	r, err := d.Overview()
	require.NoError(t, err)
	_, pixel := lit(d, r, 0)
	assert.Equal(t, Spot{wide * (float64(pixel%r.After.W) + 0.5), wide * (float64(pixel/r.After.W) + 0.5)}, q.LitAt, "the middle of its pixel")
	got := colour.SRGB.Lab(d.Parts[0].Plan.Result(at(p, int(q.At[1])*w+int(q.At[0]))))
	assert.Less(t, colour.DeltaE00(q.Got, got), 0.5, "the match point lies where the result is what was measured there")
}

// sized is a picture of which nothing but the sizes of its levels is known.
type sized [][2]int

func (s sized) Size(level int) (w, h int) { return s[level][0], s[level][1] }
func (s sized) Levels() int               { return len(s) }
func (s sized) Linear(int, raster.Rect) (*raster.RGB, error) {
	return nil, errors.New("it is not looked at")
}

// Old colour and detail are looked for on the finest level that has at most eight megapixels.
func TestTheSharpestLevelHasAtMostEightMegapixels(t *testing.T) {
	for _, c := range []struct {
		levels sized
		want   int
	}{
		{sized{{4000, 2000}, {2000, 1000}}, 0},
		{sized{{4000, 2001}, {2000, 1001}}, 1},
		{sized{{12000, 8000}, {6000, 4000}, {3000, 2000}, {1500, 1000}}, 2},
		{sized{{9000, 9000}, {4500, 4500}}, 1}, // of none that has, the last
	} {
		assert.Equal(t, c.want, sharpest(&develop.Developed{Source: develop.Source{Pyramid: c.levels}}), "%v", c.levels)
	}
}

// A pixel lies wholly in a part from 98 hundredths of it on.
func TestTheLitToneIsOfWhatLiesWhollyInThePart(t *testing.T) {
	_, d, r := proved(t, "#9c2a1e", "#1d6a72", nil)
	whole, pixel := lit(d, r, 0)
	require.NotZero(t, pixel)
	share := func(v uint16) colour.Lab {
		m := raster.NewMask(r.After.W, r.After.H)
		for i, was := range r.Masks[0].Pix {
			if was == raster.Whole {
				m.Pix[i] = v
			}
		}
		thin := *r
		thin.Masks = []*raster.Mask{m}
		tone, _ := lit(d, &thin, 0)
		return tone
	}
	assert.Equal(t, whole, share(raster.Whole*98/100))
	assert.Zero(t, share(raster.Whole*98/100-1), "nothing to measure")
}
