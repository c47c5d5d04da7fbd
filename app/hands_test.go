package app

import (
	"context"
	"sync/atomic"
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What nobody waits for rests while a hand moves, and no longer than it shall; with no hand moving, or once its asker
// has left, it goes on at once.
func TestWorkGivesWayToHands(t *testing.T) {
	ctx := context.Background()
	now := int64(time.Hour)
	h := &hands{now: func() int64 { return now }}
	rested := func(most time.Duration) time.Duration {
		from := time.Now()
		h.giveWay(ctx, most)
		return time.Since(from)
	}
	assert.Less(t, rested(time.Minute), time.Second, "nobody has moved yet")
	h.moves()
	assert.True(t, h.moving())
	assert.GreaterOrEqual(t, rested(60*time.Millisecond), 60*time.Millisecond)
	now += int64(still)
	assert.False(t, h.moving())
	assert.Less(t, rested(time.Minute), time.Second)
	h.moves()
	ctx, leave := context.WithCancel(ctx)
	leave()
	assert.Less(t, rested(time.Minute), time.Second)
}

// However many do such work beside each other, all of it together takes a third of the time of somebody whose hand moves at most.
func TestAllWorkTogetherGivesWayToHands(t *testing.T) {
	const piece, long = 40 * time.Millisecond, 10 * time.Second
	worked := func(workers int, moving bool) time.Duration {
		var all atomic.Int64
		synctest.Test(t, func(t *testing.T) {
			ctx, end := context.WithTimeout(t.Context(), long)
			defer end()
			h := &hands{}
			for range workers {
				go func() {
					for rest := h.between(ctx); ctx.Err() == nil; rest() {
						time.Sleep(piece)
						all.Add(int64(piece))
					}
				}()
			}
			for ctx.Err() == nil {
				if moving {
					h.moves()
				}
				time.Sleep(10 * time.Millisecond)
			}
			synctest.Wait()
			time.Sleep(time.Second)
		})
		return time.Duration(all.Load())
	}
	for _, n := range []int{1, 2, 4} {
		assert.Greater(t, worked(n, false), time.Duration(n)*9*long/10, "%d beside nobody", n)
		w := worked(n, true)
		assert.LessOrEqual(t, w, long/3+time.Duration(n)*piece, "%d beside a hand", n)
		assert.Greater(t, w, long/5, "%d come to their end all the same", n)
	}
}

// What is not told apart into pieces is done by one at a time while a hand moves: a core is left for it. Otherwise nobody waits.
func TestOneIsAloneWhileAHandMoves(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		ctx, h, begun := t.Context(), &hands{}, time.Now()
		leave := h.alone(ctx)
		h.alone(ctx)()
		assert.Zero(t, time.Since(begun), "no hand moves")
		h.moves()
		go func() {
			time.Sleep(still / 2)
			leave()
		}()
		leave = h.alone(ctx)
		assert.GreaterOrEqual(t, time.Since(begun), still/2, "until the other has left")
		h.moves()
		h.alone(ctx)()
		assert.GreaterOrEqual(t, time.Since(begun), still, "until the hand rests")
		leave()
		h.moves()
		begun = time.Now()
		h.alone(ctx)()
		assert.Zero(t, time.Since(begun), "who has left is gone")
	})
}

func TestViewsUnderAHandAreHands(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	v := View{W: 1800, H: 1200, Width: 90, Height: 60, Show: "picture"}
	_, err := s.Render(ctx, id, v)
	require.NoError(t, err)
	assert.False(t, s.hands.moving(), "somebody looks")
	v.Hand = true
	_, err = s.Render(ctx, id, v)
	require.NoError(t, err)
	assert.True(t, s.hands.moving(), "somebody drags")
}

// What nobody waits for yet rests while somebody's hand moves, and not for ever.
func TestViewsAheadGiveWayToHands(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	v := View{W: 1800, H: 1200, Width: 90, Height: 60, Show: "picture", Ahead: true}
	took := func() time.Duration {
		from := time.Now()
		_, err := s.Render(ctx, id, v)
		require.NoError(t, err)
		return time.Since(from)
	}
	took() // what it reads is in memory then
	s.hands.now = func() int64 { return int64(time.Hour) }
	assert.Less(t, took(), longestAhead, "nobody's hand moves")
	s.hands.moves()
	assert.GreaterOrEqual(t, took(), longestAhead)
}

// The areas of a large mask take seconds, which nobody who drags a slider waits for.
func TestListingAreasAndLookingCloselyGiveWayToHands(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	var asked atomic.Int64 // whether a hand moves
	s.hands.now = func() int64 { return int64(time.Hour) + 0*asked.Add(1) }
	s.hands.moves()
	_, doc, err := s.picture(ctx, id, nil)
	require.NoError(t, err)
	part := doc.Parts[0].ID
	asked.Store(0)
	_, err = s.Areas(ctx, id, part, nil)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, asked.Load(), int64(5), "once a strip of 256 rows")
	asked.Store(0)
	_, err = s.Closely(ctx, id, part, nil)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, asked.Load(), int64(5))
}
