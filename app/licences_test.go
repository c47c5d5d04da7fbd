package app

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/app/pictureshelf"
	"episema/internal/problem"
	"episema/standin/shelf"
)

func withShelf(t *testing.T) *Studio {
	t.Helper()
	lent, err := shelf.Open("../demo")
	require.NoError(t, err)
	server := httptest.NewServer(lent.Handler())
	t.Cleanup(server.Close)
	s := studio(t)
	s.Shelf = pictureshelf.Shelf(server.URL)
	return s
}

// A picture from the shelf keeps where it is from and its licence: in the job, in what is delivered, in the zip's credits and in an
// archive that is opened again.
func TestAPictureFromTheShelfKeepsItsLicence(t *testing.T) {
	s, ctx := withShelf(t), context.Background()
	name, all, err := s.Shelf.List(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, shelf.Name, name)
	assert.GreaterOrEqual(t, len(all), 12)
	_, list, err := s.Shelf.List(ctx, "FLOWER pink")
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "dahlia", list[0].Origin.Item)
	for _, i := range all {
		b, err := s.Shelf.Preview(ctx, i.Origin.Item)
		require.NoError(t, err)
		assert.NotEmpty(t, b)
	}

	job, err := s.NewJob(ctx, "Signal garden")
	require.NoError(t, err)
	var ids []uuid.UUID
	for _, item := range []string{"dahlia", "signal-wheel"} {
		id, err := s.TakeFromShelf(ctx, job, item)
		require.NoError(t, err, item)
		ids = append(ids, id)
	}
	p, err := s.Picture(ctx, ids[0])
	require.NoError(t, err)
	o, err := OriginOf(p)
	require.NoError(t, err)
	assert.Equal(t, list[0].Origin, *o)

	worker, err := s.Queue(2)
	require.NoError(t, err)
	order, err := s.OrderFiles(ctx, worker, job, Order{Pictures: ids, Colourways: []string{""}, Format: "jpeg", Quality: 92})
	require.NoError(t, err)
	require.NoError(t, worker.Start(ctx))
	defer func() { require.NoError(t, worker.StopAndCancel(ctx)) }()
	require.Eventually(t, func() bool {
		done, err := s.Store.BatchFiles(ctx, *order[0].Batch)
		return err == nil && len(done) == 2
	}, 60*time.Second, 50*time.Millisecond)
	var b bytes.Buffer
	require.NoError(t, s.WriteBatch(ctx, *order[0].Batch, &b))
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	require.NoError(t, err)
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		body, err := io.ReadAll(r)
		require.NoError(t, err)
		if f.Name == creditsFile {
			for _, want := range []string{order[0].Name, order[1].Name, "Mira Tolland", "Osk Venner", "Free with credit", "No resale", "https://licences.example/roundhouse/free-with-credit"} {
				assert.Contains(t, string(body), want)
			}
			continue
		}
		path := filepath.Join(t.TempDir(), f.Name)
		require.NoError(t, os.WriteFile(path, body, 0o644))
		out, err := exec.Command("exiftool", "-json", path).CombinedOutput()
		require.NoError(t, err, string(out))
		var m []map[string]any
		require.NoError(t, json.Unmarshal(out, &m))
		author := map[bool]string{true: "Mira Tolland", false: "Osk Venner"}[strings.HasPrefix(f.Name, "Dahlia")]
		assert.Equal(t, author, m[0]["Creator"], f.Name)
		assert.Contains(t, m[0]["Rights"], author, f.Name)
	}
	assert.Len(t, z.File, 3)

	var a bytes.Buffer
	require.NoError(t, s.WriteArchive(ctx, job, &a))
	again, err := s.ReadArchive(ctx, &a)
	require.NoError(t, err)
	in, err := s.Contents(ctx, again)
	require.NoError(t, err)
	require.Len(t, in.Pictures, 2)
	o, err = OriginOf(in.Pictures[0])
	require.NoError(t, err)
	assert.Equal(t, list[0].Origin, *o)
}

// What a licence does not allow is refused with a sentence, before anything is made.
func TestLicencesAreKept(t *testing.T) {
	s, ctx := withShelf(t), context.Background()
	one, err := s.NewJob(ctx, "One")
	require.NoError(t, err)
	two, err := s.NewJob(ctx, "Two")
	require.NoError(t, err)
	muff, err := s.TakeFromShelf(ctx, one, "winter-muff")
	require.NoError(t, err)
	worker, err := s.Queue(0)
	require.NoError(t, err)
	_, err = s.OrderFiles(ctx, worker, one, Order{Pictures: []uuid.UUID{muff}, Colourways: []string{""}, Format: "png", Quality: 92})
	var bad *problem.Input
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "For practice only")
	list, err := s.Deliveries(ctx, one)
	require.NoError(t, err)
	assert.Empty(t, list)

	pot, err := s.TakeFromShelf(ctx, one, "terracotta-pot")
	require.NoError(t, err)
	// What is for practice does not get out inside of another picture.
	_, err = s.TakeTile(ctx, pot, muff)
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "in its own picture alone")
	_, err = s.CutOut(ctx, pot, muff, "any")
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "in its own picture alone")
	_, err = s.TakeFromShelf(ctx, one, "terracotta-pot")
	require.NoError(t, err, "twice in its one job it may be")
	_, err = s.TakeFromShelf(ctx, two, "terracotta-pot")
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "the job One has it")
	// Of several who take at once, one job gets it.
	var got atomic.Int32
	var g sync.WaitGroup
	for i := range 6 {
		job, err := s.NewJob(ctx, fmt.Sprintf("Job %d", i))
		require.NoError(t, err)
		g.Go(func() {
			if _, err := s.TakeFromShelf(ctx, job, "bright-scarf"); err == nil {
				got.Add(1)
			}
		})
	}
	g.Wait()
	assert.EqualValues(t, 1, got.Load())
	_, err = s.DuplicateJob(ctx, one, "Copy")
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "one job")
}
