package store

import (
	"context"
	"errors"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Everybody gets the answer to their own question, of one that was put after
// they came; a failure or a panic is told to those it was asked for, and the
// next question is put all the same.
func TestGathering(t *testing.T) {
	var mu sync.Mutex
	asked, most := 0, 0
	hold := make(chan struct{})
	g := &gatherer[int, int]{ask: func(ctx context.Context, in []int) ([]int, error) {
		<-hold
		mu.Lock()
		defer mu.Unlock()
		asked++
		most = max(most, len(in))
		out := make([]int, len(in))
		for i, n := range in {
			switch n {
			case -1:
				return nil, errors.New("away")
			case -2:
				panic("broken")
			case -3:
				return out[:0], nil
			}
			out[i] = 2 * n
		}
		return out, nil
	}}
	ctx, hangUp := context.WithCancel(context.Background())
	gone := make(chan error)
	go func() {
		_, err := g.Do(ctx, 5)
		gone <- err
	}()
	hangUp()
	assert.ErrorIs(t, <-gone, context.Canceled, "who hangs up waits no longer")
	var wg sync.WaitGroup
	for n := range 500 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			got, err := g.Do(context.Background(), n)
			assert.NoError(t, err)
			assert.Equal(t, 2*n, got)
		}()
	}
	close(hold)
	wg.Wait()
	assert.Less(t, asked, 500, "questions are shared")
	assert.LessOrEqual(t, most, gatherMost)
	for n, says := range map[int]string{-1: "away", -2: "broken", -3: "not every question"} {
		_, err := g.Do(context.Background(), n)
		assert.ErrorContains(t, err, says)
	}
	got, err := g.Do(context.Background(), 4)
	assert.NoError(t, err)
	assert.Equal(t, 8, got)
}
