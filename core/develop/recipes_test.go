package develop_test

import (
	"math"
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

// ofColour renders a shaded square of a colour on grey with a recipe on it, and returns lightness, chroma and hue in Oklch at its
// lit tone before and after.
func ofColour(t *testing.T, css string, r document.Recipe) (before, after [3]float64) {
	t.Helper()
	lab, err := colour.ParseCSS(css)
	require.NoError(t, err)
	own := colour.SRGB.Linear(lab)
	pic := raster.NewRGB(160, 120)
	square := func(x, y int) bool { return x >= 40 && x < 120 && y >= 30 && y < 90 }
	for i := range 160 * 120 {
		x, y := i%160, i/160
		for c := range 3 {
			pic.Pix[3*i+c] = 0.25
			if square(x, y) {
				pic.Pix[3*i+c] = float32(own[c] * (1 - 0.5*math.Abs(float64(x-70))/80))
			}
		}
	}
	p := r.On(document.Part{ID: "it", Name: "It", Settings: recolour.Defaults(), Picks: []isolate.Pick{{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{40, 30}}, {P: [2]float64{120, 30}}, {P: [2]float64{120, 90}}, {P: [2]float64{40, 90}}}}}})
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB}, document.Picture{Parts: []document.Part{p}}, nil, nil, isolate.Exact)
	require.NoError(t, err)
	out, err := d.Render(0, raster.Rect{X0: 70, Y0: 60, X1: 71, Y1: 61})
	require.NoError(t, err)
	lch := func(p *raster.RGB) (v [3]float64) {
		v[0], v[1], v[2] = colour.SRGB.Oklab(colour.RGB{float64(p.Pix[0]), float64(p.Pix[1]), float64(p.Pix[2])}).Oklch()
		return v
	}
	return lch(out.Before), lch(out.After)
}

// Each recipe that ships does to what it is for what its name says.
func TestEveryShippedRecipeDoesWhatItsNameSays(t *testing.T) {
	const l, c, h = 0, 1, 2
	says := map[string]struct {
		of string
		is func(was, now [3]float64) bool
	}{
		"Dull sky, bluer":   {"#b9c0c4", func(was, now [3]float64) bool { return now[c] > was[c]+0.02 && math.Abs(now[h]-245) < 12 }},
		"Dull water, bluer": {"#6c7a78", func(was, now [3]float64) bool { return now[c] > was[c]+0.015 && now[h] > was[h]+15 && now[h] < 250 }},
		"Foliage, fresher": {"#4d6336", func(was, now [3]float64) bool {
			return now[c] > was[c]*1.12 && now[l] > was[l] && now[h] > was[h]+2 && now[h] < was[h]+12
		}},
		"Dry grass, green": {"#a8985e", func(was, now [3]float64) bool {
			return now[h] > was[h]+20 && now[h] < 140 && math.Abs(now[l]-was[l]) < 0.06
		}},
		"Brass, warmer": {"#a39a68", func(was, now [3]float64) bool { return now[c] > was[c]*1.1 && math.Abs(now[h]-82) < 10 }},
		"Wood, richer":  {"#8d6b4b", func(was, now [3]float64) bool { return now[c] > was[c]*1.05 && now[l] < was[l]-0.01 }},
		"Faded cloth, back": {"#8a6f72", func(was, now [3]float64) bool {
			return now[c] > was[c]*1.2 && now[l] < was[l] && math.Abs(now[h]-was[h]) < 6
		}},
		"White, cleaned":       {"#d6cfba", func(was, now [3]float64) bool { return now[c] < was[c]*0.4 && now[l] > was[l]+0.02 }},
		"Yellowed paper, back": {"#ddd0a8", func(was, now [3]float64) bool { return now[c] < was[c]*0.45 && math.Abs(now[l]-was[l]) < 0.05 }},
		"Black, deepened":      {"#3a3836", func(was, now [3]float64) bool { return now[l] < was[l]*0.85 && now[l] > 0.05 }},
		"Neutral grey ground":  {"#9c8a76", func(was, now [3]float64) bool { return now[c] < 0.006 && math.Abs(now[l]-0.76) < 0.06 }},
		"Quieter": {"#b03a2a", func(was, now [3]float64) bool {
			return now[c] < was[c]*0.8 && now[c] > was[c]*0.5 && math.Abs(now[h]-was[h]) < 6
		}},
	}
	for _, r := range document.ShippedRecipes() {
		s, ok := says[r.Name]
		if !assert.True(t, ok, "%s has its line here", r.Name) {
			continue
		}
		was, now := ofColour(t, s.of, r)
		assert.True(t, s.is(was, now), "%s: %.3f -> %.3f", r.Name, was, now)
		delete(says, r.Name)
	}
	assert.Empty(t, says)
}

func TestATargetOfTheThingsOwnColourChangesNothing(t *testing.T) {
	for _, css := range []string{"#b03a2a", "#4d6336", "#d6cfba", "#3a3836"} {
		was, now := ofColour(t, css, document.Recipe{Target: document.Target{CSS: "currentcolor"}, Settings: recolour.Defaults()})
		for k, tolerance := range [3]float64{0.004, 0.004, 2} {
			assert.InDelta(t, was[k], now[k], tolerance, css)
		}
	}
}
