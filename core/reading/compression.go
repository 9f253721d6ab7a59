package reading

import (
	"math"

	"zanjero/core/machine"
	"zanjero/core/setup"
	"zanjero/core/units"
)

// Tests along the compression lateral and beside it.
var compressionReaders = map[string]reader{
	"compression-dry": gauge,
	"compression-wet": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		m.OilBore(s.OilML)
		return gauge(m, s, d)
	},
	"leak-down": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		// The gauge is marked for the supply by the book.
		held, hiss := m.LeakDown(s.SupplyPSI)
		if !s.AtTDC || !s.CrankHeld { // a valve stands open, or the crank has turned
			held, hiss = 0, "exhaust"
		}
		return Reading{Value: 100 * (setup.RuleSupplyPSI - held) / setup.RuleSupplyPSI, Also: map[string]any{"hiss": hiss},
			Parts: words(map[string]string{"hiss": hiss})}
	},
	"pull-feel": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading { return sure(m.Feel()) },
	"thumb-hole": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		ratio := m.PeakKPa(m.PullRPM(0, s.Slow), 0) / 101.325
		return grades(ratio, []float64{1.6, 3.2}, 0.15, "none", "weak", "pushes-off")
	},
	"valve-clearance": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		if !s.AtTDC { // the cam stands under it
			return Reading{Parts: map[string]Reading{"ex": {}}}
		}
		in := m.Inside()
		clear := func(figure string, shift float64) float64 {
			mm := m.Sheet()[figure].Middle() + shift
			if m.State().EngineC > 60 {
				mm -= 0.04 // hot parts are longer
			}
			return max(mm, 0)
		}
		return Reading{Value: clear("valve_in_mm", in.InletShift), Parts: map[string]Reading{"ex": {Value: clear("valve_ex_mm", in.ExhaustShift)}}}
	},
	"head-look": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		if m.State().EngineC >= 60 { // a head that comes off hot warps
			m.Inflict(machine.FaultSpec{ID: "head-gasket-leaks", Severity: 0.25})
		}
		in := m.Inside()
		switch {
		case in.GasketTrack:
			return sure("gasket-track")
		case in.ValveBurnt > 0.15: // before that its edge only looks dark
			return sure("valve-burnt")
		case in.ValveOpen:
			return sure("valve-open")
		}
		return sure("sound")
	},
	"breather-look": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		if m.Inside().BreatherOff {
			return sure("off")
		}
		return sure("on")
	},
	"look-piston": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in, haste := m.Inside(), hotHands(m)
		if in.PortShut > 0.1 { // it is seen before the piston is
			return grades(in.PortShut, []float64{0.2}, 0.04*haste, "clean", "carboned")
		}
		if in.Scored > 0 {
			return grades(in.Scored, []float64{0.2}, 0.04*haste, "worn", "scored")
		}
		return grades(in.RingLeak/in.HealthyRingLeak, []float64{2.2}, 0.25*haste, "clean", "worn")
	},
	"crankcase-pressure": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		if !s.Blanked { // it leaves by the ports
			return Reading{}
		}
		return Reading{Value: caseKPa * max(1-1.1*m.Inside().SealOut, 0)}
	},
	"crankcase-vacuum": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		if !s.Blanked {
			return Reading{}
		}
		return Reading{Value: caseKPa * max(1-1.1*m.Inside().Seal, 0)}
	},
	"plug-torque": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		return Reading{Value: m.Sheet()["plug_torque_nm"].Middle() * m.Inside().PlugHeld}
	},
	"head-torque": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		return Reading{Value: m.Sheet()["head_torque_nm"].Middle() * m.Inside().HeadHeld}
	},
	"turn-by-hand": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		liquid := m.HydroLocked() || m.State().CylinderML > 1
		m.ThrowOut() // what stands on the piston leaves by the plug's hole
		switch {
		case !m.TurnsByHand():
			return sure("locked")
		case liquid:
			return sure("liquid")
		case m.Feel() == "drags":
			return sure("tight")
		}
		return sure("free")
	},
	"look-oil": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		level := m.Inside().OilLevel
		if s.Controls.Tilt != machine.Level {
			level -= 0.3
		}
		if thin := m.Inside().OilFuel; thin > 0.02 { // it smells of petrol
			return grades(thin, []float64{0.06}, 0.012, "at-mark", "thin")
		}
		return grades(level, []float64{0.75, 1.2}, 0.05, "low", "at-mark", "over")
	},
	"look-fins": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		return grades(m.Inside().FinsPacked, []float64{0.2, 0.65}, 0.05, "clear", "part-packed", "packed")
	},
	"look-driven": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.BladeLoose > 0:
			return grades(in.BladeLoose, []float64{0.2}, 0.04, "sound", "loose")
		case in.CrankBent:
			return sure("bent")
		case math.Abs(in.KeyDegrees) > 3 && !in.KeyWhole && in.NutLoose == 0:
			return Reading{Word: "struck", Chances: map[string]float64{"struck": 0.6, "sound": 0.4}}
		}
		return sure("sound")
	},
}

// caseKPa is what a sound crankcase has left of 50 kPa after a minute, of pressure or
// of vacuum.
const caseKPa = 48

// gauge pulls until the set-up's pulls are used, with its check valve and the
// reading that it rests on if nobody zeroed it.
func gauge(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
	if s.Purged {
		m.SpinOut()
	}
	if s.Controls.PlugLead != machine.LeadEarthed { // the spark has nowhere to go
		m.StrainCoil(s.Pulls)
	}
	kpa, rpm := 0.0, m.PullRPM(0, s.Slow)
	for range s.Pulls {
		kpa = m.GaugeStep(kpa, rpm, s.HoseML())
	}
	psi, _ := units.Convert(kpa, units.KPa, units.PSI)
	if !s.Zeroed {
		psi += RestReadingPSI
	}
	return Reading{Value: psi}
}

// hotHands is how much more a look is blurred that is taken with hot parts in
// the way.
func hotHands(m *machine.Machine) float64 {
	if m.State().EngineC >= 60 {
		return 4
	}
	return 1
}
