package procedure

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
)

func begin(t *testing.T, seed uint64, faults ...machine.FaultSpec) *ledger.Ledger {
	j := job("f4-bowl")
	s, err := bench.NewSession("f4-bowl", j.Sheet, j.Ambient, faults, bench.Options{Technique: bench.Ideal, Noise: true, Seed: seed, FuelML: -1})
	require.NoError(t, err)
	return ledger.New(s)
}

func do(t *testing.T, l *ledger.Ledger, es ...ledger.Event) {
	for _, e := range es {
		if p := l.Apply(e); p != nil {
			t.Fatal(e, p.Error())
		}
	}
}

// Somebody goes down a page, corrects what was written, leaves it for a reason, works
// beside it, and comes back: where they are follows from what was written down.
func TestFollowed(t *testing.T) {
	sheet := job("f4-bowl").Sheet
	gap := Step{ID: "gap", Test: "plug-gap", Outcomes: []Outcome{found("plug-gap-wrong", Below, Above), to(Next, Otherwise)}}
	p := small(switches, fuelLook, gap, dear)
	l := begin(t, 1)
	at := func() Followed { return p.Follow("f4-bowl", sheet, l.Lines(), l.Pages()) }
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "look-switches"})
	f := at()
	assert.Equal(t, 1, f.At, "what is told is on record at once")
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "look-oil"}, ledger.Event{Kind: ledger.EventEntry, Word: l.TestOf("look-oil").Words[0]},
		ledger.Event{Kind: ledger.EventTake, Test: "look-fuel"})
	assert.Equal(t, 1, at().At, "seen, and not yet written down")
	do(t, l, ledger.Event{Kind: ledger.EventEntry, Word: "clear"})
	f = at()
	assert.Equal(t, 2, f.At)
	assert.Equal(t, []int{0, 1}, []int{f.Passed[0].Step, f.Passed[1].Step})
	assert.Equal(t, 1, f.Steps[1], "another test in between belongs to the step in front")

	do(t, l, ledger.Event{Kind: ledger.EventPage, Why: ledger.LeaveSeen})
	assert.Equal(t, ledger.LeaveSeen, at().Left)
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "plug-gap"}, ledger.Event{Kind: ledger.EventAct, Act: "blade", Value: 0.7})
	enter := func(reading, judged string) {
		do(t, l, ledger.Event{Kind: ledger.EventEntry, Reading: reading, Unit: "mm", Judged: judged})
	}
	enter("0.7", "within")
	assert.Equal(t, 2, at().At, "off the page nothing moves on it")
	_, on := at().Steps[l.Seq()-1]
	assert.False(t, on)
	do(t, l, ledger.Event{Kind: ledger.EventPage}, ledger.Event{Kind: ledger.EventTake, Test: "plug-gap"},
		ledger.Event{Kind: ledger.EventAct, Act: "blade", Value: 0.7})
	// It counts as it was written down, in whatever unit: 0.04 in is over the band.
	do(t, l, ledger.Event{Kind: ledger.EventEntry, Reading: "0.04", Unit: "in", Judged: "above"})
	f = at()
	assert.True(t, f.Ended)
	assert.Equal(t, 4, f.At)
	assert.Equal(t, "plug-gap-wrong", p.Steps[2].Outcomes[f.Passed[2].Outcome].Faults[0])
	enter("0.7", "within") // corrected: the page goes on
	f = at()
	assert.False(t, f.Ended)
	assert.Equal(t, 3, f.At)
	for _, bad := range []ledger.Event{{Kind: ledger.EventPage}, {Kind: ledger.EventPage, Why: "tired"}} {
		assert.NotNil(t, l.Clone().Apply(bad))
	}
}

// Whoever does at the bench what a page says, and writes down what is shown, is where
// the evaluation's own walk would be: on every family's pages, with any fault.
func TestFollowedAsEvaluated(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	cat := catalogue.Standard()
	sheet := job("f4-bowl").Sheet
	all := cat.FaultsOf("f4-bowl", sheet)
	for n := range 40 {
		id := []string{"look-first", "dose-first", "pull-first", "spark-first"}[n%4]
		p := school(t, id).For("f4-bowl", sheet)
		def := all[r.IntN(len(all))]
		spec := machine.FaultSpec{ID: def.ID}
		if def.Graded {
			spec.Severity = 0.2 + 0.8*r.Float64()
		}
		if len(def.Modes) > 0 {
			spec.Mode = def.Modes[0]
		}
		twin := begin(t, uint64(n), spec).Session
		lines := []ledger.Line{}
		at := func() Followed { return p.Follow("f4-bowl", sheet, lines, nil) }
		for i := 0; i >= 0 && i < len(p.Steps); {
			st := &p.Steps[i]
			require.Equal(t, i, at().At, "%s with %s at %s", id, def.ID, st.ID)
			for _, a := range st.Precautions {
				twin.Do(a)
			}
			if st.Repair != "" {
				twin.Repair(st.Repair, st.Reach, bench.GradeMaker)
			}
			twin.PutBackFor(st.Test)
			o := twin.Test(st.Test, st.Setup)
			tt := cat.TestFor("f4-bowl", sheet, st.Test)
			k := st.read(tt, sheet, &o)
			lines = append(lines, asWritten(tt, st, 2*len(lines), &o)...)
			f := at()
			last := f.Passed[len(f.Passed)-1]
			require.Equal(t, []int{i, k}, []int{last.Step, last.Outcome}, "%s with %s at %s: %+v", id, def.ID, st.ID, o)
			if k < 0 {
				break
			}
			i = p.After(i, &st.Outcomes[k])
			assert.Equal(t, i < 0, f.Ended)
		}
	}
}

// asWritten is a step in a ledger, with what it showed written down to the letter.
func asWritten(t *catalogue.Test, st *Step, seq int, o *bench.Observation) []ledger.Line {
	entry := func(value *float64, word *string, unit string, over bool) ledger.Entry {
		e := ledger.Entry{Seq: seq + 1, Unit: unit, Over: over}
		if word != nil {
			e.Word = *word
		}
		if value != nil {
			e.Value = *value
		}
		return e
	}
	e := entry(o.Value, o.Word, t.Unit, o.Over())
	e.Parts = map[string]ledger.Entry{}
	for id, part := range o.Parts {
		if len(t.Parts) > 0 && id == t.Parts[0].ID {
			continue
		}
		e.Parts[id] = entry(part.Value, part.Word, part.Unit, part.Over)
	}
	out := []ledger.Line{}
	if st.Repair != "" {
		out = append(out, ledger.Line{Seq: seq, Kind: ledger.EventRepair, Repair: st.Repair, Reach: st.Reach})
	}
	return append(out, ledger.Line{Seq: seq + 1, Kind: ledger.EventTake, Test: st.Test, Obs: o, Entry: &e})
}
