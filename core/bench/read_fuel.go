package bench

import (
	"math"

	"zanjero/core/machine"
)

// Tests along the fuel lateral.
var fuelReaders = map[string]reader{
	"look-fuel": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.FuelML < 30:
			return sure("empty")
		case in.Water > 0.05 && !s.dim:
			return grades(in.Water, []float64{0.2}, 0.05, "clear", "beads")
		case in.TwoStroke && in.NoOil > 0:
			return grades(in.NoOil, []float64{0.3}, 0.08, "clear", "no-oil")
		case in.OilRich > 0:
			return grades(in.OilRich, []float64{0.4}, 0.1, "clear", "oily")
		case s.dim:
			return sure("clear")
		}
		return grades(in.Stale, []float64{0.3}, 0.07, "clear", "stale")
	},
	"jar-fuel": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		share := math.Max(m.Inside().Ethanol*100, 5)
		if !s.measured {
			share *= 1.4 // poured by eye
		}
		return reading{value: share + 10*m.Inside().Water}
	},
	"fuel-flow": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		flow := m.FlowMLMin()
		m.DrawFuel(flow * s.seconds / 60)
		return reading{value: flow}
	},
	"vent-hiss": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		r := grades(m.State().TankVacuumKPa, []float64{0.35}, 0.06, "silent", "hiss")
		m.Breathe()
		return r
	},
	"vent-blow": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		m.Breathe()
		return grades(1-m.Inside().VentPass, []float64{0.72, 0.97}, 0.02, "passes", "stiff", "blocked")
	},
	"line-pressure": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		return reading{value: 50 * (1 - math.Min(math.Max(in.Weep, in.LineAir), 1))}
	},
	"filter-blow": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		return grades(1-m.Inside().FilterPass, []float64{0.45, 0.93}, 0.04, "passes", "stiff", "blocked")
	},
	"line-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.LineAir > 0.05:
			return grades(in.LineAir, []float64{0.2}, 0.05, "sound", "bubbles")
		case in.Weep > 0:
			return grades(in.Weep, []float64{0.25}, 0.06, "sound", "weeps")
		}
		return grades(1-in.LinePass, []float64{0.5}, 0.06, "sound", "kinked")
	},
	"primer-press": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		if m.State().FuelML < 30 || in.NeedleOpen < 0.1 {
			return sure("hard")
		}
		return grades(1-in.PrimerFills, []float64{0.4, 0.85}, 0.05, "fills", "hard", "split")
	},
	"bowl-drain": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		ml := m.DrainBowl()
		r := reading{value: ml}
		if in := m.Inside(); in.Water > 0.15 {
			r.also = map[string]any{"with": "water"}
		} else if in.Debris > 0.3 {
			r.also = map[string]any{"with": "grit"}
		}
		return r
	},
	"bowl-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.Water > 0.1:
			return grades(in.Water, []float64{0.2}, 0.05, "clean", "water")
		case in.Debris > 0:
			return grades(in.Debris, []float64{0.25}, 0.06, "clean", "grit")
		}
		return grades(math.Max(in.Stale, 0.6*(1-in.MainOpen)), []float64{0.35}, 0.08, "clean", "varnish")
	},
	"jet-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading { return jetReading(m) },
	"needle-test": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		return reading{value: 130 * (1 + 0.5*in.Stiff) / math.Max(in.NeedleOpen, 0.2) * math.Max(1-in.NeedleLeak/1.6, 0)}
	},
	"float-check": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.FloatSunk:
			return sure("sunk")
		case in.NeedleOpen < 0.9:
			return grades(1-in.NeedleOpen, []float64{0.5}, 0.06, "shuts-off", "stuck")
		}
		return grades(in.NeedleLeak/1.6, []float64{0.2}, 0.05, "shuts-off", "leaks")
	},
	"passage-trace": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.MainOpen < 0.06:
			return sure("main-shut")
		case in.PilotOpen < 0.4:
			return sure("idle-shut")
		case in.SideHoles < 0.6:
			return sure("side-holes-shut")
		}
		return grades(1-math.Min(in.MainOpen, 1), []float64{0.18}, 0.04, "all-pass", "main-part")
	},
	"diaphragm-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		if in.Stiff > 0 {
			return grades(in.Stiff, []float64{0.3}, 0.08, "supple", "stiff")
		}
		torn := math.Max(1-in.Metering, 1-in.PumpEff)
		if m.ChokesItself() {
			torn = math.Max(torn, math.Max(in.ChokeLeast, 1-in.ChokeMost))
		}
		return grades(torn, []float64{0.25}, 0.06, "supple", "torn")
	},
	"screw-count": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		return reading{value: m.Sheet()["screw_turns"].Middle() * m.Inside().ScrewTurns}
	},
	"gasket-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		if in.TwoStroke && in.PumpEff < 0.7 && in.LineAir == 0 {
			return reading{word: "reversed", chances: map[string]float64{"reversed": 0.6, "sound": 0.4}}
		}
		return grades(in.FalseAir, []float64{0.025}, 0.006, "sound", "torn")
	},
	"fuel-cut-click": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		if m.Inside().CutStuck {
			return sure("silent")
		}
		return sure("clicks")
	},
}
