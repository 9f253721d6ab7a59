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
		test := catalogue.Standard().Test(id)
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
		switch test.Instrument {
		case "":
			if test.Named() {
				do(ledger.Event{Kind: ledger.EventEntry, Word: *l.Latest().Obs.Word})
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
			act("blade", 0.30)
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
			for !l.Instrument().Ready {
				act("turn", 0.125)
			}
		case "meter":
			act("null", nil)
			act("range", map[string]string{"coil-primary": "200 Ω", "coil-secondary": "20 kΩ", "kill-continuity": "200 Ω"}[id])
			act("touch", nil)
			if l.Instrument().Display == "OL" {
				act("range", "200 kΩ")
			}
		case "cup":
			act("run", 60.0)
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
		entry := ledger.Event{Kind: ledger.EventEntry, Reading: text, Unit: test.Unit}
		switch {
		case o.Band != nil:
			entry.Judged = *o.Band
		case test.Figure != "": // nothing to judge, but something is said
			entry.Judged = "below"
		}
		do(entry)
	}
}
