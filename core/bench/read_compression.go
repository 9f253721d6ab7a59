package bench

import (
	"math"

	"zanjero/core/machine"
	"zanjero/core/units"
)

// Tests along the compression lateral and beside it.
var compressionReaders = map[string]reader{
	"compression-dry": gauge,
	"compression-wet": func(m *machine.Machine, s setup, d machine.Draws) reading {
		m.OilBore(s.oilML)
		return gauge(m, s, d)
	},
	"leak-down": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		// The gauge is marked for the supply by the book.
		held, hiss := m.LeakDown(s.supplyPSI)
		if !s.atTDC || !s.crankHeld { // a valve stands open, or the crank has turned
			held, hiss = 0, "exhaust"
		}
		return reading{value: 100 * (ruleSupplyPSI - held) / ruleSupplyPSI, also: map[string]any{"hiss": hiss}}
	},
	"pull-feel": func(m *machine.Machine, _ setup, _ machine.Draws) reading { return sure(m.Feel()) },
	"thumb-hole": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		ratio := m.PeakKPa(m.PullRPM(0, s.slow), 0) / 101.325
		return grades(ratio, []float64{1.6, 3.2}, 0.15, "none", "weak", "pushes-off")
	},
	"valve-clearance": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		if !s.atTDC { // the cam stands under it
			return reading{}
		}
		mm := m.Sheet()["valve_in_mm"].Middle() + m.Inside().ValveShift
		if m.State().EngineC > 60 {
			mm -= 0.04 // hot parts are longer
		}
		return reading{value: max(mm, 0)}
	},
	"head-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		if m.State().EngineC >= 60 { // a head that comes off hot warps
			m.Inflict(machine.FaultSpec{ID: "head-gasket-leaks", Severity: 0.25})
		}
		in := m.Inside()
		switch {
		case in.GasketTrack:
			return sure("gasket-track")
		case in.ValveOpen:
			return sure("valve-open")
		}
		return sure("sound")
	},
	"breather-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		if m.Inside().BreatherOff {
			return sure("off")
		}
		return sure("on")
	},
	"look-piston": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in, haste := m.Inside(), hotHands(m)
		if in.Scored > 0 {
			return grades(in.Scored, []float64{0.2}, 0.04*haste, "worn", "scored")
		}
		return grades(in.RingLeak/in.HealthyRingLeak, []float64{2.2}, 0.25*haste, "clean", "worn")
	},
	"crankcase-pressure": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		if !s.blanked { // it leaves by the ports
			return reading{}
		}
		return reading{value: 48 * max(1-1.1*m.Inside().Seal, 0)}
	},
	"look-oil": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		level := m.Inside().OilLevel
		if s.controls.Tilt != machine.Level {
			level -= 0.3
		}
		if thin := m.Inside().OilFuel; thin > 0.02 { // it smells of petrol
			return grades(thin, []float64{0.06}, 0.012, "at-mark", "thin")
		}
		return grades(level, []float64{0.75, 1.2}, 0.05, "low", "at-mark", "over")
	},
	"look-fins": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		return grades(m.Inside().FinsPacked, []float64{0.2, 0.65}, 0.05, "clear", "part-packed", "packed")
	},
	"look-driven": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.CrankBent:
			return sure("bent")
		case math.Abs(in.KeyDegrees) > 3 && !in.KeyWhole && in.NutLoose == 0:
			return reading{word: "struck", chances: map[string]float64{"struck": 0.6, "sound": 0.4}}
		}
		return sure("sound")
	},
}

// gauge pulls until the set-up's pulls are used, with its check valve and the
// reading that it rests on if nobody zeroed it.
func gauge(m *machine.Machine, s setup, _ machine.Draws) reading {
	if s.purged {
		m.SpinOut()
	}
	if s.controls.PlugLead != machine.LeadEarthed { // the spark has nowhere to go
		m.StrainCoil(s.pulls)
	}
	kpa, rpm := 0.0, m.PullRPM(0, s.slow)
	for range s.pulls {
		kpa = m.GaugeStep(kpa, rpm, s.hoseML())
	}
	psi, _ := units.Convert(kpa, units.KPa, units.PSI)
	if !s.zeroed {
		psi += RestReadingPSI
	}
	return reading{value: psi}
}

// hotHands is how much more a look is blurred that is taken with hot parts in
// the way.
func hotHands(m *machine.Machine) float64 {
	if m.State().EngineC >= 60 {
		return 4
	}
	return 1
}
