package procedure

import (
	"slices"

	"zanjero/core/catalogue"
)

// Levels at which an end is right, and the other ways to end. Shares of them
// sum to one.
const (
	AtPart     = "part"       // one fault is concluded, and it is that
	AtReach    = "reach"      // the fault is among those concluded, all of its reach; or its reach is
	AtLateral  = "lateral"    // its lateral is concluded, or it is among several of it
	AtGroup    = "group"      // it is among those concluded, of several laterals
	WrongPart  = "wrong_part" // another part of its lateral is concluded: right path, wrong part
	Wrong      = "wrong"      // something of another lateral is concluded
	DeadEnd    = "dead_end"   // something was noticed, and the steps ran out
	Undetected = "undetected" // every step went as on a sound machine
	Referred   = "referred"   // it is handed on
	Sound      = "sound"      // nothing is wrong, and nothing was concluded
)

// Levels in order, the best first.
var Levels = []string{AtPart, AtReach, AtLateral, AtGroup, Referred, Sound, Undetected, DeadEnd, WrongPart, Wrong}

// level says how right an outcome that ends the procedure is for a fault.
func (o *Outcome) level(fault string) string {
	if o.Then == Stop {
		if fault == "" {
			return Sound
		}
		return Referred
	}
	def := catalogue.Standard().Fault(fault)
	if def == nil {
		return Wrong
	}
	cat := catalogue.Standard()
	reach, lateral := o.Reach, o.Lateral
	sameReach, sameLateral := reach != "", lateral != ""
	if len(o.Faults) > 0 {
		first := cat.Reach(cat.Fault(o.Faults[0]).Reach)
		reach, lateral, sameReach, sameLateral = first.ID, first.Lateral, true, true
		for _, id := range o.Faults {
			r := cat.Reach(cat.Fault(id).Reach)
			sameReach, sameLateral = sameReach && r.ID == reach, sameLateral && r.Lateral == lateral
		}
	} else if reach != "" {
		lateral, sameLateral = cat.Reach(reach).Lateral, true
	}
	in, onlyPath := slices.Contains(o.Faults, fault), len(o.Faults) == 0 && o.Reach == ""
	onIt := sameLateral && lateral == cat.Reach(def.Reach).Lateral
	switch {
	case in && len(o.Faults) == 1:
		return AtPart
	case sameReach && reach == def.Reach:
		return AtReach
	case onIt && (in || onlyPath):
		return AtLateral
	case in:
		return AtGroup
	case onIt:
		return WrongPart
	}
	return Wrong
}
