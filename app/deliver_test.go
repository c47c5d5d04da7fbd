package app

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/hex"
	"io"
	"os"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/rivertype"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/app/export"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/recolour"
	"episema/internal/problem"
	"episema/store"
)

func TestNothingThatChangedOutsideIsDelivered(t *testing.T) {
	require.NoError(t, export.Totals{Inside: 9}.Deliverable())
	assert.ErrorContains(t, export.Totals{Inside: 9, ChangedOutside: 1}.Deliverable(), "1 pixels outside every part")
}

// An archive has the masks that were brought in, and a file that is not what its name says is not taken.
func TestAnArchiveHasItsMasksAndIsWhatItSays(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	f, err := os.Open("../demo/truth/mug-mask.png")
	require.NoError(t, err)
	sha, err := s.AddMask(ctx, id, "body.png", f)
	f.Close()
	require.NoError(t, err)
	p, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	doc := document.Picture{Parts: []document.Part{{ID: "a", Name: "Body", Picks: []isolate.Pick{{Kind: "mask", Join: "add", File: sha}}, Target: document.Target{CSS: "#1d6a72"}, Settings: recolour.Defaults()}}}
	_, err = s.Edit(ctx, id, p.Revision, "a mask", doc)
	require.NoError(t, err)
	was, err := s.Cover(ctx, id, 240, "", false)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, s.WriteArchive(ctx, p.Job, &b))
	other := studio(t)
	job, err := other.ReadArchive(ctx, bytes.NewReader(b.Bytes()))
	require.NoError(t, err)
	pics, err := other.Store.Pictures(ctx, job)
	require.NoError(t, err)
	is, err := other.Cover(ctx, pics[0].ID, 240, "", false)
	require.NoError(t, err)
	assert.Equal(t, was, is)
	masks, err := other.Store.MasksOf(ctx, pics[0].ID)
	require.NoError(t, err)
	require.Len(t, masks, 1)
	assert.Equal(t, "Body", masks[0].Name)

	// The same archive with another picture under a file's name, its own checksums right.
	in, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	require.NoError(t, err)
	for name, swap := range map[string]string{"the picture": hex.EncodeToString(p.SHA), "the mask": sha} {
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		swapped := 0
		for _, e := range in.File {
			r, err := e.Open()
			require.NoError(t, err)
			body, err := io.ReadAll(r)
			require.NoError(t, err)
			if strings.Contains(e.Name, swap) {
				swapped++
				other, err := os.ReadFile("../demo/truth/mug-depth.png")
				require.NoError(t, err)
				body = other
			}
			w, err := z.CreateHeader(&zip.FileHeader{Name: e.Name, Method: e.Method})
			require.NoError(t, err)
			_, err = w.Write(body)
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		require.Equal(t, 1, swapped, name)
		_, err := other.ReadArchive(ctx, bytes.NewReader(out.Bytes()))
		var bad *problem.Input
		require.ErrorAs(t, err, &bad, name)
		assert.Contains(t, err.Error(), "damaged", name)
	}
}

// A delivery that cannot be made says so, one that is not wanted is not made, and files are numbered from one.
func TestDeliveriesThatFailOrAreNotWanted(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	p, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	queue, err := s.Queue(0)
	require.NoError(t, err)
	order := func() []store.Delivery {
		list, err := s.OrderFiles(ctx, queue, p.Job, Order{Pictures: []uuid.UUID{id}, Colourways: []string{""}, Format: "png", Quality: 92, Pattern: "{number} {picture}"})
		require.NoError(t, err)
		return list
	}
	list := order()
	assert.True(t, strings.HasPrefix(list[0].Name, "001 "), list[0].Name)
	require.NoError(t, s.Store.Cancel(ctx, list[0].ID))
	assert.ErrorIs(t, s.renderDelivery(ctx, list[0].ID), errCancelled, "it ends at the first step")

	list = order()
	_, err = s.Store.Pool.Exec(ctx, `UPDATE deliveries SET document = '{"parts":[{"id":"a","name":"A","picks":[{"kind":"mask","join":"add","file":"0000000000000000000000000000000000000000000000000000000000000000"}],"target":{"css":"#1d6a72"},"settings":{"highlights":100,"strength":100}}]}' WHERE id = $1`, list[0].ID)
	require.NoError(t, err)
	w := &deliverWorker{studio: s}
	_ = w.Work(ctx, &river.Job[deliverArgs]{JobRow: &rivertype.JobRow{Attempt: 1, MaxAttempts: 1}, Args: deliverArgs{Delivery: list[0].ID}})
	d, err := s.Store.Delivery(ctx, list[0].ID)
	require.NoError(t, err)
	assert.Equal(t, "failed", d.State)
	assert.NotEmpty(t, d.Problem, "and why")
}
