package revisions

import (
	"context"
	"log/slog"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/internal/testdb"
)

func TestMain(m *testing.M) { testdb.Main(m) }

// Who waits is woken by what is stored through another server, not by what others wait for, and hears of what is gone.
func TestWhoWaitsIsWoken(t *testing.T) {
	s := testdb.Store(t)
	ctx, end := context.WithCancel(context.Background())
	defer end()
	var jobs []uuid.UUID
	for _, name := range []string{"One", "Two"} {
		id, err := s.CreateJob(ctx, name, []byte(`{"palette":[],"colourways":[]}`))
		require.NoError(t, err)
		jobs = append(jobs, id)
	}
	now, err := s.Revisions(ctx, jobs)
	require.NoError(t, err)
	w := New(s, slog.New(slog.DiscardHandler))
	listening := make(chan struct{})
	go func() { w.Listen(ctx); close(listening) }()
	defer func() { end(); <-listening }()

	quiet, gone, err := w.Await(ctx, now, 50*time.Millisecond)
	require.NoError(t, err)
	assert.Empty(t, quiet)
	assert.Empty(t, gone)

	heard := make(chan map[uuid.UUID]int64, 1)
	go func() {
		news, _, err := w.Await(ctx, map[uuid.UUID]int64{jobs[0]: now[jobs[0]]}, time.Minute)
		assert.NoError(t, err)
		heard <- news
	}()
	require.Eventually(t, func() bool { w.mu.Lock(); defer w.mu.Unlock(); return len(w.wake) == 1 }, 10*time.Second, time.Millisecond)
	w.Changed(jobs[1])
	select {
	case <-heard:
		require.Fail(t, "woken by what it does not wait for")
	case <-time.After(100 * time.Millisecond):
	}
	edited := now[jobs[0]]
	for woken := false; !woken; { // nobody here is told but by the database, once the listening has begun
		require.Less(t, edited, now[jobs[0]]+100, "nobody was woken")
		_, err = s.EditJob(ctx, jobs[0], edited, "edit", []byte(`{"palette":[],"colourways":[]}`))
		require.NoError(t, err)
		edited++
		select {
		case news := <-heard:
			woken = true
			assert.Equal(t, map[uuid.UUID]int64{jobs[0]: edited}, news)
		case <-time.After(200 * time.Millisecond):
		}
	}
	_, gone, err = w.Await(ctx, map[uuid.UUID]int64{uuid.New(): 1}, time.Minute)
	require.NoError(t, err)
	assert.Len(t, gone, 1)
}
