package bench

import (
	"math"

	"zanjero/core/machine"
)

// Left is one way in which a machine as it stands is not ready to return.
type Left struct {
	// Item names it: a cover, a control, or a fault that the work left.
	Item string `json:"item"`
	Text string `json:"text"`
}

// NotReady is the difference between the machine as it stands and as it should
// be handed back, item by item. Faults that were in it when it came are not
// among them; those that work has left behind are.
func (s *Session) NotReady() []Left {
	out := []Left{}
	add := func(wrong bool, item, text string) {
		if wrong {
			out = append(out, Left{item, text})
		}
	}
	for _, id := range s.Open() {
		add(true, id, s.cat.Cover(id).Off)
	}
	st := s.m.State()
	c := st.Controls
	add(c.Stop && !s.m.FoundInStop(), "switch", "switch in STOP")
	add(c.ValveShut && !s.m.FoundShut(), "fuel_valve", "fuel valve shut")
	add(c.Cap != machine.CapTight, "cap", "fuel cap not tight")
	add(c.PlugLead != machine.LeadOn, "plug_lead", "plug lead not on the plug")
	add(c.KillLeadOff, "kill_lead", "kill lead off, so the switch cannot stop it")
	add(c.OilLeadOff, "oil_lead", "low-oil lead off, so nothing guards the oil")
	add(c.BarTied, "bar", "bar tied back, so letting go does not stop it")
	add(c.LineClamped, "line_clamp", "clamp on the fuel line")
	add(c.Tilt != machine.Level, "tilt", "machine not level")
	add(s.taken["block-driven"], "block-driven", "block left in the driven part")
	add(st.SpiltML >= 1, "spill", "spilt fuel not wiped up")
	add(st.FuelML < 0.05*s.m.TankML() && !s.m.FoundEmpty(), "tank", "tank empty")
	add(math.Abs(st.OilLevel-s.foundOil) > 0.2 && (st.OilLevel < 0.75 || st.OilLevel > 1.2), "oil", "oil off its mark")
	add(s.m.HydroLocked(), "cylinder", "cylinder full of liquid")
	add(st.FilterOil > 0.1, "intake-filter", "air filter soaked by a tilt")
	for _, f := range s.m.Faults() {
		if s.left[f.ID] {
			add(true, f.ID, "work undone: "+s.cat.Fault(f.ID).Name)
		}
	}
	return out
}
