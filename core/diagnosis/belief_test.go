package diagnosis

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

var job = Job{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20}}

func population(t testing.TB) *Population {
	p, err := NewPopulation(context.Background(), job, allOf("main-jet-blocked", "cap-vent-blocked", "coil-secondary-open", "rings-worn", "switch-off"))
	require.NoError(t, err)
	return p
}

// allOf lists all pairs of some faults.
func allOf(ids ...string) (out [][]string) {
	for i := range ids {
		for k := range i {
			out = append(out, []string{ids[k], ids[i]})
		}
	}
	return out
}

func ledgerOf(t testing.TB, seed uint64, faults ...machine.FaultSpec) *ledger.Ledger {
	s, err := bench.NewSession(job.Family, job.Sheet, job.Ambient, faults, bench.Options{Technique: bench.AsSet, Noise: true, Seed: seed, FuelML: -1})
	require.NoError(t, err)
	return ledger.New(s)
}

func believe(t testing.TB, p *Population, v View, l *ledger.Ledger) Report {
	b := p.Start(v)
	for _, st := range l.Lines() {
		observe(t, b, st)
	}
	return b.Report()
}

// Source: Eddy's mammography example (Eddy 1982): 1 % prior, 80 % hits, 9.6 %
// false alarms give 7.8 %.
func TestEddy(t *testing.T) {
	b := &Belief{hyps: []candidate{
		{hypothesis: hypothesis{faults: []string{"rings-worn"}, prior: 0.01}, loglik: []float64{math.Log(0.80)}},
		{hypothesis: hypothesis{prior: 0.99}, loglik: []float64{math.Log(0.096)}},
	}}
	assert.InDelta(t, 0.078, b.Report().Fault["rings-worn"], 0.0005)
}

// A competent tester's readings find each fault of the catalogue.
func TestEvidenceFindsTheFault(t *testing.T) {
	p := population(t)
	for _, c := range []struct {
		fault machine.FaultSpec
		tests []string
	}{
		{machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.55}, []string{"start-attempt", "dose-intake", "spark-gap", "bowl-look", "jet-look"}},
		{machine.FaultSpec{ID: "main-jet-blocked", Severity: 1}, []string{"look-switches", "start-attempt", "plug-look", "fuel-flow", "bowl-look", "jet-look"}},
		{machine.FaultSpec{ID: "cap-vent-blocked", Severity: 0.97}, []string{"start-attempt", "run-long", "fuel-flow", "vent-blow"}},
		{machine.FaultSpec{ID: "coil-secondary-open"}, []string{"start-attempt", "look-switches", "spark-gap", "coil-secondary"}},
		{machine.FaultSpec{ID: "rings-worn", Severity: 0.72}, []string{"start-attempt", "leak-down", "compression-dry", "compression-wet"}},
		{machine.FaultSpec{ID: "switch-off"}, []string{"start-attempt", "look-switches", "spark-gap"}},
		{machine.FaultSpec{ID: "key-sheared", Severity: 0.4, Mode: "retarded"}, []string{"start-attempt", "spark-gap", "compression-dry", "key-look"}},
		{machine.FaultSpec{ID: "filter-clogged", Severity: 0.85}, []string{"start-attempt", "look-filter", "run-filter-off"}},
	} {
		l := ledgerOf(t, 11, c.fault)
		ledgertest.Work(t, l, c.tests...)
		for _, v := range []View{Shown, Recorded, AsIfValid} {
			r := believe(t, p, v, l)
			least := 0.9
			if c.fault.ID == "key-sheared" {
				least = 0.5 // a look, against a start that several faults share
			}
			assert.Greater(t, r.Fault[c.fault.ID], least, "%s, view %d: %v", c.fault.ID, v, r.Credible)
		}
	}
}

// Flow measured with the line off says nothing of the cap vent; a good spark
// clears the coil but no look at ohms does.
func TestTestsTellOnlyWhatTheyCan(t *testing.T) {
	p := population(t)
	prior := p.Start(Recorded).Report()
	l := ledgerOf(t, 3)
	ledgertest.Work(t, l, "fuel-flow")
	r := believe(t, p, Recorded, l)
	assert.InDelta(t, prior.Fault["cap-vent-blocked"], r.Fault["cap-vent-blocked"], 0.01)
	assert.InDelta(t, prior.Fault["main-jet-blocked"], r.Fault["main-jet-blocked"], 0.02)
	ledgertest.Work(t, l, "spark-gap")
	r = believe(t, p, Recorded, l)
	assert.Less(t, r.Fault["coil-secondary-open"], 0.005)
}

// A reading taken with the throttle shut misleads whoever takes it as valid,
// and not the belief that knows how it was taken.
func TestSetupErrorMisleadsOnlyTheUnwary(t *testing.T) {
	p := population(t)
	l := ledgerOf(t, 5, machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.6})
	for _, e := range []ledger.Event{
		{Kind: "control", Control: setup.Settings{"throttle": 0.0, "choke": 1.0, "plug_lead": "earthed"}},
		{Kind: "take", Test: "compression-dry"}, {Kind: "act", Act: "zero"},
		{Kind: "act", Act: "pull"}, {Kind: "act", Act: "pull"}, {Kind: "act", Act: "pull"}, {Kind: "act", Act: "pull"},
	} {
		require.Nil(t, l.Apply(e))
	}
	o, _, ok := l.Clone().Read()
	require.True(t, ok)
	require.Nil(t, l.Apply(ledger.Event{Kind: "entry", Reading: toText(math.Round(*o.Value)), Unit: "psi", Judged: "below"}))
	prior := p.Start(Recorded).Report().Lateral["compression"]
	assert.InDelta(t, prior, believe(t, p, Recorded, l).Lateral["compression"], 0.2)
	assert.Greater(t, believe(t, p, AsIfValid, l).Lateral["compression"], 0.8)
}

// Measuring ten times is not ten proofs: repeats share their bias.
func TestRepeatsAreNotIndependent(t *testing.T) {
	p := population(t)
	once, often := ledgerOf(t, 8, machine.FaultSpec{ID: "rings-worn", Severity: 0.2}), ledgerOf(t, 8, machine.FaultSpec{ID: "rings-worn", Severity: 0.2})
	ledgertest.Work(t, once, "compression-dry")
	ledgertest.Work(t, often, "compression-dry", "compression-dry", "compression-dry", "compression-dry", "compression-dry")
	a, b := believe(t, p, Recorded, once), believe(t, p, Recorded, often)
	assert.InDelta(t, a.Severity["rings-worn"], b.Severity["rings-worn"], 0.06)
}

// A spark that is there at one test and gone at the next is a wire that
// touches now and then, not a coil.
func TestSparkThatComesAndGoes(t *testing.T) {
	p := population(t)
	for seed := range uint64(40) {
		l := ledgerOf(t, seed, machine.FaultSpec{ID: "kill-wire-earthed", Severity: 0.35})
		ledgertest.Work(t, l, "spark-gap", "spark-gap", "spark-gap", "spark-gap")
		there, gone := 0, 0
		for _, st := range l.Lines() {
			if st.Obs != nil && st.Entry != nil {
				if v, _ := st.Entry.In("mm"); v > 5 {
					there++
				} else {
					gone++
				}
			}
		}
		if there < 1 || gone < 1 {
			continue
		}
		r := believe(t, p, Recorded, l)
		assert.Greater(t, r.Fault["kill-wire-earthed"], 0.8, "%d there, %d gone: %v", there, gone, r.Credible)
		return
	}
	t.Fatal("no seed of forty has a spark that comes and goes")
}

// Beliefs are probabilities, independent of the order of tests that do not
// move the machine, and the same each time.
func TestBeliefProperties(t *testing.T) {
	p := population(t)
	quick := []string{"look-switches", "spark-gap", "fuel-flow", "coil-secondary", "coil-primary"}
	r := rand.New(rand.NewPCG(9, 9))
	for range 4 {
		f := machine.FaultSpec{ID: []string{"coil-secondary-open", "rings-worn", "switch-off"}[r.IntN(3)], Severity: r.Float64()}
		forward, back := ledgerOf(t, 4, f), ledgerOf(t, 4, f)
		ledgertest.Work(t, forward, quick...)
		for i := len(quick) - 1; i >= 0; i-- {
			ledgertest.Work(t, back, quick[i])
		}
		a, b := believe(t, p, Recorded, forward), believe(t, p, Recorded, back)
		for id, v := range a.Fault {
			assert.InDelta(t, v, b.Fault[id], 0.02, id)
			assert.True(t, v >= 0 && v <= 1)
		}
		assert.Equal(t, a, believe(t, p, Recorded, forward))
		assert.GreaterOrEqual(t, a.Bits, 0.0)
	}
}

func BenchmarkBeliefQuick(b *testing.B) { benchmarkStep(b, "spark-gap") }
func BenchmarkBeliefStart(b *testing.B) { benchmarkStep(b, "start-attempt") }
func BenchmarkBeliefLong(b *testing.B)  { benchmarkStep(b, "run-long") }

func benchmarkStep(b *testing.B, test string) {
	p := population(b)
	l := ledgerOf(b, 1, machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.5})
	ledgertest.Work(b, l, test)
	for b.Loop() {
		b.StopTimer()
		bel := p.Start(Recorded)
		b.StartTimer()
		for _, st := range l.Lines() {
			observe(b, bel, st)
		}
	}
}
