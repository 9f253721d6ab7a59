package bench

import (
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
		if !s.proved && d.Shake > 1 {
			// One untried plug in six is itself bad (common practice).
			return startReading(m, machine.Start{Word: "no-fire", Pulls: s.pulls, Smoke: "none"})
		}
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
		r := startReading(m, m.ChokeOff(clearFirst(m, s.attempt()), d, !s.coldRun))
		r.warm = m.State().EngineC >= 40 && !s.coldRun
		return r
	},
	"run-long":      longReading,
	"run-cap-loose": longReading,
	"dose-intake": func(m *machine.Machine, s setup, d machine.Draws) reading {
		a := s.attempt()
		a.DoseML = doseML(m, s)
		return startReading(m, m.Dose(a, d))
	},
	"dose-cylinder": func(m *machine.Machine, s setup, d machine.Draws) reading {
		a := s.attempt()
		a.DoseML = min(doseML(m, s), 2)
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
			return grades(in.Noise+max(0, 0.4-in.OilLevel), []float64{0.2}, 0.05, "even", "knocks")
		}
		return sure("even")
	},
	"ask-history": func(m *machine.Machine, _ setup, _ machine.Draws) reading { return history(m) },
	"look-over": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.SpringOff || in.BreatherOff:
			return sure("hangs-loose")
		case in.ScrewLost:
			return sure("screw-missing")
		case m.State().SpiltML > 5:
			return sure("spilt")
		}
		return grades(in.Weep, []float64{0.35}, 0.06, "sound", "weeps")
	},
	"look-plate": func(_ *machine.Machine, s setup, _ machine.Draws) reading {
		if s.otherSheet {
			return sure("wrong-sheet")
		}
		return sure("right-sheet")
	},
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

// doseML is what a dose comes to in ml of petrol. Spray lights more easily, a
// brake cleaner hardly burns; neither brings a two-stroke its oil.
func doseML(m *machine.Machine, s setup) float64 {
	if s.doseOf != "mixed-fuel" {
		m.RunDry()
	}
	return s.doseML * map[string]float64{"petrol": 1, "mixed-fuel": 1, "starting-spray": 1.3, "brake-cleaner": 0.4}[s.doseOf]
}

// told is the word for what an owner tells of a cause.
var told = map[string]string{
	"stored-with-fuel": "stored", "gum": "stored", "stored-open": "left-open", "wrong-fuel": "wrong-fuel", "debris": "dirty-work", "dust": "dirty-work",
	"struck-object": "struck", "tipped-wrong": "tipped", "repair-mistake": "worked-on", "wrong-part": "worked-on", "handling": "worked-on",
	"age-wear": "worked-hard", "chafe": "worked-hard", "vibration": "worked-hard", "running-rich": "smoked", "running-lean": "ran-hot", "overheated": "ran-hot",
}

// tells is how often an owner tells what led to it; owners omit and err
// (common practice; size chosen by us).
const tells = 0.65

// history is what the owner answers: what led to what is wrong, or nothing.
func history(m *machine.Machine) reading {
	ch := map[string]float64{}
	for cause, weight := range m.History() {
		if w, ok := told[cause]; ok {
			ch[w] += tells * weight
		}
	}
	silent := 1.0
	for _, p := range ch {
		silent -= p
	}
	ch["nothing-told"] = silent
	return reading{word: likeliest(ch), chances: ch}
}
