package app

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// AwaitRevision answers once a picture's revision is above after, or after the wait with what it is.
func (s *Studio) AwaitRevision(ctx context.Context, id uuid.UUID, after int64, wait time.Duration) (int64, error) {
	ch := make(chan struct{}, 1)
	s.mu.Lock()
	s.wake[ch] = id.String()
	s.mu.Unlock()
	defer func() {
		s.mu.Lock()
		delete(s.wake, ch)
		s.mu.Unlock()
	}()
	timeout := time.NewTimer(wait)
	defer timeout.Stop()
	for {
		r, err := s.Store.Revision(ctx, id)
		if err != nil || r > after {
			return r, err
		}
		select {
		case <-ch:
		case <-timeout.C:
			return r, nil
		case <-ctx.Done():
			return 0, ctx.Err()
		}
	}
}

func (s *Studio) notify(id uuid.UUID) { s.wakeUp(id.String()) }

func (s *Studio) wakeUp(id string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for ch, want := range s.wake {
		if want == id {
			select {
			case ch <- struct{}{}:
			default:
			}
		}
	}
}

// Listen wakes waiting tabs for edits made through other servers on the same database, until ctx ends.
func (s *Studio) Listen(ctx context.Context) {
	for ctx.Err() == nil {
		if err := s.listen(ctx); err != nil && ctx.Err() == nil {
			s.Log.Warn("listening for revisions broke off; trying again", "error", err)
			select {
			case <-time.After(time.Second):
			case <-ctx.Done():
			}
		}
	}
}

func (s *Studio) listen(ctx context.Context) error {
	conn, err := pgx.ConnectConfig(ctx, s.Store.Pool.Config().ConnConfig)
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
		s.wakeUp(n.Payload)
	}
}
