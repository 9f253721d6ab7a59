// Package diagnosis weighs hypotheses about what is hidden in a machine
// against a ledger of what was done and seen: belief by likelihood replay on
// the one machine model, with severity integrated.
package diagnosis

import (
	"cmp"
	"math"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// Shares of the prior that belong to a healthy machine and to two faults at
// once (common practice; sizes chosen by us).
const (
	healthyShare = 0.02
	pairShare    = 0.08
)

// Nodes of severity at which machines are replayed, and the points between two
// nodes at which readings are interpolated. With two graded faults the grid is
// coarser in each.
const (
	singleNodes, singleBetween = 9, 4
	pairNodes, pairBetween     = 5, 2
)

// severityAt turns a share u of the prior density, 0 to 1, into a severity.
// Severities near 1 are the commoner: a slight fault brings nobody to a shop.
func severityAt(u float64) float64 { return 1 - math.Pow(1-u, 1.5) }

// axis is one graded fault of a hypothesis: nodes replayed and points weighed.
type axis struct {
	fault, mode    string
	nodes, between int
	graded         bool
}

func (a axis) points() int {
	if !a.graded {
		return 1
	}
	return (a.nodes-1)*a.between + 1
}

func (a axis) nodeCount() int {
	if !a.graded {
		return 1
	}
	return a.nodes
}

// at gives, for a point, the node below it and the share of the node above.
func (a axis) at(point int) (node int, share float64) {
	if !a.graded {
		return 0, 0
	}
	node = min(point/a.between, a.nodes-2)
	return node, float64(point-node*a.between) / float64(a.between)
}

func (a axis) severity(node int) float64 {
	if !a.graded {
		return 1
	}
	// The lowest node stands just above nothing, so that it is still this fault.
	return severityAt(0.03 + 0.97*float64(node)/float64(a.nodes-1))
}

// hypothesis is a set of faults with its severities laid out on a grid.
type hypothesis struct {
	faults []string
	prior  float64
	axes   [2]axis
	nodes  []*bench.Session // row-major over the axes' nodes
}

func (h *hypothesis) points() int { return h.axes[0].points() * h.axes[1].points() }

// Population is every hypothesis about one engine before anything is seen.
type Population struct {
	family string
	sheet  catalogue.Sheet
	hyps   []hypothesis
}

// Job is what is known of the engine before it reaches the bench.
type Job struct {
	Family  string
	Sheet   catalogue.Sheet
	Ambient machine.Ambient
	// Rates are base rates by fault; nil for the catalogue's.
	Rates map[string]float64
	// Found are controls that are known to stand otherwise than in the
	// catalogue.
	Found bench.Settings
}

// NewPopulation lays out healthy, every fault of the family in each of its
// modes, and the given pairs of faults, with priors from base rates.
func NewPopulation(j Job, pairs [][2]string) (*Population, error) {
	cat := catalogue.Standard()
	faults := cat.FaultsOf(j.Family, j.Sheet)
	rate := func(f *catalogue.Fault) float64 {
		if r, ok := j.Rates[f.ID]; ok {
			return r
		}
		return f.Rate(j.Family)
	}
	singles := 0.0
	for i := range faults {
		singles += rate(&faults[i])
	}
	p := &Population{family: j.Family, sheet: j.Sheet}
	none := axis{}
	p.hyps = append(p.hyps, hypothesis{prior: healthyShare, axes: [2]axis{none, none}})
	for i := range faults {
		f := &faults[i]
		modes := f.Modes
		if len(modes) == 0 {
			modes = []string{""}
		}
		for _, mode := range modes {
			p.hyps = append(p.hyps, hypothesis{
				faults: []string{f.ID}, prior: (1 - healthyShare - pairShare) * rate(f) / singles / float64(len(modes)),
				axes: [2]axis{{f.ID, mode, singleNodes, singleBetween, f.Graded}, none},
			})
		}
	}
	for _, pair := range pairs {
		f, g := cat.Fault(pair[0]), cat.Fault(pair[1])
		n, b := pairNodes, pairBetween
		if !f.Graded || !g.Graded {
			n, b = singleNodes, singleBetween
		}
		p.hyps = append(p.hyps, hypothesis{
			faults: []string{f.ID, g.ID}, prior: 2 * pairShare * rate(f) * rate(g) / (singles * singles),
			axes: [2]axis{{f.ID, "", n, b, f.Graded}, {g.ID, "", n, b, g.Graded}},
		})
	}
	for i := range p.hyps {
		if err := p.hyps[i].build(j); err != nil {
			return nil, err
		}
	}
	return p, nil
}

// mostInPairs is how many faults are kept when pairs are looked for.
const mostInPairs = 6

// Pairs proposes pairs of faults that may explain what was seen: all pairs of
// the faults that stood highest at some moment of one-fault beliefs. It is the
// same search whatever is hidden.
func Pairs(family string, sheet catalogue.Sheet, seen []Report) [][2]string {
	cat := catalogue.Standard()
	best := map[string]float64{}
	for _, r := range seen {
		for id, p := range r.Fault {
			best[id] = max(best[id], p)
		}
	}
	ids := make([]string, 0, len(best))
	for _, f := range cat.FaultsOf(family, sheet) {
		ids = append(ids, f.ID)
	}
	slices.SortStableFunc(ids, func(a, b string) int { return cmp.Compare(best[b], best[a]) })
	ids = ids[:min(len(ids), mostInPairs)]
	var out [][2]string
	for i := range ids {
		for k := range i {
			out = append(out, [2]string{ids[k], ids[i]})
		}
	}
	return out
}

func (h *hypothesis) build(j Job) error {
	for a := range h.axes[0].nodeCount() {
		for b := range h.axes[1].nodeCount() {
			var specs []machine.FaultSpec
			for k, node := range [2]int{a, b} {
				if h.axes[k].fault != "" {
					specs = append(specs, machine.FaultSpec{ID: h.axes[k].fault, Mode: h.axes[k].mode, Severity: h.axes[k].severity(node)})
				}
			}
			s, err := bench.NewSession(j.Family, j.Sheet, j.Ambient, specs, bench.Options{Technique: bench.AsSet, FuelML: -1})
			if err != nil {
				return err
			}
			if j.Found != nil {
				s.Control(j.Found)
			}
			h.nodes = append(h.nodes, s)
		}
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
