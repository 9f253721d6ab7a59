package main

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"zanjero/internal/store"
)

// floors is how many classes are watched at once.
const floors = 3

// watching is what those who watch have seen. They do as a browser does: who is told that a
// bench has changed asks for it, and for all that have changed meanwhile with the next.
type watching struct {
	// stop ends all that watches.
	stop func()
	mu   sync.Mutex
	// base is the version of each bench before anything was sent, due the moments at which
	// what comes to a version was sent.
	base  map[uuid.UUID]int64
	first map[uuid.UUID]int
	due   map[uuid.UUID]map[int64]time.Time
	took  []time.Duration
	err   error
}

// watchFloors makes a class of each job, and watches them all.
func watchFloors(ctx context.Context, at string, st *store.Store, attempts []uuid.UUID) (*watching, error) {
	ctx, stop := context.WithCancel(ctx)
	w := &watching{stop: stop, base: map[uuid.UUID]int64{}, first: map[uuid.UUID]int{}, due: map[uuid.UUID]map[int64]time.Time{}}
	jobs, err := st.SQL().QueryContext(ctx, "SELECT id FROM jobs ORDER BY number")
	if err != nil {
		return nil, err
	}
	var ids []uuid.UUID
	for jobs.Next() {
		var id uuid.UUID
		if err := jobs.Scan(&id); err != nil {
			return nil, err
		}
		ids = append(ids, id)
	}
	if err := jobs.Err(); err != nil {
		return nil, err
	}
	for _, job := range ids {
		class := uuid.New()
		if _, err := st.SQL().ExecContext(ctx, `INSERT INTO classes (id, sourced_id, title, term, starts, ends)
			VALUES ($1, $2, 'C', 'T', current_date, current_date + 1)`, class, class.String()); err != nil {
			return nil, err
		}
		if _, err := st.SQL().ExecContext(ctx, "UPDATE jobs SET class_id = $1 WHERE id = $2", class, job); err != nil {
			return nil, err
		}
		c, err := signIn(at, bossName(0))
		if err != nil {
			return nil, err
		}
		floor := at + "/api/classes/" + class.String() + "/floor"
		ready := make(chan error, 1)
		go w.watch(ctx, c, floor, job, ready)
		if err := <-ready; err != nil {
			return nil, err
		}
	}
	for _, id := range attempts {
		v, _, err := st.VersionOf(ctx, id)
		if err != nil {
			return nil, err
		}
		w.base[id], w.due[id] = v, map[int64]time.Time{}
	}
	return w, nil
}

// sent notes that the act at a place of a ledger goes off now.
func (w *watching) sent(attempt uuid.UUID, place int) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if _, begun := w.first[attempt]; !begun {
		w.first[attempt] = place
	}
	w.due[attempt][w.base[attempt]+int64(place-w.first[attempt]+1)] = time.Now()
}

// saw notes that a bench was seen at a version.
func (w *watching) saw(attempt uuid.UUID, version int64) {
	w.mu.Lock()
	defer w.mu.Unlock()
	for v, at := range w.due[attempt] {
		if v <= version {
			w.took = append(w.took, time.Since(at))
			delete(w.due[attempt], v)
		}
	}
}

// arrived waits until everything that was sent was seen, and says how long each took.
func (w *watching) arrived() ([]time.Duration, error) {
	for range 100 {
		w.mu.Lock()
		left := 0
		for _, d := range w.due {
			left += len(d)
		}
		err := w.err
		w.mu.Unlock()
		if err != nil {
			return nil, err
		}
		if left == 0 {
			slices.Sort(w.took)
			return w.took, nil
		}
		time.Sleep(100 * time.Millisecond)
	}
	return nil, fmt.Errorf("an act never came to its floor")
}

// listen holds the stream of a bench, until the watching ends.
func (w *watching) listen(ctx context.Context, c *http.Client, at string) error {
	ctx, stop := context.WithCancel(ctx)
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, at, nil)
	if err != nil {
		stop()
		return err
	}
	res, err := c.Do(req)
	if err != nil {
		stop()
		return err
	}
	floors := w.stop
	w.stop = func() { stop(); floors() }
	go func() {
		defer res.Body.Close()
		_, _ = io.Copy(io.Discard, res.Body)
	}()
	return nil
}

func (w *watching) watch(ctx context.Context, c *http.Client, floor string, giving uuid.UUID, ready chan<- error) {
	fail := func(err error) {
		w.mu.Lock()
		defer w.mu.Unlock()
		if w.err == nil && ctx.Err() == nil {
			w.err = err
		}
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, floor+"/changes?giving="+giving.String(), nil)
	if err != nil {
		ready <- err
		return
	}
	res, err := c.Do(req)
	if err != nil {
		ready <- err
		return
	}
	defer res.Body.Close()
	wanted := make(chan map[string]int64, 1000)
	go func() {
		for these := range wanted {
			for more := true; more; { // all that has come meanwhile
				select {
				case now, open := <-wanted:
					for id, v := range now {
						these[id] = v
					}
					more = open
				default:
					more = false
				}
			}
			if err := w.fetch(ctx, c, floor, giving, these); err != nil {
				fail(err)
			}
		}
	}()
	defer close(wanted)
	begun, lines := false, bufio.NewScanner(res.Body)
	lines.Buffer(nil, 1<<20)
	for lines.Scan() {
		data, is := strings.CutPrefix(lines.Text(), "data: ")
		if !is {
			continue
		}
		versions := map[string]int64{}
		if err := json.Unmarshal([]byte(data), &versions); err != nil {
			fail(err)
		}
		if !begun {
			begun = true
			ready <- nil
			continue
		}
		wanted <- versions
	}
	fail(fmt.Errorf("a floor ended: %v", lines.Err()))
}

func (w *watching) fetch(ctx context.Context, c *http.Client, floor string, giving uuid.UUID, these map[string]int64) error {
	q := url.Values{"giving": {giving.String()}}
	for id := range these {
		q.Add("attempt", id)
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, floor+"?"+q.Encode(), nil)
	if err != nil {
		return err
	}
	res, err := c.Do(req)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	var out struct {
		Benches []struct {
			Attempt uuid.UUID
			Version int64
		}
	}
	if err := json.NewDecoder(res.Body).Decode(&out); err != nil {
		return err
	}
	for _, b := range out.Benches {
		w.saw(b.Attempt, b.Version)
	}
	return nil
}
