package diagnosis

import (
	"context"
	"fmt"
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/problem"
	"zanjero/core/sim"
)

// Believed is what a ledger from outside makes of an engine.
type Believed struct {
	Posterior map[string]float64 `json:"posterior"`
	Reach     map[string]float64 `json:"reach"`
	Lateral   map[string]float64 `json:"lateral"`
	Healthy   float64            `json:"healthy"`
	Entropy   float64            `json:"entropy_bits"`
	Credible  []BelievedSet      `json:"credible_set"`
	Ambiguity [][]string         `json:"ambiguity_groups"`
	// Explanations are the smallest sets of faults of which each sign of trouble
	// has one that would give it; whether they are likely is another matter.
	Explanations [][]string `json:"explanations"`
	// Repairs are kinds of work by how likely each alone would make it whole:
	// faults that the same work mends need not be told apart.
	Repairs  []RepairGroup     `json:"repair_groups"`
	NextBest []Worth           `json:"next_best"`
	Warnings []problem.Problem `json:"warnings"`
}

// BelievedSet is a set of faults with its probability.
type BelievedSet struct {
	Faults []string `json:"faults"`
	P      float64  `json:"p"`
}

// unexplained is how much of a step's likelihood may come from gross errors
// alone before it is said that nothing explains it.
const unexplained = 3.0

// Believe weighs the whole population by a ledger, pairs of faults among it and
// sets of three where two at once have come to
// matter, every test taken as a master would have made it.
func Believe(ctx context.Context, in *sim.Seen, by Weights) (*Believed, error) {
	job := Job{Family: in.Family, Sheet: in.Sheet, Ambient: in.Ambient}
	var conflicts [][]string
	run := func(sets [][]string) (*Belief, []Report, []problem.Problem, error) {
		p, err := NewPopulation(ctx, job, sets)
		if err != nil {
			return nil, nil, nil, err
		}
		b, seen, odd := p.Start(AsIfValid), []Report{}, []problem.Problem{}
		b.eager = true // conflicts ask every fault about every step
		conflicts = nil
		for i, st := range in.Lines {
			before, was := b.evidence(), b.logliks()
			if err := b.Observe(ctx, st); err != nil {
				return nil, nil, nil, err
			}
			if st.Kind == ledger.EventRepair {
				conflicts = nil // what was wrong may no longer be
			}
			if st.Obs != nil {
				seen = append(seen, b.Report())
				if c := b.conflict(was); c != nil && len(conflicts) < mostConflicts {
					conflicts = append(conflicts, c)
				}
				if b.onlyGross(st, b.evidence()-before) {
					odd = append(odd, *problem.New(fmt.Sprintf("events[%d]", i), "diagnosis.taken-for-a-slip", "test_id", st.Test))
				}
			}
		}
		return b, seen, odd, nil
	}
	_, seen, _, err := run(nil)
	if err != nil {
		return nil, err
	}
	explanations := HittingSets(conflicts, mostAtOnce)
	sets := Pairs(in.Family, in.Sheet, seen)
	for _, set := range explanations { // what no single fault explains is weighed as well
		if known := func(o []string) bool { return slices.Equal(o, set) }; len(set) > 1 && CanBeTogether(set) && !slices.ContainsFunc(sets, known) {
			sets = append(sets, set)
		}
	}
	b, _, odd, err := run(sets)
	if err != nil {
		return nil, err
	}
	r := b.Report()
	if triples := Triples(in.Family, in.Sheet, seen, r); triples != nil {
		if b, _, odd, err = run(append(sets, triples...)); err != nil {
			return nil, err
		}
		r = b.Report()
	}
	// What the evidence as a whole holds under a hundredth explains nothing.
	explanations = slices.DeleteFunc(explanations, func(set []string) bool {
		return slices.ContainsFunc(set, func(f string) bool { return r.Fault[f] < 0.01 })
	})
	ambiguity, err := b.Ambiguity(ctx)
	if err != nil {
		return nil, err
	}
	best, err := b.Rank(ctx, by)
	if err != nil {
		return nil, err
	}
	out := &Believed{Posterior: r.Fault, Reach: r.Reach, Lateral: r.Lateral, Healthy: r.Healthy, Entropy: r.Bits, Credible: []BelievedSet{},
		Ambiguity: ambiguity, Explanations: explanations, Repairs: RepairGroups(in.Family,
			r), NextBest: best, Warnings: append(append([]problem.Problem{}, in.Warnings...), odd...)}
	for _, s := range r.Credible {
		out.Credible = append(out.Credible, BelievedSet{append([]string{}, s.Faults...), s.P})
	}
	return out, nil
}

// At most so many signs of trouble are explained by at most so many faults at
// once.
const (
	mostConflicts = 8
	mostAtOnce    = 3
)

// logliks copies what is laid on every point.
func (b *Belief) logliks() [][]float64 {
	out := make([][]float64, len(b.hyps))
	for i := range b.hyps {
		out[i] = slices.Clone(b.hyps[i].loglik)
	}
	return out
}

// conflict is what a step says must be wrong: the single faults under which
// what was seen is likely, where a sound engine would hardly have shown it; nil
// where it would.
func (b *Belief) conflict(was [][]float64) []string {
	const hardly, likely = 20, 5
	best, sound := math.Inf(-1), math.Inf(-1)
	rise := make([]float64, len(b.hyps))
	for i := range b.hyps {
		rise[i] = math.Inf(-1)
		for k, l := range b.hyps[i].loglik {
			if i < len(was) && k < len(was[i]) {
				rise[i] = max(rise[i], l-was[i][k])
			}
		}
		if best = max(best, rise[i]); len(b.hyps[i].faults) == 0 {
			sound = max(sound, rise[i])
		}
	}
	if sound > best-math.Log(hardly) {
		return nil
	}
	out := []string{}
	for i, r := range rise {
		if f := b.hyps[i].faults; len(f) == 1 && r > best-math.Log(likely) && !slices.Contains(out, f[0]) {
			out = append(out, f[0])
		}
	}
	return out
}

// evidence is the logarithm of how likely what was seen is under the whole
// population.
func (b *Belief) evidence() float64 {
	top := math.Inf(-1)
	for i := range b.hyps {
		for _, l := range b.hyps[i].loglik {
			top = max(top, l)
		}
	}
	sum := 0.0
	for i := range b.hyps {
		h := &b.hyps[i]
		share, all := 0.0, 0.0
		for k, l := range h.loglik {
			w := h.axes.share(k)
			share += w
			all += w * math.Exp(l-top)
		}
		sum += h.prior * all / share
	}
	return top + math.Log(sum)
}

// onlyGross says that a step is no likelier than a slip would make it.
func (b *Belief) onlyGross(st ledger.Line, logP float64) bool {
	test := catalogue.Standard().Test(st.Test)
	floor := grossError / 2
	switch {
	case st.Entry != nil && len(st.Entry.Parts) > 0:
		return false // several readings, of which one may be a slip
	case len(test.Words) > 0:
		floor = grossWord / float64(len(test.Words))
	case st.Entry != nil && !st.Entry.Over:
		acc := instrument.AccuracyOf(st.Test)
		floor = grossError * acc.Step / acc.Most
	}
	return logP < math.Log(unexplained*floor)
}
