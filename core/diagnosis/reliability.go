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

// Tester of a reliability run: the complaint is tried, then tests at random.
const (
	reliabilityTests   = 7
	reliabilityMinutes = 8 // no test that takes longer
)

// Reliability plays jobs with a competent tester who picks tests at random, and
// counts how often what was believed of a fault after each test was so. Each job has
// a complaint, hot or cold, or in one of a dozen none. Truths are drawn from the
// population's own priors and, as owners complain, by what the machine does;
// severities from their density; machines and instruments have their noise. The same
// seed plays the same jobs.
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
	begun := []*Belief{pop.Start(AsIfValid)}
	var made []madeOf
	for _, c := range ComplaintsOf(j.Family, j.Sheet) {
		common, err := pop.common(ctx, &c.Claim)
		if err != nil {
			return nil, err
		}
		if common < oftenMade {
			continue
		}
		made = append(made, madeOf{c.Claim, common})
		b := pop.Start(AsIfValid)
		if err := b.Complain(ctx, c.Claim); err != nil {
			return nil, err
		}
		begun = append(begun, b)
	}
	type tally struct{ given, right, n float64 }
	played := make([][]tally, jobs)
	errs := make([]error, jobs)
	err = parallel.For(ctx, jobs, func(i int) {
		r := rand.New(rand.NewPCG(seed, uint64(i)))
		start := r.IntN(len(begun))
		first, own := "start-attempt", setup.Settings(nil)
		truth, s, err := pop.drawn(r, made, start)
		if err != nil {
			errs[i] = err
			return
		}
		if start > 0 {
			first, own = made[start-1].claim.Test, made[start-1].claim.Setup
		}
		b := begun[start].Clone()
		played[i] = make([]tally, len(reliabilityEdges)-1)
		for k := range 1 + reliabilityTests {
			id, how := first, own
			if k > 0 {
				id, how = tests[r.IntN(len(tests))].ID, nil
			}
			for _, cover := range s.InTheWay(id) {
				s.Cover(cover, false)
				if errs[i] = b.Observe(ctx, ledger.Line{Kind: ledger.EventCover, Cover: cover}); errs[i] != nil {
					return
				}
			}
			if errs[i] = b.Observe(ctx, asSeen(s.Test(id, how), how)); errs[i] != nil {
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

// madeOf is a complaint that is made, with how common it is; oftenMade from when it is made
// often enough for machines to be drawn until one is complained of.
type madeOf struct {
	claim  Claim
	common float64
}

const oftenMade = 0.02

// drawn is a truth and its machine: from the priors alone, or, as an owner complains,
// by what each does (the start is the complaint's place, from 1). Machines are drawn
// until one is complained of.
func (p *Population) drawn(r *rand.Rand, made []madeOf, start int) ([]machine.FaultSpec, *bench.Session, error) {
	for {
		truth := p.draw(r)
		s, err := bench.NewSession(p.job.Family, p.job.Sheet, p.job.Ambient, truth,
			bench.Options{Technique: bench.Ideal, Noise: true, Seed: r.Uint64(), FuelML: -1})
		if err != nil || start == 0 {
			return truth, s, err
		}
		if c := &made[start-1]; r.Float64() < complained(c.claim.Of(s.AsMaster()), c.common) {
			return truth, s, nil
		}
	}
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
			spec.Severity = shareSeverity(r.Float64())
		}
		return []machine.FaultSpec{spec}
	}
	return nil
}

// asSeen is a test by a master, read and written down as it was shown.
func asSeen(o bench.Observation, own setup.Settings) ledger.Line {
	e := &ledger.Entry{Unit: o.Unit, Over: o.Over()}
	if o.Word != nil {
		e.Word = *o.Word
	}
	if o.Value != nil {
		e.Value = *o.Value
	}
	for id, p := range o.Parts {
		part := ledger.Entry{Unit: p.Unit, Over: p.Over}
		if p.Value != nil {
			part.Value = *p.Value
		}
		if p.Word != nil {
			part.Word = *p.Word
		}
		if e.Parts == nil {
			e.Parts = map[string]ledger.Entry{}
		}
		e.Parts[id] = part
	}
	return ledger.Line{Kind: ledger.EventTake, Test: o.Test, Setup: own, Master: true, Obs: &o, Entry: e}
}
