package setup

import (
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// Setup is a test's complete set-up: controls, instrument, and how the work
// was gone about. The zero value of what can be forgotten is "not done"; of
// what has to be done wrong on purpose it is "right".
type Setup struct {
	// Controls as they stand while the test is made.
	Controls machine.Controls
	// Pulls of the rope, at most; Slow if they were not brisk.
	Pulls int
	Slow  bool
	// Zeroed gauge, Nulled meter leads, MeterRange as it is written on the meter.
	Zeroed, Nulled bool
	MeterRange     string
	// EarthPoor: the clip lies on paint. BadContact: the probe sits badly.
	EarthPoor, BadContact bool
	// Minutes that a run is given, and the Load it works under.
	Minutes float64
	Load    machine.Load
	// DoseML of the liquid DoseOf past the carburettor; Seconds that fuel was
	// let run; OilML poured into the bore; SupplyPSI of a leak-down test.
	DoseML    float64
	DoseOf    string
	Seconds   float64
	OilML     float64
	SupplyPSI float64
	// GapTo is the widest spark gap tried, mm.
	GapTo float64
	// PerRev is the pulses a turn that the tachometer is set to.
	PerRev float64
	// Primer presses before it.
	Primer int
	// Shade to see a spark by; Dim: too little light to see anything else by.
	Shade, Dim bool
	// AtTDC: at top dead centre of compression. Measured: the water in the jar.
	AtTDC, Measured bool

	// Done wrong on purpose or by habit: another machine's sheet, a flat feeler
	// in a plug, a tester for car coils, a hammer for a puller, the check valve
	// at the gauge's end, …
	OtherSheet, FlatFeeler, CarTester, Hammered, ValveAtGauge bool
	Noisy, CompressedAir, Outward, Harsh, Misplaced, HardSeat bool
	FuelMist, LevelUnknown, ColdRun                           bool
	// Not forgotten.
	Proved, PistonStop, MagnetUnder, Purged, CrankHeld        bool
	Blanked, EndsClosed, Wetted, UpsideDown, TemperatureKnown bool
	// Listen: somebody stands by and hears a run. It changes nothing of it.
	Listen bool
}

// Found is how controls and instruments stand when nobody has set anything:
// the gauge not zeroed, the leads not nulled, the clip laid on paint.
func Found(m *machine.Machine, t *catalogue.Test) Setup {
	s := Setup{Controls: m.State().Controls, Pulls: 3, EarthPoor: true, MeterRange: "200 Ω", Minutes: 15, Load: machine.LoadTest, DoseML: 2, DoseOf: RightDose(m),
		Seconds: 60, GapTo: 20, PerRev: 1, OilML: m.WetOilML(), SupplyPSI: 60}
	s.Dim, s.Shade = s.Controls.Dark, s.Controls.Dark
	if Starts(t) {
		s.Pulls = 10
	}
	return s
}

// Running is the set-up with what a test that runs the engine does not look at put to
// nothing: two that are alike in it run alike. It is for tests that tell a word.
func (s Setup) Running(t *catalogue.Test) Setup {
	s.Zeroed, s.Nulled, s.EarthPoor, s.MeterRange, s.PerRev, s.Measured, s.SupplyPSI = false, false, false, "", 0, false, 0
	s.Shade, s.AtTDC, s.PistonStop, s.MagnetUnder, s.Purged, s.CrankHeld = false, false, false, false, false, false
	s.Blanked, s.EndsClosed, s.Wetted, s.UpsideDown, s.TemperatureKnown = false, false, false, false, false
	s.Proved = s.Proved && t.ID == "plug-swap"
	return s
}

// RightDose is the fuel an engine is dosed with: a two-stroke has its oil in it.
func RightDose(m *machine.Machine) string {
	if m.TwoStroke() {
		return "mixed-fuel"
	}
	return "petrol"
}

// Master is how a master would set a test up. It undoes no fault: a switch that
// was found in STOP stays there. pinned control settings and a cap are left as
// they are.
func Master(m *machine.Machine, t *catalogue.Test, pinned Settings) Setup {
	s := Found(m, t)
	s.Zeroed, s.Nulled, s.EarthPoor, s.Dim = true, true, false, false
	s.Shade, s.AtTDC, s.Measured, s.PerRev = true, true, true, PulsesPerRev
	s.SupplyPSI, s.Proved, s.PistonStop, s.MagnetUnder, s.CrankHeld = RuleSupplyPSI, true, true, true, true
	s.Blanked, s.EndsClosed, s.Wetted, s.UpsideDown, s.TemperatureKnown = true, true, true, true, true
	state := m.State()
	s.Purged = state.Wet() > Soaked || state.CylinderML > 0
	c := &s.Controls
	c.Stop = m.FoundInStop()
	c.BarHeld, c.BarTied = m.HasBar(), false
	c.ValveShut, c.PlugLead, c.KillLeadOff, c.OilLeadOff, c.LineClamped, c.Tilt = m.FoundShut(), machine.LeadOn, false, false, false, machine.Level
	c.Throttle = 0.3
	switch {
	case state.WantsChoke || state.EngineC < 40:
		c.Choke = 1
	case state.EngineC < 60:
		c.Choke = 0.4
	default:
		c.Choke = 0
	}
	if Starts(t) && m.Primes() && state.Wet() < 2 && state.Primed == 0 {
		switch { // the colder, the more
		case state.EngineC < 10:
			s.Primer = 6
		case state.EngineC < 40:
			s.Primer = 3
		case state.EngineC < 60:
			s.Primer = 1
		}
	}
	switch t.ID {
	case "compression-dry", "compression-wet", "thumb-hole":
		c.Throttle, c.Choke, c.PlugLead = 1, 0, machine.LeadEarthed
		s.Pulls = 6
	case "coil-primary", "coil-secondary":
		c.KillLeadOff = true
		s.MeterRange = FinestRange(m, t.ID)
	case "kill-continuity", "spark-kill-off":
		c.KillLeadOff = true
	case "oil-lead-off":
		c.OilLeadOff = true
	case "dose-intake", "dose-cylinder":
		c.Choke, s.Primer = 0, 0
	case "look-driven", "turn-by-hand":
		c.PlugLead = machine.LeadOff
	case "run-cap-loose":
		c.Cap = machine.CapLoose
	}
	s.Controls = pinned.Onto(s.Controls)
	return s
}

// ruleSupplyPSI is the supply of a leak-down test (FAA AC 43.13-1B), soaked the
// film above which a plug is wet.
const (
	RuleSupplyPSI = 80.0
	Soaked        = 7.0
)

// Starts says that a test starts the engine.
func Starts(t *catalogue.Test) bool {
	return t.Cranks && (t.Kind == catalogue.KindRun || t.Instrument == "tachometer" || slices.Contains([]string{"run-listen", "joint-leak", "bar-stop"}, t.ID))
}

// PulsesPerRev is what these magnetos give: one spark a turn.
const PulsesPerRev = 1

// With lays a test's own set-up over it.
func (s Setup) With(own Settings) Setup {
	s.Controls = own.Onto(s.Controls)
	for id, v := range own {
		word, _ := v.(string)
		number, _ := v.(float64)
		yes, _ := v.(bool)
		switch id {
		case "pulls":
			s.Pulls = int(number)
		case "zeroed":
			s.Zeroed = yes
		case "leads_nulled":
			s.Nulled = yes
		case "earth":
			s.EarthPoor = word == "poor"
		case "contact":
			s.BadContact = word == "poor"
		case "pull":
			s.Slow = word == "slow"
		case "range":
			s.MeterRange = word
		case "minutes":
			s.Minutes = number
		case "load":
			s.Load = machine.Load(word)
		case "dose_ml":
			s.DoseML = number
		case "dose_of":
			s.DoseOf = word
		case "seconds":
			s.Seconds = number
		case "gap_to_mm":
			s.GapTo = number
		case "pulses_per_rev":
			s.PerRev = number
		case "shade":
			s.Shade = yes
		case "light":
			s.Dim = word == "poor"
		case "lights":
			s.Dim, s.Shade = word == "off", s.Shade || word == "off"
		case "at_tdc":
			s.AtTDC = yes
		case "water_measured":
			s.Measured = yes
		case "primer":
			s.Primer = int(number)
		case "oil_drops_ml":
			s.OilML = number
		case "supply_psi":
			s.SupplyPSI = number
		case "sheet_used":
			s.OtherSheet = word == "other"
		case "gauge_form":
			s.FlatFeeler = word == "flat"
		case "tester":
			s.CarTester = word == "car"
		case "puller":
			s.Hammered = !yes
		case "check_valve":
			s.ValveAtGauge = word == "gauge-end"
		case "quiet":
			s.Noisy = !yes
		case "blow_with":
			s.CompressedAir = word == "compressed-air"
		case "blow_way":
			s.Outward = word == "outward"
		case "cleaner":
			s.Harsh = word == "harsh"
		case "orientation_noted":
			s.Misplaced = !yes
		case "seated":
			s.HardSeat = word == "hard"
		case "mist":
			s.FuelMist = word == "fuel"
		case "fuel_noted":
			s.LevelUnknown = !yes
		case "warmed_up":
			s.ColdRun = !yes
		case "substitute":
			s.Proved = word == "proved"
		case "piston_stop":
			s.PistonStop = yes
		case "magnet_under":
			s.MagnetUnder = yes
		case "purged":
			s.Purged = yes
		case "crank_held":
			s.CrankHeld = yes
		case "ports_blanked":
			s.Blanked = yes
		case "ends_closed":
			s.EndsClosed = yes
		case "wetted":
			s.Wetted = yes
		case "upside_down":
			s.UpsideDown = yes
		case "temperature_noted":
			s.TemperatureKnown = yes
		}
	}
	return s
}

// AccessOf says which covers a test needs off and which must be on: no rope
// without the recoil, no running engine with an open cylinder, bowl or line. The
// lists are shared, and not to be changed.
func AccessOf(t *catalogue.Test) (off, on []string) {
	off, on = t.Access, t.Shut
	switch {
	case !t.Cranks:
		return off, on
	case t.Kind != catalogue.KindRun && slices.Contains(off, "plugout"):
		return off, joined(on, toTurn)
	case slices.Contains(off, "plugout"):
		off = slices.DeleteFunc(slices.Clone(off), func(a string) bool { return a == "plugout" })
	}
	if slices.Contains(off, "muffoff") {
		return off, joined(on, toFire[:len(toFire)-1:len(toFire)-1])
	}
	return off, joined(on, toFire)
}

// Covers that must be on for a crank to be turned by its rope, and for an engine to
// fire: what runs must be whole; what only looks for a spark or pushes at a thumb
// need not be.
var (
	toTurn = []string{"shroud", "flyoff", "headoff", "valvecover"}
	toFire = append(slices.Clone(toTurn), "plugout", "bowlopen", "carboff", "lineoff", "muffoff")
)

// joined is one list after another; the second itself where the first is empty.
func joined(a, b []string) []string {
	if len(a) == 0 {
		return b
	}
	return slices.Concat(a, b)
}

// MeterRanges in Ω full scale, for a meter of 2000 counts.
var MeterRanges = map[string]float64{"200 Ω": 200, "2 kΩ": 2e3, "20 kΩ": 20e3, "200 kΩ": 200e3}

// FinestRange is the lowest range on which the winding shows, or the highest.
func FinestRange(m *machine.Machine, test string) string {
	p, sec, open := m.CoilResistances()
	ohm := p
	if test == "coil-secondary" {
		ohm = sec
		if open {
			ohm = math.Inf(1)
		}
	}
	for _, r := range InstrumentSpecs["range"].Words {
		if ohm < MeterRanges[r]*0.98 {
			return r
		}
	}
	return "200 kΩ"
}

// Attempt is how a set-up has an attempt made.
func (s Setup) Attempt() machine.Attempt {
	return machine.Attempt{Choke: s.Controls.Choke, Throttle: max(s.Controls.Throttle, 0.1), Pulls: s.Pulls, Slow: s.Slow}
}

// hoseLengthML is the volume of a gauge hose with its check valve at the wrong
// end, ml.
const hoseLengthML = 8.0

// HoseML is what of a gauge's hose belongs to the cylinder: all of it when the
// check valve sits at the gauge's end.
func (s Setup) HoseML() float64 {
	if s.ValveAtGauge {
		return hoseLengthML
	}
	return 0
}
