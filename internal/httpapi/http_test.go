package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
	"zanjero/internal/password"
	"zanjero/internal/store"
	"zanjero/internal/testdb"
	"zanjero/internal/yard"
)

// cheap hashing keeps the tests quick; production's cost is password.Standard.
var cheap = password.Cost{MemoryKiB: 64, Passes: 1}

func TestMain(m *testing.M) {
	// Failures are made on purpose here; what the server logs of them is no news.
	slog.SetDefault(slog.New(slog.DiscardHandler))
	// Lines of JSON are taken as they come.
	openapi3filter.RegisterBodyDecoder("application/x-ndjson", openapi3filter.FileBodyDecoder)
	openapi3filter.RegisterBodyDecoder("text/event-stream", openapi3filter.FileBodyDecoder)
	testdb.Main(m, allDescribed)
}

// site is a server on a database of its own, with the people and machine of a
// small yard.
type site struct {
	t     *testing.T
	url   string
	store *store.Store
	spec  routers.Router
}

const people = `"people":[
  {"name":"inst","display_name":"I","role":"instructor","password":"pw-inst"},
  {"name":"ann","display_name":"Ann","role":"apprentice","password":"pw-ann"},
  {"name":"bob","display_name":"Bob","role":"apprentice","password":"pw-bob"}],
  "machines":[{"name":"Lift pump","code":"LP-2","family":"f4-bowl","duty":"pumps"}]`

func open(t *testing.T) *site {
	s := &site{t: t, store: testdb.Open(t)}
	srv := s.serve(true)
	s.load(srv)
	return s
}

func (s *site) load(srv *httpapi.Server) {
	f, err := yard.Parse([]byte(`{"format":"zanjero-yard-1",` + people + `}`))
	require.NoError(s.t, err)
	loaded, err := yard.Load(context.Background(), s.store, f, cheap, srv.Seed)
	require.NoError(s.t, err)
	require.True(s.t, loaded)
}

// worked is shared by the servers of all tests, which would work out the same few engines
// again and again. It hangs on nothing of a database.
var worked = httpapi.NewWorked()

// serve puts a fresh server before the database, with nothing of it in memory.
func (s *site) serve(loopback bool) *httpapi.Server {
	return s.serveWith(httpapi.Options{Loopback: loopback})
}

func (s *site) serveWith(o httpapi.Options) *httpapi.Server {
	o.Worked = worked
	o.Store, o.Hashing, o.Web = s.store, cheap, fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}, "assets/a.js": {Data: []byte("1")},
		".keep": {Data: []byte("secret")}}
	srv, h, err := httpapi.New(context.Background(), o)
	require.NoError(s.t, err)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(s.t, err)
	ctx, stop := context.WithCancel(context.Background())
	ended := make(chan error, 1)
	go func() { ended <- httpapi.Serve(ctx, l, h) }()
	s.t.Cleanup(func() { stop(); <-ended; srv.Close() })
	s.url = "http://" + l.Addr().String()
	spec, err := httpapi.GetSpec()
	require.NoError(s.t, err)
	spec.Servers = nil
	s.spec, err = gorillamux.NewRouter(spec)
	require.NoError(s.t, err)
	return srv
}

// user is somebody signed in.
type user struct {
	*site
	c *http.Client
}

func (s *site) anyone() *user {
	jar, _ := cookiejar.New(nil)
	return &user{s, &http.Client{Jar: jar}}
}

func (s *site) as(name string) *user {
	u := s.anyone()
	code, body := u.call("POST", "/api/session", map[string]string{"name": name, "password": "pw-" + name})
	require.Equal(s.t, 200, code, string(body))
	return u
}

// call sends JSON and holds the answer against the interface's description.
func (u *user) call(method, path string, body any) (int, []byte) {
	var r io.Reader
	if raw, ok := body.(string); ok {
		r = strings.NewReader(raw)
	} else if body != nil {
		raw, err := json.Marshal(body)
		require.NoError(u.t, err)
		r = bytes.NewReader(raw)
	}
	req, err := http.NewRequest(method, u.url+path, r)
	require.NoError(u.t, err)
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	res, err := u.c.Do(req)
	require.NoError(u.t, err)
	defer res.Body.Close()
	out, err := io.ReadAll(res.Body)
	require.NoError(u.t, err)
	if route, params, err := u.spec.FindRoute(req); err == nil {
		if res.StatusCode < 300 {
			described.Store(method+" "+route.Path, true)
		}
		in := &openapi3filter.RequestValidationInput{Request: req, PathParams: params, Route: route}
		require.NoError(u.t, openapi3filter.ValidateResponse(context.Background(), &openapi3filter.ResponseValidationInput{
			RequestValidationInput: in, Status: res.StatusCode, Header: res.Header, Body: io.NopCloser(bytes.NewReader(out)),
			Options: &openapi3filter.Options{IncludeResponseStatus: true},
		}), "%s %s answered %d: %.300s", method, path, res.StatusCode, out)
	}
	return res.StatusCode, out
}

// peek asks for what goes on for as long as it is held open, and hangs up at the first of it.
func (u *user) peek(method, path string, _ any) (int, []byte) {
	res, err := u.c.Get(u.url + path)
	require.NoError(u.t, err, method)
	defer res.Body.Close()
	first := make([]byte, 512)
	n, _ := res.Body.Read(first)
	return res.StatusCode, first[:n]
}

func decode[T any](t *testing.T, raw []byte) (v T) {
	require.NoError(t, json.Unmarshal(raw, &v), string(raw))
	return v
}

func (u *user) get(path string) (int, []byte) { return u.call("GET", path, nil) }

// job sets a job with a fault and gives it to somebody; it gives the attempt.
func (s *site) job(inst *user, fault string, severity float64, to string) string {
	return s.jobWith(inst, fault, severity, to, nil)
}

func (s *site) jobWith(inst *user, fault string, severity float64, to string, more map[string]any) string {
	_, raw := inst.get("/api/machines")
	machine := decode[[]httpapi.Machine](s.t, raw)[0].Id
	_, raw = inst.get("/api/apprentices")
	var who []uuid.UUID
	for _, p := range decode[[]httpapi.Person](s.t, raw) {
		if p.Name == to {
			who = append(who, p.Id)
		}
	}
	require.Len(s.t, who, 1, "no apprentice %s", to)
	spec := map[string]any{"machine_id": machine, "faults": []map[string]any{{"id": fault, "severity": severity}}, "apprentices": who,
		"words": "It coughs.", "claim": "no-start", "limit_minutes": 60, "limit_money": 40}
	for k, v := range more {
		spec[k] = v
	}
	code, raw := inst.call("POST", "/api/jobs", spec)
	require.Equal(s.t, 201, code, string(raw))
	return decode[httpapi.Job](s.t, raw).Attempts[0].Id.String()
}

// do sends an event made on the bench as it stands.
func (u *user) do(attempt string, after int, event map[string]any) (int, []byte) {
	return u.call("POST", "/api/attempts/"+attempt+"/events", map[string]any{"client_id": uuid.NewString(), "after": after, "event": event})
}

func (u *user) bench(attempt string) httpapi.Bench {
	code, raw := u.get("/api/attempts/" + attempt)
	require.Equal(u.t, 200, code, string(raw))
	return decode[httpapi.Bench](u.t, raw)
}

// patience is how long a test waits for work in the background. It says when
// to give up, not how long the work may take: that is for the benchmarks.
const patience = 3 * time.Minute

// debrief waits until an attempt is marked.
func (u *user) debrief(attempt string) []byte {
	var raw []byte
	require.Eventually(u.t, func() bool {
		var code int
		code, raw = u.get("/api/attempts/" + attempt + "/debrief")
		require.Contains(u.t, []int{200, 202}, code, string(raw))
		return code == 200
	}, patience, 50*time.Millisecond)
	return raw
}
