package reading

import (
	"math"

	"zanjero/core/machine"
	"zanjero/core/setup"
)

// Tests along the spark lateral.
var sparkReaders = map[string]reader{
	"look-switches": func(_ *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		r, valve := sure("run"), "open"
		if s.Controls.Stop {
			r = sure("stop")
		}
		if s.Controls.ValveShut {
			valve = "shut"
		}
		r.Parts = words(map[string]string{"valve": valve})
		return r
	},
	"look-leads": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		switch {
		case in.SeriesKV > 0:
			return grades(in.SeriesKV/10, []float64{0.25}, 0.06, "sound", "boot-loose")
		case in.LeadFlashKV < 90:
			return grades(16-in.LeadFlashKV, []float64{4}, 1, "sound", "cracked")
		}
		return grades(in.Chafe, []float64{0.5}, 0.1, "sound", "chafed")
	},
	"plug-look": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		r, in := plugReading(m), m.Inside()
		insulator := sure("whole")
		if in.PlugCracked {
			insulator = sure("cracked")
		}
		r.Parts = map[string]Reading{"gap": {Value: in.PlugGapMM}, "insulator": insulator}
		return r
	},
	"plug-mark": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		switch hot := m.Inside().PlugHot; {
		case hot > 0:
			return sure("hotter")
		case hot < 0:
			return sure("colder")
		}
		return sure("right")
	},
	"plug-gap": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		gap := m.Inside().PlugGapMM
		if s.FlatFeeler { // it bridges the hollow that the spark has worn
			gap = max(gap-flatFeelerMM, 0)
		}
		return Reading{Value: gap}
	},
	"spark-gap": sparkGap,
	"spark-kill-off": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		c := m.State().Controls
		c.KillLeadOff = true
		m.SetControls(c)
		s.Controls.KillLeadOff = true
		return sparkGap(m, s, d)
	},
	"spark-plug-earthed": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		r := atPlug(m, s, earthLoss(s))
		if !s.Shade && r.Word == "faint" {
			r.Word, r.Chances = "none", map[string]float64{"none": 1}
		}
		return r
	},
	"spark-inline": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		r := atPlug(m, s, 0)
		r.Word = map[string]string{"none": "none", "faint": "dim", "orange": "bright", "blue": "bright"}[r.Word]
		r.Chances = map[string]float64{r.Word: 1}
		return r
	},
	"oil-lead-off": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		c := m.State().Controls
		c.OilLeadOff = true // and it stays off until somebody puts it back
		m.SetControls(c)
		return atPlug(m, s, earthLoss(s))
	},
	"points-check": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		faces := "bright"
		if m.Inside().Oxidised {
			faces = "oxidised"
		}
		return Reading{Value: m.Sheet()["points_gap_mm"].Middle(), Also: map[string]any{"faces": faces},
			Parts: words(map[string]string{"faces": faces})}
	},
	"tdc-magnet": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		// Degrees before dead centre; after it they count below nought.
		degrees := m.FiringDegrees()
		if !s.PistonStop {
			degrees += guessedTDC
		}
		return Reading{Value: degrees}
	},
	"bar-stop": func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
		if !running(m, s, d) { // it stands already
			return Reading{Unmet: []string{"engine-runs"}}
		}
		seconds, stops := m.StopSeconds()
		return Reading{Value: seconds, Over: !stops}
	},
	"kill-continuity": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		at := func(stop bool) Reading {
			ohm := m.KillOhm(stop)
			if !s.Controls.KillLeadOff { // the winding lies across it
				p, _, _ := m.CoilResistances()
				ohm = min(ohm, p)
			}
			if !s.Nulled {
				ohm += LeadOhm
			}
			return Reading{Value: ohm, Over: ohm >= setup.MeterRanges[s.MeterRange], fineRange: true}
		}
		r := at(s.Controls.Stop)
		r.Parts = map[string]Reading{"stop": at(true)}
		return r
	},
	"coil-primary": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		return meterReading(m, "coil-primary", s)
	},
	"coil-secondary": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		return meterReading(m, "coil-secondary", s)
	},
	"air-gap": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		in := m.Inside()
		r := Reading{Value: in.AirGapMM}
		if !s.MagnetUnder { // nothing draws the coil down onto the feeler
			r.Value += undrawnMM
		}
		if in.Swarf {
			r.Value, r.Also = 0, map[string]any{"with": "filings"}
		}
		return r
	},
	"magnet-pull": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		return grades(1-m.Inside().Magnet, []float64{0.2}, 0.05, "strong", "weak")
	},
	"key-look": func(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
		if s.Hammered { // the thread is bruised, and the nut will not hold
			defer m.BruiseThread()
		}
		in := m.Inside()
		if in.Peened {
			return sure("peened")
		}
		if in.KeyWhole && in.NutLoose == 0 {
			return sure("whole")
		}
		return grades(math.Abs(in.KeyDegrees), []float64{2, 14}, 1.2, "whole", "offset", "sheared")
	},
	"nut-torque": func(m *machine.Machine, _ setup.Setup, _ machine.Draws) Reading {
		return Reading{Value: m.Sheet()["nut_torque_nm"].Middle() * (1 - 0.9*m.Inside().NutLoose)}
	},
}

// atPlug is the spark at a pull, as sharp as its word.
func atPlug(m *machine.Machine, s setup.Setup, lossKV float64) Reading {
	rpm := m.PullRPM(0, s.Slow)
	r := sure(m.SparkColour(rpm, lossKV))
	r.kv = m.SparkKV(rpm, lossKV)
	return r
}

// earthLoss is what a clip on paint takes of the voltage.
func earthLoss(s setup.Setup) float64 {
	if s.EarthPoor {
		return paintLossKV
	}
	return 0
}

func sparkGap(m *machine.Machine, s setup.Setup, _ machine.Draws) Reading {
	mm := m.SparkReachMM(m.PullRPM(0, s.Slow), earthLoss(s))
	if s.CarTester && mm < carTesterMM { // its gap is fixed, for a coil with a battery behind it
		mm = 0
	}
	return Reading{Value: min(mm, s.GapTo), AtLeast: mm > s.GapTo && s.GapTo < m.Sheet()["spark_mm"].Low}
}
