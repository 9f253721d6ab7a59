package assess_test

import (
	"bytes"
	"encoding/json"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/apprentice"
	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/procedure"
	"zanjero/core/scenario"
)

func job(claim string, faults ...machine.FaultSpec) *scenario.Scenario {
	return &scenario.Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20},
		Faults: faults, Words: "Coughs.", Claim: claim, LimitMinutes: 120, LimitMoney: 90}
}

// jobs for the laws, with what is kept for marking them.
type marker struct {
	sc      *scenario.Scenario
	answers *diagnosis.Answers
	refer   *authoring.Reference
}

func markers(t *testing.T) []marker {
	once.Do(func() { made = makeMarkers(t) })
	return made
}

var (
	once sync.Once
	made []marker
)

// long skips what weighs many attempts, where the run is to be short.
func long(t *testing.T) {
	if testing.Short() {
		t.Skip("it weighs many attempts")
	}
}

func makeMarkers(t *testing.T) (out []marker) {
	var answers *diagnosis.Answers
	for _, sc := range []*scenario.Scenario{job("only-on-choke", machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.6, Cause: "stored-with-fuel"}),
		job("no-start", machine.FaultSpec{ID: "coil-secondary-open", Severity: 1}), job("weak", machine.FaultSpec{ID: "rings-worn", Severity: 0.8})} {
		if answers == nil {
			var err error
			answers, err = authoring.Answers(t.Context(), sc)
			require.NoError(t, err)
		}
		refer, err := authoring.Refer(t.Context(), sc, answers)
		require.NoError(t, err)
		out = append(out, marker{sc, answers, refer})
	}
	return out
}

func (m *marker) assess(t *testing.T, in assess.Input) *assess.Assessment {
	in.Answers, in.Reference = m.answers, m.refer
	a, err := assess.Assess(t.Context(), in)
	require.NoError(t, err)
	return a
}

func total(a *assess.Assessment) float64 {
	mark, _ := a.Total()
	return mark
}

func section(a *assess.Assessment, id string) float64 {
	for _, s := range a.Sections {
		if s.ID == id {
			return s.Mark
		}
	}
	return -1
}

// Whatever somebody does: marks stay within their sections and are the sum of their lines,
// the same attempt gets the same marks, and the open form gives them too.
func TestMarksAreSumsAndTravel(t *testing.T) {
	long(t)
	for i, m := range markers(t) {
		for k, kind := range apprentice.Kinds {
			in, err := apprentice.Work(t.Context(), m.sc, m.answers, kind, uint64(10*i+k), uint64(3+k))
			require.NoError(t, err)
			a := m.assess(t, *in)
			require.Len(t, a.Sections, 6)
			for _, s := range a.Sections {
				sum := 0.0
				for _, r := range s.Reasons {
					sum += r.Marks
				}
				assert.InDelta(t, sum, s.Mark, 0.06, "%s of a %s: %v", s.ID, kind.ID, s.Reasons)
				assert.True(t, s.Mark >= 0 && s.Mark <= s.Of, "%s %v", s.ID, s.Mark)
			}
			assert.Equal(t, a, m.assess(t, *in))
			assert.Equal(t, a.Outcome == assess.Competent, len(a.Against) == 0)
		}
	}
}

// change is a change of an attempt that makes it better, and what it then is.
type change struct {
	name string
	make func(in assess.Input, a *assess.Assessment, r *rand.Rand) (assess.Input, bool)
}

// slips are the readings that were read wrong.
func slips(a *assess.Assessment) (out []assess.Reading) {
	for _, x := range a.Readings {
		if !x.ReadRight && x.Part == "" && (x.Word != "" || x.Shown.Value != nil) {
			out = append(out, x)
		}
	}
	return out
}

// seqs moves the places of a hand-over after an event was put in or taken out at a place.
func moved(h assess.HandOver, at, by int) assess.HandOver {
	move := func(seq int) int {
		if seq >= at {
			return seq + by
		}
		return seq
	}
	h.Findings = slices.Clone(h.Findings)
	for i := range h.Findings {
		h.Findings[i].Evidence = slices.Clone(h.Findings[i].Evidence)
		for j, e := range h.Findings[i].Evidence {
			h.Findings[i].Evidence[j] = move(e)
		}
	}
	h.ProofSeq = move(h.ProofSeq)
	return h
}

var better = []change{
	{"slips put right", func(in assess.Input, a *assess.Assessment, r *rand.Rand) (assess.Input, bool) {
		wrong := slips(a)
		r.Shuffle(len(wrong), func(i, j int) { wrong[i], wrong[j] = wrong[j], wrong[i] })
		if len(wrong) > 0 {
			wrong = wrong[:1+r.IntN(len(wrong))]
		}
		in.Events = slices.Clone(in.Events)
		for _, x := range wrong {
			if e := &in.Events[x.TakenAt]; x.Word != "" {
				e.Word = x.Shown.Word
			} else {
				e.Reading, e.Unit, e.Judged = exact(*x.Shown.Value), x.Shown.Unit, x.TrueBand
			}
		}
		return in, len(wrong) > 0
	}},
	{"a precaution taken", func(in assess.Input, a *assess.Assessment, _ *rand.Rand) (assess.Input, bool) {
		for _, x := range a.Skipped {
			if x.Precaution == "leak-mended" || x.Precaution == "lead-clear" || x.Precaution == "block-driven" || x.Precaution == "cool-down" {
				continue
			}
			in.Events = slices.Insert(slices.Clone(in.Events), x.Seq, ledger.Event{Kind: ledger.EventDo, Do: x.Precaution})
			in.Hand = moved(in.Hand, x.Seq, 1)
			return in, true
		}
		return in, false
	}},
}

// written is a test as somebody makes it who sets it up and reads it rightly, at some point
// of an attempt.
func written(t *testing.T, l *ledger.Ledger, sheet catalogue.Sheet, test string) ledger.Event {
	e := ledger.Event{Kind: ledger.EventMade, Test: test}
	glance := l.Clone()
	require.Nil(t, glance.Apply(e))
	o, tt := glance.Latest().Obs, catalogue.Standard().Test(test)
	switch {
	case tt.Kind == catalogue.KindRun:
	case tt.Kind != catalogue.KindNumber:
		e.Word = *o.Word
	case o.Value == nil:
		e.Reading, e.Unit, e.Judged = ledger.OverLimit, tt.Unit, "above"
	default:
		e.Reading, e.Unit = exact(*o.Value), tt.Unit
		if o.Band != nil {
			e.Judged = *o.Band
		}
	}
	if sheet[tt.Figure].Unit == "" {
		e.Judged = ""
	}
	return e
}

// A step that could tell nothing never gives marks to who made it: without it the attempt
// has no fewer, in all of it and in readings, economy and order.
func TestUselessStepsGiveNothing(t *testing.T) {
	long(t)
	r := rand.New(rand.NewPCG(7, 7))
	n := 0
	for i, m := range markers(t) {
		for k := range 6 {
			in, err := apprentice.Work(t.Context(), m.sc, m.answers, apprentice.Kinds[k%2], uint64(10*i+k), uint64(k+1))
			require.NoError(t, err)
			work := slices.IndexFunc(in.Events, func(e ledger.Event) bool { return e.Kind == ledger.EventMark || e.Kind == ledger.EventRepair })
			if work < 0 {
				continue
			}
			a := m.assess(t, *in)
			l, err := m.sc.Made(bench.Ideal, true, in.Seed)
			require.NoError(t, err)
			for _, e := range in.Events[:work] {
				require.Nil(t, l.Apply(e))
			}
			tests := m.sc.Tests()
			for range 6 {
				test := tests[r.IntN(len(tests))]
				if test.Kind == catalogue.KindRun || slices.ContainsFunc(in.Events, func(e ledger.Event) bool { return e.Test == test.ID }) {
					continue
				}
				more := *in
				more.Events = slices.Insert(slices.Clone(in.Events), work, written(t, l, m.sc.Sheet, test.ID))
				more.Hand = moved(in.Hand, work, 1)
				b := m.assess(t, more)
				if !slices.Contains(b.Economy.Useless, work) {
					continue
				}
				n++
				for _, id := range []string{"readings", "economy", "order"} {
					assert.LessOrEqual(t, section(b, id), section(a, id)+0.001, "%s with %s", id, test.ID)
				}
				assert.LessOrEqual(t, total(b), total(a)+0.001, test.ID)
			}
		}
	}
	assert.Greater(t, n, 9)
}

func exact(v float64) string {
	raw, _ := json.Marshal(v)
	return string(raw)
}

// mistaken names what the record speaks for most but what is there, in place of that.
func mistaken(h assess.HandOver, a *assess.Assessment) assess.HandOver {
	best := ""
	for id, p := range a.Standings.Recorded {
		there := slices.ContainsFunc(a.Truth, func(x assess.Truth) bool { return x.ID == id })
		if q := a.Standings.Recorded[best]; !there && (best == "" || p > q || p == q && id < best) {
			best = id
		}
	}
	h.Findings = []assess.Finding{{Reach: catalogue.Standard().Fault(best).Reach, Fault: best, Filing: assess.Root}}
	return h
}

// A better attempt never gets fewer marks: with any choice of its slips put right, and with a
// precaution taken, whether what is named is there or not.
func TestBetterIsNeverLess(t *testing.T) {
	long(t)
	r := rand.New(rand.NewPCG(4, 4))
	tried := map[string]int{}
	for i, m := range markers(t) {
		for k := range 9 {
			kind := apprentice.Kind{ID: "any", Sure: 0.5 + 0.4*float64(k%2), Wander: 0.5, Misread: 0.5, Neglect: 0.3, Care: 0.6, Tidy: 1, Prove: 1}
			in, err := apprentice.Work(t.Context(), m.sc, m.answers, kind, uint64(100*i+k), uint64(k+1))
			require.NoError(t, err)
			in.Made = &assess.Made{Technique: bench.Ideal, Noise: true}
			a := m.assess(t, *in)
			if k%3 == 2 {
				in.Hand = mistaken(in.Hand, a)
				a = m.assess(t, *in)
			}
			for _, c := range better {
				out, ok := c.make(*in, a, r)
				if !ok {
					continue
				}
				b := m.assess(t, out)
				tried[c.name]++
				assert.GreaterOrEqual(t, total(b), total(a)-0.05, "%s, job %d, attempt %d", c.name, i, k)
				if c.name == "a precaution taken" {
					assert.Greater(t, section(b, "safety"), section(a, "safety")-0.01, c.name)
				} else if len(slips(a)) == 1 {
					assert.Greater(t, section(b, "readings"), section(a, "readings"), c.name)
				}
			}
		}
	}
	for _, c := range better {
		assert.Greater(t, tried[c.name], 7, c.name)
	}
}

// However many slips there are: one fewer never comes to fewer marks. Readings of an attempt
// are written down wrong one after another, in an order by chance, up to all of them.
func TestOneSlipFewerIsNeverLess(t *testing.T) {
	long(t)
	r := rand.New(rand.NewPCG(12, 12))
	most := 0
	for i, m := range markers(t) {
		l, err := m.sc.Made(bench.Ideal, true, uint64(i+1))
		require.NoError(t, err)
		in := assess.Input{Scenario: m.sc, Seed: uint64(i + 1), Made: &assess.Made{Technique: bench.Ideal, Noise: true},
			Hand: assess.HandOver{Verdict: assess.ReferOn, ProofSeq: -1, Findings: []assess.Finding{{Filing: assess.Root,
				Reach: catalogue.Standard().Fault(m.sc.Faults[0].ID).Reach, Fault: m.sc.Faults[0].ID}}}}
		var numbers []int
		for _, test := range m.sc.Tests() {
			if test.Kind != catalogue.KindNumber || len(test.Parts) > 0 || len(numbers) == 10 {
				continue
			}
			e := written(t, l, m.sc.Sheet, test.ID)
			if p := l.Apply(e); p != nil || l.Latest().Obs.Value == nil {
				continue
			}
			numbers = append(numbers, len(in.Events))
			in.Events = append(in.Events, e)
		}
		if len(numbers) < 10 || i%3 != 0 {
			continue
		}
		last := total(m.assess(t, in))
		r.Shuffle(len(numbers), func(i, j int) { numbers[i], numbers[j] = numbers[j], numbers[i] })
		for n, at := range numbers {
			v, err := strconv.ParseFloat(in.Events[at].Reading, 64)
			require.NoError(t, err)
			in.Events = slices.Clone(in.Events)
			in.Events[at].Reading = exact(v*2 + 1)
			a := m.assess(t, in)
			assert.LessOrEqual(t, total(a), last+0.05, "job %d, %d slips", i, n+1)
			last, most = total(a), max(most, len(slips(a)))
		}
	}
	assert.Greater(t, most, 8)
}

// Whoever fits parts until it runs has tested nothing, whatever comes of it; somebody
// competent has, where there is something to tell.
func TestThrowingPartsIsNoTesting(t *testing.T) {
	long(t)
	for _, m := range markers(t) {
		for _, k := range apprentice.Kinds {
			if !k.Throws && k.ID != "master" {
				continue
			}
			for seed := range uint64(3) {
				in, err := apprentice.Work(t.Context(), m.sc, m.answers, k, seed, seed)
				require.NoError(t, err)
				a := m.assess(t, *in)
				assert.Equal(t, k.Throws, a.Untested, "%s at %s", k.ID, m.sc.Faults[0].ID)
			}
		}
	}
}

// Marks do not depend on what the machine is called, or in what order findings and evidence
// are given.
func TestMarksDoNotDependOnNamesOrOrder(t *testing.T) {
	long(t)
	m := markers(t)[0]
	in, err := apprentice.Work(t.Context(), m.sc, m.answers, apprentice.Kinds[1], 5, 5)
	require.NoError(t, err)
	in.Hand.Findings = append(in.Hand.Findings, assess.Finding{Reach: "coil", Filing: assess.Root, Evidence: []int{1, 2}},
		assess.Finding{Reach: "plug", Fault: "plug-fouled", Filing: assess.Incidental})
	a := m.assess(t, *in)
	sc := *m.sc
	sc.Name, sc.Code, sc.Words = "Another", "X-1", "Said otherwise."
	in.Scenario = &sc
	slices.Reverse(in.Hand.Findings)
	slices.Reverse(in.Hand.Findings[1].Evidence)
	b := m.assess(t, *in)
	assert.Equal(t, total(a), total(b))
	assert.Equal(t, a.Outcome, b.Outcome)
	assert.Equal(t, a.Class, b.Class)
	for _, s := range a.Sections {
		assert.Equal(t, s.Mark, section(b, s.ID), s.ID)
	}
}

// No school is punished for being one: who follows any page of any school for the complaint
// to its end, and reads rightly, loses nothing for the order.
func TestSchoolsAreNotPunished(t *testing.T) {
	long(t)
	m := markers(t)[1]
	n := 0
	for _, p := range procedure.Schools().Expand() {
		if p.Complaint != "no-start" || !slices.Contains(p.Families, "f4-bowl") {
			continue
		}
		n++
		l, err := m.sc.Made(bench.Ideal, false, 1)
		require.NoError(t, err)
		for range 14 {
			f := p.Follow("f4-bowl", m.sc.Sheet, l.Lines(), nil)
			if f.Ended || f.At >= len(p.Steps) {
				break
			}
			s := &p.Steps[f.At]
			if s.Repair != "" {
				require.Nil(t, l.Apply(ledger.Event{Kind: ledger.EventRepair, Repair: s.Repair, Reach: s.Reach}))
			}
			e := written(t, l, m.sc.Sheet, s.Test)
			require.Nil(t, l.Apply(e), "%s: %+v", p.ID, e)
		}
		a := m.assess(t, assess.Input{Scenario: m.sc, Seed: 1, Events: l.Events(), Made: &assess.Made{Technique: bench.Ideal},
			Hand: assess.HandOver{Findings: []assess.Finding{{Reach: "coil", Filing: assess.Root}}, Verdict: assess.ReferOn, ProofSeq: -1}})
		assert.Greater(t, section(a, "order"), 8.9, "%s: %+v", p.ID, a.Order)
	}
	assert.GreaterOrEqual(t, n, 5)
}

// What cannot be read or done is refused with its place.
func TestAttemptsAreRefusedWithTheirPlace(t *testing.T) {
	long(t)
	job := `"scenario":{"machine":"f4-bowl","faults":[{"id":"main-jet-blocked"}],"complaint":"only-on-choke","words":"x","limit_minutes":60,"limit_money":40}`
	hand := `"hand_over":{"findings":[],"verdict":"refer-on"}`
	for raw, place := range map[string]string{
		`{` + job + `,"events":[{"test":"moon"}],` + hand + `}`:                                                                     "events[0].test",
		`{` + job + `,"events":[{"wait_min":3},{"mark":"clear","reach":"moon"}],` + hand + `}`:                                      "events[1].reach",
		`{` + job + `,"events":[{"test":"jet-look","recorded":"moon"}],` + hand + `}`:                                               "events[0].recorded",
		`{` + job + `,"events":[{"test":"compression-dry","recorded":"high"}],` + hand + `}`:                                        "events[0].recorded",
		`{` + job + `,"events":[{"wait_min":3,"moon":1}],` + hand + `}`:                                                             "events[0].moon",
		`{` + job + `,"events":[{"sing":"loud"}],` + hand + `}`:                                                                     "events[0]",
		`{` + job + `,"events":[` + strings.Repeat(`{"wait_min":1},`, 2000) + `{}],` + hand + `}`:                                   "events",
		`{` + job + `,"events":[],"hand_over":{"findings":[{"filing":"root","reach":"jets","evidence":[7]}],"verdict":"refer-on"}}`: "hand_over.findings[0].evidence",
		`{` + job + `,"events":[],"hand_over":{"findings":[],"verdict":"refer-on","proof_event":3}}`:                                "hand_over.proof_event",
		`{"scenario":{"machine":"moon"},"events":[],` + hand + `}`:                                                                  "scenario.machine",
		`{` + job + `,"technique":"by magic","events":[],` + hand + `}`:                                                             "technique",
	} {
		_, err := assess.AssessAttempt(t.Context(), strings.NewReader(raw))
		var p *problem.Problem
		require.ErrorAs(t, err, &p, raw[:min(len(raw), 300)])
		assert.Equal(t, place, p.Path, p.Code)
	}
}

// What is read from outside is refused with its place, or judged; nothing else.
func FuzzReadAttempt(f *testing.F) {
	f.Add([]byte(`{"scenario":{"machine":"f4-bowl","faults":[{"id":"main-jet-blocked","severity":0.6}],"complaint":"only-on-choke","words":"x",` +
		`"limit_minutes":60,"limit_money":40},"events":[{"test":"start-attempt"},{"test":"jet-look","recorded":"part"}],"hand_over":{"verdict":"refer-on"}}`))
	f.Add([]byte(`{"events":[{"wait_min":-1}],"hand_over":{"findings":[{"evidence":[9]}]}}`))
	f.Add([]byte(`[`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		in, err := assess.ReadAttempt(bytes.NewReader(raw))
		if (in == nil) == (err == nil) {
			t.Fatal("neither judged nor refused")
		}
	})
}
