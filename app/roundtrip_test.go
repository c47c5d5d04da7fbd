package app

import (
	"bytes"
	"context"
	"encoding/hex"
	"encoding/json"
	"image"
	"image/color"
	"image/png"
	"os"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/core/raster"
	"episema/internal/everyfield"
)

func greyPNG(t *testing.T, m *raster.Mask) *bytes.Reader {
	t.Helper()
	img := image.NewGray16(image.Rect(0, 0, m.W, m.H))
	for i, v := range m.Pix {
		img.SetGray16(i%m.W, i/m.W, color.Gray16{Y: v})
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, img))
	return bytes.NewReader(b.Bytes())
}

// Every field of every document of a job comes through the database, the history, an archive and another installation as
// it was; so does all that the job holds besides.
func TestEveryFieldComesThroughTheDatabaseAndAnArchive(t *testing.T) {
	s, ctx := studio(t), context.Background()
	j, err := s.Store.CreateJob(ctx, "Every field", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	profile, err := os.ReadFile("/usr/share/color/icc/ghostscript/default_cmyk.icc")
	require.NoError(t, err)
	job, err := s.SetInks(ctx, j, 1, "press.icc", bytes.NewReader(profile))
	require.NoError(t, err)
	var content document.Content
	require.NoError(t, json.Unmarshal(job.Content, &content))
	content = everyfield.Content(content.Inks.Profile)
	_, err = s.EditJob(ctx, j, job.Revision, "all of it", content)
	require.NoError(t, err)

	scene := everyfield.Scene()
	photo := func(gain float32) *bytes.Buffer {
		img := image.NewRGBA(image.Rect(0, 0, scene.W, scene.H))
		for i := range scene.W * scene.H {
			v := func(c int) uint8 { return uint8(255 * gain * scene.Pix[3*i+c]) }
			img.SetRGBA(i%scene.W, i/scene.W, color.RGBA{v(0), v(1), v(2), 255})
		}
		var b bytes.Buffer
		require.NoError(t, png.Encode(&b, img))
		return &b
	}
	first, err := s.AddPicture(ctx, j, "scene.png", photo(1))
	require.NoError(t, err)
	shot, err := s.SetDepth(ctx, first, greyPNG(t, everyfield.Near()))
	require.NoError(t, err)
	// The same photo once for each field.
	var docs []document.Picture
	var ids []uuid.UUID
	stored, err := s.AddMask(ctx, first, "left third.png", greyPNG(t, everyfield.Stored()))
	require.NoError(t, err)
	for n, m := range everyfield.Moves(stored) {
		id := first
		if n > 0 {
			p := shot
			p.Name, p.Document = m.Field, []byte(`{"parts":[]}`)
			id, err = s.Store.AddPicture(ctx, p)
			require.NoError(t, err)
		}
		doc := m.After()
		if len(doc.MaskFiles()) > 0 {
			_, err := s.AddMask(ctx, id, "left third.png", greyPNG(t, everyfield.Stored()))
			require.NoError(t, err)
		}
		p, err := s.Store.Picture(ctx, id)
		require.NoError(t, err)
		_, err = s.Edit(ctx, id, p.Revision, "one field", doc)
		require.NoError(t, err, m.Field)
		_, err = s.Store.Move(ctx, id, -1)
		require.NoError(t, err)
		_, err = s.Store.Move(ctx, id, 1)
		require.NoError(t, err)
		if doc.Parts == nil {
			doc.Parts = []document.Part{} // a list is never null
		}
		docs, ids = append(docs, doc), append(ids, id)
	}
	darker, err := s.AddPicture(ctx, j, "in the evening.png", photo(0.5)) // and another photo, without a depth map
	require.NoError(t, err)
	docs, ids = append(docs, document.Picture{Parts: []document.Part{}}), append(ids, darker)

	var b bytes.Buffer
	require.NoError(t, s.WriteArchive(ctx, j, &b))
	other := studio(t)
	there, err := other.ReadArchive(ctx, bytes.NewReader(b.Bytes()))
	require.NoError(t, err)
	pics, err := other.Store.Pictures(ctx, there)
	require.NoError(t, err)
	require.Len(t, pics, len(docs))
	for n := range pics {
		p, err := other.Store.Picture(ctx, pics[n].ID)
		require.NoError(t, err)
		was, err := s.Store.Picture(ctx, ids[n])
		require.NoError(t, err)
		for where, stored := range map[string][]byte{"the database": was.Document, "the archive": p.Document} {
			got, err := document.Parse(stored)
			require.NoError(t, err)
			assert.Equal(t, docs[n], got, "%s, after %s", was.Name, where)
		}
		assert.Equal(t, was.Name, p.Name)
		assert.Equal(t, was.SHA, p.SHA)
		assert.Equal(t, was.Depth, p.Depth)
		assert.Equal(t, ids[n] != darker, len(p.Depth) > 0)
		for _, file := range docs[n].MaskFiles() {
			sha, err := hex.DecodeString(file)
			require.NoError(t, err)
			m, err := other.storedMask(ctx, sha)
			require.NoError(t, err)
			assert.Equal(t, everyfield.Stored(), m)
		}
	}
	again, err := other.Store.Job(ctx, there)
	require.NoError(t, err)
	got, err := document.ParseContent(again.Content)
	require.NoError(t, err)
	assert.Equal(t, content, got)
	for _, way := range []string{"", "one"} {
		was, err := s.Cover(ctx, ids[0], 200, way, false)
		require.NoError(t, err)
		is, err := other.Cover(ctx, pics[0].ID, 200, way, false)
		require.NoError(t, err)
		assert.Equal(t, was, is, "colourway %q", way)
	}
}
