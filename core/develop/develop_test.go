package develop_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

const side, high = 300, 240 // of what is developed here

// disc is a disc of a colour on a pale floor that takes cast of its light; from left to right it is ever better lit.
func disc(own colour.RGB, cast float64, light colour.RGB) *raster.RGB {
	p := raster.NewRGB(side, high)
	long := math.Sqrt(own[0]*own[0] + own[1]*own[1] + own[2]*own[2])
	for y := range high {
		for x := range side {
			d := math.Hypot(float64(x)-150, float64(y)-120) - 50
			e := 0.55 + 0.45*float64(x)/side
			for c := range 3 {
				v := own[c] * e
				if d > 0 {
					v = 0.3 * (1 + cast*math.Exp(-d/14)*own[c]/long) * e
				}
				p.Pix[3*(y*side+x)+c] = float32(v * light[c])
			}
		}
	}
	return p
}

var white = colour.RGB{1, 1, 1}

// around is the outline of the disc.
func around() isolate.Pick {
	p := isolate.Pick{Kind: "outline", Join: "add"}
	for i := range 60 {
		a := 2 * math.Pi * float64(i) / 60
		p.Nodes = append(p.Nodes, isolate.Node{P: [2]float64{150 + 50*math.Cos(a), 120 + 50*math.Sin(a)}})
	}
	return p
}

// developed gives the picture after a document with the disc as its one part.
func developed(t *testing.T, pic *raster.RGB, set func(p *document.Part)) (*develop.Rendered, *develop.Developed) {
	t.Helper()
	part := document.Part{ID: "disc", Name: "Disc", Picks: []isolate.Pick{around()}, Settings: recolour.Defaults()}
	set(&part)
	doc := document.Picture{Parts: []document.Part{part}}
	require.NoError(t, doc.Validate())
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	r, err := d.Render(0, raster.Rect{X1: side, Y1: high})
	require.NoError(t, err)
	return r, d
}

func at(p *raster.RGB, x, y int) colour.RGB {
	i := 3 * (y*p.W + x)
	return colour.RGB{float64(p.Pix[i]), float64(p.Pix[i+1]), float64(p.Pix[i+2])}
}

func target(css string) func(p *document.Part) {
	return func(p *document.Part) { p.Target.CSS = css }
}

var red = colour.RGB{0.45, 0.05, 0.04}

func TestAHiddenPartIsLeftAsItIs(t *testing.T) {
	pic := disc(red, 0, white)
	shown, _ := developed(t, pic, target("#1d6a72"))
	require.NotEqual(t, shown.Before.Pix, shown.After.Pix)
	hidden, _ := developed(t, pic, func(p *document.Part) { p.Target.CSS, p.Hidden = "#1d6a72", true })
	assert.Equal(t, hidden.Before.Pix, hidden.After.Pix)
}

func TestATypedOriginalColourSaysHowMuchIsLight(t *testing.T) {
	half := colour.RGB{red[0] / 2, red[1] / 2, red[2] / 2}
	pic := disc(half, 0, white)
	lab := colour.SRGB.Lab(red)
	own := fmt.Sprintf("lab(%g %g %g)", lab[0], lab[1], lab[2])
	estimated, _ := developed(t, pic, target("#1d6a72"))
	known, _ := developed(t, pic, func(p *document.Part) { p.Target.CSS, p.Own = "#1d6a72", own })
	e, k := at(estimated.After, 170, 120), at(known.After, 170, 120)
	assert.InDelta(t, 0.5, k[1]/e[1], 0.12, "under half the light a thing of the target's colour shows half of it")
}

func TestTheMatchPointIsAPlaceInThePicture(t *testing.T) {
	pic := disc(red, 0, white)
	want, err := colour.ParseCSS("#1d6a72")
	require.NoError(t, err)
	// The light rises from left to right: the tone of a place at the left equals the target only where that place is asked for.
	for _, x := range []int{115, 185} {
		r, d := developed(t, pic, func(p *document.Part) { p.Target.CSS, p.Match = "#1d6a72", &[2]float64{float64(x), 100} })
		assert.Less(t, colour.DeltaE00(want, colour.SRGB.Lab(at(r.After, x, 100))), 1.0, "at %d", x)
		assert.Greater(t, colour.DeltaE00(want, colour.SRGB.Lab(at(r.After, 300-x, 100))), 1.8, "and not at %d", 300-x)
		assert.Equal(t, [2]int{x, 100}, [2]int{d.Parts[0].Tone.X, d.Parts[0].Tone.Y})
	}
}

func TestACastIsTurnedAndShown(t *testing.T) {
	pic := disc(red, 0.35, white)
	teal := "#0a8f98"
	goal, err := colour.ParseCSS(teal)
	require.NoError(t, err)
	truth := disc(colour.SRGB.Linear(goal), 0.35, white)
	// The floor a few pixels away from the disc, all around it.
	far := func(p *raster.RGB) (s float64) {
		for i := range 40 {
			a := 2 * math.Pi * float64(i) / 40
			x, y := int(150+58*math.Cos(a)), int(120+58*math.Sin(a))
			s += colour.DeltaE00(colour.SRGB.Lab(at(truth, x, y)), colour.SRGB.Lab(at(p, x, y))) / 40
		}
		return s
	}
	left, plain := developed(t, pic, target(teal))
	turned, d := developed(t, pic, func(p *document.Part) { p.Target.CSS, p.Cast = teal, &mend.Cast{Amount: 100, Reach: 40} })
	was, is := far(left.After), far(turned.After)
	assert.Less(t, is, 0.6*was, "the floor is nearer to that of a teal disc: %.1f, then %.1f", was, is)
	weight, x, y := d.Parts[0].CastOf()
	assert.Greater(t, weight, 0.08)
	assert.InDelta(t, 50, math.Hypot(x-150, y-120), 25, "the strongest is beside the disc")
	mask := d.Parts[0].CastMask(raster.Place{}, side, high)
	assert.Greater(t, mask.Pix[120*side+206], 4*mask.Pix[120*side+290]+1000)
	none, _, _ := plain.Parts[0].CastOf()
	assert.Zero(t, none, "where none is looked for none is found")
	grey, gd := developed(t, disc(red, 0, white), func(p *document.Part) { p.Target.CSS, p.Cast = teal, &mend.Cast{Amount: 100, Reach: 40} })
	weight, _, _ = gd.Parts[0].CastOf()
	assert.Less(t, weight, 0.05)
	assert.Less(t, colour.DeltaE00(colour.SRGB.Lab(at(grey.Before, 215, 120)), colour.SRGB.Lab(at(grey.After, 215, 120))), 0.5, "a floor without a cast stays")
}

// A target that was measured under neutral light looks, in a warm picture, warm.
func TestANeutralTargetTakesThePicturesLight(t *testing.T) {
	warm := colour.RGB{1, 0.85, 0.6}
	pic := disc(red, 0, warm)
	_, d := developed(t, pic, func(p *document.Part) { p.Target = document.Target{CSS: "#808080", Neutral: true} })
	aim := d.Parts[0].Aim
	assert.Greater(t, aim[2], 8.0, "its b* is yellower than the target's")
	assert.Greater(t, aim[1], 0.5)
	r, _ := developed(t, pic, func(p *document.Part) { p.Target = document.Target{CSS: "#808080", Neutral: true} })
	lit := at(r.After, 180, 120)
	assert.InDelta(t, warm[2]/warm[0], lit[2]/lit[0], 0.08, "the result has the light's own tint")
	_, plain := developed(t, pic, target("#808080"))
	assert.InDelta(t, 0, plain.Parts[0].Aim[2], 0.01, "and one that is as it looks here does not")
}

// remembered is a memo that forgets nothing.
type remembered map[string]any

func (m remembered) Do(key string, f func(done raster.Done) (any, error)) (any, error) {
	if v, ok := m[key]; ok {
		return v, nil
	}
	v, err := f(nil)
	if err == nil {
		m[key] = v
	}
	return v, err
}

// A stroke samples what the place has become: it is another colour once the part is elsewhere, though nothing else changed.
func TestASampledColourFollowsTheParts(t *testing.T) {
	src := develop.Source{Pyramid: scenes.NewPyramid(disc(red, 0, white)), Space: colour.SRGB}
	memo := remembered{}
	at := func(doc document.Picture, memo develop.Memo) []float32 {
		d, err := develop.Develop(src, doc, nil, memo, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X0: 20, Y0: 20, X1: 60, Y1: 60})
		require.NoError(t, err)
		return r.After.Pix
	}
	part := document.Part{ID: "disc", Name: "Disc", Picks: []isolate.Pick{around()}, Settings: recolour.Defaults(), Target: document.Target{CSS: "#1d6a72"}}
	doc := document.Picture{Parts: []document.Part{part}, Mends: []document.Mend{{Kind: "brush",
		Strokes: []mend.Stroke{{Stroke: raster.Stroke{Radius: 8, Points: [][2]float64{{40, 40}}}, Strength: 1, Sample: &[2]float64{150, 120}}}}}}
	was := at(doc, memo)
	small := around()
	for i, n := range small.Nodes { // the sampled place is in the part no more
		small.Nodes[i].P = [2]float64{100 + (n.P[0]-150)/5, 120 + (n.P[1]-120)/5}
	}
	doc.Parts[0].Picks = []isolate.Pick{small}
	is := at(doc, memo)
	assert.False(t, slices.Equal(was, is))
	assert.True(t, slices.Equal(at(doc, nil), is), "as without a memory")
}

// The old colour is taken out of the edge inside of a mend's box, as without one, and nowhere else.
func TestTheEdgeIsMendedInItsBox(t *testing.T) {
	pic := disc(red, 0, white)
	inner := around()
	for i, n := range inner.Nodes { // too small by two pixels: the old colour is left over
		inner.Nodes[i].P = [2]float64{150 + (n.P[0]-150)*48/50, 120 + (n.P[1]-120)*48/50}
	}
	of := func(mends ...document.Mend) *raster.RGB {
		doc := document.Picture{Mends: mends, Parts: []document.Part{{ID: "disc", Name: "Disc", Picks: []isolate.Pick{inner}, Settings: recolour.Defaults(), Target: document.Target{CSS: "#1d6a72"}}}}
		require.NoError(t, doc.Validate())
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X1: side, Y1: high})
		require.NoError(t, err)
		return r.After
	}
	none, all := of(), of(document.Mend{Kind: "edge", Part: "disc"})
	box := [4]float64{150, 60, 230, 120} // the right upper quarter of the edge
	some := of(document.Mend{Kind: "edge", Part: "disc", Box: &box})
	inside, outside := 0, 0
	for y := range high {
		for x := range side {
			is, want := at(some, x, y), at(none, x, y)
			if fx, fy := float64(x)+0.5, float64(y)+0.5; fx >= box[0] && fx < box[2] && fy >= box[1] && fy < box[3] {
				want = at(all, x, y)
				if want != at(none, x, y) {
					inside++
				}
			} else if at(all, x, y) != want {
				outside++
			}
			require.Equal(t, want, is, "%d, %d", x, y)
		}
	}
	assert.Greater(t, inside, 50)
	assert.Greater(t, outside, 150)
}

// The match point is a place of the full size, also where the picture is learned from a smaller level.
func TestTheMatchPointIsOfTheFullSize(t *testing.T) {
	const w, h = 1600, 300
	pic := raster.NewRGB(w, h)
	for i := range w * h {
		x := i % w
		c := [3]float32{0.3, 0.3, 0.3}
		if x >= 200 && x < 1400 {
			e := float32(0.5 + 0.5*float64(x-200)/1200)
			c = [3]float32{0.4 * e, 0.05 * e, 0.04 * e}
		}
		copy(pic.Pix[3*i:], c[:])
	}
	box := isolate.Pick{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{200, 0}}, {P: [2]float64{1400, 0}}, {P: [2]float64{1400, h}}, {P: [2]float64{200, h}}}}
	src := develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB}
	require.Greater(t, src.LearnLevel(), 0)
	want, err := colour.ParseCSS("#1d6a72")
	require.NoError(t, err)
	for _, x := range []int{400, 1200} {
		doc := document.Picture{Parts: []document.Part{{ID: "a", Name: "A", Picks: []isolate.Pick{box}, Settings: recolour.Defaults(), Target: document.Target{CSS: "#1d6a72"}, Match: &[2]float64{float64(x), 150}}}}
		d, err := develop.Develop(src, doc, nil, nil, isolate.Exact)
		require.NoError(t, err)
		assert.InDelta(t, 0.75, d.Parts[0].Share, 0.01)
		r, err := d.Render(0, raster.Rect{X0: x, Y0: 150, X1: x + 1, Y1: 151})
		require.NoError(t, err)
		assert.Less(t, colour.DeltaE00(want, colour.SRGB.Lab(at(r.After, 0, 0))), 0.7, "at %d", x)
	}
}

// A warm light is no doubt; a colour, what is burned, black or uneven is one, and says which.
func TestWhatIsNoGreyCardIsDoubted(t *testing.T) {
	for _, c := range []struct {
		says  string
		pixel func(x, y int) colour.Lab
	}{
		{"", func(int, int) colour.Lab { return colour.Lab{60, 0, 0} }},
		{"", func(int, int) colour.Lab { return colour.Lab{55, 3, 14} }},
		{"coloured (C* 50)", func(int, int) colour.Lab { return colour.Lab{45, 40, 30} }},
		{"burned out", func(int, int) colour.Lab { return colour.Lab{100, 0, 0} }},
		{"nearly black (L* 4)", func(int, int) colour.Lab { return colour.Lab{4, 0, 0} }},
		{"uneven", func(x, _ int) colour.Lab { return colour.Lab{40 + 30*float64(x/50), 0, 0} }},
	} {
		pic := raster.NewRGB(100, 100)
		for i := range 100 * 100 {
			for k, v := range colour.SRGB.Linear(c.pixel(i%100, i/100)) {
				pic.Pix[3*i+k] = float32(v)
			}
		}
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB}, document.Picture{}, nil, nil, isolate.Exact)
		require.NoError(t, err)
		says, err := d.CardDoubt([2]float64{50, 50})
		require.NoError(t, err)
		if c.says == "" {
			assert.Empty(t, says)
		} else {
			assert.Contains(t, strings.ReplaceAll(says, " there", ""), c.says)
		}
	}
}

// Two pictures of one thing, in warm and dim and in cool and bright light: with the same grey card in both, one target that was measured
// under neutral light comes out as the same colour under each light.
func TestAGreyCardBringsPicturesInLine(t *testing.T) {
	card := func(light colour.RGB) (*raster.RGB, *develop.Developed) {
		pic := disc(red, 0, light)
		grey := colour.SRGB.Linear(colour.Lab{60, 0, 0})
		for y := 10; y < 30; y++ {
			for x := 10; x < 30; x++ {
				for c := range 3 {
					pic.Pix[3*(y*pic.W+x)+c] = float32(grey[c] * light[c])
				}
			}
		}
		doc := document.Picture{Grey: &document.Grey{At: [2]float64{20, 20}, Lightness: 60}, Parts: []document.Part{{ID: "disc", Name: "Disc", Settings: recolour.Defaults(),
			Picks: []isolate.Pick{{Kind: "sweep", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 8, Points: [][2]float64{{150, 110}, {200, 130}}}}}}}, Target: document.Target{CSS: "#6a7a52", Neutral: true}}}}
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
		require.NoError(t, err)
		return pic, d
	}
	target, err := colour.ParseCSS("#6a7a52")
	require.NoError(t, err)
	want := colour.SRGB.Linear(target)
	for _, light := range []colour.RGB{{0.9, 0.7, 0.5}, {0.75, 0.85, 1}} {
		_, d := card(light)
		aim := colour.SRGB.Linear(d.Parts[0].Aim)
		for c := range 3 {
			assert.InDelta(t, want[c]*light[c], aim[c], 0.003, "%v", light)
		}
	}
}
