package document

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/mend"
	"episema/core/raster"
	"episema/core/recolour"
)

func TestAColourwayIsLaidOverAPictureByTheNamesOfItsParts(t *testing.T) {
	deep := recolour.Defaults()
	deep.ShadeDepth = 40
	p := Picture{Parts: []Part{{ID: "1", Name: " Body ", Target: Target{CSS: "red"}, Settings: recolour.Defaults()}, {ID: "2", Name: "Rim", Target: Target{CSS: "blue"}}, {ID: "3", Name: "Handle", Target: Target{CSS: "lime"}}},
		Mends: []Mend{{Kind: "brush"}}}
	w := Colourway{ID: "a", Name: "A", Cells: map[string]Cell{"Body": {Target: Target{CSS: "teal"}, Settings: &deep}, "Rim": {}, "Elsewhere": {Target: Target{CSS: "pink"}}}}
	got := w.In(p)
	assert.Equal(t, "teal", got.Parts[0].Target.CSS)
	assert.EqualValues(t, 40, got.Parts[0].Settings.ShadeDepth, "a cell's own method")
	assert.Empty(t, got.Parts[1].Target.CSS, "left as it is")
	assert.Equal(t, "lime", got.Parts[2].Target.CSS, "no cell: as its picture has it")
	assert.Len(t, got.Mends, 1)
	assert.Equal(t, "red", p.Parts[0].Target.CSS, "the picture's own document stays")
}

func TestTargetsFollowThePalette(t *testing.T) {
	c := Content{Palette: []Swatch{{ID: "x", Name: "X", CSS: "#123456", Tolerance: 3}}, Colourways: []Colourway{{ID: "a", Name: "A", Cells: map[string]Cell{"Body": {Target: Target{CSS: "red", PaletteID: "x"}}}}}}
	p := Picture{Parts: []Part{{Target: Target{CSS: "red", PaletteID: "x", Neutral: true}}, {Target: Target{CSS: "red", PaletteID: "gone", Tolerance: 1}}, {Target: Target{CSS: "red"}}, {Target: Target{PaletteID: "x"}}}}
	before := p.Parts
	c.Resolve(&p)
	assert.Equal(t, Target{CSS: "#123456", PaletteID: "x", Tolerance: 3, Neutral: true}, p.Parts[0].Target)
	assert.Equal(t, Target{CSS: "red", PaletteID: "gone", Tolerance: 1}, p.Parts[1].Target, "a colour that left the palette stays as it was")
	assert.Equal(t, "red", p.Parts[2].Target.CSS)
	assert.Empty(t, p.Parts[3].Target.CSS, "what is left as it is stays so")
	assert.Equal(t, "red", before[0].Target.CSS, "nobody else's document changes")
	c.ResolveCells()
	assert.Equal(t, "#123456", c.Colourways[0].Cells["Body"].Target.CSS)
}

func TestContentThatIsWrongSaysWhere(t *testing.T) {
	for text, want := range map[string]string{
		`{"palette":[],"colourways":[{"id":"","name":"A"}]}`:                                                             "colourway 1",
		`{"palette":[],"colourways":[{"id":"a","name":"A"},{"id":"a","name":"B"}]}`:                                      "used twice",
		`{"palette":[],"colourways":[{"id":"a","name":" "}]}`:                                                            "name is empty",
		`{"palette":[],"colourways":[{"id":"a","name":"A","mark":"liked"}]}`:                                             "chosen nor dropped",
		`{"palette":[],"colourways":[{"id":"a","name":"A","cells":{"Body":{"target":{"css":"#12"}}}}]}`:                  `part "Body"`,
		`{"palette":[],"colourways":[{"id":"a","name":"A","cells":{"Body":{"target":{"tolerance":200}}}}]}`:              "0 to 100",
		`{"palette":[],"colourways":[{"id":"a","name":"A","cells":{"Body":{"target":{},"settings":{"strength":400}}}}]}`: "strength",
		`{"palette":[{"id":"x","name":"X","css":"none"}],"colourways":[]}`:                                               "colour 1",
		`{"pallete":[]}`: "pallete", `[]`: "not the JSON",
	} {
		_, err := ParseContent([]byte(text))
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), want, text)
	}
}

func TestMendsThatAreWrongSayWhere(t *testing.T) {
	stroke := func(s mend.Stroke) Mend { return Mend{Kind: "brush", Strokes: []mend.Stroke{s}} }
	part := Part{ID: "a", Name: "A", Settings: recolour.Defaults()}
	for want, m := range map[string]Mend{
		"not known": {Kind: "glue"}, "not in this picture": {Kind: "edge", Part: "b"}, "radius": stroke(mend.Stroke{Stroke: raster.Stroke{Radius: 0.1}, Strength: 1}),
		"strength": stroke(mend.Stroke{Stroke: raster.Stroke{Radius: 3}, Strength: 2}), "million": stroke(mend.Stroke{Stroke: raster.Stroke{Radius: 3, Points: [][2]float64{{1e9, 0}}}, Strength: 1}),
		"numbers": {Kind: "edge", Part: "a", Box: &[4]float64{0, 0, 1e9, 1}}} {
		p := Picture{Parts: []Part{part}, Mends: []Mend{m}}
		err := p.Validate()
		require.Error(t, err, want)
		assert.Contains(t, err.Error(), want)
		assert.Contains(t, err.Error(), "mend 1")
	}
	part.Cast = &mend.Cast{Amount: 50, Reach: 1}
	p := Picture{Parts: []Part{part}}
	assert.ErrorContains(t, p.Validate(), "reach")
}

func FuzzContent(f *testing.F) {
	f.Add([]byte(`{"palette":[{"id":"x","name":"X","css":"#123456","tolerance":2}],"colourways":[{"id":"a","name":"A","cells":{"Body":{"target":{"css":"red","palette_id":"x"}}}}]}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		c, err := ParseContent(b)
		if err != nil {
			return
		}
		c.ResolveCells()
		again, err := json.Marshal(c)
		require.NoError(t, err)
		_, err = ParseContent(again)
		require.NoError(t, err, "what was taken is taken again: %s", strings.TrimSpace(string(b)))
	})
}

// Parts of one name in several pictures are one row once somebody named them, and never before.
func TestOnlyWhatSomebodyNamedIsOneRow(t *testing.T) {
	way := Colourway{Cells: map[string]Cell{"Body": {Target: Target{CSS: "#111111"}}, "#b": {Target: Target{CSS: "#222222"}}}}
	doc := Picture{Parts: []Part{{ID: "a", Name: " Body "}, {ID: "b", Name: "Body", Unnamed: true}, {ID: "c", Name: "Body", Unnamed: true}}}
	in := way.In(doc)
	assert.Equal(t, []string{"#111111", "#222222", ""}, []string{in.Parts[0].Target.CSS, in.Parts[1].Target.CSS, in.Parts[2].Target.CSS})
}

// Every colour that a document names is read through the job's inks: targets, own colours, those of patterns, and Two-tone's dark one.
func TestEveryColourOfADocumentIsReadThroughTheInks(t *testing.T) {
	two := &recolour.TwoTone{Dark: "cmyk(1 2 3 4)"}
	p := Picture{Parts: []Part{{Target: Target{CSS: "cmyk(1 1 1 1)"}, Own: "cmyk(2 2 2 2)", Pattern: &Pattern{Colours: []Target{{CSS: "cmyk(3 3 3 3)"}}}, Settings: recolour.Settings{TwoTone: two}}}}
	p.Read(func(css string) string { return "read " + css })
	q := p.Parts[0]
	assert.Equal(t, []string{"read cmyk(1 1 1 1)", "read cmyk(2 2 2 2)", "read cmyk(3 3 3 3)", "read cmyk(1 2 3 4)"},
		[]string{q.Target.CSS, q.Own, q.Pattern.Colours[0].CSS, q.Settings.TwoTone.Dark})
	assert.Equal(t, "cmyk(1 2 3 4)", two.Dark, "nobody else's document changes")
}
