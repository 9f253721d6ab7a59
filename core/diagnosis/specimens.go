package diagnosis

import (
	"zanjero/core/bench"
	"zanjero/core/machine"
)

// Specimen is one machine of a population: sound, or with one fault at one
// node of its severity. Weights of a population's specimens sum to one.
type Specimen struct {
	// Fault is what is wrong; without an id, nothing.
	Fault  machine.FaultSpec
	Weight float64
	// Bench has the machine as a master would test it.
	Bench *bench.Session
}

// Specimens lists the sound machine and those with a single fault, by fault,
// mode and node of severity, weighted by the priors and by how well each fits
// an owner's complaint; a claim without a test is no complaint.
func (p *Population) Specimens(c Claim) []Specimen {
	return p.specimens(func(b *bench.Session) float64 {
		if c.Test == "" {
			return 1
		}
		return ownerReliability*c.Of(b) + (1-ownerReliability)*unreliable
	})
}

// True lists them weighted by how surely each does what is complained of, with no
// owner who may be mistaken.
func (p *Population) True(c Claim) []Specimen {
	return p.specimens(func(b *bench.Session) float64 { return c.Of(b) })
}

// specimens weighs them by what fits says of each.
func (p *Population) specimens(fits func(*bench.Session) float64) []Specimen {
	var out []Specimen
	sum := 0.0
	for i := range p.hyps {
		h := &p.hyps[i]
		if len(h.faults) > 1 {
			continue
		}
		for k, n := range h.nodes {
			s := Specimen{Weight: h.prior, Bench: n.AsMaster()}
			if len(h.faults) == 1 {
				a := h.axes[0]
				s.Fault = machine.FaultSpec{ID: a.fault, Mode: a.mode, Severity: a.severity(k)}
				s.Weight *= a.nodeWeight(k)
			}
			s.Weight *= fits(s.Bench)
			sum += s.Weight
			out = append(out, s)
		}
	}
	for i := range out {
		out[i].Weight /= sum
	}
	return out
}
