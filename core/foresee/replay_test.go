package foresee

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/machine"
)

// A machine replayed from what a master tested tells what the bench told, and comes
// to stand as the engine stands, when what is assumed of it is true: on every family,
// with any fault, in any order of tests. A few stand on an edge that the fixed draws
// do not try.
func TestReplayTellsWhatTheBenchTold(t *testing.T) {
	cat := catalogue.Standard()
	steps, odd := 0, map[string][]string{}
	for _, fam := range cat.Families {
		faults, tests := cat.FaultsOf(fam.ID, fam.Sheet), cat.TestsOf(fam.ID, fam.Sheet)
		for seed := range uint64(250) {
			r := rand.New(rand.NewPCG(seed, 4))
			f := faults[r.IntN(len(faults))]
			spec := machine.FaultSpec{ID: f.ID, Severity: 1}
			if len(f.Modes) > 0 {
				spec.Mode = f.Modes[r.IntN(len(f.Modes))]
			}
			if f.Graded {
				spec.Severity = 0.1 + 0.9*r.Float64()
			}
			on := func(technique bench.Technique) *bench.Session {
				s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{spec}, bench.Options{Technique: technique, FuelML: -1})
				require.NoError(t, err)
				return s
			}
			truth, assumed := on(bench.Ideal), on(bench.AsSet)
			done := fmt.Sprint(fam.ID, " ", spec)
			for range 5 {
				id := tests[r.IntN(len(tests))].ID
				truth.PutBackFor(id)
				assumed.PutBackFor(id)
				o := truth.Test(id, nil)
				p := Replay(assumed, ledger.Line{Kind: ledger.EventTake, Test: id, Master: true, Obs: &o}, assumed.TestOf(id), true, nil)
				done += " " + id
				steps++
				if !foretold(p, &o) {
					odd[id] = append(odd[id], done)
				}
				a, b := truth.Machine().State(), assumed.Machine().State()
				if math.Abs(a.EngineC-b.EngineC) > 8 || math.Abs(a.BowlML-b.BowlML) > 5 || math.Abs(a.FuelML-b.FuelML) > 60 {
					odd["state"] = append(odd["state"], done)
				}
			}
		}
	}
	all := 0
	for id, at := range odd {
		all += len(at)
		assert.LessOrEqual(t, len(at), 2, "%s: %q", id, at)
	}
	assert.LessOrEqual(t, all, steps/500, "%q", odd)
}

// foretold says that what was shown had a chance worth the name.
func foretold(p *Prediction, o *bench.Observation) bool {
	switch {
	case o.Word != nil:
		for _, w := range p.Words {
			if w.Word == *o.Word && w.P > 0.15 {
				return true
			}
		}
		return false
	case o.Value != nil && p.Touch == 0:
		return math.Abs(*o.Value-p.Value) <= 0.05*math.Abs(p.Value)+instrument.AccuracyOf(o.Test).Step
	}
	return true
}
