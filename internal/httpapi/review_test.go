package httpapi_test

import (
	"bytes"
	"encoding/json"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/assess"
	"zanjero/internal/httpapi"
	"zanjero/internal/store"
)

// finished is an attempt of ann's that is handed over and marked.
func (s *site) finished(inst, ann *user) string {
	a := s.job(inst, "main-jet-blocked", 0.7, "ann")
	seq := 0
	for _, e := range []map[string]any{
		{"kind": "control", "control": map[string]any{"choke": 1}}, {"kind": "take", "test": "start-attempt"},
		{"kind": "take", "test": "jet-look"}, {"kind": "entry", "word": "part"}, {"kind": "mark", "reach": "jets", "mark": "condemned"},
		{"kind": "repair", "repair": "replace", "reach": "jets"}, {"kind": "take", "test": "start-attempt"},
	} {
		code, raw := ann.do(a, seq, e)
		require.Equal(s.t, 200, code, string(raw))
		seq++
	}
	hand := map[string]any{"findings": []map[string]any{{"reach": "jets", "fault": "main-jet-blocked", "filing": "root", "evidence": []int{3}}},
		"cause": "stored-with-fuel", "advice": "drain-before-storage", "verdict": "repaired", "proof_seq": seq - 1}
	code, raw := ann.call("POST", "/api/attempts/"+a+"/hand-over", hand)
	require.Equal(s.t, 202, code, string(raw))
	ann.debrief(a)
	return a
}

// A person has the last word, with a reason, and all of it stays: other marks, a comment,
// sign-off, another look asked for once, a second marker who sees nothing before, a resit.
func TestPeopleReviewAnAssessment(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	second := s.person("ass", store.Assessor)
	a := s.finished(inst, ann)
	path := "/api/attempts/" + a
	see := func(u *user) httpapi.Debrief {
		code, raw := u.get(path + "/debrief")
		require.Equal(t, 200, code, string(raw))
		return decode[httpapi.Debrief](t, raw)
	}
	act := func(u *user, kind string, pairs ...any) (int, string) {
		body := map[string]any{"after": see(u).Review.After, "kind": kind}
		for i := 0; i < len(pairs); i += 2 {
			body[pairs[i].(string)] = pairs[i+1]
		}
		code, raw := u.call("POST", path+"/review", body)
		return code, string(raw)
	}
	first := see(inst)
	require.Len(t, first.Assessment.Sections, 6)
	assert.Equal(t, "not-yet", first.Assessment.Outcome, "nobody aired the place")
	assert.ElementsMatch(t, []string{"line", "outcome", "comment", "sign-off", "ask-second"}, first.Review.May)
	assert.Equal(t, []string{"appeal"}, see(ann).Review.May)

	code, raw := act(inst, "line", "section", "proof", "line", 0, "marks", 0)
	assert.Equal(t, 422, code)
	assert.Contains(t, raw, "review.no-reason")
	for _, bad := range []map[string]any{{"section": "moon"}, {"line": 99}, {"marks": 99}, {"marks": -3}} {
		pairs := []any{"section", "proof", "line", 0, "marks", 1, "text", "Why."}
		for k, v := range bad {
			pairs = append(pairs, k, v)
		}
		code, raw = act(inst, "line", pairs...)
		assert.Equal(t, 422, code, raw)
	}
	code, raw = act(inst, "line", "section", "proof", "line", 0, "marks", 2, "text", "I saw it stall at once.")
	require.Equal(t, 200, code, raw)
	code, raw = act(inst, "outcome", "outcome", "competent", "text", "The place was open on two sides.")
	require.Equal(t, 200, code, raw)
	code, raw = act(inst, "comment", "place", 3, "text", "Good eyes.")
	require.Equal(t, 200, code, raw)
	now := see(ann)
	assert.Equal(t, "competent", now.Assessment.Outcome)
	assert.Equal(t, 2.0, now.Assessment.Sections[5].Reasons[0].Marks)
	require.Len(t, now.Review.Changed, 1)
	assert.Equal(t, first.Assessment.Sections[5].Reasons[0].Marks, now.Review.Changed[0].Was, "what it was stays to be seen")
	require.Len(t, now.Review.Acts, 3)
	assert.Equal(t, "I saw it stall at once.", *now.Review.Acts[0].Text)

	// Of several at once one is kept; the others are told.
	var wg sync.WaitGroup
	codes := make([]int, 4)
	at := see(inst).Review.After
	for i := range codes {
		wg.Go(func() {
			codes[i], _ = inst.call("POST", path+"/review", map[string]any{"after": at, "kind": "comment", "text": "Me first."})
		})
	}
	wg.Wait()
	assert.ElementsMatch(t, []int{200, 409, 409, 409}, codes)

	code, raw = act(inst, "sign-off")
	require.Equal(t, 200, code, raw)
	code, raw = act(inst, "outcome", "outcome", "not-yet", "text", "No.")
	assert.Equal(t, 422, code, raw)
	code, raw = act(ann, "comment", "text", "Please.")
	assert.Equal(t, 422, code, raw)
	code, raw = act(ann, "appeal", "text", "It did not stall.")
	require.Equal(t, 200, code, raw)
	code, raw = act(ann, "appeal", "text", "Again.")
	assert.Equal(t, 422, code, raw)
	_, queue := inst.get("/api/reviews")
	cards := decode[[]httpapi.ReviewCard](t, queue)
	require.Len(t, cards, 1)
	assert.True(t, cards[0].Appealed && !cards[0].Signed)

	// The second marker sees what was done, and nothing of what was said of it.
	_, people := inst.get("/api/markers")
	who := ""
	for _, p := range decode[[]httpapi.Person](t, people) {
		if p.Name == "ass" {
			who = p.Id.String()
		}
	}
	code, raw = act(inst, "ask-second", "who", who)
	require.Equal(t, 200, code, raw)
	blind := see(second)
	assert.True(t, blind.Review.Blind)
	assert.Empty(t, blind.Review.Acts)
	assert.Empty(t, blind.Assessment.Class+blind.Assessment.Outcome)
	marks := map[string]float64{}
	for _, x := range blind.Assessment.Sections {
		assert.Zero(t, x.Mark)
		assert.Empty(t, x.Reasons)
		marks[x.ID] = x.Of / 2
	}
	assert.NotEmpty(t, blind.Assessment.Points)
	for _, list := range []string{"/api/attempts", "/api/reviews"} {
		_, raw := second.get(list)
		assert.NotContains(t, string(raw), `"mark"`)
		assert.NotContains(t, string(raw), "proven")
	}
	code, raw = act(second, "second", "outcome", "not-yet", "sections", marks)
	require.Equal(t, 200, code, raw)
	both := see(inst)
	require.Len(t, both.Review.Seconds, 1)
	assert.False(t, both.Review.Seconds[0].Same)
	assert.NotEmpty(t, see(second).Assessment.Class, "then both are shown")
	assert.Empty(t, see(ann).Review.Seconds)

	code, _ = act(inst, "sign-off")
	assert.Equal(t, 422, code, "the appeal wants an answer")
	code, raw = act(inst, "sign-off", "text", "It stays as it is.")
	require.Equal(t, 200, code, raw)

	// Judged again by the model of today, and beside it.
	code, body := inst.call("POST", path+"/anew", map[string]any{"after": see(inst).Review.After})
	require.Equal(t, 200, code, string(body))
	anew := decode[httpapi.Debrief](t, body)
	last := anew.Review.Acts[len(anew.Review.Acts)-1]
	mark, _ := first.Assessment.Total()
	assert.Equal(t, mark, *last.Mark)
	assert.Equal(t, "competent", anew.Assessment.Outcome, "what was said stays")
	code, body = inst.call("POST", path+"/resit", map[string]any{"after": anew.Review.After})
	require.Equal(t, 200, code, string(body))
	_, list := ann.get("/api/attempts")
	assert.Len(t, decode[httpapi.AttemptPage](t, list).Items, 2)
	for _, x := range see(ann).Review.Acts {
		assert.NotContains(t, []string{"second", "ask-second", "anew"}, x.Kind)
	}
	for _, command := range []string{"UPDATE review_acts SET body = '{}'", "DELETE FROM review_acts"} {
		_, err := s.store.SQL().Exec(command)
		assert.ErrorContains(t, err, "never change", "what was done stays")
	}
}

// A closed attempt that is carried elsewhere is marked alike there.
func TestExportedAttemptGivesTheSameMarks(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.finished(inst, ann)
	code, raw := inst.get("/api/attempts/" + a + "/export")
	require.Equal(t, 200, code, string(raw))
	there, err := assess.AssessAttempt(t.Context(), bytes.NewReader(raw))
	require.NoError(t, err)
	here := decode[httpapi.Debrief](t, ann.debrief(a)).Assessment
	// Through JSON, as the other has been.
	back, err := json.Marshal(there)
	require.NoError(t, err)
	want, err := json.Marshal(here)
	require.NoError(t, err)
	assert.JSONEq(t, string(want), string(back))
	code, _ = ann.get("/api/attempts/" + a + "/export")
	assert.Equal(t, 403, code)
	code, raw = ann.call("POST", "/api/attempts/"+a+"/practice", nil)
	assert.Equal(t, 409, code, string(raw))
	assert.Contains(t, string(raw), "nothing-like-it-in-the-library")
}

// What was lost most can be practised at once, on a job of the library that was not had
// before; asked for again it is the same one.
func TestPracticeFromTheLibrary(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	m := inst.firstMachine()
	for fault, complaint := range map[string]string{"main-jet-blocked": "only-on-choke", "coil-secondary-open": "no-start"} {
		form := map[string]any{"title": fault, "machine": m.Family, "faults": []any{map[string]any{"id": fault, "severity": 0.6}}, "complaint": complaint,
			"words": "It will not.", "limit_minutes": 90, "limit_money": 60}
		code, raw := inst.call("POST", "/api/scenarios", map[string]any{"id": uuid.New(), "machine_id": m.Id, "draft": form})
		require.Equal(t, 201, code, string(raw))
	}
	require.Eventually(t, func() bool {
		_, raw := inst.get("/api/scenarios")
		return !slices.ContainsFunc(decode[[]httpapi.ScenarioLine](t, raw), func(l httpapi.ScenarioLine) bool { return l.WorkingOut })
	}, 2*time.Minute, 100*time.Millisecond)
	a := s.finished(inst, ann)
	d := decode[httpapi.Debrief](t, ann.debrief(a))
	require.NotNil(t, d.Practise)
	assert.Equal(t, "fuel", d.Practise.Lateral)
	take := func(u *user) (int, string) {
		code, raw := u.call("POST", "/api/attempts/"+a+"/practice", nil)
		return code, string(raw)
	}
	code, raw := take(ann)
	require.Equal(t, 200, code, raw)
	again, same := take(ann)
	assert.Equal(t, 200, again)
	assert.Equal(t, raw, same)
	code, _ = take(inst)
	assert.Equal(t, 403, code)
	var given struct{ Attempt uuid.UUID }
	require.NoError(t, json.Unmarshal([]byte(raw), &given))
	assert.Equal(t, "It will not.", ann.bench(given.Attempt.String()).Words)
	_, listed := ann.get("/api/attempts")
	for _, c := range decode[httpapi.AttemptPage](t, listed).Items {
		assert.Equal(t, c.Id == given.Attempt, c.Purpose != nil && *c.Purpose == httpapi.Practice)
	}
	_, queue := inst.get("/api/reviews")
	assert.Len(t, decode[[]httpapi.ReviewCard](t, queue), 1, "practice is not reviewed")
}

// Who could find nothing hands over without a name, and who says that it is mended names what.
func TestHandingOverNothing(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "main-jet-blocked", 0.7, "ann")
	hand := map[string]any{"findings": []any{}, "verdict": "repaired", "proof_seq": -1}
	code, raw := ann.call("POST", "/api/attempts/"+a+"/hand-over", hand)
	assert.Equal(t, 422, code)
	assert.Contains(t, string(raw), "assess.no-root-cause-named")
	hand["verdict"] = "refer-on"
	code, raw = ann.call("POST", "/api/attempts/"+a+"/hand-over", hand)
	require.Equal(t, 202, code, string(raw))
	assert.Equal(t, "nothing-named", decode[httpapi.Debrief](t, ann.debrief(a)).Assessment.Class)
}
