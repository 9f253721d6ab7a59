// Package diagnosis weighs hypotheses about what is hidden in a machine
// against a ledger of what was done and seen: belief by likelihood replay on
// the one machine model, with severity integrated.
package diagnosis

import (
	"math"

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
	fault          string
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

// NewPopulation lays out healthy, every fault of the family and every pair of
// them, with priors from base rates.
func NewPopulation(j Job) (*Population, error) {
	faults := catalogue.Standard().FaultsOf(j.Family)
	rate := func(f catalogue.Fault) float64 {
		if r, ok := j.Rates[f.ID]; ok {
			return r
		}
		return f.BaseRate
	}
	singles, pairs := 0.0, 0.0
	for i, f := range faults {
		singles += rate(f)
		for _, g := range faults[:i] {
			pairs += rate(f) * rate(g)
		}
	}
	p := &Population{family: j.Family, sheet: j.Sheet}
	none := axis{}
	p.hyps = append(p.hyps, hypothesis{prior: healthyShare, axes: [2]axis{none, none}})
	for i, f := range faults {
		p.hyps = append(p.hyps, hypothesis{
			faults: []string{f.ID}, prior: (1 - healthyShare - pairShare) * rate(f) / singles,
			axes: [2]axis{{f.ID, singleNodes, singleBetween, f.Graded}, none},
		})
		for _, g := range faults[:i] {
			n, b := pairNodes, pairBetween
			if !f.Graded || !g.Graded {
				n, b = singleNodes, singleBetween
			}
			p.hyps = append(p.hyps, hypothesis{
				faults: []string{g.ID, f.ID}, prior: pairShare * rate(f) * rate(g) / pairs,
				axes: [2]axis{{g.ID, n, b, g.Graded}, {f.ID, n, b, f.Graded}},
			})
		}
	}
	for i := range p.hyps {
		if err := p.hyps[i].build(j); err != nil {
			return nil, err
		}
	}
	return p, nil
}

func (h *hypothesis) build(j Job) error {
	for a := range h.axes[0].nodeCount() {
		for b := range h.axes[1].nodeCount() {
			var specs []machine.FaultSpec
			for k, node := range [2]int{a, b} {
				if h.axes[k].fault != "" {
					specs = append(specs, machine.FaultSpec{ID: h.axes[k].fault, Severity: h.axes[k].severity(node)})
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
