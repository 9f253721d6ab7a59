package diagnosis

import (
	"math"
	"sort"
	"strings"

	"zanjero/core/catalogue"
)

// Report is a belief put into figures.
type Report struct {
	// Fault, Reach and Lateral give marginal probabilities by id. With several
	// faults at once they need not sum to 1.
	Fault, Reach, Lateral map[string]float64
	// Healthy is the probability that nothing is wrong.
	Healthy float64
	// Bits is the entropy over sets of faults.
	Bits float64
	// Severity is the mean severity of each graded fault where it is present.
	Severity map[string]float64
	// Sets are all sets of faults with some probability, likeliest first, and
	// Credible the fewest of them that hold 95 %.
	Sets, Credible []Set
}

// Set is a set of faults with its probability.
type Set struct {
	Faults []string
	P      float64
}

// uncounted is the weight of a point that moves no mean.
const uncounted = 1e-10

// Report works the belief out.
func (b *Belief) Report() Report { return Together(b.Tally()) }

// report puts sets with their shares of the whole, in the order of their keys, into figures.
func report(sets []tallied) Report {
	cat := catalogue.Standard()
	r := Report{Fault: map[string]float64{}, Reach: map[string]float64{}, Lateral: map[string]float64{}, Severity: map[string]float64{}}
	for _, s := range sets {
		if s.weight > 0 {
			r.Bits -= s.weight * math.Log2(s.weight)
		}
		if len(s.faults) == 0 {
			r.Healthy = s.weight
		}
		reaches, laterals := map[string]bool{}, map[string]bool{}
		for _, f := range s.faults {
			r.Fault[f] += s.weight
			r.Severity[f] += s.severity[f]
			reach := cat.Reach(cat.Fault(f).Reach)
			reaches[reach.ID], laterals[reach.Lateral] = true, true
		}
		for id := range reaches { // each key once: order cannot matter
			r.Reach[id] += s.weight
		}
		for id := range laterals {
			r.Lateral[id] += s.weight
		}
		r.Sets = append(r.Sets, Set{s.faults, s.weight})
	}
	for f, p := range r.Fault {
		if p > 0 {
			r.Severity[f] /= p
		}
	}
	sort.Slice(r.Sets, func(i, j int) bool {
		a, c := r.Sets[i], r.Sets[j]
		if a.P != c.P {
			return a.P > c.P
		}
		return strings.Join(a.Faults, "+") < strings.Join(c.Faults, "+")
	})
	held := 0.0
	for _, s := range r.Sets {
		if held >= 0.95 {
			break
		}
		held += s.P
		r.Credible = append(r.Credible, s)
	}
	return r
}

// severities calls f with the severity of each graded fault at a point.
func (h *hypothesis) severities(point int, f func(fault string, s float64)) {
	for k := len(h.axes) - 1; k >= 0; k-- {
		a := h.axes[k]
		at := a.points[point%len(a.points)]
		if point /= len(a.points); a.graded {
			f(a.fault, at.severity)
		}
	}
}

// weights gives the posterior of every point of every hypothesis.
func (b *Belief) weights() [][]float64 {
	out, _ := b.unscaled()
	sum := 0.0
	for i := range out {
		for _, w := range out[i] {
			sum += w
		}
	}
	for i := range out {
		for k := range out[i] {
			out[i][k] /= sum
		}
	}
	return out
}

// unscaled gives the weights of all points, and the logarithm of what they are measured by.
func (b *Belief) unscaled() (out [][]float64, top float64) {
	top = math.Inf(-1)
	for i := range b.hyps {
		for _, l := range b.hyps[i].loglik {
			top = max(top, l)
		}
	}
	out = make([][]float64, len(b.hyps))
	for i := range b.hyps {
		h := &b.hyps[i]
		out[i] = make([]float64, len(h.loglik))
		share := 0.0
		for k := range h.loglik {
			w := h.axes.share(k)
			out[i][k] = w
			share += w
		}
		for k, l := range h.loglik {
			out[i][k] *= h.prior / share * math.Exp(l-top)
		}
	}
	return out, top
}
