package document

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/recolour"
)

func TestARecipeFileIsReadAgain(t *testing.T) {
	s := recolour.Defaults()
	s.Method, s.Turn, s.Finish = "turn-hue", &recolour.Turn{Hue: 12}, recolour.NewFinish()
	list := []Recipe{{ID: "x", Name: "Warmer", Note: "for brass", Target: Target{CSS: "oklch(from currentcolor l c calc(h + 9))", Tolerance: 3}, Settings: s, Cast: &mend.Cast{Amount: 20, Reach: 90}},
		{ID: "y", Name: "Grey", Target: Target{CSS: "#808080"}, Settings: recolour.Defaults()}}
	b, err := WriteRecipes(list)
	require.NoError(t, err)
	back, err := ParseRecipes(b)
	require.NoError(t, err)
	list[0].ID, list[1].ID = "", ""
	assert.Equal(t, list, back)

	short, err := ParseRecipes([]byte(`{"recipes":[{"name":"Grey","target":{"css":"#808080"},"settings":{"strength":50}}]}`))
	require.NoError(t, err)
	want := recolour.Defaults()
	want.Strength = 50
	assert.Equal(t, want, short[0].Settings, "what a file leaves out is what changes nothing")
}

func TestAWrongRecipeSaysWhere(t *testing.T) {
	for text, says := range map[string]string{
		`{}`:               "has none",
		`[]`:               "not a file of recipes",
		`{"recipes":[{}]}`: "name is empty",
		`{"recipes":[{"name":"a","target":{"css":"#12"},"settings":{}}]}`:                                                                                 `recipe "a": "#12" is not a colour`,
		`{"recipes":[{"name":"a","target":{},"settings":{"strenght":3}}]}`:                                                                                `unknown field "strenght"`,
		`{"recipes":[{"name":"a","target":{},"settings":{"strength":300}}]}`:                                                                              `recipe "a": strength`,
		`{"recipes":[{"name":"a","target":{"palette_id":"p"},"settings":{}}]}`:                                                                            "palette",
		`{"recipes":[{"name":"a","target":{},"settings":{},"cast":{"amount":-5,"reach":3}}]}`:                                                             `recipe "a"`,
		`{"recipes":[{"name":"a","target":{},"settings":{"rebuild":{"amount":1,"light":0,"slope":0,"grain":0,"away":[{"radius":3,"points":[[1,1]]}]}}}]}`: "strokes",
		`{"recipes":[{"name":"a","note":"` + strings.Repeat("n", 501) + `","target":{},"settings":{}}]}`:                                                  "note is longer",
	} {
		_, err := ParseRecipes([]byte(text))
		var wrong *Error
		require.ErrorAs(t, err, &wrong, text)
		assert.Contains(t, err.Error(), says, text)
	}
	_, err := ParseRecipes(make([]byte, MaxRecipeFile+1))
	assert.ErrorContains(t, err, "over 4 MB")

	ok := Recipe{ID: "a", Name: "a", Settings: recolour.Defaults()}
	content := Content{Recipes: []Recipe{ok, ok}}
	assert.ErrorContains(t, content.Validate(), "used twice")
	content.Recipes = []Recipe{{Name: "no id", Settings: recolour.Defaults()}}
	assert.ErrorContains(t, content.Validate(), "id is missing")
}

func TestARecipeLeavesWhatIsThePartsOwn(t *testing.T) {
	p := Part{ID: "scarf", Name: "Scarf", Own: "#222", Match: &[2]float64{3, 4}, Picks: []isolate.Pick{{Kind: "subject", Join: "add"}}, Cast: &mend.Cast{Amount: 3, Reach: 4}, Target: Target{CSS: "#fff", PaletteID: "p"}}
	r := ShippedRecipes()[0]
	q := r.On(p)
	assert.Equal(t, r.Target, q.Target)
	assert.Equal(t, r.Settings, q.Settings)
	assert.Nil(t, q.Cast)
	q.Target, q.Settings, q.Cast = p.Target, p.Settings, p.Cast
	assert.Equal(t, p, q)
}

func FuzzParseRecipes(f *testing.F) {
	f.Add(string(shipped))
	f.Add(`{"recipes":[{"name":"a","target":{"css":"lch(from currentcolor l c h)"},"settings":{"finish":{}}}]}`)
	f.Fuzz(func(t *testing.T, s string) {
		list, err := ParseRecipes([]byte(s))
		if err != nil {
			return
		}
		b, err := WriteRecipes(list)
		require.NoError(t, err)
		back, err := ParseRecipes(b)
		require.NoError(t, err, "what was read can be written and read again")
		assert.Len(t, back, len(list))
	})
}
