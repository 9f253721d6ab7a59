package shop

import (
	"context"
	"math"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/parallel"
	"zanjero/core/scenario"
)

// Fitted is what the model makes of an engine with a fault in it.
type Fitted struct {
	// Severity whose readings lie nearest to what was read.
	Severity float64 `json:"severity"`
	// Explains: no reading lies further from the model's than apart spreads. Otherwise
	// Unexplained are those that do.
	Explains    bool       `json:"explains"`
	Unexplained []Expected `json:"unexplained"`
}

// Expected is a reading beside what the model would have expected.
type Expected struct {
	Test  string        `json:"test"`
	Read  string        `json:"read"`
	Model scenario.Told `json:"model"`
	// Apart is how many spreads of build and instrument they lie apart, 0 for words.
	Apart float64 `json:"apart"`
}

const (
	// severities are so many steps of a fault's severity that are tried.
	severities = 20
	// alike is by how many squared spreads two severities may differ that are told apart by
	// nothing.
	alike = 1e-6
	// apart is how many spreads a reading may lie from the model's.
	apart = 3.0
	// otherWord is what a word that the model would not have said counts for, in squared
	// spreads.
	otherWord = 9.0
)

// Fit finds the severity at which the model reads most nearly as an engine was read, by
// least squares in spreads of build and instrument, every test set up as a master would
// and without noise. Where the readings tell no severity from another, it is the one nearest
// to the fault's own. A fault that has no severity has 1. It fails on a machine that cannot
// be, and when the context ends.
func Fit(ctx context.Context, family string, sheet catalogue.Sheet, fault machine.FaultSpec, read []ledger.HandReading) (Fitted, error) {
	n := 1
	if catalogue.Standard().Fault(fault.ID).Graded {
		n = severities
	}
	costs, rows, errs := make([]float64, n), make([][]Expected, n), make([]error, n)
	at := func(i int) float64 { return float64(i+1) / float64(n) }
	err := parallel.For(ctx, n, func(i int) {
		f := fault
		f.Severity = at(i)
		costs[i], rows[i], errs[i] = cost(family, sheet, f, read)
	})
	if err != nil {
		return Fitted{}, err
	}
	best := 0
	for i := range n {
		if errs[i] != nil {
			return Fitted{}, errs[i]
		}
		nearer := math.Abs(at(i)-fault.Severity) < math.Abs(at(best)-fault.Severity)
		if less := costs[i] - costs[best]; less < -alike || (less < alike && nearer) {
			best = i
		}
	}
	out := Fitted{Severity: at(best), Unexplained: []Expected{}}
	for _, x := range rows[best] {
		if x.Apart > apart || x.Apart == 0 {
			out.Unexplained = append(out.Unexplained, x)
		}
	}
	out.Explains = len(out.Unexplained) == 0
	return out, nil
}

// cost is how far one machine of the model lies from what was read, and the tests that differ.
func cost(family string, sheet catalogue.Sheet, f machine.FaultSpec, read []ledger.HandReading) (sum float64, off []Expected, err error) {
	s, err := bench.NewSession(family, sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{f}, bench.Options{Technique: bench.Ideal, FuelML: -1})
	if err != nil {
		return 0, nil, err
	}
	for i := range read {
		t := s.TestOf(read[i].Test)
		o := s.Clone().Test(t.ID, nil)
		x := Expected{Test: t.ID, Read: Written(&read[i]), Model: scenario.Tell(o)}
		if t.Kind != catalogue.KindNumber {
			if o.Word == nil || *o.Word != read[i].Word {
				sum, off = sum+otherWord, append(off, x)
			}
			continue
		}
		v, over := value(&read[i], t.Unit)
		switch {
		case over != o.Over():
			sum, off = sum+otherWord, append(off, x)
		case !over:
			z := math.Abs(v-*o.Value) / max(instrument.AccuracyOf(t.ID).Spread(*o.Value)*read[i].Gauge.Widens(), read[i].Within)
			sum += z * z
			if x.Apart = z; z > apart {
				off = append(off, x)
			}
		}
	}
	return sum, off, nil
}
