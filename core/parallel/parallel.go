// Package parallel spreads independent work over the processors.
package parallel

import (
	"runtime"
	"sync"
	"sync/atomic"
)

// For does f for 0 to n−1 on all processors and returns when all is done. What
// f works on must share nothing, so that order and company make no difference.
func For(n int, f func(i int)) {
	var next atomic.Int64
	var wg sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
				f(i)
			}
		}()
	}
	wg.Wait()
}
