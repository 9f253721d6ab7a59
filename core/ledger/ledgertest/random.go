package ledgertest

import (
	"maps"
	"math/rand/v2"
	"slices"
	"strconv"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/setup"
)

// Any gives some value that a setting can have.
func Any(r *rand.Rand, s setup.Spec) any {
	switch {
	case s.YesNo:
		return r.IntN(2) == 0
	case s.Words != nil:
		return s.Words[r.IntN(len(s.Words))]
	case s.Whole:
		return s.Low + float64(r.IntN(int(s.High-s.Low)+1))
	}
	return s.Low + r.Float64()*(s.High-s.Low)
}

// Random gives an event of any kind that could be sent to a ledger. One in ten
// is such that it must be refused; others may be, by how the bench stands.
func Random(r *rand.Rand, l *ledger.Ledger) ledger.Event {
	cat, fam, sheet := catalogue.Standard(), l.Family(), l.Machine().Sheet()
	pick := func(ids []string) string { return ids[r.IntN(len(ids))] }
	if r.IntN(10) == 0 {
		return wrong[r.IntN(len(wrong))]
	}
	if in := l.InHand(); in != "" && r.IntN(4) > 0 {
		return withInstrument(r, l, cat.Test(in))
	}
	switch r.IntN(12) {
	case 0:
		id := pick(setup.ControlIDs(fam, sheet))
		return ledger.Event{Kind: ledger.EventControl, Control: setup.Settings{id: Any(r, setup.ControlSpecs[id])}}
	case 1:
		return ledger.Event{Kind: ledger.EventMark, Reach: cat.ReachesOf(fam.ID)[r.IntN(len(cat.ReachesOf(fam.ID)))].ID,
			Mark: pick([]string{"", ledger.MarkClear, ledger.MarkSuspect, ledger.MarkCondemned})}
	case 2:
		return ledger.Event{Kind: ledger.EventCover, Cover: pick(fam.Covers), Off: r.IntN(2) == 0}
	case 3:
		return ledger.Event{Kind: ledger.EventWait, Minutes: 1 + 40*r.Float64()}
	case 4:
		acts := cat.ActionsOf(fam.ID)
		return ledger.Event{Kind: ledger.EventDo, Do: acts[r.IntN(len(acts))].ID}
	case 5:
		a := cat.Repairs.Acts[r.IntN(len(cat.Repairs.Acts))]
		reaches := cat.ReachesOf(fam.ID)
		reach := reaches[r.IntN(len(reaches))].ID
		if a.Improvised() {
			reach = a.Reach
		}
		return ledger.Event{Kind: ledger.EventRepair, Repair: a.ID, Reach: reach, Grade: pick([]string{"", bench.GradeMaker, bench.GradeCopy})}
	case 6:
		if st := l.Latest(); st != nil && len(cat.Test(st.Test).Words) > 0 {
			return ledger.Event{Kind: ledger.EventEntry, Word: pick(cat.Test(st.Test).Words)}
		}
	}
	tests := cat.TestsOf(fam.ID, sheet)
	e := ledger.Event{Kind: ledger.EventTake, Test: tests[r.IntN(len(tests))].ID}
	if r.IntN(3) == 0 {
		id := pick(slices.Sorted(maps.Keys(setup.InstrumentSpecs)))
		e.Setup = setup.Settings{id: Any(r, setup.InstrumentSpecs[id])}
	}
	return e
}

// withInstrument uses the instrument in hand: sets it, works it, writes down.
func withInstrument(r *rand.Rand, l *ledger.Ledger, t *catalogue.Test) ledger.Event {
	setups := catalogue.Standard().SetupsOf(t.ID)
	switch n := r.IntN(8); {
	case n == 0 && len(setups) > 0:
		id := setups[r.IntN(len(setups))].ID
		return ledger.Event{Kind: ledger.EventAct, Act: "set", Value: map[string]any{"id": id, "value": Any(r, setup.InstrumentSpecs[id])}}
	case n <= 2 && l.Instrument().Ready:
		o, _, _ := l.Clone().Read()
		e := ledger.Event{Kind: ledger.EventEntry, Reading: ledger.OverLimit, Unit: t.Unit}
		if o.Value != nil {
			e.Reading = strconv.FormatFloat(*o.Value, 'f', -1, 64)
		}
		if o.Band != nil {
			e.Judged = []string{"below", "within", "above"}[r.IntN(3)]
		}
		return e
	}
	acts := bench.ActsWith(t.Instrument)
	e := ledger.Event{Kind: ledger.EventAct, Act: acts[r.IntN(len(acts))]}
	switch e.Act {
	case "gap":
		e.Value = 1 + 19*r.Float64()
	case "oil":
		e.Value = 10 * r.Float64()
	case "blade":
		e.Value = bench.Blades[r.IntN(len(bench.Blades))]
	case "squeeze":
		e.Value = 1 + 24*r.Float64()
	case "turn":
		if t.Instrument == "screw" {
			e.Value = 0.125 * float64(1+r.IntN(8))
		}
	}
	return e
}

// wrong are events that no bench takes.
var wrong = []ledger.Event{
	{Kind: "sing"}, {Kind: ledger.EventTake, Test: "xray"}, {Kind: ledger.EventControl}, {Kind: ledger.EventWait, Minutes: -1},
	{Kind: ledger.EventAct, Act: "polish"}, {Kind: ledger.EventAct, Act: "set", Value: map[string]any{"id": "zeroed", "value": "often"}},
	{Kind: ledger.EventAct, Act: "gap", Value: 900.0}, {Kind: ledger.EventAct, Act: "pull", Value: []any{1.0}}, {Kind: ledger.EventAct, Act: "oil"},
	{Kind: ledger.EventEntry, Reading: "sixty", Unit: "psi", Judged: "below"}, {Kind: ledger.EventEntry, Word: "purple"},
	{Kind: ledger.EventMark, Reach: "jets", Mark: "maybe"}, {Kind: ledger.EventCover, Cover: "bonnet"},
	{Kind: ledger.EventRepair, Repair: "polish", Reach: "jets"},
	{Kind: ledger.EventDo, Do: "dance"},
}
