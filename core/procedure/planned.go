package procedure

import (
	"maps"
	"slices"
	"strconv"

	"zanjero/core/catalogue"
	"zanjero/core/sequencing"
)

// FromPlan writes a planned order out as a procedure of one family, so that it
// can be held against others on the same population. Each leaf concludes the
// classes that are left in it; a sound machine is given back.
func FromPlan(plan *sequencing.Plan, m *sequencing.Matrix, family string) *Procedure {
	p := &Procedure{ID: "planned", Title: "Planned order", Revision: 1, Families: []string{family},
		About: "The order that the planner finds for this engine and complaint: a rollout on minutes over a greedy base."}
	class := map[string]string{}
	for i, f := range m.Faults {
		class[f] = f
		if m.Class != nil {
			class[f] = m.Class[i]
		}
	}
	cat := catalogue.Standard()
	var write func(n *sequencing.Node, taken []string) string
	write = func(n *sequencing.Node, taken []string) string {
		at := len(p.Steps)
		s := Step{ID: n.Test + "-" + strconv.Itoa(at+1), Test: n.Test}
		if t := cat.Test(n.Test); t != nil {
			for _, id := range cat.PrecautionsOf(t) {
				if !slices.Contains(taken, id) {
					s.Precautions = append(s.Precautions, id)
				}
			}
		}
		taken = slices.Concat(taken, s.Precautions)
		p.Steps = append(p.Steps, s)
		var ways []Outcome
		for _, label := range slices.Sorted(maps.Keys(n.Outcomes)) {
			next := n.Outcomes[label]
			o := Outcome{When: []string{label}}
			if label == "read" {
				o.When = []string{Otherwise}
			}
			if next.Test != "" {
				o.Then, o.Step = Goto, write(next, taken)
				ways = append(ways, o)
				continue
			}
			o.Then = Conclude
			for _, f := range next.Faults {
				if c := class[f]; c != "healthy" && !slices.Contains(o.Faults, c) {
					o.Faults = append(o.Faults, c)
				}
			}
			if len(o.Faults) == 0 {
				o.Then, o.Why = Stop, "It is sound."
			}
			ways = append(ways, o)
		}
		p.Steps[at].Outcomes = ways
		return s.ID
	}
	if plan.Tree.Test != "" {
		write(plan.Tree, nil)
	}
	return p
}
