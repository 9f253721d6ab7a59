package httpapi_test

import (
	"encoding/json"
	"net/url"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/demo"
	"zanjero/internal/httpapi"
	"zanjero/internal/yard"
)

func mustURL(s string) *url.URL {
	u, err := url.Parse(s)
	if err != nil {
		panic(err)
	}
	return u
}

// The whole job through the interface: found, repaired, proved, debriefed.
// Every answer is held against the description on the way.
func TestAJobFromCardToDebrief(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "main-jet-blocked", 1, "ann")
	seq := 0
	// What each act answers is laid over what the page has, and comes to the bench.
	has := map[string]json.RawMessage{}
	_, raw := ann.get("/api/attempts/" + a)
	require.NoError(t, json.Unmarshal(raw, &has))
	do := func(e map[string]any) httpapi.Bench {
		code, raw := ann.do(a, seq, e)
		require.Equal(t, 200, code, string(raw))
		seq++
		for k, v := range decode[map[string]json.RawMessage](t, raw) {
			if has[k] = v; string(v) == "null" {
				delete(has, k)
			}
		}
		laid, err := json.Marshal(has)
		require.NoError(t, err)
		_, whole := ann.get("/api/attempts/" + a)
		require.JSONEq(t, string(whole), string(laid))
		return decode[httpapi.Bench](t, whole)
	}
	b := ann.bench(a)
	assert.NotContains(t, b.Controls, "switch", "nobody has looked at the switch yet")
	do(map[string]any{"kind": "control", "control": map[string]any{"choke": 1}})
	b = do(map[string]any{"kind": "take", "test": "start-attempt"})
	assert.Contains(t, b.Ledger[0].Result, "no fire")
	b = do(map[string]any{"kind": "take", "test": "jet-look"})
	require.NotNil(t, b.Look)
	assert.True(t, b.Ledger[1].Waiting)
	do(map[string]any{"kind": "entry", "word": "none"})
	do(map[string]any{"kind": "mark", "reach": "jets", "mark": "condemned"})
	b = do(map[string]any{"kind": "repair", "repair": "replace", "reach": "jets"})
	assert.Equal(t, 38.0, b.Money)
	b = do(map[string]any{"kind": "take", "test": "start-attempt"})
	assert.Contains(t, b.Ledger[len(b.Ledger)-1].Result, "runs well")
	hand := map[string]any{"findings": []map[string]any{{"reach": "jets", "fault": "main-jet-blocked", "filing": "root", "evidence": []int{2}}},
		"cause": "stored-with-fuel", "advice": "drain-before-storage", "verdict": "repaired", "proof_seq": seq - 1}
	code, _ := ann.call("PUT", "/api/attempts/"+a+"/draft", hand)
	assert.Equal(t, 204, code)
	assert.Equal(t, "stored-with-fuel", ann.bench(a).Draft.Cause)
	code, raw = ann.call("POST", "/api/attempts/"+a+"/hand-over", hand)
	require.Equal(t, 202, code, string(raw))
	raw = ann.debrief(a)
	d := decode[httpapi.Debrief](t, raw)
	assert.Equal(t, "proven", d.Assessment.Class)
	assert.Equal(t, "main-jet-blocked", d.Assessment.Truth[0].ID)
	// Frozen: no more acts, no second hand-over, the same debrief for both.
	code, _ = ann.do(a, seq, map[string]any{"kind": "wait", "minutes": 1})
	assert.Equal(t, 409, code)
	code, _ = ann.call("POST", "/api/attempts/"+a+"/hand-over", hand)
	assert.Equal(t, 409, code)
	_, again := ann.get("/api/attempts/" + a + "/debrief")
	_, theirs := inst.get("/api/attempts/" + a + "/debrief")
	assert.JSONEq(t, string(raw), string(again))
	assert.Equal(t, d.Assessment, decode[httpapi.Debrief](t, theirs).Assessment)
}

// A retry is not a second act, a stale tab is told so, and of many tabs at
// once exactly one act counts.
func TestNothingIsLostOrDoubled(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "rings-worn", 0.6, "ann")
	body := func(id string, after int, minutes float64) map[string]any {
		return map[string]any{"client_id": id, "after": after, "event": map[string]any{"kind": "wait", "minutes": minutes}}
	}
	path := "/api/attempts/" + a + "/events"
	id := uuid.NewString()
	for range 3 {
		code, raw := ann.call("POST", path, body(id, 0, 5))
		require.Equal(t, 200, code)
		assert.JSONEq(t, "5", string(decode[map[string]json.RawMessage](t, raw)["minutes"]))
	}
	code, _ := ann.call("POST", path, body(id, 0, 6))
	assert.Equal(t, 409, code, "the same id with another body")
	code, raw := ann.call("POST", path, body(uuid.NewString(), 0, 5))
	require.Equal(t, 409, code, "a stale tab")
	require.NotNil(t, decode[httpapi.Moved](t, raw).Bench)
	assert.Equal(t, 1, decode[httpapi.Moved](t, raw).Bench.Seq)

	var wg sync.WaitGroup
	var mu sync.Mutex
	counts := map[int]int{}
	for range 12 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			code, _ := ann.call("POST", path, body(uuid.NewString(), 1, 5))
			mu.Lock()
			counts[code]++
			mu.Unlock()
		}()
	}
	wg.Wait()
	assert.Equal(t, map[int]int{200: 1, 409: 11}, counts)
	// A server that knows nothing yet replays to the same bench.
	before := ann.bench(a)
	s.serve(true)
	assert.Equal(t, before, s.as("ann").bench(a))
}

// Bad input says what, where and how to mend it, and leaves everything as it was.
func TestBadInput(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "rings-worn", 0.6, "ann")
	event := func(e string) string { return `{"client_id":"` + uuid.NewString() + `","after":0,"event":` + e + `}` }
	_, raw := inst.get("/api/machines")
	machine := decode[[]httpapi.Machine](t, raw)[0].Id.String()
	jobWith := func(faults, more string) string {
		return `{"machine_id":"` + machine + `","faults":` + faults + `,"words":"x","claim":"no-start","limit_minutes":60,"limit_money":4` + more + `}`
	}
	for _, c := range []struct {
		u            *user
		method, path string
		body         string
		status       int
		says         string
	}{
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"take","test":"xray"}`), 422, "xray"},
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"dance"}`), 400, "kind"},
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"control","control":{"choke":"0,5"}}`), 422, "with a point"},
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"entry","reading":"62","unit":"psi","judged":"within"}`), 422, "nothing to write down"},
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"wait","minutes":1,"word":"x"}`), 422, "leave it out"},
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"act","act":"pull"}`), 422, "no instrument"},
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"mark","reach":"moon","mark":"clear"}`), 422, "moon"},
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"wait","minutes":"five"}`), 400, "minutes"},
		{ann, "POST", "/api/attempts/" + a + "/events", `{"client_id":`, 400, "JSON"},
		{ann, "POST", "/api/attempts/" + a + "/events", event(`{"kind":"wait","minutes":1,"pad":"` + strings.Repeat("x", 300<<10) + `"}`), 413, "KiB"},
		{ann, "GET", "/api/attempts/not-an-id", "", 404, "nothing"},
		{ann, "GET", "/api/nowhere", "", 404, "nothing"},
		{inst, "POST", "/api/jobs", jobWith(`[]`, ""), 422, "no fault is hidden"},
		{inst, "POST", "/api/jobs", jobWith(`[{"id":"gremlins"}]`, ""), 422, "gremlins"},
		{inst, "POST", "/api/jobs", jobWith(`[{"id":"rings-worn","severity":7}]`, ""), 422, "outside 0 to 1"},
		{inst, "POST", "/api/jobs", jobWith(`[{"id":"rings-worn","severity":"half"}]`, ""), 400, "severity"},
		{inst, "POST", "/api/jobs", jobWith(`[{"id":"switch-off"}]`, `,"temperature_c":300`), 422, "out of range"},
		{inst, "GET", "/api/families/steam", "", 404, "nothing"},
	} {
		var body any
		if c.body != "" {
			body = c.body
		}
		code, raw := c.u.call(c.method, c.path, body)
		assert.Equal(t, c.status, code, "%s %.120s: %s", c.path, c.body, raw)
		assert.Contains(t, string(raw), c.says, "%s %.120s", c.path, c.body)
		assert.NotEmpty(t, decode[httpapi.Error](t, raw).Mend)
	}
	b := ann.bench(a)
	assert.Equal(t, 0, b.Seq)
	assert.Zero(t, b.Minutes)
	_, raw = inst.get("/api/jobs")
	assert.Len(t, decode[httpapi.JobPage](t, raw).Items, 1, "nothing of a bad job is stored")
}

// The demo yard is whole: every machine's sheet can be, the model's healthy
// readings agree with it, and the complaint of each demo job is true.
func TestDemoYard(t *testing.T) {
	t.Parallel()
	f, err := yard.Parse(demo.Yard)
	require.NoError(t, err)
	assert.Len(t, f.Machines, 6)
	sheets := map[string]yard.Machine{}
	for _, m := range f.Machines {
		m.Sheet = catalogue.Standard().Complete(m.Family, m.Sheet)
		sheets[m.Code] = m
		rows, err := (&scenario.Scenario{Family: m.Family, Sheet: m.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}).Healthy(t.Context())
		require.NoError(t, err, m.Code)
		for _, r := range rows {
			assert.True(t, r.Agrees, "%s: %s reads %s, the sheet says %s", m.Code, r.Test, r.Reads, r.Sheet)
		}
	}
	for _, j := range f.Jobs {
		m := sheets[j.Machine]
		sc := scenario.Scenario{Family: m.Family, Sheet: m.Sheet, Ambient: machine.Ambient{TemperatureC: 20}, Faults: j.Faults, Claim: j.Claim,
			Words: j.Words, LimitMinutes: j.LimitMinutes, LimitMoney: j.LimitMoney}
		assert.Empty(t, sc.Check())
		p, err := sc.Truth()
		require.NoError(t, err)
		assert.Greater(t, p, 0.5, j.Words)
	}
	_, err = yard.Parse([]byte(`{"format":"zanjero-yard-99"}`))
	assert.ErrorContains(t, err, "another version")
}

// What an author sees while writing: the preview beside a sound machine, and
// whether the complaint is true.
func TestPreview(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	_, raw := inst.get("/api/machines")
	m := decode[[]httpapi.Machine](t, raw)[0]
	for _, h := range m.Healthy {
		assert.True(t, h.Agrees, "the demo sheet and the model disagree on %s: %s", h.Test, h.Reads)
	}
	preview := func(faults []map[string]any, claim string) httpapi.Preview {
		code, raw := inst.call("POST", "/api/preview", map[string]any{"machine_id": m.Id, "faults": faults, "words": "", "claim": claim,
			"limit_minutes": 60, "limit_money": 1})
		require.Equal(t, 200, code, string(raw))
		return decode[httpapi.Preview](t, raw)
	}
	p := preview([]map[string]any{{"id": "main-jet-blocked", "severity": 0.5}}, "only-on-choke")
	assert.Greater(t, *p.ComplaintTrue, 0.9)
	assert.Len(t, p.Problems, 1, "only the words are missing")
	differs := map[string]bool{}
	for _, r := range p.Rows {
		differs[r.Test] = r.Differs
	}
	assert.True(t, differs["jet-look"])
	assert.False(t, differs["spark-gap"])
	assert.Less(t, *preview([]map[string]any{{"id": "switch-off"}}, "weak").ComplaintTrue, 0.1)
	assert.Empty(t, preview([]map[string]any{{"id": "gremlins"}}, "weak").Rows)
}
