package app

import (
	"container/list"
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"sync"
	"time"

	"episema/core/raster"
)

// cache keeps derived things within a budget of bytes, the least recently used out first. What several
// ask for at once is made once, and no longer than one of them waits for it.
type cache struct {
	mu      sync.Mutex
	budget  int64
	used    int64
	order   *list.List // front: most recently used
	items   map[string]*list.Element
	flights map[string]*flight
}

type cached struct {
	key   string
	value any
	size  int64
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

func newCache(budget int64) *cache {
	return &cache{budget: budget, order: list.New(), items: map[string]*list.Element{}, flights: map[string]*flight{}}
}

func (c *cache) get(key string) (any, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.known(key)
}

// known is get for who holds the lock.
func (c *cache) known(key string) (any, bool) {
	e, ok := c.items[key]
	if !ok {
		return nil, false
	}
	c.order.MoveToFront(e)
	return e.Value.(*cached).value, true
}

func (c *cache) put(key string, v any, size int64) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if _, ok := c.items[key]; ok {
		return
	}
	c.items[key] = c.order.PushFront(&cached{key, v, size})
	c.used += size
	for c.used > c.budget && c.order.Len() > 1 {
		e := c.order.Back()
		o := e.Value.(*cached)
		c.order.Remove(e)
		delete(c.items, o.key)
		c.used -= o.size
	}
}

// do gives the value under key, making it where it is not there. The context of f ends once nobody waits for the value
// any more; f may go on regardless. Whoever comes first makes it, and stays until f returns.
func (c *cache) do(ctx context.Context, key string, size func(any) int64, f func(ctx context.Context) (any, error)) (any, error) {
	for {
		c.mu.Lock()
		if v, ok := c.known(key); ok {
			c.mu.Unlock()
			return v, nil
		}
		fl := c.flights[key]
		if fl == nil {
			making, cancel := context.WithCancel(context.WithoutCancel(ctx))
			defer cancel()
			fl = &flight{waiting: 1, cancel: cancel, over: make(chan struct{})}
			c.flights[key] = fl
			c.mu.Unlock()
			defer context.AfterFunc(ctx, func() { c.leave(key, fl) })()
			c.fly(making, key, fl, size, f)
			return fl.value, fl.err
		}
		fl.waiting++
		c.mu.Unlock()
		select {
		case <-fl.over:
			if gone(fl.err) && ctx.Err() == nil {
				continue // whoever made it left for a reason that is not ours
			}
			return fl.value, fl.err
		case <-ctx.Done():
			c.leave(key, fl)
			return nil, ctx.Err()
		}
	}
}

// gone reports whether something was not made since nobody waited for it.
func gone(err error) bool {
	return errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded) || errors.Is(err, raster.ErrStopped)
}

// fly makes a flight's value. A panic is everybody's error who waits, and goes on in who makes it.
func (c *cache) fly(ctx context.Context, key string, fl *flight, size func(any) int64, f func(ctx context.Context) (any, error)) {
	defer func() {
		v := recover()
		if v != nil {
			fl.err = fmt.Errorf("panic: %v\n%s", v, debug.Stack())
		}
		if fl.err == nil {
			c.put(key, fl.value, size(fl.value))
		}
		c.mu.Lock()
		if c.flights[key] == fl {
			delete(c.flights, key)
		}
		c.mu.Unlock()
		close(fl.over)
		if v != nil {
			panic(v)
		}
	}()
	fl.value, fl.err = f(ctx)
}

// leave ends a flight a little after the last who waited for it has left.
func (c *cache) leave(key string, fl *flight) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if fl.waiting--; fl.waiting > 0 {
		return
	}
	time.AfterFunc(grace, func() {
		c.mu.Lock()
		defer c.mu.Unlock()
		if fl.waiting > 0 || c.flights[key] != fl {
			return
		}
		delete(c.flights, key) // who asks from now on begins anew
		fl.cancel()
	})
}
