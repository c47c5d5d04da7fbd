package colour

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestRelativeColoursAsABrowserReadsThem(t *testing.T) {
	b, err := os.ReadFile("testdata/relative.json")
	require.NoError(t, err)
	var file struct {
		List []struct{ Origin, CSS, Is string }
	}
	require.NoError(t, json.Unmarshal(b, &file))
	require.Greater(t, len(file.List), 80)
	for _, c := range file.List {
		if c.Origin == "#808080" && strings.HasSuffix(c.CSS, "0.1 h)") {
			continue // the hue of an exact grey is the browser's rounding
		}
		origin, err := ParseCSS(c.Origin)
		require.NoError(t, err)
		want, err := ParseCSS(c.Is)
		require.NoError(t, err, c.Is)
		got, err := ParseFrom(c.CSS, origin)
		require.NoError(t, err, c.CSS)
		// The browser computes in single precision with matrices of its own digits: the hue of what is hardly coloured differs by a little.
		assert.Less(t, DeltaE00(want, got), 0.3, "%s from %s", c.CSS, c.Origin)
	}
}

func TestWhatARelativeColourIs(t *testing.T) {
	teal, err := ParseCSS("#1d6a72")
	require.NoError(t, err)
	same, err := ParseFrom(" CurrentColor ", teal)
	require.NoError(t, err)
	assert.Equal(t, teal, same)
	plain, err := ParseFrom("lab(41 -21 -9)", teal)
	require.NoError(t, err)
	assert.Equal(t, Lab{41, -21, -9}, plain)
	light, err := ParseFrom("oklch(from currentcolor calc(l * 5) 0 0)", teal)
	require.NoError(t, err)
	assert.InDelta(t, 100, light[0], 1e-3, "past the lightest is the lightest")
	for css, want := range map[string]bool{"currentcolor": true, "oklch(from currentcolor l c h)": true, "oklch( FROM currentcolor l c h)": true, "#fff": false, "": false, "rgb(1 2 3)": false, "from": false} {
		assert.Equal(t, want, Relative(css), css)
	}
}

func TestWrongRelativeColoursSayWhatIsWrong(t *testing.T) {
	for css, says := range map[string]string{
		"rgb(from currentcolor r g b)":                        "oklch, oklab, lch or lab",
		"oklch(from #fff l c h)":                              "after from comes currentcolor",
		"oklch(from currentcolor l c)":                        "three values",
		"oklch(from currentcolor l c h":                       "closing bracket",
		"oklch(from currentcolor l c a)":                      "not a number",
		"oklch(from currentcolor calc(l *) c h)":              "no number, letter or bracket",
		"oklch(from currentcolor calc(l * 2 c h)":             "brackets do not match",
		"oklch(from currentcolor calc(c / 0) c h)":            "divides by nothing",
		"oklch(from currentcolor calc(a + 1) c h)":            "no value for",
		"oklch(from currentcolor calc(l c) c h)":              "no number, letter or bracket",
		"oklch(from currentcolor calc(lc) c h)":               "no value for",
		"oklch(from currentcolor calc(1)calc(1) c h)":         "goes on after its end",
		"oklch(from currentcolor " + strings.Repeat("(", 180): "longer",
	} {
		_, err := ParseFrom(css, Lab{50, 20, 20})
		var wrong *SyntaxError
		require.ErrorAs(t, err, &wrong, css)
		assert.Contains(t, err.Error(), says, css)
	}
	_, err := ParseCSS("currentcolor")
	assert.Error(t, err, "what it is relative to is not known there")
}

func FuzzParseFrom(f *testing.F) {
	for _, s := range []string{"currentcolor", "oklch(from currentcolor calc((l - 0.5) * -.8 + 0.5) calc(c*2) h)", "lab(from currentcolor l a calc(b/a))", "lch(from currentcolor 5% none h)"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		l, err := ParseFrom(s, Lab{40, 0, 0})
		if err != nil {
			return
		}
		for _, v := range l {
			assert.Less(t, v*v, 1e12, s)
		}
	})
}
