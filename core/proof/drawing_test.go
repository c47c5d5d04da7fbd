package proof

import (
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
