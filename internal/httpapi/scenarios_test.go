package httpapi_test

import (
	"bytes"
	"encoding/json"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/api"
	"zanjero/core/scenario"
	"zanjero/internal/httpapi"
)

// A scenario is kept as it is typed, changed by two, given out, put away, and carried to
// another yard as a pack; what was given out stays as it was.
func TestLibraryOfScenarios(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	m := inst.firstMachine()
	id := uuid.New()
	path := "/api/scenarios/" + id.String()
	form := map[string]any{"title": "The jet", "machine": "moon", "faults": []any{}, "complaint": "", "words": "", "limit_minutes": 60, "limit_money": 40}
	for range 2 { // the same may be asked for again
		code, raw := inst.call("POST", "/api/scenarios", map[string]any{"id": id, "machine_id": m.Id, "draft": form})
		require.Equal(t, 201, code, string(raw))
	}
	form["faults"], form["complaint"], form["words"] = []any{map[string]any{"id": "main-jet-blocked", "severity": 0.6}}, "only-on-choke", "Choke only."
	save := func(changes int) (int, []byte) {
		return inst.call("PUT", path, map[string]any{"changes": changes, "machine_id": m.Id, "draft": form})
	}
	code, raw := save(1)
	require.Equal(t, 200, code, string(raw))
	f := decode[httpapi.ScenarioFile](t, raw)
	assert.Equal(t, m.Family, f.Draft.Machine, "its machine is the yard's")
	assert.Equal(t, []string{"fuel"}, f.Line.Laterals)
	form["title"] = "Mine"
	code, raw = save(1)
	require.Equal(t, 409, code)
	assert.Equal(t, "The jet", decode[httpapi.ScenarioMoved](t, raw).Now.Line.Title)

	// Given out, worked out, and told of in the list.
	spec := map[string]any{"scenario": id, "machine_id": m.Id, "faults": form["faults"], "claim": "only-on-choke", "words": "Choke only.",
		"limit_minutes": 60, "limit_money": 40}
	s.jobWith(inst, "main-jet-blocked", 0.6, "ann", spec)
	line := func() httpapi.ScenarioLine {
		_, raw := inst.get("/api/scenarios")
		all := decode[[]httpapi.ScenarioLine](t, raw)
		require.Len(t, all, 1)
		return all[0]
	}
	workedOut := func() httpapi.ScenarioLine {
		require.Eventually(t, func() bool { return !line().WorkingOut }, 2*time.Minute, 100*time.Millisecond)
		return line()
	}
	l := workedOut()
	assert.Equal(t, [4]int{1, 1, 0, 3}, [4]int{l.Revisions, l.Given, l.Marked, *l.Level})
	assert.Greater(t, *l.Minutes, 5.0)

	// The yard's own minutes change, and what it comes to with them: nobody opens it for that.
	_, raw = inst.get("/api/own-figures")
	own := decode[httpapi.OwnFile](t, raw)
	slow := map[string]float64{}
	for test, minutes := range own.Catalogue.Tests {
		slow[test] = 2 * minutes
	}
	code, raw = inst.call("PUT", "/api/own-figures", map[string]any{"changes": own.Changes, "figures": map[string]any{"tests": slow}})
	require.Equal(t, 200, code, string(raw))
	assert.True(t, line().WorkingOut)
	assert.Greater(t, *workedOut().Minutes, 1.3**l.Minutes)
	form["title"], form["words"] = "Changed", "Other words."
	code, _ = save(2)
	require.Equal(t, 200, code)
	_, raw = inst.get("/api/jobs")
	assert.Equal(t, "Choke only.", decode[httpapi.JobPage](t, raw).Items[0].Spec.Words, "what was given out stays")
	spec["scenario"] = uuid.New()
	code, raw = inst.call("POST", "/api/jobs", spec)
	assert.Equal(t, 422, code, string(raw))

	code, raw = inst.get("/api/scenario-packs?id=" + id.String())
	require.Equal(t, 200, code, string(raw))
	assertSchema(t, raw, true)
	code, back := inst.call("POST", "/api/scenario-packs", string(raw))
	require.Equal(t, 201, code, string(back))
	came := decode[[]httpapi.ScenarioLine](t, back)[0]
	assert.NotEqual(t, id, came.Id, "nothing is written over")
	assert.Equal(t, "Changed", came.Title)

	code, _ = inst.call("PUT", "/api/scenarios/"+came.Id.String()+"/archive", map[string]any{"archived": true})
	assert.Equal(t, 204, code)
	code, raw = inst.get("/api/scenarios/" + came.Id.String())
	require.Equal(t, 200, code)
	assert.True(t, decode[httpapi.ScenarioFile](t, raw).Line.Archived)
	code, _ = inst.get("/api/procedures/" + id.String())
	assert.Equal(t, 404, code, "a scenario is no procedure")
}

// assertSchema holds a pack against the published schema.
func assertSchema(t *testing.T, raw []byte, valid bool) {
	t.Helper()
	schema, err := jsonschema.UnmarshalJSON(bytes.NewReader(api.ScenariosSchema))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("s.json", schema))
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw))
	require.NoError(t, err)
	err = c.MustCompile("s.json").Validate(doc)
	assert.Equal(t, valid, err == nil, "%v\n%s", err, raw)
}

// A hundred spoilt packs: each is refused with a place and a way to mend it, or comes in
// whole; nothing of one that is refused comes in. What the schema allows is not refused for
// its form.
func TestSpoiltScenarioPacks(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	form := scenario.Form{Title: "x", Machine: "f4-bowl", Complaint: "no-start", Words: "w", LimitMinutes: 60, LimitMoney: 1}
	form.Faults = append(form.Faults, struct {
		ID       string  `json:"id"`
		Severity float64 `json:"severity,omitempty"`
		Mode     string  `json:"mode,omitempty"`
		Cause    string  `json:"cause,omitempty"`
	}{ID: "switch-off"})
	good, err := json.Marshal(scenario.Pack{Format: scenario.PackFormat, Version: 1, Scenarios: []scenario.Form{form, form}})
	require.NoError(t, err)
	assertSchema(t, good, true)
	r := rand.New(rand.NewPCG(4, 4))
	came := 0
	for range 100 {
		raw := bytes.Clone(good)
		for range 1 + r.IntN(3) {
			raw[r.IntN(len(raw))] = "x\"{}[],:019-"[r.IntN(12)]
		}
		if !json.Valid(raw) {
			continue
		}
		code, answer := inst.call("POST", "/api/scenario-packs", string(raw))
		switch code {
		case 201:
			came += 2
		case 400, 422:
			assert.NotEmpty(t, decode[httpapi.Error](t, answer).Mend, string(answer))
		default:
			t.Errorf("%d: %s\n%s", code, answer, raw)
		}
	}
	_, raw := inst.get("/api/scenarios")
	assert.Len(t, decode[[]httpapi.ScenarioLine](t, raw), came)
	for doc, place := range map[string]string{`{"format":"zanjero.scenarios","version":9,"later":1,"scenarios":[]}`: "version",
		`{"format":"zanjero.pack"}`:                                 "format",
		`{"format":"zanjero.scenarios","version":1,"scenarios":[]}`: "scenarios"} {
		code, answer := inst.call("POST", "/api/scenario-packs", doc)
		assert.Equal(t, 422, code, doc)
		assert.Equal(t, place, *decode[httpapi.Error](t, answer).Path, doc)
	}
}
