package app

import (
	"context"
	"fmt"
	"runtime/debug"

	"episema/core/isolate"
)

// prepare works out, in the background, what a picture is made of, so that a first stroke finds it done. One picture at a time
// is prepared; others are once they are viewed again.
func (s *Studio) prepare(sha []byte) {
	key := string(sha)
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.prepared[key] || s.preparing {
		return
	}
	s.preparing = true
	if len(s.prepared) > 1000 {
		clear(s.prepared)
	}
	s.prepared[key] = true
	go func() {
		err := func() (err error) {
			defer func() {
				if v := recover(); v != nil {
					err = fmt.Errorf("panic: %v\n%s", v, debug.Stack())
				}
			}()
			p, release, err := s.pyramid(context.Background(), sha)
			if err != nil {
				return err
			}
			defer release()
			return isolate.Prepare(p, memo{context.Background(), s.memory, key})
		}()
		s.mu.Lock()
		defer s.mu.Unlock()
		s.preparing = false
		if err != nil {
			delete(s.prepared, key)
			s.Log.Warn("a picture was not prepared", "error", err)
		}
	}()
}
