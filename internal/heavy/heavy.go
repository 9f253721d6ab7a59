// Package heavy keeps work that takes long from taking everything: it is done a
// little at a time, once for all who ask for the same, given up when nobody
// waits for it any more, and what is kept of it is bounded in bytes.
package heavy

import (
	"context"
	"errors"
	"runtime"
	"sync"

	"golang.org/x/sync/semaphore"

	"zanjero/core/parallel"
)

// ErrBusy: too much is waiting already; the same may be asked again later.
var ErrBusy = errors.New("too much work is waiting")

// A Pool does heavy work on all processors but one, which is left to those whose
// work is short. The zero value is not of use; a pool may be used from any
// goroutine.
type Pool struct {
	slots *semaphore.Weighted
	// workers is how many processors one piece of work takes.
	workers int
	mu      sync.Mutex
	// waiting is how much waits or is done, by who asked, and all is the sum.
	waiting map[string]int
	all     int
}

// Limits of what waits: for one who asks, and in all.
const (
	mostOfOne = 4
	mostInAll = 64
)

// NewPool makes a pool for this machine's processors.
func NewPool() *Pool {
	slots := max(runtime.GOMAXPROCS(0)-1, 1)
	workers := max(slots/2, 1)
	return &Pool{slots: semaphore.NewWeighted(int64(slots / workers)), workers: workers, waiting: map[string]int{}}
}

// Do does f when its turn comes, with a context that bounds the processors it
// takes. It gives ErrBusy at once where who has as much waiting as anybody may,
// and the context's error if that ends first. One who asks often does not keep
// others waiting longer than for one piece of work each; work that takes long lets those
// who wait go first between its pieces (parallel.Pause).
func (p *Pool) Do(ctx context.Context, who string, f func(ctx context.Context) error) error {
	p.mu.Lock()
	if p.waiting[who] >= mostOfOne || p.all >= mostInAll {
		p.mu.Unlock()
		return ErrBusy
	}
	p.waiting[who]++
	p.all++
	p.mu.Unlock()
	defer func() {
		p.mu.Lock()
		defer p.mu.Unlock()
		p.all--
		if p.waiting[who]--; p.waiting[who] == 0 {
			delete(p.waiting, who)
		}
	}()
	if err := p.slots.Acquire(ctx, 1); err != nil {
		return err
	}
	held := true
	defer func() {
		if held {
			p.slots.Release(1)
		}
	}()
	return f(parallel.WithPause(parallel.WithWorkers(ctx, p.workers), func(ctx context.Context) error {
		p.slots.Release(1)
		held = p.slots.Acquire(ctx, 1) == nil
		return ctx.Err()
	}))
}
