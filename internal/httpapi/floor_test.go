package httpapi_test

import (
	"bufio"
	"context"
	"encoding/json"
	"net"
	"net/http"
	"net/http/httputil"
	"net/url"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"testing/fstest"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// told is a server-sent event.
type told struct {
	kind     string
	versions map[string]int64
}

// watch connects to a stream and gives its events until the context ends or the connection
// is lost; then the channel is closed.
func (u *user) watch(ctx context.Context, path string) <-chan told {
	req, err := http.NewRequestWithContext(ctx, "GET", u.url+path, nil)
	require.NoError(u.t, err)
	out := make(chan told, 1000)
	res, err := u.c.Do(req)
	if err != nil {
		close(out)
		return out
	}
	if res.StatusCode == 200 {
		if route, _, err := u.spec.FindRoute(req); err == nil {
			described.Store("GET "+route.Path, true)
		}
		assert.Equal(u.t, "text/event-stream", res.Header.Get("Content-Type"))
	}
	go func() {
		defer close(out)
		defer res.Body.Close()
		e := told{}
		for lines := bufio.NewScanner(res.Body); lines.Scan(); {
			switch line := lines.Text(); {
			case strings.HasPrefix(line, "event: "):
				e.kind = strings.TrimPrefix(line, "event: ")
			case strings.HasPrefix(line, "data: "):
				e.versions = map[string]int64{}
				_ = json.Unmarshal([]byte(strings.TrimPrefix(line, "data: ")), &e.versions)
			case line == "" && e.kind != "":
				out <- e
				e = told{}
			}
		}
	}()
	return out
}

// next is the next event of a stream.
func next(t *testing.T, events <-chan told) told {
	select {
	case e := <-events:
		return e
	case <-time.After(20 * time.Second):
		require.Fail(t, "nothing was told")
		return told{}
	}
}

// aClass is a class of Ann and Bob with one giving; it gives their attempts.
func aClass(t *testing.T, s *site, inst *user) (class, giving uuid.UUID, ann, bob string) {
	all := everyone(t, inst)
	code, raw := inst.call("POST", "/api/classes", map[string]any{"title": "C", "term": "T", "members": []any{all["Ann"].Id, all["Bob"].Id}})
	require.Equal(t, 201, code, string(raw))
	class, giving = decode[httpapi.Class](t, raw).Id, uuid.New()
	more := map[string]any{"class_id": class, "giving": giving}
	return class, giving, s.jobWith(inst, "main-jet-blocked", 0.7, "ann", more), s.jobWith(inst, "coil-secondary-open", 1, "bob", more)
}

func (u *user) floor(class uuid.UUID) map[string]httpapi.FloorBench {
	code, raw := u.get("/api/classes/" + class.String() + "/floor")
	require.Equal(u.t, 200, code, string(raw))
	out := map[string]httpapi.FloorBench{}
	for _, b := range decode[httpapi.Floor](u.t, raw).Benches {
		out[b.Attempt.String()] = b
	}
	return out
}

// The floor tells of every act as it happens, and shows what wants somebody: an unsafe act,
// a question, both until somebody has said something; what is paused takes no act.
func TestFloorTellsAndSpeaks(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	class, giving, a, b := aClass(t, s, inst)
	other := s.job(inst, "main-jet-blocked", 0.7, "ann")
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	events := inst.watch(ctx, "/api/classes/"+class.String()+"/floor/changes?giving="+giving.String())
	at := ann.watch(ctx, "/api/attempts/"+a+"/changes")
	all := next(t, events)
	assert.Equal(t, "all", all.kind)
	assert.Len(t, all.versions, 2)
	own := next(t, at).versions
	assert.Len(t, own, 2, "one's own alone")

	ann.do(other, 0, map[string]any{"kind": "wait", "minutes": 1}) // on no floor
	code, raw := ann.do(a, 0, map[string]any{"kind": "mark", "reach": "plug", "mark": "suspect"})
	require.Equal(t, 200, code, string(raw))
	e := next(t, events)
	assert.Equal(t, "changed", e.kind)
	require.Len(t, e.versions, 1)
	assert.Greater(t, e.versions[a], all.versions[a])
	now := next(t, at).versions
	assert.Equal(t, e.versions[a], now["bench"])
	assert.Equal(t, own["talk"], now["talk"], "nothing was said")
	seen := inst.floor(class)
	assert.Equal(t, e.versions[a], seen[a].Version)
	assert.Equal(t, map[string]string{"plug": "suspect"}, seen[a].Marks)
	assert.Equal(t, httpapi.StandsNotBegun, seen[b].Stands)

	// An engine started with nothing done for safety.
	code, raw = ann.do(a, 1, map[string]any{"kind": "take", "test": "start-attempt"})
	require.Equal(t, 200, code, string(raw))
	bench := inst.floor(class)[a]
	require.NotNil(t, bench.Unsafe)
	assert.Equal(t, "start-attempt", bench.Unsafe.Test)
	assert.Equal(t, "start-attempt", *bench.Last.Test)
	say := func(u *user, words string) int {
		code, _ := u.call("POST", "/api/attempts/"+a+"/hints", map[string]any{"id": uuid.New(), "words": words})
		return code
	}
	assert.Equal(t, 200, say(ann, "May I take the head off?"))
	bench = inst.floor(class)[a]
	assert.Equal(t, "May I take the head off?", *bench.Asks)
	assert.NotNil(t, bench.Unsafe, "a question does not say that it was seen")
	assert.Equal(t, 200, say(inst, "No. Put the lead to earth first."))
	bench = inst.floor(class)[a]
	assert.Nil(t, bench.Asks)
	assert.Nil(t, bench.Unsafe)
	assert.Equal(t, 422, say(inst, "  "))
	assert.Equal(t, 404, say(bob, "Psst, it is the jet."))
	_, raw = ann.get("/api/attempts/" + a + "/hints")
	talk := decode[httpapi.BenchTalk](t, raw)
	require.Len(t, talk.Hints, 2)
	assert.True(t, talk.Hints[0].Question)
	assert.True(t, talk.Watched)

	code, raw = inst.get("/api/attempts/" + a + "/standing")
	require.Equal(t, 200, code, string(raw))
	st := decode[httpapi.BenchStanding](t, raw)
	assert.Equal(t, "main-jet-blocked", st.Hidden[0].Fault)
	assert.NotEmpty(t, st.Acts)

	pause := func(path string, paused bool) {
		code, raw := inst.call("PUT", path, map[string]any{"giving": giving, "paused": paused})
		require.Equal(t, 204, code, string(raw))
	}
	pause("/api/classes/"+class.String()+"/floor/pause", true)
	seq := ann.bench(a).Seq
	code, raw = ann.do(a, seq, map[string]any{"kind": "wait", "minutes": 1})
	assert.Equal(t, 409, code)
	assert.Contains(t, string(raw), "http.bench-paused")
	code, raw = ann.call("POST", "/api/attempts/"+a+"/hand-over", map[string]any{"findings": []any{}, "verdict": "refer-on", "proof_seq": -1})
	assert.Equal(t, 409, code)
	assert.Contains(t, string(raw), "http.bench-paused")
	assert.True(t, inst.floor(class)[b].Paused)
	code, raw = inst.call("PUT", "/api/attempts/"+a+"/pause", map[string]any{"paused": false})
	require.Equal(t, 204, code, string(raw))
	assert.True(t, inst.floor(class)[b].Paused, "the other stands still")
	code, raw = ann.do(a, seq, map[string]any{"kind": "wait", "minutes": 1})
	assert.Equal(t, 200, code, string(raw))
}

// Who may watch no more, because the session was ended, is told so and gets nothing after it.
func TestWatchingEndsWithTheSession(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, boss := s.as("inst"), s.as("ann"), s.as("inst")
	class, giving, a, _ := aClass(t, s, inst)
	events := inst.watch(t.Context(), "/api/classes/"+class.String()+"/floor/changes?giving="+giving.String())
	next(t, events)
	code, _ := inst.call("DELETE", "/api/session", nil)
	require.Equal(t, 204, code)
	ann.do(a, 0, map[string]any{"kind": "wait", "minutes": 1})
	assert.Equal(t, "ended", next(t, events).kind)
	_, more := <-events
	assert.False(t, more)
	for range 12 {
		next(t, boss.watch(t.Context(), "/api/attempts/"+a+"/changes"))
	}
	code, raw := boss.peek("GET", "/api/attempts/"+a+"/changes", nil)
	assert.Equal(t, 429, code, string(raw))
}

// instance is one of several programs on a database.
type instance struct {
	at   *url.URL
	kill func()
}

func (s *site) instance() instance {
	srv, h, err := httpapi.New(context.Background(), httpapi.Options{Store: s.store, Hashing: cheap, Loopback: true,
		Web: fstest.MapFS{"index.html": {Data: []byte("-")}}})
	require.NoError(s.t, err)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(s.t, err)
	web := &http.Server{Handler: h}
	go func() { _ = web.Serve(l) }()
	s.t.Cleanup(func() { web.Close(); srv.Close() })
	at, err := url.Parse("http://" + l.Addr().String())
	require.NoError(s.t, err)
	return instance{at, func() { web.Close(); srv.Close() }}
}

// Two instances stand behind a proxy that deals requests out, and one is killed while both
// benches work. Whoever watches loses the connection, connects again, and has missed nothing:
// the versions come to what the database has, none goes back, and every act is there once.
func TestFloorOverTwoInstancesOneOfThemKilled(t *testing.T) {
	t.Parallel()
	s := open(t)
	one, two := s.instance(), s.instance()
	var dealt atomic.Int64
	var dead atomic.Bool
	proxy := &httputil.ReverseProxy{FlushInterval: -1, Rewrite: func(r *httputil.ProxyRequest) {
		to := one
		streams := strings.HasSuffix(r.In.URL.Path, "/changes") // by the one that will be killed
		if dead.Load() || !streams && dealt.Add(1)%2 == 0 {
			to = two
		}
		r.SetURL(to.at)
		r.Out.Host = r.In.Host
	}, ErrorHandler: func(w http.ResponseWriter, _ *http.Request, _ error) { w.WriteHeader(http.StatusBadGateway) }}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	front := &http.Server{Handler: proxy}
	go func() { _ = front.Serve(l) }()
	t.Cleanup(func() { front.Close() })
	s.url = "http://" + l.Addr().String()

	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	class, giving, a, b := aClass(t, s, inst)
	const acts = 24
	var done sync.WaitGroup
	for u, attempt := range map[*user]string{ann: a, bob: b} {
		done.Go(func() {
			for n := range acts {
				body := map[string]any{"client_id": uuid.NewString(), "after": n, "event": map[string]any{"kind": "wait", "minutes": 1}}
				for { // as a bench does: the same again until it is answered
					raw, _ := json.Marshal(body)
					res, err := u.c.Post(u.url+"/api/attempts/"+attempt+"/events", "application/json", strings.NewReader(string(raw)))
					if err == nil {
						res.Body.Close()
						if res.StatusCode == 200 {
							break
						}
					}
					time.Sleep(20 * time.Millisecond)
				}
				if attempt == a && n == acts/2 {
					dead.Store(true)
					one.kill()
				}
			}
		})
	}
	finished := make(chan struct{})
	go func() { done.Wait(); close(finished) }()
	seen, connections := map[string]int64{}, 0
	ctx, stop := context.WithTimeout(t.Context(), time.Minute)
	defer stop()
	for over := false; !over; {
		events := inst.watch(ctx, "/api/classes/"+class.String()+"/floor/changes?giving="+giving.String())
		first := true
		for e := range events {
			if first {
				assert.Equal(t, "all", e.kind, "whoever connects gets all")
				connections++
			}
			first = false
			for id, v := range e.versions {
				assert.GreaterOrEqual(t, v, seen[id])
				seen[id] = v
			}
			select {
			case <-finished:
				over = seen[a] == inst.floor(class)[a].Version && seen[b] == inst.floor(class)[b].Version
			default:
			}
			if over {
				break
			}
		}
		require.NoError(t, ctx.Err(), "it never came to what is there: %v", seen)
	}
	assert.GreaterOrEqual(t, connections, 2)
	assert.Equal(t, acts, ann.bench(a).Seq)
	assert.Equal(t, acts, bob.bench(b).Seq)
	for _, r := range inst.floor(class) {
		assert.EqualValues(t, acts, r.Minutes)
	}
}
