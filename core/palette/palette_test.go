package palette

import (
	"encoding/json"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

func hexes(t *testing.T, list []Entry) map[string]string {
	t.Helper()
	out := map[string]string{}
	for _, e := range list {
		l, err := colour.ParseCSS(e.CSS)
		require.NoError(t, err)
		out[e.Name] = colour.Hex(l)
	}
	return out
}

// The examples of the Design Tokens modules (Format and Color, W3C Design Tokens Community Group), given from memory: a
// colour object, a type inherited from the group, an alias, and the string of older files.
func TestDesignTokensAsTheirSpecificationShowsThem(t *testing.T) {
	list, err := Read("", []byte(`{
  "Hot pink": {
    "$type": "color",
    "$value": { "colorSpace": "srgb", "components": [1, 0, 1], "alpha": 1, "hex": "#ff00ff" }
  },
  "brand": {
    "$type": "color",
    "acid green": { "$value": "#00ff66" },
    "none hue": { "$value": { "colorSpace": "oklch", "components": [0.5, 0, "none"] } }
  },
  "button-fill": { "$type": "color", "$value": "{brand.acid green}" },
  "spacing": { "$type": "dimension", "$value": { "value": 4, "unit": "px" } }
}`))
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"Hot pink": "#ff00ff", "brand acid green": "#00ff66", "brand none hue": "#636363", "button-fill": "#00ff66"}, hexes(t, list))
	assert.Equal(t, "Hot pink", list[0].Name, "in the order of the file")
}

func TestCustomPropertiesAreReadWithTheirReferences(t *testing.T) {
	// The form of CSS Custom Properties for Cascading Variables 1, its first example.
	list, err := Read("", []byte(":root {\n  --main-color: #06c;\n  --accent-color: #006;\n  --also: var(--main-color);\n  --gap: 4px;\n  /* --old: #fff; */\n}\n"))
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"main color": "#0066cc", "accent color": "#000066", "also": "#0066cc"}, hexes(t, list))
	// References in a circle are of no colour (section 2.3); the others are read.
	list, err = Read("css", []byte(":root { --a: var(--b); --b: var(--a); --c: #123456; }"))
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"c": "#123456"}, hexes(t, list))
}

func TestWhatIsWrittenIsReadBack(t *testing.T) {
	list := []Entry{{"Harbour teal", "#1d6a72", 2}, {"Slate, \"blue\"", "lab(36 -4 -27)", 3}, {"Äther {1}", "oklch(0.7 0.1 200)", 0}, {"Äther {1}", "#123456", 0}}
	for _, format := range Formats {
		b, err := Write(format, list)
		require.NoError(t, err)
		back, err := Read(format, b)
		require.NoError(t, err, "%s: %s", format, b)
		require.Len(t, back, len(list), "%s: %s", format, b)
		for i := range list {
			was, err := colour.ParseCSS(list[i].CSS)
			require.NoError(t, err)
			is, err := colour.ParseCSS(back[i].CSS)
			require.NoError(t, err)
			assert.Less(t, colour.DeltaE00(was, is), 0.01, "%s %d", format, i)
			assert.InDelta(t, list[i].Tolerance, back[i].Tolerance, 1e-9, "%s %d", format, i)
		}
		guessed, err := Read("", b)
		require.NoError(t, err)
		assert.Equal(t, back, guessed, "the format is told from the text")
	}
}

func TestWrongFilesSayWhereAndNothingIsTaken(t *testing.T) {
	for text, want := range map[string]string{
		"{\n  \"a\": {\n": "line 2", "{\"a\": {\"$type\": \"color\", \"$value\": \"{b}\"}}": "which is not there",
		"{\n \"a\": {\"$type\": \"color\",\n \"$value\": \"#12\"}}": "line 2", "name,colour\nTeal,#1d6a72\nRed,#12\n": "line 3",
		":root {\n --a: #fff;\n --b: rgb(1 2);\n}": "line 3", "one,two\n1,2": "line 1", "name,colour,tolerance\na,#fff,200": "line 2", "": "line 1", ":root { --gap: 4px; }": "no colour"} {
		list, err := Read("", []byte(text))
		require.Error(t, err, "%q", text)
		assert.Contains(t, err.Error(), want, "%q", text)
		assert.Empty(t, list)
	}
}

func TestNamesInTokenFilesAreOnesThatTokensMayHave(t *testing.T) {
	list := []Entry{{"$tram", "#fff", 0}, {"a.b{c}", "#fff", 0}, {"a.b{c}", "#000", 0}, {"a.b{c}", "#00f", 0}, {"$", "lab(36.12345 -4.00006 -27)", 0}}
	b, err := Write("tokens", list)
	require.NoError(t, err)
	var tokens map[string]any
	require.NoError(t, json.Unmarshal(b, &tokens))
	var names []string
	for n := range tokens {
		names = append(names, n)
	}
	assert.ElementsMatch(t, []string{"$type", "tram", "a-b-c-", "a-b-c--2", "a-b-c--3", "colour"}, names)
	assert.Equal(t, []any{36.1235, -4.0001, -27.0}, tokens["colour"].(map[string]any)["$value"].(map[string]any)["components"], "rounded to four places")
	back, err := Read("tokens", b)
	require.NoError(t, err)
	for i := range list {
		assert.Equal(t, list[i].Name, back[i].Name, "and what they are called is kept")
	}
}

func TestAliasesMayPointToAliasesButNotInCircles(t *testing.T) {
	list, err := Read("tokens", []byte(`{"a":{"$type":"color","$value":"#123456"},"b":{"$value":"{a}"},"c":{"$value":"{b}"}}`))
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"a": "#123456", "b": "#123456", "c": "#123456"}, hexes(t, list))
	_, err = Read("tokens", []byte(`{"a":{"$type":"color","$value":"{b}"},"b":{"$value":"{a}"}}`))
	require.ErrorContains(t, err, "which is not there")
}

func TestColumnsOfATableMayStandAnyhow(t *testing.T) {
	list, err := Read("csv", []byte("tolerance,hex,name\n2,#102030,One\n,#405060,Two\n"))
	require.NoError(t, err)
	assert.Equal(t, []Entry{{"One", "#102030", 2}, {"Two", "#405060", 0}}, list)
	for text, want := range map[string]string{"colour\n#fff\n": "names no columns", "name\nA\n": "names no columns", "name,colour\n,#fff\n": "the name is missing"} {
		_, err := Read("csv", []byte(text))
		require.ErrorContains(t, err, want, text)
	}
}

func FuzzPaletteFiles(f *testing.F) {
	f.Add([]byte(`{"a":{"$type":"color","$value":{"colorSpace":"lab","components":[1,2,3]}}}`))
	f.Add([]byte(":root{--a:#fff;/* tolerance 2 */}"))
	f.Add([]byte("name;colour\na;red"))
	f.Fuzz(func(t *testing.T, b []byte) {
		list, err := Read("", b)
		if err != nil {
			return
		}
		for _, e := range list {
			_, err := colour.ParseCSS(e.CSS)
			require.NoError(t, err)
		}
	})
}

func TestColoursOfAPictureAreItsLargest(t *testing.T) {
	p := raster.NewRGB(100, 100)
	for i := range 10000 {
		c := [3]float32{0.5, 0.1, 0.1}
		if i > 6000 {
			c = [3]float32{0.05, 0.2, 0.4}
		}
		if i > 9000 {
			c = [3]float32{0.8, 0.8, 0.8}
		}
		copy(p.Pix[3*i:], c[:])
	}
	got := OfPicture(colour.SRGB, p, 3)
	require.Len(t, got, 3)
	for i, share := range []float64{0.6, 0.3, 0.1} {
		assert.InDelta(t, share, got[i].Share, 0.01)
	}
	assert.Less(t, colour.DeltaE00(got[1].Lab, colour.SRGB.Lab(colour.RGB{0.05, 0.2, 0.4})), 0.5)
	assert.Len(t, OfPicture(colour.SRGB, p, 8), 3, "no more than there are")
}

// Each colour is the mean of what is like it, not the one that lies farthest out, from which the search begins.
func TestAColourTakenIsTheMeanOfItsOwn(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	p := raster.NewRGB(120, 100)
	centres := []colour.Oklab{{0.35, 0.02, -0.08}, {0.6, 0.12, 0.06}, {0.8, -0.05, 0.1}}
	for i := range 12000 {
		o := centres[i%3]
		for c := range o {
			o[c] += 0.012 * r.NormFloat64()
		}
		for c, v := range colour.SRGB.FromOklab(o) {
			p.Pix[3*i+c] = float32(v)
		}
	}
	got := OfPicture(colour.SRGB, p, 3)
	require.Len(t, got, 3)
	for _, want := range centres {
		near := 1e9
		for _, g := range got {
			assert.InDelta(t, 1.0/3, g.Share, 0.01)
			near = min(near, colour.DeltaE00(g.Lab, colour.SRGB.Lab(colour.SRGB.FromOklab(want))))
		}
		assert.Less(t, near, 0.3)
	}
}
