package assess

import (
	"cmp"
	"context"
	"slices"

	"zanjero/core/authoring"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/reading"
	"zanjero/core/scenario"
)

// Likely is a fault with its probability, 0 to 1.
type Likely struct {
	Fault string
	P     float64
}

// Now is what an attempt's readings show so far, as they were written down.
type Now struct {
	// Board has the marks that they would make, by reach, as a debrief has them.
	Board map[string]string
	// Likely are the faults that they speak for most, the likeliest first.
	Likely []Likely
}

// mostLikely is how many faults are told, and leastLikely how likely they are at least.
const (
	mostLikely  = 3
	leastLikely = 0.02
)

// Glance weighs a ledger that is still in hand by the answers of its engine. It is quick
// where a debrief is thorough: each test counts once on the machine as it is, as if it had
// been set up rightly, and repeats count for nothing. The error is the context's.
func Glance(ctx context.Context, sc *scenario.Scenario, answers *diagnosis.Answers, l *ledger.Ledger) (*Now, error) {
	st, err := authoring.Begin(ctx, sc, answers)
	if err != nil {
		return nil, err
	}
	a := &attempt{sc: sc, cat: sc.Figures()}
	prior := st.Clone()
	made := map[string]bool{}
	for _, line := range l.Lines() {
		switch {
		case isTest(&line):
			if seen := a.asWritten(&line); seen != nil && !made[line.Test] && line.Test != reading.AskHistory {
				st.Take(line.Test, seen)
				made[line.Test] = true
			}
		case line.Kind == ledger.EventRepair:
			r := a.cat.Repair(line.Repair, line.Reach)
			st.Repaired(r.Mends, r.Success)
			clear(made)
		}
	}
	out := &Now{Board: Board(a.cat, prior, st)}
	for fault, p := range marginals(st, func(f string) string { return f }) {
		if p >= leastLikely {
			out.Likely = append(out.Likely, Likely{fault, p})
		}
	}
	slices.SortFunc(out.Likely, func(x, y Likely) int { return cmp.Or(-cmp.Compare(x.P, y.P), cmp.Compare(x.Fault, y.Fault)) })
	out.Likely = out.Likely[:min(len(out.Likely), mostLikely)]
	return out, nil
}

// Board has the marks that evidence makes by itself, by reach, from where it stood at first
// and where it stands now.
func Board(cat *catalogue.Catalogue, prior, now *diagnosis.Standing) map[string]string {
	reach := func(fault string) string { return cat.Fault(fault).Reach }
	out, before := map[string]string{}, marginals(prior, reach)
	for r, p := range marginals(now, reach) {
		if m := standing(before[r], p); m != "" {
			out[r] = m
		}
	}
	return out
}

// marginals are the probabilities of what faults are of: that some fault of it is there.
func marginals(st *diagnosis.Standing, of func(fault string) string) map[string]float64 {
	out := map[string]float64{}
	for _, s := range st.Sets() {
		there := map[string]bool{}
		for _, f := range s.Faults {
			there[of(f)] = true
		}
		for x := range there {
			out[x] += s.P
		}
	}
	return out
}

// ReadRight says that what a line wrote down of a test's first part is what was shown, to a
// division of the instrument. It panics for a line where nothing was written down.
func ReadRight(cat *catalogue.Catalogue, line *ledger.Line) bool {
	e, o := line.Entry, line.Obs
	if o.Word != nil {
		return e.Word == *o.Word
	}
	var r Reading
	if v, ok := r.typed(e, cat.Test(line.Test).Unit, o.Over()); ok {
		r.hold(v, *o.Value, line.Test, within(line))
	}
	return r.ReadRight
}
