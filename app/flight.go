package app

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"sync"
	"time"

	"episema/core/raster"
)

// flights makes what several ask for at once one time, and goes on no longer than one of them waits. The zero value is ready.
type flights struct {
	mu sync.Mutex
	on map[string]*flight
}

// flight is something that is being made.
type flight struct {
	waiting int // who has not left
	cancel  context.CancelFunc
	over    chan struct{} // closed once value and err stand
	value   any
	err     error
}

// grace is how long something is gone on with although nobody waits for it: who asks for the next value of what a hand moves
// leaves a moment before asking again.
const grace = 40 * time.Millisecond

// do gives what f makes for a key. The context of f ends once nobody waits for the value any more; f may go on regardless.
// Whoever comes first makes it, and stays until f returns.
func (g *flights) do(ctx context.Context, key string, f func(ctx context.Context) (any, error)) (any, error) {
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		g.mu.Lock()
		fl := g.on[key]
		if fl == nil {
			making, cancel := context.WithCancel(context.WithoutCancel(ctx))
			defer cancel()
			fl = &flight{waiting: 1, cancel: cancel, over: make(chan struct{})}
			if g.on == nil {
				g.on = map[string]*flight{}
			}
			g.on[key] = fl
			g.mu.Unlock()
			defer context.AfterFunc(ctx, func() { g.leave(key, fl) })()
			g.fly(making, key, fl, f)
			return fl.value, fl.err
		}
		fl.waiting++
		g.mu.Unlock()
		select {
		case <-fl.over:
			if gone(fl.err) {
				continue // whoever made it left for a reason that is not ours
			}
			return fl.value, fl.err
		case <-ctx.Done():
			g.leave(key, fl)
			return nil, ctx.Err()
		}
	}
}

// gone reports whether something was not made since nobody waited for it.
func gone(err error) bool {
	return errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded) || errors.Is(err, raster.ErrStopped)
}

// fly makes a flight's value. A panic is everybody's error who waits, and goes on in who makes it.
func (g *flights) fly(ctx context.Context, key string, fl *flight, f func(ctx context.Context) (any, error)) {
	defer func() {
		v := recover()
		if v != nil {
			fl.err = fmt.Errorf("panic: %v\n%s", v, debug.Stack())
		}
		g.mu.Lock()
		if g.on[key] == fl {
			delete(g.on, key)
		}
		g.mu.Unlock()
		close(fl.over)
		if v != nil {
			panic(v)
		}
	}()
	fl.value, fl.err = f(ctx)
}

// leave ends a flight a little after the last who waited for it has left.
func (g *flights) leave(key string, fl *flight) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if fl.waiting--; fl.waiting > 0 {
		return
	}
	time.AfterFunc(grace, func() {
		g.mu.Lock()
		defer g.mu.Unlock()
		if fl.waiting > 0 || g.on[key] != fl {
			return
		}
		delete(g.on, key) // who asks from now on begins anew
		fl.cancel()
	})
}
