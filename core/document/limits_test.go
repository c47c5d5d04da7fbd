package document

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/artwork"
	"episema/core/copies"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/pattern"
	"episema/core/recolour"
)

// Every bound of a document is taken as it is said, and what is just beyond it is refused, with a sentence that says what it is about.
func TestBoundsAreWhereTheyAreSaid(t *testing.T) {
	part := func(change func(p *Part)) func() error {
		p := Part{ID: "a", Name: "A", Settings: recolour.Defaults()}
		change(&p)
		return (&Picture{Parts: []Part{p}}).Validate
	}
	mended := func(n int, m Mend) func() error {
		p := Picture{Parts: []Part{{ID: "a", Name: "A", Settings: recolour.Defaults()}}}
		for range n {
			p.Mends = append(p.Mends, m)
		}
		return p.Validate
	}
	content := func(change func(c *Content)) func() error {
		c := Content{Palette: []Swatch{{ID: "x", Name: "X", CSS: "#123456"}}, Colourways: []Colourway{{ID: "w", Name: "W"}}}
		change(&c)
		return c.Validate
	}
	recipe := func(change func(r *Recipe)) func() error {
		return content(func(c *Content) {
			r := Recipe{ID: "r", Name: "R", Settings: recolour.Defaults()}
			change(&r)
			c.Recipes = []Recipe{r}
		})
	}
	long := func(n int) string { return strings.Repeat("n", n) }
	patch := Mend{Kind: "patch", Patch: &mend.Patch{Nodes: []isolate.Node{{P: [2]float64{0, 0}}, {P: [2]float64{20, 0}}, {P: [2]float64{0, 20}}}, Shift: [2]float64{30, 0}}}
	require.NoError(t, mended(1, patch)())
	named := func(n int) (out []Part) {
		for i := range n {
			out = append(out, Part{ID: fmt.Sprint(i), Name: "A", Settings: recolour.Defaults()})
		}
		return out
	}
	for what, c := range map[string]struct {
		says      string
		good, bad []func() error
	}{
		"parts":  {"at most 500", []func() error{(&Picture{Parts: named(MaxParts)}).Validate}, []func() error{(&Picture{Parts: named(MaxParts + 1)}).Validate}},
		"an id":  {"id is missing or too long", []func() error{part(func(p *Part) { p.ID = long(64) })}, []func() error{part(func(p *Part) { p.ID = long(65) }), part(func(p *Part) { p.ID = "" })}},
		"a name": {"longer than 200", []func() error{part(func(p *Part) { p.Name = long(200) })}, []func() error{part(func(p *Part) { p.Name = long(201) })}},
		"a tolerance": {"tolerance runs from 0 to 100", []func() error{part(func(p *Part) { p.Target.Tolerance = 100 }), part(func(p *Part) { p.Target.Tolerance = 0 })},
			[]func() error{part(func(p *Part) { p.Target.Tolerance = 100.1 }), part(func(p *Part) { p.Target.Tolerance = -0.1 }), part(func(p *Part) { p.Target.Tolerance = math.NaN() })}},
		"a grey card's place": {"outside of the picture",
			[]func() error{(&Picture{Grey: &Grey{At: [2]float64{0, 1e6}}}).Validate, (&Picture{Grey: &Grey{At: [2]float64{1e6, 0}}}).Validate},
			[]func() error{(&Picture{Grey: &Grey{At: [2]float64{-1, 5}}}).Validate, (&Picture{Grey: &Grey{At: [2]float64{5, -1}}}).Validate, (&Picture{Grey: &Grey{At: [2]float64{1e6 + 1, 5}}}).Validate, (&Picture{Grey: &Grey{At: [2]float64{5, 1e6 + 1}}}).Validate}},
		"a grey card's lightness": {"1 to 100", []func() error{(&Picture{Grey: &Grey{Lightness: 1}}).Validate, (&Picture{Grey: &Grey{Lightness: 100}}).Validate, (&Picture{Grey: &Grey{}}).Validate},
			[]func() error{(&Picture{Grey: &Grey{Lightness: 0.9}}).Validate, (&Picture{Grey: &Grey{Lightness: 100.1}}).Validate}},
		"a pattern's colours": {"1 to 4 colours", []func() error{part(patternOf(1)), part(patternOf(4))}, []func() error{part(patternOf(0)), part(patternOf(5))}},
		"members of a family": {"than a drawing can have", nil, []func() error{part(func(p *Part) { p.Family = &Family{Main: "#123456", Members: make([]artwork.Member, 20001)} }), part(func(p *Part) {
			p.Family = &Family{Main: "#123456", Members: []artwork.Member{{Colour: "#123456"}}, Boards: make([]string, 1001)}
		})}},
		"boards of a family": {"", []func() error{part(func(p *Part) {
			p.Family = &Family{Main: "#123456", Members: []artwork.Member{{Colour: "#123456"}}, Boards: make([]string, 1000)}
		})}, nil},
		"a copy of a copy": {"copy of a copy", []func() error{(&Picture{Parts: append(named(1), copied("b", "0"), copied("c", "0"))}).Validate}, []func() error{(&Picture{Parts: append(named(1), copied("b", "0"), copied("c", "b"))}).Validate}},
		"copies":           {"over 50 copies", []func() error{(&Picture{Parts: append(named(1), manyCopies(50)...)}).Validate}, []func() error{(&Picture{Parts: append(named(1), manyCopies(51)...)}).Validate}},
		"mends":            {"over 2000 mends", []func() error{mended(MaxMends, Mend{Kind: "brush"})}, []func() error{mended(MaxMends+1, Mend{Kind: "brush"})}},
		"patches":          {"over 200 patches", []func() error{mended(MaxPatches, patch)}, []func() error{mended(MaxPatches+1, patch)}},
		"a mend's box": {"within a million", []func() error{mended(1, Mend{Kind: "edge", Part: "a", Box: &[4]float64{-1e6, -1e6, 1e6, 1e6}})},
			[]func() error{mended(1, Mend{Kind: "edge", Part: "a", Box: &[4]float64{0, 0, 1, 1e6 + 1}}), mended(1, Mend{Kind: "edge", Part: "a", Box: &[4]float64{-1e6 - 1, 0, 1, 1}}), mended(1, Mend{Kind: "edge", Part: "a", Box: &[4]float64{0, math.NaN(), 1, 1}})}},
		"colours of a palette": {"over 1000 colours", []func() error{content(func(c *Content) { c.Palette = swatches(1000) })}, []func() error{content(func(c *Content) { c.Palette = swatches(1001) })}},
		"a colour's name":      {"empty or too long", []func() error{content(func(c *Content) { c.Palette[0].Name = long(200) })}, []func() error{content(func(c *Content) { c.Palette[0].Name = long(201) }), content(func(c *Content) { c.Palette[0].Name = "\t" })}},
		"a colour's tolerance": {"0 to 100", []func() error{content(func(c *Content) { c.Palette[0].Tolerance = 100 })}, []func() error{content(func(c *Content) { c.Palette[0].Tolerance = 101 }), content(func(c *Content) { c.Palette[0].Tolerance = -1 })}},
		"colourways":           {"over 500 colourways", []func() error{content(func(c *Content) { c.Colourways = ways(500) })}, []func() error{content(func(c *Content) { c.Colourways = ways(501) })}},
		"a colourway's id":     {"missing, too long or used twice", []func() error{content(func(c *Content) { c.Colourways[0].ID = long(64) })}, []func() error{content(func(c *Content) { c.Colourways[0].ID = long(65) })}},
		"a colourway's name":   {"empty or too long", []func() error{content(func(c *Content) { c.Colourways[0].Name = long(200) })}, []func() error{content(func(c *Content) { c.Colourways[0].Name = long(201) })}},
		"a remark":             {"longer than 2000", []func() error{content(func(c *Content) { c.Colourways[0].Remark = long(2000) })}, []func() error{content(func(c *Content) { c.Colourways[0].Remark = long(2001) })}},
		"cells":                {"over 500 cells", []func() error{content(func(c *Content) { c.Colourways[0].Cells = cells(500) })}, []func() error{content(func(c *Content) { c.Colourways[0].Cells = cells(501) })}},
		"a cell's part": {"1 to 200 characters", []func() error{content(func(c *Content) { c.Colourways[0].Cells = map[string]Cell{long(200): {}} })},
			[]func() error{content(func(c *Content) { c.Colourways[0].Cells = map[string]Cell{long(201): {}} }), content(func(c *Content) { c.Colourways[0].Cells = map[string]Cell{" ": {}} })}},
		"a cell's pattern": {"0 to 4 colours", []func() error{content(func(c *Content) { c.Colourways[0].Cells = map[string]Cell{"A": {Pattern: targets(4)}} })}, []func() error{content(func(c *Content) { c.Colourways[0].Cells = map[string]Cell{"A": {Pattern: targets(5)}} })}},
		"an ink profile":   {"bring it in again", []func() error{content(func(c *Content) { c.Inks = &Inks{Profile: strings.Repeat("a", 64), Name: long(200)} })}, []func() error{content(func(c *Content) { c.Inks = &Inks{Profile: strings.Repeat("a", 64), Name: long(201)} }), content(func(c *Content) { c.Inks = &Inks{Profile: "../a"} })}},
		"a recipe's name":  {"empty or too long", []func() error{recipe(func(r *Recipe) { r.Name = long(200) })}, []func() error{recipe(func(r *Recipe) { r.Name = long(201) })}},
		"a recipe's note":  {"longer than 500", []func() error{recipe(func(r *Recipe) { r.Note = long(500) })}, []func() error{recipe(func(r *Recipe) { r.Note = long(501) })}},
		"a recipe's id":    {"missing, too long", []func() error{recipe(func(r *Recipe) { r.ID = long(64) })}, []func() error{recipe(func(r *Recipe) { r.ID = long(65) }), recipe(func(r *Recipe) { r.ID = "" })}},
	} {
		for i, f := range c.good {
			assert.NoError(t, f(), "%s, the last that is taken (%d)", what, i)
		}
		for i, f := range c.bad {
			assert.ErrorContains(t, f(), c.says, "%s, the first that is not (%d)", what, i)
		}
	}
}

func patternOf(n int) func(p *Part) {
	return func(p *Part) {
		p.Pattern = &Pattern{Lay: pattern.Pattern{Tile: "dots", Share: 30, Size: 20, Strength: 100}, Colours: targets(n)}
	}
}

func targets(n int) (out []Target) {
	for range n {
		out = append(out, Target{CSS: "#123456"})
	}
	return out
}

func copied(id, of string) Part {
	return Part{ID: id, Name: "C", Settings: recolour.Defaults(), Copy: &copies.Copy{Of: of}}
}

func manyCopies(n int) (out []Part) {
	for i := range n {
		out = append(out, copied(fmt.Sprint("copy", i), "0"))
	}
	return out
}

func swatches(n int) (out []Swatch) {
	for i := range n {
		out = append(out, Swatch{ID: fmt.Sprint(i), Name: "X", CSS: "#123456"})
	}
	return out
}

func ways(n int) (out []Colourway) {
	for i := range n {
		out = append(out, Colourway{ID: fmt.Sprint(i), Name: "W"})
	}
	return out
}

func cells(n int) map[string]Cell {
	out := map[string]Cell{}
	for i := range n {
		out[fmt.Sprint(i)] = Cell{}
	}
	return out
}
