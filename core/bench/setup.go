package bench

import (
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// setup is a test's complete set-up: controls, instrument, and how the work
// was gone about. The zero value of what can be forgotten is "not done"; of
// what has to be done wrong on purpose it is "right".
type setup struct {
	controls   machine.Controls
	pulls      int
	zeroed     bool
	nulled     bool
	earthPoor  bool
	badContact bool
	slow       bool
	meterRange string
	minutes    float64
	load       machine.Load
	doseML     float64
	doseOf     string
	seconds    float64
	gapTo      float64 // the widest gap tried, mm
	perRev     float64 // pulses a turn the tachometer is set to
	shade      bool
	dim        bool // too little light
	atTDC      bool
	measured   bool // the water in the jar
	primer     int
	oilML      float64
	supplyPSI  float64

	otherSheet, flatFeeler, carTester, hammered, valveAtGauge bool
	noisy, compressedAir, outward, harsh, misplaced, hardSeat bool
	fuelMist, levelUnknown, coldRun                           bool
	proved, pistonStop, magnetUnder, purged, crankHeld        bool
	blanked, endsClosed, wetted, upsideDown, temperatureKnown bool
}

// asFound is how controls and instruments stand when nobody has set anything:
// the gauge not zeroed, the leads not nulled, the clip laid on paint.
func asFound(m *machine.Machine, t *catalogue.Test) setup {
	s := setup{controls: m.State().Controls, pulls: 3, earthPoor: true, meterRange: "200 Ω", minutes: 15, load: machine.LoadTest, doseML: 2, doseOf: rightDose(m),
		seconds: 60, gapTo: 20, perRev: 1, oilML: m.WetOilML(), supplyPSI: 60}
	s.dim, s.shade = s.controls.Dark, s.controls.Dark
	if starts(t) {
		s.pulls = 10
	}
	return s
}

// rightDose is the fuel an engine is dosed with: a two-stroke has its oil in it.
func rightDose(m *machine.Machine) string {
	if m.TwoStroke() {
		return "mixed-fuel"
	}
	return "petrol"
}

// ideal is how a master would set a test up. It undoes no fault: a switch that
// was found in STOP stays there. pinned control settings and a cap are left as
// they are.
func ideal(m *machine.Machine, t *catalogue.Test, pinned Settings) setup {
	s := asFound(m, t)
	s.zeroed, s.nulled, s.earthPoor, s.dim = true, true, false, false
	s.shade, s.atTDC, s.measured, s.perRev = true, true, true, pulsesPerRev
	s.supplyPSI, s.proved, s.pistonStop, s.magnetUnder, s.crankHeld = ruleSupplyPSI, true, true, true, true
	s.blanked, s.endsClosed, s.wetted, s.upsideDown, s.temperatureKnown = true, true, true, true, true
	state := m.State()
	s.purged = state.Wet() > soaked || state.CylinderML > 0
	c := &s.controls
	c.Stop = m.FoundInStop()
	c.BarHeld, c.BarTied = true, false
	c.ValveShut, c.PlugLead, c.KillLeadOff, c.OilLeadOff, c.LineClamped, c.Tilt = m.FoundShut(), machine.LeadOn, false, false, false, machine.Level
	c.Throttle = 0.3
	switch {
	case state.EngineC < 40:
		c.Choke = 1
	case state.EngineC < 60:
		c.Choke = 0.4
	default:
		c.Choke = 0
	}
	if starts(t) && m.Primes() && state.Wet() < 2 && state.Primed == 0 {
		switch { // the colder, the more
		case state.EngineC < 10:
			s.primer = 6
		case state.EngineC < 40:
			s.primer = 3
		case state.EngineC < 60:
			s.primer = 1
		}
	}
	switch t.ID {
	case "compression-dry", "compression-wet", "thumb-hole":
		c.Throttle, c.Choke, c.PlugLead = 1, 0, machine.LeadEarthed
		s.pulls = 6
	case "coil-primary", "coil-secondary":
		c.KillLeadOff = true
		s.meterRange = finestRange(m, t.ID)
	case "kill-continuity", "spark-kill-off":
		c.KillLeadOff = true
	case "oil-lead-off":
		c.OilLeadOff = true
	case "dose-intake", "dose-cylinder":
		c.Choke, s.primer = 0, 0
	case "look-driven":
		c.PlugLead = machine.LeadOff
	case "run-cap-loose":
		c.Cap = machine.CapLoose
	}
	s.controls = pinned.onto(s.controls)
	return s
}

// ruleSupplyPSI is the supply of a leak-down test (FAA AC 43.13-1B), soaked the
// film above which a plug is wet.
const (
	ruleSupplyPSI = 80.0
	soaked        = 7.0
)

// starts says that a test starts the engine.
func starts(t *catalogue.Test) bool {
	return t.Cranks && (t.Kind == catalogue.KindRun || t.Instrument == "tachometer" || slices.Contains([]string{"run-listen", "joint-leak", "bar-stop"}, t.ID))
}

// pulsesPerRev is what these magnetos give: one spark a turn.
const pulsesPerRev = 1

// with lays a test's own set-up over it.
func (s setup) with(own Settings) setup {
	s.controls = own.onto(s.controls)
	for id, v := range own {
		word, _ := v.(string)
		number, _ := v.(float64)
		yes, _ := v.(bool)
		switch id {
		case "pulls":
			s.pulls = int(number)
		case "zeroed":
			s.zeroed = yes
		case "leads_nulled":
			s.nulled = yes
		case "earth":
			s.earthPoor = word == "poor"
		case "contact":
			s.badContact = word == "poor"
		case "pull":
			s.slow = word == "slow"
		case "range":
			s.meterRange = word
		case "minutes":
			s.minutes = number
		case "load":
			s.load = machine.Load(word)
		case "dose_ml":
			s.doseML = number
		case "dose_of":
			s.doseOf = word
		case "seconds":
			s.seconds = number
		case "gap_to_mm":
			s.gapTo = number
		case "pulses_per_rev":
			s.perRev = number
		case "shade":
			s.shade = yes
		case "light":
			s.dim = word == "poor"
		case "lights":
			s.dim, s.shade = word == "off", s.shade || word == "off"
		case "at_tdc":
			s.atTDC = yes
		case "water_measured":
			s.measured = yes
		case "primer":
			s.primer = int(number)
		case "oil_drops_ml":
			s.oilML = number
		case "supply_psi":
			s.supplyPSI = number
		case "sheet_used":
			s.otherSheet = word == "other"
		case "gauge_form":
			s.flatFeeler = word == "flat"
		case "tester":
			s.carTester = word == "car"
		case "puller":
			s.hammered = !yes
		case "check_valve":
			s.valveAtGauge = word == "gauge-end"
		case "quiet":
			s.noisy = !yes
		case "blow_with":
			s.compressedAir = word == "compressed-air"
		case "blow_way":
			s.outward = word == "outward"
		case "cleaner":
			s.harsh = word == "harsh"
		case "orientation_noted":
			s.misplaced = !yes
		case "seated":
			s.hardSeat = word == "hard"
		case "mist":
			s.fuelMist = word == "fuel"
		case "fuel_noted":
			s.levelUnknown = !yes
		case "warmed_up":
			s.coldRun = !yes
		case "substitute":
			s.proved = word == "proved"
		case "piston_stop":
			s.pistonStop = yes
		case "magnet_under":
			s.magnetUnder = yes
		case "purged":
			s.purged = yes
		case "crank_held":
			s.crankHeld = yes
		case "ports_blanked":
			s.blanked = yes
		case "ends_closed":
			s.endsClosed = yes
		case "wetted":
			s.wetted = yes
		case "upside_down":
			s.upsideDown = yes
		case "temperature_noted":
			s.temperatureKnown = yes
		}
	}
	return s
}

// AccessOf says which covers a test needs off and which must be on: no rope
// without the recoil, no running engine with an open cylinder, bowl or line.
func AccessOf(t *catalogue.Test) (off, on []string) {
	off = t.Access
	if t.Cranks {
		on = append(on, "shroud", "flyoff", "headoff", "valvecover")
	}
	// What runs must be whole; what only looks for a spark or pushes at a thumb
	// need not be.
	if t.Cranks && (t.Kind == catalogue.KindRun || !slices.Contains(off, "plugout")) {
		on = append(on, "plugout", "bowlopen", "carboff", "lineoff")
		if !slices.Contains(off, "muffoff") {
			on = append(on, "muffoff")
		}
		off = slices.DeleteFunc(slices.Clone(off), func(a string) bool { return a == "plugout" })
	}
	return off, on
}

// meterRanges in Ω full scale, for a meter of 2000 counts.
var meterRanges = map[string]float64{"200 Ω": 200, "2 kΩ": 2e3, "20 kΩ": 20e3, "200 kΩ": 200e3}

// finestRange is the lowest range on which the winding shows, or the highest.
func finestRange(m *machine.Machine, test string) string {
	p, sec, open := m.CoilResistances()
	ohm := p
	if test == "coil-secondary" {
		ohm = sec
		if open {
			ohm = math.Inf(1)
		}
	}
	for _, r := range instrumentSpecs["range"].words {
		if ohm < meterRanges[r]*0.98 {
			return r
		}
	}
	return "200 kΩ"
}

// attempt is how a set-up has an attempt made.
func (s setup) attempt() machine.Attempt {
	return machine.Attempt{Choke: s.controls.Choke, Throttle: max(s.controls.Throttle, 0.1), Pulls: s.pulls, Slow: s.slow}
}

// hoseLengthML is the volume of a gauge hose with its check valve at the wrong
// end, ml.
const hoseLengthML = 8.0

// hoseML is what of a gauge's hose belongs to the cylinder: all of it when the
// check valve sits at the gauge's end.
func (s setup) hoseML() float64 {
	if s.valveAtGauge {
		return hoseLengthML
	}
	return 0
}
