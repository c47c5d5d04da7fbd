package develop_test

import (
	"errors"
	"math"
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
	"episema/internal/everyfield"
	"episema/internal/scenes"
)

// patched is a disc painted teal, and a patch over its rim that is covered by what lies right of it.
func patched() document.Picture {
	for _, m := range everyfield.Moves(storedMask) {
		if m.Field == "Patch.Seamless" {
			p := m.After()
			p.Mends[0].Patch.Turn, p.Mends[0].Patch.Scale, p.Mends[0].Patch.Feather = 25, 1.3, 6
			return p
		}
	}
	panic("there is no patch among the documents of every field")
}

// A patch is the same in strips as in one piece, and at half the size it is the half of it.
func TestAPatchIsTheSameInStripsAndAtEveryLevel(t *testing.T) {
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB}, patched(), nil, nil, isolate.Exact)
	require.NoError(t, err)
	meant := sameInStripsAndAtEveryLevel(t, d, 0.003)
	assert.Greater(t, meant, 800, "what it changed is told, so that a delivery does not take it for a mistake")
}

// So is one that is filled by example, which comes from several places.
func TestAFillingIsTheSameInStripsAndAtEveryLevel(t *testing.T) {
	doc := patched()
	doc.Mends[0].Patch.Fill = 2
	memo := tally{map[string]any{}, map[string]int{}}
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB}, doc, nil, &memo, isolate.Exact)
	require.NoError(t, err)
	assert.Greater(t, sameInStripsAndAtEveryLevel(t, d, 0.004), 800)
	// It is found in the picture as it came in: another colour asks for nothing anew.
	doc.Parts[0].Target.CSS = "#d8c8a0"
	before := memo.made["filling"]
	_, err = develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB}, doc, nil, &memo, isolate.Exact)
	require.NoError(t, err)
	assert.Equal(t, 1, before)
	assert.Equal(t, before, memo.made["filling"])
	// Nor does a hand that changes something else: it is shown what was found at rest, not what is found quickly.
	rendered := func(effort isolate.Effort) []float32 {
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB}, doc, nil, &memo, effort)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X1: 240, Y1: 160})
		require.NoError(t, err)
		return r.After.Pix
	}
	made := memo.made["filling"]
	rendered(isolate.Exact)
	rendered(isolate.Quick)
	assert.Equal(t, made, memo.made["filling"])
	doc.Mends[0].Patch.Nodes[0].P[0] += 4
	rendered(isolate.Quick)
	assert.Equal(t, made+1, memo.made["filling"], "another outline")
	// What another patch covers is no example: where that is all around there is none, and it stays as it is.
	frame := func(x0, y0, x1, y1 float64) document.Mend {
		return document.Mend{Kind: "patch", Patch: &mend.Patch{Nodes: []isolate.Node{{P: [2]float64{x0, y0}}, {P: [2]float64{x1, y0}}, {P: [2]float64{x1, y1}}, {P: [2]float64{x0, y1}}}, Shift: [2]float64{1, 0}}}
	}
	alone := doc
	alone.Mends = append(doc.Mends[:1:1], frame(-400, -400, 800, 800))
	e, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB}, alone, nil, nil, isolate.Exact)
	require.NoError(t, err)
	_, err = e.Render(0, raster.Rect{X1: 100, Y1: 100})
	require.NoError(t, err)
	assert.Equal(t, []int{0}, e.Unfilled, "and that is told")
	assert.Empty(t, d.Unfilled)
}

// sameInStripsAndAtEveryLevel checks that, and returns how many pixels were meant to change beside those of parts.
func sameInStripsAndAtEveryLevel(t *testing.T, d *develop.Developed, apart float64) int {
	t.Helper()
	w, h := d.Size(0)
	pic := raster.RGB{W: w, H: h}
	whole, err := d.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
	require.NoError(t, err)
	meant := 0
	for y := 0; y < pic.H; y += 17 {
		r := raster.Rect{Y0: y, X1: pic.W, Y1: min(pic.H, y+17)}
		strip, err := d.Render(0, r)
		require.NoError(t, err)
		for i, v := range strip.After.Pix {
			// The share of a pixel on the outline is filled in steps of 1/255, which rounding may move by one.
			require.InDelta(t, whole.After.Pix[3*y*pic.W+i], v, 1./255, "row %d", y+i/3/pic.W)
		}
		for _, m := range strip.Meant {
			if m {
				meant++
			}
		}
	}
	half, err := d.Render(1, raster.Rect{X1: (pic.W + 1) / 2, Y1: (pic.H + 1) / 2})
	require.NoError(t, err)
	want := raster.Half(whole.After)
	sum := 0.0
	for i, v := range half.After.Pix {
		sum += math.Abs(float64(v - want.Pix[i]))
	}
	assert.Less(t, sum/float64(len(want.Pix)), apart)
	return meant
}

// What covers is the picture as its parts are painted.
func TestAPatchFollowsThePartsColours(t *testing.T) {
	at := func(css string) colour.Lab {
		doc := patched()
		doc.Parts[0].Target.CSS = css
		// Outside of the disc, covered by its middle.
		doc.Mends[0].Patch = &mend.Patch{Nodes: []isolate.Node{{P: [2]float64{220, 100}}, {P: [2]float64{250, 100}}, {P: [2]float64{250, 130}}, {P: [2]float64{220, 130}}}, Shift: [2]float64{-105, 5}}
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X0: 235, Y0: 115, X1: 236, Y1: 116})
		require.NoError(t, err)
		there, err := d.Render(0, raster.Rect{X0: 130, Y0: 120, X1: 131, Y1: 121})
		require.NoError(t, err)
		for k := range 3 {
			assert.InDelta(t, there.After.Pix[k], r.After.Pix[k], 1e-5, "it is what is there")
		}
		return colour.SRGB.Lab(colour.RGB{float64(r.After.Pix[0]), float64(r.After.Pix[1]), float64(r.After.Pix[2])})
	}
	assert.Greater(t, colour.DeltaE00(at("#1d6a72"), at("#d8c8a0")), 20.0)
}

// torn is a picture of which a corner cannot be read.
type torn struct {
	*scenes.Pyramid
	now *bool
}

var errTorn = errors.New("this corner cannot be read")

func (p torn) Linear(level int, r raster.Rect) (*raster.RGB, error) {
	if *p.now && level == 0 && r.X1 > 230 && r.X0 > 150 && r.Y0 > 50 {
		return nil, errTorn
	}
	return p.Pyramid.Linear(level, r)
}

func TestAPatchWhoseCoverCannotBeReadIsAnError(t *testing.T) {
	doc := patched()
	doc.Mends[0].Patch = &mend.Patch{Nodes: []isolate.Node{{P: [2]float64{60, 100}}, {P: [2]float64{80, 100}}, {P: [2]float64{80, 130}}}, Shift: [2]float64{160, 0}}
	now := false
	d, err := develop.Develop(develop.Source{Pyramid: torn{scenes.NewPyramid(everyfield.Scene()), &now}, Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	now = true
	_, err = d.Render(0, raster.Rect{X0: 50, Y0: 90, X1: 90, Y1: 140})
	assert.ErrorIs(t, err, errTorn)
	_, err = d.Render(0, raster.Rect{X0: 0, Y0: 0, X1: 40, Y1: 40})
	assert.NoError(t, err, "elsewhere it is not needed")
	stopped := make(chan struct{})
	close(stopped)
	d.Done = stopped
	_, err = d.Render(0, raster.Rect{X0: 50, Y0: 90, X1: 90, Y1: 140})
	assert.ErrorIs(t, err, raster.ErrStopped)
}

// A cover that is made much smaller is read from a coarser level: as many pixels as it has, not as many as it stands for.
func TestASmallCoverIsReadCoarsely(t *testing.T) {
	pic := raster.NewRGB(1600, 1200)
	for i := range pic.Pix {
		pic.Pix[i] = 0.3 + 0.2*float32((i/3/1600/40+i/3%1600/40)%2)
	}
	asked := 0
	doc := document.Picture{Mends: []document.Mend{{Kind: "patch", Patch: &mend.Patch{Scale: 0.125, Shift: [2]float64{100, 50},
		Nodes: []isolate.Node{{P: [2]float64{700, 500}}, {P: [2]float64{820, 500}}, {P: [2]float64{820, 600}}, {P: [2]float64{700, 600}}}}}}}
	d, err := develop.Develop(develop.Source{Pyramid: counting{scenes.NewPyramid(pic), &asked}, Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	asked = 0
	r, err := d.Render(0, raster.Rect{X0: 690, Y0: 490, X1: 830, Y1: 610})
	require.NoError(t, err)
	assert.Less(t, asked, 500_000, "pixels read for a view of 17,000; at full size the cover alone has 800,000")
	sum := 0.0
	for y := 20; y < 100; y++ {
		for x := 20; x < 120; x++ {
			sum += float64(r.After.Pix[3*(y*r.After.W+x)]) / (80 * 100)
		}
	}
	assert.InDelta(t, 0.4, sum, 0.02, "its squares are as light on the whole")
}

// counting counts the pixels that are read.
type counting struct {
	*scenes.Pyramid
	n *int
}

func (p counting) Linear(level int, r raster.Rect) (*raster.RGB, error) {
	*p.n += r.W() * r.H()
	return p.Pyramid.Linear(level, r)
}

// tally remembers like a server does, and how often each thing was made.
type tally struct {
	has  map[string]any
	made map[string]int
}

func (m *tally) Do(key string, f func(raster.Done) (any, error)) (any, error) {
	if v, ok := m.has[key]; ok {
		return v, nil
	}
	v, err := f(nil)
	m.has[key] = v
	m.made[strings.Fields(key)[0]]++
	return v, err
}

// A seamless patch is fitted again when a part that it sees gets another colour, be it where it lies or where it comes from, and
// not when another does.
func TestAPatchIsFittedAgainOnlyForWhatItSees(t *testing.T) {
	doc := func(disc, corner string) document.Picture {
		p := patched()
		p.Mends = p.Mends[:1]
		p.Mends[0].Patch = &mend.Patch{Nodes: []isolate.Node{{P: [2]float64{110, 100}}, {P: [2]float64{140, 100}}, {P: [2]float64{140, 130}}, {P: [2]float64{110, 130}}}, Shift: [2]float64{12, 5}, Seamless: true}
		p.Parts = []document.Part{p.Parts[0], {ID: "corner", Name: "Corner", Settings: p.Parts[0].Settings, Target: document.Target{CSS: corner},
			Picks: []isolate.Pick{{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{2, 2}}, {P: [2]float64{24, 2}}, {P: [2]float64{24, 20}}, {P: [2]float64{2, 20}}}}}}}
		p.Parts[0].Cast, p.Parts[0].Copy, p.Parts[0].Target.CSS = nil, nil, disc
		return p
	}
	pic := everyfield.Scene()
	all := raster.Rect{X1: pic.W, Y1: pic.H}
	m := &tally{map[string]any{}, map[string]int{}}
	render := func(doc document.Picture, memo develop.Memo) []float32 {
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB}, doc, nil, memo, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, all)
		require.NoError(t, err)
		return r.After.Pix
	}
	render(doc("#2a6a72", "#a03028"), m)
	require.Equal(t, 1, m.made["patch"])
	other := render(doc("#2a6a72", "#d0b040"), m)
	assert.Equal(t, 1, m.made["patch"], "another part has another colour")
	assert.Equal(t, render(doc("#2a6a72", "#d0b040"), nil), other)
	own := render(doc("#a03028", "#d0b040"), m)
	assert.Equal(t, 2, m.made["patch"], "what it lies on has another colour")
	assert.Equal(t, render(doc("#a03028", "#d0b040"), nil), own)

	// Where it comes from is seen, too.
	from := func(css string) document.Picture {
		p := doc("#2a6a72", css)
		p.Mends[0].Patch.Shift = [2]float64{-112, -105}
		return p
	}
	render(from("#a03028"), m)
	assert.Equal(t, 3, m.made["patch"])
	there := render(from("#d0b040"), m)
	assert.Equal(t, 4, m.made["patch"])
	assert.Equal(t, render(from("#d0b040"), nil), there)
}
