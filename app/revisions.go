package app

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// AwaitRevisions answers once one of some pictures has a revision above the one named, with those that have, or after the wait
// with none. Pictures that are not there any more are in gone, and end the wait too.
func (s *Studio) AwaitRevisions(ctx context.Context, after map[uuid.UUID]int64, wait time.Duration) (now map[uuid.UUID]int64, gone []uuid.UUID, err error) {
	ch := make(chan struct{}, 1)
	ids, wanted := make([]uuid.UUID, 0, len(after)), map[string]bool{}
	for id := range after {
		ids = append(ids, id)
		wanted[id.String()] = true
	}
	s.mu.Lock()
	s.wake[ch] = wanted
	s.mu.Unlock()
	defer func() {
		s.mu.Lock()
		delete(s.wake, ch)
		s.mu.Unlock()
	}()
	timeout := time.NewTimer(wait)
	defer timeout.Stop()
	for {
		now, err := s.Store.Revisions(ctx, ids)
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

func (s *Studio) notify(id uuid.UUID) { s.wakeUp(id.String()) }

func (s *Studio) wakeUp(id string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for ch, want := range s.wake {
		if want[id] {
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
