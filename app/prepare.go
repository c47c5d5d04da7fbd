package app

import (
	"context"
	"fmt"
	"runtime/debug"
	"sync"

	"episema/core/isolate"
)

// ahead knows which pictures it was worked out of what they are made of.
type ahead struct {
	mu   sync.Mutex
	done map[string]bool // by SHA
	busy bool
}

// prepare works out, in the background, what a picture is made of, so that a first stroke finds it done. One picture at a time
// is prepared; others are once they are viewed again.
func (s *Studio) prepare(sha []byte) {
	key := string(sha)
	a := &s.ahead
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.done[key] || a.busy {
		return
	}
	a.busy = true
	if a.done == nil || len(a.done) > 1000 {
		a.done = map[string]bool{}
	}
	a.done[key] = true
	go func() {
		err := func() (err error) {
			defer func() {
				if v := recover(); v != nil {
					err = fmt.Errorf("panic: %v\n%s", v, debug.Stack())
				}
			}()
			p, release, err := s.derived.Pyramid(context.Background(), sha)
			if err != nil {
				return err
			}
			defer release()
			return isolate.Prepare(p, picked{context.Background(), s.memory, key})
		}()
		a.mu.Lock()
		defer a.mu.Unlock()
		a.busy = false
		if err != nil {
			delete(a.done, key)
			s.Log.Warn("a picture was not prepared", "error", err)
		}
	}()
}
