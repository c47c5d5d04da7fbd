package app

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"os"
	"sync"
	"testing"

	"github.com/google/uuid"
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

// A picture that nothing changes is shown as its file has it, pixel by pixel, and reduced as beside a part that lies elsewhere.
func TestAPictureThatNothingChangesIsShownAsItCame(t *testing.T) {
	s, ctx := studio(t), t.Context()
	id := mug(t, s)
	f, err := os.Open("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	defer f.Close()
	file, err := png.Decode(f)
	require.NoError(t, err)
	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)

	deep := image.NewNRGBA64(image.Rect(0, 0, 300, 200))
	for y := range 200 {
		for x := range 300 {
			deep.Set(x, y, file.At(700+x, 500+y))
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, deep))
	sixteen, err := s.AddPicture(ctx, pic.Job, "deep.png", &b)
	require.NoError(t, err)

	none := document.Picture{}
	for _, c := range []struct {
		id   uuid.UUID
		file image.Image
		x, y int
	}{{id, file, 700, 500}, {id, file, 0, 0}, {id, file, 1500, 1000}, {sixteen, deep, 0, 0}} {
		for _, v := range []View{{Show: "before"}, {Show: "picture", Document: &none}} {
			v.X, v.Y, v.W, v.H, v.Width, v.Height = float64(c.x), float64(c.y), 300, 200, 300, 200
			pix, err := s.Render(ctx, c.id, v)
			require.NoError(t, err)
			for i := 0; i < len(pix); i += 4 {
				r, g, b, _ := c.file.At(c.x+i/4%300, c.y+i/4/300).RGBA()
				require.Equal(t, []byte{byte(r >> 8), byte(g >> 8), byte(b >> 8), 255}, pix[i:i+4])
			}
			v.Width, v.Height = 600, 400 // enlarged, each is repeated
			twice, err := s.Render(ctx, c.id, v)
			require.NoError(t, err)
			for i := 0; i < len(twice); i += 4 {
				at := 4 * (i/4/600/2*300 + i/4%600/2)
				require.Equal(t, pix[at:at+4], twice[i:i+4])
			}
		}
	}

	// The corner has nothing of the mug.
	teal := teal()
	for _, step := range []float64{1, 1.7, 2, 3.3} {
		v := View{X: 3 * step, Y: 5 * step, W: 60 * step, H: 40 * step, Width: 60, Height: 40, Show: "picture", Document: &teal}
		touched, err := s.Render(ctx, id, v)
		require.NoError(t, err)
		v.Document = &none
		bare, err := s.Render(ctx, id, v)
		require.NoError(t, err)
		assert.Equal(t, touched, bare, "%v pixels a pixel", step)
	}
}

// Views that are asked for at once are what each is by itself, though what they are painted in is used again and again.
func TestViewsAtOnceAreWhatEachIsAlone(t *testing.T) {
	s, ctx := studio(t), t.Context()
	id := mug(t, s)
	view := func(n int) []byte {
		doc := teal()
		doc.Parts[0].Target.CSS = []string{"#1d6a72", "#a3162a", "#f4f4f0", "#1b1b1f"}[n%4]
		v := View{X: 600, Y: 500, W: 300, H: 220, Width: 300, Height: 220, Show: "picture", Document: &doc}
		if n%3 == 0 {
			v.W, v.H, v.Width, v.Height = 240, 160, 240, 160
		}
		pix, err := s.Render(ctx, id, v)
		assert.NoError(t, err)
		return pix
	}
	var alone [12][]byte
	for n := range alone {
		alone[n] = view(n)
	}
	var all sync.WaitGroup
	for hand := range 4 {
		all.Go(func() {
			for n := range 3 * len(alone) {
				if k := (n + 5*hand) % len(alone); !bytes.Equal(alone[k], view(k)) {
					t.Errorf("view %d is another beside others", k)
				}
			}
		})
	}
	all.Wait()
}
