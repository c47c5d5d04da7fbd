package app

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
)

// attendEvery is how soon what a killed worker was on goes on elsewhere.
const attendEvery = 2 * time.Second

// Work starts a queue's client and says to all others that it is alive; what workers were on that are not goes back into
// the queue. stop ends it; deliveries that are being worked on go on with another worker.
func (s *Studio) Work(ctx context.Context, queue *river.Client[pgx.Tx]) (stop func(context.Context) error, err error) {
	here, err := s.Store.Attend(ctx, queue.ID())
	if err != nil {
		return nil, err
	}
	if _, err = s.Store.ReleaseInterrupted(ctx); err == nil {
		err = queue.Start(context.WithoutCancel(ctx))
	}
	if err != nil {
		here.Leave(context.WithoutCancel(ctx))
		return nil, err
	}
	inner, end := context.WithCancel(context.WithoutCancel(ctx))
	over := make(chan struct{})
	go func() {
		defer close(over)
		tick := time.NewTicker(attendEvery)
		defer tick.Stop()
		for {
			select {
			case <-inner.Done():
				here.Leave(context.WithoutCancel(inner))
				return
			case <-tick.C:
			}
			if !here.Holds(inner) { // the database was away: its lock went with the connection
				here.Leave(inner)
				again, err := s.Store.Attend(inner, queue.ID())
				for err != nil && inner.Err() == nil {
					time.Sleep(attendEvery / 4)
					again, err = s.Store.Attend(inner, queue.ID())
				}
				if err != nil {
					return
				}
				here = again
			}
			if n, err := s.Store.ReleaseInterrupted(inner); err != nil {
				s.Log.Debug("interrupted deliveries not looked for", "error", err)
			} else if n > 0 {
				s.Log.Info("deliveries of a worker that is gone go on", "count", n)
			}
		}
	}()
	return func(ctx context.Context) error {
		err := queue.StopAndCancel(ctx)
		end()
		<-over
		return err
	}, nil
}
