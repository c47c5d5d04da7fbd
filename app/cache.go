package app

import (
	"container/list"
	"context"
	"sync"
)

// cache keeps derived things within a budget of bytes, the least recently used out first. What several
// ask for at once is made once, and no longer than one of them waits for it.
type cache struct {
	mu     sync.Mutex
	budget int64
	used   int64
	order  *list.List // front: most recently used
	items  map[string]*list.Element
	flights
}

type cached struct {
	key   string
	value any
	size  int64
}

func newCache(budget int64) *cache {
	return &cache{budget: budget, order: list.New(), items: map[string]*list.Element{}}
}

func (c *cache) get(key string) (any, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
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

// do gives the value under key, making it where it is not there; see flights for who makes it and how long.
func (c *cache) do(ctx context.Context, key string, size func(any) int64, f func(ctx context.Context) (any, error)) (any, error) {
	if v, ok := c.get(key); ok {
		return v, nil
	}
	return c.flights.do(ctx, key, func(ctx context.Context) (any, error) {
		if v, ok := c.get(key); ok {
			return v, nil // somebody finished between the look and the flight
		}
		v, err := f(ctx)
		if err == nil {
			c.put(key, v, size(v))
		}
		return v, err
	})
}
