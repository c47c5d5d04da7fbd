package artwork

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

// adjustedRand is the adjusted Rand index of two groupings (Hubert and Arabie, 1985, equation 5).
func adjustedRand(a, b []int) float64 {
	pairs := func(n float64) float64 { return n * (n - 1) / 2 }
	both, as, bs := map[[2]int]float64{}, map[int]float64{}, map[int]float64{}
	for i := range a {
		both[[2]int{a[i], b[i]}]++
		as[a[i]]++
		bs[b[i]]++
	}
	var index, sa, sb float64
	for _, n := range both {
		index += pairs(n)
	}
	for _, n := range as {
		sa += pairs(n)
	}
	for _, n := range bs {
		sb += pairs(n)
	}
	expected := sa * sb / pairs(float64(len(a)))
	most := (sa + sb) / 2
	if most == expected {
		return 1
	}
	return (index - expected) / (most - expected)
}

// The worked example of Hubert and Arabie is from memory; the limits are not: equal groupings 1, unrelated ones about 0.
func TestAdjustedRand(t *testing.T) {
	assert.InDelta(t, 1, adjustedRand([]int{0, 0, 1, 1}, []int{5, 5, 2, 2}), 1e-12)
	assert.InDelta(t, -0.5, adjustedRand([]int{0, 0, 1, 1}, []int{0, 1, 0, 1}), 1e-12)
}

// drawn makes a drawing of n families: each a main colour with near-alike fills, or with tints and shades of it.
func drawn(r *rand.Rand, n int, tints bool, jitter float64) (list []Colour, truth []int) {
	var hues []float64
	for len(hues) < n { // mains that a person would tell apart at a glance
		h := r.Float64() * 360
		ok := true
		for _, o := range hues {
			if d := math.Abs(math.Mod(h-o+540, 360) - 180); d < 0.62*360/float64(n) {
				ok = false
			}
		}
		if ok {
			hues = append(hues, h)
		}
	}
	seen := map[string]bool{}
	for f, h := range hues {
		l0, c0 := 0.45+0.3*r.Float64(), 0.1+0.06*r.Float64()
		for range 4 + r.IntN(8) {
			l, c := l0, c0
			if tints {
				k := r.Float64()*2 - 1
				l = l0 + 0.22*k
				c = c0 * (1 - 0.45*math.Abs(k))
			}
			o := colour.Oklab{l + jitter*r.NormFloat64(), 0, 0}
			a := h*math.Pi/180 + 2*jitter*r.NormFloat64()
			c = math.Max(0.03, c+jitter*r.NormFloat64())
			o[1], o[2] = c*math.Cos(a), c*math.Sin(a)
			v := fromOklab(o)
			key := colour.Hex(v)
			if seen[key] {
				continue
			}
			seen[key] = true
			p := readPaint(key)
			list = append(list, Colour{Key: key, paint: p, Count: 1 + r.IntN(40)})
			truth = append(truth, f)
		}
	}
	return list, truth
}

// scattered makes families round colours from anywhere in sRGB, of one hue too, that differ by at least 24 in CIEDE2000.
func scattered(r *rand.Rand, n int, jitter float64) (list []Colour, truth []int) {
	var mains []colour.Lab
	for len(mains) < n {
		l := colour.SRGB.Lab(colour.SRGB.LinearOf(colour.RGB{r.Float64(), r.Float64(), r.Float64()}))
		ok := l.Chroma() > 12
		for _, m := range mains {
			ok = ok && colour.DeltaE00(l, m) >= 24
		}
		if ok {
			mains = append(mains, l)
		}
	}
	seen := map[string]bool{}
	for f, m := range mains {
		for range 4 + r.IntN(8) {
			key := colour.Hex(colour.Lab{m[0] + jitter*r.NormFloat64(), m[1] + jitter*r.NormFloat64(), m[2] + jitter*r.NormFloat64()})
			if !seen[key] {
				seen[key] = true
				list = append(list, Colour{Key: key, paint: readPaint(key), Count: 1 + r.IntN(40)})
				truth = append(truth, f)
			}
		}
	}
	return list, truth
}

// TestFamiliesAreFound: made-up drawings of 3 to 9 families, with jitter.
func TestFamiliesAreFound(t *testing.T) {
	for _, kind := range []string{"near-alike", "tints", "scattered"} {
		t.Run(kind, func(t *testing.T) {
			sum, right, runs := 0.0, 0, 0
			for n := 3; n <= 9; n++ {
				for seed := range uint64(20) {
					r := rand.New(rand.NewPCG(seed, uint64(n)))
					list, truth := drawn(r, n, kind == "tints", 0.012)
					if kind == "scattered" {
						list, truth = scattered(r, n, 1.6)
					}
					got, err := Gather(list, n, nil)
					require.NoError(t, err)
					at := map[string]int{}
					for k, f := range got {
						for _, m := range f.Members {
							at[m.Colour] = k
						}
					}
					found := make([]int, len(list))
					for i, c := range list {
						found[i] = at[c.Key]
					}
					sum += adjustedRand(found, truth)
					auto, err := Gather(list, 0, nil)
					require.NoError(t, err)
					if len(auto) == n {
						right++
					}
					runs++
				}
			}
			t.Logf("mean adjusted Rand index %.3f; the number found by itself in %d of %d", sum/float64(runs), right, runs)
			assert.GreaterOrEqual(t, sum/float64(runs), 0.95)
		})
	}
}

// TestNeutralsAreHeld: black, white and greys start held, and so does what is named.
func TestNeutralsAreHeld(t *testing.T) {
	var list []Colour
	for i, c := range []string{"#000000", "#ffffff", "#808080", "#9c2a1e", "#a8372a", "#1d6a72"} {
		list = append(list, Colour{Key: c, paint: readPaint(c), Count: 10 - i})
	}
	got, err := Gather(list, 5, []string{"rgb(29 106 114)"})
	require.NoError(t, err)
	said := map[string]bool{}
	for _, f := range got {
		for _, m := range f.Members {
			said[m.Colour] = f.Held || m.Held
		}
	}
	assert.Equal(t, map[string]bool{"#000000": true, "#ffffff": true, "#808080": true, "#9c2a1e": false, "#a8372a": false, "#1d6a72": true}, said, fmt.Sprint(got))
	plan := Plan{Families: got}
	for i := range plan.Families {
		plan.Families[i].Target = "#00ff00"
	}
	changes, err := plan.Changes()
	require.NoError(t, err)
	assert.Len(t, changes, 2, "only what is not held")
}

// Families of one hue have names that say in what they differ.
func TestFamiliesOfOneHueAreToldApart(t *testing.T) {
	for name, c := range map[string]struct{ mains, names []string }{
		"one of each":       {[]string{"#9c2a1e", "#1d6a72"}, []string{"Red", "Teal"}},
		"by lightness":      {[]string{"#e08080", "#7a1010"}, []string{"Light red", "Dark red"}},
		"three":             {[]string{"#0a5a20", "#c0f0c8", "#2c9a48"}, []string{"Dark green", "Light green", "Green"}},
		"by chroma":         {[]string{"lab(50 40 20)", "lab(50 70 35)"}, []string{"Dull red", "Vivid red"}},
		"alike":             {[]string{"lab(50 60 30)", "lab(52 62 31)"}, []string{"Red lab(50 60 30)", "Red lab(52 62 31)"}},
		"no dark black":     {[]string{"#101010", "#1c1c1c"}, []string{"Black #101010", "Black #1c1c1c"}},
		"too many for that": {[]string{"lab(20 -30 20)", "lab(40 -30 20)", "lab(60 -30 20)", "lab(80 -30 20)"}, []string{"Green lab(20 -30 20)", "Green lab(40 -30 20)", "Green lab(60 -30 20)", "Green lab(80 -30 20)"}},
	} {
		t.Run(name, func(t *testing.T) {
			var f []Family
			for _, m := range c.mains {
				f = append(f, Family{Main: m})
			}
			require.NoError(t, nameFamilies(f))
			var got []string
			for _, x := range f {
				got = append(got, x.Name)
			}
			assert.Equal(t, c.names, got)
		})
	}
}

// Every hue has one name, and the next begins where the last ends; dull dark oranges are brown, and what has no hue has a tone.
func TestHuesHaveNames(t *testing.T) {
	at := func(l, c, h float64) string {
		sin, cos := math.Sincos(h * math.Pi / 180)
		return HueName(colour.Lab{l, c * cos, c * sin})
	}
	names := []string{"Pink", "Red", "Orange", "Yellow", "Lime", "Green", "Teal", "Blue", "Violet", "Magenta", "Pink"}
	for i, end := range []float64{15, 50, 75, 105, 125, 165, 215, 300, 330, 350} {
		assert.Equal(t, names[i], at(60, 50, end-0.1), "below %v degrees", end)
		assert.Equal(t, names[i+1], at(60, 50, end+0.1), "above %v degrees", end)
	}
	for want, l := range map[string][3]float64{"Brown": {40, 30, 60}, "Orange": {60, 30, 60}, "Red": {40, 60, 30}, "Black": {10, 1, 0}, "White": {96, 1, 0}, "Grey": {50, 1, 0}} {
		assert.Equal(t, want, at(l[0], l[1], l[2]))
	}
	assert.Equal(t, "Black", at(15, 8, 280), "a very dark blue is black to everybody")
}

// There are as many families as there were before the largest step up in what a merge costs.
func TestTheLargestStepSaysHowManyFamiliesThereAre(t *testing.T) {
	for _, c := range []struct {
		at   []float64 // of each merge of as many colours and one, in order
		want int
	}{
		{[]float64{0.02, 0.03, 0.04, 0.5, 0.6}, 3},
		{[]float64{0.02, 0.03, 0.04, 0.05, 0.5}, 2},
		{[]float64{0.02, 0.02, 0.03, 0.03, 0.04}, 1}, // all of one kind
		{[]float64{0.4, 0.5, 0.6}, 4},                // none like another
		{[]float64{0.01, 0.3, 0.32, 0.34}, 4},
		{nil, 1},
	} {
		assert.Equal(t, c.want, natural(c.at, len(c.at)+1), "%v", c.at)
	}
}

// Lighter and darker tints are drawn together alike where they would leave what can be shown, each side for itself and no further than it
// must; otherwise they stay as far from their main colour as they were.
func TestTintsAreDrawnTogetherAlike(t *testing.T) {
	grey := func(l float64) colour.Lab {
		c, err := colour.ParseCSS(fmt.Sprintf("oklab(%v 0 0)", l))
		require.NoError(t, err)
		return c
	}
	members := []colour.Lab{grey(0.2), grey(0.3), grey(0.4), grey(0.5), grey(0.9)}
	for target, want := range map[float64][]float64{
		0.45: {0.25, 0.35, 0.45, 0.55, 0.95},
		0.95: {0.75, 0.85, 0.95, 0.957, 0.985},
		0.10: {0.06, 0.08, 0.10, 0.20, 0.60},
		0.99: {0.79, 0.89, 0.99, 0.99, 0.99}, // beyond white nothing is lighter
	} {
		for i, l := range tints(members, grey(0.4), grey(target)) {
			assert.InDelta(t, want[i], oklab(l)[0], 0.001, "tint %d to %v", i, target)
		}
	}
}
