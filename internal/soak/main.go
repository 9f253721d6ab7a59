// Command soak works a whole server hard while it is killed under it, and then
// compares what was acknowledged with what is stored. It exits with 1 when an act
// was lost, doubled or out of place, or a backup does not come back whole.
package main

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/google/uuid"

	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/internal/cluster"
	"zanjero/internal/password"
	"zanjero/internal/store"
	"zanjero/internal/yard"
)

func main() {
	program := flag.String("program", "bin/zanjero", "the program to work")
	length := flag.Duration("for", 5*time.Minute, "how long; ten minutes at most")
	clients := flag.Int("clients", 120, "people at a bench at once")
	flag.Parse()
	if err := run(*program, min(*length, 10*time.Minute), *clients); err != nil {
		fmt.Fprintln(os.Stderr, "soak:", err)
		os.Exit(1)
	}
}

// soak is one run of it.
type soak struct {
	program, address string
	db               *cluster.Cluster
	mu               sync.Mutex
	server           *exec.Cmd
	acts, retries    atomic.Int64
	kills            [3]int
}

func run(program string, length time.Duration, n int) error {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	dir, err := os.MkdirTemp("/var/tmp", "zanjero-soak-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o755); err != nil {
		return err
	}
	s := &soak{program: program}
	if s.db, err = cluster.Start(ctx, cluster.Options{Dir: filepath.Join(dir, "pg")}); err != nil {
		return err
	}
	defer s.db.Stop()
	go s.db.Watch(ctx)
	people, err := s.enrol(ctx, n)
	if err != nil {
		return err
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	s.address = l.Addr().String()
	l.Close()
	if err := s.start(); err != nil {
		return err
	}
	defer s.kill(syscall.SIGTERM)

	until := time.Now().Add(length)
	work, done := context.WithDeadline(ctx, until)
	defer done()
	var wg sync.WaitGroup
	for _, p := range people {
		wg.Go(func() { s.work(work, p) })
	}
	wg.Go(func() { s.heavy(work) })
	wg.Go(func() { s.kills3(work) })
	tick := time.NewTicker(15 * time.Second)
	defer tick.Stop()
	ended := make(chan struct{})
	go func() { wg.Wait(); close(ended) }()
	for waiting := true; waiting; {
		select {
		case <-tick.C:
			fmt.Printf("%4.0f s left: %d acts acknowledged, %d sent again, killed %d server, %d connection, %d database\n",
				time.Until(until).Seconds(), s.acts.Load(), s.retries.Load(), s.kills[0], s.kills[1], s.kills[2])
		case <-ended:
			waiting = false
		}
	}
	st, err := s.reach(ctx)
	if err != nil {
		return err
	}
	defer st.Close()
	if err := compare(ctx, st, people); err != nil {
		return err
	}
	fmt.Printf("%d acts acknowledged under %v kills: none lost, none doubled, none out of place\n", s.acts.Load(), s.kills)
	return restored(ctx, s.db.URL, st, dir)
}

// person is somebody at a bench, with what the server acknowledged to them.
type person struct {
	name    string
	attempt uuid.UUID
	client  *http.Client
	said    []uuid.UUID
}

// enrol makes people with a job each.
func (s *soak) enrol(ctx context.Context, n int) ([]*person, error) {
	st, err := store.Open(ctx, s.db.URL)
	if err != nil {
		return nil, err
	}
	defer st.Close()
	f := &yard.File{Format: yard.Format, Machines: []yard.Machine{{Name: "Pump", Code: "P", Family: "f4-bowl"}},
		People: []yard.Person{{Name: "boss", DisplayName: "Boss", Role: store.Instructor, Password: "x"}}}
	job := yard.Job{Machine: "P", Words: "x", Claim: "no-start", LimitMinutes: 600, LimitMoney: 10,
		Faults: []machine.FaultSpec{{ID: "main-jet-blocked", Severity: 1}}}
	for i := range n {
		name := "p" + strconv.Itoa(i)
		f.People = append(f.People, yard.Person{Name: name, DisplayName: name, Role: store.Apprentice, Password: "x"})
		job.GivenTo = append(job.GivenTo, name)
	}
	f.Jobs = []yard.Job{job}
	if _, err := yard.Load(ctx, st, f, password.Cost{MemoryKiB: 64, Passes: 1}, func(uuid.UUID) int64 { return 5 }); err != nil {
		return nil, err
	}
	var out []*person
	for i := range n {
		p, err := st.PersonByName(ctx, "p"+strconv.Itoa(i))
		if err != nil {
			return nil, err
		}
		as, err := st.Attempts(ctx, store.Page{Apprentice: p.ID, Limit: 1})
		if err != nil {
			return nil, err
		}
		jar, _ := cookiejar.New(nil)
		out = append(out, &person{name: p.Name, attempt: as[0].ID, client: &http.Client{Jar: jar, Timeout: 20 * time.Second}})
	}
	return out, nil
}

func (s *soak) start() error {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.server = exec.Command(s.program, "serve", "--addr", s.address, "--demo=false")
	s.server.Env = append(os.Environ(), "ZANJERO_DATABASE_URL="+s.db.URL)
	return s.server.Start()
}

func (s *soak) kill(with syscall.Signal) {
	s.mu.Lock()
	defer s.mu.Unlock()
	_ = s.server.Process.Signal(with)
	_ = s.server.Wait()
}

// send asks for something; 0 stands for no answer.
func (s *soak) send(c *http.Client, method, path string, body any) (int, []byte) {
	raw, _ := json.Marshal(body)
	req, err := http.NewRequest(method, "http://"+s.address+path, bytes.NewReader(raw))
	if err != nil {
		return 0, nil
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := c.Do(req)
	if err != nil {
		return 0, nil
	}
	defer res.Body.Close()
	out, err := io.ReadAll(res.Body)
	if err != nil {
		return 0, nil
	}
	return res.StatusCode, out
}

func (s *soak) signIn(ctx context.Context, name string, c *http.Client) {
	for ctx.Err() == nil {
		if code, _ := s.send(c, "POST", "/api/session", map[string]string{"name": name, "password": "x"}); code == 200 {
			return
		}
		time.Sleep(time.Duration(500+rand.IntN(1000)) * time.Millisecond)
	}
}

// work does acts one after the other, each until it is acknowledged, under one id.
func (s *soak) work(ctx context.Context, p *person) {
	s.signIn(ctx, p.name, p.client)
	for len(p.said) < ledger.MaxEvents-5 && ctx.Err() == nil {
		id := uuid.New()
		event := map[string]any{"kind": "mark", "reach": "tank", "mark": []string{"clear", "suspect", "condemned", ""}[len(p.said)%4]}
		body := map[string]any{"client_id": id, "after": len(p.said), "event": event}
		for tries := 0; ctx.Err() == nil; tries++ {
			if tries > 0 {
				s.retries.Add(1)
				time.Sleep(time.Duration(200+rand.IntN(600)) * time.Millisecond)
			}
			code, _ := s.send(p.client, "POST", "/api/attempts/"+p.attempt.String()+"/events", body)
			if code == 200 {
				p.said = append(p.said, id)
				s.acts.Add(1)
				break
			}
		}
		time.Sleep(time.Duration(300+rand.IntN(700)) * time.Millisecond)
	}
}

// heavy is one user who asks for all that costs much, as fast as it goes.
func (s *soak) heavy(ctx context.Context) {
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar, Timeout: 20 * time.Second}
	s.signIn(ctx, "boss", c)
	for k := 1; ctx.Err() == nil; k++ {
		var ms []struct{ ID string }
		if _, raw := s.send(c, "GET", "/api/machines", nil); json.Unmarshal(raw, &ms) != nil || len(ms) == 0 {
			time.Sleep(time.Second)
			continue
		}
		s.send(c, "POST", "/api/preview", map[string]any{"machine_id": ms[0].ID,
			"faults": []any{map[string]any{"id": "rings-worn", "severity": float64(k%997+1) / 1000}},
			"words":  "x", "claim": "no-start", "limit_minutes": 60, "limit_money": 1})
		s.send(c, "GET", "/api/jobs", nil)
	}
}

// kills3 kills what is worked on in turn: the server, one connection to the
// database, the whole database.
func (s *soak) kills3(ctx context.Context) {
	for i := 0; ; i++ {
		select {
		case <-ctx.Done():
			return
		case <-time.After(8 * time.Second):
		}
		switch i % 3 {
		case 0:
			s.kill(syscall.SIGKILL)
			if err := s.start(); err != nil {
				fmt.Fprintln(os.Stderr, "soak: the server does not start:", err)
			}
		case 1:
			if db, err := sql.Open("pgx", s.db.URL); err == nil {
				_, _ = db.Exec("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid <> pg_backend_pid() AND datname = " +
					"current_database() ORDER BY random() LIMIT 3")
				db.Close()
			}
		case 2:
			if pid, err := s.db.PID(); err == nil {
				_ = syscall.Kill(pid, syscall.SIGKILL)
			}
		}
		s.kills[i%3]++
	}
}

// reach waits until the database answers again.
func (s *soak) reach(ctx context.Context) (st *store.Store, err error) {
	for range 60 {
		if st, err = store.Open(ctx, s.db.URL); err == nil {
			return st, nil
		}
		time.Sleep(time.Second)
	}
	return nil, fmt.Errorf("the database did not come back: %w", err)
}

// compare holds what was acknowledged against what is stored.
func compare(ctx context.Context, st *store.Store, people []*person) error {
	for _, p := range people {
		es, err := st.Events(ctx, p.attempt, 0)
		if err != nil {
			return err
		}
		// The last may have been stored without its answer arriving.
		if len(es) < len(p.said) || len(es) > len(p.said)+1 {
			return fmt.Errorf("%s: %d acts were acknowledged and %d are stored", p.name, len(p.said), len(es))
		}
		for i, id := range p.said {
			if es[i].ClientID != id || es[i].Seq != i {
				return fmt.Errorf("%s: act %d is not the one that was acknowledged there", p.name, i)
			}
		}
	}
	return nil
}

// restored writes a backup, puts it into an empty database, and compares the two.
func restored(ctx context.Context, from string, st *store.Store, dir string) error {
	file := filepath.Join(dir, "backup")
	if err := cluster.Dump(ctx, from, file); err != nil {
		return err
	}
	if _, err := st.SQL().ExecContext(ctx, "CREATE DATABASE restored"); err != nil {
		return err
	}
	to := strings.Replace(from, "/zanjero?", "/restored?", 1)
	if err := cluster.Restore(ctx, to, file); err != nil {
		return err
	}
	other, err := store.Open(ctx, to)
	if err != nil {
		return err
	}
	defer other.Close()
	const all = "SELECT count(*), coalesce(md5(string_agg(e.attempt_id::text || e.seq || e.client_id || e.body || coalesce(e.observed::text, " +
		"''), ',' ORDER BY e.attempt_id, e.seq)), '') FROM events e"
	var n, m int
	var a, b string
	if err := st.SQL().QueryRowContext(ctx, all).Scan(&n, &a); err != nil {
		return err
	}
	if err := other.SQL().QueryRowContext(ctx, all).Scan(&m, &b); err != nil {
		return err
	}
	if n != m || a != b {
		return fmt.Errorf("a backup came back with %d acts of %d, or with others", m, n)
	}
	fmt.Printf("a backup came back whole: %d acts\n", m)
	return nil
}
