package httpapi_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// A job is given later to somebody more, and whoever has it keeps what they have,
// however often the same is sent; nobody is given one who is not there.
func TestGivingLater(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	a := s.job(inst, "rings-worn", 0.6, "ann")
	code, _ := ann.do(a, 0, map[string]any{"kind": "wait", "minutes": 2})
	require.Equal(t, 200, code)
	_, raw := inst.get("/api/apprentices")
	var all []uuid.UUID
	for _, p := range decode[[]httpapi.Person](t, raw) {
		all = append(all, p.Id)
	}
	_, raw = inst.get("/api/jobs")
	path := "/api/jobs/" + decode[httpapi.JobPage](t, raw).Items[0].Id.String() + "/attempts"
	for range 2 {
		code, raw := inst.call("POST", path, map[string]any{"apprentices": all})
		require.Equal(t, 200, code, string(raw))
		assert.Len(t, decode[httpapi.Job](t, raw).Attempts, len(all))
	}
	assert.Equal(t, 1, ann.bench(a).Seq)
	_, raw = bob.get("/api/attempts")
	assert.Len(t, decode[httpapi.AttemptPage](t, raw).Items, 1)
	code, _ = inst.call("POST", path, map[string]any{"apprentices": []uuid.UUID{uuid.New()}})
	assert.GreaterOrEqual(t, code, 400)
}

// In a guided job what tells most is said, by what has been written down; in
// others it is not.
func TestNextIsSaidInGuidedJobs(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	guided := s.jobWith(inst, "rings-worn", 0.7, "ann", map[string]any{"mode": "guided"})
	code, raw := ann.get("/api/attempts/" + guided + "/next")
	require.Equal(t, 200, code, string(raw))
	first := decode[[]httpapi.NextTest](t, raw)
	require.NotEmpty(t, first)
	_, again := ann.get("/api/attempts/" + guided + "/next")
	assert.JSONEq(t, string(raw), string(again), "asked again nothing has changed")
	code, _ = ann.do(guided, 0, map[string]any{"kind": "take", "test": "start-attempt"})
	require.Equal(t, 200, code)
	code, raw = ann.get("/api/attempts/" + guided + "/next")
	require.Equal(t, 200, code, string(raw))
	code, _ = ann.get("/api/attempts/" + s.job(inst, "rings-worn", 0.7, "ann") + "/next")
	assert.Equal(t, 409, code)
}

// Behind the covers: an instructor shows any fault in any machine; an apprentice
// sees their own job once it is marked.
func TestInside(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	_, raw := inst.get("/api/machines")
	m := decode[[]httpapi.Machine](t, raw)[0]
	code, raw := inst.call("POST", "/api/inside", map[string]any{"machine_id": m.Id,
		"faults": []any{map[string]any{"id": "main-jet-blocked", "severity": 0.5}}, "minutes": 3, "load": "test"})
	require.Equal(t, 200, code, string(raw))
	assert.Greater(t, len(decode[httpapi.Inside](t, raw).Film.Frames), 5)
	a := s.job(inst, "main-jet-blocked", 0.7, "ann")
	code, _ = ann.get("/api/attempts/" + a + "/inside")
	assert.Equal(t, 409, code)
	code, raw = ann.call("POST", "/api/attempts/"+a+"/hand-over", guess)
	require.Equal(t, 202, code, string(raw))
	ann.debrief(a)
	code, raw = ann.get("/api/attempts/" + a + "/inside")
	require.Equal(t, 200, code, string(raw))
	assert.NotEmpty(t, decode[httpapi.Inside](t, raw).Film.Frames)
}
