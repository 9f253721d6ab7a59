package bench

import (
	"math"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// missed lists the conditions of a test that the set-up and the machine's
// state before it did not meet, by id.
func missed(t *catalogue.Test, s setup, before machine.State, r reading) []string {
	held := !r.hasBar || s.controls.BarHeld || s.controls.BarTied
	met := map[string]bool{
		"switch-run":         (!s.controls.Stop && held) || s.controls.KillLeadOff,
		"plug-lead-on":       s.controls.PlugLead == machine.LeadOn,
		"plug-lead-earthed":  s.controls.PlugLead == machine.LeadEarthed,
		"plug-not-wet":       before.Wet() <= soaked,
		"small-dose":         s.doseML > 0.5 && s.doseML <= 4,
		"right-dose":         s.doseOf == r.rightDose,
		"cap-as-used":        s.controls.Cap == machine.CapTight,
		"fuel-noted":         !s.levelUnknown,
		"straight-after":     before.SinceAttemptMin <= 4,
		"good-earth":         !s.earthPoor,
		"brisk-pull":         !s.slow,
		"stepped-out":        !r.atLeast,
		"magneto-tester":     !s.carTester,
		"leads-nulled":       s.nulled,
		"kill-lead-off":      s.controls.KillLeadOff || (!s.controls.Stop && t.ID != "kill-continuity"),
		"boot-contact":       !s.badContact,
		"right-range":        r.fineRange,
		"temperature-noted":  s.temperatureKnown || math.Abs(before.CoilC-20) < 10,
		"throttle-open":      s.controls.Throttle >= 0.9,
		"choke-open":         s.controls.Choke <= 0.1,
		"zeroed":             s.zeroed,
		"enough-pulls":       s.pulls >= 4,
		"bore-dry":           before.BoreOilML < 0.3,
		"few-ml":             s.oilML >= 0.5*r.wetOil && s.oilML <= 2*r.wetOil,
		"valve-at-plug":      !s.valveAtGauge,
		"purged":             s.purged || (before.Wet() <= soaked && before.CylinderML == 0),
		"valve-open":         !s.controls.ValveShut,
		"timed":              s.seconds >= 55,
		"warm":               r.warm || (before.EngineC >= 40 && !s.coldRun),
		"good-light":         !s.dim,
		"level":              s.controls.Tilt == machine.Level,
		"cool":               before.EngineC < 60,
		"head-cold":          before.EngineC < 60,
		"pulses-per-rev":     s.perRev == pulsesPerRev,
		"hot":                before.CoilC >= 60,
		"straight-after-run": before.SinceAttemptMin <= 2,
		"cold":               before.EngineC < 40 && s.atTDC,
		"shade":              s.shade,
		"measured-water":     s.measured,
		"plug-lead-off":      s.controls.PlugLead != machine.LeadOn,
		"bar-held":           held,
		"at-tdc":             s.atTDC,
		"crank-held":         s.crankHeld,
		"supply-set":         math.Abs(s.supplyPSI-ruleSupplyPSI) <= 2,
		"ports-blanked":      s.blanked,
		"ends-closed":        s.endsClosed,
		"wetted":             s.wetted,
		"upside-down":        s.upsideDown,
		"piston-stop":        s.pistonStop,
		"magnet-under":       s.magnetUnder,
		"puller":             !s.hammered,
		"quiet":              !s.noisy,
		"inward":             !s.outward,
		"hand-bulb":          !s.compressedAir,
		"wire-gauge":         !s.flatFeeler,
		"substitute-proved":  s.proved,
		"mild-cleaner":       !s.harsh,
		"orientation-noted":  !s.misplaced,
		"lightly-seated":     !s.hardSeat,
		"water-mist":         !s.fuelMist,
		"own-sheet":          !s.otherSheet,
	}
	out := []string{}
	for _, c := range t.Conditions {
		if !met[c.ID] {
			out = append(out, c.ID)
		}
	}
	return out
}
