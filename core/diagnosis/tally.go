package diagnosis

import (
	"math"
	"slices"
	"strings"
)

// Tally is what a belief gives to each set of faults at a moment: it can be put together
// with those over other sets, and takes nothing more in. It is not changed.
type Tally struct {
	top  float64 // the logarithm of what weights are measured by
	sets []tallied
}

// tallied is the weight of one set, and that times the mean severity of each of its faults
// that is graded.
type tallied struct {
	key      string
	faults   []string
	weight   float64
	severity map[string]float64
}

// Tally works the weights out. The points of a hypothesis share its prior by the trapezium
// rule, for severity is laid out by density.
func (b *Belief) Tally() Tally {
	t, at := Tally{}, map[string]int{}
	var weights [][]float64
	weights, t.top = b.unscaled()
	for i := range b.hyps {
		h := &b.hyps[i]
		key := strings.Join(h.faults, "+")
		k, known := at[key]
		if !known {
			k = len(t.sets)
			at[key] = k
			t.sets = append(t.sets, tallied{key: key, faults: h.faults, severity: map[string]float64{}})
		}
		s := &t.sets[k]
		for point, w := range weights[i] {
			s.weight += w
			if w > uncounted {
				h.severities(point, func(fault string, severity float64) { s.severity[fault] += w * severity })
			}
		}
	}
	return t
}

// Only is the tally of some of its sets.
func (t Tally) Only(keep func(faults []string) bool) Tally {
	out := Tally{top: t.top}
	for _, s := range t.sets {
		if keep(s.faults) {
			out.sets = append(out.sets, s)
		}
	}
	return out
}

// Together reports beliefs over different hypotheses about one engine as one. Their weights
// are of one scale where they have taken the same in.
func Together(ts ...Tally) Report {
	top, sum := math.Inf(-1), 0.0
	for _, t := range ts {
		if len(t.sets) > 0 {
			top = max(top, t.top)
		}
	}
	var sets []tallied
	for _, t := range ts {
		scale := math.Exp(t.top - top)
		for _, s := range t.sets {
			s.weight *= scale
			severity := map[string]float64{}
			for f, x := range s.severity {
				severity[f] = x * scale
			}
			s.severity = severity
			sets, sum = append(sets, s), sum+s.weight
		}
	}
	slices.SortStableFunc(sets, func(a, b tallied) int { return strings.Compare(a.key, b.key) })
	for i := range sets {
		sets[i].weight /= sum
		for f := range sets[i].severity {
			sets[i].severity[f] /= sum
		}
	}
	return report(sets)
}
