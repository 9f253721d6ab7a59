package reading

import (
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// Missed lists the conditions of a test that the set-up and the machine's
// state before it did not meet, by id.
func Missed(t *catalogue.Test, s setup.Setup, before machine.State, r Reading) []string {
	held := !r.HasBar || s.Controls.BarHeld || s.Controls.BarTied
	met := map[string]bool{
		"switch-run":         (!s.Controls.Stop && held) || s.Controls.KillLeadOff,
		"plug-lead-on":       s.Controls.PlugLead == machine.LeadOn,
		"plug-lead-earthed":  s.Controls.PlugLead == machine.LeadEarthed,
		"plug-not-wet":       before.Wet() <= setup.Soaked,
		"small-dose":         s.DoseML >= 0.1 && s.DoseML <= mostDose(t),
		"right-dose":         s.DoseOf == r.rightDose,
		"cap-as-used":        s.Controls.Cap == machine.CapTight,
		"fuel-noted":         !s.LevelUnknown,
		"straight-after":     before.SinceAttemptMin <= 4 || stays(r.Word, before),
		"good-earth":         !s.EarthPoor,
		"brisk-pull":         !s.Slow,
		"stepped-out":        !r.AtLeast,
		"magneto-tester":     !s.CarTester,
		"leads-nulled":       s.Nulled,
		"kill-lead-off":      s.Controls.KillLeadOff || (!s.Controls.Stop && t.ID != "kill-continuity"),
		"boot-contact":       !s.BadContact,
		"right-range":        r.fineRange,
		"temperature-noted":  s.TemperatureKnown || math.Abs(before.CoilC-20) < 10,
		"throttle-open":      s.Controls.Throttle >= 0.9,
		"choke-open":         s.Controls.Choke <= 0.1,
		"zeroed":             s.Zeroed,
		"enough-pulls":       s.Pulls >= 4,
		"bore-dry":           before.BoreOilML < 0.3,
		"few-ml":             s.OilML >= 0.5*r.WetOil && s.OilML <= 2*r.WetOil,
		"valve-at-plug":      !s.ValveAtGauge,
		"purged":             s.Purged || (before.Wet() <= setup.Soaked && before.CylinderML == 0),
		"valve-open":         !s.Controls.ValveShut,
		"timed":              s.Seconds >= 55,
		"warm":               r.warm || (before.EngineC >= 40 && !s.ColdRun),
		"good-light":         !s.Dim,
		"level":              s.Controls.Tilt == machine.Level,
		"cool":               before.EngineC < 60,
		"head-cold":          before.EngineC < 60,
		"pulses-per-rev":     s.PerRev == setup.PulsesPerRev,
		"hot":                r.warm || before.CoilC >= hotCoil,
		"straight-after-run": before.SinceAttemptMin <= 2,
		"cold":               before.EngineC < 40 && s.AtTDC,
		"shade":              s.Shade,
		"measured-water":     s.Measured,
		"plug-lead-off":      s.Controls.PlugLead != machine.LeadOn,
		"bar-held":           held,
		"at-tdc":             s.AtTDC,
		"crank-held":         s.CrankHeld,
		"supply-set":         math.Abs(s.SupplyPSI-setup.RuleSupplyPSI) <= 2,
		"ports-blanked":      s.Blanked,
		"ends-closed":        s.EndsClosed,
		"wetted":             s.Wetted,
		"upside-down":        s.UpsideDown,
		"piston-stop":        s.PistonStop,
		"magnet-under":       s.MagnetUnder,
		"puller":             !s.Hammered,
		"quiet":              !s.Noisy,
		"inward":             !s.Outward,
		"hand-bulb":          !s.CompressedAir,
		"wire-gauge":         !s.FlatFeeler,
		"substitute-proved":  s.Proved,
		"mild-cleaner":       !s.Harsh,
		"orientation-noted":  !s.Misplaced,
		"lightly-seated":     !s.HardSeat,
		"water-mist":         !s.FuelMist,
		"own-sheet":          !s.OtherSheet,
	}
	out := append([]string{}, r.Unmet...)
	for _, c := range t.Conditions {
		if !met[c] {
			out = append(out, c)
		}
	}
	return out
}

// mostDose is the most that is given past the carburettor, or onto the piston,
// where there is little room, ml.
func mostDose(t *catalogue.Test) float64 {
	if t.ID == "dose-cylinder" {
		return 2
	}
	return 6
}

// stays says that what a plug shows does not pass with time, as fuel on it does:
// soot, oil, a crack, and the colour of one that has run.
func stays(word string, before machine.State) bool {
	return slices.Contains([]string{"sooty", "oily", "cracked", "white"}, word) || (word == "tan" && before.RunMin > 0)
}
