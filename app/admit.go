package app

import (
	"context"
	"fmt"
)

// RenderBudget is how many bytes all views that are being rendered may take together. A view waits for its share.
const RenderBudget = 2 << 30

// admit waits until so many bytes may be taken; leave gives them back.
func (s *Studio) admit(ctx context.Context, bytes int64) (leave func(), err error) {
	if bytes > RenderBudget {
		return nil, &InputError{fmt.Sprintf("such a view takes %d MB, and all of them together may take %d; ask for a smaller one", bytes>>20, RenderBudget>>20)}
	}
	if err := s.room.Acquire(ctx, bytes); err != nil {
		return nil, err
	}
	return func() { s.room.Release(bytes) }, nil
}
