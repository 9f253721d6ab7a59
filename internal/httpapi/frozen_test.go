package httpapi_test

import (
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
	"zanjero/internal/store"
	"zanjero/internal/testdb"
	"zanjero/internal/yard"
)

// guess is a hand-over that names something.
var guess = map[string]any{"findings": []any{map[string]any{"reach": "jets", "filing": "root"}}, "verdict": "refer-on", "proof_seq": -1}

// change alters what the database keeps behind the server's back.
func (s *site) change(command string, args ...any) {
	tx, err := s.store.SQL().BeginTx(s.t.Context(), nil)
	require.NoError(s.t, err)
	_, err = tx.Exec("SET LOCAL session_replication_role = replica") // events are append-only otherwise
	require.NoError(s.t, err)
	_, err = tx.Exec(command, args...)
	require.NoError(s.t, err)
	require.NoError(s.t, tx.Commit())
}

// card is an attempt as the instructor's list shows it.
func (u *user) card(attempt string) (c httpapi.AttemptCard, listed bool) {
	_, raw := u.get("/api/attempts")
	for _, c := range decode[httpapi.AttemptPage](u.t, raw).Items {
		if c.Id.String() == attempt {
			return c, true
		}
	}
	return c, false
}

// An attempt whose record does not replay to what was seen is stopped, with a
// word to the instructor, and nothing is judged from it. It is given anew, and
// what was done stays to be read.
func TestDamagedRecordStopsTheAttempt(t *testing.T) {
	t.Parallel()
	for what, c := range map[string]struct{ command, code string }{
		"an act that cannot be read": {`UPDATE events SET body = '{"kind":5}' WHERE attempt_id = $1 AND seq = 1`, "attempt.act-unreadable"},
		"an act that is refused now": {`UPDATE events SET body = '{"kind":"take","test":"xray"}' WHERE attempt_id = $1 AND seq = 1`, "attempt.act-refused-now"},
		"an act that shows another": {`UPDATE events SET body = '{"kind":"take","test":"look-over"}' WHERE attempt_id = $1 AND seq = 1`,
			"attempt.shows-otherwise-now"},
		"a result that is another": {`UPDATE events SET observed = jsonb_set(observed, '{word}', '"runs-well"') WHERE attempt_id = $1 AND seq = 1`,
			"attempt.shows-otherwise-now"},
	} {
		t.Run(what, func(t *testing.T) {
			s := open(t)
			inst, ann := s.as("inst"), s.as("ann")
			a := s.job(inst, "main-jet-blocked", 1, "ann")
			for i, e := range []map[string]any{{"kind": "control", "control": map[string]any{"choke": 1}}, {"kind": "take", "test": "start-attempt"},
				{"kind": "wait", "minutes": 2}} {
				code, raw := ann.do(a, i, e)
				require.Equal(t, 200, code, string(raw))
			}
			s.change(c.command, a)
			s.serve(true) // one that has nothing in memory
			inst, ann = s.as("inst"), s.as("ann")
			code, raw := ann.get("/api/attempts/" + a)
			assert.Equal(t, 409, code, string(raw))
			assert.Contains(t, string(raw), "http.frozen")
			for _, path := range []string{"/hand-over", "/events"} {
				body := any(guess)
				if path == "/events" {
					body = map[string]any{"client_id": uuid.NewString(), "after": 3, "event": map[string]any{"kind": "wait", "minutes": 1}}
				}
				code, raw = ann.call("POST", "/api/attempts/"+a+path, body)
				assert.Equal(t, 409, code, string(raw))
			}
			stopped, _ := inst.card(a)
			assert.EqualValues(t, "frozen", stopped.State)
			require.NotNil(t, stopped.Frozen)
			assert.Equal(t, c.code, stopped.Frozen.Code)
			theirs, _ := ann.card(a)
			assert.Nil(t, theirs.Frozen, "why is for the instructor")
			code, raw = inst.get("/api/attempts/" + a + "/ledger")
			require.Equal(t, 200, code, string(raw))
			assert.Len(t, decode[httpapi.KeptLedger](t, raw).Acts, 3)
			code, _ = inst.call("POST", "/api/attempts/"+a+"/renewal", nil)
			assert.Equal(t, 204, code)
			_, still := ann.card(a)
			assert.False(t, still)
			_, raw = ann.get("/api/attempts")
			fresh := decode[httpapi.AttemptPage](t, raw).Items
			require.Len(t, fresh, 1)
			assert.Zero(t, ann.bench(fresh[0].Id.String()).Seq)
			code, _ = inst.get("/api/attempts/" + a + "/ledger")
			assert.Equal(t, 200, code, "what was put away stays to be read")
		})
	}
}

// An attempt that was begun on an older model is not gone on with: it is closed
// and given anew. One that was handed over keeps its debrief.
func TestOlderModel(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	begun, done := s.job(inst, "main-jet-blocked", 1, "ann"), s.job(inst, "rings-worn", 0.7, "ann")
	code, _ := ann.do(begun, 0, map[string]any{"kind": "wait", "minutes": 2})
	require.Equal(t, 200, code)
	code, raw := ann.call("POST", "/api/attempts/"+done+"/hand-over", guess)
	require.Equal(t, 202, code, string(raw))
	before := ann.debrief(done)
	s.change("UPDATE attempts SET model_version = '2025.1'")
	s.serve(true)
	inst, ann = s.as("inst"), s.as("ann")
	code, raw = ann.get("/api/attempts/" + begun)
	assert.Equal(t, 409, code)
	assert.Contains(t, string(raw), "2025.1")
	card, _ := inst.card(begun)
	assert.True(t, card.Outdated != nil && *card.Outdated)
	now := decode[httpapi.Debrief](t, ann.debrief(done))
	assert.Equal(t, decode[httpapi.Debrief](t, before).Assessment, now.Assessment, "nothing is judged anew by itself")
	assert.True(t, *now.Review.OfAnotherModel)
	code, _ = inst.call("POST", "/api/attempts/"+done+"/renewal", nil)
	assert.Equal(t, 409, code, "what is finished is not done again")
	code, _ = inst.call("POST", "/api/attempts/"+begun+"/renewal", nil)
	assert.Equal(t, 204, code)
	_, raw = ann.get("/api/attempts")
	for _, c := range decode[httpapi.AttemptPage](t, raw).Items {
		if c.State == "new" {
			code, raw = ann.do(c.Id.String(), 0, map[string]any{"kind": "wait", "minutes": 2})
			assert.Equal(t, 200, code, string(raw))
		}
	}
}

// A hand-over whose server stops before it is marked is marked by another.
func TestMarkingSurvivesItsServer(t *testing.T) {
	t.Parallel()
	s := &site{t: t, store: testdb.Open(t)}
	srv := s.serve(true)
	s.load(srv)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "main-jet-blocked", 1, "ann")
	srv.Close() // it marks nothing more
	code, raw := ann.call("POST", "/api/attempts/"+a+"/hand-over", guess)
	require.Equal(t, 202, code, string(raw))
	code, _ = ann.get("/api/attempts/" + a + "/debrief")
	assert.Equal(t, 202, code)
	card, _ := ann.card(a)
	assert.EqualValues(t, "marking", card.State)
	s.serve(true)
	raw = ann.debrief(a)
	assert.NotEmpty(t, decode[httpapi.Debrief](t, raw).Assessment.Sections)
}

// Two servers on one database behind a plain proxy that asks each in turn: they
// migrate at once, load the demo once, do an act once, and show the same bench.
func TestTwoServersOnOneDatabase(t *testing.T) {
	t.Parallel()
	at := testdb.Bare(t)
	f, err := yard.Parse([]byte(`{"format":"zanjero-yard-1",` + people + `}`))
	require.NoError(t, err)
	sites := make([]*site, 2)
	var loaded atomic.Int32
	var wg sync.WaitGroup
	for i := range sites {
		wg.Go(func() {
			st, err := store.Open(t.Context(), at)
			if !assert.NoError(t, err) {
				return
			}
			t.Cleanup(func() { st.Close() })
			s := &site{t: t, store: st}
			srv := s.serve(true)
			did, err := yard.Load(t.Context(), st, f, cheap, srv.Seed)
			assert.NoError(t, err)
			if did {
				loaded.Add(1)
			}
			sites[i] = s
		})
	}
	wg.Wait()
	require.EqualValues(t, 1, loaded.Load())
	var turn atomic.Int32
	proxy := httptest.NewServer(&httputil.ReverseProxy{Rewrite: func(r *httputil.ProxyRequest) {
		to, _ := url.Parse(sites[turn.Add(1)%2].url)
		r.SetURL(to)
		r.Out.Host = r.In.Host
	}})
	t.Cleanup(proxy.Close)
	both := &site{t: t, store: sites[0].store, spec: sites[0].spec, url: proxy.URL}
	inst, ann := both.as("inst"), both.as("ann")
	a := both.job(inst, "rings-worn", 0.6, "ann")
	seq := 0
	for range 6 {
		// The same act to both at once, and a bench from either after it.
		body := map[string]any{"client_id": uuid.NewString(), "after": seq, "event": map[string]any{"kind": "wait", "minutes": 1}}
		raw, err := json.Marshal(body)
		require.NoError(t, err)
		var done sync.WaitGroup
		for range 4 {
			done.Go(func() {
				code, answer := ann.call("POST", "/api/attempts/"+a+"/events", string(raw))
				assert.Equal(t, http.StatusOK, code, string(answer))
			})
		}
		done.Wait()
		seq++
		one, two := ann.bench(a), ann.bench(a)
		assert.Equal(t, seq, one.Seq)
		assert.Equal(t, one, two)
	}
	code, raw := ann.call("POST", "/api/attempts/"+a+"/hand-over", guess)
	require.Equal(t, 202, code, string(raw))
	assert.JSONEq(t, string(ann.debrief(a)), string(ann.debrief(a)))
}
