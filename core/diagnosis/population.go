// Package diagnosis weighs hypotheses about what is hidden in a machine
// against a ledger of what was done and seen: belief by likelihood replay on
// the one machine model, with severity integrated.
package diagnosis

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/parallel"
	"zanjero/core/setup"
)

// Shares of the prior that belong to a healthy machine, and to two and three
// faults at once (common practice; sizes chosen by us).
const (
	healthyShare = 0.02
	pairShare    = 0.075
	tripleShare  = 0.005
)

// hypothesis is a set of faults with its severities laid out on a grid.
type hypothesis struct {
	faults []string
	prior  float64
	axes   grid
	nodes  []*bench.Session
}

// Population is every hypothesis about one engine before anything is seen. It is
// not changed once it is made, and may be used from any goroutine.
type Population struct {
	job     Job
	family  string
	sheet   catalogue.Sheet
	singles float64 // the sum of the base rates
	hyps    []hypothesis
	// base are the hypotheses of single faults and a sound machine, commons how common
	// complaints are among them; populations made from one another share both.
	base    []hypothesis
	commons *commonness
}

// Job is what is known of the engine before it reaches the bench.
type Job struct {
	Family  string
	Sheet   catalogue.Sheet
	Ambient machine.Ambient
	// Catalogue has a yard's own minutes and base rates; nil for the standard one.
	Catalogue *catalogue.Catalogue
	// FuelML is what is in the tank, 0 for three quarters of it.
	FuelML float64
	// Found are controls that are known to stand otherwise than in the
	// catalogue.
	Found setup.Settings
}

// Figures is the catalogue that the job goes by.
func (j *Job) Figures() *catalogue.Catalogue { return cmp.Or(j.Catalogue, catalogue.Standard()) }

// NewPopulation lays out healthy, every fault of the family in each of its
// modes, and the given sets of two or three faults, with priors from base rates.
// It fails on a sheet that the model refuses, and when the context ends.
func NewPopulation(ctx context.Context, j Job, sets [][]string) (*Population, error) {
	faults := j.Figures().FaultsOf(j.Family, j.Sheet)
	p := &Population{job: j, family: j.Family, sheet: j.Sheet, commons: &commonness{by: map[string]float64{}}}
	for i := range faults {
		p.singles += faults[i].Rate(j.Family)
	}
	p.hyps = append(p.hyps, hypothesis{prior: healthyShare})
	for i := range faults {
		f := &faults[i]
		modes := f.Modes
		if len(modes) == 0 {
			modes = []string{""}
		}
		for _, mode := range modes {
			p.hyps = append(p.hyps, hypothesis{
				faults: []string{f.ID}, prior: (1 - healthyShare - pairShare - tripleShare) * f.Rate(j.Family) / p.singles / float64(len(modes)),
				axes: grid{there(f.ID, mode)},
			})
		}
	}
	if err := p.build(ctx, 0); err != nil {
		return nil, err
	}
	p.base = slices.Clip(p.hyps)
	return p.With(ctx, sets)
}

// With gives the population with some sets of two or three faults beside what
// it has. What it has is shared, so this costs no more than the sets.
func (p *Population) With(ctx context.Context, sets [][]string) (*Population, error) {
	if len(sets) == 0 {
		return p, nil
	}
	return p.beside(ctx, slices.Clone(p.hyps), sets)
}

// Only gives a population of some sets of two or three faults and nothing else,
// with the priors that they have beside this one.
func (p *Population) Only(ctx context.Context, sets [][]string) (*Population, error) {
	return p.beside(ctx, nil, sets)
}

// beside lays sets of faults out behind some hypotheses that are there.
func (p *Population) beside(ctx context.Context, hyps []hypothesis, sets [][]string) (*Population, error) {
	cat := p.job.Figures()
	out := *p
	out.hyps = hyps
	for _, set := range sets {
		h := hypothesis{faults: set, prior: pairShare * 2}
		lay := p.job.setGrid(cat, set)
		if len(set) == 3 {
			h.prior = tripleShare * 6 // orders of the three
		}
		for _, id := range set {
			f := cat.Fault(id)
			h.prior *= f.Rate(p.job.Family) / p.singles
			a, err := lay(f)
			if err != nil {
				return nil, err
			}
			h.axes = append(h.axes, a)
		}
		out.hyps = append(out.hyps, h)
	}
	if err := out.build(ctx, len(hyps)); err != nil {
		return nil, err
	}
	return &out, nil
}

// build makes the machines of the hypotheses from a place on.
func (p *Population) build(ctx context.Context, from int) error {
	errs := make([]error, len(p.hyps))
	err := parallel.For(ctx, len(p.hyps)-from, func(i int) { errs[from+i] = p.hyps[from+i].build(p.job) })
	return errors.Join(append(errs, err)...)
}

// Bytes is about how much memory it holds, for whoever keeps some of them.
func (p *Population) Bytes() int64 {
	_, machines := p.Size()
	return int64(machines) * bench.SessionBytes
}

// setGrid is how the severities of a set are laid out: the more graded faults, the
// coarser.
func (j *Job) setGrid(cat *catalogue.Catalogue, set []string) func(*catalogue.Fault) (axis, error) {
	n := 0
	for _, id := range set {
		if cat.Fault(id).Graded {
			n++
		}
	}
	nodes := pairNodes
	if n > 2 {
		nodes = tripleNodes
	}
	return func(f *catalogue.Fault) (axis, error) {
		switch {
		case !f.Graded:
			return there(f.ID, ""), nil
		case n == 1:
			return j.single(f.ID, "")
		}
		return graded(f.ID, "", evenly(nodes), func(float64) int { return pairBetween }), nil
	}
}

// How wide the search for sets of faults is.
const (
	mostInPairs = 6    // faults that pairs are made of
	beam        = 3    // pairs that are widened to three
	pairMatters = 0.05 // belief in two at once from which three are thought of
)

// likely lists the faults of an engine by how high they stood at some moment.
func likely(family string, sheet catalogue.Sheet, seen []Report) []string {
	best := map[string]float64{}
	for _, r := range seen {
		for id, p := range r.Fault {
			best[id] = max(best[id], p)
		}
	}
	ids := make([]string, 0, len(best))
	for _, f := range catalogue.Standard().FaultsOf(family, sheet) {
		ids = append(ids, f.ID)
	}
	slices.SortStableFunc(ids, func(a, b string) int { return cmp.Compare(best[b], best[a]) })
	return ids[:min(len(ids), mostInPairs)]
}

// Pairs proposes pairs of faults that may explain what was seen: all pairs, that
// can be in one machine, of the faults that stood highest at some moment of
// one-fault beliefs. It is the same search whatever is hidden.
func Pairs(family string, sheet catalogue.Sheet, seen []Report) [][]string {
	ids := likely(family, sheet, seen)
	var out [][]string
	for i := range ids {
		for k := range i {
			if set := []string{ids[k], ids[i]}; CanBeTogether(set) {
				out = append(out, set)
			}
		}
	}
	return out
}

// Triples widens a search to three faults at once, where two at once have come
// to matter: the likeliest pairs of a belief, each with every fault that stood
// high.
func Triples(family string, sheet catalogue.Sheet, seen []Report, now Report) [][]string {
	var pairs []Set
	mass := 0.0
	for _, s := range now.Sets {
		if len(s.Faults) == 2 {
			mass += s.P
			pairs = append(pairs, s)
		}
	}
	if mass < pairMatters {
		return nil
	}
	var out [][]string
	for _, s := range pairs[:min(len(pairs), beam)] {
		for _, id := range likely(family, sheet, seen) {
			set := append(slices.Clone(s.Faults), id)
			known := slices.ContainsFunc(out, func(o []string) bool {
				return !slices.ContainsFunc(o, func(f string) bool { return !slices.Contains(set, f) })
			})
			if !slices.Contains(s.Faults, id) && !known && CanBeTogether(set) {
				out = append(out, set)
			}
		}
	}
	return out
}

// CanBeTogether says that faults can be in one machine at once.
func CanBeTogether(set []string) bool {
	var specs []machine.FaultSpec
	for _, id := range set {
		specs = append(specs, machine.FaultSpec{ID: id, Severity: 1})
	}
	return machine.CheckTogether("", specs) == nil
}

// build makes the machines of a hypothesis. The axis of a fault that is alone is
// laid out here, where many are at once.
func (h *hypothesis) build(j Job) error {
	if len(h.faults) == 1 && catalogue.Standard().Fault(h.faults[0]).Graded {
		a, err := j.single(h.faults[0], h.axes[0].mode)
		if err != nil {
			return err
		}
		h.axes = grid{a}
	}
	for node := range h.axes.nodeCount() {
		var specs []machine.FaultSpec
		for k, at := range h.axes.nodeAt(node) {
			specs = append(specs, machine.FaultSpec{ID: h.axes[k].fault, Mode: h.axes[k].mode, Severity: h.axes[k].severity(at)})
		}
		s, err := j.session(specs)
		if err != nil {
			return err
		}
		h.nodes = append(h.nodes, s)
	}
	return nil
}

// Size is the number of hypotheses and of machines replayed for them.
func (p *Population) Size() (hypotheses, machines int) {
	for i := range p.hyps {
		machines += len(p.hyps[i].nodes)
	}
	return len(p.hyps), machines
}
