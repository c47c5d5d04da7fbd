package memo

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"sync"
	"time"

	"episema/core/raster"
)

// Makings makes what several ask for at once one time, and goes on no longer than one of them waits. The zero value is ready.
type Makings struct {
	mu sync.Mutex
	on map[string]*making
}

// making is something that is being made.
type making struct {
	waiting int // who has not left
	cancel  context.CancelFunc
	over    chan struct{} // closed once value and err stand
	value   any
	err     error
}

// grace is how long something is gone on with although nobody waits for it: who asks for the next value of what a hand moves
// leaves a moment before asking again.
const grace = 40 * time.Millisecond

// Do returns what f makes for a key. The context of f ends once nobody waits for the value any more; f may go on regardless.
// Whoever comes first makes it, and stays until f returns.
func (g *Makings) Do(ctx context.Context, key string, f func(ctx context.Context) (any, error)) (any, error) {
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		g.mu.Lock()
		m := g.on[key]
		if m == nil {
			c, cancel := context.WithCancel(context.WithoutCancel(ctx))
			defer cancel()
			m = &making{waiting: 1, cancel: cancel, over: make(chan struct{})}
			if g.on == nil {
				g.on = map[string]*making{}
			}
			g.on[key] = m
			g.mu.Unlock()
			defer context.AfterFunc(ctx, func() { g.leave(key, m) })()
			g.run(c, key, m, f)
			return m.value, m.err
		}
		m.waiting++
		g.mu.Unlock()
		select {
		case <-m.over:
			if gone(m.err) {
				continue // whoever made it left for a reason that is not ours
			}
			return m.value, m.err
		case <-ctx.Done():
			g.leave(key, m)
			return nil, ctx.Err()
		}
	}
}

// gone reports whether something was not made since nobody waited for it.
func gone(err error) bool {
	return errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded) || errors.Is(err, raster.ErrStopped)
}

// run makes the value. A panic is everybody's error who waits, and goes on in who makes it.
func (g *Makings) run(ctx context.Context, key string, m *making, f func(ctx context.Context) (any, error)) {
	defer func() {
		v := recover()
		if v != nil {
			m.err = fmt.Errorf("panic: %v\n%s", v, debug.Stack())
		}
		g.mu.Lock()
		if g.on[key] == m {
			delete(g.on, key)
		}
		g.mu.Unlock()
		close(m.over)
		if v != nil {
			panic(v)
		}
	}()
	m.value, m.err = f(ctx)
}

// leave ends a making a little after the last who waited for it has left.
func (g *Makings) leave(key string, m *making) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if m.waiting--; m.waiting > 0 {
		return
	}
	time.AfterFunc(grace, func() {
		g.mu.Lock()
		defer g.mu.Unlock()
		if m.waiting > 0 || g.on[key] != m {
			return
		}
		delete(g.on, key) // who asks from now on begins anew
		m.cancel()
	})
}
