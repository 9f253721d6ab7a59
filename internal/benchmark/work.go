package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/google/uuid"

	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/internal/cluster"
	"zanjero/internal/httpapi"
	"zanjero/internal/password"
	"zanjero/internal/store"
	"zanjero/web"
)

// lesson is a job with a blocked jet on a family's own sheet.
func lesson() *scenario.Scenario {
	fam := catalogue.Standard().Families[0]
	return &scenario.Scenario{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}, Faults: []machine.FaultSpec{benchFault},
		Words: "x", Claim: "no-start", LimitMinutes: 90, LimitMoney: 40, Mode: scenario.ModeGuided}
}

// longDay is thirty acts of somebody who looks at much before they find it.
func longDay() []ledger.Event {
	take := func(test string) ledger.Event { return ledger.Event{Kind: ledger.EventTake, Test: test} }
	out := []ledger.Event{{Kind: ledger.EventControl, Control: map[string]any{"choke": 1.0}}}
	for _, test := range []string{"start-attempt", "look-fuel", "look-over", "ask-history", "look-switches", "vent-blow", "start-attempt", "look-oil",
		"pull-feel", "look-fins", "plug-look", "start-attempt"} {
		if catalogue.Standard().Test(test) != nil {
			out = append(out, take(test))
		}
	}
	for _, reach := range []string{"tank", "fuel-line", "kill-circuit", "plug", "jets"} {
		out = append(out, ledger.Event{Kind: ledger.EventMark, Reach: reach, Mark: ledger.MarkSuspect})
	}
	out = append(out, take("jet-look"), ledger.Event{Kind: ledger.EventEntry, Word: "none"},
		ledger.Event{Kind: ledger.EventRepair, Repair: "replace", Reach: "jets"}, take("start-attempt"))
	for len(out) < 30 {
		out = append(out, take("start-attempt"))
	}
	return out
}

// misreadDay is a shorter one, with four looks called what nobody could call them.
func misreadDay() []ledger.Event {
	out := longDay()[:8]
	for _, x := range [][2]string{{"look-oil", "over"}, {"look-fins", "packed"}, {"plug-look", "cracked"}, {"jet-look", "oversize"}} {
		out = append(out, ledger.Event{Kind: ledger.EventTake, Test: x[0]}, ledger.Event{Kind: ledger.EventEntry, Word: x[1]})
	}
	return append(out, ledger.Event{Kind: ledger.EventRepair, Repair: "clean", Reach: "jets"}, ledger.Event{Kind: ledger.EventTake, Test: "start-attempt"})
}

// readRightly is an entry that says what was shown.
func readRightly(e ledger.Event, o *bench.Observation) ledger.Event {
	switch {
	case o.Word != nil:
		e.Word = *o.Word
	case o.Value != nil:
		e.Reading = strconv.FormatFloat(*o.Value, 'f', 3, 64)
	}
	return e
}

// judged measures what is worked out for one attempt: its debrief, and the tests
// that would tell most.
func judged() ([]row, error) {
	ctx := context.Background()
	sc := lesson()
	pop, err := sc.Population(ctx, nil)
	if err != nil {
		return nil, err
	}
	l, err := sc.Ledger(7)
	if err != nil {
		return nil, err
	}
	var done, right []ledger.Event // as it was written down, and as it would be without a slip
	for _, e := range longDay() {
		better := e
		if o := l.Latest(); e.Kind == ledger.EventEntry && o != nil && o.Obs != nil {
			better = readRightly(e, o.Obs)
		}
		if l.Apply(e) == nil { // what cannot be done is left out
			done, right = append(done, e), append(right, better)
		}
	}
	var hand assess.HandOver
	hand.Findings = []assess.Finding{{Reach: "jets", Fault: benchFault.ID, Filing: assess.Root}}
	hand.Verdict, hand.ProofSeq = assess.Repaired, len(done)-1
	answers, err := pop.Answers(ctx) // as the server keeps them
	if err != nil {
		return nil, err
	}
	refer, err := authoring.Refer(ctx, sc, answers)
	if err != nil {
		return nil, err
	}
	p := newPace()
	const times, between = 5, 20
	var debrief, slipped, hint time.Duration
	p.look(between)
	for range times {
		for _, x := range []struct {
			events []ledger.Event
			took   *time.Duration
		}{{right, &debrief}, {done, &slipped}} {
			began := time.Now()
			if _, err := assess.Assess(ctx, assess.Input{Scenario: sc, Seed: 7, Events: x.events, Hand: hand, Answers: answers, Reference: refer}); err != nil {
				return nil, err
			}
			*x.took += time.Since(began) / times
			p.look(between)
		}
	}
	given := p.share()
	told := 0
	for range times { // on a warm population, with a ledger that it has not seen
		hints := sc.Hints(pop)
		if _, err = hints.Next(ctx, l.Lines()[:1]); err != nil {
			return nil, err
		}
		p.look(between)
		began := time.Now()
		said, err := hints.Next(ctx, l.Lines()[:2])
		if err != nil {
			return nil, err
		}
		hint += time.Since(began) / times
		told = len(said)
		p.look(between)
	}
	// Work is what it takes with the processors to itself.
	return []row{
		{"debrief of an attempt of thirty acts", ms(debrief) * given, "ms", "≤ 700 of work", fmt.Sprintf("%d acts; %.0f ms by the clock", len(done), ms(debrief))},
		{"the same with a slip, which is weighed as read right too", ms(slipped) * given, "ms", "", fmt.Sprintf("%.0f ms by the clock", ms(slipped))},
		{"what tells most, warm", ms(hint) * p.share(), "ms", "≤ 150 of work", fmt.Sprintf("of %d tests; %.0f ms by the clock", told, ms(hint))},
	}, nil
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1e3 }

// yardOf is a whole server on a durable database with people who have a job each.
type yardOf struct {
	url      string
	clients  []*http.Client
	attempts []uuid.UUID
	bosses   []*http.Client
	store    *store.Store
	stop     func()
}

func openYard(people int) (*yardOf, error) {
	ctx := context.Background()
	dir, err := os.MkdirTemp("/var/tmp", "zanjero-bench-")
	if err != nil {
		return nil, err
	}
	if err := os.Chmod(dir, 0o755); err != nil {
		return nil, err
	}
	c, err := cluster.Start(ctx, cluster.Options{Dir: filepath.Join(dir, "pg")})
	if err != nil {
		return nil, err
	}
	st, err := store.Open(ctx, c.URL)
	if err != nil {
		return nil, err
	}
	cheap := password.Cost{MemoryKiB: 64, Passes: 1}
	srv, h, err := httpapi.New(ctx, httpapi.Options{Store: st, Web: web.Dist(), Loopback: true, Hashing: cheap})
	if err != nil {
		return nil, err
	}
	url, stopServing, err := serve(h)
	if err != nil {
		return nil, err
	}
	y := &yardOf{url: url, store: st, stop: func() { stopServing(); srv.Close(); st.Close(); c.Stop(); os.RemoveAll(dir) }}
	y.clients, y.attempts, err = enrol(ctx, url, st, srv, cheap, people, people)
	for i := 0; err == nil && i < bosses; i++ {
		var c *http.Client
		c, err = signIn(url, bossName(i))
		y.bosses = append(y.bosses, c)
	}
	return y, err
}

// send asks for something and gives the status and how long it took.
func (y *yardOf) send(c *http.Client, method, path string, body any) (int, []byte, time.Duration, error) {
	began := time.Now()
	raw, err := json.Marshal(body)
	if err != nil {
		return 0, nil, 0, err
	}
	req, err := http.NewRequest(method, y.url+path, bytes.NewReader(raw))
	if err != nil {
		return 0, nil, 0, err
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := c.Do(req)
	if err != nil {
		return 0, nil, 0, err
	}
	defer res.Body.Close()
	answer, err := io.ReadAll(res.Body)
	return res.StatusCode, answer, time.Since(began), err
}

func (y *yardOf) act(i, k int, e any) (time.Duration, error) {
	code, raw, took, err := y.send(y.clients[i], "POST", "/api/attempts/"+y.attempts[i].String()+"/events",
		map[string]any{"client_id": uuid.NewString(), "after": k, "event": e})
	if err == nil && code != 200 {
		err = fmt.Errorf("an act answered %d: %s", code, raw)
	}
	return took, err
}

var handed = map[string]any{"findings": []any{map[string]any{"reach": "jets", "filing": "root"}}, "verdict": "refer-on", "proof_seq": -1}

// busy measures what a bench feels while others ask for much: a class that hands
// over in one minute, and one user who runs everything heavy as fast as it goes.
// Then a working day is replayed and the heap is looked at.
func busy() ([]row, error) {
	const class = 30
	y, err := openYard(class + 10)
	if err != nil {
		return nil, err
	}
	defer y.stop()
	for i := range class {
		k := 0
		for _, e := range misreadDay() {
			if _, err := y.act(i, k, e); err != nil {
				return nil, err
			}
			k++
		}
	}
	at := make([]int, len(y.clients))
	// others act once a second each until the work is done.
	others := func(work func() error) (p95 time.Duration, err error) {
		stop := make(chan struct{})
		var mu sync.Mutex
		var took []time.Duration
		var wg sync.WaitGroup
		for i := class; i < class+10; i++ {
			wg.Go(func() {
				for {
					select {
					case <-stop:
						return
					case <-time.After(time.Second):
					}
					d, err := y.act(i, at[i], event(at[i]))
					if err != nil {
						fmt.Fprintln(os.Stderr, "benchmark:", err)
						return
					}
					at[i]++
					mu.Lock()
					took = append(took, d)
					mu.Unlock()
				}
			})
		}
		err = work()
		close(stop)
		wg.Wait()
		if len(took) == 0 {
			return 0, err
		}
		slices.Sort(took)
		return took[len(took)*95/100], err
	}
	var slowest time.Duration
	whileMarking, err := others(func() error {
		var wg sync.WaitGroup
		var mu sync.Mutex
		var failed error
		for i := range class {
			wg.Go(func() {
				time.Sleep(time.Duration(i) * time.Minute / class)
				code, raw, _, err := y.send(y.clients[i], "POST", "/api/attempts/"+y.attempts[i].String()+"/hand-over", handed)
				began := time.Now()
				for err == nil && (code == 202 || code == 200) {
					if code, raw, _, err = y.send(y.clients[i], "GET", "/api/attempts/"+y.attempts[i].String()+"/debrief", nil); code == 200 {
						break
					}
					time.Sleep(200 * time.Millisecond)
				}
				mu.Lock()
				defer mu.Unlock()
				if err != nil || code != 200 {
					failed = fmt.Errorf("a debrief answered %d %.200s: %w", code, raw, err)
				}
				slowest = max(slowest, time.Since(began))
			})
		}
		wg.Wait()
		return failed
	})
	if err != nil {
		return nil, err
	}
	_, raw, _, err := y.send(y.bosses[0], "GET", "/api/machines", nil)
	if err != nil {
		return nil, err
	}
	var machines []struct{ ID string }
	if err := json.Unmarshal(raw, &machines); err != nil {
		return nil, err
	}
	var edit time.Duration
	var edits int
	whileDesks, err := others(func() (err error) {
		edit, edits, err = y.desks(machines[0].ID, 20*time.Second)
		return err
	})
	if err != nil {
		return nil, err
	}
	whileHeavy, err := others(func() error {
		until := time.Now().Add(20 * time.Second)
		var wg sync.WaitGroup
		for w := range 4 {
			wg.Go(func() {
				for k := 0; time.Now().Before(until); k++ {
					spec := map[string]any{"machine_id": machines[0].ID, "faults": []any{map[string]any{"id": benchFault.ID, "severity": float64(w*1000+k%900+1) / 4001}},
						"words": "x", "claim": "no-start", "limit_minutes": 60, "limit_money": 1}
					_, _, _, _ = y.send(y.bosses[0], "POST", "/api/preview", spec)
					_, _, _, _ = y.send(y.bosses[0], "GET", "/api/jobs", nil)
				}
			})
		}
		wg.Wait()
		return nil
	})
	if err != nil {
		return nil, err
	}
	first, last, err := wholeDay(y, at)
	return []row{
		{"thirty hand-overs in a minute, four slips each: the slowest debrief", slowest.Seconds(), "s", "≤ 30", ""},
		{"acts of others meanwhile: p95", ms(whileMarking), "ms", "≤ 100", ""},
		{"acts while five procedure desks edit and look for better orders: p95", ms(whileDesks), "ms", "≤ 100", ""},
		{"an edit at one of the five, in the server: p95", ms(edit), "ms", "", fmt.Sprintf("%d edits", edits)},
		{"acts while one user asks for all that is heavy: p95", ms(whileHeavy), "ms", "≤ 100", ""},
		{"heap after a working day in fast motion", last, "MB", "≤ 400", ""},
		{"heap at its end against its first quarter", last / max(first, 1), "", "about 1", ""},
	}, err
}

// wholeDay replays a working day: each of ten people does four hundred acts. It gives
// the heap after the first quarter and at the end, MB.
func wholeDay(y *yardOf, at []int) (first, last float64, err error) {
	const acts = 400
	n := len(y.clients)
	for quarter := range 4 {
		_, err = together(10, acts/4, func(i, _ int) error {
			i += n - 10
			if at[i] >= ledger.MaxEvents-1 {
				return nil
			}
			_, err := y.act(i, at[i], event(at[i]))
			at[i]++
			return err
		})
		if err != nil {
			return 0, 0, err
		}
		runtime.GC()
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		if last = float64(m.HeapAlloc) / 1e6; quarter == 0 {
			first = last
		}
	}
	return first, last, nil
}
