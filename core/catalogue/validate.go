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
		miss(f.Sheet.Validate() == nil, "family %s: %v", f.ID, f.Sheet.Validate())
	}
	for _, f := range c.Faults {
		unique("fault", f.ID)
		families("fault "+f.ID, f.Families)
		miss(c.Reach(f.Reach) != nil, "fault %s: unknown reach %q", f.ID, f.Reach)
		miss(f.BaseRate > 0, "fault %s: base rate must be above zero", f.ID)
		miss(c.AdviceText(f.Advice) != nil, "fault %s: unknown advice %q", f.ID, f.Advice)
		for _, id := range f.Causes {
			miss(c.Cause(id) != nil || c.Fault(id) != nil, "fault %s: unknown cause %q", f.ID, id)
		}
		miss(slices.ContainsFunc(c.Tests, func(t Test) bool { return slices.Contains(t.Reaches, f.Reach) }), "fault %s: no test is offered at reach %s", f.ID, f.Reach)
		miss(slices.ContainsFunc(c.Repairs.Entries, func(r Repair) bool { return slices.Contains(r.Mends, f.ID) }), "fault %s: no repair mends it", f.ID)
	}
	for _, t := range c.Tests {
		unique("test", t.ID)
		miss(t.Lateral == "" || lateral(t.Lateral), "test %s: unknown lateral %q", t.ID, t.Lateral)
		miss(t.Minutes >= 0, "test %s: negative minutes", t.ID)
		miss((t.Kind == KindNumber) == (t.Unit != "" && t.Instrument != ""), "test %s: a number needs unit and instrument, and only a number has them", t.ID)
		miss(t.Kind == KindNumber || len(t.Words) > 0, "test %s: no words", t.ID)
		for _, id := range t.Access {
			miss(c.Cover(id) != nil, "test %s: unknown cover %q", t.ID, id)
		}
		for _, id := range slices.Concat(t.Reaches, t.Proves) {
			miss(c.Reach(id) != nil, "test %s: unknown reach %q", t.ID, id)
		}
		for _, id := range t.Hazards {
			miss(c.Hazard(id) != nil, "test %s: unknown hazard %q", t.ID, id)
		}
	}
	for _, r := range c.Repairs.Entries {
		unique("repair", r.Act+"@"+r.Reach)
		miss(c.RepairAct(r.Act) != nil && c.Reach(r.Reach) != nil, "repair %s at %s: unknown", r.Act, r.Reach)
		for _, id := range r.Mends {
			f := c.Fault(id)
			miss(f != nil && r.Success > 0, "repair %s at %s: cannot mend %q", r.Act, r.Reach, id)
		}
		for _, id := range r.Access {
			miss(c.Cover(id) != nil, "repair %s at %s: unknown cover %q", r.Act, r.Reach, id)
		}
	}
	return errors.Join(bad...)
}

// limits are the figures that every sheet must have and what they can be for
// a small engine; outside them a figure is a slip of the pen.
var limits = map[string]struct{ low, high float64 }{
	"displacement_ml": {20, 500}, "compression_ratio": {4, 14}, "compression_psi": {10, 250}, "compression_wet_psi": {10, 300},
	"plug_gap_mm": {0.3, 1.5}, "spark_mm": {4, 30}, "coil_primary_ohm": {0.05, 10}, "coil_secondary_kohm": {1, 40}, "air_gap_mm": {0.1, 1},
	"idle_rpm": {800, 4000}, "governed_rpm": {1500, 13000}, "fuel_flow_ml_min": {2, 500}, "tank_ml": {100, 30000}, "bowl_ml": {0.5, 100}, "oil_ml": {0, 3000},
}

// others are figures that some families' sheets have.
var others = map[string]struct{ low, high float64 }{
	"leak_down_psi": {10, 80}, "valve_in_mm": {0.02, 0.6}, "valve_ex_mm": {0.02, 0.6}, "nut_torque_nm": {5, 300}, "screw_turns": {0, 8},
	"needle_pop_kpa": {20, 400}, "crankcase_kpa": {10, 120},
}

// Validate checks that the sheet has every figure, that each can be, and that
// no band stands upside down.
func (s Sheet) Validate() error {
	var bad []error
	for id, f := range s {
		l, ok := others[id]
		if _, must := limits[id]; must {
			continue
		}
		if !ok || !(f.Low <= f.High && f.Low >= l.low && f.High <= l.high) {
			bad = append(bad, fmt.Errorf("%s: %g to %g %s cannot be a figure of a service sheet", id, f.Low, f.High, f.Unit))
		}
	}
	for id, l := range limits {
		f, ok := s[id]
		switch {
		case !ok:
			bad = append(bad, fmt.Errorf("%s is missing", id))
		case !(f.Low <= f.High):
			bad = append(bad, fmt.Errorf("%s: low %g is above high %g", id, f.Low, f.High))
		case !(f.Low >= l.low && f.High <= l.high):
			bad = append(bad, fmt.Errorf("%s: %g to %g %s cannot be; it lies between %g and %g", id, f.Low, f.High, f.Unit, l.low, l.high))
		}
	}
	return errors.Join(bad...)
}
