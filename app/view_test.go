package app

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/internal/memo"
)

func TestALookIsOfThePictureAsItStands(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	look := func(size int, way string) string {
		b, form, err := s.QuickCover(ctx, id, size, way)
		require.NoError(t, err)
		assert.Equal(t, SentJPEG, form)
		return string(b)
	}
	first := look(200, "")
	assert.Equal(t, first, look(200, ""))
	assert.NotEqual(t, first, look(120, ""))

	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	doc := teal()
	doc.Parts[0].Target = document.Target{CSS: "#204080", PaletteID: "p", Tolerance: 2}
	_, err = s.Edit(ctx, id, pic.Revision, "blue", doc)
	require.NoError(t, err)
	blue := look(200, "")
	assert.NotEqual(t, first, blue, "its document is another")

	red := document.Content{Palette: []document.Swatch{{ID: "p", Name: "P", CSS: "#b03a2e", Tolerance: 2}},
		Colourways: []document.Colourway{{ID: "w", Name: "W", Cells: map[string]document.Cell{"Mug body": {Target: document.Target{CSS: "#d9a441"}}}}}}
	j, err := s.EditJob(ctx, pic.Job, 1, "a palette", red)
	require.NoError(t, err)
	inPalette := look(200, "")
	assert.NotEqual(t, blue, inPalette, "the palette's colour is another")
	yellow := look(200, "w")
	assert.NotEqual(t, inPalette, yellow)
	red.Colourways[0].Cells["Mug body"] = document.Cell{Target: document.Target{CSS: "#20242b"}}
	_, err = s.EditJob(ctx, pic.Job, j.Revision, "another cell", red)
	require.NoError(t, err)
	assert.NotEqual(t, yellow, look(200, "w"), "the colourway is another")
	assert.Equal(t, inPalette, look(200, ""))
}

// What a view is made of is kept where somebody has the picture open, and not of covers and what is delivered: those come once.
func TestWhatAStageShowsAgainIsKept(t *testing.T) {
	s, ctx := studio(t), t.Context()
	id := mug(t, s)
	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	kept := func() bool {
		_, ok := memo.Look[any](s.memory, "part|"+string(pic.SHA)+"|last sights")
		return ok
	}
	doc := teal()
	for _, stage := range []bool{false, true} {
		for _, css := range []string{"#1d6a72", "#a3162a", "#f4f4f0"} {
			doc.Parts[0].Target.CSS = css
			_, err := s.Render(ctx, id, View{X: 500, Y: 400, W: 300, H: 200, Width: 300, Height: 200, Show: "picture", Stage: stage, Document: &doc})
			require.NoError(t, err)
		}
		assert.Equal(t, stage, kept())
	}
}
