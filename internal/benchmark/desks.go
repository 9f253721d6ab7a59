package main

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"sync"
	"time"
)

// bosses are the instructors of the bench's yard: five desks at once.
const bosses = 5

func bossName(i int) string { return fmt.Sprintf("boss%d", i) }

// editsBetween is how many edits somebody makes before better orders are looked for.
const editsBetween = 12

// desks have five instructors move steps of a page about, four times a second each, for
// so long, and look for better orders now and then. It gives the 95th percentile of an
// edit, and how many were made.
func (y *yardOf) desks(machine string, long time.Duration) (p95 time.Duration, edits int, err error) {
	var mu sync.Mutex
	var took []time.Duration
	var failed error
	var wg sync.WaitGroup
	fail := func(err error) {
		mu.Lock()
		failed = err
		mu.Unlock()
	}
	until := time.Now().Add(long)
	for i, c := range y.bosses {
		page, err := y.school(c, i)
		if err != nil {
			return 0, 0, err
		}
		ask := func(path string, steps []any) (int, time.Duration, error) {
			page := cloned(page)
			page["steps"] = steps
			code, _, d, err := y.send(c, "POST", path, map[string]any{"machine_id": machine, "complaint": "no-start", "procedure": page})
			return code, d, err
		}
		wg.Go(func() {
			steps := slices.Clone(page["steps"].([]any))
			for k := 0; time.Now().Before(until); k++ {
				at := 1 + k%(len(steps)-2)
				steps[at], steps[at+1] = steps[at+1], steps[at]
				code, d, err := ask("/api/evaluations", steps)
				if err != nil || code != http.StatusOK {
					fail(fmt.Errorf("an edit answered %d: %w", code, err))
					return
				}
				mu.Lock()
				took = append(took, d)
				mu.Unlock()
				time.Sleep(250*time.Millisecond - min(d, 250*time.Millisecond))
				if k%editsBetween < editsBetween-1 {
					continue
				}
				if _, _, err := ask("/api/better-orders", steps); err != nil {
					fail(err)
					return
				}
			}
		})
	}
	wg.Wait()
	if failed != nil || len(took) == 0 {
		return 0, 0, failed
	}
	slices.Sort(took)
	return took[len(took)*95/100], len(took), nil
}

// school is the page of one of the schools, as it is sent.
func (y *yardOf) school(c *http.Client, i int) (map[string]any, error) {
	_, raw, _, err := y.send(c, "GET", "/api/schools?family=f4-bowl&complaint=no-start", nil)
	if err != nil {
		return nil, err
	}
	var all []map[string]any
	if err := json.Unmarshal(raw, &all); err != nil {
		return nil, err
	}
	return all[i%len(all)], nil
}

func cloned(m map[string]any) map[string]any {
	out := map[string]any{}
	for k, v := range m {
		out[k] = v
	}
	return out
}
