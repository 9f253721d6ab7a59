// Package ledgertest has a competent tester work a bench, for tests of what
// stands on the ledger.
package ledgertest

import (
	"maps"
	"math"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/setup"
)

// Right is how a competent tester goes about a test, by set-up.
var Right = map[string]any{
	"earth": "good", "tester": "magneto", "shade": true, "temperature_noted": true, "pulses_per_rev": 1.0, "magnet_under": true, "piston_stop": true,
	"at_tdc": true, "crank_held": true, "supply_psi": 80.0, "ports_blanked": true, "ends_closed": true, "wetted": true, "upside_down": true,
	"water_measured": true, "substitute": "proved",
}

// Work has a competent tester do some tests by their ids: set up, read, write
// down what the instrument shows.
func Work(t testing.TB, l *ledger.Ledger, tests ...string) { WorkAnd(t, l, nil, tests...) }

// WorkAnd is Work, and shows each instrument as it stands before its reading is
// written down.
func WorkAnd(t testing.TB, l *ledger.Ledger, see func(in *bench.Instrument, o bench.Observation), tests ...string) {
	do := func(e ledger.Event) {
		p := l.Apply(e)
		if p != nil {
			require.NoError(t, p)
		}
	}
	for _, id := range tests {
		test := l.TestOf(id)
		warm := l.Machine().State().EngineC > 40
		set := setup.Settings{"choke": 1.0, "throttle": 0.3, "plug_lead": "on", "kill_lead": "on"}
		if warm || id == "dose-intake" {
			set["choke"] = 0.0
		}
		switch test.Instrument {
		case "compression-gauge":
			set["choke"], set["throttle"], set["plug_lead"] = 0.0, 1.0, "earthed"
		case "meter":
			set["kill_lead"] = "off"
		}
		if id == "spark-kill-off" {
			set["kill_lead"] = "off"
		}
		if id == "tdc-magnet" || id == "leak-down" {
			set["plug_lead"] = "earthed"
		}
		m := l.Machine()
		set["bar"] = "held"
		if test.Cranks && m.Primes() && m.State().EngineC < 60 {
			set["primer"] = 3.0
		}
		controls := catalogue.Standard().ControlsOf(m.Family(), m.Sheet())
		maps.DeleteFunc(set, func(id string, _ any) bool {
			return !slices.ContainsFunc(controls, func(c catalogue.Control) bool { return c.ID == id })
		})
		do(ledger.Event{Kind: ledger.EventControl, Control: set})
		take := ledger.Event{Kind: ledger.EventTake, Test: id}
		if id == "run-long" {
			take.Setup = setup.Settings{"minutes": 12.0, "load": "test"}
		}
		do(take)
		act := func(a string, v any) { do(ledger.Event{Kind: ledger.EventAct, Act: a, Value: v}) }
		if test.Kind == catalogue.KindNumber {
			for _, su := range catalogue.Standard().SetupsOf(id) {
				if v, ok := Right[su.ID]; ok {
					act("set", map[string]any{"id": su.ID, "value": v})
				}
			}
		}
		again := func() {} // what is done for each part that the instrument is held to
		switch test.Instrument {
		case "":
			if test.Named() {
				o := l.Latest().Obs
				do(ledger.Event{Kind: ledger.EventEntry, Word: *o.Word, Parts: written(test, o)})
			}
			continue
		case "compression-gauge":
			act("zero", nil)
			if id == "compression-wet" {
				act("oil", l.Machine().WetOilML())
			}
			for range 6 {
				act("pull", nil)
			}
		case "spark-tester":
			for gap := 4.0; gap <= 20; gap += 0.5 {
				act("gap", gap)
				act("pull", "brisk")
				if l.Instrument().Spark == "none" {
					break
				}
			}
		case "leak-down-pair":
			act("open", nil)
		case "tachometer":
			act("start", nil)
		case "stopwatch":
			act("let-go", nil)
		case "gauge", "feeler":
			again = func() { act("blade", 0.30) }
			again()
		case "degree-mark":
			act("turn", nil)
		case "torque-wrench":
			act("pull", nil)
		case "steel-rule":
			act("lay", nil)
		case "jar":
			act("shake", nil)
		case "line-gauge", "crankcase-gauge":
			act("pump", nil)
			act("hold", nil)
		case "pop-off-gauge":
			for !l.Instrument().Ready {
				act("squeeze", 5.0)
			}
		case "screw":
			again = func() {
				for l.Instrument().Heard != "seats" {
					act("turn", 0.125)
				}
			}
			again()
		case "meter":
			act("null", nil)
			act("range", map[string]string{"coil-primary": "200 Ω", "coil-secondary": "20 kΩ", "kill-continuity": "200 Ω"}[id])
			act("touch", nil)
			if l.Instrument().Display == "OL" {
				act("range", "200 kΩ")
			}
			again = func() { act("touch", nil) }
		case "cup":
			act("run", 60.0)
		}
		for i := range test.Parts {
			if p := &test.Parts[i]; i > 0 && p.IsNumber() {
				act(bench.ActPart, p.ID)
				again()
			}
		}
		if len(test.Parts) > 0 && l.Instrument().Part != "" {
			act(bench.ActPart, test.Parts[0].ID)
			again()
		}
		o, _, ok := l.Clone().Read()
		require.True(t, ok, id)
		if see != nil {
			see(l.Instrument(), o)
		}
		text := ledger.OverLimit
		if o.Value != nil {
			text = strconv.FormatFloat(math.Round(*o.Value*100)/100, 'f', -1, 64)
		}
		entry := ledger.Event{Kind: ledger.EventEntry, Reading: text, Unit: test.Unit, Parts: written(test, &o)}
		switch {
		case o.Band != nil:
			entry.Judged = *o.Band
		case test.Figure != "": // nothing to judge, but something is said
			entry.Judged = "below"
		}
		do(entry)
	}
}

// written is what a competent tester writes down of the other parts of a reading.
func written(t *catalogue.Test, o *bench.Observation) map[string]ledger.EventPart {
	out := map[string]ledger.EventPart{}
	for i := range t.Parts {
		p := &t.Parts[i]
		seen, ok := o.Parts[p.ID]
		switch {
		case !ok || i == 0:
		case seen.Word != nil:
			out[p.ID] = ledger.EventPart{Word: *seen.Word}
		default:
			part := ledger.EventPart{Reading: ledger.OverLimit, Unit: p.Unit}
			if seen.Value != nil {
				part.Reading = strconv.FormatFloat(math.Round(*seen.Value*100)/100, 'f', -1, 64)
			}
			if seen.Band != nil {
				part.Judged = *seen.Band
			}
			out[p.ID] = part
		}
	}
	if len(out) == 0 {
		return nil
	}
	return out
}
