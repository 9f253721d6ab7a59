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
	if c.Test == "" {
		return p.specimens(func(*bench.Session) float64 { return 1 }, func(x, _ float64) float64 { return x })
	}
	return p.specimens(c.Of, complained)
}

// True lists them weighted by how surely each does what is complained of, with no
// owner who may be mistaken.
func (p *Population) True(c Claim) []Specimen {
	return p.specimens(c.Of, func(does, _ float64) float64 { return does })
}

// specimens weighs them by what does says of each, and how common that is among all.
func (p *Population) specimens(does func(*bench.Session) float64, fits func(does, common float64) float64) []Specimen {
	var out []Specimen
	var at []float64
	sum, common := 0.0, 0.0
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
			at = append(at, does(s.Bench))
			sum += s.Weight
			common += s.Weight * at[len(at)-1]
			out = append(out, s)
		}
	}
	common = min(max(common/sum, leastCommon), mostCommon)
	sum = 0
	for i := range out {
		out[i].Weight *= fits(at[i], common)
		sum += out[i].Weight
	}
	for i := range out {
		out[i].Weight /= sum
	}
	return out
}
