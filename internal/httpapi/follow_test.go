package httpapi_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/procedure"
	"zanjero/internal/httpapi"
)

// given is a page that was given out, as a job names it.
func (u *user) given(p procedure.Procedure) map[string]any {
	f := u.keep(u.firstMachine(), p)
	code, raw := u.call("POST", "/api/procedures/"+f.Line.Id.String()+"/revisions", map[string]any{"changes": 1})
	require.Equal(u.t, 201, code, string(raw))
	return map[string]any{"id": f.Line.Id, "revision": 1}
}

// A job carries a revision: the bench shows the step in front and where answers have
// led, never what lies ahead; it is left for a reason, on record, and come back to. In
// an exam it is there only where the author says so.
func TestPageIsFollowedAtTheBench(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	page := inst.page(inst.firstMachine(), "look-first")
	ref := inst.given(page)
	attempt := s.jobWith(inst, "switch-off", 0, "ann", map[string]any{"procedure": ref})
	b := ann.bench(attempt)
	require.NotNil(t, b.Page)
	assert.Equal(t, []any{0, len(page.Steps), "look-switches"}, []any{b.Page.At, b.Page.Of, b.Page.Step.Test})
	_, raw := ann.get("/api/attempts/" + attempt)
	for _, st := range page.Steps[1:] {
		if st.Note != "" {
			assert.NotContains(t, string(raw), st.Note, "of a step that lies ahead")
		}
	}
	code, raw := ann.do(attempt, 0, map[string]any{"kind": "page", "why": "seen"})
	require.Equal(t, 200, code, string(raw))
	assert.Equal(t, "seen", *ann.bench(attempt).Page.Left)
	code, _ = ann.do(attempt, 1, map[string]any{"kind": "page", "why": "seen"})
	assert.Equal(t, 422, code, "it is left already")
	code, _ = ann.do(attempt, 1, map[string]any{"kind": "page"})
	require.Equal(t, 200, code)
	code, raw = ann.do(attempt, 2, map[string]any{"kind": "take", "test": "look-switches"})
	require.Equal(t, 200, code, string(raw))
	b = ann.bench(attempt)
	require.Len(t, b.Page.Passed, 1)
	assert.NotNil(t, b.Page.Passed[0].Outcome)
	assert.Equal(t, 1, *b.Ledger[len(b.Ledger)-1].Step)
	// Another server, that knows nothing but the database, says the same.
	s.serve(true)
	assert.Equal(t, b.Page, s.as("ann").bench(attempt).Page)

	again := map[string]any{"procedure": ref, "mode": "exam"}
	exam := s.jobWith(inst, "switch-off", 0, "bob", again)
	bob := s.as("bob")
	assert.Nil(t, bob.bench(exam).Page)
	code, _ = bob.do(exam, 0, map[string]any{"kind": "page", "why": "seen"})
	assert.Equal(t, 422, code, "no page is followed")
	again["page_in_exam"] = true
	assert.NotNil(t, bob.bench(s.jobWith(inst, "main-jet-blocked", 0.7, "bob", again)).Page)
	_, raw = inst.get("/api/jobs")
	assert.Equal(t, 1, decode[httpapi.JobPage](t, raw).Items[0].Spec.Procedure.Revision)
	spec := map[string]any{"machine_id": inst.firstMachine().Id, "faults": []any{map[string]any{"id": "main-jet-blocked", "severity": 0.7}}, "words": "x",
		"claim": "only-on-choke", "limit_minutes": 60, "limit_money": 40, "procedure": map[string]any{"id": uuid.NewString(), "revision": 1}}
	code, raw = inst.call("POST", "/api/jobs", spec)
	assert.Equal(t, 422, code, string(raw))
}
