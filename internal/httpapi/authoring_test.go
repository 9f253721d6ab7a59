package httpapi_test

import (
	"encoding/json"
	"maps"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/authoring"
	"zanjero/core/scenario"
	"zanjero/internal/httpapi"
)

// lastLine reads an answer of lines: the last, and how many there were.
func lastLine[T any](t *testing.T, raw []byte) (out T, n int) {
	all := strings.Split(strings.TrimSpace(string(raw)), "\n")
	return decode[T](t, []byte(all[len(all)-1])), len(all)
}

type generated struct {
	Scenarios []authoring.Found
	Error     *httpapi.Error
}

// Symptom first, then a scenario: offered, checked, generated, varied, and given out; what
// the machine does not do is not given out, and says what would be so.
func TestScenarioFromSymptomToJob(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	m := inst.firstMachine()
	spec := map[string]any{"machine_id": m.Id, "faults": []any{map[string]any{"id": "main-jet-blocked", "severity": 0.6}}, "words": "Only with the choke.",
		"claim": "only-on-choke", "limit_minutes": 60, "limit_money": 40, "told": []any{map[string]any{"says": "stored-with-fuel", "is": "true"}},
		"distractors": []any{map[string]any{"id": "filter-torn", "severity": 0.4}}}
	with := func(pairs ...any) map[string]any {
		out := maps.Clone(spec)
		for i := 0; i < len(pairs); i += 2 {
			out[pairs[i].(string)] = pairs[i+1]
		}
		return out
	}
	code, raw := inst.call("POST", "/api/symptoms", with("claim", "dies-in-quarter"))
	require.Equal(t, 200, code, string(raw))
	assert.Contains(t, string(raw), "cap-vent-blocked")

	code, raw = inst.call("POST", "/api/scenario-checks", spec)
	require.Equal(t, 200, code, string(raw))
	r := decode[authoring.Result](t, raw)
	assert.Empty(t, r.Problems)
	assert.True(t, r.Solvable.True && r.Difficulty.Distractors == 1)

	// Not so: it says what would be, here and in the preview, and is not given out.
	code, raw = inst.call("POST", "/api/jobs", with("claim", "stuck"))
	assert.Equal(t, 422, code)
	assert.Contains(t, string(raw), "scenario.complaint-not-so")
	_, raw = inst.call("POST", "/api/preview", with("claim", "stuck"))
	assert.Contains(t, string(raw), "scenario.complaint-not-so")
	for _, wrong := range []map[string]any{with("kit", []string{"moon"}), with("told", []any{map[string]any{"says": "dust", "is": "true"}}),
		with("rubric", map[string]any{"readings": -1, "conclusion": 0, "economy": 0, "order": 0, "safety": 0, "proof": 0, "threshold": 0}),
		with("fuel_ml", 1e9), with("faults", []any{})} {
		code, raw = inst.call("POST", "/api/scenario-checks", wrong)
		assert.Equal(t, 422, code, string(raw))
	}

	code, raw = inst.call("POST", "/api/generated-scenarios", map[string]any{"like": spec, "count": 1, "seed": 3, "lateral": "spark"})
	require.Equal(t, 200, code, string(raw))
	g, n := lastLine[generated](t, raw)
	require.Nil(t, g.Error)
	require.Len(t, g.Scenarios, 1)
	assert.Greater(t, n, 1, "it said how far it was")
	want := 1
	if !testing.Short() {
		want = 20
	}
	code, raw = inst.call("POST", "/api/generated-scenarios", map[string]any{"like": spec, "count": want, "equal": true})
	require.Equal(t, 200, code, string(raw))
	if g, _ = lastLine[generated](t, raw); want > 1 {
		require.NotNil(t, g.Error, "there are not so many")
		assert.Equal(t, "scenario.fewer-equal", g.Error.Code)
	}
	require.NotEmpty(t, g.Scenarios)
	for _, x := range g.Scenarios {
		assert.Equal(t, r.Difficulty.Level, x.Result.Difficulty.Level)
	}

	// Given out with a kit: what is told stands on the card, and what is kept back does not;
	// the bench has what is in the kit, and nothing else that takes an instrument.
	spec["kit"] = []string{"compression-dry"}
	spec["told"] = []any{map[string]any{"says": "stored-with-fuel", "is": "omitted"}, map[string]any{"says": "new-plug", "is": "misleading"}}
	a := s.jobWith(inst, "main-jet-blocked", 0.6, "ann", spec)
	ann := s.as("ann")
	b := ann.bench(a)
	assert.Contains(t, b.History, "new plug")
	assert.NotContains(t, b.History, "stood")
	has := map[string]bool{}
	for _, t := range b.Tray {
		has[t.Test] = true
	}
	assert.True(t, has["compression-dry"] && has["jet-look"] && !has["spark-gap"])
	code, raw = ann.do(a, b.Seq, map[string]any{"kind": "take", "test": "spark-gap"})
	assert.Equal(t, 422, code, string(raw))
	assert.NotContains(t, string(raw), "scenario-")
	// Who asks the owner hears what is told.
	code, raw = ann.do(a, b.Seq, map[string]any{"kind": "take", "test": "ask-history"})
	require.Equal(t, 200, code, string(raw))
	assert.Contains(t, string(raw), "worked on")
	// The form is the one that the command line reads.
	form, err := json.Marshal(g.Scenarios[0].Form)
	require.NoError(t, err)
	_, err = scenario.ReadForm(strings.NewReader(string(form)))
	assert.NoError(t, err)
}

// An author tries a scenario off the record, and may look behind; nobody else has it, and
// nobody looks behind any other.
func TestAuthorTriesIt(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	spec := map[string]any{"machine_id": inst.firstMachine().Id, "faults": []any{map[string]any{"id": "main-jet-blocked", "severity": 0.6}},
		"words": "Choke only.", "claim": "only-on-choke", "limit_minutes": 60, "limit_money": 40}
	try := func() string {
		code, raw := inst.call("POST", "/api/trials", spec)
		require.Equal(t, 200, code, string(raw))
		return decode[struct{ Attempt string }](t, raw).Attempt
	}
	a := try()
	b := inst.bench(a)
	assert.True(t, b.Trial)
	code, raw := inst.do(a, b.Seq, map[string]any{"kind": "take", "test": "look-fuel"})
	require.Equal(t, 200, code, string(raw))
	assert.Equal(t, a, try(), "the same is gone on with")
	code, raw = inst.get("/api/attempts/" + a + "/behind")
	require.Equal(t, 200, code)
	assert.Contains(t, string(raw), "main-jet-blocked")
	code, _ = s.as("ann").get("/api/attempts/" + a)
	assert.Equal(t, 404, code)
	_, raw = inst.get("/api/jobs")
	assert.Empty(t, decode[httpapi.JobPage](t, raw).Items, "off the record")

	given := s.job(inst, "main-jet-blocked", 0.7, "ann")
	code, _ = inst.get("/api/attempts/" + given + "/behind")
	assert.Equal(t, 403, code)
	code, _ = s.as("ann").get("/api/attempts/" + given + "/behind")
	assert.Equal(t, 403, code)
}

// A job is seen from when it opens, worked on until it closes, and told of from when its
// debriefs are released; an instructor is bound by none of it.
func TestJobsHaveTheirTimes(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	at := func(hours int) string { return time.Now().Add(time.Duration(hours) * time.Hour).Format(time.RFC3339) }
	set := func(pairs ...string) string {
		more := map[string]any{}
		for i := 0; i < len(pairs); i += 2 {
			more[pairs[i]] = pairs[i+1]
		}
		return s.jobWith(inst, "main-jet-blocked", 0.7, "ann", more)
	}
	listed := func() map[string]httpapi.AttemptCard {
		_, raw := ann.get("/api/attempts")
		out := map[string]httpapi.AttemptCard{}
		for _, c := range decode[httpapi.AttemptPage](t, raw).Items {
			out[c.Id.String()] = c
		}
		return out
	}
	later, closed, kept := set("opens_at", at(1)), set("closes_at", at(-1)), set("debrief_at", at(1))
	assert.NotContains(t, listed(), later)
	code, _ := ann.get("/api/attempts/" + later)
	assert.Equal(t, 404, code, "not there yet")
	code, _ = inst.get("/api/attempts/" + later)
	assert.Equal(t, 200, code)

	code, raw := ann.do(closed, ann.bench(closed).Seq, map[string]any{"kind": "take", "test": "look-fuel"})
	assert.Equal(t, 409, code)
	assert.Contains(t, string(raw), "http.job-has-closed")
	root := map[string]any{"reach": "jets", "fault": "main-jet-blocked", "filing": "root"}
	hand := map[string]any{"findings": []any{root}, "verdict": "refer-on", "proof_seq": -1}
	for _, a := range []string{closed, kept} { // what was done can still be handed over
		code, raw = ann.call("POST", "/api/attempts/"+a+"/hand-over", hand)
		require.Equal(t, 202, code, string(raw))
	}
	require.Eventually(t, func() bool { l := listed(); return l[closed].Mark != nil && l[kept].State == "handed-over" }, patience, 50*time.Millisecond)
	card := listed()[kept]
	assert.True(t, card.Mark == nil && card.Class == nil && card.DebriefAt != nil, "%v", card)
	for _, what := range []string{"debrief", "inside"} {
		code, raw = ann.get("/api/attempts/" + kept + "/" + what)
		assert.Equal(t, 409, code)
		assert.Contains(t, string(raw), "http.debrief-held-back")
	}
	code, _ = inst.get("/api/attempts/" + kept + "/debrief")
	assert.Equal(t, 200, code)
	code, raw = inst.call("POST", "/api/jobs", map[string]any{"machine_id": inst.firstMachine().Id,
		"faults": []any{map[string]any{"id": "main-jet-blocked", "severity": 0.7}}, "words": "x", "claim": "no-start", "limit_minutes": 60, "limit_money": 1,
		"opens_at": at(2), "closes_at": at(1)})
	assert.Equal(t, 422, code)
	assert.Contains(t, string(raw), "http.closes-before-it-opens")
}
