package httpapi_test

import (
	"io"
	"net"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/store"
	"zanjero/internal/testdb"
)

// wire is the way to the database, which can be cut and mended.
type wire struct {
	l    net.Listener
	to   string
	mu   sync.Mutex
	cut  bool
	open []net.Conn
}

func newWire(t *testing.T, to string) *wire {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	w := &wire{l: l, to: to}
	t.Cleanup(func() { l.Close(); w.set(true) })
	go func() {
		for {
			a, err := l.Accept()
			if err != nil {
				return
			}
			b, err := net.Dial("tcp", to)
			w.mu.Lock()
			if err != nil || w.cut {
				a.Close()
				if err == nil {
					b.Close()
				}
			} else {
				w.open = append(w.open, a, b)
				go func() { _, _ = io.Copy(a, b); a.Close() }()
				go func() { _, _ = io.Copy(b, a); b.Close() }()
			}
			w.mu.Unlock()
		}
	}()
	return w
}

func (w *wire) set(cut bool) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.cut = cut
	if cut {
		for _, c := range w.open {
			c.Close()
		}
		w.open = nil
	}
}

// A database that cannot be asked is a 503 that says when to come again, on every
// route and to everyone: nobody is told of a wrong password, of a session that
// ended, or of something that is not there. When it is back, all goes on.
func TestDatabaseAway(t *testing.T) {
	t.Parallel()
	at, err := url.Parse(testdb.URL(t))
	require.NoError(t, err)
	w := newWire(t, at.Host)
	at.Host = w.l.Addr().String()
	st, err := store.Open(t.Context(), at.String())
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	s := &site{t: t, store: st}
	srv := s.serve(true)
	s.load(srv)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "main-jet-blocked", 0.7, "ann")
	before := ann.bench(a)

	w.set(true)
	ids := strings.NewReplacer(":attempt", a, ":job", uuid.NewString(), ":machine", uuid.NewString(), ":bug", uuid.NewString(),
		":photo", uuid.NewString(), ":exam", uuid.NewString(), ":given", uuid.NewString(), ":lesson", uuid.NewString(), ":seq", "99",
		":family", "f4-bowl", ":aid", "premix")
	away := func(u *user, method, path, body string) {
		req, err := http.NewRequest(method, s.url+path, strings.NewReader(body))
		require.NoError(t, err)
		if body != "" {
			req.Header.Set("Content-Type", "application/json")
		}
		res, err := u.c.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		raw, _ := io.ReadAll(res.Body)
		assert.Equal(t, 503, res.StatusCode, "%s %s: %s", method, path, raw)
		assert.NotEmpty(t, res.Header.Get("Retry-After"), "%s %s", method, path)
		assert.Contains(t, string(raw), `"code"`)
	}
	for _, route := range srv.Routes() {
		method, path, _ := strings.Cut(ids.Replace(route), " ")
		if method != "GET" || path == "/*" {
			continue // bodies are looked at first; these are tried below
		}
		away(inst, method, path, "")
		away(ann, method, path, "")
	}
	away(s.anyone(), "POST", "/api/session", `{"name":"ann","password":"pw-ann"}`)
	away(ann, "POST", "/api/session", `{"name":"ann","password":"wrong"}`)
	act := `{"client_id":"` + uuid.NewString() + `","after":0,"event":{"kind":"wait","minutes":3}}`
	away(ann, "POST", "/api/attempts/"+a+"/events", act)
	away(ann, "PUT", "/api/attempts/"+a+"/draft", `{"findings":[],"verdict":"","proof_seq":-1}`)
	away(ann, "DELETE", "/api/session", "")

	w.set(false)
	require.Eventually(t, func() bool { code, _ := ann.get("/api/me"); return code == 200 }, patience, 100*time.Millisecond)
	assert.Equal(t, before, ann.bench(a), "nothing was lost and nothing was done")
	code, _ := ann.call("POST", "/api/attempts/"+a+"/events", act)
	assert.Equal(t, 200, code)
	code, _ = ann.call("POST", "/api/attempts/"+a+"/events", act)
	assert.Equal(t, 200, code, "the same again is the same")
	assert.Equal(t, 1, ann.bench(a).Seq)
}

// What stands just within a limit is taken, and one more is refused with a word;
// whatever is no proper JSON is refused before anything is done.
func TestBodiesAtTheirLimits(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "rings-worn", 0.6, "ann")
	send := func(path, body string, head ...string) (int, string) {
		req, err := http.NewRequest("PUT", s.url+path, strings.NewReader(body))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		for i := 0; i < len(head); i += 2 {
			req.Header.Set(head[i], head[i+1])
		}
		res, err := ann.c.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		raw, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(raw)
	}
	draft := "/api/attempts/" + a + "/draft"
	hand := func(note string) string { return `{"findings":[],"verdict":"x","proof_seq":-1,"note":"` + note + `"}` }
	body := func(n int) string { return hand("") + strings.Repeat(" ", n-len(hand(""))) }
	for what, c := range map[string]struct {
		body   string
		status int
		says   string
		head   []string
	}{
		"a body at its limit":      {body(256 << 10), 204, "", nil},
		"a body over its limit":    {body(256<<10 + 1), 413, "request-over-kib", nil},
		"a note at its limit":      {hand(strings.Repeat("n", 5000)), 204, "", nil},
		"a note over its limit":    {hand(strings.Repeat("n", 5001)), 400, "not-as-described", nil},
		"the character NUL":        {hand(`\u0000`), 400, "http.nul", nil},
		"two values":               {hand("") + hand(""), 400, "more-than-one-value", nil},
		"an encoded body":          {hand(""), 415, "encoded-body", []string{"Content-Encoding", "gzip"}},
		"not UTF-8":                {hand("\xff"), 400, "not-utf8", nil},
		"deep nesting":             {strings.Repeat("[", 30) + strings.Repeat("]", 30), 400, "too-deep", nil},
		"beyond float64":           {`{"findings":[],"verdict":"x","proof_seq":1e999}`, 400, "number-too-large", nil},
		"a number that is no seq":  {`{"findings":[],"verdict":"x","proof_seq":1e300}`, 400, "", nil},
		"half a value":             {`{"findings":[`, 400, "not-json", nil},
		"a member that is not its": {`{"findings":[],"verdict":"x","proof_seq":-1,"seed":3}`, 400, "not-as-described", nil},
		"another kind of content":  {hand(""), 415, "", []string{"Content-Type", "text/plain"}},
	} {
		code, raw := send(draft, c.body, c.head...)
		if c.status == 415 && c.says == "" {
			assert.GreaterOrEqual(t, code, 400, what)
			assert.Less(t, code, 500, what)
		} else {
			assert.Equal(t, c.status, code, "%s: %.200s", what, raw)
		}
		assert.Contains(t, raw, c.says, what)
	}
	code, raw := ann.do(a, 0, map[string]any{"kind": "take", "test": strings.Repeat("x", 60)})
	assert.Equal(t, 422, code, string(raw))
	setup := map[string]any{}
	for i := range 200 {
		setup[strings.Repeat("k", 20)+string(rune('a'+i%26))+uuid.NewString()] = 1
	}
	code, raw = ann.do(a, 0, map[string]any{"kind": "take", "test": "compression-dry", "setup": setup})
	assert.GreaterOrEqual(t, code, 400, "an act over its limit: %.100s", raw)
	assert.Less(t, code, 500)
	// A head over its limit is refused by the server itself. Its reader allows itself
	// 4 KiB more than it is told, and has up to 4 KiB in hand on a connection that
	// is used again.
	for size, status := range map[int]int{15 << 10: 200, 16<<10 + 10_000: 431} {
		req, _ := http.NewRequest("GET", s.url+"/api/me", nil)
		req.Header.Set("X-Pad", strings.Repeat("h", size))
		res, err := ann.c.Do(req)
		require.NoError(t, err)
		assert.Equal(t, status, res.StatusCode, "%d bytes", size)
		res.Body.Close()
	}
	assert.Zero(t, ann.bench(a).Seq)
}
