package httpapi_test

import (
	"context"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// A class votes, and sees what each test is worth only once the vote is closed, and what is
// hidden only once it is told; a vote can be changed until then, counts once, and comes too
// late after. Nobody of another class sees it.
func TestWall(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	all := everyone(t, inst)
	code, raw := inst.call("POST", "/api/classes", map[string]any{"title": "C", "term": "T", "members": []any{all["Ann"].Id}})
	require.Equal(t, 201, code, string(raw))
	class, paper, id := decode[httpapi.Class](t, raw).Id, uuid.New(), uuid.New()
	form := map[string]any{"title": "Spark", "machine": "f4-bowl", "complaint": "no-start", "words": "It will not fire.",
		"faults": []any{map[string]any{"id": "coil-secondary-open", "severity": 1}}, "limit_minutes": 60, "limit_money": 40}
	code, raw = inst.call("POST", "/api/scenarios", map[string]any{"id": paper, "machine_id": inst.firstMachine().Id, "draft": form})
	require.Equal(t, 201, code, string(raw))
	code, raw = inst.call("POST", "/api/walls", map[string]any{"id": id, "class_id": class, "scenario": uuid.New()})
	assert.Equal(t, 422, code, string(raw))
	at := "/api/walls/" + id.String()
	for range 2 { // a retry makes no second one
		code, raw = inst.call("POST", "/api/walls", map[string]any{"id": id, "class_id": class, "scenario": paper})
		require.Equal(t, 200, code, string(raw))
	}
	_, raw = ann.get("/api/walls")
	assert.Len(t, decode[[]httpapi.WallCard](t, raw), 1)
	_, raw = bob.get("/api/walls")
	assert.Empty(t, decode[[]httpapi.WallCard](t, raw))
	code, _ = bob.get(at)
	assert.Equal(t, 404, code)

	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	events := ann.watch(ctx, at+"/changes")
	next(t, events)
	vote := func(round int, test string) int {
		code, _ := ann.call("PUT", at+"/vote", map[string]any{"round": round, "test": test})
		return code
	}
	look := func(u *user) (httpapi.Wall, string) {
		code, raw := u.get(at)
		require.Equal(t, 200, code, string(raw))
		return decode[httpapi.Wall](t, raw), string(raw)
	}
	step := func(kind, test string) int {
		w, _ := look(inst)
		code, _ := inst.call("POST", at+"/steps", map[string]any{"version": w.Version, "step": kind, "test": test})
		return code
	}
	assert.Equal(t, 422, vote(0, "moon"))
	assert.Equal(t, 204, vote(0, "look-fuel"))
	assert.Equal(t, 204, vote(0, "spark-gap"))
	assert.Contains(t, next(t, events).versions, "votes")
	w, before := look(ann)
	assert.Equal(t, 1, w.Voted, "the second takes the place of the first")
	assert.Equal(t, "spark-gap", *w.Mine)
	assert.Equal(t, 1, w.Members)
	assert.Empty(t, w.Worths, "not before the vote is closed")
	require.Equal(t, 200, step("close", ""))
	w, _ = look(ann)
	assert.EqualValues(t, "closed", w.Stands)
	require.Greater(t, len(w.Worths), 10)
	assert.Equal(t, 409, vote(0, "look-fuel"))
	assert.Equal(t, 422, step("make", "moon"))
	require.Equal(t, 200, step("make", "spark-gap"))
	w, after := look(ann)
	assert.EqualValues(t, "voting", w.Stands)
	assert.Equal(t, 1, w.Round)
	require.Len(t, w.Rounds, 1)
	assert.Equal(t, 1, w.Rounds[0].Votes)
	assert.Empty(t, w.Worths)
	assert.NotEmpty(t, w.Board)
	assert.Equal(t, 409, vote(0, "look-fuel"), "that round is over")
	assert.Equal(t, 422, vote(1, "spark-gap"), "it was made")
	for _, told := range []string{before, after} {
		assert.NotContains(t, told, "coil-secondary-open", "what is hidden is told at the end")
	}
	code, raw = inst.call("POST", at+"/steps", map[string]any{"version": 0, "step": "close"})
	assert.Equal(t, 409, code, "it has gone on: %s", raw)
	require.Equal(t, 200, step("tell", ""))
	w, _ = look(ann)
	require.NotNil(t, w.Hidden)
	assert.Equal(t, "coil-secondary-open", (*w.Hidden)[0].Fault)
	assert.Equal(t, 409, step("close", ""))
	_, raw = ann.get("/api/walls")
	assert.Empty(t, decode[[]httpapi.WallCard](t, raw))
}
