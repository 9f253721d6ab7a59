package bench

import (
	"fmt"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/reading"
)

// Film has a master start a machine with faults in it and let it run, and shows
// frame by frame what goes on inside. It is for lessons and debriefs: it tells
// all that is hidden.
func Film(family string, sheet catalogue.Sheet, amb machine.Ambient, faults []machine.FaultSpec, minutes float64, load machine.Load,
) (out machine.Film, p *problem.Problem) {
	fam := catalogue.Standard().Family(family)
	if fam == nil {
		return out, problem.New("family", "bench.no-engine-family", "family", family)
	}
	for i, f := range faults {
		if p := machine.CheckFault(fmt.Sprintf("faults[%d]", i), f, fam); p != nil {
			return out, p
		}
	}
	if p := machine.CheckTogether("faults", faults); p != nil {
		return out, p
	}
	s, err := NewSession(family, sheet, amb, faults, Options{Technique: Ideal, FuelML: -1})
	if err != nil {
		return out, problem.New("machine", "bench.sheet-refused", "detail", err.Error())
	}
	t := s.TestOf("start-attempt")
	su := s.SetupFor(t, nil)
	s.m.SetControls(su.Controls)
	if su.Primer > 0 {
		s.m.Prime(su.Primer)
	}
	return s.m.Film(reading.ClearFirst(s.m, su.Attempt()), machine.Draws{}, minutes, load), nil
}
