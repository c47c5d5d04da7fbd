// Package memo keeps what was worked out within a budget, and makes what several ask for at once one time.
package memo

import (
	"container/list"
	"context"
	"sync"
)

// Cache keeps values under keys within a budget of bytes, the least recently used out first. A key is of one type alone; nil is no
// value.
type Cache struct {
	mu     sync.Mutex
	budget int64
	used   int64
	order  *list.List // front: most recently used
	items  map[string]*list.Element
	making Makings
}

type kept struct {
	key   string
	value any
	cost  int64
}

// New returns a cache that holds so many bytes. One value stays whatever it takes.
func New(budget int64) *Cache {
	return &Cache{budget: budget, order: list.New(), items: map[string]*list.Element{}}
}

// Look returns the value under a key, if it is there.
func Look[T any](c *Cache, key string) (v T, ok bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	e, ok := c.items[key]
	if !ok {
		return v, false
	}
	c.order.MoveToFront(e)
	v, ok = e.Value.(*kept).value.(T)
	return v, ok
}

// Put keeps a value that takes so many bytes. What is already there under the key stays.
func (c *Cache) Put(key string, v any, bytes int64) {
	if v == nil {
		return
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	if _, ok := c.items[key]; ok {
		return
	}
	c.items[key] = c.order.PushFront(&kept{key, v, bytes})
	c.used += bytes
	for c.used > c.budget && c.order.Len() > 1 {
		e := c.order.Back()
		o := e.Value.(*kept)
		c.order.Remove(e)
		delete(c.items, o.key)
		c.used -= o.cost
	}
}

// Forget lets go of what is under a key, if it is there.
func (c *Cache) Forget(key string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if e, ok := c.items[key]; ok {
		c.order.Remove(e)
		delete(c.items, key)
		c.used -= e.Value.(*kept).cost
	}
}

// Get returns the value under a key, making it where it is not there; bytes tells what it takes. An error is not kept. See
// Makings.Do for who makes it and how long.
func Get[T any](ctx context.Context, c *Cache, key string, bytes func(T) int64, f func(ctx context.Context) (T, error)) (T, error) {
	if v, ok := Look[T](c, key); ok {
		return v, nil
	}
	v, err := c.making.Do(ctx, key, func(ctx context.Context) (any, error) {
		if v, ok := Look[T](c, key); ok {
			return v, nil // somebody finished between the look and the making
		}
		v, err := f(ctx)
		if err == nil {
			c.Put(key, v, bytes(v))
		}
		return v, err
	})
	made, _ := v.(T)
	return made, err
}
