package diagnosis

import (
	"context"
	"math/rand/v2"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/parallel"
	"zanjero/core/setup"
)

// ReliabilityBin is how often a fault was there when it was given a probability
// in some range.
type ReliabilityBin struct {
	Low, High float64
	// Given is the mean probability, Right the share that was there, of N.
	Given, Right float64
	N            int
}

// reliabilityEdges are the ranges that beliefs are counted in.
var reliabilityEdges = []float64{0, 0.02, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 1}

// Tester of a reliability run: a start attempt, then tests at random.
const (
	reliabilityTests   = 7
	reliabilityMinutes = 8 // no test that takes longer
)

// Reliability plays jobs with a competent tester who picks tests at random, and
// counts how often what was believed of a fault after each test was so. Truths
// are drawn from the population's own priors, severities from their density;
// machines and instruments have their noise. The same seed plays the same jobs.
// Source: reliability diagrams, Murphy & Winkler 1977.
func Reliability(ctx context.Context, j Job, jobs int, seed uint64) ([]ReliabilityBin, error) {
	pop, err := NewPopulation(ctx, j, nil)
	if err != nil {
		return nil, err
	}
	var tests []catalogue.Test
	for _, t := range catalogue.Standard().TestsOf(j.Family, j.Sheet) {
		if !t.Long && t.Minutes <= reliabilityMinutes && t.ID != "ask-history" {
			tests = append(tests, t)
		}
	}
	type tally struct{ given, right, n float64 }
	played := make([][]tally, jobs)
	errs := make([]error, jobs)
	err = parallel.For(ctx, jobs, func(i int) {
		r := rand.New(rand.NewPCG(seed, uint64(i)))
		truth := pop.draw(r)
		s, err := bench.NewSession(j.Family, j.Sheet, j.Ambient, truth, bench.Options{Technique: bench.Ideal, Noise: true, Seed: r.Uint64(), FuelML: -1})
		if err != nil {
			errs[i] = err
			return
		}
		b := pop.Start(AsIfValid)
		played[i] = make([]tally, len(reliabilityEdges)-1)
		for k := range 1 + reliabilityTests {
			id := "start-attempt"
			if k > 0 {
				id = tests[r.IntN(len(tests))].ID
			}
			s.PutBackFor(id)
			if errs[i] = b.Observe(ctx, asSeen(s.Test(id, nil))); errs[i] != nil {
				return
			}
			believed := b.Report().Fault
			for _, f := range catalogue.Standard().FaultsOf(j.Family, j.Sheet) {
				p := believed[f.ID]
				bin := 0
				for bin < len(reliabilityEdges)-2 && p >= reliabilityEdges[bin+1] {
					bin++
				}
				t := &played[i][bin]
				t.given, t.n = t.given+p, t.n+1
				if len(truth) > 0 && truth[0].ID == f.ID {
					t.right++
				}
			}
		}
	})
	if err != nil {
		return nil, err
	}
	out := make([]ReliabilityBin, len(reliabilityEdges)-1)
	for i := range out {
		out[i].Low, out[i].High = reliabilityEdges[i], reliabilityEdges[i+1]
		for k := range played {
			if errs[k] != nil {
				return nil, errs[k]
			}
			t := played[k][i]
			out[i].Given, out[i].Right, out[i].N = out[i].Given+t.given, out[i].Right+t.right, out[i].N+int(t.n)
		}
		if n := float64(out[i].N); n > 0 {
			out[i].Given, out[i].Right = out[i].Given/n, out[i].Right/n
		}
	}
	return out, nil
}

// draw picks a truth from the priors, its severity from the density.
func (p *Population) draw(r *rand.Rand) []machine.FaultSpec {
	sum := 0.0
	for i := range p.hyps {
		sum += p.hyps[i].prior
	}
	u := r.Float64() * sum
	for i := range p.hyps {
		h := &p.hyps[i]
		if u -= h.prior; u >= 0 || len(h.faults) != 1 {
			continue
		}
		spec := machine.FaultSpec{ID: h.faults[0], Mode: h.axes[0].mode, Severity: 1}
		if h.axes[0].graded {
			spec.Severity = severityAt(0.03 + 0.97*r.Float64())
		}
		return []machine.FaultSpec{spec}
	}
	return nil
}

// asSeen is a test by a master, read and written down as it was shown.
func asSeen(o bench.Observation) ledger.Line {
	e := &ledger.Entry{Unit: o.Unit, Over: o.Over()}
	if o.Word != nil {
		e.Word = *o.Word
	}
	if o.Value != nil {
		e.Value = *o.Value
	}
	return ledger.Line{Kind: ledger.EventTake, Test: o.Test, Setup: setup.Settings{}, Master: true, Obs: &o, Entry: e}
}
