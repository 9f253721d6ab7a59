package heavy

import (
	"context"
	"errors"
	"runtime"
	"sync"
	"sync/atomic"
	"testing"
	"testing/synctest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/parallel"
)

// However many ask, no more runs at once than the pool has room for, and one
// who asks too often is told so while others still get in.
func TestPoolIsBounded(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		p := NewPool()
		var now, most, busy atomic.Int64
		hold := make(chan struct{})
		ask := func(who string) {
			err := p.Do(t.Context(), who, func(ctx context.Context) error {
				most.Store(max(most.Load(), now.Add(1)))
				assert.LessOrEqual(t, parallel.Workers(ctx), max(runtime.GOMAXPROCS(0)-1, 1))
				<-hold
				now.Add(-1)
				return nil
			})
			if errors.Is(err, ErrBusy) {
				busy.Add(1)
			}
		}
		for range 20 {
			go ask("greedy")
		}
		synctest.Wait()
		assert.EqualValues(t, 20-mostOfOne, busy.Load())
		go ask("other")
		synctest.Wait()
		assert.EqualValues(t, 20-mostOfOne, busy.Load(), "another is let in to wait")
		close(hold)
		synctest.Wait()
		assert.LessOrEqual(t, most.Load(), int64(max(runtime.GOMAXPROCS(0)-1, 1)))
		assert.Empty(t, p.waiting)
	})
}

// Who hangs up while waiting leaves the line.
func TestPoolLetsGo(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		p := NewPool()
		hold := make(chan struct{})
		for range runtime.GOMAXPROCS(0) {
			go p.Do(t.Context(), "a", func(context.Context) error { <-hold; return nil })
		}
		synctest.Wait()
		ctx, cancel := context.WithCancel(t.Context())
		var err error
		go func() { err = p.Do(ctx, "b", func(context.Context) error { return nil }) }()
		synctest.Wait()
		cancel()
		synctest.Wait()
		assert.ErrorIs(t, err, context.Canceled)
		close(hold)
	})
}

// The same asked for by many is done once; it goes on when the first hangs up,
// and ends when the last has.
func TestFlight(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		var g Flight[int]
		var calls atomic.Int64
		var ended atomic.Bool
		work := func(ctx context.Context) (int, error) {
			calls.Add(1)
			<-ctx.Done()
			ended.Store(true)
			return 0, ctx.Err()
		}
		first, hangUp := context.WithCancel(t.Context())
		second, hangUpToo := context.WithCancel(t.Context())
		for _, ctx := range []context.Context{first, second, second} {
			go g.Do(ctx, "k", work)
		}
		synctest.Wait()
		assert.EqualValues(t, 1, calls.Load())
		hangUp()
		synctest.Wait()
		assert.False(t, ended.Load(), "others still wait")
		hangUpToo()
		synctest.Wait()
		assert.True(t, ended.Load())
		v, err := g.Do(t.Context(), "k", func(context.Context) (int, error) { return 7, nil })
		require.NoError(t, err)
		assert.Equal(t, 7, v, "it begins anew")
	})
}

// A cache never holds more than its bytes, whatever is put in, and lets go of
// what was not asked for longest.
func TestCacheIsBoundedInBytes(t *testing.T) {
	c := NewCache[int, string](100)
	var wg sync.WaitGroup
	for g := range 4 {
		wg.Go(func() {
			for i := range 500 {
				c.Put(i%37, "x", int64(1+(i*7+g)%60))
				c.Get((i * 3) % 37)
				if i%11 == 0 {
					c.Take(i % 37)
				}
				assert.LessOrEqual(t, c.Bytes(), int64(100))
			}
		})
	}
	wg.Wait()
	c = NewCache[int, string](100)
	c.Put(1, "a", 40)
	c.Put(2, "b", 40)
	c.Get(1)
	c.Put(3, "c", 40)
	_, kept := c.Get(1)
	_, gone := c.Get(2)
	assert.True(t, kept && !gone)
	c.Put(4, "too large", 101)
	_, ok := c.Get(4)
	assert.False(t, ok)
	c.Drop(1)
	c.Drop(3)
	assert.Zero(t, c.Bytes())
}

// Long work lets whoever waits go first between its pieces, gives the slot back once
// however it ends, and does not go on where its context has ended.
func TestLongWorkPauses(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		p := NewPool()
		var order []string
		var mu sync.Mutex
		note := func(what string) {
			mu.Lock()
			defer mu.Unlock()
			order = append(order, what)
		}
		hold := make(chan struct{})
		full := runtime.GOMAXPROCS(0) + 1
		for i := range full { // every slot is taken by long work
			go p.Do(t.Context(), string(rune('a'+i)), func(ctx context.Context) error {
				<-hold
				err := parallel.Pause(ctx)
				note("second piece")
				return err
			})
		}
		synctest.Wait()
		go p.Do(t.Context(), "short", func(context.Context) error { note("short"); return nil })
		synctest.Wait()
		close(hold)
		synctest.Wait()
		require.Len(t, order, full+1)
		assert.NotEqual(t, "short", order[full], "it did not wait for all of the long work")
		ctx, cancel := context.WithCancel(t.Context())
		err := p.Do(ctx, "a", func(ctx context.Context) error {
			cancel()
			return parallel.Pause(ctx)
		})
		require.ErrorIs(t, err, context.Canceled)
		assert.NoError(t, p.Do(t.Context(), "a", func(context.Context) error { return nil }), "the slot is free again")
	})
}
