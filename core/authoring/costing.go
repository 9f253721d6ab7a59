package authoring

import (
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/scenario"
)

// WorthSaving is how many minutes a test must save to be made before work that is sure.
const WorthSaving = 1.0

// triedFirst is how many of the best tests are thought of, and provingMinutes what it takes
// to see that work did not help.
const triedFirst, provingMinutes = 12, 5.0

// costing is what work would come to with an engine as it stands and as much as is known.
type costing struct {
	sc      *scenario.Scenario
	st      *diagnosis.Standing
	open    []string // covers that are off
	repairs []catalogue.Repair
}

// TestFirst is the test that is best made before some work, since less work may then be
// enough, and the minutes that it is expected to save: those of the work, or of the least
// that could be done instead without a test, with its parts as labour; less those of the test
// and of the least work that may be enough after it. It is "" and 0 where nothing is saved.
// open are the covers that are off; may says of a test that it could be made.
func TestFirst(sc *scenario.Scenario, st *diagnosis.Standing, open []string, r *catalogue.Repair, may func(test string) bool) (test string, saved float64) {
	w := costing{sc, st, open, properRepairs(sc)}
	return w.testFirst(min(w.minutes(r), w.workFrom(st.Sets())), may)
}

// testFirst finds a test that costs less, with the work after it, than so many minutes.
func (w *costing) testFirst(atOnce float64, may func(test string) bool) (id string, saved float64) {
	rank := w.st.Rank(diagnosis.Weights{}, w.open, may)
	for _, x := range rank[:min(len(rank), triedFirst)] {
		if x.Bits < tellsLittle {
			continue
		}
		chance, then := w.st.Outlook(x.Test)
		cost := x.Minutes
		for o, p := range chance {
			if p > 1e-6 {
				cost += p * w.workFrom(then[o])
			}
		}
		if atOnce-cost > saved {
			id, saved = x.Test, atOnce-cost
		}
	}
	return id, saved
}

// workFrom is what the work comes to from some belief, in minutes with its parts among
// them: of the kinds of work that could be done, the least, where one that does not help is
// followed by the least of those that are sure to, or by the dearest of all where none is.
func (w *costing) workFrom(sets []diagnosis.Set) float64 {
	type done struct{ minutes, helps float64 }
	var all []done
	next := 0.0
	for i := range w.repairs {
		r := &w.repairs[i]
		p := 0.0
		for _, s := range sets {
			if slices.ContainsFunc(s.Faults, func(f string) bool { return slices.Contains(r.Mends, f) }) {
				p += s.P
			}
		}
		if p < worthTrying/2 {
			continue
		}
		d := done{w.minutes(r), p * r.Success}
		all = append(all, d)
		if d.helps >= sure*r.Success && (next == 0 || d.minutes < next) {
			next = d.minutes
		}
	}
	if next == 0 {
		for _, d := range all {
			next = max(next, d.minutes)
		}
	}
	least := math.Inf(1)
	for _, d := range all {
		least = min(least, d.minutes+(1-d.helps)*(next+provingMinutes))
	}
	return least
}

// minutes is what work takes, with what it costs as minutes of labour.
func (w *costing) minutes(r *catalogue.Repair) float64 {
	return w.cost(r) * r.Success * 60 / max(w.sc.Sheet["labour_money_h"].Middle(), 1)
}

// cost is what work comes to in the yard's money, labour and covers among it, over the
// chance that it takes.
func (w *costing) cost(r *catalogue.Repair) float64 {
	minutes := r.Minutes
	for _, id := range r.Access {
		if c := w.sc.Figures().Cover(id); c != nil && !slices.Contains(w.open, id) {
			minutes += c.OpenMinutes
		}
	}
	return (r.Cost + minutes*w.sc.Sheet["labour_money_h"].Middle()/60) / r.Success
}
