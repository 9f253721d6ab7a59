package foresee

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// aSetup sets some of what a test and a machine can be set to, at random.
func aSetup(r *rand.Rand, controls []string) setup.Settings {
	out := setup.Settings{}
	for id, spec := range setup.InstrumentSpecs {
		if r.IntN(4) == 0 {
			out[id] = aValue(r, spec)
		}
	}
	for _, id := range controls {
		if r.IntN(8) == 0 {
			out[id] = aValue(r, setup.ControlSpecs[id])
		}
	}
	return out
}

func aValue(r *rand.Rand, spec setup.Spec) any {
	switch {
	case spec.YesNo:
		return r.IntN(2) == 0
	case spec.Words != nil:
		return spec.Words[r.IntN(len(spec.Words))]
	case spec.Whole:
		return spec.Low + float64(r.IntN(int(spec.High-spec.Low)+1))
	}
	return spec.Low + (spec.High-spec.Low)*r.Float64()
}

// A run that two beliefs make on the same machine is made once for both, and tells and
// leaves each of them what it would have by itself: on every family, with any fault,
// set up well or in any other way.
func TestAKnownRunIsTheSameRun(t *testing.T) {
	cat, again := catalogue.Standard(), 0
	for n, fam := range cat.Families {
		r := rand.New(rand.NewPCG(uint64(n), 31))
		faults, controls := cat.FaultsOf(fam.ID, fam.Sheet), setup.ControlIDs(&cat.Families[n], fam.Sheet)
		tests := slices.DeleteFunc(cat.TestsOf(fam.ID, fam.Sheet), func(x catalogue.Test) bool { return x.Kind != catalogue.KindRun })
		for range 120 {
			spec := machine.FaultSpec{ID: faults[r.IntN(len(faults))].ID, Severity: 0.9}
			opts := bench.Options{Technique: bench.AsSet, FuelML: -1}
			s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{spec}, opts)
			require.NoError(t, err)
			var alone, together [2]*bench.Session
			for k := range 2 {
				alone[k], together[k] = s.Clone(), s.Clone()
			}
			var known Run
			for range 4 {
				test := &tests[r.IntN(len(tests))]
				line := ledger.Line{Kind: ledger.EventTake, Test: test.ID}
				if r.IntN(2) == 0 {
					line.Setup = aSetup(r, controls)
				}
				for k := range 2 {
					was := known.before
					want := Replay(alone[k], line, test, k == 1, nil)
					require.Equal(t, want, Replay(together[k], line, test, k == 1, &known), "%s %v %v", fam.ID, spec, line)
					a, b := alone[k].Machine(), together[k].Machine()
					require.Equal(t, a.State(), b.State(), "%s %v %v", fam.ID, spec, line)
					if k == 1 && was.Same(&known.before) {
						again++
					}
				}
			}
		}
	}
	assert.Greater(t, again, 100, "runs that were not made again")
}
