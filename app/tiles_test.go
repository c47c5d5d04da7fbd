package app

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"image"
	"image/color"
	"image/png"
	"io"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/document"
	"episema/core/pattern"
	"episema/internal/problem"
)

// A drawing is taken apart into the colours it is painted with, lies on a part as a repeat, and goes with the job into an archive.
func TestADrawingBecomesATile(t *testing.T) {
	s, ctx := withShelf(t), context.Background()
	id := mug(t, s)
	p, err := s.Picture(ctx, id)
	require.NoError(t, err)
	drawing, err := s.TakeFromShelf(ctx, p.Job, "rail-and-lamp")
	require.NoError(t, err)
	tile, err := s.TakeTile(ctx, id, drawing)
	require.NoError(t, err)
	var hex []string
	for _, c := range tile.Colours {
		hex = append(hex, colour.Hex(c))
	}
	assert.ElementsMatch(t, []string{"#1d6a72", "#9c2a1e", "#d9a441", "#20242b"}, hex)
	require.NotNil(t, tile.Ground)
	assert.Equal(t, "#f1ead8", colour.Hex(*tile.Ground))

	assert.Contains(t, tile.Credit, "by Mira Tolland")
	assert.Contains(t, tile.Credit, "free-with-credit")

	doc := teal()
	lay := pattern.Pattern{Tile: pattern.TileDrawn, File: tile.File, Figures: 4, Credit: tile.Credit, Share: 50, Size: 300, Strength: 100}
	q := &document.Pattern{Lay: lay}
	for _, c := range hex {
		q.Colours = append(q.Colours, document.Target{CSS: c})
	}
	plain := view(t, s, p.ID, doc)
	doc.Parts[0].Pattern = q
	laid := view(t, s, p.ID, doc)
	assert.NotEqual(t, plain, laid)
	_, err = s.Edit(ctx, id, p.Revision, "laid", doc)
	require.NoError(t, err)
	// Whoever drew the tile is named in what is delivered, and beside it.
	worker, err := s.Queue(1)
	require.NoError(t, err)
	order, err := s.OrderFiles(ctx, worker, p.Job, Order{Pictures: []uuid.UUID{id}, Colourways: []string{""}, Format: "jpeg", Quality: 92})
	require.NoError(t, err)
	require.NoError(t, s.renderDelivery(ctx, order[0].ID))
	var zipped bytes.Buffer
	require.NoError(t, s.WriteBatch(ctx, *order[0].Batch, &zipped))
	z, err := zip.NewReader(bytes.NewReader(zipped.Bytes()), int64(zipped.Len()))
	require.NoError(t, err)
	require.Len(t, z.File, 2)
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		body, err := io.ReadAll(r)
		require.NoError(t, err)
		assert.Contains(t, string(body), "Rail and lamp, a repeat for cloth, by Mira Tolland", f.Name)
	}

	var b bytes.Buffer
	require.NoError(t, s.WriteArchive(ctx, p.Job, &b))
	there, err := s.ReadArchive(ctx, &b)
	require.NoError(t, err)
	in, err := s.Contents(ctx, there)
	require.NoError(t, err)
	again, err := s.Picture(ctx, in.Pictures[0].ID)
	require.NoError(t, err)
	var stored document.Picture
	require.NoError(t, json.Unmarshal(again.Document, &stored))
	assert.Equal(t, laid, view(t, s, again.ID, stored))

	doc.Parts[0].Pattern.Lay.File = "00" + tile.File[2:]
	_, err = s.Render(ctx, id, View{W: 1800, H: 1200, Width: 300, Height: 200, Show: "picture", Document: &doc})
	var wrong *document.Error
	require.ErrorAs(t, err, &wrong)
	assert.Contains(t, wrong.Problem, "take it from a picture again")
}

func view(t *testing.T, s *Studio, id [16]byte, doc document.Picture) []byte {
	t.Helper()
	pix, err := s.Render(context.Background(), id, View{W: 1800, H: 1200, Width: 450, Height: 300, Show: "picture", Document: &doc})
	require.NoError(t, err)
	return pix
}

// A picture of one colour, and one of another job, make no tile; each says why.
func TestAPictureThatMakesNoTile(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	p, err := s.Picture(ctx, id)
	require.NoError(t, err)
	grey := image.NewRGBA(image.Rect(0, 0, 60, 40))
	for i := range 60 * 40 {
		grey.SetRGBA(i%60, i/60, color.RGBA{90, 90, 90, 255})
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, grey))
	file := b.Bytes()
	even, err := s.AddPicture(ctx, p.Job, "even.png", bytes.NewReader(file))
	require.NoError(t, err)
	var bad *problem.Input
	_, err = s.TakeTile(ctx, id, even)
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "one colour")
	other, err := s.NewJob(ctx, "Other")
	require.NoError(t, err)
	far, err := s.AddPicture(ctx, other, "far.png", bytes.NewReader(file))
	require.NoError(t, err)
	_, err = s.TakeTile(ctx, id, far)
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "another job")
}

// A tile is drawn on the spot, and lies on a part as any other; what cannot be drawn is said.
func TestATileIsDrawnByHand(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	file, figures, err := s.DrawTile(ctx, id, []pattern.Sketched{{Radius: 80, Points: [][2]float64{{0, 200}, {1000, 200}}}, {Figure: 1, Radius: 150, Points: [][2]float64{{500, 700}}}})
	require.NoError(t, err)
	assert.Equal(t, []int{0, 1}, figures)
	doc := teal()
	plain := view(t, s, id, doc)
	doc.Parts[0].Pattern = &document.Pattern{Lay: pattern.Pattern{Tile: pattern.TileDrawn, File: file, Figures: 2, Share: 50, Size: 200, Strength: 100},
		Colours: []document.Target{{CSS: "#f2ece0"}, {CSS: "#d9a441"}}}
	assert.NotEqual(t, plain, view(t, s, id, doc))
	p, err := s.Picture(ctx, id)
	require.NoError(t, err)
	_, err = s.Edit(ctx, id, p.Revision, "laid", doc)
	require.NoError(t, err, "the picture has the tile's file")

	var in *problem.Input
	_, _, err = s.DrawTile(ctx, id, nil)
	require.ErrorAs(t, err, &in)
	assert.Contains(t, err.Error(), "drag over it")
	stopped, stop := context.WithCancel(ctx)
	stop()
	_, _, err = s.DrawTile(stopped, id, []pattern.Sketched{{Radius: 80, Points: [][2]float64{{0, 200}}}})
	assert.Error(t, err)
}
