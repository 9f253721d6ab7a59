// Package benchtest has a competent tester work a bench, for tests of what
// stands on the ledger.
package benchtest

import (
	"math"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
)

// Work has a competent tester do some tests by their ids: set up, read, write
// down what the instrument shows.
func Work(t testing.TB, l *bench.Ledger, tests ...string) {
	do := func(e bench.Event) {
		p := l.Apply(e)
		if p != nil {
			require.NoError(t, p)
		}
	}
	for _, id := range tests {
		test := catalogue.Standard().Test(id)
		warm := l.Machine().State().EngineC > 40
		set := bench.Settings{"choke": 1.0, "throttle": 0.3, "plug_lead": "on", "kill_lead": "on"}
		if warm || id == "dose-intake" {
			set["choke"] = 0.0
		}
		switch test.Instrument {
		case "compression-gauge":
			set["choke"], set["throttle"], set["plug_lead"] = 0.0, 1.0, "earthed"
		case "meter":
			set["kill_lead"] = "off"
		}
		do(bench.Event{Kind: bench.EventControl, Control: set})
		take := bench.Event{Kind: bench.EventTake, Test: id}
		if id == "run-long" {
			take.Setup = bench.Settings{"minutes": 12.0, "load": "test"}
		}
		do(take)
		act := func(a string, v any) { do(bench.Event{Kind: bench.EventAct, Act: a, Value: v}) }
		switch test.Instrument {
		case "":
			if bench.Drawn(id) {
				do(bench.Event{Kind: bench.EventEntry, Word: *l.Latest().Obs.Word})
			}
			continue
		case "compression-gauge":
			act("zero", nil)
			for range 6 {
				act("pull", nil)
			}
		case "spark-tester":
			act("earth", "good")
			for gap := 4.0; gap <= 20; gap += 0.5 {
				act("gap", gap)
				act("pull", "brisk")
				if l.Instrument().Spark == "none" {
					break
				}
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
		text := bench.OverLimit
		if o.Value != nil {
			text = strconv.FormatFloat(math.Round(*o.Value*100)/100, 'f', -1, 64)
		}
		do(bench.Event{Kind: bench.EventEntry, Reading: text, Unit: test.Unit, Judged: *o.Band})
	}
}
