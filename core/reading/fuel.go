package reading

import (
	"math"

	"zanjero/core/machine"
	"zanjero/core/setup"
)

// Tests along the fuel lateral.
var fuelReaders = map[string]reader{
	"look-fuel": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.FuelML < 30:
			return sure("empty")
		case in.Water > 0.05 && !s.Dim:
			return grades(in.Water, []float64{0.2}, 0.05, "clear", "beads")
		case in.TwoStroke && in.NoOil > 0:
			return grades(in.NoOil, []float64{0.3}, 0.08, "clear", "no-oil")
		case in.OilRich > 0:
			return grades(in.OilRich, []float64{0.4}, 0.1, "clear", "oily")
		case s.Dim:
			return sure("clear")
		}
		return grades(in.Stale, []float64{0.3}, 0.07, "clear", "stale")
	},
	"jar-fuel": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		share := max(m.Inside().Ethanol*100, 5)
		if !s.Measured {
			share *= 1.4 // poured by eye
		}
		return Reading{Value: share + 10*m.Inside().Water}
	},
	"fuel-flow": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		ml := m.CupML(s.Seconds)
		m.DrawFuel(ml)
		return Reading{Value: ml * 60 / s.Seconds}
	},
	"vent-hiss": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		loud := 0.35
		if s.Noisy {
			loud = 2.5 // only a strong one is heard
		}
		r := grades(m.State().TankVacuumKPa, []float64{loud}, 0.06, "silent", "hiss")
		m.Breathe()
		return r
	},
	"vent-blow": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		m.Breathe()
		in := m.Inside()
		switch {
		case in.SealSwollen > 0: // its seal stands over the hole once it is screwed down
			return grades(in.SealSwollen, []float64{0.3}, 0.05, "passes", "seal-swollen")
		case s.CompressedAir: // it passes now, and the dirt falls back
			m.BlastVent()
			return sure("passes")
		case in.VentDrilled:
			return sure("drilled")
		case s.Outward && in.OneWayVent: // a valve that lets air in lets none out
			return sure("blocked")
		}
		// A bulb feels the tenfold: stiff below a third of the air, blocked below the
		// hundredth that no longer feeds an engine.
		return grades(-math.Log10(max(in.VentPass, 1e-6))*(1-in.VentBlown), []float64{0.5, 1.9}, 0.06, "passes", "stiff", "blocked")
	},
	"line-pressure": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		if !s.EndsClosed {
			return Reading{}
		}
		in := m.Inside()
		return Reading{Value: 50 * (1 - in.LineCracked)} // its two ends are closed, so only itself leaks
	},
	"filter-blow": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		return grades(1-m.Inside().FilterPass, []float64{0.45, 0.93}, 0.04, "passes", "stiff", "blocked")
	},
	"line-look": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.Bubbles > 0.3:
			return sure("bubbles")
		case in.NearHeat > 0:
			return grades(in.NearHeat, []float64{0.25}, 0.06, "sound", "near-heat")
		case in.LineAir > 0.05 && in.RunsBack == 0:
			return grades(in.LineAir, []float64{0.2}, 0.05, "sound", "bubbles")
		case in.Weep > 0:
			return grades(in.Weep, []float64{0.25}, 0.06, "sound", "weeps")
		}
		return grades(1-in.LinePass, []float64{0.5}, 0.06, "sound", "kinked")
	},
	"primer-press": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		// Nothing comes to fill it: no fuel, no pick-up in it, or no way through.
		if m.State().FuelML < 30 || in.NeedleOpen < 0.1 || in.PickupOff || (in.TwoStroke && min(in.LinePass, in.FilterPass) < 0.1) {
			return sure("hard")
		}
		if in.RunsBack > 0 {
			return grades(in.RunsBack, []float64{0.35}, 0.05, "fills", "runs-back")
		}
		return grades(1-in.PrimerFills, []float64{0.4, 0.85}, 0.05, "fills", "hard", "split")
	},
	"bowl-drain": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		m.Refill() // one that was opened fills first
		ml := m.DrainBowl()
		r := Reading{Value: ml, Parts: words(map[string]string{"with": "clear"})}
		with := ""
		if in := m.Inside(); in.Water > 0.15 {
			with = "water"
		} else if in.Debris > 0.3 {
			with = "grit"
		}
		if with != "" && ml > 0.5 {
			r.Also, r.Parts = map[string]any{"with": with}, words(map[string]string{"with": with})
		}
		return r
	},
	"bowl-look": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		r := grades(max(in.Stale, 0.6*(1-in.MainOpen)), []float64{0.35}, 0.08, "clean", "varnish")
		switch {
		case in.Water > 0.1:
			r = grades(in.Water, []float64{0.2}, 0.05, "clean", "water")
		case in.Debris > 0:
			r = grades(in.Debris, []float64{0.25}, 0.06, "clean", "grit")
		}
		r.Parts = map[string]Reading{"level": grades(m.OpenedShare(), []float64{0.08, 0.7}, 0.04, "empty", "low", "full")}
		return r
	},
	"jet-look": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading { return jetReading(m) },
	"needle-test": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		pop := m.Sheet()["needle_pop_kpa"].Middle() * (1 + 0.5*in.Stiff) / max(in.NeedleOpen, 0.2)
		// A needle that leaks does not hold what it opened at.
		holds := max(1-in.NeedleLeak/1.6, 0)
		if !s.Wetted {
			pop, holds = 0.8*pop, 0.9*holds
		}
		return Reading{Value: pop * holds, Also: map[string]any{"holds": holds > 0.85}}
	},
	"float-check": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		height, shuts := m.Sheet()["float_mm"].Middle(), "shuts-off"
		switch {
		case in.FloatSunk: // upside down it lies on the needle as a dry one does, only harder
			height -= 0.3
		case in.NeedleOpen < 0.6:
			shuts = "stuck"
		case in.NeedleLeak > 0.3:
			shuts = "leaks"
		}
		if !s.UpsideDown { // it hangs on its tang
			height, shuts = height+9, "leaks"
		}
		float := "dry"
		if in.FloatSunk { // shaken, it is heard
			float = "sloshes"
		}
		return Reading{Value: height, Also: map[string]any{"needle": shuts}, Parts: words(map[string]string{"needle": shuts, "float": float})}
	},
	"passage-trace": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		if s.Harsh {
			m.Inflict(machine.FaultSpec{ID: "gasket-swollen", Severity: 0.7})
		}
		in := m.Inside()
		switch {
		case in.MainFlow > 1.15 && in.MainOpen > 0.9 && !m.HasScrews():
			return sure("main-large")
		case in.MainOpen < 0.06:
			return sure("main-shut")
		case in.PilotOpen < 0.4:
			return sure("idle-shut")
		case in.SideHoles < 0.6:
			return sure("side-holes-shut")
		}
		return grades(1-min(in.MainOpen, 1), []float64{0.18}, 0.04, "all-pass", "main-part")
	},
	"diaphragm-look": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		defer misplace(m, s, d)
		in := m.Inside()
		if in.Stiff > 0 {
			return grades(in.Stiff, []float64{0.3}, 0.08, "supple", "stiff")
		}
		return grades(in.TornDiaphragm, []float64{0.25}, 0.06, "supple", "torn")
	},
	"screw-count": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		turns := m.Sheet()["screw_turns"].Middle()
		r := Reading{Value: turns * in.ScrewHigh, Parts: map[string]Reading{"low": {Value: turns * in.ScrewLow}}}
		if s.HardSeat { // driven into its seat, it counts more and meters more after
			r.Value += hardSeatTurns
			m.Inflict(machine.FaultSpec{ID: "jet-oversize", Severity: 0.15})
		}
		if in.LimitersOff {
			r.Also = map[string]any{"limiters": "off"}
		}
		return r
	},
	"gasket-look": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		defer misplace(m, s, d)
		in := m.Inside()
		if in.Swollen {
			return grades(in.FalseAir, []float64{0.012}, 0.004, "sound", "swollen")
		}
		if in.PumpReversed {
			return Reading{Word: "reversed", Chances: map[string]float64{"reversed": 0.6, "sound": 0.4}}
		}
		return grades(in.FalseAir, []float64{0.025}, 0.006, "sound", "torn")
	},
	"fuel-cut-click": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		if m.Inside().CutStuck {
			return sure("silent")
		}
		return sure("clicks")
	},
}

// misplace is what comes of taking apart what nobody noted the lie of: one
// time in three it goes back the wrong way round (common practice).
func misplace(m *machine.Machine, s setup.Setup, d machine.Draws) {
	if !s.Misplaced || d.Threshold < 0.44 {
		return
	}
	if m.TwoStroke() {
		m.Inflict(machine.FaultSpec{ID: "pulse-blocked", Severity: 0.7})
	} else {
		m.Inflict(machine.FaultSpec{ID: "carb-gasket-leak", Severity: 0.7})
	}
}
