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
		m.OilBore()
		return gauge(m, s, d)
	},
	"leak-down": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		held, hiss := m.LeakDown()
		if !s.atTDC { // a valve stands open
			held, hiss = 0, "exhaust"
		}
		return reading{value: 100 * (80 - held) / 80, also: map[string]any{"hiss": hiss}}
	},
	"pull-feel": func(m *machine.Machine, _ setup, _ machine.Draws) reading { return sure(m.Feel()) },
	"thumb-hole": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		ratio := m.PeakKPa(m.PullRPM(0, s.slow)) / 101.325
		return grades(ratio, []float64{1.6, 3.2}, 0.15, "none", "weak", "pushes-off")
	},
	"valve-clearance": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		mm := m.Sheet()["valve_in_mm"].Middle() + m.Inside().ValveShift
		if m.State().EngineC > 60 {
			mm -= 0.04 // hot parts are longer
		}
		return reading{value: math.Max(mm, 0)}
	},
	"head-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
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
		in := m.Inside()
		if in.Scored > 0 {
			return grades(in.Scored, []float64{0.2}, 0.04, "worn", "scored")
		}
		return grades(in.RingLeak/in.HealthyRingLeak, []float64{2.2}, 0.25, "clean", "worn")
	},
	"crankcase-pressure": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		return reading{value: 48 * math.Max(1-1.1*m.Inside().Seal, 0)}
	},
	"look-oil": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		level := m.Inside().OilLevel
		if s.controls.Tilt != machine.Level {
			level -= 0.3
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
	kpa, rpm := 0.0, m.PullRPM(0, s.slow)
	for range s.pulls {
		kpa = m.GaugeStep(kpa, rpm)
	}
	psi, _ := units.Convert(kpa, units.KPa, units.PSI)
	if !s.zeroed {
		psi += RestReadingPSI
	}
	return reading{value: psi}
}
