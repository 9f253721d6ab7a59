package main

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"

	"zanjero/internal/cluster"
	"zanjero/internal/httpapi"
	"zanjero/internal/password"
	"zanjero/internal/store"
	"zanjero/internal/yard"
	"zanjero/web"
)

// firstLoad is what the bench's route makes a browser fetch first, script and
// style, compressed as the server does.
func firstLoad() (row, error) {
	dist := web.Dist()
	index, err := fs.ReadFile(dist, "index.html")
	if err != nil {
		return row{}, fmt.Errorf("the web application is not built: %w", err)
	}
	names := map[string]bool{}
	for _, m := range regexp.MustCompile(`/(assets/[^"]+\.(?:js|css))`).FindAllStringSubmatch(string(index), -1) {
		names[m[1]] = true
	}
	found, err := fs.Glob(dist, "assets/BenchView-*")
	if err != nil {
		return row{}, err
	}
	for _, f := range found {
		names[f] = true
	}
	// And what those ask for in turn before they can run.
	for todo := slices.Collect(maps.Keys(names)); len(todo) > 0; {
		name := todo[0]
		todo = todo[1:]
		raw, err := fs.ReadFile(dist, name)
		if err != nil {
			return row{}, err
		}
		for _, m := range regexp.MustCompile(`(?:from|import)\s*["']\./([\w.-]+\.js)["']`).FindAllStringSubmatch(string(raw), -1) {
			if asked := "assets/" + m[1]; !names[asked] {
				names[asked] = true
				todo = append(todo, asked)
			}
		}
	}
	total := 0
	for name := range names {
		raw, err := fs.ReadFile(dist, name)
		if err != nil {
			return row{}, err
		}
		var z bytes.Buffer
		w := gzip.NewWriter(&z)
		_, _ = w.Write(raw)
		w.Close()
		total += z.Len()
	}
	return row{"first load of the bench, script and style, compressed", float64(total) / 1000, "kB", "≤ 300", fmt.Sprintf("%d files", len(names))}, nil
}

// Acts each at full tilt, in rounds that take turns with the bare transactions,
// and at a working pace.
const (
	rounds     = 4
	eventsEach = 10
	paced      = 200
	pacedActs  = 4
)

// record has apprentices record bench events at once through HTTP, in turn with
// the same events sent straight to PostgreSQL, each a transaction of its own, on
// a durable cluster.
func record(apprentices int) ([]row, error) {
	ctx := context.Background()
	dir, err := os.MkdirTemp("/var/tmp", "zanjero-bench-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o755); err != nil {
		return nil, err
	}
	c, err := cluster.Start(ctx, cluster.Options{Dir: filepath.Join(dir, "pg")})
	if err != nil {
		return nil, err
	}
	defer c.Stop()
	st, err := store.Open(ctx, c.URL)
	if err != nil {
		return nil, err
	}
	defer st.Close()
	cheap := password.Cost{MemoryKiB: 64, Passes: 1}
	srv, h, err := httpapi.New(ctx, httpapi.Options{Store: st, Web: web.Dist(), Loopback: true, Hashing: cheap})
	if err != nil {
		return nil, err
	}
	defer srv.Close()
	url, stop, err := serve(h)
	if err != nil {
		return nil, err
	}
	defer stop()
	clients, attempts, err := enrol(ctx, url, st, srv, cheap, paced, paced+apprentices)
	if err != nil {
		return nil, err
	}
	act := func(i, k int) (time.Duration, error) {
		began := time.Now()
		body, _ := json.Marshal(map[string]any{"client_id": uuid.NewString(), "after": k, "event": event(k)})
		res, err := clients[i].Post(url+"/api/attempts/"+attempts[i].String()+"/events", "application/json", bytes.NewReader(body))
		if err != nil {
			return 0, err
		}
		defer res.Body.Close()
		raw, _ := io.ReadAll(res.Body)
		if res.StatusCode != 200 {
			return 0, fmt.Errorf("%d: %s", res.StatusCode, raw)
		}
		return time.Since(began), nil
	}
	straightOn := func(i, k int) error {
		body, _ := json.Marshal(event(k))
		e := store.Event{AttemptID: attempts[paced+i], Seq: k, ClientID: uuid.New(), Body: body}
		_, err := st.AppendAlone(ctx, &e, store.After{Minutes: float64(k)})
		return err
	}
	// turns takes the rounds, from places in the ledgers on.
	turns := func(from, straightFrom int) (overHTTP, straight time.Duration, err error) {
		for r := range rounds {
			took, err := together(apprentices, eventsEach, func(i, k int) error {
				_, err := act(i, from+r*eventsEach+k)
				return err
			})
			if err != nil {
				return 0, 0, err
			}
			overHTTP += took
			took, err = together(apprentices, eventsEach, func(i, k int) error { return straightOn(i, straightFrom+r*eventsEach+k) })
			if err != nil {
				return 0, 0, err
			}
			straight += took
		}
		return overHTTP, straight, nil
	}
	overHTTP, straight, err := turns(0, 0)
	if err != nil {
		return nil, err
	}
	watched, err := watchFloors(ctx, url, st, attempts)
	if err != nil {
		return nil, err
	}
	defer watched.stop()
	// Every bench listens for what is said to it, as its page does.
	for i, c := range clients {
		if err := watched.listen(ctx, c, url+"/api/attempts/"+attempts[i].String()+"/changes"); err != nil {
			return nil, err
		}
	}
	// At a working pace, one act a second each, which is brisk for a bench.
	var mu sync.Mutex
	var latencies []time.Duration
	_, err = together(paced, pacedActs, func(i, k int) error {
		time.Sleep(time.Until(time.Now().Truncate(time.Second).Add(time.Second + time.Duration(i)*time.Second/paced)))
		if i < apprentices {
			k += rounds * eventsEach
		}
		watched.sent(attempts[i], k)
		d, err := act(i, k)
		mu.Lock()
		latencies = append(latencies, d)
		mu.Unlock()
		return err
	})
	if err != nil {
		return nil, err
	}
	slices.Sort(latencies)
	onFloor, err := watched.arrived()
	if err != nil {
		return nil, err
	}
	overWatched, straightWatched, err := turns(rounds*eventsEach+pacedActs, rounds*eventsEach)
	if err != nil {
		return nil, err
	}
	n := float64(apprentices * rounds * eventsEach)
	name := fmt.Sprintf("recording a bench event, %d apprentices at once: ", apprentices)
	return []row{
		{fmt.Sprintf("recording a bench event, %d apprentices, one a second each, three floors watched: p95", paced),
			float64(latencies[len(latencies)*95/100].Microseconds()) / 1e3, "ms", "≤ 50 (padded in steps of 10)", fmt.Sprintf("%d events, none lost", len(latencies))},
		{name + "rate", n / overHTTP.Seconds(), "per s", "", ""},
		{"the same transactions straight to PostgreSQL", n / straight.Seconds(), "per s", "", ""},
		{"ratio", straight.Seconds() / overHTTP.Seconds(), "", "≥ 0.55", ""},
		{"ratio with three floors watched", straightWatched.Seconds() / overWatched.Seconds(), "", "≥ 0.55", ""},
		{fmt.Sprintf("from an act to its floor, %d benches and three floors: p95", paced), float64(onFloor[len(onFloor)*95/100].Milliseconds()), "ms", "≤ 1000",
			fmt.Sprintf("%d acts, none missed", len(onFloor))},
	}, nil
}

func event(k int) map[string]any {
	if k%2 == 0 {
		return map[string]any{"kind": "mark", "reach": "tank", "mark": "clear"}
	}
	return map[string]any{"kind": "control", "control": map[string]any{"throttle": 0.5}}
}

// together runs the same work for each apprentice at once and says how long it
// took in all.
func together(n, each int, work func(i, k int) error) (time.Duration, error) {
	began := time.Now()
	errs := make(chan error, n)
	for i := range n {
		go func() {
			for k := range each {
				if err := work(i, k); err != nil {
					errs <- err
					return
				}
			}
			errs <- nil
		}()
	}
	for range n {
		if err := <-errs; err != nil {
			return 0, err
		}
	}
	return time.Since(began), nil
}

// enrol makes people with a job each, and signs the first of them in.
func enrol(ctx context.Context, url string, st *store.Store, srv *httpapi.Server, h password.Cost, signedIn, n int,
) (clients []*http.Client, attempts []uuid.UUID, err error) {
	f := &yard.File{Format: yard.Format, Machines: []yard.Machine{{Name: "Pump", Code: "P", Family: "f4-bowl"}}}
	for i := range bosses {
		f.People = append(f.People, yard.Person{Name: bossName(i), DisplayName: "Boss", Role: store.Instructor, Password: "x"})
	}
	for range floors {
		job := yard.Job{Machine: "P", Words: "x", Claim: "no-start", LimitMinutes: 60, LimitMoney: 10}
		job.Faults = append(job.Faults, benchFault)
		f.Jobs = append(f.Jobs, job)
	}
	for i := range n {
		name := fmt.Sprintf("a%03d", i)
		f.People = append(f.People, yard.Person{Name: name, DisplayName: name, Role: store.Apprentice, Password: "x"})
		job := &f.Jobs[i%floors]
		job.GivenTo = append(job.GivenTo, name)
	}
	if _, err := yard.Load(ctx, st, f, h, srv.Seed); err != nil {
		return nil, nil, err
	}
	for i := range n {
		p, err := st.PersonByName(ctx, fmt.Sprintf("a%03d", i))
		if err != nil {
			return nil, nil, err
		}
		as, err := st.Attempts(ctx, store.Page{Apprentice: p.ID, Limit: 1})
		if err != nil {
			return nil, nil, err
		}
		attempts = append(attempts, as[0].ID)
		if i >= signedIn {
			continue
		}
		c, err := signIn(url, p.Name)
		if err != nil {
			return nil, nil, err
		}
		clients = append(clients, c)
	}
	return clients, attempts, nil
}

// serve answers on this machine until it is stopped.
func serve(h http.Handler) (url string, stop func(), err error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", nil, err
	}
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan error, 1)
	go func() { done <- httpapi.Serve(ctx, l, h) }()
	return "http://" + l.Addr().String(), func() { cancel(); <-done }, nil
}

// signIn gives a client of its own to somebody with the password "x".
func signIn(url, name string) (*http.Client, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	c := &http.Client{Jar: jar, Transport: &http.Transport{MaxIdleConnsPerHost: 4}}
	body, err := json.Marshal(map[string]string{"name": name, "password": "x"})
	if err != nil {
		return nil, err
	}
	res, err := c.Post(url+"/api/session", "application/json", bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	defer res.Body.Close()
	if res.StatusCode != 200 {
		return nil, fmt.Errorf("sign-in answered %d", res.StatusCode)
	}
	return c, nil
}
