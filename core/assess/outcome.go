package assess

import (
	"math"
	"slices"

	"zanjero/core/bench"
)

// outcome says whether all of it is competent, and what speaks against it.
func (a *attempt) outcome(out *Assessment) {
	out.Against = []Reason{}
	against := func(code string, pairs ...any) {
		s := Section{}
		s.tell(false, -1, code, pairs...)
		out.Against = append(out.Against, s.Reasons...)
	}
	if !Founded(out.Class) {
		against("outcome.root", "class", "@class."+out.Class)
	}
	if a.criticalMiss(out.HandedBack) {
		against("outcome.critical")
	}
	if !out.Proof.Right {
		against("outcome.proof")
	}
	for _, l := range out.HandedBack {
		if matters(l) {
			against("outcome.not-ready", "left", "@left."+l.Kind+"."+l.Item, "kind", l.Kind, "item", l.Item)
		}
	}
	if mark, of := out.Total(); of > 0 && 100*mark/of < a.rubric.Threshold {
		against("outcome.threshold", "mark", round1(100*mark/of), "threshold", a.rubric.Threshold)
	}
	out.Outcome = Competent
	if len(out.Against) > 0 {
		out.Outcome = NotYet
	}
}

// Founded says that a conclusion of a class stands on evidence.
func Founded(class string) bool { return slices.Contains([]string{Proven, Supported, Isolated}, class) }

// harmless is what may be left without undoing the repair or endangering anybody.
var harmless = []string{"switch", "fuel_valve", "tilt", "tank"}

// matters says that what was left undoes the repair or endangers who uses the machine.
func matters(l bench.Left) bool { return !slices.Contains(harmless, l.Item) }

// skills are the marks again by skill and path, where there is something to tell.
func (a *attempt) skills(out *Assessment) []Skill {
	type key struct{ skill, lateral string }
	sum, of := map[key]float64{}, map[key]float64{}
	add := func(skill, lateral string, mark, most float64) {
		if most > 0 && lateral != "" {
			sum[key{skill, lateral}] += mark
			of[key{skill, lateral}] += most
		}
	}
	for _, r := range a.review {
		t := a.cat.Test(r.Test)
		add("readings", t.Lateral, r.share(), 1)
	}
	for i := range a.steps {
		if s := &a.steps[i]; s.weighed {
			lost := s.ordered.Regret / max(a.refer.TestMinutes, leastMinutes)
			add("order", s.lateral, clamp01(1-2*lost), 1)
		}
	}
	for _, f := range a.sc.Faults {
		lateral := a.cat.Reach(a.cat.Fault(f.ID).Reach).Lateral
		for _, s := range out.Sections {
			if slices.Contains(wholeSections, s.ID) {
				add(s.ID, lateral, s.Mark, s.Of)
			}
		}
	}
	res := []Skill{}
	for _, skill := range []string{"readings", "conclusion", "economy", "order", "safety", "proof"} {
		for _, l := range a.cat.Laterals {
			if k := (key{skill, l.ID}); of[k] > 0 {
				res = append(res, Skill{skill, l.ID, round2(sum[k] / of[k])})
			}
		}
	}
	return res
}

// Doubt is how much a person's look at an assessment is wanted, 0 to 1: near the threshold,
// with a critical precaution missed, or where the three beliefs say different things of
// what is hidden.
func (a *Assessment) Doubt(threshold float64) float64 {
	mark, of := a.Total()
	near := 0.0
	if of > 0 {
		near = clamp01(1 - math.Abs(100*mark/of-threshold)/nearMarks)
	}
	split := 0.0
	for _, t := range a.Truth {
		shown, recorded, asIf := a.Standings.Shown[t.ID], a.Standings.Recorded[t.ID], a.Standings.AsIfValid[t.ID]
		split = max(split, max(shown, recorded, asIf)-min(shown, recorded, asIf))
	}
	unsafe := 0.0
	for _, s := range a.Skipped {
		if s.Severity == Critical {
			unsafe = 1
		}
	}
	unsure := 0.0
	if a.Class == Guessed || a.Class == Supported || a.Class == Symptom {
		unsure = 1
	}
	return round2(clamp01(0.4*near + 0.3*split + 0.2*unsafe + 0.1*unsure))
}

// nearMarks is how many marks of a hundred around the threshold are in doubt.
const nearMarks = 15.0
