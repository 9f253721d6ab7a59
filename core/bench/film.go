package bench

import (
	"fmt"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// Film has a master start a machine with faults in it and let it run, and shows
// frame by frame what goes on inside. It is for lessons and debriefs: it tells
// all that is hidden.
func Film(family string, sheet catalogue.Sheet, amb machine.Ambient, faults []machine.FaultSpec, minutes float64, load machine.Load) ([]machine.Frame, *catalogue.Problem) {
	fam := catalogue.Standard().Family(family)
	if fam == nil {
		return nil, catalogue.NewProblem("family", fmt.Sprintf("there is no engine family %q", family), "choose a machine of the yard")
	}
	for i, f := range faults {
		if p := CheckFault(fmt.Sprintf("faults[%d]", i), f, fam); p != nil {
			return nil, p
		}
	}
	if p := CheckTogether("faults", faults); p != nil {
		return nil, p
	}
	s, err := NewSession(family, sheet, amb, faults, Options{Technique: Ideal, FuelML: -1})
	if err != nil {
		return nil, catalogue.NewProblem("machine", err.Error(), "mend the figure it names")
	}
	t := s.TestOf("start-attempt")
	su := s.SetupFor(t, nil)
	s.m.SetControls(su.controls)
	if su.primer > 0 {
		s.m.Prime(su.primer)
	}
	return s.m.Film(clearFirst(s.m, su.attempt()), machine.Draws{}, minutes, load), nil
}
