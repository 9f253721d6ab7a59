package procedure

import (
	"cmp"
	"slices"

	"zanjero/core/catalogue"
)

// How many tests are thought of as steps to add, and how many faults one of
// their outcomes may conclude.
const (
	mostAdded     = 5
	mostConcluded = 3
)

// additions are steps that a procedure does not have and could: tests that are
// quick to make and tell some of what it leaves open apart, with what each of
// their outcomes would conclude. The most prior mass that such a step could
// conclude for a minute comes first.
func (pop *Population) additions(p *Procedure) []Step {
	cat := pop.cat
	type candidate struct {
		step Step
		rate float64
	}
	var all []candidate
	tests := cat.TestsOf(pop.family, pop.sheet)
	for i := range tests {
		t := &tests[i]
		has := slices.ContainsFunc(p.Steps, func(s Step) bool { return s.Test == t.ID })
		_, judged := pop.sheet[t.Figure]
		if has || t.Kind == catalogue.KindRun || (t.Kind == catalogue.KindNumber && !judged) {
			continue
		}
		s := Step{ID: "added-" + t.ID, Test: t.ID, Precautions: cat.PrecautionsOf(t)}
		usual := ""
		mass := map[string]map[string]float64{} // by label and fault
		for k := range pop.specimens {
			sp := &pop.specimens[k]
			told := pop.try(sp.root, &s, s.key())[0].told
			label := s.label(t, pop, told.Value, told.Over)
			best := 0.0
			for _, w := range told.Words {
				if w.P > best {
					best, label = w.P, w.Word
				}
			}
			if sp.Fault.ID == "" {
				usual = label
			}
			if mass[label] == nil {
				mass[label] = map[string]float64{}
			}
			mass[label][sp.Fault.ID] += sp.Weight
		}
		known := t.Words
		if t.Kind == catalogue.KindNumber {
			known = []string{Below, Within, Above, OverLimit}
		}
		concluded := 0.0
		for _, label := range known {
			if n := len(mass[label]); label == usual || n == 0 || n > mostConcluded {
				continue
			}
			o := Outcome{When: []string{label}, Then: Conclude}
			for _, f := range cat.FaultsOf(pop.family, pop.sheet) { // in order
				if m := mass[label][f.ID]; m > 0 {
					o.Faults = append(o.Faults, f.ID)
					concluded += m
				}
			}
			s.Outcomes = append(s.Outcomes, o)
		}
		if concluded == 0 {
			continue
		}
		s.Outcomes = append(s.Outcomes, Outcome{When: []string{Otherwise}, Then: Next})
		all = append(all, candidate{s, concluded / (t.Minutes + pop.specimens[pop.healthy].Bench.AccessMinutes(t))})
	}
	slices.SortStableFunc(all, func(a, b candidate) int {
		return cmp.Or(cmp.Compare(b.rate, a.rate), cmp.Compare(a.step.ID, b.step.ID))
	})
	var out []Step
	for _, c := range all[:min(len(all), mostAdded)] {
		out = append(out, c.step)
	}
	return out
}

// label is the sheet's band of a number, or nothing for words.
func (s *Step) label(t *catalogue.Test, pop *Population, value float64, over bool) string {
	if t.Kind != catalogue.KindNumber {
		return ""
	}
	if over {
		return OverLimit
	}
	return pop.sheet[t.Figure].Judge(value)
}
