package bench

import (
	"math"

	"zanjero/core/machine"
)

// Tests along the spark lateral.
var sparkReaders = map[string]reader{
	"look-switches": func(_ *machine.Machine, s setup, _ machine.Draws) reading {
		if s.controls.Stop {
			return sure("stop")
		}
		return sure("run")
	},
	"look-leads": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		in := m.Inside()
		switch {
		case in.SeriesKV > 0:
			return grades(in.SeriesKV/10, []float64{0.25}, 0.06, "sound", "boot-loose")
		case in.LeadFlashKV < 90:
			return grades(16-in.LeadFlashKV, []float64{4}, 1, "sound", "cracked")
		}
		return grades(in.Chafed, []float64{0.5}, 0.1, "sound", "chafed")
	},
	"plug-look": func(m *machine.Machine, _ setup, _ machine.Draws) reading { return plugReading(m) },
	"plug-gap": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		gap := m.Inside().PlugGapMM
		if s.flatFeeler { // it bridges the hollow that the spark has worn
			gap = max(gap-flatFeelerMM, 0)
		}
		return reading{value: gap}
	},
	"spark-gap": sparkGap,
	"spark-kill-off": func(m *machine.Machine, s setup, d machine.Draws) reading {
		c := m.State().Controls
		c.KillLeadOff = true
		m.SetControls(c)
		s.controls.KillLeadOff = true
		return sparkGap(m, s, d)
	},
	"spark-plug-earthed": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		word := m.SparkColour(m.PullRPM(0, s.slow), earthLoss(s))
		if !s.shade && word == "faint" {
			word = "none"
		}
		return sure(word)
	},
	"spark-inline": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		return sure(map[string]string{"none": "none", "faint": "dim", "orange": "bright", "blue": "bright"}[m.SparkColour(m.PullRPM(0, s.slow), 0)])
	},
	"oil-lead-off": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		c := m.State().Controls
		c.OilLeadOff = true // and it stays off until somebody puts it back
		m.SetControls(c)
		return sure(m.SparkColour(m.PullRPM(0, s.slow), earthLoss(s)))
	},
	"points-check": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		faces := "bright"
		if m.Inside().Oxidised {
			faces = "oxidised"
		}
		return reading{value: m.Sheet()["points_gap_mm"].Middle(), also: map[string]any{"faces": faces}}
	},
	"tdc-magnet": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		// Degrees before dead centre; after it they count below nought.
		degrees := m.FiringDegrees()
		if !s.pistonStop {
			degrees += guessedTDC
		}
		return reading{value: degrees}
	},
	"bar-stop": func(m *machine.Machine, s setup, d machine.Draws) reading {
		if !running(m, s, d) {
			return reading{} // it stands already
		}
		seconds, stops := m.StopSeconds()
		return reading{value: seconds, over: !stops}
	},
	"kill-continuity": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		ohm := m.KillOhm()
		if !s.controls.KillLeadOff { // the winding lies across it
			p, _, _ := m.CoilResistances()
			ohm = min(ohm, p)
		}
		if !s.nulled {
			ohm += LeadOhm
		}
		return reading{value: ohm, over: ohm >= meterRanges[s.meterRange], fineRange: true}
	},
	"coil-primary": func(m *machine.Machine, s setup, _ machine.Draws) reading { return meterReading(m, "coil-primary", s) },
	"coil-secondary": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		return meterReading(m, "coil-secondary", s)
	},
	"air-gap": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		in := m.Inside()
		r := reading{value: in.AirGapMM}
		if !s.magnetUnder { // nothing draws the coil down onto the feeler
			r.value += undrawnMM
		}
		if in.Swarf {
			r.value, r.also = 0, map[string]any{"with": "filings"}
		}
		return r
	},
	"magnet-pull": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		return grades(1-m.Inside().Magnet, []float64{0.2}, 0.05, "strong", "weak")
	},
	"key-look": func(m *machine.Machine, s setup, _ machine.Draws) reading {
		if s.hammered { // the thread is bruised, and the nut will not hold
			defer m.Inflict(machine.FaultSpec{ID: "flywheel-nut-loose", Severity: 0.5})
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
	"nut-torque": func(m *machine.Machine, _ setup, _ machine.Draws) reading {
		return reading{value: m.Sheet()["nut_torque_nm"].Middle() * (1 - 0.9*m.Inside().NutLoose)}
	},
}

// earthLoss is what a clip on paint takes of the voltage.
func earthLoss(s setup) float64 {
	if s.earthPoor {
		return paintLossKV
	}
	return 0
}

func sparkGap(m *machine.Machine, s setup, _ machine.Draws) reading {
	mm := m.SparkReachMM(m.PullRPM(0, s.slow), earthLoss(s))
	if s.carTester && mm < carTesterMM { // its gap is fixed, for a coil with a battery behind it
		mm = 0
	}
	return reading{value: min(mm, s.gapTo), atLeast: mm > s.gapTo && s.gapTo < m.Sheet()["spark_mm"].Low}
}
