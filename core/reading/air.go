package reading

import (
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// Tests along the air lateral.
var airReaders = map[string]reader{
	"look-filter": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.Rag:
			return sure("rag")
		case in.Nest:
			return sure("nest")
		case in.FilterTorn:
			return sure("torn")
		case in.FilterOily:
			return sure("oily")
		case in.FilterFuelWet:
			return sure("fuel-wet")
		}
		return grades(in.FilterShut, []float64{0.25, 0.65}, 0.04, "clean", "part-clogged", "clogged")
	},
	"look-choke": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		if in.ChokeLeast > 0 {
			return grades(in.ChokeLeast, []float64{0.2}, 0.04, "closes-and-opens", "does-not-open")
		}
		return grades(1-in.ChokeMost, []float64{0.2}, 0.04, "closes-and-opens", "does-not-close")
	},
	"look-governor": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.SpringOff:
			return sure("spring-off")
		case in.ThrottleSticks:
			return sure("sticks")
		case in.WrongHole:
			return sure("wrong-hole")
		case in.Overspeed:
			return sure("shortened")
		}
		return sure("sound")
	},
	"look-arrestor": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.ScreenHoled:
			return sure("holed")
		case in.MufflerNest > 0:
			return grades(in.MufflerNest, []float64{0.12}, 0.03, "clear", "nest")
		}
		return grades(in.ArrestorShut, []float64{0.25, 0.7}, 0.04*hotHands(m), "clear", "part-clogged", "clogged")
	},
	"cable-ends": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.CableStops > 0:
			return sure("stays-in-stop")
		case in.BarSlack > 0:
			return grades(in.BarSlack, []float64{0.2}, 0.04, "full-travel", "bar-slack")
		}
		return grades(in.CableShort, []float64{0.15}, 0.04, "full-travel", "short-of-choke")
	},
	"joint-wiggle": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		if in := m.Inside(); in.Rocks {
			return grades(in.FalseAir, []float64{0.02}, 0.004, "tight", "moves")
		}
		return sure("tight")
	},
	"joint-leak": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		in := m.Inside()
		// It has to run for its speed to change; a little choke keeps it going.
		if !running(m, s, d) {
			return sure("no-run")
		}
		if s.FuelMist { // the intake drinks it from the air, leak or none
			return sure("changes")
		}
		return grades(max(in.FalseAir, 0.05*in.Seal), []float64{0.02}, 0.004, "no-change", "changes")
	},
}
