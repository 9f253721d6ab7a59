package ledger_test

import (
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/setup"
)

func ledgerOf(t testing.TB, family string, faults ...machine.FaultSpec) *ledger.Ledger {
	s, err := bench.NewSession(family, catalogue.Standard().Family(family).Sheet, machine.Ambient{TemperatureC: 20}, faults,
		bench.Options{Technique: bench.AsSet, Noise: true, Seed: 9, FuelML: -1})
	require.NoError(t, err)
	return ledger.New(s)
}

func do(t testing.TB, l *ledger.Ledger, events ...ledger.Event) {
	for _, e := range events {
		if p := l.Apply(e); p != nil {
			require.NoError(t, p, "%+v", e)
		}
	}
}

func act(name string, value any) ledger.Event {
	return ledger.Event{Kind: ledger.EventAct, Act: name, Value: value}
}

// Every number test of every family is read at the bench from its instrument:
// worked well it is valid, and comes to what the test comes to for a master.
func TestEveryNumberIsReadFromAnInstrument(t *testing.T) {
	cat := catalogue.Standard()
	for _, fam := range cat.Families {
		for _, test := range cat.TestsOf(fam.ID, fam.Sheet) {
			if test.Kind != catalogue.KindNumber {
				continue
			}
			l := ledgerOf(t, fam.ID)
			if slices.ContainsFunc(test.Conditions, func(c string) bool { return c == "warm" }) {
				ledgertest.Work(t, l, "start-attempt")
				do(t, l, ledger.Event{Kind: ledger.EventDo, Do: "warm-up"})
			}
			master := l.Session.AsMaster().Test(test.ID, nil)
			ledgertest.Work(t, l, test.ID)
			st := l.Lines()[len(l.Lines())-1]
			assert.Empty(t, st.Obs.Because, "%s on %s", test.ID, fam.ID)
			if assert.Equal(t, master.Value == nil, st.Obs.Value == nil, "%s on %s", test.ID, fam.ID) && master.Value != nil {
				a := instrument.AccuracyOf(test.ID)
				assert.InDelta(t, *master.Value, *st.Obs.Value, 6*(math.Abs(*master.Value)*a.Repeat+a.Floor)+a.Step, "%s on %s", test.ID, fam.ID)
			}
		}
	}
}

// sheetOf is a random sheet that its family allows: each figure some way off its
// own, or as far as a sheet may go.
func sheetOf(r *rand.Rand, fam *catalogue.Family) catalogue.Sheet {
	cat := catalogue.Standard()
	out := catalogue.Sheet{}
	for _, k := range cat.FiguresOf(fam.ID) {
		f, ok := fam.Sheet[k.ID]
		if !ok || k.Unit == "" {
			continue
		}
		by := math.Exp(0.7 * (2*r.Float64() - 1))
		if r.IntN(8) == 0 { // to the end of what may stand there
			by = []float64{k.Least / max(f.Low, 1e-9), k.Most / max(f.High, 1e-9)}[r.IntN(2)]
		}
		g := f
		g.Low, g.High, g.Source = min(max(f.Low*by, k.Least), k.Most), min(max(f.High*by, k.Least), k.Most), "random"
		next := maps.Clone(out)
		next[k.ID] = g
		if len(cat.CheckSheet(fam.ID, cat.Complete(fam.ID, next))) == 0 {
			out = next
		}
	}
	return cat.Complete(fam.ID, out)
}

// Whatever the sheet and whatever is wrong, what an instrument shows lies on its
// scale as it is drawn, or shows as beyond it; and what is written down is what
// it showed.
func TestReadingsLieOnTheirScales(t *testing.T) {
	cat := catalogue.Standard()
	rounds := 60
	if testing.Short() {
		rounds = 12
	}
	beyond, within := map[string]int{}, map[string]int{}
	for _, fam := range cat.Families {
		r := rand.New(rand.NewPCG(3, uint64(len(fam.ID))))
		for range rounds {
			sheet := sheetOf(r, &fam)
			faults := cat.FaultsOf(fam.ID, sheet)
			f := machine.FaultSpec{ID: faults[r.IntN(len(faults))].ID, Severity: r.Float64()}
			s, err := bench.NewSession(fam.ID, sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{f},
				bench.Options{Technique: bench.AsSet, Noise: true, Seed: r.Uint64(), FuelML: -1})
			require.NoError(t, err)
			for _, test := range cat.TestsOf(fam.ID, sheet) {
				if test.Kind != catalogue.KindNumber {
					continue
				}
				l := ledger.New(s.Clone())
				ledgertest.WorkAnd(t, l, func(in *bench.Instrument, o bench.Observation) {
					a := instrument.AccuracyOf(test.ID)
					if o.Value != nil {
						require.True(t, *o.Value >= a.Least && *o.Value <= a.Most, "%s reads %g", test.ID, *o.Value)
						if *o.Value == a.Most && !o.AtLeast {
							require.True(t, in.Beyond, "%s stops at %g and does not say so", test.ID, *o.Value)
						}
					}
					if in.Scale == nil {
						return
					}
					for _, shown := range []float64{in.Needle, in.Second, in.GapMM, in.Turns} {
						onScale := shown >= in.Scale.Least && shown <= in.Scale.Most
						require.True(t, onScale || in.Beyond, "%s with %s: %g is not on %+v", test.ID, f.ID, shown, *in.Scale)
					}
					if in.Beyond {
						beyond[test.ID]++
					} else {
						within[test.ID]++
					}
				}, test.ID)
			}
		}
	}
	assert.NotEmpty(t, beyond, "no sheet went beyond an instrument")
	for _, test := range cat.Tests {
		if test.Kind == catalogue.KindNumber && cat.Instrument(test.Instrument).Scale != nil {
			assert.NotZero(t, within[test.ID], "%s was never read", test.ID)
		}
	}
}

// The first option of every set-up is how things are when nobody thinks of
// them, so that showing it changes nothing.
func TestSetupsStandAsFound(t *testing.T) {
	cat := catalogue.Standard()
	for _, su := range cat.Setups {
		for _, id := range su.Tests {
			test := cat.Test(id)
			if test.Kind == catalogue.KindNumber || su.ID == "dose_of" || su.ID == "pulses_per_rev" {
				continue // an instrument stands as its last user left it; the right dose differs
			}
			for _, fam := range cat.Families {
				if cat.TestFor(fam.ID, fam.Sheet, id) == nil {
					continue
				}
				a := ledgerOf(t, fam.ID).Session.Test(id, nil)
				b := ledgerOf(t, fam.ID).Session.Test(id, setup.Settings{su.ID: su.Default()})
				assert.Equal(t, a.Because, b.Because, "%s of %s on %s", su.ID, id, fam.ID)
			}
		}
	}
}

// What a condition asks of how a test is gone about can be chosen at the bench.
func TestConditionsCanBeMet(t *testing.T) {
	cat := catalogue.Standard()
	for _, su := range cat.Setups {
		right, ok := ledgertest.Right[su.ID]
		for _, id := range su.Tests {
			test := cat.Test(id)
			if !ok || test.Kind == catalogue.KindNumber {
				continue
			}
			fam := cat.Families[0]
			wrong := ledgerOf(t, fam.ID).Session.Test(id, setup.Settings{su.ID: su.Default()}).Because
			better := ledgerOf(t, fam.ID).Session.Test(id, setup.Settings{su.ID: right}).Because
			assert.Less(t, len(better), len(wrong), "%s of %s", su.ID, id)
		}
	}
}

// A feeler says by goes, drags and stops what lies between its blades.
func TestFeelersBracket(t *testing.T) {
	l := ledgerOf(t, "f4-bowl", machine.FaultSpec{ID: "gap-wide", Severity: 0.6})
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "air-gap"}, act("set", map[string]any{"id": "magnet_under", "value": true}))
	goes, stops := 0.0, math.Inf(1)
	for _, b := range bench.Blades {
		do(t, l, act("blade", b))
		switch l.Instrument().Heard {
		case "goes":
			goes = b
		case "stops":
			stops = min(stops, b)
		}
	}
	o, _, ok := l.Clone().Read()
	require.True(t, ok)
	assert.True(t, goes < *o.Value+0.02 && *o.Value < stops+0.02, "%g: goes %g, stops %g", *o.Value, goes, stops)
	p := l.Apply(act("blade", 0.31))
	require.NotNil(t, p)
	assert.NotEmpty(t, p.Code)
}

// A screw is counted in until it seats; driven on, it counts more and its seat
// suffers.
func TestScrewIsCountedIn(t *testing.T) {
	count := func(over bool) (float64, []machine.FaultSpec) {
		l := ledgerOf(t, "f4-suction")
		do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "screw-count"})
		for !l.Instrument().Ready {
			do(t, l, act("turn", 0.125))
		}
		if over {
			do(t, l, act("turn", 0.125))
		}
		turns := l.Instrument().Turns
		do(t, l, ledger.Event{Kind: ledger.EventEntry, Reading: strconv.FormatFloat(turns, 'g', -1, 64), Unit: "turns", Judged: "within"})
		assert.Equal(t, over, slices.Contains(l.Lines()[len(l.Lines())-1].Obs.Because, "lightly-seated"))
		return turns, l.Machine().Faults()
	}
	light, none := count(false)
	hard, left := count(true)
	assert.Empty(t, none)
	assert.InDelta(t, light+0.25, hard, 0.13)
	assert.NotEmpty(t, left)
}

// A pump is read after a minute, a pop-off where the needle lets go, a
// tachometer by what it is told, and a leak shows on the second dial.
func TestFacesShowWhatTheyShould(t *testing.T) {
	l := ledgerOf(t, "t2-diaphragm", machine.FaultSpec{ID: "crank-seal-leaks", Severity: 0.5})
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "crankcase-pressure"}, act("set", map[string]any{"id": "ports_blanked", "value": true}))
	require.NotNil(t, l.Apply(act("hold", nil)), "there is nothing to hold")
	do(t, l, act("pump", nil))
	assert.False(t, l.Instrument().Ready)
	pumped := l.Instrument().Needle
	do(t, l, act("hold", nil))
	assert.Less(t, l.Instrument().Needle, pumped)
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "needle-test"}, act("set", map[string]any{"id": "wetted", "value": true}))
	for !l.Instrument().Ready {
		before := l.Instrument().Needle
		do(t, l, act("squeeze", 10.0))
		if !l.Instrument().Ready {
			assert.InDelta(t, before+10, l.Instrument().Needle, 1e-9)
		}
	}
	assert.Less(t, l.Instrument().Needle, l.Instrument().Second, "it has let go")
	require.NotNil(t, l.Apply(act("squeeze", 10.0)))

	l = ledgerOf(t, "f4-bowl")
	ledgertest.Work(t, l, "start-attempt")
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "run-full"}, act("start", nil))
	half, _ := strconv.ParseFloat(l.Instrument().Display, 64)
	do(t, l, act("set", map[string]any{"id": "pulses_per_rev", "value": 1.0}))
	full, _ := strconv.ParseFloat(l.Instrument().Display, 64)
	assert.InDelta(t, 2, full/half, 0.02)
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "leak-down"}, act("set", map[string]any{"id": "supply_psi", "value": 80.0}),
		act("set", map[string]any{"id": "at_tdc", "value": true}), act("set", map[string]any{"id": "crank_held", "value": true}), act("open", nil))
	assert.Equal(t, 80.0, l.Instrument().Second)
	assert.InDelta(t, 7, l.Instrument().Needle, 4)
	assert.NotEmpty(t, l.Instrument().Seen["hiss"])
}

// A reading of several parts: the instrument is held to one after another, each is
// written down and judged by itself, and one that was not measured is not shown.
func TestPartsAtTheInstrument(t *testing.T) {
	l := ledgerOf(t, "f4-bowl", machine.FaultSpec{ID: "valve-clearance-wide", Severity: 1, Mode: "ex"})
	blade := func(mm float64) string {
		do(t, l, act("blade", mm))
		return l.Instrument().Heard
	}
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "valve-clearance"}, act("set", map[string]any{"id": "at_tdc", "value": true}))
	assert.Equal(t, "stops", blade(0.30), "the inlet is sound")
	o, _, ok := l.Clone().Read()
	require.True(t, ok)
	assert.NotContains(t, o.Parts, "ex", "it has not been held to the exhaust")
	do(t, l, act("part", "ex"))
	assert.True(t, l.Instrument().Ready, "what was read stays read")
	assert.Empty(t, l.Instrument().Heard)
	assert.Equal(t, "goes", blade(0.30), "the exhaust is wide")
	require.NotNil(t, l.Apply(act("part", "moon")))
	refused := func(parts map[string]ledger.EventPart) *problem.Problem {
		return l.Clone().Apply(ledger.Event{Kind: ledger.EventEntry, Reading: "0.15", Unit: "mm", Judged: "within", Parts: parts})
	}
	for path, bad := range map[string]map[string]ledger.EventPart{
		"parts": {"moon": {Word: "full"}}, "parts.ex.word": {"ex": {Word: "wide"}}, "parts.ex.judged": {"ex": {Reading: "0.4", Unit: "mm"}},
		"parts.ex.unit": {"ex": {Reading: "0.4", Unit: "psi", Judged: "above"}}, "parts.ex.reading": {"ex": {Reading: "x", Unit: "mm", Judged: "above"}},
	} {
		p := refused(bad)
		require.NotNil(t, p, path)
		assert.Equal(t, path, p.Path)
	}
	do(t, l, ledger.Event{Kind: ledger.EventEntry, Reading: "0.15", Unit: "mm", Judged: "within",
		Parts: map[string]ledger.EventPart{"ex": {Reading: "0.45", Unit: "mm", Judged: "above"}}})
	line := l.Lines()[len(l.Lines())-1]
	assert.InDelta(t, 0.45, line.Entry.Parts["ex"].Value, 1e-9)
	assert.InDelta(t, 0.45, *line.Obs.Parts["ex"].Value, 0.06)
	assert.Equal(t, "above", *line.Obs.Parts["ex"].Band)

	// Of a look the parts alone may be written down, and a told one tells them itself.
	l = ledgerOf(t, "f4-bowl", machine.FaultSpec{ID: "plug-cracked", Severity: 0.5})
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "plug-look"},
		ledger.Event{Kind: ledger.EventEntry, Parts: map[string]ledger.EventPart{"insulator": {Word: "cracked"}}},
		ledger.Event{Kind: ledger.EventTake, Test: "look-switches"})
	lines := l.Lines()
	assert.True(t, lines[0].Entry.Left)
	assert.Equal(t, "cracked", lines[0].Entry.Parts["insulator"].Word)
	assert.Equal(t, "open", lines[1].Entry.Parts["valve"].Word)
}
