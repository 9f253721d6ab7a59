package httpapi_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// takeFirst takes the first job and gives its attempt.
func (u *user) takeFirst() string {
	code, raw := u.call("POST", "/api/first-job", nil)
	require.Equal(u.t, 200, code, string(raw))
	return decode[struct{ Attempt string }](u.t, raw).Attempt
}

// Whoever is new takes a first job by themselves, apprentice or instructor: it can be
// done from the card to a proven debrief, begun anew, and is in nobody else's lists.
func TestFirstJob(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	for _, u := range []*user{ann, inst} {
		a := u.takeFirst()
		assert.Equal(t, a, u.takeFirst(), "it is begun, so it is the same")
		assert.True(t, u.bench(a).First)
		seq := 0
		do := func(e map[string]any) {
			code, raw := u.do(a, seq, e)
			require.Equal(t, 200, code, string(raw))
			seq++
		}
		do(map[string]any{"kind": "control", "control": map[string]any{"choke": 1}})
		do(map[string]any{"kind": "take", "test": "start-attempt"})
		assert.Contains(t, u.bench(a).Ledger[0].Result, "no fire")
		do(map[string]any{"kind": "take", "test": "plug-gap", "setup": map[string]any{"gauge_form": "wire"}})
		do(map[string]any{"kind": "act", "act": "blade", "value": 0.1})
		do(map[string]any{"kind": "entry", "reading": "0.1", "unit": "mm", "judged": "below"})
		do(map[string]any{"kind": "mark", "reach": "plug", "mark": "condemned"})
		do(map[string]any{"kind": "repair", "repair": "regap", "reach": "plug"})
		do(map[string]any{"kind": "cover", "cover": "plugout", "off": false})
		do(map[string]any{"kind": "take", "test": "start-attempt"})
		hand := map[string]any{"findings": []map[string]any{{"reach": "plug", "fault": "plug-gap-wrong", "filing": "root", "evidence": []int{2}}},
			"cause": "handling", "advice": "plug-with-the-hours", "verdict": "repaired", "proof_seq": seq - 1}
		code, raw := u.call("POST", "/api/attempts/"+a+"/hand-over", hand)
		require.Equal(t, 202, code, string(raw))
		assert.Equal(t, "proven", decode[httpapi.Debrief](t, u.debrief(a)).Assessment.Class)
		next := u.takeFirst()
		assert.NotEqual(t, a, next, "it is over, so it is another")
		assert.Empty(t, u.bench(next).Ledger)
		_, raw = bob.get("/api/attempts/" + next)
		assert.Contains(t, string(raw), "not")
	}
	_, raw := inst.get("/api/jobs")
	assert.Empty(t, decode[httpapi.JobPage](t, raw).Items)
	_, raw = inst.get("/api/attempts")
	assert.Empty(t, decode[httpapi.AttemptPage](t, raw).Items)
	_, raw = ann.get("/api/attempts")
	assert.Len(t, decode[httpapi.AttemptPage](t, raw).Items, 1)
}
