package bench

import (
	"math"

	"zanjero/core/machine"
)

// Tests that run the engine, and what is asked and looked over first.
var runReaders = map[string]reader{
	"start-attempt": func(m *machine.Machine, s setup, d machine.Draws) reading {
		return startReading(m, m.Attempt(clearFirst(m, s.attempt()), d))
	},
	"run-load":    loaded,
	"hot-restart": loaded,
	"screw-sweep": loaded,
	"plug-swap": func(m *machine.Machine, s setup, d machine.Draws) reading {
		// A plug known to be good stands in for the attempt, then comes out again.
		try := m.Clone()
		try.Mend("plug-fouled", "plug-gap-wrong", "plug-cracked")
		try.DryPlug()
		return startReading(m, try.Attempt(s.attempt(), d))
	},
	"run-filter-off": func(m *machine.Machine, s setup, d machine.Draws) reading {
		m.Uncover(true, false)
		defer m.Uncover(false, false)
		return startReading(m, m.Attempt(clearFirst(m, s.attempt()), d))
	},
	"muffler-off-run": func(m *machine.Machine, s setup, d machine.Draws) reading {
		m.Uncover(false, true)
		defer m.Uncover(false, false)
		return startReading(m, m.Attempt(clearFirst(m, s.attempt()), d))
	},
	"oil-restore-run": func(m *machine.Machine, s setup, d machine.Draws) reading {
		m.TopUpOil()
		return startReading(m, m.Attempt(clearFirst(m, s.attempt()), d))
	},
	"run-choke-off": func(m *machine.Machine, s setup, d machine.Draws) reading {
		r := startReading(m, m.ChokeOff(clearFirst(m, s.attempt()), d))
		r.warm = m.State().EngineC >= 40
		return r
	},
	"run-long":      longReading,
	"run-cap-loose": longReading,
	"dose-intake": func(m *machine.Machine, s setup, d machine.Draws) reading {
		a := s.attempt()
		a.DoseML = s.doseML
		return startReading(m, m.Dose(a, d))
	},
	"dose-cylinder": func(m *machine.Machine, s setup, d machine.Draws) reading {
		a := s.attempt()
		a.DoseML = math.Min(s.doseML, 2)
		return startReading(m, m.Dose(a, d))
	},
	"run-idle": tachometer(machine.LoadIdle),
	"run-full": tachometer(machine.LoadNone),
	"run-listen": func(m *machine.Machine, s setup, d machine.Draws) reading {
		if !running(m, s, d) {
			return sure("no-run")
		}
		in := m.Inside()
		switch {
		case in.GasketTrack || in.ValveOpen:
			return sure("hisses")
		case in.NutLoose > 0 || in.CrankBent:
			return grades(in.Noise, []float64{0.25}, 0.06, "even", "rattles")
		case in.Noise > 0 || in.OilLevel < 0.4:
			return grades(in.Noise+math.Max(0, 0.4-in.OilLevel), []float64{0.2}, 0.05, "even", "knocks")
		}
		return sure("even")
	},
	"ask-history": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.Stale > 0.2 || in.Debris > 0.2 || in.MainOpen < 0.9:
			return reading{word: "stored", chances: map[string]float64{"stored": 0.7, "nothing-told": 0.3}}
		case math.Abs(in.KeyDegrees) > 3 || in.CrankBent:
			return reading{word: "struck", chances: map[string]float64{"struck": 0.6, "nothing-told": 0.4}}
		case in.SpringOff || in.Rocks || in.BreatherOff:
			return reading{word: "worked-on", chances: map[string]float64{"worked-on": 0.6, "nothing-told": 0.4}}
		case in.RingLeak > 2*in.HealthyRingLeak:
			return reading{word: "worked-hard", chances: map[string]float64{"worked-hard": 0.6, "nothing-told": 0.4}}
		}
		return reading{word: "nothing-told", chances: map[string]float64{"nothing-told": 0.7, "stored": 0.3}}
	},
	"look-over": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		if in.SpringOff || in.BreatherOff {
			return sure("hangs-loose")
		}
		return grades(in.Weep, []float64{0.35}, 0.06, "sound", "weeps")
	},
	"look-plate": func(*machine.Machine, setup, machine.Draws) reading { return sure("right-sheet") },
}

// loaded is an attempt with its brief working load, which is what is judged.
func loaded(m *machine.Machine, s setup, d machine.Draws) reading {
	return startReading(m, m.Attempt(clearFirst(m, s.attempt()), d))
}

// running starts the engine if it will, and says whether it keeps running.
func running(m *machine.Machine, s setup, d machine.Draws) bool {
	switch m.Attempt(clearFirst(m, s.attempt()), d).Word {
	case "locked", "no-fire", "kicks-back", "runs-backwards", "fires-and-dies":
		return false
	}
	return true
}

// tachometer counts pulses, and shows the speed of an engine that gives one a
// turn when it is set to one.
func tachometer(l machine.Load) reader {
	return func(m *machine.Machine, s setup, d machine.Draws) reading {
		r := reading{warm: true}
		if running(m, s, d) {
			r.value = m.Speed(l) * pulsesPerRev / s.perRev
		}
		r.warm = m.State().EngineC >= 40
		return r
	}
}
