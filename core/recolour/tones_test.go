package recolour_test

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
)

// striped is a shaded, noisy thing of several colours in stripes; stripe says which a column is in.
func striped(tints ...colour.RGB) (p *raster.RGB, m *raster.Mask, stripe func(x int) int) {
	const w, h = 150, 100
	r := rand.New(rand.NewSource(7))
	p, m = raster.NewRGB(w, h), raster.NewMask(w, h)
	stripe = func(x int) int { return x / 12 % len(tints) }
	for y := range h {
		for x := range w {
			i := y*w + x
			own := colour.RGB{0.2, 0.2, 0.2}
			e := 1.0
			if x >= 6 && y >= 6 && x < w-6 && y < h-6 {
				m.Pix[i] = raster.Whole
				own = tints[stripe(x)]
				e = 0.75 + 0.25*math.Sin(float64(y)*0.13)
			}
			for c := range 3 {
				p.Pix[3*i+c] = float32(math.Max(0, own[c]*e+r.NormFloat64()*0.001))
			}
		}
	}
	return p, m, stripe
}

// stripes gives each stripe's mean Oklab in the result, seen over the same rows.
func stripes(o *raster.RGB, m *raster.Mask, stripe func(x int) int, n int) [][3]float64 {
	sum := make([][4]float64, n)
	for y := range o.H {
		for x := range o.W {
			if m.Pix[y*o.W+x] == 0 || x%12 < 3 || x%12 > 8 { // away from the stripes' borders
				continue
			}
			r, g, b := o.At(x, y)
			s := &sum[stripe(x)]
			s[0], s[1], s[2], s[3] = s[0]+float64(r), s[1]+float64(g), s[2]+float64(b), s[3]+1
		}
	}
	var out [][3]float64
	for _, s := range sum {
		out = append(out, [3]float64(colour.SRGB.Oklab(colour.RGB{s[0] / s[3], s[1] / s[3], s[2] / s[3]})))
	}
	return out
}

func TestStripesBecomeOneColourOrKeepTheirDifferences(t *testing.T) {
	red, sand, brown := colour.RGB{0.4, 0.04, 0.03}, colour.RGB{0.5, 0.38, 0.2}, colour.RGB{0.12, 0.05, 0.03}
	teal := colour.RGB{0.02, 0.2, 0.22}
	for name, set := range map[string][]colour.RGB{"two": {red, sand}, "three": {red, sand, brown}} {
		p, m, stripe := striped(set...)
		q := recolour.Request{Goal: teal, Settings: recolour.Defaults()}
		lab := func(c [3]float64) colour.Lab { return colour.SRGB.Lab(colour.SRGB.FromOklab(colour.Oklab(c))) }
		widest := func(got [][3]float64) float64 {
			d := 0.0
			for i := range got {
				for j := range i {
					d = math.Max(d, colour.DeltaE00(lab(got[i]), lab(got[j])))
				}
			}
			return d
		}
		before := widest(stripes(p, m, stripe, len(set)))

		q.Settings.Inner = recolour.InnerFlat
		o, plan, tone := apply(t, p, m, q)
		assert.Less(t, widest(stripes(o, m, stripe, len(set))), 3.0, "%s stripes become one colour (they were %.1f apart)", name, before)
		assert.Less(t, colour.DeltaE00(colour.SRGB.Lab(plan.Result(tone.Linear)), colour.SRGB.Lab(teal)), 3.0)

		q.Settings.Inner = recolour.InnerKeep
		o, _, _ = apply(t, p, m, q)
		kept := stripes(o, m, stripe, len(set))
		assert.Greater(t, widest(kept), 10.0, "%s stripes stay apart", name)
		// The lightness of the stripes keeps its order and about its distances.
		was := stripes(p, m, stripe, len(set))
		for i := range was {
			for j := range was {
				assert.InDelta(t, was[i][0]-was[j][0], kept[i][0]-kept[j][0], 0.08, "%s: stripes %d and %d", name, i, j)
			}
		}
	}
}

func TestEvenOutBringsPanelsToOneTintAndKeepsTheShading(t *testing.T) {
	p, m, stripe := striped(colour.RGB{0.62, 0.6, 0.55}, colour.RGB{0.6, 0.5, 0.36})
	set := recolour.Defaults()
	set.Method, set.Turn = "turn-hue", &recolour.Turn{} // nothing else changes
	apart := func(even float64) (tint float64, o *raster.RGB) {
		set.Even = even
		own := colour.RGB{0.62, 0.6, 0.55}
		o, _, _ = apply(t, p, m, recolour.Request{Goal: own, Own: &own, Settings: set})
		got := stripes(o, m, stripe, 2)
		return math.Hypot(got[0][1]-got[1][1], got[0][2]-got[1][2]), o
	}
	none, was := apart(0)
	half, _ := apart(50)
	whole, now := apart(100)
	assert.Less(t, half, 0.75*none)
	assert.Less(t, whole, 0.15*none)
	var a, b []float64
	for y := 10; y < 90; y++ {
		r0, g0, _ := was.At(20, y)
		r1, g1, _ := now.At(20, y)
		a, b = append(a, float64(r0+g0)), append(b, float64(r1+g1))
	}
	assert.Greater(t, correlation(a, b), 0.98, "the light on it stays")
}

func correlation(a, b []float64) float64 {
	var ma, mb, ab, aa, bb float64
	for i := range a {
		ma, mb = ma+a[i]/float64(len(a)), mb+b[i]/float64(len(a))
	}
	for i := range a {
		ab, aa, bb = ab+(a[i]-ma)*(b[i]-mb), aa+(a[i]-ma)*(a[i]-ma), bb+(b[i]-mb)*(b[i]-mb)
	}
	return ab / math.Sqrt(aa*bb)
}

func TestAPlainPartHasOneTint(t *testing.T) {
	// Shading alone makes no second tint: flat and kept are what plain Repaint gives.
	for name, own := range someColours {
		p, m := cloth(own)
		q := recolour.Request{Goal: someColours["teal"], Settings: recolour.Defaults()}
		want, _, _ := apply(t, p, m, q)
		for _, inner := range []string{recolour.InnerFlat, recolour.InnerKeep} {
			q.Settings.Inner = inner
			got, _, _ := apply(t, p, m, q)
			require.Equal(t, want.Pix, got.Pix, "%s %s", name, inner)
		}
	}
}
