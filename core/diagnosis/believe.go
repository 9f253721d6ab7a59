package diagnosis

import (
	"fmt"
	"math"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
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
	NextBest  []Worth            `json:"next_best"`
	Warnings  []string           `json:"warnings"`
}

// BelievedSet is a set of faults with its probability.
type BelievedSet struct {
	Faults []string `json:"faults"`
	P      float64  `json:"p"`
}

// unexplained is how much of a step's likelihood may come from gross errors
// alone before it is said that nothing explains it.
const unexplained = 3.0

// Believe weighs the whole population by a ledger, pairs of faults among it,
// every test taken as a master would have made it.
func Believe(in *bench.Seen) (*Believed, error) {
	job := Job{Family: in.Family, Sheet: in.Sheet, Ambient: in.Ambient}
	run := func(pairs [][2]string) (*Belief, []Report, []string, error) {
		p, err := NewPopulation(job, pairs)
		if err != nil {
			return nil, nil, nil, err
		}
		b, seen, odd := p.Start(AsIfValid), []Report{}, []string{}
		for i, st := range in.Steps {
			before := b.evidence()
			b.Observe(st)
			if st.Obs != nil {
				seen = append(seen, b.Report())
				if b.onlyGross(st, b.evidence()-before) {
					odd = append(odd, fmt.Sprintf("events[%d]: no fault that is known here, nor two, explains what %s showed; it is taken for a slip", i, st.Test))
				}
			}
		}
		return b, seen, odd, nil
	}
	_, seen, _, err := run(nil)
	if err != nil {
		return nil, err
	}
	b, _, odd, err := run(Pairs(in.Family, in.Sheet, seen))
	if err != nil {
		return nil, err
	}
	r := b.Report()
	out := &Believed{Posterior: r.Fault, Reach: r.Reach, Lateral: r.Lateral, Healthy: r.Healthy, Entropy: r.Bits, Credible: []BelievedSet{},
		Ambiguity: b.Ambiguity(), NextBest: b.Rank(), Warnings: append(append([]string{}, in.Warnings...), odd...)}
	for _, s := range r.Credible {
		out.Credible = append(out.Credible, BelievedSet{append([]string{}, s.Faults...), s.P})
	}
	return out, nil
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
		pb, share, all := h.axes[1].points(), 0.0, 0.0
		for k, l := range h.loglik {
			w := edge(k/pb, h.axes[0].points()) * edge(k%pb, pb)
			share += w
			all += w * math.Exp(l-top)
		}
		sum += h.prior * all / share
	}
	return top + math.Log(sum)
}

// onlyGross says that a step is no likelier than a slip would make it.
func (b *Belief) onlyGross(st bench.Step, logP float64) bool {
	test := catalogue.Standard().Test(st.Test)
	floor := grossError / 2
	switch {
	case len(test.Words) > 0:
		floor = grossError / float64(len(test.Words))
	case st.Entry != nil && !st.Entry.Over:
		acc := bench.AccuracyOf(st.Test)
		floor = grossError * acc.Step / acc.Max
	}
	return logP < math.Log(unexplained*floor)
}
