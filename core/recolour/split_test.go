package recolour

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

// body is a plan of a body of some colour, as far as parting a pixel into body, sheen and rest goes.
func body(own, light [3]float32) *Plan {
	p := &Plan{space: colour.SRGB, own: own, wiener: [3]float32{0.3, 0.3, 0.3}}
	for _, v := range own {
		p.a += v * v
		p.ownMean += v / 3
	}
	p.glare, p.white = p.glareOf(), p.basisOf(light)
	return p
}

// fitOne gives the body's light and the sheen of one pixel.
func fitOne(p *Plan, r, g, b float32) (float32, float32) {
	var l lanes
	var light, sheen [1]float32
	l.set(0, r, g, b)
	p.white.fit(p, &l, light[:], sheen[:])
	return light[0], sheen[0]
}

// What a pixel is parted into is the pixel again, whatever it is; neither the body's light nor its sheen is below nothing.
func TestAPixelsPartsAreThePixel(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	own := [3]float32{0.4, 0.12, 0.05}
	p := body(own, [3]float32{1, 0.95, 0.9})
	p.veil, p.carry = [3]float32{0.01, 0.012, 0.015}, 1
	for range 3000 {
		px := [3]float32{r.Float32(), r.Float32(), r.Float32()}
		var s run
		s.add(px[0], px[1], px[2])
		s.in, s.top[0] = s.was, 1.6
		s.split(p)
		s.seen = s.found()
		e, sheen, rest := s.takenOf(p)
		for c := range px {
			require.InDelta(t, px[c], own[c]*e[c]+sheen[c]+rest[c]+p.veil[c], 1e-5, "%v", px)
			require.GreaterOrEqual(t, sheen[c], float32(0), "%v", px)
			require.GreaterOrEqual(t, e[c], float32(0), "%v", px)
		}
	}
}

// Red cloth that is lit more strongly than its typical place has no sheen for that: green and blue would show it. On black it would be a
// grey patch.
func TestStrongLightOnAStrongColourIsNoSheen(t *testing.T) {
	own := [3]float32{0.6, 0.03, 0.02}
	p := body(own, [3]float32{1, 1, 1})
	var s run
	s.add(own[0]*2.4, own[1]*2.4, own[2]*2.4)
	s.in = s.was
	s.split(p)
	require.Less(t, s.h.most(0), float32(0.06))
	require.Greater(t, s.e[0][0], float32(2.1))
	// Of grey cloth what is above is sheen, as far as its tint can be told.
	p = body([3]float32{0.3, 0.3, 0.3}, [3]float32{1, 1, 1})
	s.n = 0
	s.add(0.9, 0.9, 0.9)
	s.in = s.was
	s.split(p)
	require.InDelta(t, bodyTop, s.e[0][0], 0.01)
	require.InDelta(t, 0.9-0.3*bodyTop, s.h[0][0], 0.01)
}

// The body's light and the sheen are those that explain a pixel best among all that are not below nothing: looked for on a grid. Light of
// the body alone is all the body's, and sheen on it is told from it.
func TestBodyAndSheenAreTheBestThatThereAre(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	own, light := [3]float32{0.4, 0.12, 0.05}, [3]float32{1, 1, 1}
	p := body(own, light)
	// What is made small: the square of what is left over, and of sheen itself by the weight it has.
	left := func(px [3]float32, s, h float64) float64 {
		sum := (float64(p.white.c) - 3) * h * h
		for c, v := range px {
			d := float64(v) - s*float64(own[c]) - h*float64(light[c])
			sum += d * d
		}
		return sum
	}
	for range 200 {
		px := [3]float32{r.Float32(), r.Float32(), r.Float32()}
		s, h := fitOne(p, px[0], px[1], px[2])
		best := math.Inf(1)
		for i := range 241 {
			for j := range 121 {
				best = min(best, left(px, float64(i)/60, float64(j)/120))
			}
		}
		if s > 0 { // where there is nothing of the body all that it could have is sheen's, whatever it weighs
			assert.LessOrEqual(t, left(px, float64(s), float64(h)), best+1e-6, "%v: %g %g", px, s, h)
		} else {
			mean := (px[0] + px[1] + px[2]) / 3
			assert.InDelta(t, mean, h, 1e-5)
		}
	}
	s, h := fitOne(p, 0.7*own[0], 0.7*own[1], 0.7*own[2])
	assert.InDelta(t, 0.7, s, 1e-5)
	assert.InDelta(t, 0, h, 1e-5)
	_, more := fitOne(p, own[0]+0.2, own[1]+0.2, own[2]+0.2)
	assert.InDelta(t, 0.2, more, 0.08, "sheen of a fifth, of which some counts as the light's tint")
}

// A colour that was seen in the shade alone is half as common in the light as it is in all lights together; what is common there stays so.
func TestAColourIsAsCommonInEveryLight(t *testing.T) {
	d := &density{at: make([]float32, memberL*memberAB*memberAB)}
	at := func(l, i int) *float32 { return &d.at[l*memberAB*memberAB+i] }
	for l := range 4 {
		*at(l, 7) = 30
	}
	*at(5, 9) = 80
	d.shade(1)
	for l := range memberL {
		want := float32(4*30) / (2 * memberL)
		if l < 4 {
			want = 30
		}
		assert.InDelta(t, want, *at(l, 7), 1e-4, "light %d", l)
	}
	assert.EqualValues(t, 80, *at(5, 9))
	assert.Zero(t, *at(3, 11))
}

// What is filled in between known values is harmonic: between values of a plane it is that plane, however large the hole, and a source
// bends it as Poisson's equation says.
func TestFilledInIsHarmonic(t *testing.T) {
	const w, h = 60, 40
	plane := func(x, y int) float32 { return 0.2 + 0.01*float32(x) - 0.004*float32(y) }
	f, inside, known := make([]float32, w*h), make([]bool, w*h), make([]bool, w*h)
	for i := range f {
		x, y := i%w, i/w
		inside[i] = true
		if known[i] = x < 3 || y < 3 || x >= w-3 || y >= h-3; known[i] {
			f[i] = plane(x, y)
		}
	}
	fill(f, nil, inside, known, w, h)
	for i, v := range f {
		require.InDelta(t, plane(i%w, i/w), v, 0.004, "%d %d", i%w, i/w)
	}
}

// The curve for own colours that are guessed is the whole one up to where it goes on straight, rises all the way, and is taken back.
func TestTheWaryCurveGoesOnStraight(t *testing.T) {
	for k, f := range films()[1:] {
		w := f.wary
		last := float32(-1)
		for i := range 101 {
			v := float32(i) / 100
			x := w.light(v)
			require.Greater(t, x, last, "film %d at %g", k, v)
			require.InDelta(t, v, w.value(x), 2e-3, "film %d at %g", k, v)
			if v < waryFrom {
				require.InDelta(t, f.light(v), x, 1e-5, "film %d at %g", k, v)
			}
			last = x
		}
		lower, upper := w.light(0.8)-w.light(0.7), w.light(1)-w.light(0.9)
		require.InDelta(t, lower, upper, 1e-2*float64(lower), "film %d", k)
	}
}
