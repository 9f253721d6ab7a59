package heavy

import (
	"context"
	"sync"
)

// A Flight does the same work once for all who ask for it at the same time. The
// work goes on while anybody waits for it, and its context ends when the last
// has gone away. The zero value is ready; it may be used from any goroutine.
//
// It is not golang.org/x/sync/singleflight, whose work runs under the context of
// whoever came first, and ends for all when that one hangs up.
type Flight[V any] struct {
	mu    sync.Mutex
	calls map[string]*call[V]
}

type call[V any] struct {
	done    chan struct{}
	cancel  context.CancelFunc
	waiting int
	value   V
	err     error
}

// Do gives what f comes to for a key, from one call of f for all who ask for
// the key before it ends. The context's error comes back if it ends first.
func (g *Flight[V]) Do(ctx context.Context, key string, f func(ctx context.Context) (V, error)) (V, error) {
	g.mu.Lock()
	c, flying := g.calls[key]
	if !flying {
		// What is done for all is not one caller's, but for its values.
		shared, cancel := context.WithCancel(context.WithoutCancel(ctx))
		c = &call[V]{done: make(chan struct{}), cancel: cancel}
		if g.calls == nil {
			g.calls = map[string]*call[V]{}
		}
		g.calls[key] = c
		go func() {
			c.value, c.err = f(shared)
			g.mu.Lock()
			if g.calls[key] == c {
				delete(g.calls, key)
			}
			g.mu.Unlock()
			close(c.done)
			cancel()
		}()
	}
	c.waiting++
	g.mu.Unlock()
	select {
	case <-c.done:
		return c.value, c.err
	case <-ctx.Done():
		g.mu.Lock()
		if c.waiting--; c.waiting == 0 {
			c.cancel()
			if g.calls[key] == c {
				delete(g.calls, key) // who comes now begins anew
			}
		}
		g.mu.Unlock()
		var none V
		return none, ctx.Err()
	}
}
