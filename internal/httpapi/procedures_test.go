package httpapi_test

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/procedure"
	"zanjero/internal/httpapi"
)

// firstMachine is the yard's first.
func (u *user) firstMachine() httpapi.Machine {
	_, raw := u.get("/api/machines")
	return decode[[]httpapi.Machine](u.t, raw)[0]
}

// page is a school's for what does not start, on a machine.
func (u *user) page(m httpapi.Machine, school string) procedure.Procedure {
	code, raw := u.get("/api/schools?family=" + m.Family + "&complaint=no-start")
	require.Equal(u.t, 200, code, string(raw))
	for _, p := range decode[[]procedure.Procedure](u.t, raw) {
		if p.School == school {
			return p
		}
	}
	u.t.Fatal(school)
	return procedure.Procedure{}
}

func (u *user) evaluate(m httpapi.Machine, p procedure.Procedure, focus string) httpapi.Evaluated {
	code, raw := u.call("POST", "/api/evaluations", map[string]any{"machine_id": m.Id, "complaint": "no-start", "procedure": p, "focus": focus})
	require.Equal(u.t, 200, code, string(raw))
	return decode[httpapi.Evaluated](u.t, raw)
}

func (u *user) keep(m httpapi.Machine, p procedure.Procedure) httpapi.ProcedureFile {
	code, raw := u.call("POST", "/api/procedures", map[string]any{"id": uuid.NewString(), "machine_id": m.Id, "draft": p})
	require.Equal(u.t, 201, code, string(raw))
	return decode[httpapi.ProcedureFile](u.t, raw)
}

// A school's page is opened, changed, kept, given out and changed again: what was given
// out stays, who comes second is told and shown what stands there, and a pack of it
// brings the same figures back.
func TestProcedureFromSchoolToRevision(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	m := inst.firstMachine()
	f := inst.keep(m, inst.page(m, "dose-first"))
	path := "/api/procedures/" + f.Line.Id.String()
	e := inst.evaluate(m, f.Draft, f.Draft.Steps[1].ID)
	require.NotNil(t, e.Evaluation)
	assert.NotEmpty(t, e.Seen)
	sum := 0.0
	for _, p := range e.Evaluation.Totals.Levels {
		sum += p
	}
	assert.InDelta(t, 1, sum, 1e-6)

	save := func(changes int, p procedure.Procedure) (int, []byte) {
		return inst.call("PUT", path, map[string]any{"changes": changes, "machine_id": m.Id, "draft": p})
	}
	moved := f.Draft
	moved.Steps = append(append([]procedure.Step{}, f.Draft.Steps[1:]...), f.Draft.Steps[0])
	code, raw := save(1, moved)
	require.Equal(t, 200, code, string(raw))
	assert.Equal(t, 2, decode[httpapi.ProcedureFile](t, raw).Line.Changes)
	code, raw = save(1, f.Draft) // from another tab
	require.Equal(t, 409, code)
	assert.Equal(t, moved.Steps, decode[httpapi.ProcedureMoved](t, raw).Now.Draft.Steps)

	give := func(changes int) (int, []byte) {
		return inst.call("POST", path+"/revisions", map[string]any{"changes": changes})
	}
	code, _ = give(1)
	assert.Equal(t, 409, code, "not what was looked at")
	code, raw = give(2)
	require.Equal(t, 201, code, string(raw))
	code, _ = save(2, f.Draft)
	require.Equal(t, 200, code)
	code, raw = give(3)
	require.Equal(t, 201, code, string(raw))
	assert.Len(t, decode[httpapi.ProcedureFile](t, raw).Line.GivenOut, 2)
	code, raw = inst.get(path + "/revisions/1")
	require.Equal(t, 200, code)
	one := decode[procedure.Procedure](t, raw)
	assert.Equal(t, []any{moved.Steps, 1}, []any{one.Steps, one.Revision}, "as it was given out")
	_, err := s.store.SQL().Exec("UPDATE paper_revisions SET body = '{}'")
	assert.ErrorContains(t, err, "never change")

	code, pack := inst.get(path + "/pack")
	require.Equal(t, 200, code, string(pack))
	code, raw = inst.call("POST", "/api/packs?machine="+m.Id.String(), string(pack))
	require.Equal(t, 201, code, string(raw))
	came := decode[[]httpapi.ProcedureLine](t, raw)
	require.Len(t, came, 1)
	assert.NotEqual(t, f.Line.Id, came[0].Id)
	_, raw = inst.get("/api/procedures/" + came[0].Id.String())
	back := inst.evaluate(m, decode[httpapi.ProcedureFile](t, raw).Draft, "")
	assert.Equal(t, e.Evaluation.Totals, back.Evaluation.Totals)

	code, _ = inst.call("PUT", path+"/archive", map[string]any{"archived": true})
	assert.Equal(t, 204, code)
	_, raw = inst.get("/api/procedures")
	for _, l := range decode[[]httpapi.ProcedureLine](t, raw) {
		assert.Equal(t, l.Id == f.Line.Id, l.Archived)
	}
	// The same page asked for again is not a second one.
	code, _ = inst.call("POST", "/api/procedures", map[string]any{"id": f.Line.Id, "machine_id": m.Id, "draft": f.Draft})
	assert.Equal(t, 201, code)
	_, raw = inst.get("/api/procedures")
	assert.Len(t, decode[[]httpapi.ProcedureLine](t, raw), 2)
}

// What cannot be followed is kept as it was typed, is told what keeps it from that, and
// is neither given out nor exported; better orders save what they say.
func TestProcedureThatCannotBeFollowed(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	m := inst.firstMachine()
	good := inst.page(m, "look-first")
	for what, spoil := range map[string]func(p *procedure.Procedure){
		"no step": func(p *procedure.Procedure) { p.Steps = []procedure.Step{} },
		"a loop": func(p *procedure.Procedure) {
			p.Steps[1].Outcomes = []procedure.Outcome{{When: []string{"otherwise"}, Then: "goto", Step: p.Steps[0].ID}}
		},
		"a jump to nowhere": func(p *procedure.Procedure) {
			p.Steps[0].Outcomes = []procedure.Outcome{{When: []string{"otherwise"}, Then: "goto", Step: "moon"}}
		},
		"no such test":       func(p *procedure.Procedure) { p.Steps[0].Test = "reed-look" },
		"an unknown outcome": func(p *procedure.Procedure) { p.Steps[0].Outcomes[0].Then = "hope" },
	} {
		p := good
		p.Steps = append([]procedure.Step{}, good.Steps...)
		p.Steps[0].Outcomes = append([]procedure.Outcome{}, p.Steps[0].Outcomes...)
		spoil(&p)
		e := inst.evaluate(m, p, "")
		assert.Nil(t, e.Evaluation, what)
		require.NotEmpty(t, e.Findings, what)
		f := inst.keep(m, p)
		assert.Len(t, f.Draft.Steps, len(p.Steps), "kept as it was typed")
		code, raw := inst.call("POST", "/api/procedures/"+f.Line.Id.String()+"/revisions", map[string]any{"changes": 1})
		assert.Equal(t, 422, code, what)
		assert.Contains(t, string(raw), `"mend"`)
		code, _ = inst.get("/api/procedures/" + f.Line.Id.String() + "/pack")
		assert.Equal(t, 422, code, what)
		code, _ = inst.call("POST", "/api/better-orders", map[string]any{"machine_id": m.Id, "complaint": "no-start", "procedure": p})
		assert.Equal(t, 422, code, what)
	}
	code, raw := inst.call("POST", "/api/evaluations", map[string]any{"machine_id": m.Id, "complaint": "grief", "procedure": good})
	assert.Equal(t, 422, code, string(raw))
	long := good
	long.Title = strings.Repeat("long ", 2000)
	code, raw = inst.call("POST", "/api/procedures", map[string]any{"id": uuid.NewString(), "machine_id": m.Id, "draft": long})
	assert.Equal(t, 400, code)
	assert.Contains(t, string(raw), "title")

	small := good
	small.Steps = good.Steps[:9]
	code, raw = inst.call("POST", "/api/better-orders", map[string]any{"machine_id": m.Id, "complaint": "no-start", "procedure": small})
	require.Equal(t, 200, code, string(raw))
	for _, mv := range decode[[]procedure.Move](t, raw) {
		assert.Positive(t, mv.Saves)
	}
	code, raw = inst.call("POST", "/api/beside", map[string]any{"machine_id": m.Id, "complaint": "no-start"})
	require.Equal(t, 200, code, string(raw))
	assert.Len(t, decode[[]procedure.Row](t, raw), 6)
}

// A page is planned while one waits: lines say how far it is, the last has a page that
// can be kept and given out; who hangs up ends the work.
func TestPlannedPageOverTheInterface(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	m := inst.firstMachine()
	code, raw := inst.call("POST", "/api/planned-pages", map[string]any{"machine_id": m.Id, "complaint": "no-start", "steps": 3})
	require.Equal(t, 200, code, string(raw))
	lines := strings.Split(strings.TrimSpace(string(raw)), "\n")
	require.Greater(t, len(lines), 2)
	done := 0.0
	for _, l := range lines[:len(lines)-1] {
		at := decode[struct{ Done float64 }](t, []byte(l)).Done
		assert.Greater(t, at, done)
		done = at
	}
	assert.InDelta(t, 1, done, 1e-9)
	p := decode[struct{ Procedure procedure.Procedure }](t, []byte(lines[len(lines)-1])).Procedure
	assert.LessOrEqual(t, len(p.Steps), 3)
	inst.given(p)
	code, _ = inst.call("POST", "/api/planned-pages", map[string]any{"machine_id": m.Id, "complaint": "no-start", "steps": 40})
	assert.Equal(t, 400, code)
}

// A hundred spoilt packs: each is refused with a place and a way to mend it, or comes in
// whole; none comes in by half.
func TestSpoiltPacks(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	m := inst.firstMachine()
	count := func() int {
		_, raw := inst.get("/api/procedures")
		return len(decode[[]httpapi.ProcedureLine](t, raw))
	}
	source := procedure.Schools()
	source.Procedures = source.Procedures[:3]
	raw, err := json.Marshal(source)
	require.NoError(t, err)
	r := rand.New(rand.NewPCG(11, 11))
	refused := 0
	for range 100 {
		var doc any
		require.NoError(t, json.Unmarshal(raw, &doc))
		for range 1 + r.IntN(3) {
			mutate(r, doc)
		}
		was := count()
		code, answer := inst.call("POST", "/api/packs?machine="+m.Id.String(), doc)
		if code == 201 {
			assert.Equal(t, was+len(decode[[]httpapi.ProcedureLine](t, answer)), count())
			continue
		}
		refused++
		require.Contains(t, []int{400, 422}, code, string(answer))
		assert.Equal(t, was, count())
		said := decode[httpapi.Error](t, answer)
		assert.NotEmpty(t, said.Problem)
		assert.NotEmpty(t, said.Mend)
	}
	assert.Greater(t, refused, 20)
	code, _ := inst.call("POST", "/api/packs?machine="+m.Id.String(), `{"format":"zanjero.pack","version":1,"name":"`+strings.Repeat("x", 5<<20)+`"}`)
	assert.Equal(t, 413, code)
	code, answer := inst.call("POST", "/api/packs?machine="+m.Id.String(), `{"format":"zanjero.pack","version":9,"name":"x","procedures":[]}`)
	assert.Equal(t, 422, code)
	assert.Contains(t, string(answer), "version")
}

// mutate changes one thing somewhere in a document.
func mutate(r *rand.Rand, doc any) {
	at := doc
	for range 12 {
		switch v := at.(type) {
		case map[string]any:
			keys := []string{}
			for k := range v {
				keys = append(keys, k)
			}
			if len(keys) == 0 {
				return
			}
			k := keys[r.IntN(len(keys))]
			switch {
			case r.IntN(6) == 0:
				v[k] = []any{nil, -1.5, "moon", map[string]any{}, strings.Repeat("y", 3000)}[r.IntN(5)]
				return
			case r.IntN(9) == 0:
				delete(v, k)
				return
			}
			at = v[k]
		case []any:
			if len(v) == 0 {
				return
			}
			at = v[r.IntN(len(v))]
		default:
			return
		}
	}
}

// A yard's own minutes and base rates stand beside the catalogue's, and what is worked
// out follows them at once; who comes second loses nothing, and what cannot be says where.
func TestOwnFigures(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	code, raw := inst.get("/api/own-figures")
	require.Equal(t, 200, code, string(raw))
	none := decode[httpapi.OwnFile](t, raw)
	assert.Zero(t, none.Changes)
	assert.NotEmpty(t, none.Catalogue.Tests)
	m := inst.firstMachine()
	page := inst.page(m, "look-first")
	was := inst.evaluate(m, page, "")
	put := func(changes int, figures map[string]any) (int, []byte) {
		return inst.call("PUT", "/api/own-figures", map[string]any{"changes": changes, "figures": figures})
	}
	longer := map[string]any{"tests": map[string]any{page.Steps[0].Test: none.Catalogue.Tests[page.Steps[0].Test] + 10}}
	code, raw = put(0, longer)
	require.Equal(t, 200, code, string(raw))
	assert.Equal(t, 1, decode[httpapi.OwnFile](t, raw).Changes)
	is := inst.evaluate(m, page, "")
	assert.InDelta(t, was.Evaluation.Totals.ExpectedMinutes+10, is.Evaluation.Totals.ExpectedMinutes, 0.5, "everybody comes to the first step")
	code, raw = put(0, map[string]any{})
	assert.Equal(t, 409, code, string(raw))
	for path, figures := range map[string]map[string]any{
		"figures.tests.moon":         {"tests": map[string]any{"moon": 1}},
		"figures.covers.shroud.back": {"covers": map[string]any{"shroud": map[string]any{"off": 1, "back": -1}}},
		"figures.rates.plug-fouled":  {"rates": map[string]any{"plug-fouled": 1e6}},
	} {
		code, raw = put(1, figures)
		assert.Equal(t, 422, code, string(raw))
		assert.Contains(t, string(raw), path)
	}
	code, raw = put(1, map[string]any{})
	require.Equal(t, 200, code, string(raw))
	assert.Equal(t, was.Evaluation.Totals, inst.evaluate(m, page, "").Evaluation.Totals)
}
