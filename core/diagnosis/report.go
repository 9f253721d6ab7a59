package diagnosis

import (
	"maps"
	"math"
	"slices"
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
func (b *Belief) Report() Report {
	cat := catalogue.Standard()
	r := Report{Fault: map[string]float64{}, Reach: map[string]float64{}, Lateral: map[string]float64{}, Severity: map[string]float64{}}
	sets := map[string]*Set{}
	weights := b.weights()
	for i := range b.hyps {
		h := &b.hyps[i]
		key := strings.Join(h.faults, "+")
		if sets[key] == nil {
			sets[key] = &Set{Faults: h.faults}
		}
		for k, p := range weights[i] {
			sets[key].P += p
			if p > uncounted {
				h.severities(k, func(fault string, s float64) { r.Severity[fault] += p * s })
			}
		}
	}
	for _, key := range slices.Sorted(maps.Keys(sets)) {
		s := sets[key]
		if s.P > 0 {
			r.Bits -= s.P * math.Log2(s.P)
		}
		if len(s.Faults) == 0 {
			r.Healthy = s.P
		}
		reaches, laterals := map[string]bool{}, map[string]bool{}
		for _, f := range s.Faults {
			r.Fault[f] += s.P
			reach := cat.Reach(cat.Fault(f).Reach)
			reaches[reach.ID], laterals[reach.Lateral] = true, true
		}
		for id := range reaches { // each key once: order cannot matter
			r.Reach[id] += s.P
		}
		for id := range laterals {
			r.Lateral[id] += s.P
		}
		r.Sets = append(r.Sets, *s)
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

// weights gives the posterior of every point of every hypothesis. The points
// of a hypothesis share its prior by the trapezium rule, for severity is laid out by
// density.
func (b *Belief) weights() [][]float64 {
	top := math.Inf(-1)
	for i := range b.hyps {
		for _, l := range b.hyps[i].loglik {
			top = max(top, l)
		}
	}
	out, sum := make([][]float64, len(b.hyps)), 0.0
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
			sum += out[i][k]
		}
	}
	for i := range out {
		for k := range out[i] {
			out[i][k] /= sum
		}
	}
	return out
}
