package memo

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

func TestTheCacheForgetsTheLeastRecentlyUsedAndMakesOnce(t *testing.T) {
	ctx := context.Background()
	c := New(100)
	size := func(any) int64 { return 40 }
	for _, k := range []string{"a", "b"} {
		_, err := Get(ctx, c, k, size, func(context.Context) (any, error) { return k, nil })
		require.NoError(t, err)
	}
	Look[any](c, "a")
	_, err := Get(ctx, c, "c", size, func(context.Context) (any, error) { return "c", nil })
	require.NoError(t, err)
	_, there := Look[any](c, "b")
	assert.False(t, there)
	_, there = Look[any](c, "a")
	assert.True(t, there)
	_, err = Get(ctx, c, "bad", size, func(context.Context) (any, error) { return nil, errors.New("no") })
	require.Error(t, err)
	_, there = Look[any](c, "bad")
	assert.False(t, there, "a failure is not remembered")

	var made atomic.Int32
	begin := make(chan struct{})
	var wg sync.WaitGroup
	for range 8 {
		wg.Go(func() {
			<-begin
			_, err := Get(ctx, c, "slow", size, func(context.Context) (any, error) { made.Add(1); return 1, nil })
			assert.NoError(t, err)
		})
	}
	close(begin)
	wg.Wait()
	assert.EqualValues(t, 1, made.Load(), "what is remembered is not made again")
}

func TestWhatIsMadeForSeveralEndsOnceTheLastOfThemHasLeft(t *testing.T) {
	c := New(100)
	size := func(any) int64 { return 1 }
	var made atomic.Int32
	until := func(ctx context.Context) (any, error) { // it would never end by itself
		made.Add(1)
		<-ctx.Done()
		return nil, raster.ErrStopped
	}
	leave := make([]context.CancelFunc, 3)
	ended := make([]chan error, 3)
	for i := range leave {
		ctx, cancel := context.WithCancel(context.Background())
		leave[i], ended[i] = cancel, make(chan error, 1)
		go func() {
			_, err := Get(ctx, c, "k", size, until)
			ended[i] <- err
		}()
		require.Eventually(t, func() bool {
			c.making.mu.Lock()
			defer c.making.mu.Unlock()
			return c.making.on["k"] != nil && c.making.on["k"].waiting == i+1
		}, 5*time.Second, time.Millisecond)
	}
	leave[1]()
	require.ErrorIs(t, <-ended[1], context.Canceled, "who waits for another leaves at once")
	leave[0]()
	// The one who makes it has left, but another still waits: it goes on.
	select {
	case err := <-ended[0]:
		require.Fail(t, "it ended although somebody waits", err)
	case err := <-ended[2]:
		require.Fail(t, "it ended although somebody waits", err)
	case <-time.After(3 * grace):
	}
	leave[2]()
	require.Error(t, <-ended[0])
	require.Error(t, <-ended[2])
	assert.EqualValues(t, 1, made.Load())
	// Who comes afterwards begins anew, and a hand that asks again at once finds it still being made.
	again, cancel := context.WithCancel(context.Background())
	slow := func(ctx context.Context) (any, error) {
		made.Add(1)
		select {
		case <-ctx.Done():
			return nil, raster.ErrStopped
		case <-time.After(4 * grace):
			return "made", nil
		}
	}
	go func() { _, _ = Get(again, c, "k", size, slow) }()
	require.Eventually(t, func() bool { return made.Load() == 2 }, 5*time.Second, time.Millisecond)
	cancel()
	v, err := Get(context.Background(), c, "k", size, slow)
	require.NoError(t, err)
	assert.Equal(t, "made", v)
	assert.EqualValues(t, 2, made.Load())
}

func TestAPanicOfWhatIsMadeReachesAllWhoWait(t *testing.T) {
	c := New(100)
	begin, in := make(chan struct{}), make(chan struct{})
	first := make(chan any, 1)
	go func() {
		defer func() { first <- recover() }()
		_, _ = Get(context.Background(), c, "k", nil, func(context.Context) (any, error) { close(in); <-begin; panic("broken") })
	}()
	<-in
	second := make(chan error, 1)
	go func() {
		_, err := Get(context.Background(), c, "k", nil, func(context.Context) (any, error) { return nil, nil })
		second <- err
	}()
	require.Eventually(t, func() bool {
		c.making.mu.Lock()
		defer c.making.mu.Unlock()
		return c.making.on["k"].waiting == 2
	}, 5*time.Second, time.Millisecond)
	close(begin)
	assert.Equal(t, "broken", <-first)
	require.ErrorContains(t, <-second, "broken")
	_, there := Look[any](c, "k")
	assert.False(t, there)
}

func TestNilIsNoValue(t *testing.T) {
	c := New(100)
	made := 0
	for range 2 {
		v, err := Get(context.Background(), c, "k", func(any) int64 { return 1 }, func(context.Context) (any, error) { made++; return nil, nil })
		require.NoError(t, err)
		assert.Nil(t, v)
	}
	assert.Equal(t, 2, made)
	_, there := Look[any](c, "k")
	assert.False(t, there)
}

func TestWhatIsForgottenMakesRoom(t *testing.T) {
	c := New(10)
	c.Put("a", 1, 6)
	c.Forget("a")
	c.Forget("never there")
	_, ok := Look[int](c, "a")
	assert.False(t, ok)
	c.Put("b", 2, 4)
	c.Put("c", 3, 6)
	for _, k := range []string{"b", "c"} {
		_, ok := Look[int](c, k)
		assert.True(t, ok, k)
	}
}
