package proof

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/document"
)

// TestContrast: WCAG 2.2's own limits (black on white 21, alike 1); the two greys are the well-known pair on either side of
// 4.5, from memory.
func TestContrast(t *testing.T) {
	for _, c := range []struct {
		a, b string
		want float64
	}{{"#000", "#fff", 21}, {"#fff", "#000", 21}, {"#1d6a72", "#1d6a72", 1}, {"#767676", "#fff", 4.54}, {"#777", "#fff", 4.48}} {
		a, err := colour.ParseCSS(c.a)
		require.NoError(t, err)
		b, err := colour.ParseCSS(c.b)
		require.NoError(t, err)
		assert.InDelta(t, c.want, Ratio(a, b), 0.01, "%s on %s", c.a, c.b)
	}
}

// TestAProofOfADrawing: what is out of sRGB is said with the nearest colour, fills that lie on each other and become alike
// are found and ones apart from each other are not, and a text is measured against what lies below it.
func TestAProofOfADrawing(t *testing.T) {
	d, err := artwork.Parse([]byte(`<svg viewBox="0 0 100 100"><rect width="60" height="60" fill="#9c2a1e"/><circle cx="30" cy="30" r="10" fill="#1d6a72"/>
		<rect x="80" y="80" width="9" height="9" fill="#1d6a74"/><text x="5" y="20" font-size="12" fill="#ffffff">Ride</text></svg>`))
	require.NoError(t, err)
	family := func(name, main, target string, held bool) document.Part {
		return document.Part{ID: name, Name: name, Target: document.Target{CSS: target}, Family: &document.Family{Main: main, Held: held, Members: []artwork.Member{{Colour: main}}}}
	}
	measure := func(parts ...document.Part) Drawing {
		doc := document.Picture{Parts: parts}
		w, err := doc.Drawn(d)
		require.NoError(t, err)
		return MeasureDrawing(&doc, d, w)
	}
	o := measure(family("red", "#9c2a1e", "#1d6a73", false), family("white", "#ffffff", "#1d6a73", true))
	assert.Equal(t, "within", o.Parts[0].State)
	assert.Equal(t, "as it is", o.Parts[1].State, "what is held has no target")
	require.Len(t, o.Alike, 1, "the disc on the square, not the square that lies elsewhere")
	assert.Greater(t, o.Alike[0].Was, 30.0)
	assert.Less(t, o.Alike[0].Is, apart)
	require.Len(t, o.Texts, 1)
	assert.Equal(t, "Ride", o.Texts[0].Text)
	assert.InDelta(t, 7.8, o.Texts[0].Was, 0.6)
	assert.Less(t, o.Texts[0].Is, o.Texts[0].Was)

	o = measure(family("red", "#9c2a1e", "color(display-p3 0 1 0)", false))
	assert.Equal(t, "unreachable", o.Parts[0].State)
	assert.Greater(t, o.Parts[0].Beyond, o.Parts[0].Tolerance)
	assert.True(t, colour.InGamut(colour.SRGB.Linear(o.Parts[0].Nearest)))
}

// A text is measured where its first letters are: half a line in from its left, at half its height, against the uppermost fill drawn before
// it that is there. White paper is below all.
func TestATextIsMeasuredAgainstWhatLiesUnderItsFirstLetters(t *testing.T) {
	text := `<text id="t" x="20" y="60" font-size="24" fill="#000000">Lisk Street Tramway</text>`
	d, err := artwork.Parse([]byte(`<svg viewBox="0 0 400 100">` + text + `</svg>`))
	require.NoError(t, err)
	var x0, y0, x1, y1 float64
	for i := range d.Items {
		x0, y0, x1, y1 = d.Box(d.Items[i].Element)
	}
	high, wide := y1-y0, x1-x0
	require.Greater(t, wide, 4*high, "a line of letters")
	x, y := x0+high, (y0+y1)/2
	rect := func(x, y, w, h float64, fill string) string {
		return fmt.Sprintf(`<rect x="%g" y="%g" width="%g" height="%g" fill="%s"/>`, x, y, w, h, fill)
	}
	grey, ink := rect(x-5, y-5, 10, 10, "#767676"), rect(x-5, y-5, 10, 10, "#000000")
	for what, c := range map[string]struct {
		before, after string
		ratio         float64
	}{
		"on paper":                      {"", "", 21},
		"on a small thing":              {grey, "", 21 / 4.54},
		"on the upper of two":           {ink + grey, "", 21 / 4.54},
		"the other way around":          {grey + ink, "", 1},
		"what is drawn later":           {grey, ink, 21 / 4.54},
		"what ends before it":           {rect(x-50, y-50, 49.5, 100, "#000000"), "", 21},
		"what begins behind it":         {rect(x+0.5, y-50, 100, 100, "#000000"), "", 21},
		"what ends above it":            {rect(x-50, y-50, 100, 49.5, "#000000"), "", 21},
		"what begins under it":          {rect(x-50, y+0.5, 100, 50, "#000000"), "", 21},
		"a line has no fill":            {fmt.Sprintf(`<path d="M%g %gh10" stroke="#000000" stroke-width="20" fill="none"/>`, x-5, y), "", 21},
		"of two texts the other is not": {`<text x="20" y="60" font-size="24" fill="#767676">Lisk Street Tramway</text>`, "", 21},
	} {
		d, err := artwork.Parse([]byte(`<svg viewBox="0 0 400 100">` + c.before + text + c.after + `</svg>`))
		require.NoError(t, err)
		doc := document.Picture{}
		w, err := doc.Drawn(d)
		require.NoError(t, err)
		all := MeasureDrawing(&doc, d, w).Texts
		require.NotEmpty(t, all, what)
		last := all[len(all)-1]
		assert.InDelta(t, c.ratio, last.Was, 0.03, what)
		assert.InDelta(t, c.ratio, last.Is, 0.03, what)
		assert.Equal(t, "Lisk Street Tramway", last.Text)
	}
	// A short word is measured in its middle; large type is what is at least 24 high.
	for size, large := range map[string]bool{"40": true, "8": false} {
		d, err := artwork.Parse([]byte(`<svg viewBox="0 0 400 100"><text x="20" y="60" font-size="` + size + `" fill="#000000">i</text></svg>`))
		require.NoError(t, err)
		x0, _, x1, _ := d.Box(d.Items[0].Element)
		d, err = artwork.Parse([]byte(`<svg viewBox="0 0 400 100">` + rect((x0+x1)/2-0.2, 0, 0.4, 100, "#767676") + `<text x="20" y="60" font-size="` + size + `" fill="#000000">i</text></svg>`))
		require.NoError(t, err)
		doc := document.Picture{}
		w, err := doc.Drawn(d)
		require.NoError(t, err)
		texts := MeasureDrawing(&doc, d, w).Texts
		require.Len(t, texts, 1)
		assert.InDelta(t, 21/4.54, texts[0].Was, 0.03, size)
		assert.Equal(t, large, texts[0].Large, size)
	}
}
