package assess_test

import (
	"bytes"
	"encoding/json"
	"maps"
	"math/rand/v2"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/assess"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/core/setup"
)

// told puts what a bench showed into an event, as a hand writes it down.
func told(e ledger.Event, t *catalogue.Test, o *bench.Observation) ledger.Event {
	number := func(v *float64, unit string, band *string) ledger.EventPart {
		p := ledger.EventPart{Reading: ledger.OverLimit, Unit: unit}
		if v != nil {
			p.Reading = exact(*v)
		}
		if band != nil {
			p.Judged = *band
		}
		return p
	}
	if t.Kind == catalogue.KindNumber {
		p := number(o.Value, t.Unit, o.Band)
		e.Reading, e.Unit, e.Judged = p.Reading, p.Unit, p.Judged
	} else {
		e.Word = *o.Word
	}
	for i := range t.Parts {
		p, seen := &t.Parts[i], o.Parts[t.Parts[i].ID]
		if i == 0 {
			continue
		}
		if e.Parts == nil {
			e.Parts = map[string]ledger.EventPart{}
		}
		if p.IsNumber() {
			e.Parts[p.ID] = number(seen.Value, p.Unit, seen.Band)
		} else {
			e.Parts[p.ID] = ledger.EventPart{Word: *seen.Word}
		}
	}
	return e
}

// pair is one attempt, at a bench and typed in from a real engine that shows the same.
type pair struct {
	t           *testing.T
	r           *rand.Rand
	sc          *scenario.Scenario
	l           *ledger.Ledger
	iron        ledger.Iron
	bench, hand []ledger.Event
	mended      bool
	made        map[string]bool
	high        int // readings with a gauge that reads too high
}

// test makes a test with some of its conditions left out, or does nothing where the bench
// would miss others than those.
func (p *pair) test(id string, leave float64) {
	t := p.l.TestOf(id)
	if t == nil || p.made[id] {
		return
	}
	var missed []string
	for _, c := range t.Conditions {
		if p.r.Float64() < leave {
			missed = append(missed, c)
		}
	}
	own, known := setup.Without(missed)
	if !known { // how the machine stood is known at the bench alone
		return
	}
	if lacks, _ := setup.CheckSetup("", own, p.l.Family(), p.sc.Sheet); len(lacks) > 0 {
		return
	}
	e := ledger.Event{Kind: ledger.EventMade, Test: id, Setup: own}
	glance := p.l.Clone()
	require.Nil(p.t, glance.Apply(e))
	o := glance.Latest().Obs
	slices.Sort(missed)
	if !slices.Equal(slices.Sorted(slices.Values(o.Because)), missed) || o.AtLeast || (t.Kind == catalogue.KindNumber && len(o.Parts) == 0 && len(t.Parts) > 0) {
		return
	}
	p.made[id] = true
	if t.Kind != catalogue.KindRun {
		e = told(e, t, o)
		read := ledger.HandReading{Test: id, Reading: e.Reading, Unit: e.Unit, Word: e.Word, Parts: e.Parts}
		if p.mended {
			p.iron.Sound = append(p.iron.Sound, read)
		} else {
			p.iron.Bugged = append(p.iron.Bugged, read)
		}
		if o.Value != nil && p.r.Float64() < 0.2 { // a slip
			e.Parts = maps.Clone(e.Parts)
			e.Reading = exact(*o.Value * 2)
		}
	}
	require.Nil(p.t, p.l.Apply(e))
	line := p.l.Latest()
	h := told(ledger.Event{Kind: ledger.EventHand, Test: id, Missed: missed, FalteredMin: o.FalterAt}, t, line.Obs)
	if t.Kind != catalogue.KindRun {
		h.Reading, h.Unit, h.Word, h.Judged, h.Parts = e.Reading, e.Unit, e.Word, e.Judged, e.Parts
	}
	if v, err := strconv.ParseFloat(h.Reading, 64); err == nil && p.r.Float64() < 0.5 {
		// With a gauge that is known to read too high it reads so, and comes to the same.
		high := 4 * instrument.AccuracyOf(id).Division
		h.Gauge, h.Reading = &ledger.Gauge{ID: "G-1", High: high}, exact(v+high)
		p.high++
	}
	if ran, ok := line.Obs.Also["ran_min"].(float64); ok && t.Long {
		h.RanMin = ran
	}
	p.both(e, h)
}

func (p *pair) do(e ledger.Event) {
	require.Nil(p.t, p.l.Apply(e))
	p.both(e, e)
}

func (p *pair) both(e, h ledger.Event) {
	h.Clock = p.l.Minutes()
	p.bench, p.hand = append(p.bench, e), append(p.hand, h)
}

// What a simulated instrument shows, typed in through the sheet of a real engine, gives the
// belief and the marks of the bench, whatever was set up, read and done.
func TestIronIsMarkedAsTheBench(t *testing.T) {
	long(t)
	n, wrong, slipped, high := 0, 0, 0, 0
	for i, m := range markers(t) {
		tests := m.sc.Tests()
		for k := range 6 {
			seed := uint64(10*i + k + 1)
			l, err := m.sc.Made(bench.Ideal, true, seed)
			require.NoError(t, err)
			p := &pair{t: t, r: rand.New(rand.NewPCG(seed, 77)), sc: m.sc, l: l, made: map[string]bool{}}
			p.test(m.sc.Complaint().Claim.Test, 0)
			for range 8 {
				p.test(tests[p.r.IntN(len(tests))].ID, 0.15)
			}
			p.do(ledger.Event{Kind: ledger.EventMark, Reach: "plug", Mark: ledger.MarkClear})
			fault := m.sc.Faults[0].ID
			rep := mending(fault)
			p.do(ledger.Event{Kind: ledger.EventRepair, Repair: rep.Act, Reach: rep.Reach})
			if len(l.Machine().Faults()) > 0 {
				continue // it did not take, and on iron it is known that it did
			}
			p.mended, p.made = true, map[string]bool{}
			p.test(m.sc.Complaint().Claim.Test, 0)
			proof := len(p.bench) - 1
			hand := assess.HandOver{Findings: []assess.Finding{{Reach: catalogue.Standard().Fault(fault).Reach, Fault: fault, Filing: assess.Root}},
				Verdict: assess.Repaired, ProofSeq: proof}
			a := m.assess(t, assess.Input{Scenario: m.sc, Seed: seed, Events: p.bench, Hand: hand, Made: &assess.Made{Technique: bench.Ideal, Noise: true}})
			iron := *m.sc
			iron.Iron = &p.iron
			require.Nil(t, p.iron.Check(iron.Family, iron.Sheet))
			b := m.assess(t, assess.Input{Scenario: &iron, Events: p.hand, Hand: hand})
			n, high = n+1, high+p.high
			if k == 0 { // and the open form gives the same
				form, err := assess.FormOf(&iron, 0, p.hand, &hand)
				require.NoError(t, err)
				raw, err := json.Marshal(form)
				require.NoError(t, err)
				in, err := assess.ReadAttempt(bytes.NewReader(raw))
				require.NoError(t, err)
				c := m.assess(t, *in)
				assert.Equal(t, total(b), total(c))
				assert.Equal(t, b.Readings, c.Readings)
			}
			for _, r := range a.Readings {
				if !r.Valid {
					wrong++
				}
				if !r.ReadRight {
					slipped++
				}
			}
			for f, want := range a.Standings.Recorded {
				require.InDelta(t, want, b.Standings.Recorded[f], 1e-6, "job %d, attempt %d: %s", i, k, f)
				require.InDelta(t, a.Standings.AsIfValid[f], b.Standings.AsIfValid[f], 1e-6, f)
				require.InDelta(t, a.Standings.Shown[f], b.Standings.Shown[f], 1e-6, f)
			}
			for _, s := range a.Sections {
				assert.InDelta(t, s.Mark, section(b, s.ID), 0.051, "job %d, attempt %d: %s\n%v\n%v", i, k, s.ID, s.Reasons, b.Sections)
			}
			assert.Equal(t, a.Outcome, b.Outcome)
		}
	}
	assert.Greater(t, n, 8)
	assert.Positive(t, wrong)
	assert.Positive(t, slipped)
	assert.Positive(t, high)
}

// What was typed wrong on a real engine and put right at once comes to the same as if it had
// been typed right, and later it cannot be put right any more.
func TestACorrectedReadingIsTheReading(t *testing.T) {
	sc := scenario.Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20},
		Faults: []machine.FaultSpec{{ID: "rings-worn", Severity: 0.9}}, Words: "No power.", Claim: "weak", LimitMinutes: 90, LimitMoney: 50,
		Iron: &ledger.Iron{Bugged: []ledger.HandReading{{Test: "compression-dry", Reading: "44", Unit: "psi"}}}}
	require.Empty(t, sc.Check())
	gauge := &ledger.Gauge{ID: "SG-12", High: 3, Overdue: true}
	right := []ledger.Event{
		{Kind: ledger.EventHand, Test: "start-attempt", Word: "low-power"},
		{Kind: ledger.EventHand, Test: "compression-dry", Reading: "47", Unit: "psi", Judged: "below", Gauge: gauge, Missed: []string{"zeroed"}},
		{Kind: ledger.EventHand, Test: "leak-down", Reading: "62", Unit: "%", Judged: "above", Parts: map[string]ledger.EventPart{"hiss": {Word: "oil-filler"}}},
		{Kind: ledger.EventHand, Test: "plug-look", Word: "wet"},
	}
	wrong := []ledger.Event{{Word: "runs-well"}, {Reading: "470", Unit: "psi", Judged: "above"},
		{Reading: ledger.OverLimit, Unit: "%", Judged: "above"}, {Word: "tan"}}
	var typed []ledger.Event
	for i, e := range right {
		slip := e
		slip.Reading, slip.Unit, slip.Word, slip.Judged, slip.Parts = wrong[i].Reading, wrong[i].Unit, wrong[i].Word, wrong[i].Judged, nil
		typed = append(typed, slip, ledger.Event{Kind: ledger.EventEntry, Reading: e.Reading, Unit: e.Unit, Word: e.Word, Judged: e.Judged, Parts: e.Parts})
	}
	of := func(events []ledger.Event) *assess.Assessment {
		a, err := assess.Assess(t.Context(), assess.Input{Scenario: &sc, Events: events, Hand: assess.HandOver{Verdict: assess.ReferOn, ProofSeq: -1,
			Findings: []assess.Finding{{Reach: "piston-rings-bore", Fault: "rings-worn", Filing: assess.Root}}}})
		require.NoError(t, err)
		return a
	}
	a, b := of(right), of(typed)
	assert.Equal(t, a.Standings, b.Standings)
	require.Len(t, b.Readings, len(a.Readings))
	for i := range a.Readings {
		x, y := a.Readings[i], b.Readings[i]
		x.Seq, x.TakenAt, y.Seq, y.TakenAt = 0, 0, 0, 0
		assert.Equal(t, x, y)
	}
	for _, s := range a.Sections {
		assert.InDelta(t, s.Mark, section(b, s.ID), 1e-9, s.ID)
	}
	assert.InDelta(t, a.Points[len(a.Points)-1].Bits, b.Points[len(b.Points)-1].Bits, 1e-9)

	l, err := sc.Ledger(0)
	require.NoError(t, err)
	again := ledger.Event{Kind: ledger.EventEntry, Word: "low-power"}
	assert.Equal(t, "ledger.nothing-to-correct", l.Apply(again).Code, "nothing was written yet")
	require.Nil(t, l.Apply(right[0]))
	require.Nil(t, l.Apply(ledger.Event{Kind: ledger.EventMark, Reach: "plug", Mark: ledger.MarkClear}))
	require.Nil(t, l.Apply(again), "a mark on the board comes between them and does nothing")
	require.Nil(t, l.Apply(ledger.Event{Kind: ledger.EventRepair, Repair: "clean", Reach: "jets"}))
	assert.Equal(t, "ledger.nothing-to-correct", l.Apply(again).Code, "work was done since")
}

// A reading whose gauge is overdue for its check tells less.
func TestAnOverdueGaugeTellsLess(t *testing.T) {
	sc := scenario.Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20},
		Faults: []machine.FaultSpec{{ID: "rings-worn", Severity: 0.9}}, Words: "No power.", Claim: "weak", LimitMinutes: 90, LimitMoney: 50, Iron: &ledger.Iron{}}
	require.Empty(t, sc.Check())
	left := func(overdue bool) float64 {
		e := ledger.Event{Kind: ledger.EventHand, Test: "compression-dry", Reading: "44", Unit: "psi", Judged: "below",
			Gauge: &ledger.Gauge{ID: "SG-12", Overdue: overdue}}
		a, err := assess.Assess(t.Context(), assess.Input{Scenario: &sc, Events: []ledger.Event{e},
			Hand: assess.HandOver{Verdict: assess.ReferOn, ProofSeq: -1}})
		require.NoError(t, err)
		if overdue {
			var codes []string
			for _, s := range a.Sections {
				for _, r := range s.Reasons {
					codes = append(codes, r.Code)
				}
			}
			assert.Contains(t, codes, "reading.gauge-overdue")
		}
		return a.Points[len(a.Points)-1].Bits
	}
	assert.Greater(t, left(true), left(false)+0.02, "bits left to know")
}

// mending is work that mends a fault.
func mending(fault string) catalogue.Repair {
	for _, r := range catalogue.Standard().AllRepairs() {
		if slices.Contains(r.Mends, fault) && r.Success > 0.9 {
			return r
		}
	}
	panic(fault)
}
