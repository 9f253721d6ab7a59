package bench

import (
	"math"

	"zanjero/core/machine"
)

// Kinds of what is left.
const (
	LeftCover   = "cover"   // off
	LeftControl = "control" // not as it should stand
	LeftState   = "state"   // spilt, empty, soaked, …
	LeftWork    = "work"    // a fault that work left behind
	LeftFault   = "fault"   // a fault that it came in with and still has
)

// Left is one way in which a machine as it stands is not ready to return.
type Left struct {
	Kind string `json:"kind"`
	// Item is the id of a cover, control or fault, or of a state.
	Item string `json:"item"`
}

// NotReady is the difference between the machine as it stands and as it should
// be handed back, item by item. Faults that were in it when it came are not
// among them; those that work has left behind are.
func (s *Session) NotReady() []Left {
	out := []Left{}
	add := func(wrong bool, kind, item string) {
		if wrong {
			out = append(out, Left{kind, item})
		}
	}
	for _, id := range s.Open() {
		add(true, LeftCover, id)
	}
	st := s.m.State()
	c := st.Controls
	add(c.Stop && !s.m.FoundInStop(), LeftControl, "switch")
	add(c.ValveShut && !s.m.FoundShut(), LeftControl, "fuel_valve")
	add(c.Cap != machine.CapTight, LeftControl, "cap")
	add(c.PlugLead != machine.LeadOn, LeftControl, "plug_lead")
	add(c.KillLeadOff, LeftControl, "kill_lead")
	add(c.OilLeadOff, LeftControl, "oil_lead")
	add(c.BarTied, LeftControl, "bar")
	add(c.LineClamped, LeftControl, "line_clamp")
	add(c.Tilt != machine.Level, LeftControl, "tilt")
	add(s.taken["block-driven"], LeftState, "block-driven")
	add(st.SpiltML >= 1, LeftState, "spill")
	add(st.FuelML < 0.05*s.m.TankML() && !s.m.FoundEmpty(), LeftState, "tank")
	add(math.Abs(st.OilLevel-s.foundOil) > 0.2 && (st.OilLevel < 0.75 || st.OilLevel > 1.2), LeftState, "oil")
	add(s.m.HydroLocked(), LeftState, "cylinder")
	add(st.FilterOil > 0.1, LeftState, "intake-filter")
	for _, f := range s.m.Faults() {
		if s.left[f.ID] {
			add(true, LeftWork, f.ID)
		}
	}
	return out
}
