// Command benchmark measures the figures that the design sets and prints them
// as a table and as JSON. It asserts nothing: speed is for reading, not for
// failing a build.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"testing"
	"time"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/setup"
	"zanjero/internal/heavy"
)

// row is one figure beside its target.
type row struct {
	Work   string  `json:"work"`
	Value  float64 `json:"value"`
	Unit   string  `json:"unit"`
	Target string  `json:"target"`
	Note   string  `json:"note,omitempty"`
}

func main() {
	out := flag.String("json", "", "also write the figures to this file")
	apprentices := flag.Int("apprentices", 50, "apprentices recording at once")
	flag.Parse()
	heavy.SetMemory() // as the server does
	rows := core()
	size, err := firstLoad()
	check(err)
	rows = append(rows, size)
	recording, err := record(*apprentices)
	check(err)
	rows = append(rows, recording...)
	for _, more := range []func() ([]row, error){judged, authored, busy, office} {
		r, err := more()
		check(err)
		rows = append(rows, r...)
	}
	for _, r := range rows {
		fmt.Printf("%-58s %10.3f %-8s %-28s %s\n", r.Work, r.Value, r.Unit, r.Target, r.Note)
	}
	if *out != "" {
		raw, err := json.MarshalIndent(rows, "", "  ")
		check(err)
		check(os.WriteFile(*out, append(raw, '\n'), 0o644))
	}
}

func check(err error) {
	if err != nil {
		fmt.Fprintln(os.Stderr, "benchmark:", err)
		os.Exit(1)
	}
}

var (
	sheet = catalogue.Standard().Family("f4-bowl").Sheet
	day   = machine.Ambient{TemperatureC: 20}
)

func core() []row {
	m, err := machine.New("f4-bowl", sheet, machine.Build{}, day, []machine.FaultSpec{{ID: "main-jet-blocked", Severity: 0.4}})
	check(err)
	quick := testing.Benchmark(func(b *testing.B) {
		b.ReportAllocs()
		for b.Loop() {
			m.SparkReachMM(750, 0)
			m.GaugeStep(0, 750, 0)
		}
	})
	half := testing.Benchmark(func(b *testing.B) {
		for b.Loop() {
			c := m.Clone()
			c.Long(machine.Attempt{Choke: 1, Throttle: 0.3, Pulls: 10}, machine.Draws{}, 30, machine.LoadTest)
		}
	})
	rows := []row{
		{"two quick tests read from the machine", float64(quick.NsPerOp()) / 1e3, "µs", "≤ 2 each, no allocation",
			fmt.Sprintf("%d allocations", quick.AllocsPerOp())},
		{"start attempt and simulated half hour", float64(half.NsPerOp()) / 1e6, "ms", "≤ 0.5 for the half hour", ""},
	}
	rows = append(rows, growth()...)
	rows = append(rows, beliefs()...)
	return append(rows, procedures()...)
}

// growth is what the last event of a long life costs beside the first, and
// what a machine with six faults costs beside a sound one.
func growth() []row {
	life := func(events int) float64 {
		return float64(testing.Benchmark(func(b *testing.B) {
			for b.Loop() {
				s, err := bench.NewSession("f4-bowl", sheet, day, nil, bench.Options{Technique: bench.Ideal, Noise: true, Seed: 1, FuelML: -1})
				check(err)
				for range events / 4 {
					s.Test("spark-gap", nil)
					s.Control(setup.Settings{"choke": 0.5})
					s.Test("look-oil", nil)
					s.Wait(1)
				}
			}
		}).NsPerOp()) / float64(events)
	}
	six := []machine.FaultSpec{{ID: "filter-clogged", Severity: 0.3}, {ID: "gap-wide", Severity: 0.2}, {ID: "rings-worn", Severity: 0.2},
		{ID: "main-jet-blocked", Severity: 0.2}, {ID: "carb-gasket-leak", Severity: 0.1}, {ID: "bowl-gasket-weep", Severity: 0.5}}
	half := func(faults []machine.FaultSpec) float64 {
		m, err := machine.New("f4-bowl", sheet, machine.Build{}, day, faults)
		check(err)
		return float64(testing.Benchmark(func(b *testing.B) {
			for b.Loop() {
				c := m.Clone()
				c.Long(machine.Attempt{Choke: 1, Throttle: 0.3, Pulls: 10}, machine.Draws{}, 30, machine.LoadTest)
			}
		}).NsPerOp())
	}
	short, sound, faulty := life(40), half(nil), half(six)
	return []row{
		{"an event in a life of 4000 against one in a life of 40", life(4000) / short, "ratio", "about 1", fmt.Sprintf("%.1f µs each in the short one", short/1e3)},
		{"half hour with six faults", faulty / 1e6, "ms", "≤ 0.5", fmt.Sprintf("%.1f times a sound machine's", faulty/sound)},
	}
}

// beliefs times one more event on a warm ledger, and a cold ledger of thirty.
func beliefs() []row {
	pop, err := diagnosis.NewPopulation(context.Background(), diagnosis.Job{Family: "f4-bowl", Sheet: sheet, Ambient: day}, diagnosis.Pairs("f4-bowl", sheet, nil))
	check(err)
	hyps, nodes := pop.Size()
	l := workedLedger()
	step := func(test string) ledger.Line {
		for _, st := range l.Lines() {
			if st.Test == test {
				return st
			}
		}
		panic("no step " + test)
	}
	var rows []row
	for _, c := range []struct{ name, test, target string }{
		{"quick test", "spark-gap", "≤ 10"}, {"start", "start-attempt", "≤ 30"}, {"long run", "run-long", "≤ 60"},
	} {
		r := testing.Benchmark(func(b *testing.B) {
			for b.Loop() {
				b.StopTimer()
				bel := pop.Start(diagnosis.Recorded)
				b.StartTimer()
				check(bel.Observe(context.Background(), step(c.test)))
			}
		})
		rows = append(rows, row{"belief, one more event on a warm ledger: " + c.name, float64(r.NsPerOp()) / 1e6, "ms", c.target, ""})
	}
	began := time.Now()
	bel := pop.Start(diagnosis.Recorded)
	for _, st := range l.Lines() {
		check(bel.Observe(context.Background(), st))
	}
	bel.Report()
	cold := time.Since(began)
	var quick []string
	for _, t := range catalogue.Standard().TestsOf("f4-bowl", sheet) {
		if t.Kind != catalogue.KindRun {
			quick = append(quick, t.ID)
		}
	}
	p := newPace()
	rank := func(only ...string) (work, clock float64) {
		const times, between = 5, 10
		var took time.Duration
		for range times {
			p.look(between)
			began := time.Now()
			_, err := bel.Rank(context.Background(), diagnosis.Weights{}, only...)
			check(err)
			took += time.Since(began) / times
			p.look(between)
		}
		return ms(took) * p.share(), ms(took)
	}
	for _, c := range []struct {
		of, target string
		only       []string
	}{{"the quick tests", "≤ 40 of work", quick}, {"every test", "≤ 400 of work", nil}} {
		work, clock := rank(c.only...)
		rows = append(rows, row{"next-best ranking of " + c.of + " after that ledger", work, "ms", c.target, fmt.Sprintf("%.0f ms by the clock", clock)})
	}
	return append(rows, row{fmt.Sprintf("belief from a cold ledger of %d steps", len(l.Lines())), float64(cold.Microseconds()) / 1e3, "ms", "≤ 500",
		fmt.Sprintf("%d sets of faults, %d machines", hyps, nodes)})
}

// workedLedger is an attempt with four starts and three long runs among thirty steps.
func workedLedger() *ledger.Ledger {
	s, err := bench.NewSession("f4-bowl", sheet, day, []machine.FaultSpec{{ID: "cap-vent-blocked", Severity: 0.9}},
		bench.Options{Technique: bench.AsSet, Noise: true, Seed: 3, FuelML: -1})
	check(err)
	l := ledger.New(s)
	do := func(e ledger.Event) {
		if p := l.Apply(e); p != nil {
			check(p)
		}
	}
	for round := range 4 {
		do(ledger.Event{Kind: "control", Control: setup.Settings{"choke": 1.0}})
		do(ledger.Event{Kind: "take", Test: "start-attempt"})
		if round < 3 {
			do(ledger.Event{Kind: "control", Control: setup.Settings{"choke": 0.0}})
			do(ledger.Event{Kind: "take", Test: "run-long", Setup: setup.Settings{"minutes": 12.0, "load": "test"}})
		}
		do(ledger.Event{Kind: "wait", Minutes: 30})
		do(ledger.Event{Kind: "take", Test: "spark-gap"})
		do(ledger.Event{Kind: "act", Act: "earth", Value: "good"})
		do(ledger.Event{Kind: "act", Act: "pull", Value: "brisk"})
		do(ledger.Event{Kind: "entry", Reading: "4", Unit: "mm", Judged: "below"})
		do(ledger.Event{Kind: "cover", Cover: "filter", Off: round%2 == 0})
	}
	return l
}

// benchFault is what the recorded jobs hide; recording does not depend on it.
var benchFault = machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.6}
