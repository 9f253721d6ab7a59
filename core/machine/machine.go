package machine

import (
	"fmt"
	"slices"

	"zanjero/core/catalogue"
)

// LeadPosition is where the plug lead is.
type LeadPosition uint8

// Positions of the plug lead.
const (
	LeadOn LeadPosition = iota
	LeadOff
	LeadEarthed
)

// CapPosition is how the tank cap stands.
type CapPosition uint8

// Positions of the cap.
const (
	CapTight CapPosition = iota
	CapLoose
	CapOff
)

// Tilt is how the machine stands.
type Tilt uint8

// Ways to stand a machine.
const (
	Level Tilt = iota
	PlugDown
	FilterDown
	BreatherDown
)

// Controls are the machine's own controls as they stand. The zero value is
// RUN, choke open, throttle shut, valve open, everything on and level.
type Controls struct {
	Stop            bool
	BarHeld         bool
	Choke, Throttle float64 // 0 open … 1 shut; 0 shut … 1 wide open
	ValveShut       bool
	Cap             CapPosition
	PlugLead        LeadPosition
	KillLeadOff     bool
	OilLeadOff      bool
	// BarTied: the bar is tied back, and stays held.
	BarTied bool
	// LineClamped: nothing passes the line to the carburettor.
	LineClamped bool
	// Dark: the bench light is off.
	Dark bool
	Tilt Tilt
}

// State is everything that time and acts change. It is a plain value: copying
// it copies the machine's present.
type State struct {
	Controls Controls
	// LineOff and BowlOff say which parts of the fuel path are open.
	LineOff, BowlOff bool
	// ThreadBruised: the thread of the flywheel's nut is.
	ThreadBruised bool
	// CoilOpen: a coil that fails hot has let go, and has not yet cooled enough to
	// close again.
	CoilOpen bool
	// WantsChoke: warm as it was, it ran last only with its choke part shut.
	WantsChoke bool
	// Blocked: the driven part is blocked, and the rope moves nothing.
	Blocked bool
	// OpenedShare is how full the bowl was when it was last opened.
	OpenedShare float64
	// BowlOpened: it was emptied by hand since the engine last ran.
	BowlOpened bool
	// FilterOff, MufflerOff: nothing stands before or behind.
	FilterOff, MufflerOff bool
	// Earthed: a chafed wire touches at this moment.
	Earthed bool
	// BrakeOff: the flywheel brake is held off for a test.
	BrakeOff bool
	// Water and Stale are what is in the fuel that burns just now; Slug is when
	// the next slug of water comes.
	Water, Stale, Slug float64
	// OilLevel is 1 at the mark.
	OilLevel float64
	// Worn is what running has worn since, mm²; Drag what it has tightened;
	// KeyCreep how far a loose flywheel has crept, degrees; Seized for good.
	Worn, Drag, KeyCreep float64
	// Scuffed is how far running without oil has torn the film, minutes of full
	// load.
	Scuffed float64
	// Clog is the share of the main jet that dirt from the bowl has shut since it
	// was last cleaned.
	Clog   float64
	Seized bool
	// Primed counts presses of the primer not yet spent; OnWalls is the part of
	// the film that they put into the intake, which does not wet the plug.
	Primed  int
	OnWalls float64
	// PlugFilm is what of it has dripped onto a plug that did not fire.
	PlugFilm       float64
	EngineC, CoilC float64 // °C
	FuelML, BowlML float64
	TankVacuumKPa  float64
	// Film is the fuel on the cylinder's walls and plug, in units of a cycle's
	// stoichiometric charge.
	Film float64
	// FilterWet is the share of the air filter shut by fuel; it dries.
	FilterWet float64
	// FilterOil is the share shut by oil that a tilt has let into it.
	FilterOil float64
	BoreOilML float64
	// CylinderML is liquid that stands on the piston, fuel or oil.
	CylinderML float64
	// OilFuel is the fuel that has run into the sump, as a share of the oil.
	OilFuel float64
	// SpiltML is fuel that lies about and has not been wiped up.
	SpiltML float64
	// CoilStrain is the share of its voltage that the coil has lost to pulls
	// with nowhere for the spark to go.
	CoilStrain float64
	// VentBlown is the share of the vent's dirt that has been blasted aside for
	// now; it falls back as the engine shakes.
	VentBlown float64
	// PlugTone runs from −1 (sooty) over 0 (tan) to 1 (white).
	PlugTone float64
	// OilyPlug is set when oil has run to the plug.
	OilyPlug bool
	// SinceAttemptMin is the time since the last attempt or run, minutes.
	SinceAttemptMin float64
	// RunMin is the time it has run in all, minutes.
	RunMin float64
}

// Wet is the fuel on the plug, in units of a cycle's charge: a soaked one has
// more than seven.
func (s State) Wet() float64 { return max(s.Film, s.PlugFilm) }

// Machine is one engine with what is hidden in it. Copying the value copies
// the machine; no method changes what a copy shares.
type Machine struct {
	family  string
	sheet   catalogue.Sheet
	build   Build
	ambient Ambient
	faults  []FaultSpec
	// ref is the sound engine of this build; copies share it, and nothing changes it.
	ref *params
	p   params
	d   derived
	s   State
}

// New makes a machine of a family with a sheet, a specimen's build, a day and
// hidden faults. It fails on a family or fault that the model does not know,
// a severity outside 0 to 1, or a sheet whose figures cannot be.
func New(familyID string, sheet catalogue.Sheet, build Build, ambient Ambient, faults []FaultSpec) (*Machine, error) {
	cat := catalogue.Standard()
	if cat.Family(familyID) == nil {
		return nil, fmt.Errorf("the model has no family %q", familyID)
	}
	if ps := cat.CheckSheet(familyID, sheet); len(ps) > 0 {
		return nil, &ps[0]
	}
	m := &Machine{family: familyID, sheet: sheet, build: build, ambient: ambient}
	ref, err := family(familyID, sheet)
	if err != nil {
		return nil, err
	}
	ref.specimen(build)
	m.ref = &ref
	if err := m.setFaults(faults); err != nil {
		return nil, err
	}
	healthy := *m
	healthy.p = ref
	healthy.d = ref.derive(ambient)
	healthy.setIdleStop()
	m.d.idleStop = healthy.d.idleStop
	m.s = State{
		Controls: Controls{Stop: m.p.foundStop, ValveShut: m.p.foundShut, Throttle: 0.3},
		Stale:    m.p.stale, OilLevel: m.p.oilLevel,
		EngineC: ambient.TemperatureC, CoilC: ambient.TemperatureC,
		FuelML: 0.75 * m.p.tankML, BowlML: m.p.bowlML, SinceAttemptMin: 1e4,
	}
	m.Jolt(Draws{})
	if m.p.tankEmpty {
		m.s.FuelML, m.s.BowlML = 0, 0
	}
	if m.p.flood > 0 && m.p.pumpKPa == 0 && !m.p.tankEmpty {
		m.s.OilFuel = 0.15 * min(m.p.flood/1.6, 1) // it has stood with its fuel on
	}
	if m.feed(0.2, 0) < 0.02*m.p.rateML {
		m.s.BowlML = 0 // it came in as it last stopped: dry
	}
	return m, nil
}

// setFaults works the parameters out anew from the healthy specimen.
func (m *Machine) setFaults(faults []FaultSpec) error {
	p := *m.ref
	for i, f := range faults {
		law, ok := laws[f.ID]
		if !ok {
			return fmt.Errorf("faults[%d].id: the model has no fault %q", i, f.ID)
		}
		if !(f.Severity >= 0 && f.Severity <= 1) {
			return fmt.Errorf("faults[%d].severity: %g is outside 0 to 1", i, f.Severity)
		}
		law(&p, f.Severity, f.Mode)
	}
	stop := m.d.idleStop
	m.p, m.faults, m.d = p, slices.Clone(faults), p.derive(m.ambient)
	m.d.idleStop = stop
	m.Jolt(Draws{})
	return nil
}

// History weighs the causes in this machine's life, by id, with a sum of one,
// or nothing for one that has no fault. A fault whose cause is left open has
// each that the catalogue gives it; a cause that is itself a fault is asked
// for its own.
func (m *Machine) History() map[string]float64 {
	out := map[string]float64{}
	cat := catalogue.Standard()
	var add func(id string, weight float64, deep int)
	add = func(id string, weight float64, deep int) {
		f := cat.Fault(id)
		if f == nil || deep > 3 {
			out[id] += weight
			return
		}
		for _, c := range f.Causes {
			add(c, weight/float64(len(f.Causes)), deep+1)
		}
	}
	for _, f := range m.faults {
		id := f.Cause
		if id == "" {
			id = f.ID
		}
		add(id, 1/float64(len(m.faults)), 0)
	}
	return out
}

// HasLaw says whether the model knows a fault.
func HasLaw(fault string) bool { _, ok := laws[fault]; return ok }

// Clone gives an independent copy.
func (m *Machine) Clone() *Machine { c := *m; return &c }

// Same says that two machines are one and the same, as they stand: whatever is done
// to either does the same to the other. Copies of one machine may be; machines made
// apart are not.
func (m *Machine) Same(o *Machine) bool {
	return m.ref == o.ref && m.s == o.s && m.p == o.p && m.d == o.d && m.ambient == o.ambient && slices.Equal(m.faults, o.faults)
}

// Faults lists what is still hidden.
func (m *Machine) Faults() []FaultSpec { return slices.Clone(m.faults) }

// Family is the id of its family.
func (m *Machine) Family() string { return m.family }

// Sheet is the machine's service sheet.
func (m *Machine) Sheet() catalogue.Sheet { return m.sheet }

// State is the present, by value.
func (m *Machine) State() State { return m.s }

// SetFuel fills or drains the tank to ml, at most its volume.
func (m *Machine) SetFuel(ml float64) { m.s.FuelML = clamp(ml, 0, m.p.tankML) }

// TankML is the tank's volume in ml.
func (m *Machine) TankML() float64 { return m.p.tankML }

// FoundInStop says that a fault left the switch in STOP.
func (m *Machine) FoundInStop() bool { return m.p.foundStop }

// SetControls moves the controls, with what follows at once: a cap that is
// opened lets the tank breathe, and a tilt spills.
func (m *Machine) SetControls(c Controls) {
	if c.Tilt != m.s.Controls.Tilt && c.Tilt != Level {
		m.tip(c.Tilt)
	}
	m.s.Controls = c
	if c.Cap != CapTight {
		m.s.TankVacuumKPa = 0
	}
}

// tip is what standing the machine the wrong way up costs. The side that the
// sheet lets up pays in full when it lies down instead, another one half
// (common practice; sizes chosen by us).
func (m *Machine) tip(t Tilt) {
	wrong := map[Tilt]string{PlugDown: "plug", FilterDown: "filter", BreatherDown: "valve-chest"}[t]
	share := 0.5
	if wrong == m.p.upSide {
		share = 1
	}
	full := m.s.BowlML / m.p.bowlML
	switch t {
	case PlugDown: // the bowl runs into the intake and down to the plug
		m.s.Film += 24 * full * share
		m.s.CylinderML += 0.3 * m.s.BowlML * share
	case FilterDown:
		m.s.FilterWet = max(m.s.FilterWet, 0.6*full*share)
		if m.p.rodSplash && m.s.OilLevel > 0.3 {
			m.s.FilterOil = max(m.s.FilterOil, 0.3*share)
		}
	case BreatherDown:
		m.s.OilyPlug = m.p.rodSplash || m.p.twoStroke
		m.s.BoreOilML = m.p.wetOil * share
		if m.p.rodSplash {
			m.s.FilterOil = max(m.s.FilterOil, 0.45*share*min(m.s.OilLevel, 2))
		}
	}
	m.s.BowlML *= 1 - 0.6*share
}

// TiltPrime tips it plug down for a moment, so that a well over the tank
// fills: that takes a tank over half full. Source: common practice.
func (m *Machine) TiltPrime() {
	if m.s.FuelML > 0.5*m.p.tankML {
		m.s.BowlML = m.p.bowlML
		m.s.Film += 4
		m.s.OnWalls += 4
	}
}

// OpenLine takes the fuel line off the carburettor or puts it back. Air that
// comes in through the open line relieves a vacuum in the tank. A line that is
// neither shut nor clamped spills first.
func (m *Machine) OpenLine(off bool) {
	if off {
		m.s.TankVacuumKPa = 0
		ml := 3.0
		if m.p.headKPa > 0 && !m.s.Controls.ValveShut && !m.s.Controls.LineClamped {
			ml = 15
		}
		m.spill(ml)
	}
	m.s.LineOff = off
}

// OpenBowl takes the bowl off, which empties it, or puts it back. With the
// line open to the tank more runs after.
func (m *Machine) OpenBowl(off bool) {
	if off {
		after := 0.0
		if m.p.headKPa > 0 && !m.s.Controls.ValveShut && !m.s.Controls.LineClamped && !m.s.LineOff {
			after = 30
		}
		m.s.SpiltML += m.s.BowlML
		m.spill(after)
		if m.s.BowlML > 0 || !m.s.BowlOpened {
			m.s.OpenedShare = m.s.BowlML / m.p.bowlML
		}
		m.s.BowlML, m.s.BowlOpened = 0, true
	}
	m.s.BowlOff = off
}

// spill lets fuel run out of the tank.
func (m *Machine) spill(ml float64) {
	ml = min(ml, m.s.FuelML)
	m.s.FuelML -= ml
	m.s.SpiltML += ml
}

// WipeUp takes away what was spilt, but for what lay there before, ml.
func (m *Machine) WipeUp(before float64) { m.s.SpiltML = min(m.s.SpiltML, before) }

// Inflict adds something that work has left behind, or makes it worse.
func (m *Machine) Inflict(f FaultSpec) {
	faults := m.Faults()
	if i := slices.IndexFunc(faults, func(o FaultSpec) bool { return o.ID == f.ID }); i >= 0 {
		faults[i].Severity = max(faults[i].Severity, f.Severity)
	} else {
		faults = append(faults, f)
	}
	// Only what the catalogue's repairs leave comes here, so this cannot fail.
	_ = m.setFaults(faults)
}

// Mend takes faults away, with the controls left as they are. A switch found
// in STOP is put to RUN.
func (m *Machine) Mend(ids ...string) {
	left := slices.DeleteFunc(m.Faults(), func(f FaultSpec) bool { return slices.Contains(ids, f.ID) })
	if len(left) == len(m.faults) {
		return
	}
	if m.p.foundStop && slices.Contains(ids, "switch-off") {
		m.s.Controls.Stop = false
	}
	if m.p.foundShut && slices.Contains(ids, "valve-shut") {
		m.s.Controls.ValveShut = false
	}
	was := m.p
	// Faults already there are known to the model, so this cannot fail.
	_ = m.setFaults(left)
	m.afterwards(&was)
}

// Refit puts right what a part has that only sat badly, as it goes back: a nut is
// tightened, unless its thread is bruised, a gasket is new.
func (m *Machine) Refit(ids ...string) {
	if m.s.ThreadBruised {
		ids = slices.DeleteFunc(slices.Clone(ids), func(id string) bool { return id == "flywheel-nut-loose" })
	}
	m.Mend(ids...)
}

// BruiseThread is a hammer on the end of the crank: its nut will not hold.
func (m *Machine) BruiseThread() {
	m.s.ThreadBruised = true
	m.Inflict(FaultSpec{ID: "flywheel-nut-loose", Severity: 0.5})
}

// afterwards puts the state right that a mended fault had left behind.
func (m *Machine) afterwards(was *params) {
	if was.tankEmpty && !m.p.tankEmpty {
		m.s.FuelML = 0.75 * m.p.tankML
	}
	if was.filterShut > m.p.filterShut {
		m.s.FilterOil, m.s.FilterWet = 0, 0
	}
	if was.stale > 0 || was.water > 0 || was.ethanol > 0 {
		m.s.Stale, m.s.Water = m.p.stale, 0
	}
	if was.oilLevel != m.p.oilLevel {
		m.s.OilLevel, m.s.OilFuel = m.p.oilLevel, 0
	}
	if was.coilScale < m.p.coilScale || was.secondaryOpen != m.p.secondaryOpen {
		m.s.CoilStrain = 0
	}
	if was.plugShunt < 100 && m.p.plugShunt > 100 {
		m.s.PlugTone, m.s.OilyPlug = 0, false
	}
	if was.key != m.p.key || was.nutLoose != m.p.nutLoose || was.peened != m.p.peened {
		m.s.KeyCreep = 0
	}
	if was.ringLeak > m.p.ringLeak || (was.seized && !m.p.seized) {
		m.s.Worn, m.s.Drag, m.s.Scuffed, m.s.Seized = 0, 0, 0, false
	}
}

// BlastVent blows the vent's dirt aside with compressed air, for a while.
func (m *Machine) BlastVent() { m.s.VentBlown = 0.8 }

// StrainCoil is some pulls with nowhere for the spark to go: the winding takes
// it (common practice; three thousandths of its voltage a pull, chosen by us).
func (m *Machine) StrainCoil(pulls int) {
	m.s.CoilStrain = min(m.s.CoilStrain+0.003*float64(pulls), 0.5)
}

// RunDry is what a dose without oil does to a two-stroke's bore, mm² of leak.
func (m *Machine) RunDry() {
	if m.p.twoStroke {
		m.s.Worn += 0.01
	}
}

// MainJetOpen is the share of the main jet that light comes through, 0 to 1.
func (m *Machine) MainJetOpen() float64 { return m.p.mainOpen * (1 - m.s.Clog) }

// CleanJet takes out of the jets what has come in since.
func (m *Machine) CleanJet() { m.s.Clog = 0 }

// PlugFace says how the plug looks: "oily", "wet", "damp", "dry", "sooty",
// "white" or "tan". Wetness shows only on a plug that has not fired since.
func (m *Machine) PlugFace() string {
	s := &m.s
	switch {
	case m.p.plugCracked:
		return "cracked"
	case s.OilyPlug || (m.p.oilBurn >= 0.3 && s.RunMin > 0.5):
		return "oily"
	case s.Wet() > 7:
		return "wet"
	case s.Wet() > 2.5:
		return "damp"
	case s.RunMin == 0 && s.SinceAttemptMin < 60:
		return "dry"
	case s.PlugTone < -0.5 || (m.p.plugShunt < 2 && m.p.grit == 0):
		return "sooty"
	case s.PlugTone > 0.5:
		return "white"
	}
	return "tan"
}

// JustRan marks an attempt or run as having ended this moment.
func (m *Machine) JustRan() { m.s.SinceAttemptMin = 0 }
