package develop_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/copies"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/pattern"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// stage is a ball on a green floor, left, and a blue floor, right, 240 x 160, with soft edges, lit from the left. It returns the picture
// and how it would look with a second ball at x, y that is k times as large.
func stage(x, y, k float64) (pic, truth *raster.RGB) {
	pic, truth = raster.NewRGB(240, 160), raster.NewRGB(240, 160)
	ball := func(to *raster.RGB, cx, cy, r, soft float64) {
		for i := range 240 * 160 {
			px, py := float64(i%240)+0.5, float64(i/240)+0.5
			d := math.Hypot(px-cx, py-cy)
			a := float32(max(0, min(1, (r+soft/2-d)/soft)))
			light := float32(0.8 - 0.5*(px-cx)/r)
			for c, v := range [3]float32{0.6, 0.25, 0.1} {
				to.Pix[3*i+c] += a * (v*max(0.1, light) - to.Pix[3*i+c])
			}
		}
	}
	for _, p := range []*raster.RGB{pic, truth} {
		for i := range 240 * 160 {
			floor := [3]float32{0.05, 0.5, 0.05}
			if i%240 >= 120 {
				floor = [3]float32{0.05, 0.05, 0.6}
			}
			copy(p.Pix[3*i:], floor[:])
		}
		ball(p, 60, 80, 30, 3)
	}
	ball(truth, x, y, 30*k, 3*k)
	return pic, truth
}

func circle(cx, cy, r float64) []isolate.Node {
	var out []isolate.Node
	for i := range 90 {
		a := float64(i) * math.Pi / 45
		out = append(out, isolate.Node{P: [2]float64{cx + r*math.Cos(a), cy + r*math.Sin(a)}})
	}
	return out
}

// theBall is the ball's share of each pixel.
func theBall() *raster.Mask {
	m := raster.NewMask(240, 160)
	for i := range m.Pix {
		d := math.Hypot(float64(i%240)+0.5-60, float64(i/240)+0.5-80)
		m.Pix[i] = uint16(max(0, min(1, (30+1.5-d)/3)) * raster.Whole)
	}
	return m
}

// withCopy is the ball, soft as it is, and a copy of it; the parts after it are others.
func withCopy(c copies.Copy, others ...document.Part) document.Picture {
	c.Of = "ball"
	p := document.Picture{Parts: []document.Part{
		{ID: "ball", Name: "Ball", Picks: []isolate.Pick{{Kind: "mask", Join: "add", File: storedMask}}, Settings: recolour.Defaults()},
		{ID: "second", Name: "Second", Settings: recolour.Defaults(), Copy: &c},
	}}
	p.Parts = append(p.Parts, others...)
	return p
}

func madeReady(t *testing.T, pic *raster.RGB, doc document.Picture) *develop.Developed {
	t.Helper()
	require.NoError(t, doc.Validate())
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB, Masks: map[string]*raster.Mask{storedMask: theBall()}}, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	return d
}

func shown(t *testing.T, pic *raster.RGB, doc document.Picture) *develop.Rendered {
	t.Helper()
	r, err := madeReady(t, pic, doc).Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
	require.NoError(t, err)
	return r
}

// deltaE returns the mean CIEDE2000 of two pictures where a pixel is wanted.
func deltaE(a, b *raster.RGB, want func(x, y int) bool) float64 {
	sum, n := 0.0, 0
	lab := func(p *raster.RGB, i int) colour.Lab {
		return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
	}
	for i := range a.W * a.H {
		if want(i%a.W, i/a.W) {
			sum, n = sum+colour.DeltaE00(lab(a, i), lab(b, i)), n+1
		}
	}
	return sum / float64(n)
}

// A copy on another ground looks as if it had stood there: there is nothing of the old ground in its rim, and the original is as it was.
func TestACopyHasNothingOfTheOldGroundInItsRim(t *testing.T) {
	for _, k := range []float64{1, 0.6, 1.4} {
		pic, truth := stage(180, 75, k)
		r := shown(t, pic, withCopy(copies.Copy{About: [2]float64{60, 80}, At: [2]float64{180, 75}, Scale: k}))
		assert.Equal(t, pic.Pix, r.Given.Pix, "the picture as it came in stays")
		rim := func(x, y int) bool {
			return math.Abs(math.Hypot(float64(x)+0.5-180, float64(y)+0.5-75)-30*k) < 3
		}
		assert.Less(t, deltaE(r.After, truth, rim), 1.5, "rim at %g", k)
		assert.Less(t, deltaE(r.After, truth, func(x, y int) bool { return math.Hypot(float64(x)-180, float64(y)-75) < 30*k-4 }), 0.6, "body at %g", k)
		assert.Less(t, deltaE(r.After, pic, func(x, _ int) bool { return x < 120 }), 1e-9, "the left half at %g", k)
		for i := range r.Meant {
			if r.After.Pix[3*i] != r.Given.Pix[3*i] {
				require.True(t, r.Meant[i])
			}
		}
	}
}

// A copy that stands exactly where its original does changes nothing.
func TestACopyAtRestIsTheOriginal(t *testing.T) {
	pic, _ := stage(180, 75, 1)
	at := [2]float64{60, 80}
	r := shown(t, pic, withCopy(copies.Copy{About: at, At: at}))
	assert.Equal(t, pic.Pix, r.After.Pix)
}

// What is before a copy covers it and its shadow: parts that come after it in the list.
func TestWhatStandsBeforeACopyCoversItAndItsShadow(t *testing.T) {
	pic, truth := stage(180, 75, 1)
	post := func(x int) bool { return x >= 175 && x < 190 }
	for _, p := range []*raster.RGB{pic, truth} {
		for i := range 240 * 160 {
			if post(i % 240) {
				copy(p.Pix[3*i:], []float32{0.7, 0.7, 0.1})
			}
		}
	}
	front := document.Part{ID: "post", Name: "Post", Settings: recolour.Defaults(), Picks: []isolate.Pick{{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{175, 0}}, {P: [2]float64{190, 0}}, {P: [2]float64{190, 160}}, {P: [2]float64{175, 160}}}}}}
	c := copies.Copy{About: [2]float64{60, 80}, At: [2]float64{180, 75}, Shadow: &copies.Shadow{Direction: 60, Length: 0.8, Softness: 4, Strength: 90}}
	r := shown(t, pic, withCopy(c, front))
	assert.Less(t, deltaE(r.After, pic, func(x, _ int) bool { return post(x) }), 0.02)
	assert.Less(t, deltaE(r.After, truth, func(x, y int) bool {
		return !post(x-1) && !post(x+1) && math.Hypot(float64(x)-180, float64(y)-75) < 26
	}), 0.6)
	// The same post before it in the list stands behind it.
	doc := withCopy(c, front)
	doc.Parts[1], doc.Parts[2] = doc.Parts[2], doc.Parts[1]
	r = shown(t, pic, doc)
	assert.Greater(t, deltaE(r.After, pic, func(x, y int) bool { return post(x) && math.Abs(float64(y)-75) < 20 }), 10.0)
}

// A copy is a part of its own: it takes a target, and its original does not.
func TestACopyHasAColourOfItsOwn(t *testing.T) {
	pic, _ := stage(180, 75, 1)
	doc := withCopy(copies.Copy{About: [2]float64{60, 80}, At: [2]float64{180, 75}, Turn: 40})
	doc.Parts[1].Target.CSS = "#7a5ab0"
	d := madeReady(t, pic, doc)
	r, err := d.Render(0, raster.Rect{X1: 240, Y1: 160})
	require.NoError(t, err)
	assert.Less(t, deltaE(r.After, pic, func(x, _ int) bool { return x < 120 }), 1e-9)
	tone := d.Parts[1].Tone
	assert.InDelta(t, 180, tone.X, 30, "its tone is one of where it stands")
	got := colour.SRGB.Lab(d.Parts[1].Plan.Result(tone.Linear))
	assert.Less(t, colour.DeltaE00(d.Parts[1].Want, got), 1.0)
	assert.InDelta(t, 0, colour.DeltaE00(d.Parts[0].Own, d.Parts[1].Own), 6, "before, it is of the original's colour")
}

// Turned by a quarter what was lit from the left is lit from above; from the other side it is lit from the right; flipped and from
// the other side it is lit from the left again.
func TestTheLightOnACopyGoesWithItUnlessItIsTurned(t *testing.T) {
	pic, _ := stage(180, 75, 1)
	at := func(c copies.Copy) (left, right, top, bottom float64) {
		c.About, c.At = [2]float64{60, 80}, [2]float64{180, 75}
		r := shown(t, pic, withCopy(c))
		v := func(x, y int) float64 { return float64(r.After.Pix[3*(y*240+x)]) }
		return v(162, 75), v(198, 75), v(180, 57), v(180, 93)
	}
	left, right, _, _ := at(copies.Copy{})
	assert.Greater(t, left, 1.5*right)
	_, _, top, bottom := at(copies.Copy{Turn: 90})
	assert.Greater(t, top, 1.5*bottom)
	left, right, _, _ = at(copies.Copy{Flip: true})
	assert.Greater(t, right, 1.5*left)
	left, right, _, _ = at(copies.Copy{Relit: true})
	assert.Greater(t, right, 1.3*left)
	left, right, _, _ = at(copies.Copy{Relit: true, Flip: true})
	assert.Greater(t, left, 1.3*right)
}

// A shadow falls where it is told to, is darkest where the thing stands, and takes no more than its strength.
func TestAShadowFallsWhereItIsToldTo(t *testing.T) {
	pic, _ := stage(180, 75, 1)
	for direction, side := range map[float64][2]int{0: {218, 106}, 180: {142, 106}, 90: {180, 118}} {
		c := copies.Copy{About: [2]float64{60, 80}, At: [2]float64{180, 75}, Shadow: &copies.Shadow{Direction: direction, Length: 0.7, Softness: 6, Strength: 60}}
		r := shown(t, pic, withCopy(c))
		left := func(q [2]int) float64 {
			i := 3*(q[1]*240+q[0]) + 2
			return float64(r.After.Pix[i] / pic.Pix[i])
		}
		assert.Less(t, left(side), 0.75, "%g", direction)
		assert.GreaterOrEqual(t, left(side), 0.4-1e-5, "%g", direction)
		other := [2]int{360 - side[0], side[1]}
		if direction != 90 {
			assert.Greater(t, left(other), 0.97, "%g: not on the other side", direction)
		}
		assert.Less(t, left([2]int{180, 107}), 0.6, "%g: at its foot", direction)
	}
}

// Copies are the same in strips as in one piece.
func TestCopiesAreTheSameInStrips(t *testing.T) {
	pic, _ := stage(180, 75, 1)
	doc := withCopy(copies.Copy{About: [2]float64{60, 80}, At: [2]float64{150, 75}, Turn: 20, Scale: 1.2, Shadow: &copies.Shadow{Direction: 30, Length: 0.7, Softness: 6, Strength: 60}})
	doc.Parts[1].Target.CSS = "#7a5ab0"
	d := madeReady(t, pic, doc)
	whole, err := d.Render(0, raster.Rect{X1: 240, Y1: 160})
	require.NoError(t, err)
	for y := 0; y < 160; y += 13 {
		r := raster.Rect{Y0: y, X1: 240, Y1: min(160, y+13)}
		strip, err := d.Render(0, r)
		require.NoError(t, err)
		for i, v := range strip.After.Pix {
			require.InDelta(t, whole.After.Pix[3*y*240+i], v, 1./255, "row %d", y+i/3/240)
		}
	}
}

// A copy of a part that has nothing in it is what was added to it by hand; switched off it is not there.
func TestACopyOfNothingAndOneThatIsOff(t *testing.T) {
	pic, _ := stage(180, 75, 1)
	doc := withCopy(copies.Copy{About: [2]float64{60, 80}, At: [2]float64{180, 75}, Shadow: &copies.Shadow{Length: 1, Strength: 50}})
	doc.Parts[1].Target.CSS = "#7a5ab0"
	doc.Parts[1].Hidden = true
	assert.Equal(t, pic.Pix, shown(t, pic, doc).After.Pix)
	doc.Parts[1].Hidden = false
	doc.Parts[0].Picks = nil
	assert.Equal(t, pic.Pix, shown(t, pic, doc).After.Pix)
	doc.Parts[1].Picks = []isolate.Pick{{Kind: "outline", Join: "add", Nodes: circle(180, 75, 20)}}
	r := shown(t, pic, doc)
	assert.NotEqual(t, pic.Pix[3*(75*240+180):3*(75*240+180)+3], r.After.Pix[3*(75*240+180):3*(75*240+180)+3])
	assert.Less(t, deltaE(r.After, pic, func(x, y int) bool { return math.Hypot(float64(x)-180, float64(y)-75) > 23 }), 1e-9)
}

// A document with a copy that cannot be is refused with a sentence.
func TestCopiesThatCannotBe(t *testing.T) {
	for name, c := range map[string]copies.Copy{
		"of nothing":      {Of: "nobody"},
		"of itself":       {Of: "second"},
		"of a copy":       {Of: "third"},
		"too large":       {Of: "ball", Scale: 11},
		"nowhere":         {Of: "ball", At: [2]float64{math.NaN(), 0}},
		"a hard shadow":   {Of: "ball", Shadow: &copies.Shadow{Softness: -1}},
		"a coloured lamp": {Of: "ball", Shadow: &copies.Shadow{Colour: "mauvish"}},
	} {
		doc := withCopy(copies.Copy{}, document.Part{ID: "third", Name: "Third", Settings: recolour.Defaults(), Copy: &copies.Copy{Of: "ball"}})
		doc.Parts[1].Copy = &c
		var wrong *document.Error
		assert.ErrorAs(t, doc.Validate(), &wrong, name)
	}
}

// A thing that was cut out of one picture and set into another looks as if it had stood there, in a picture of another space as well;
// what was cut out keeps its colours to a code value.
func TestAThingOfAnotherPicture(t *testing.T) {
	pic, truth := stage(180, 75, 1.2)
	cut, share, step, err := madeReady(t, pic, withCopy(copies.Copy{About: [2]float64{60, 80}, At: [2]float64{180, 75}})).CutOut(0, copies.MostCut)
	require.NoError(t, err)
	require.Equal(t, 1.0, step)
	require.Less(t, cut.W, 80)
	var mid [2]float64 // of the ball in what was cut out
	all := 0.0
	for i, v := range share {
		mid[0], mid[1], all = mid[0]+float64(v)*(float64(i%cut.W)+0.5), mid[1]+float64(v)*(float64(i/cut.W)+0.5), all+float64(v)
	}
	mid[0], mid[1] = mid[0]/all, mid[1]/all
	for name, space := range map[string]*colour.Space{"sRGB": colour.SRGB, "Display P3": colour.DisplayP3} {
		packed := copies.Pack(cut, share, colour.SRGB)
		of := copies.Cut{File: storedMask, Size: [2]int{cut.W, cut.H}}
		thing, err := of.Open(packed, space)
		require.NoError(t, err)
		back := copies.Pack(thing.Colours.Crop(raster.Rect{X0: 1, Y0: 1, X1: cut.W + 1, Y1: cut.H + 1}), share, space)
		for i, v := range packed.Pix {
			require.InDelta(t, v, back.Pix[i], 40, "%s: %d", name, i)
		}
		other, want := raster.NewRGB(240, 160), raster.NewRGB(240, 160)
		into := func(to, from *raster.RGB) {
			for i := 0; i < len(from.Pix); i += 3 {
				l := space.Linear(colour.SRGB.Lab(colour.RGB{float64(from.Pix[i]), float64(from.Pix[i+1]), float64(from.Pix[i+2])}))
				to.Pix[i], to.Pix[i+1], to.Pix[i+2] = float32(l[0]), float32(l[1]), float32(l[2])
			}
		}
		into(other, pic)
		into(want, truth)
		doc := document.Picture{Parts: []document.Part{{ID: "ball", Name: "Ball", Settings: recolour.Defaults(),
			Copy: &copies.Copy{Cut: &of, About: mid, At: [2]float64{180, 75}, Scale: 1.2}}}}
		require.NoError(t, doc.Validate())
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(other), Space: space, Masks: map[string]*raster.Mask{storedMask: packed}}, doc, nil, nil, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X1: 240, Y1: 160})
		require.NoError(t, err)
		near := func(x, y int) bool { return math.Hypot(float64(x)-180, float64(y)-75) < 42 }
		sum, n := 0.0, 0
		for i := range 240 * 160 {
			if near(i%240, i/240) {
				lab := func(p *raster.RGB) colour.Lab {
					return space.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
				}
				sum, n = sum+colour.DeltaE00(lab(r.After), lab(want)), n+1
			}
		}
		assert.Less(t, sum/float64(n), 0.8, name)
	}
	_, err = (&copies.Cut{File: storedMask, Size: [2]int{3, 3}}).Open(nil, colour.SRGB)
	assert.Error(t, err)
	_, err = (&copies.Cut{File: storedMask, Size: [2]int{3, 3}}).Open(raster.NewMask(3, 3), colour.SRGB)
	assert.Error(t, err)
}

// remembering keeps everything, by its key.
type remembering map[string]any

func (r remembering) Do(key string, f func(done raster.Done) (any, error)) (any, error) {
	if v, ok := r[key]; ok {
		return v, nil
	}
	v, err := f(nil)
	r[key] = v
	return v, err
}

// What is remembered of one copy knows of the shadow that another throws on it.
func TestAShadowOnAnotherCopyIsNotForgotten(t *testing.T) {
	pic, _ := stage(180, 75, 1)
	memo := remembering{}
	render := func(strength float64, memo develop.Memo) []float32 {
		doc := withCopy(copies.Copy{About: [2]float64{60, 80}, At: [2]float64{150, 60}})
		doc.Parts[1].Target.CSS = "#7a5ab0"
		third := document.Part{ID: "third", Name: "Third", Settings: recolour.Defaults(), Copy: &copies.Copy{Of: "ball", About: [2]float64{60, 80}, At: [2]float64{200, 60},
			Shadow: &copies.Shadow{Direction: 180, Length: 2, Softness: 4, Strength: strength}}}
		doc.Parts = append(doc.Parts, third)
		d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB, Masks: map[string]*raster.Mask{storedMask: theBall()}}, doc, nil, memo, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X1: 240, Y1: 160})
		require.NoError(t, err)
		return r.After.Pix
	}
	first := render(20, memo)
	assert.NotEqual(t, first, render(95, memo))
	assert.Equal(t, render(95, nil), render(95, memo))
}

// A pattern on a copy lies on the thing: moved and flipped with it, with the folds of the original. Where the copy stands changes nothing
// of it.
func TestAPatternGoesWithItsCopy(t *testing.T) {
	pic, _ := stage(60, 80, 1)
	stripes := func() *document.Pattern {
		return &document.Pattern{Lay: pattern.Pattern{Tile: "stripes", Share: 40, Size: 14, Angle: 20, Offset: [2]float64{3, 5}, Folds: 60, Strength: 100,
			Pushes: []pattern.Push{{Radius: 12, Points: [][2]float64{{50, 70}, {58, 78}}}}}, Colours: []document.Target{{CSS: "#203a80"}}}
	}
	for _, c := range []struct {
		name   string
		copy   copies.Copy
		inCopy func(x, y int) (int, int)
	}{
		{"moved", copies.Copy{About: [2]float64{60, 80}, At: [2]float64{170, 85}}, func(x, y int) (int, int) { return x + 110, y + 5 }},
		{"flipped", copies.Copy{About: [2]float64{60, 80}, At: [2]float64{170, 80}, Flip: true}, func(x, y int) (int, int) { return 229 - x, y }},
	} {
		doc := withCopy(c.copy)
		for i := range doc.Parts {
			doc.Parts[i].Pattern = stripes()
		}
		r := shown(t, pic, doc)
		n := 0
		for i, v := range r.Masks[0].Pix {
			if v < raster.Whole {
				continue
			}
			x, y := c.inCopy(i%pic.W, i/pic.W)
			j := y*pic.W + x
			require.InDelta(t, r.Before.Pix[3*i+2], r.Before.Pix[3*j+2], 0.01, "%s: the copy is the original", c.name)
			for k := range 3 {
				require.InDelta(t, r.After.Pix[3*i+k], r.After.Pix[3*j+k], 0.06, "%s, at %d", c.name, i)
			}
			if math.Abs(float64(r.After.Pix[3*i]-r.Before.Pix[3*i])) > 0.1 {
				n++
			}
		}
		assert.Greater(t, n, 500, "%s: figures are seen", c.name)
	}
}
