package httpapi_test

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/internal/httpapi"
)

// byHand are what a hand would read of a machine of the model, to a figure that nothing else
// in an answer has.
func byHand(t *testing.T, m httpapi.Machine, faults []machine.FaultSpec, tests ...string) (out []ledger.HandReading) {
	sheet := catalogue.Sheet{}
	for _, line := range m.Sheet {
		sheet[line.Id] = line.Figure
	}
	s, err := bench.NewSession(m.Family, sheet, machine.Ambient{TemperatureC: 20}, faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
	require.NoError(t, err)
	for _, id := range tests {
		o := s.Clone().Test(id, nil)
		r := ledger.HandReading{Test: id}
		if o.Word != nil {
			r.Word = *o.Word
		} else {
			r.Reading, r.Unit = fmt.Sprintf("%.2f", *o.Value), o.Unit
		}
		out = append(out, r)
	}
	return out
}

// An engine goes from the bug to its release, is given out once and to one, and is worked by
// hand; what its instructor has read of it is told to nobody who works on it.
func TestARealEngine(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	m := inst.firstMachine()
	at := "/api/engines/" + m.Id.String()
	code, _ := inst.get(at)
	assert.Equal(t, 404, code, "no real engine yet")
	code, raw := inst.call("PUT", at, map[string]any{"serial": " ", "note": ""})
	assert.Equal(t, 422, code, string(raw))
	code, raw = inst.call("PUT", at, map[string]any{"serial": "A 77-1", "note": "By the door."})
	require.Equal(t, 204, code, string(raw))
	tests := []string{"compression-dry", "spark-gap", "jet-look"}
	fault := machine.FaultSpec{ID: "rings-worn", Severity: 0.7}
	sound, bugged := byHand(t, m, nil, tests...), byHand(t, m, []machine.FaultSpec{fault}, tests...)
	bug := map[string]any{"fault": fault, "done": "Old rings put in.", "undo": "Own rings back.", "complaint": "weak", "words": "No power.", "sound": sound}
	id := uuid.New()
	for range 2 { // a retry makes no second one
		code, raw = inst.call("POST", at+"/bugs", map[string]any{"id": id, "bug": bug})
		require.Equal(t, 200, code, string(raw))
	}
	code, raw = inst.call("POST", at+"/bugs", map[string]any{"id": uuid.New(), "bug": bug})
	assert.Equal(t, 409, code, "one fault at a time: %s", raw)
	var file httpapi.EngineFile
	act := func(act map[string]any, give map[string]any) int {
		body := map[string]any{"after": len(file.Cards[0].Acts), "act": act}
		if give != nil {
			body["give"] = give
		}
		code, raw := inst.call("POST", "/api/bugs/"+id.String()+"/acts", body)
		if code == 200 {
			file = decode[httpapi.EngineFile](t, raw)
		}
		return code
	}
	_, raw = inst.get(at)
	file = decode[httpapi.EngineFile](t, raw)
	all := everyone(t, inst)
	give := func(to string) map[string]any {
		return map[string]any{"job": uuid.New(), "apprentice": all[to].Id, "limit_minutes": 90, "limit_money": 50, "mode": "open"}
	}
	assert.Equal(t, 422, act(map[string]any{"kind": "given"}, give("Ann")), "the symptom was not seen yet")
	require.Equal(t, 200, act(map[string]any{"kind": "seen", "symptom": true, "readings": bugged}, nil))
	require.NotNil(t, file.Cards[0].Fit)
	assert.True(t, file.Cards[0].Fit.Explains, "%+v", file.Cards[0].Fit)
	assert.Equal(t, 422, act(map[string]any{"kind": "given"}, nil), "to whom?")
	require.Equal(t, 200, act(map[string]any{"kind": "given"}, give("Ann")))
	code, raw = inst.call("POST", "/api/bugs/"+id.String()+"/acts", map[string]any{"after": 2, "act": map[string]any{"kind": "given"}, "give": give("Bob")})
	assert.Equal(t, 409, code, "somebody was quicker: %s", raw)
	_, raw = inst.get("/api/engines")
	board := decode[[]httpapi.Engine](t, raw)
	require.Len(t, board, 1)
	assert.EqualValues(t, "given", board[0].State)
	assert.Equal(t, "Ann", *board[0].With)

	attempt := "/api/attempts/" + file.Cards[0].Attempt.String()
	code, _ = bob.get(attempt)
	assert.Equal(t, 404, code)
	n := 0
	do := func(e map[string]any) int {
		code, raw := ann.call("POST", attempt+"/events", map[string]any{"client_id": uuid.New(), "after": n, "event": e})
		if code == 200 {
			n++
		}
		assert.NotEqual(t, 500, code, "%s", raw)
		assert.NotContains(t, string(raw), bugged[0].Reading, "what the instructor read")
		return code
	}
	assert.Equal(t, 422, do(map[string]any{"kind": "take", "test": "compression-dry"}), "there is no instrument")
	wrong := map[string]any{"kind": "by-hand", "test": "compression-dry", "reading": "5", "unit": "mm", "judged": "below"}
	assert.Equal(t, 422, do(wrong), "a unit of something else")
	start := map[string]any{"kind": "by-hand", "test": "start-attempt", "word": "runs-well", "clock_min": 4}
	assert.Equal(t, 409, do(start), "nothing is started before the first start is signed")
	sign := func(u *user, kind, item, initials string) int {
		code, _ := u.call("POST", attempt+"/observed", map[string]any{"kind": kind, "item": item, "initials": initials})
		return code
	}
	assert.Equal(t, 403, sign(ann, "hold", "first-start", "A"))
	assert.Equal(t, 422, sign(inst, "hold", "first-start", "A"))
	assert.Equal(t, 404, sign(inst, "skill", "first-start", "I"))
	for range 2 { // once more changes nothing
		assert.Equal(t, 204, sign(inst, "hold", "first-start", "I"))
	}
	assert.Equal(t, 204, sign(inst, "skill", "blade-blocked", "I"))
	_, raw = ann.get(attempt + "/observed")
	seen := 0
	for _, o := range decode[[]httpapi.Observed](t, raw) {
		if o.By != nil {
			seen++
		}
	}
	assert.Equal(t, 2, seen)
	assert.Equal(t, 200, do(start))
	assert.Equal(t, 422, do(map[string]any{"kind": "mark", "reach": "plug", "mark": "clear", "clock_min": 3}), "the clock goes back")
	assert.Equal(t, 200, do(map[string]any{"kind": "by-hand", "test": "compression-dry", "reading": "48", "unit": "psi", "judged": "below", "clock_min": 14,
		"missed": []any{"zeroed"}}))
	assert.Equal(t, 200, do(map[string]any{"kind": "by-hand", "test": "leak-down", "reading": "62", "unit": "%", "judged": "above", "clock_min": 25,
		"parts": map[string]any{"hiss": map[string]any{"word": "oil-filler"}}}))
	s.shopThings(inst, ann, bob, attempt, do)
	typo := func(reading string) map[string]any {
		return map[string]any{"kind": "entry", "reading": reading, "unit": "psi", "judged": "below", "clock_min": 25}
	}
	assert.Equal(t, 200, do(typo("38")))
	assert.Equal(t, 200, do(typo("50")))
	// What somebody wrote on paper is typed in by either side.
	paper := map[string]any{"client_id": uuid.New(), "after": n, "event": map[string]any{"kind": "mark", "reach": "plug", "mark": "clear", "clock_min": 25}}
	code, raw = inst.call("POST", attempt+"/events", paper)
	require.Equal(t, 200, code, string(raw))
	n++
	code, _ = bob.call("POST", attempt+"/events", paper)
	assert.Equal(t, 404, code)
	code, raw = ann.get(attempt)
	require.Equal(t, 200, code)
	b := decode[httpapi.Bench](t, raw)
	assert.True(t, *b.Iron)
	assert.InDelta(t, 25, b.Minutes, 0.01, "by the clock")
	assert.Len(t, b.Ledger, 4)
	_, kept := ann.get("/api/people/" + all["Ann"].Id.String() + "/data")
	assert.Contains(t, string(kept), "blade-blocked", "what was signed of somebody is theirs to have")
	assert.Contains(t, string(kept), "The plug, wet.", "and so are their photos")
	for _, hidden := range []string{bugged[0].Reading, sound[0].Reading, "rings-worn", "Old rings"} {
		assert.False(t, strings.Contains(string(raw)+string(kept), hidden), hidden)
	}
	found := map[string]any{"reach": "piston-rings-bore", "filing": "root", "evidence": []any{1, 2}}
	assert.NotNil(t, (*b.Holds)[0].By)
	code, raw = ann.call("POST", attempt+"/hand-over", map[string]any{"findings": []any{}, "verdict": "refer-on", "proof_seq": -1})
	assert.Equal(t, 409, code, "handed back only with initials: %s", raw)
	assert.Equal(t, 204, sign(inst, "hold", "hand-back", "I"))
	code, raw = ann.call("POST", attempt+"/hand-over", map[string]any{"findings": []any{found}, "verdict": "refer-on", "proof_seq": -1})
	require.Equal(t, 202, code, string(raw))
	d := decode[httpapi.Debrief](t, ann.debrief(file.Cards[0].Attempt.String()))
	assert.Equal(t, "rings-worn", d.Assessment.Truth[0].ID)
	require.Len(t, d.Assessment.Readings, 4)
	assert.False(t, d.Assessment.Readings[0].Valid, "it was not zeroed")
	assert.True(t, d.Assessment.Readings[1].Unchecked, "nobody else has made a leak-down")
	assert.Equal(t, &ledger.Gauge{ID: "SG-12", High: 3, Overdue: true}, d.Assessment.Readings[3].Gauge)

	_, raw = inst.get("/api/own-rates")
	rates := decode[httpapi.OwnRates](t, raw)
	assert.Equal(t, 1, rates.Jobs, "a finished job counts")
	assert.Equal(t, 1, rates.Rates["rings-worn"].Jobs)
	assert.Greater(t, rates.FamilyRates[m.Family]["rings-worn"].Mean, catalogue.Standard().Fault("rings-worn").Rate(m.Family))

	require.Equal(t, 200, act(map[string]any{"kind": "back"}, nil))
	require.Equal(t, 200, act(map[string]any{"kind": "undone", "symptom": true, "readings": bugged}, nil))
	assert.NotEmpty(t, file.Cards[0].Off)
	assert.Equal(t, 422, act(map[string]any{"kind": "released", "initials": "I"}, nil), "it does not read as before")
	require.Equal(t, 200, act(map[string]any{"kind": "undone", "symptom": true, "readings": sound}, nil))
	assert.Equal(t, 422, act(map[string]any{"kind": "released", "initials": "zz"}, nil))
	require.Equal(t, 200, act(map[string]any{"kind": "released", "initials": "i"}, nil))
	assert.EqualValues(t, "fit", file.Engine.State)
	code, raw = inst.call("POST", at+"/bugs", map[string]any{"id": uuid.New(), "bug": bug})
	assert.Equal(t, 200, code, "fit for the next: %s", raw)
}

// shopThings are what a sheet has beside its readings: instruments with their errors, photos,
// and readings that a program has posted.
func (s *site) shopThings(inst, ann, bob *user, attempt string, do func(map[string]any) int) {
	t := s.t
	gauge := map[string]any{"id": uuid.New(), "code": "SG-12", "name": "Compression gauge", "checked_on": "2020-01-10", "due_on": "2021-01-10",
		"reads": map[string]any{"compression-dry": 3}, "revision": 0}
	code, raw := inst.call("PUT", "/api/instruments", gauge)
	require.Equal(t, 200, code, string(raw))
	assert.True(t, *decode[[]httpapi.ShopInstrument](t, raw)[0].Overdue)
	code, _ = inst.call("PUT", "/api/instruments", gauge)
	assert.Equal(t, 422, code, "its code is another's, or it is there")
	gauge["revision"] = 4
	code, _ = inst.call("PUT", "/api/instruments", gauge)
	assert.Equal(t, 409, code, "it was changed meanwhile")

	// A program at the bench puts a reading to the sheet.
	code, raw = ann.call("POST", attempt+"/device-code", nil)
	require.Equal(t, 200, code, string(raw))
	key := decode[map[string]string](t, raw)["code"]
	_, again := ann.call("POST", attempt+"/device-code", nil)
	assert.Equal(t, raw, again, "it stays the same")
	post := func(line string) int {
		code, _ := s.anyone().call("POST", "/api/device-readings", map[string]any{"code": key, "line": line})
		return code
	}
	assert.Equal(t, 422, post("reading test=compression-dry"))
	for i := range 25 {
		require.Equal(t, 204, post(fmt.Sprintf("reading test=compression-dry value=%d.5 unit=psi at=2026-11-27T14:03:00Z device=SG-12", 40+i)))
	}
	_, raw = ann.get(attempt + "/device-readings")
	posted := decode[[]httpapi.PostedReading](t, raw)
	require.Len(t, posted, 20)
	assert.Equal(t, "64.5", posted[0].Reading, "the latest first")
	code, _ = bob.get(attempt + "/device-readings")
	assert.Equal(t, 404, code)

	// Its error comes from the register, whatever was claimed of it.
	reading := map[string]any{"kind": "by-hand", "test": "compression-dry", "reading": "51", "unit": "psi", "judged": "below", "clock_min": 25}
	with := func(g map[string]any) map[string]any { e := maps.Clone(reading); e["gauge"] = g; return e }
	assert.Equal(t, 422, do(with(map[string]any{"id": "SG-13"})), "it is not in the register")
	assert.Equal(t, 200, do(with(map[string]any{"id": "SG-12", "high": -30})))

	// Photos.
	var plug bytes.Buffer
	require.NoError(t, jpeg.Encode(&plug, image.NewGray(image.Rect(0, 0, 30, 20)), nil))
	photo := map[string]any{"id": uuid.New(), "note": "The plug, wet.", "image": plug.Bytes()}
	for range 2 { // a retry makes no second one
		code, raw = ann.call("POST", attempt+"/photos", photo)
		require.Equal(t, 200, code, string(raw))
	}
	require.Len(t, decode[[]httpapi.Photo](t, raw), 1)
	at := fmt.Sprintf("%s/photos/%s", attempt, photo["id"])
	code, raw = inst.get(at)
	require.Equal(t, 200, code)
	_, err := jpeg.Decode(bytes.NewReader(raw))
	require.NoError(t, err)
	code, _ = bob.get(at)
	assert.Equal(t, 404, code)
	for _, bad := range []struct {
		image []byte
		code  int
	}{{[]byte("a letter"), 422}, {make([]byte, 7<<20), 413}, {make([]byte, 40<<20), 413}} {
		code, raw = ann.call("POST", attempt+"/photos", map[string]any{"id": uuid.New(), "note": "", "image": bad.image})
		assert.Equal(t, bad.code, code, "%.300s", raw)
	}
	other := map[string]any{"id": uuid.New(), "note": "", "image": plug.Bytes()}
	code, _ = ann.call("POST", attempt+"/photos", other)
	require.Equal(t, 200, code)
	code, _ = ann.call("DELETE", fmt.Sprintf("%s/photos/%s", attempt, other["id"]), nil)
	assert.Equal(t, 204, code)
}

// Three people rotate over two engines: each is everybody's once, begun by one at a time and
// only after it was set again; a debrief is read by nobody before its time.
func TestAPracticalExam(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	m := inst.firstMachine()
	_, raw := inst.get("/api/sheets/" + m.Family)
	code, raw := inst.call("POST", "/api/machines", map[string]any{"name": "Twin", "code": "TW-2", "family": m.Family, "duty": "Stands beside it.",
		"sheet": entries(decode[httpapi.SheetForm](t, raw).Own)})
	require.Equal(t, 201, code, string(raw))
	machines := []httpapi.Machine{m, decode[httpapi.Machine](t, raw)}
	all := everyone(t, inst)
	var bugs []uuid.UUID
	var readings [][]ledger.HandReading
	for i, m := range machines[:2] {
		at := "/api/engines/" + m.Id.String()
		code, raw := inst.call("PUT", at, map[string]any{"serial": fmt.Sprintf("E-%d", i), "note": ""})
		require.Equal(t, 204, code, string(raw))
		fault := machine.FaultSpec{ID: "rings-worn", Severity: 0.8}
		sound, bugged := byHand(t, m, nil, "compression-dry"), byHand(t, m, []machine.FaultSpec{fault}, "compression-dry")
		id := uuid.New()
		code, raw = inst.call("POST", at+"/bugs", map[string]any{"id": id, "bug": map[string]any{"fault": fault, "done": "Old rings.", "undo": "Own rings.",
			"complaint": "weak", "words": "Nothing.", "sound": sound}})
		require.Equal(t, 200, code, string(raw))
		bugs, readings = append(bugs, id), append(readings, bugged)
		if i == 0 {
			continue // the first is not ready yet
		}
		code, raw = inst.call("POST", "/api/bugs/"+id.String()+"/acts",
			map[string]any{"after": 1, "act": map[string]any{"kind": "seen", "symptom": true, "readings": bugged}})
		require.Equal(t, 200, code, string(raw))
	}
	starts := time.Now().Add(-time.Minute).UTC()
	exam := map[string]any{"id": uuid.New(), "title": "Autumn", "starts_at": starts, "minutes": 30, "rest": 5, "people": []any{all["Ann"].Id, all["Bob"].Id},
		"bugs": bugs, "debrief_at": starts.Add(24 * time.Hour), "limit_money": 50}
	set := func(more map[string]any) (int, []byte) {
		body := maps.Clone(exam)
		maps.Copy(body, more)
		return inst.call("POST", "/api/exams", body)
	}
	code, raw = set(nil)
	assert.Equal(t, 422, code, "an engine is not ready: %s", raw)
	code, raw = inst.call("POST", "/api/bugs/"+bugs[0].String()+"/acts", map[string]any{"after": 1,
		"act": map[string]any{"kind": "seen", "symptom": true, "readings": readings[0]}})
	require.Equal(t, 200, code, string(raw))
	for name, bad := range map[string]map[string]any{
		"debriefs too early": {"debrief_at": starts.Add(time.Hour)}, "somebody twice": {"people": []any{all["Ann"].Id, all["Ann"].Id}},
		"no title": {"title": " "}, "no apprentice": {"people": []any{uuid.New()}},
	} {
		code, raw = set(bad)
		assert.Equal(t, 422, code, "%s: %s", name, raw)
	}
	for range 2 { // a retry makes no second one
		code, raw = set(nil)
		require.Equal(t, 200, code, string(raw))
	}
	file := decode[httpapi.ExamFile](t, raw)
	require.Len(t, file.Rounds, 2)
	turn := func(person, engine int) string {
		for _, r := range file.Rounds {
			for _, x := range r.Turns {
				if x.Person == person && x.Engine == engine {
					return x.Attempt.String()
				}
			}
		}
		panic("no such turn")
	}
	ann, bob := s.as("ann"), s.as("bob")
	mark := map[string]any{"kind": "mark", "reach": "plug", "mark": "suspect"}
	code, raw = ann.do(turn(0, 0), 0, mark)
	require.Equal(t, 200, code, string(raw))
	code, raw = bob.do(turn(1, 0), 0, mark)
	assert.Equal(t, 409, code, "another has it")
	assert.Contains(t, string(raw), "engine-with-another")
	code, _ = inst.call("POST", "/api/attempts/"+turn(0, 0)+"/observed", map[string]any{"kind": "hold", "item": "hand-back", "initials": "I"})
	require.Equal(t, 204, code)
	code, raw = ann.call("POST", "/api/attempts/"+turn(0, 0)+"/hand-over", map[string]any{"findings": []any{}, "verdict": "refer-on", "proof_seq": -1})
	require.Equal(t, 202, code, string(raw))
	code, raw = ann.get("/api/attempts/" + turn(0, 0) + "/debrief")
	assert.Equal(t, 409, code, "not before its time: %s", raw)
	_, raw = ann.get("/api/attempts")
	var own []httpapi.AttemptCard
	for _, a := range decode[httpapi.AttemptPage](t, raw).Items {
		own = append(own, a)
		require.NotNil(t, a.Turn)
		round := slices.IndexFunc(file.Rounds, func(r httpapi.ExamRound) bool {
			return slices.ContainsFunc(r.Turns, func(x httpapi.ExamTurn) bool { return x.Attempt == a.Id })
		})
		assert.Equal(t, httpapi.ExamTurnAt{Exam: "Autumn", Round: round + 1, At: file.Rounds[round].At}, *a.Turn)
	}
	assert.Len(t, own, 2)
	when := "/api/givings/" + file.Id.String() + "/debriefs"
	code, _ = ann.call("PUT", when, map[string]any{"at": time.Now()})
	assert.Equal(t, 403, code)
	for at, want := range map[time.Duration]int{-time.Minute: 200, time.Hour: 409} {
		code, raw = inst.call("PUT", when, map[string]any{"at": time.Now().Add(at)})
		require.Equal(t, 204, code, string(raw))
		if want == 200 {
			ann.debrief(turn(0, 0))
		}
		code, raw = ann.get("/api/attempts/" + turn(0, 0) + "/debrief")
		assert.Equal(t, want, code, "moved by the instructor: %s", raw)
	}
	code, raw = bob.do(turn(1, 0), 0, mark)
	assert.Equal(t, 409, code, "it was not set again")
	assert.Contains(t, string(raw), "engine-not-set-again")
	_, raw = inst.get("/api/exams/" + file.Id.String())
	assert.True(t, decode[httpapi.ExamFile](t, raw).Engines[0].Again)
	again := func(after int, rs []ledger.HandReading) int {
		code, raw := inst.call("POST", "/api/bugs/"+bugs[0].String()+"/acts", map[string]any{"after": after,
			"act": map[string]any{"kind": "again", "symptom": true, "readings": rs}})
		assert.NotEqual(t, 500, code, string(raw))
		return code
	}
	assert.Equal(t, 422, again(3, byHand(t, machines[0], nil, "compression-dry")), "it does not read as when it was bugged")
	require.Equal(t, 200, again(3, readings[0]))
	code, raw = bob.do(turn(1, 0), 0, mark)
	assert.Equal(t, 200, code, string(raw))
	_, raw = inst.get("/api/jobs")
	for _, j := range decode[httpapi.JobPage](t, raw).Items {
		if j.Iron != nil {
			code, raw = inst.call("POST", "/api/jobs/"+j.Id.String()+"/attempts", map[string]any{"apprentices": []any{all["Bob"].Id}})
			assert.Equal(t, 409, code, "an engine goes by its card: %s", raw)
		}
	}
	// What was written on paper is typed in by who teaches, whoever has the engine.
	code, raw = inst.do(turn(0, 1), 0, mark)
	assert.Equal(t, 200, code, string(raw))
	// Where the fault was taken out while a sheet was still to be typed in, it is typed in as
	// the engine was.
	for after, act := range []map[string]any{{"kind": "back"}, {"kind": "undone", "symptom": true, "readings": byHand(t, machines[0], nil, "compression-dry")}} {
		code, raw = inst.call("POST", "/api/bugs/"+bugs[0].String()+"/acts", map[string]any{"after": 4 + after, "act": act})
		require.Equal(t, 200, code, string(raw))
	}
	code, raw = bob.do(turn(1, 0), 1, map[string]any{"kind": "by-hand", "test": "compression-dry", "reading": "51", "unit": "psi", "judged": "below"})
	assert.Equal(t, 200, code, string(raw))
	_, raw = inst.get("/api/exams")
	assert.Len(t, decode[[]httpapi.Exam](t, raw), 1)
}
