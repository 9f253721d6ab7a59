package reading

import (
	"maps"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// opening is what a test does to an engine before it cranks it for the first time,
// and the attempt that it then makes. A plug that is itself bad makes no pull that
// could fire.
func opening(m *machine.Machine, test string, s setup.Setup, d machine.Draws) machine.Attempt {
	switch test {
	case "plug-swap":
		if !s.Proved && d.Shake > 1 { // one untried plug in six is itself bad (common practice)
			return machine.Attempt{}
		}
		m.Mend("plug-fouled", "plug-gap-wrong", "plug-cracked", "plug-wrong-heat", "plug-gritted")
		m.DryPlug()
		return s.Attempt()
	case "run-filter-off":
		m.Uncover(true, false) // the element comes out, the housing stays bolted
	case "muffler-off-run":
		m.Uncover(false, true)
	case "oil-restore-run":
		m.TopUpOil()
	case "dose-cylinder", "dose-intake":
		a := s.Attempt()
		if a.DoseML, a.Pulls = doseML(m, s), machine.DosePulls; test == "dose-cylinder" {
			m.Pour(s.DoseML) // it stands on the piston until it burns or runs past it
		}
		return a
	}
	return ClearFirst(m, s.Attempt())
}

// Catches says whether an engine fires when a test first cranks it. What it leaves of
// the machine is of no use.
func Catches(m *machine.Machine, t *catalogue.Test, s setup.Setup, d machine.Draws) bool {
	if s.Primer > 0 {
		m.Prime(s.Primer)
	}
	a := opening(m, t.ID, s, d)
	return m.Fires(a, d)
}

// started is an attempt after what a test does first.
func started(test string) reader {
	return func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		a := opening(m, test, s, d)
		return startReading(m, s, a, d, m.Attempt(a, d))
	}
}

// uncovered is an attempt with something off that is back on afterwards.
func uncovered(test string) reader {
	return func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		defer m.Uncover(false, false)
		return started(test)(m, s, d)
	}
}

// dosed is a dose given and a few pulls.
func dosed(test string) reader {
	return func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		a := opening(m, test, s, d)
		return startReading(m, s, a, d, m.Dose(a, d))
	}
}

// Tests that run the engine, and what is asked and looked over first.
var runReaders = map[string]reader{
	"start-attempt": started("start-attempt"),
	"run-load":      started("run-load"),
	"hot-restart": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		heated := 0.0
		if m.State().CoilC < hotCoil { // it is worked hot first
			st, run := m.Long(ClearFirst(m, s.Attempt()), d, heatMinutes, machine.LoadTest)
			if heated = st.Minutes; !run.Stopped || st.Fired {
				m.Rest(1)
				heated++
			}
			s.Controls.Choke = 0
			if m.State().WantsChoke {
				s.Controls.Choke = 1
			}
		}
		r := loaded(m, s, d)
		r.Minutes += heated
		r.warm = m.State().CoilC >= hotCoil
		return r
	},
	"screw-sweep": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		// A little richer, a little leaner, and where the sheet has them: the best that
		// is found is what is judged, and the screws go back to where they stood.
		var best Reading
		for i, turn := range []float64{1, 1.3, 0.75, 0} {
			try := m.Clone()
			try.TurnScrews(turn)
			if i > 0 && m.State().EngineC > 40 { // warm, it is started without choke
				s.Controls.Choke = 0
			}
			r := loaded(try, s, d)
			if i == 0 || rank(r.Word) > rank(best.Word) {
				best = r
				m.Follow(try)
			}
		}
		return best
	},
	"plug-swap": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		// A plug known to be good stands in for the attempt, then comes out again.
		try := m.Clone()
		a := opening(try, "plug-swap", s, d)
		if a.Pulls == 0 {
			return startReading(m, s, s.Attempt(), d, machine.Start{Word: "no-fire", Pulls: s.Pulls, Smoke: "none"})
		}
		st := try.Attempt(a, d)
		r := startReading(m, s, a, d, st)
		r.hear(try, s, a, d, st)
		return r
	},
	"run-filter-off":  uncovered("run-filter-off"),
	"muffler-off-run": uncovered("muffler-off-run"),
	"oil-restore-run": started("oil-restore-run"),
	"run-choke-off": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		a := ClearFirst(m, s.Attempt())
		r := startReading(m, s, a, d, m.ChokeOff(a, d, !s.ColdRun))
		r.warm = m.State().EngineC >= 40 && !s.ColdRun
		return r
	},
	"run-long":      longReading,
	"run-cap-loose": longReading,
	"dose-intake":   dosed("dose-intake"),
	"dose-cylinder": dosed("dose-cylinder"),
	"run-idle":      tachometer(machine.LoadIdle),
	"run-full":      tachometer(machine.LoadNone),
	"tool-at-idle": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		if !running(m, s, d) {
			return sure("no-run")
		}
		r := grades(m.Speed(machine.LoadIdle)/m.Inside().CreepsAt, []float64{1}, 0.02, "stands", "creeps")
		r.warm = m.State().EngineC >= 40
		return r
	},
	"run-listen": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		if !running(m, s, d) {
			return sure("no-run")
		}
		in := m.Inside()
		switch {
		case in.Hisses || in.ValveOpen:
			return sure("hisses")
		case in.NutLoose > 0 || in.CrankBent:
			return grades(in.Noise, []float64{0.25}, 0.06, "even", "rattles")
		case in.Noise > 0 || in.OilLevel < 0.4:
			return grades(in.Noise+max(0, 0.4-in.OilLevel), []float64{0.2}, 0.05, "even", "knocks")
		}
		return sure("even")
	},
	AskHistory: func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading { return history(m) },
	"look-over": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.SpringOff || in.BreatherOff:
			return sure("hangs-loose")
		case in.ScrewLost, in.ScrewMissing:
			return sure("screw-missing")
		case m.State().SpiltML > 5:
			return sure("spilt")
		case m.Drips(): // past its needle and out at the intake
			return sure("weeps")
		}
		return grades(in.Weep, []float64{0.35}, 0.06, "sound", "weeps")
	},
	"look-plate": func(_ *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		if s.OtherSheet {
			return sure("wrong-sheet")
		}
		return sure("right-sheet")
	},
}

// rank is how well an engine runs by a word: the last of the list is best.
func rank(word string) int {
	return slices.Index(catalogue.Standard().Test("start-attempt").Words, word)
}

// A coil is hot for a restart from hotCoil on, °C, which takes a quarter of an
// hour of work.
const (
	hotCoil     = 55
	heatMinutes = 15
)

// HeatMinutes is how long a test first works a machine hot, as it stands.
func HeatMinutes(m *machine.Machine, t *catalogue.Test) float64 {
	if t.ID == "hot-restart" && m.State().CoilC < hotCoil {
		return heatMinutes
	}
	return 0
}

// loaded is an attempt with its brief working load, which is what is judged.
func loaded(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
	a := ClearFirst(m, s.Attempt())
	return startReading(m, s, a, d, m.Attempt(a, d))
}

// running starts the engine if it will, and says whether it keeps running.
func running(m *machine.Machine, s setup.Setup, d machine.Draws) bool {
	switch m.Attempt(ClearFirst(m, s.Attempt()), d).Word {
	case "locked", "no-fire", "kicks-back", "runs-backwards", "fires-and-dies":
		return false
	}
	return true
}

// tachometer counts pulses, and shows the speed of an engine that gives one a
// turn when it is set to one.
func tachometer(l machine.Load) reader {
	return func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		r := Reading{warm: true}
		if running(m, s, d) {
			r.Value = m.Speed(l) * setup.PulsesPerRev / s.PerRev
		} else {
			r.Unmet = []string{"engine-runs"}
		}
		r.warm = m.State().EngineC >= 40
		return r
	}
}

// doseML is what a dose comes to in ml of petrol. Spray lights more easily, and
// brings a two-stroke no oil. A brake cleaner is no dose: one with chlorine in it
// gives a poison gas when it burns.
func doseML(m *machine.Machine, s setup.Setup) float64 {
	if s.DoseOf != "mixed-fuel" {
		m.RunDry()
	}
	return s.DoseML * map[string]float64{"petrol": 1, "mixed-fuel": 1, "starting-spray": 1.3}[s.DoseOf]
}

// told is the word for what an owner tells of a cause.
var told = map[string]string{
	"stored-with-fuel": "stored", "gum": "stored", "stored-open": "left-open", "wrong-fuel": "wrong-fuel", "debris": "dirty-work", "dust": "dirty-work",
	"struck-object": "struck", "tipped-wrong": "tipped", "repair-mistake": "worked-on", "wrong-part": "worked-on", "handling": "worked-on",
	"age-wear": "worked-hard", "chafe": "worked-hard", "vibration": "worked-hard", "running-rich": "smoked", "running-lean": "ran-hot", "overheated": "ran-hot",
}

// tells is how often an owner tells what led to it, and errs how often something that
// did not, any of them alike; owners omit and err (common practice; sizes chosen by us).
const (
	tells = 0.65
	errs  = 0.10
)

// AskHistory is the test that asks an owner how it came about.
const AskHistory = "ask-history"

// history is what the owner answers: what led to what is wrong, or nothing.
func history(m *machine.Machine) Reading {
	ch := map[string]float64{}
	words := catalogue.Standard().Test(AskHistory).Words
	causes, silent := m.History(), 1-errs
	for _, w := range words {
		if w != "nothing-told" {
			ch[w] = errs / float64(len(words)-1)
		}
	}
	for _, cause := range slices.Sorted(maps.Keys(causes)) { // in order, so that sums come out the same
		if w, ok := told[cause]; ok {
			ch[w] += tells * causes[cause]
			silent -= tells * causes[cause]
		}
	}
	ch["nothing-told"] = silent
	return Reading{Word: likeliest(ch), Chances: ch}
}
