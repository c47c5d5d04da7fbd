package app

import (
	"context"
	"sync/atomic"
	"time"
)

// hands knows whether somebody's hand is moving: whoever drags asks for one view after the other.
type hands struct {
	last  atomic.Int64 // when the last view under a hand was asked for, or was ready, in nanoseconds
	paid  atomic.Int64 // when all that work owes them is paid
	taken atomic.Bool  // by who is alone
	now   func() int64 // of tests
}

// still is how long after a view a hand counts as moving: on a slow line the next one is on its way.
const still = 200 * time.Millisecond

const poll = 10 * time.Millisecond // how often it is asked whether one moves

func (h *hands) moves() { h.last.Store(h.clock()) }

func (h *hands) moving() bool { return h.clock()-h.last.Load() < int64(still) }

func (h *hands) clock() int64 {
	if h.now != nil {
		return h.now()
	}
	return time.Now().UnixNano()
}

// rests is how many times as long as its pieces took such work rests while a hand moves, so that it comes to its end all the same.
const rests = 3

// between returns what work that nobody sits and waits for calls between its pieces, to give way to hands. All of such work rests by
// one account: two deliveries beside each other take no more of a hand's time than one.
func (h *hands) between(ctx context.Context) func() {
	begun := h.clock()
	return func() {
		if h.moving() {
			h.giveWay(ctx, h.owed(rests*time.Duration(h.clock()-begun)))
		}
		begun = h.clock()
	}
}

// alone waits until no other of such work is at a piece that is not told apart into smaller ones, for as long as a hand moves. What it
// returns is called at that piece's end.
func (h *hands) alone(ctx context.Context) (leave func()) {
	for !h.taken.CompareAndSwap(false, true) {
		if !h.moving() || ctx.Err() != nil {
			return func() {}
		}
		h.giveWay(ctx, poll)
	}
	return func() { h.taken.Store(false) }
}

// owed adds to what such work owes hands, and returns how long it takes until all of it is paid.
func (h *hands) owed(more time.Duration) time.Duration {
	for {
		now, paid := h.clock(), h.paid.Load()
		next := max(now, paid) + int64(more)
		if h.paid.CompareAndSwap(paid, next) {
			return time.Duration(next - now)
		}
	}
}

// giveWay lets hands go first: work that nobody sits and waits for rests while one moves, for that long at most.
func (h *hands) giveWay(ctx context.Context, most time.Duration) {
	for rest := most; rest > 0 && h.moving(); rest -= poll {
		select {
		case <-time.After(min(poll, rest)):
		case <-ctx.Done():
			return
		}
	}
}
