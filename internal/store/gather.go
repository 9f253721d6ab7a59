package store

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"
)

const (
	// gatherMost is how many callers one question answers at most.
	gatherMost = 64
	// gatherTime ends a question, which no caller's context bounds.
	gatherTime = 15 * time.Second
)

// A gatherer asks for several callers at once. Who comes while nothing is being
// asked is asked for alone and at once; who comes meanwhile is answered by the
// next question. It waits for nobody, so a quiet server is as quick as without
// it, and every answer is of a question that was put after its caller came.
type gatherer[I, O any] struct {
	// ask answers in the order of what it is asked, or fails for all.
	ask func(ctx context.Context, in []I) ([]O, error)

	mu      sync.Mutex
	waiting []*asked[I, O]
	flying  bool
}

type asked[I, O any] struct {
	in   I
	out  O
	err  error
	done chan struct{}
}

// Do gives the answer for one. When its context ends first, its error comes
// back, and the question goes on for the others.
func (g *gatherer[I, O]) Do(ctx context.Context, in I) (O, error) {
	a := &asked[I, O]{in: in, done: make(chan struct{})}
	g.mu.Lock()
	g.waiting = append(g.waiting, a)
	if !g.flying {
		g.flying = true
		go g.fly()
	}
	g.mu.Unlock()
	select {
	case <-a.done:
		return a.out, a.err
	case <-ctx.Done():
		var none O
		return none, ctx.Err()
	}
}

// fly asks until nobody waits.
func (g *gatherer[I, O]) fly() {
	for {
		g.mu.Lock()
		n := min(len(g.waiting), gatherMost)
		if n == 0 {
			g.flying = false
			g.mu.Unlock()
			return
		}
		batch := g.waiting[:n:n]
		g.waiting = g.waiting[n:]
		g.mu.Unlock()
		g.answer(batch)
	}
}

func (g *gatherer[I, O]) answer(batch []*asked[I, O]) {
	ctx, cancel := context.WithTimeout(context.Background(), gatherTime)
	defer cancel()
	in := make([]I, len(batch))
	for i, a := range batch {
		in[i] = a.in
	}
	out, err := g.safely(ctx, in)
	for i, a := range batch {
		if a.err = err; err == nil {
			a.out = out[i]
		}
		close(a.done)
	}
}

// safely makes an error of a panic: it is in no request's goroutine, where one
// would be caught.
func (g *gatherer[I, O]) safely(ctx context.Context, in []I) (out []O, err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("database: %v", p)
		}
	}()
	out, err = g.ask(ctx, in)
	if err == nil && len(out) != len(in) {
		err = errors.New("database: not every question was answered")
	}
	return out, err
}
