package httpapi_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// A class senses two machines: what they sense does not say which is which, answers count
// until it is told, and how often somebody was right stands in their record and the class's.
func TestALessonOfTheSenses(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	all := everyone(t, inst)
	code, raw := inst.call("POST", "/api/classes", map[string]any{"title": "Mornings", "term": "T",
		"members": []any{all["Ann"].Id}})
	require.Equal(t, 201, code, string(raw))
	class := decode[httpapi.Class](t, raw).Id
	_, raw = inst.get("/api/machines")
	machine := decode[[]httpapi.Machine](t, raw)[0].Id
	id := uuid.New()
	lesson := map[string]any{"id": id, "class_id": class, "machine_id": machine, "test": "start-attempt",
		"asked": map[string]any{"id": "main-jet-blocked", "severity": 0.31}}
	for range 2 { // a retry makes no second one
		code, raw = inst.call("POST", "/api/lessons", lesson)
		require.Equal(t, 200, code, string(raw))
	}
	for name, bad := range map[string]map[string]any{"sounds the same": {"asked": map[string]any{"id": "cap-vent-blocked", "severity": 0.1}},
		"measured": {"test": "compression-dry"}, "no class": {"class_id": uuid.New()}, "no machine": {"machine_id": uuid.New()}} {
		body := map[string]any{"id": uuid.New()}
		for _, from := range []map[string]any{lesson, bad} {
			for k, v := range from {
				if k != "id" {
					body[k] = v
				}
			}
		}
		code, raw = inst.call("POST", "/api/lessons", body)
		assert.Equal(t, 422, code, "%s: %s", name, raw)
	}
	at := "/api/lessons/" + id.String()
	_, raw = ann.get("/api/lessons")
	require.Len(t, decode[[]httpapi.LessonCard](t, raw), 1)
	_, raw = bob.get("/api/lessons")
	assert.Empty(t, decode[[]httpapi.LessonCard](t, raw), "not of the class")
	code, _ = bob.get(at)
	assert.Equal(t, 404, code)
	see := func() httpapi.Lesson {
		code, raw := ann.get(at)
		require.Equal(t, 200, code, string(raw))
		assert.NotContains(t, string(raw), "0.31")
		return decode[httpapi.Lesson](t, raw)
	}
	l := see()
	require.Len(t, l.Sides, 2)
	assert.NotEqual(t, l.Sides[0].Heard, l.Sides[1].Heard)
	assert.Nil(t, l.Sides[0].Look, "what is heard has no words")
	assert.Nil(t, l.Right)
	assert.Nil(t, l.Chose)
	for side := range 2 { // it can be changed until it is told
		code, raw = ann.call("PUT", at+"/answer", map[string]any{"side": side})
		require.Equal(t, 204, code, string(raw))
	}
	assert.Equal(t, 1, *see().Mine)
	assert.Equal(t, 1, see().Answered)
	record := func() []httpapi.Sensed {
		_, raw := ann.get("/api/people/" + all["Ann"].Id.String() + "/record")
		return decode[httpapi.PersonRecord](t, raw).Sensed
	}
	assert.Empty(t, record(), "it is not told yet")
	code, _ = ann.call("POST", at+"/telling", nil)
	assert.Equal(t, 403, code)
	for range 2 {
		code, raw = inst.call("POST", at+"/telling", nil)
		require.Equal(t, 200, code, string(raw))
	}
	told := see()
	require.NotNil(t, told.Right)
	assert.Equal(t, []int{0, 1}, *told.Chose)
	want := []httpapi.Sensed{{Sense: "ear", Right: *told.Right, Of: 1}} // Ann chose side 1
	assert.Equal(t, want, record())
	_, raw = inst.get("/api/classes/" + class.String() + "/analysis")
	assert.Equal(t, want, decode[httpapi.ClassAnalysis](t, raw).Sensed)
	code, raw = ann.call("PUT", at+"/answer", map[string]any{"side": 0})
	assert.Equal(t, 409, code, "it is over: %s", raw)
	_, raw = ann.get("/api/lessons")
	assert.Empty(t, decode[[]httpapi.LessonCard](t, raw))
	assert.Equal(t, map[string]int64{"lesson": 1, "answers": 2}, next(t, ann.watch(t.Context(), at+"/changes")).versions)
}

// Who teaches has all looks side by side: a sound machine first, each thing with how far it
// has gone, and the word, which the look itself does not tell.
func TestLooksSideBySide(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	code, raw := inst.get("/api/families/t2-diaphragm/lineup")
	require.Equal(t, 200, code, string(raw))
	all := decode[[]httpapi.Stand](t, raw)
	require.Greater(t, len(all), 60)
	assert.Nil(t, all[0].Fault)
	carbon := 0
	for _, x := range all {
		assert.NotEmpty(t, x.Word)
		assert.True(t, x.Look.Seen != nil || x.Look.Plug != nil, x.Look.Test)
		if x.Fault != nil && *x.Fault == "exhaust-port-carbon" && x.Look.Test == "look-piston" {
			carbon++
			assert.InDelta(t, *x.Severity*0.85, (*x.Look.Seen)["crust"], 0.1)
		}
	}
	assert.Equal(t, 3, carbon)
	code, _ = inst.get("/api/families/none/lineup")
	assert.Equal(t, 404, code)
	code, _ = ann.get("/api/families/t2-diaphragm/lineup")
	assert.Equal(t, 403, code)
}
