// Package revisions tells whoever waits that a picture or a job has changed, here or on another server of the same database.
package revisions

import (
	"context"
	"log/slog"
	"sync"
	"time"

	"episema/store"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// Watch knows who waits for which pictures and jobs.
type Watch struct {
	store *store.Store
	log   *slog.Logger

	mu   sync.Mutex
	wake map[chan struct{}]map[string]bool
}

// New returns a watch over a database.
func New(st *store.Store, log *slog.Logger) *Watch {
	return &Watch{store: st, log: log, wake: map[chan struct{}]map[string]bool{}}
}

// Await answers once one of some pictures has a revision above the one named, with those that have, or after the wait
// with none. Pictures that are not there any more are in gone, and end the wait too.
func (w *Watch) Await(ctx context.Context, after map[uuid.UUID]int64, wait time.Duration) (now map[uuid.UUID]int64, gone []uuid.UUID, err error) {
	ch := make(chan struct{}, 1)
	ids, wanted := make([]uuid.UUID, 0, len(after)), map[string]bool{}
	for id := range after {
		ids = append(ids, id)
		wanted[id.String()] = true
	}
	w.mu.Lock()
	w.wake[ch] = wanted
	w.mu.Unlock()
	defer func() {
		w.mu.Lock()
		delete(w.wake, ch)
		w.mu.Unlock()
	}()
	timeout := time.NewTimer(wait)
	defer timeout.Stop()
	for {
		now, err := w.store.Revisions(ctx, ids)
		if err != nil {
			return nil, nil, err
		}
		for _, id := range ids {
			if r, ok := now[id]; !ok {
				gone = append(gone, id)
			} else if r <= after[id] {
				delete(now, id)
			}
		}
		if len(now) > 0 || len(gone) > 0 {
			return now, gone, nil
		}
		select {
		case <-ch:
		case <-timeout.C:
			return now, nil, nil
		case <-ctx.Done():
			return nil, nil, ctx.Err()
		}
	}
}

// Changed wakes who waits for a picture or a job.
func (w *Watch) Changed(id uuid.UUID) { w.wakeUp(id.String()) }

func (w *Watch) wakeUp(id string) {
	w.mu.Lock()
	defer w.mu.Unlock()
	for ch, want := range w.wake {
		if want[id] {
			select {
			case ch <- struct{}{}:
			default:
			}
		}
	}
}

// Listen wakes waiting tabs for edits made through other servers on the same database, until ctx ends.
func (w *Watch) Listen(ctx context.Context) {
	for ctx.Err() == nil {
		if err := w.listen(ctx); err != nil && ctx.Err() == nil {
			w.log.Warn("listening for revisions broke off; trying again", "error", err)
			select {
			case <-time.After(time.Second):
			case <-ctx.Done():
			}
		}
	}
}

func (w *Watch) listen(ctx context.Context) error {
	conn, err := pgx.ConnectConfig(ctx, w.store.Pool.Config().ConnConfig)
	if err != nil {
		return err
	}
	defer conn.Close(context.WithoutCancel(ctx))
	if _, err := conn.Exec(ctx, "LISTEN episema_revision"); err != nil {
		return err
	}
	for {
		n, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		w.wakeUp(n.Payload)
	}
}
