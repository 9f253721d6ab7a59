// Package parallel spreads independent work over the processors.
package parallel

import (
	"context"
	"runtime"
	"sync"
	"sync/atomic"
)

type workersKey struct{}

// WithWorkers bounds how many processors work done under the context takes; a
// number below one stands for one. Who serves many people at once leaves some
// free for those whose work is short.
func WithWorkers(ctx context.Context, n int) context.Context {
	return context.WithValue(ctx, workersKey{}, max(n, 1))
}

// Workers is how many processors work under the context may take: all of them,
// unless WithWorkers says otherwise.
func Workers(ctx context.Context) int {
	if n, ok := ctx.Value(workersKey{}).(int); ok {
		return n
	}
	return runtime.GOMAXPROCS(0)
}

// For does f for 0 to n−1 and returns when all is done. What f works on must
// share nothing, so that order and company make no difference. Once the context
// has ended no more is begun, and its error comes back; then some of the work
// has not been done.
func For(ctx context.Context, n int, f func(i int)) error {
	var next atomic.Int64
	work := func() {
		for i := int(next.Add(1)) - 1; i < n && ctx.Err() == nil; i = int(next.Add(1)) - 1 {
			f(i)
		}
	}
	workers := min(Workers(ctx), n)
	if workers <= 1 {
		work()
		return ctx.Err()
	}
	var wg sync.WaitGroup
	for range workers {
		wg.Go(work)
	}
	wg.Wait()
	return ctx.Err()
}

type pauseKey struct{}

// WithPause gives work done under the context a way to let others go first: pause comes
// back when it is its turn again, or with the context's error.
func WithPause(ctx context.Context, pause func(ctx context.Context) error) context.Context {
	return context.WithValue(ctx, pauseKey{}, pause)
}

// Pause lets others go first, where the context has a way to. Long work calls it between
// its pieces, and must not go on where it gives an error.
func Pause(ctx context.Context) error {
	if pause, ok := ctx.Value(pauseKey{}).(func(ctx context.Context) error); ok {
		return pause(ctx)
	}
	return ctx.Err()
}
