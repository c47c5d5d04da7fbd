package store_test

import (
	"bytes"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	mathrand "math/rand/v2"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/internal/testdb"
	"episema/store"
)

func TestMain(m *testing.M) { testdb.Main(m) }

func addPicture(t *testing.T, s *store.Store) uuid.UUID {
	t.Helper()
	ctx := context.Background()
	job, err := s.CreateJob(ctx, "A job", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	sha, _, err := s.PutBlob(ctx, bytes.NewReader([]byte(uuid.NewString())))
	require.NoError(t, err)
	id, err := s.AddPicture(ctx, store.Picture{Job: job, Name: "A picture", SHA: sha, Width: 3, Height: 2, Bits: 8, Format: "png", Document: []byte(`{"parts":[]}`)})
	require.NoError(t, err)
	return id
}

func doc(n int) []byte { return fmt.Appendf(nil, `{"parts": [], "n": %d}`, n) }

func TestUndoAndRedoAreTheHistory(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	id := addPicture(t, s)
	p, err := s.Picture(ctx, id)
	require.NoError(t, err)
	assert.Empty(t, p.Undo)
	for n := 1; n <= 12; n++ {
		p, err = s.Edit(ctx, id, p.Revision, fmt.Sprint("edit ", n), doc(n))
		require.NoError(t, err)
	}
	assert.Equal(t, "edit 12", p.Undo)
	for n := 11; n >= 2; n-- {
		p, err = s.Move(ctx, id, -1)
		require.NoError(t, err)
		assert.JSONEq(t, string(doc(n)), string(p.Document))
		assert.Equal(t, fmt.Sprint("edit ", n+1), p.Redo)
	}
	for n := 3; n <= 12; n++ {
		p, err = s.Move(ctx, id, 1)
		require.NoError(t, err)
		assert.JSONEq(t, string(doc(n)), string(p.Document))
	}
	_, err = s.Move(ctx, id, 1)
	require.ErrorIs(t, err, store.ErrNothing)
	p, err = s.Move(ctx, id, -1)
	require.NoError(t, err)
	p, err = s.Edit(ctx, id, p.Revision, "another way", doc(99))
	require.NoError(t, err)
	assert.Empty(t, p.Redo, "a new edit ends what could be redone")
	_, err = s.Move(ctx, uuid.New(), -1)
	require.ErrorIs(t, err, store.ErrNotFound)
}

func TestOfConcurrentEditorsOneWinsAndNobodyIsOverwritten(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	id := addPicture(t, s)
	var mu sync.Mutex
	won, stale := 0, 0
	var wg sync.WaitGroup
	for n := range 12 {
		wg.Go(func() {
			p, err := s.Edit(ctx, id, 1, "mine", doc(n))
			mu.Lock()
			defer mu.Unlock()
			switch {
			case err == nil:
				won++
			case errors.Is(err, store.ErrStale):
				stale++
				assert.EqualValues(t, 2, p.Revision, "the loser is shown what won")
			default:
				t.Error(err)
			}
		})
	}
	wg.Wait()
	assert.Equal(t, 1, won)
	assert.Equal(t, 11, stale)
}

func TestBlobsStreamAndAppearWholeOrNotAtAll(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	data := make([]byte, 3<<20+17)
	_, err := rand.Read(data)
	require.NoError(t, err)
	sha, size, err := s.PutBlob(ctx, bytes.NewReader(data))
	require.NoError(t, err)
	assert.EqualValues(t, len(data), size)
	again, _, err := s.PutBlob(ctx, bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, sha, again, "the same bytes are the same file")
	r, err := s.Blob(ctx, sha)
	require.NoError(t, err)
	back, err := io.ReadAll(r)
	require.NoError(t, err)
	assert.Equal(t, data, back)

	count := func() (n int) {
		require.NoError(t, s.Pool.QueryRow(ctx, "SELECT count(*) FROM blobs").Scan(&n))
		return n
	}
	before := count()
	_, _, err = s.PutBlob(ctx, &breaks{bytes.NewReader(data[1:]), 2})
	require.Error(t, err)
	assert.Equal(t, before, count(), "a stream that broke off left nothing")
	_, err = s.Blob(ctx, []byte("no such hash"))
	require.ErrorIs(t, err, store.ErrNotFound)
}

// breaks fails while it is read for the second time.
type breaks struct {
	*bytes.Reader
	left int
}

func (b *breaks) Read(p []byte) (int, error) {
	if b.Len() < 2<<20 && b.left == 1 {
		return 0, errors.New("broke off")
	}
	return b.Reader.Read(p)
}

func (b *breaks) Seek(off int64, whence int) (int64, error) {
	b.left--
	return b.Reader.Seek(off, whence)
}

func TestACancelledDeliveryStaysCancelled(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	id := addPicture(t, s)
	d := store.Delivery{ID: uuid.New(), Picture: id, Name: "x.png", Document: doc(1), Format: "png", Quality: 92}
	require.NoError(t, pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error { return s.AddDelivery(ctx, tx, d) }))
	wanted, err := s.Progress(ctx, d.ID, 0.3)
	require.NoError(t, err)
	assert.True(t, wanted)
	require.NoError(t, s.Cancel(ctx, d.ID))
	wanted, err = s.Progress(ctx, d.ID, 0.5)
	require.NoError(t, err)
	assert.False(t, wanted)
	require.NoError(t, s.Finish(ctx, d.ID, nil, "late"))
	got, err := s.Delivery(ctx, d.ID)
	require.NoError(t, err)
	assert.Equal(t, "cancelled", got.State)
}

func TestAJobsContentHasAHistoryAndIsCopiedWhole(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	id := addPicture(t, s)
	p, err := s.Picture(ctx, id)
	require.NoError(t, err)
	content := func(n int) []byte { return fmt.Appendf(nil, `{"palette": [], "colourways": [], "n": %d}`, n) }
	j, err := s.Job(ctx, p.Job)
	require.NoError(t, err)
	for n := 1; n <= 3; n++ {
		j, err = s.EditJob(ctx, p.Job, j.Revision, fmt.Sprint("edit ", n), content(n))
		require.NoError(t, err)
	}
	_, err = s.EditJob(ctx, p.Job, j.Revision-1, "late", content(9))
	require.ErrorIs(t, err, store.ErrStale)
	j, err = s.MoveJob(ctx, p.Job, -1)
	require.NoError(t, err)
	assert.JSONEq(t, string(content(2)), string(j.Content))
	assert.Equal(t, "edit 3", j.Redo)

	_, err = s.Edit(ctx, id, p.Revision, "a part", []byte(`{"parts":[{"name":" Mug body "},{"name":"Rim"}]}`))
	require.NoError(t, err)
	rows, err := s.PartRows(ctx, p.Job)
	require.NoError(t, err)
	assert.Equal(t, []store.PartRow{{Row: "Mug body", Name: "Mug body", Picture: id}, {Row: "Rim", Name: "Rim", Picture: id}}, rows)

	to, err := s.DuplicateJob(ctx, p.Job, "A copy")
	require.NoError(t, err)
	copied, err := s.Pictures(ctx, to)
	require.NoError(t, err)
	require.Len(t, copied, 1)
	assert.Equal(t, 2, copied[0].Parts)
	c, err := s.Job(ctx, to)
	require.NoError(t, err)
	assert.JSONEq(t, string(content(2)), string(c.Content))
	assert.Empty(t, c.Undo)

	require.NoError(t, s.SetRemoved(ctx, to, true))
	all, err := s.Jobs(ctx, false)
	require.NoError(t, err)
	for _, k := range all {
		assert.NotEqual(t, to, k.ID)
	}
	require.NoError(t, s.SetRemoved(ctx, to, false))
	_, err = s.DuplicateJob(ctx, uuid.New(), "none")
	require.ErrorIs(t, err, store.ErrNotFound)
}

// A thousand steps are kept: a morning's work can be taken back, not the last twenty strokes.
func TestAMorningsWorkCanBeTakenBack(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	id := addPicture(t, s)
	p, err := s.Picture(ctx, id)
	require.NoError(t, err)
	const edits = 150
	for n := 1; n <= edits; n++ {
		p, err = s.Edit(ctx, id, p.Revision, "edit", doc(n))
		require.NoError(t, err)
	}
	for range edits {
		p, err = s.Move(ctx, id, -1)
		require.NoError(t, err)
	}
	assert.JSONEq(t, `{"parts":[]}`, string(p.Document))
}

func TestOtherServersAreToldOfAnEdit(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	id := addPicture(t, s)
	conn, err := s.Pool.Acquire(ctx)
	require.NoError(t, err)
	defer conn.Release()
	_, err = conn.Exec(ctx, "LISTEN episema_revision")
	require.NoError(t, err)
	told := func(what string, id uuid.UUID) {
		t.Helper()
		soon, end := context.WithTimeout(ctx, 10*time.Second)
		defer end()
		n, err := conn.Conn().WaitForNotification(soon)
		require.NoError(t, err, "%s is told", what)
		assert.Equal(t, id.String(), n.Payload, what)
	}
	p, err := s.Edit(ctx, id, 1, "edit", doc(1))
	require.NoError(t, err)
	told("an edit", id)
	_, err = s.Move(ctx, id, -1)
	require.NoError(t, err)
	told("undo", id)
	_, err = s.Edit(ctx, id, p.Revision, "edit", doc(2))
	require.ErrorIs(t, err, store.ErrStale)
	j, err := s.Job(ctx, p.Job)
	require.NoError(t, err)
	_, err = s.EditJob(ctx, j.ID, j.Revision, "edit", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	told("a job's edit", j.ID)
	now, err := s.Revisions(ctx, []uuid.UUID{id, j.ID, uuid.New()})
	require.NoError(t, err)
	assert.Equal(t, map[uuid.UUID]int64{id: p.Revision + 1, j.ID: j.Revision + 1}, now)
	require.NoError(t, s.SetRemoved(ctx, j.ID, true))
	now, err = s.Revisions(ctx, []uuid.UUID{j.ID})
	require.NoError(t, err)
	assert.Empty(t, now, "a removed job is not there")
}

// What was removed is not delivered, and not copied; a copy has the masks of what it copies.
func TestACopyHasWhatIsThereAndItsMasks(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	id := addPicture(t, s)
	p, err := s.Picture(ctx, id)
	require.NoError(t, err)
	sha, _, err := s.PutBlob(ctx, bytes.NewReader([]byte("a mask")))
	require.NoError(t, err)
	require.NoError(t, s.AddMask(ctx, id, sha, "sky.png"))
	gone, err := s.AddPicture(ctx, store.Picture{Job: p.Job, Name: "Gone", SHA: p.SHA, Width: 3, Height: 2, Bits: 8, Format: "png", Document: doc(0)})
	require.NoError(t, err)
	require.NoError(t, s.RemovePicture(ctx, gone))
	list, err := s.Sources(ctx, p.Job)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, id, list[0].ID)
	copied, err := s.DuplicateJob(ctx, p.Job, "A copy")
	require.NoError(t, err)
	list, err = s.Sources(ctx, copied)
	require.NoError(t, err)
	require.Len(t, list, 1)
	masks, err := s.MasksOf(ctx, list[0].ID)
	require.NoError(t, err)
	require.Len(t, masks, 1)
	assert.Equal(t, []any{sha, "sky.png"}, []any{masks[0].SHA, masks[0].Name})
	require.NoError(t, s.BringBackPicture(ctx, gone))
	list, err = s.Sources(ctx, p.Job)
	require.NoError(t, err)
	assert.Len(t, list, 2)
}

// Pictures stand where they were put, whatever came when.
func TestPicturesStandWhereTheyWerePut(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	first := addPicture(t, s)
	p, err := s.Picture(ctx, first)
	require.NoError(t, err)
	ids := []uuid.UUID{first}
	for n := range 4 {
		id, err := s.AddPicture(ctx, store.Picture{Job: p.Job, Name: fmt.Sprint(n), SHA: p.SHA, Width: 3, Height: 2, Bits: 8, Format: "png", Document: doc(0)})
		require.NoError(t, err)
		ids = append(ids, id)
	}
	model := slices.Clone(ids)
	r := mathrand.New(mathrand.NewPCG(3, 3))
	for range 60 {
		i := r.IntN(len(model))
		moved := model[i]
		model = slices.Delete(model, i, i+1)
		at := r.IntN(len(model) + 1)
		var before *uuid.UUID
		if at < len(model) {
			before = &model[at]
		}
		require.NoError(t, s.PlacePicture(ctx, moved, before))
		model = slices.Insert(model, at, moved)
		list, err := s.Pictures(ctx, p.Job)
		require.NoError(t, err)
		var got []uuid.UUID
		for _, q := range list {
			got = append(got, q.ID)
		}
		require.Equal(t, model, got)
	}
	stranger := addPicture(t, s)
	assert.ErrorIs(t, s.PlacePicture(ctx, first, &stranger), store.ErrNotFound, "not before a picture of another job")
}

// What was removed takes neither edits nor undo, is not listed, and is all there once it is brought back.
func TestWhatWasRemovedIsLeftAsItWas(t *testing.T) {
	s, ctx := testdb.Store(t), context.Background()
	id := addPicture(t, s)
	p, err := s.Picture(ctx, id)
	require.NoError(t, err)
	p, err = s.Edit(ctx, id, p.Revision, "one", doc(1))
	require.NoError(t, err)
	require.NoError(t, s.RemovePicture(ctx, id))
	require.ErrorIs(t, s.RemovePicture(ctx, id), store.ErrNotFound, "it is removed once")
	_, err = s.Edit(ctx, id, p.Revision, "two", doc(2))
	require.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Move(ctx, id, -1)
	require.ErrorIs(t, err, store.ErrNotFound)
	require.ErrorIs(t, s.RenamePicture(ctx, id, "Other"), store.ErrNotFound)
	list, err := s.Pictures(ctx, p.Job)
	require.NoError(t, err)
	assert.Empty(t, list)
	require.NoError(t, s.BringBackPicture(ctx, id))
	q, err := s.Picture(ctx, id)
	require.NoError(t, err)
	assert.JSONEq(t, string(doc(1)), string(q.Document))
	assert.Equal(t, []any{p.Revision, p.Name, "one"}, []any{q.Revision, q.Name, q.Undo})
}
