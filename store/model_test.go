package store_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"fmt"
	"io"
	"math"
	mathrand "math/rand/v2"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/internal/testdb"
	"episema/store"
)

// history is what the history of a picture or a job shall be: its steps, where it stands, and how often it moved.
type history struct {
	docs     []string
	labels   []string
	at       int
	revision int64
}

func (h *history) edit(base int64, label, doc string) error {
	if base != h.revision {
		return store.ErrStale
	}
	h.docs, h.labels = append(h.docs[:h.at+1], doc), append(h.labels[:h.at+1], label)
	h.at++
	h.revision++
	return nil
}

func (h *history) move(by int) error {
	if h.at+by < 0 || h.at+by >= len(h.docs) {
		return store.ErrNothing
	}
	h.at += by
	h.revision++
	return nil
}

func (h *history) redo() string {
	if h.at+1 < len(h.labels) {
		return h.labels[h.at+1]
	}
	return ""
}

// Whatever is edited, undone and redone in a picture and in its job, on either of two servers, from a newest or an older
// revision: the histories are those of a list with a place in it.
func TestHistoriesAreAListWithAPlaceInIt(t *testing.T) {
	ctx := context.Background()
	servers := []*store.Store{testdb.Store(t), testdb.Store(t)}
	for seed := range uint64(4) {
		r := mathrand.New(mathrand.NewPCG(seed, 14))
		id := addPicture(t, servers[0])
		p, err := servers[0].Picture(ctx, id)
		require.NoError(t, err)
		pic := &history{docs: []string{`{"parts":[]}`}, labels: []string{""}, revision: 1}
		job := &history{docs: []string{`{"palette":[],"colourways":[]}`}, labels: []string{""}, revision: 1}
		stale, nothing := 0, 0
		for n := range 250 {
			s := servers[r.IntN(2)]
			h := pic
			if r.IntN(3) == 0 {
				h = job
			}
			label := fmt.Sprint("edit ", n)
			base := h.revision - int64(max(0, r.IntN(5)-3)) // one in five is from an older one
			by := 1 - 2*r.IntN(2)
			edit := r.IntN(2) == 0
			doc := fmt.Sprintf(`{"parts":[],"palette":[],"colourways":[],"n":%d}`, n)
			var want, err error
			var document, undo, redo string
			var revision int64
			switch {
			case edit:
				want = h.edit(base, label, doc)
			default:
				want = h.move(by)
			}
			if h == pic {
				var got store.Picture
				if edit {
					got, err = s.Edit(ctx, id, base, label, []byte(doc))
				} else {
					got, err = s.Move(ctx, id, int64(by))
				}
				document, undo, redo, revision = string(got.Document), got.Undo, got.Redo, got.Revision
			} else {
				var got store.Job
				if edit {
					got, err = s.EditJob(ctx, p.Job, base, label, []byte(doc))
				} else {
					got, err = s.MoveJob(ctx, p.Job, int64(by))
				}
				document, undo, redo, revision = string(got.Content), got.Undo, got.Redo, got.Revision
			}
			require.ErrorIs(t, err, want, "seed %d, step %d", seed, n)
			switch want {
			case store.ErrStale:
				stale++
			case store.ErrNothing:
				nothing++
			}
			require.JSONEq(t, h.docs[h.at], document, "seed %d, step %d", seed, n)
			require.Equal(t, []any{h.labels[h.at], h.redo(), h.revision}, []any{undo, redo, revision}, "seed %d, step %d", seed, n)
		}
		assert.Greater(t, stale, 5)
		assert.Greater(t, nothing, 5)
	}
}

// order is what a delivery shall be.
type order struct {
	state    string
	progress float64
	problem  string
	file     []byte
}

func (o *order) open() bool { return o.state == "waiting" || o.state == "running" }

// Whatever workers, people who cancel and people who ask again do to a delivery, in whatever order and on whichever
// server: what is over stays over until it is asked for again, and only what is done has a file to fetch.
func TestADeliveryIsWaitingRunningOrOver(t *testing.T) {
	ctx := context.Background()
	servers := []*store.Store{testdb.Store(t), testdb.Store(t)}
	id := addPicture(t, servers[0])
	batch := uuid.New()
	sha, _, err := servers[0].PutBlob(ctx, bytes.NewReader([]byte("a file")))
	require.NoError(t, err)
	r := mathrand.New(mathrand.NewPCG(14, 3))
	all := map[uuid.UUID]*order{}
	var ids []uuid.UUID
	seen := map[string]int{}
	for n := range 600 {
		s := servers[r.IntN(2)]
		if n%60 == 0 {
			d := store.Delivery{ID: uuid.New(), Picture: id, Name: fmt.Sprint(n, ".png"), Document: doc(n), Format: "png", Batch: &batch}
			require.NoError(t, pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error { return s.AddDelivery(ctx, tx, d) }))
			all[d.ID] = &order{state: "waiting"}
			ids = append(ids, d.ID)
		}
		d := ids[r.IntN(len(ids))]
		o := all[d]
		switch r.IntN(5) {
		case 0, 1:
			going, err := s.Progress(ctx, d, 0.25*float64(r.IntN(4)))
			require.NoError(t, err)
			require.Equal(t, o.open(), going, "a worker hears that nobody wants it any more")
			if going {
				o.state = "running"
				got, err := s.Delivery(ctx, d)
				require.NoError(t, err)
				o.progress = got.Progress
			}
		case 2:
			problem := []string{"", "it does not fit"}[r.IntN(2)]
			var file []byte
			if problem == "" {
				file = sha
			}
			require.NoError(t, s.Finish(ctx, d, file, problem))
			if o.open() {
				if o.problem, o.file = problem, file; problem == "" {
					o.state, o.progress = "done", 1
				} else {
					o.state = "failed"
				}
			}
		case 3:
			require.NoError(t, s.Cancel(ctx, d))
			if o.open() {
				o.state = "cancelled"
			}
		case 4:
			err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error { return s.Again(ctx, tx, d) })
			if o.state == "failed" || o.state == "cancelled" {
				require.NoError(t, err)
				*o = order{state: "waiting"}
			} else {
				require.ErrorIs(t, err, store.ErrNothing)
			}
		}
		got, err := s.Delivery(ctx, d)
		require.NoError(t, err)
		require.Equal(t, *o, order{got.State, got.Progress, got.Problem, got.SHA}, "step %d", n)
		seen[o.state]++
	}
	for _, state := range []string{"waiting", "running", "done", "failed", "cancelled"} {
		assert.Greater(t, seen[state], 10, state)
	}
	files, err := servers[1].BatchFiles(ctx, batch)
	require.NoError(t, err)
	done := 0
	for _, o := range all {
		if o.state == "done" {
			done++
		}
	}
	assert.Len(t, files, done)
}

// breaking ends after so many bytes, as a line does.
type breaking struct {
	from io.ReadSeeker
	left int
}

func (b *breaking) Read(p []byte) (int, error) {
	if b.left <= 0 {
		return 0, io.ErrUnexpectedEOF
	}
	n, err := b.from.Read(p[:min(len(p), b.left)])
	b.left -= n
	return n, err
}

func (b *breaking) Seek(offset int64, whence int) (int64, error) { return b.from.Seek(offset, whence) }

// Uploads of some files, whole and broken off, some of them at once on both servers: each file is there whole or not at
// all, and once.
func TestUploadsAreASetOfFiles(t *testing.T) {
	ctx := context.Background()
	servers := []*store.Store{testdb.Store(t), testdb.Store(t)}
	r := mathrand.New(mathrand.NewPCG(14, 4))
	var files [][]byte
	for _, size := range []int{0, 1, 255 << 10, 1<<20 + 1, 2 << 20} {
		b := make([]byte, size)
		for i := range b {
			b[i] = byte(r.Uint32())
		}
		files = append(files, b)
	}
	whole := map[int]bool{}
	for turn := range 40 {
		at, broken := r.IntN(len(files)), r.IntN(3) == 0
		if turn < 2*len(files) { // before any is there
			at, broken = turn/2, true
		}
		ended := make(chan error, 2)
		for _, s := range servers {
			go func() {
				body := &breaking{bytes.NewReader(files[at]), math.MaxInt}
				if broken { // when it is read, or when it is read again
					body.left = len(files[at]) * []int{1, 3}[turn%2] / 2
				}
				sha, size, err := s.PutBlob(ctx, body)
				if err == nil && (size != int64(len(files[at])) || !bytes.Equal(sha, sum(files[at]))) {
					err = fmt.Errorf("%x of %d bytes", sha, size)
				}
				ended <- err
			}()
		}
		for range servers {
			err := <-ended
			switch again := turn%2 == 1 && len(files[at]) > 1; {
			case !broken:
				require.NoError(t, err)
			case !again || !whole[at]: // what is there already is not read again
				require.Error(t, err)
			}
		}
		whole[at] = whole[at] || !broken
		for i, f := range files {
			s := servers[r.IntN(2)]
			size, err := s.BlobSize(ctx, sum(f))
			if !whole[i] {
				require.ErrorIs(t, err, store.ErrNotFound, "file %d", i)
				continue
			}
			require.NoError(t, err)
			require.EqualValues(t, len(f), size)
			b, err := s.Blob(ctx, sum(f))
			require.NoError(t, err)
			got, err := io.ReadAll(b)
			require.NoError(t, err)
			require.True(t, bytes.Equal(f, got), "file %d", i)
		}
	}
}

func sum(b []byte) []byte {
	s := sha256.Sum256(b)
	return s[:]
}
