package app

import (
	"context"
	"sync/atomic"
	"time"
)

// hands knows whether somebody's hand is moving: whoever drags asks for one view after the other.
type hands struct {
	last atomic.Int64 // when the last view under a hand was asked for, or was ready, in nanoseconds
	now  func() int64 // of tests
}

// still is how long after a view a hand counts as moving: on a slow line the next one is on its way.
const still = 200 * time.Millisecond

func (h *hands) moves() { h.last.Store(h.clock()) }

func (h *hands) moving() bool { return h.clock()-h.last.Load() < int64(still) }

func (h *hands) clock() int64 {
	if h.now != nil {
		return h.now()
	}
	return time.Now().UnixNano()
}

// between returns what work that nobody sits and waits for calls between its pieces, to give way to hands: for twice as long as the last
// piece took at most, so that it comes to its end all the same.
func (h *hands) between(ctx context.Context) func() {
	begun := time.Now()
	return func() {
		h.giveWay(ctx, 2*time.Since(begun))
		begun = time.Now()
	}
}

// giveWay lets hands go first: work that nobody sits and waits for rests while one moves, for that long at most.
func (h *hands) giveWay(ctx context.Context, most time.Duration) {
	const look = 10 * time.Millisecond
	for rest := most; rest > 0 && h.moving(); rest -= look {
		select {
		case <-time.After(min(look, rest)):
		case <-ctx.Done():
			return
		}
	}
}
