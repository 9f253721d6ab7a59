package catalogue

import (
	"errors"
	"fmt"
	"slices"
)

// Validate checks that every reference in the catalogue leads somewhere, that
// figures can be, and that every fault can be reached by a test and mended by
// a repair. It reports all that is wrong, not only the first.
func (c *Catalogue) Validate() error {
	var bad []error
	miss := func(ok bool, format string, a ...any) {
		if !ok {
			bad = append(bad, fmt.Errorf(format, a...))
		}
	}
	seen := map[string]bool{}
	unique := func(kind, id string) {
		miss(id != "" && !seen[kind+id], "%s %q: missing or used twice", kind, id)
		seen[kind+id] = true
	}
	lateral := func(id string) bool {
		return slices.ContainsFunc(c.Laterals, func(l Lateral) bool { return l.ID == id })
	}
	families := func(what string, ids []string) {
		miss(len(ids) > 0, "%s has no family", what)
		for _, id := range ids {
			miss(c.Family(id) != nil, "%s: unknown family %q", what, id)
		}
	}
	needs := func(what string, n Needs, families []string) {
		for id := range n {
			miss(c.Figure(id) != nil && c.Figure(id).Words != nil, "%s needs an unknown word %q", what, id)
		}
		miss(slices.ContainsFunc(families, func(id string) bool { f := c.Family(id); return f != nil && n.met(f, nil) }), "%s: no family has what it needs", what)
	}
	for _, x := range c.Statements {
		unique("statement", x.ID)
		miss(!x.Cause || c.Cause(x.ID) != nil, "statement %s: it names no cause", x.ID)
		miss(c.Test("ask-history") != nil && slices.Contains(c.Test("ask-history").Words, x.Tells), "statement %s: nobody tells %q", x.ID, x.Tells)
	}
	for _, in := range c.Instruments {
		unique("instrument", in.ID)
		s := in.Scale
		miss(s == nil || (s.Least < s.Most && s.Division > 0 && s.Numbered >= s.Division), "instrument %s: its scale cannot be drawn", in.ID)
	}
	for _, t := range c.Tests {
		miss((t.Kind == KindNumber) == (t.Accuracy != nil), "test %s: a number, and nothing else, has an accuracy", t.ID)
		miss(t.Kind != KindNumber || c.Instrument(t.Instrument) != nil, "test %s: unknown instrument %q", t.ID, t.Instrument)
		a := t.Accuracy
		miss(a == nil || (a.Step > 0 && a.Division >= a.Step && a.Least < a.Most && a.Floor > 0), "test %s: its accuracy cannot be", t.ID)
	}
	for _, k := range c.Figures {
		unique("figure", k.ID)
		miss((k.Unit != "" && k.Least < k.Most) != (len(k.Words) > 0), "figure %s: a band needs a unit and limits, or it has words", k.ID)
	}
	for _, r := range c.Reaches {
		unique("reach", r.ID)
		miss(lateral(r.Lateral), "reach %s: unknown lateral %q", r.ID, r.Lateral)
		families("reach "+r.ID, r.Families)
	}
	for _, f := range c.Families {
		unique("family", f.ID)
		for _, id := range f.Controls {
			miss(c.Control(id) != nil, "family %s: unknown control %q", f.ID, id)
		}
		for _, id := range f.Covers {
			miss(c.Cover(id) != nil, "family %s: unknown cover %q", f.ID, id)
		}
		for id, words := range f.Variants {
			k := c.Figure(id)
			miss(k != nil && slices.Contains(words, f.Sheet[id].Word), "family %s: variant %q is not on its sheet", f.ID, id)
			for _, w := range words {
				miss(k != nil && slices.Contains(k.Words, w), "family %s: %s cannot be %q", f.ID, id, w)
			}
		}
		for _, p := range c.CheckSheet(f.ID, f.Sheet) {
			miss(false, "family %s: %v", f.ID, &p)
		}
	}
	for _, f := range c.Faults {
		unique("fault", f.ID)
		families("fault "+f.ID, f.Families)
		needs("fault "+f.ID, f.Needs, f.Families)
		miss(c.Reach(f.Reach) != nil, "fault %s: unknown reach %q", f.ID, f.Reach)
		miss(f.BaseRate > 0, "fault %s: base rate must be above zero", f.ID)
		miss(c.AdviceText(f.Advice) != nil, "fault %s: unknown advice %q", f.ID, f.Advice)
		for _, id := range f.Causes {
			miss(c.Cause(id) != nil || c.Fault(id) != nil, "fault %s: unknown cause %q", f.ID, id)
		}
		miss(slices.ContainsFunc(c.Tests, func(t Test) bool { return slices.Contains(t.Reaches, f.Reach) }), "fault %s: no test is offered at reach %s",
			f.ID, f.Reach)
		miss(slices.ContainsFunc(c.Repairs.Entries, func(r Repair) bool { return slices.Contains(r.Mends, f.ID) }), "fault %s: no repair mends it", f.ID)
	}
	for _, t := range c.Tests {
		unique("test", t.ID)
		miss(t.Lateral == "" || lateral(t.Lateral), "test %s: unknown lateral %q", t.ID, t.Lateral)
		if t.Needs != nil {
			all := t.Families
			for _, f := range c.Families {
				all = append(all, f.ID)
			}
			needs("test "+t.ID, t.Needs, all)
		}
		miss(t.Figure == "" || c.Figure(t.Figure) != nil, "test %s: unknown figure %q", t.ID, t.Figure)
		miss(t.Minutes >= 0, "test %s: negative minutes", t.ID)
		miss((t.Kind == KindNumber) == (t.Unit != "" && t.Instrument != ""), "test %s: a number needs unit and instrument, and only a number has them", t.ID)
		miss(t.Kind == KindNumber || len(t.Words) > 0, "test %s: no words", t.ID)
		for _, id := range t.Access {
			miss(c.Cover(id) != nil, "test %s: unknown cover %q", t.ID, id)
		}
		for _, id := range slices.Concat(t.Reaches, t.Proves) {
			miss(c.Reach(id) != nil, "test %s: unknown reach %q", t.ID, id)
		}
		for i, p := range t.Parts {
			miss(p.ID != "" && (i == 0 || (p.Unit == "") == (len(p.Words) > 0)), "test %s: part %q is neither number nor words", t.ID, p.ID)
			miss(p.Figure == "" || c.Figure(p.Figure) != nil, "test %s: part %q: unknown figure %q", t.ID, p.ID, p.Figure)
		}
		for _, id := range t.Hazards {
			miss(c.Hazard(id) != nil, "test %s: unknown hazard %q", t.ID, id)
		}
	}
	for _, a := range c.Actions {
		unique("action", a.ID)
		miss(slices.Contains([]string{ActPrecaution, ActPrime, ActSpin, ActWarm, ActState}, a.Kind), "action %s: unknown kind %q", a.ID, a.Kind)
	}
	for _, h := range c.Hazards {
		unique("hazard", h.ID)
		miss(len(h.Precautions) > 0, "hazard %s: no precaution answers it", h.ID)
		for _, id := range h.Precautions {
			miss(c.Action(id) != nil && c.Action(id).Kind == ActPrecaution, "hazard %s: unknown precaution %q", h.ID, id)
		}
	}
	for _, a := range c.Repairs.Acts {
		unique("act", a.ID)
		miss(!a.Improvised() || c.Reach(a.Reach) != nil, "act %s: no reach of its own", a.ID)
	}
	for _, r := range c.Repairs.Entries {
		unique("repair", r.Act+"@"+r.Reach)
		miss(c.RepairAct(r.Act) != nil && c.Reach(r.Reach) != nil, "repair %s at %s: unknown", r.Act, r.Reach)
		for _, id := range r.Mends {
			f := c.Fault(id)
			miss(f != nil && r.Success > 0, "repair %s at %s: cannot mend %q", r.Act, r.Reach, id)
		}
		for _, l := range r.Leaves {
			miss(c.Fault(l.Fault) != nil && l.Chance > 0 && l.Chance <= 1 && l.Severity > 0, "repair %s at %s: cannot leave %q", r.Act, r.Reach, l.Fault)
		}
		for _, id := range r.Access {
			miss(c.Cover(id) != nil, "repair %s at %s: unknown cover %q", r.Act, r.Reach, id)
		}
	}
	c.checkSetups(miss)
	return errors.Join(bad...)
}
