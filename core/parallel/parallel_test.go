package parallel_test

import (
	"context"
	"errors"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"

	"zanjero/core/parallel"
)

// Whatever the number of workers each piece is done once, and by no more than were allowed.
func TestEachIsDoneOnce(t *testing.T) {
	for _, n := range []int{0, 1, 7, 100} {
		for _, workers := range []int{-1, 1, 3, 200} {
			ctx := parallel.WithWorkers(t.Context(), workers)
			assert.Equal(t, max(workers, 1), parallel.Workers(ctx))
			done := make([]atomic.Int32, n)
			var now, most atomic.Int32
			assert.NoError(t, parallel.For(ctx, n, func(i int) {
				for at := now.Add(1); at > most.Load(); {
					most.Store(at)
				}
				done[i].Add(1)
				now.Add(-1)
			}))
			for i := range done {
				assert.EqualValues(t, 1, done[i].Load(), "%d of %d by %d", i, n, workers)
			}
			assert.LessOrEqual(t, int(most.Load()), max(workers, 1))
		}
	}
}

// Once its context has ended no more is begun, and the error says so.
func TestEndsWithItsContext(t *testing.T) {
	ctx, stop := context.WithCancel(t.Context())
	var done atomic.Int32
	err := parallel.For(parallel.WithWorkers(ctx, 2), 1000, func(int) {
		if done.Add(1) == 5 {
			stop()
		}
	})
	assert.ErrorIs(t, err, context.Canceled)
	assert.LessOrEqual(t, done.Load(), int32(6), "but for what the other was at")
}

// A pause is the context's own; without one it is only whether it has ended.
func TestPauseLetsOthersGoFirst(t *testing.T) {
	assert.NoError(t, parallel.Pause(t.Context()))
	ended, stop := context.WithCancel(t.Context())
	stop()
	assert.ErrorIs(t, parallel.Pause(ended), context.Canceled)
	closing := errors.New("closing")
	assert.ErrorIs(t, parallel.Pause(parallel.WithPause(t.Context(), func(context.Context) error { return closing })), closing)
}
