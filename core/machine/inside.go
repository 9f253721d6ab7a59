package machine

// Inside is what can be seen, felt or measured of a machine that is opened up:
// parameters and state as they are, for looks and feels to be made of.
type Inside struct {
	TwoStroke, HasBar                                bool
	MainOpen, PilotOpen, SideHoles                   float64 // shares open; side holes 1 clear
	FilterShut                                       float64
	FilterTorn, FilterOily, FilterFuelWet, Nest      bool
	FilterTear                                       float64
	ChokeLeast, ChokeMost                            float64
	SpringOff, Overspeed, ThrottleSticks             bool
	ArrestorShut                                     float64
	FuelML, Stale, Water, Ethanol, NoOil, OilRich    float64
	OilLevel                                         float64
	Weep, LineAir, LinePass, FilterPass              float64
	VentPass                                         float64
	Debris                                           float64
	NeedleOpen, NeedleLeak, Metering, Stiff, PumpEff float64
	FloatSunk, CutStuck, PickupOff                   bool
	PrimerFills                                      float64
	FalseAir                                         float64
	PlugGapMM, AirGapMM, Magnet                      float64
	PlugCracked, Swarf, Oxidised                     bool
	SeriesKV, LeadFlashKV                            float64
	Chafe                                            float64 // of the kill wire
	KeyDegrees                                       float64
	KeyWhole                                         bool
	NutLoose                                         float64
	// Screws, against where they belong; of a carburettor with one, the first.
	ScrewHigh, ScrewLow               float64
	MainFlow                          float64 // what a drilled or worn jet lets through, as a factor
	MufflerNest, LineCracked          float64
	TornDiaphragm                     float64 // how far any of them is torn
	PumpReversed, ScrewMissing        bool
	Seal                              float64
	InletShift, ExhaustShift          float64 // mm of clearance against the sheet
	ValveOpen, GasketTrack            bool
	ValveLeak, GasketGap              float64 // how far the two have gone
	PortShut                          float64 // share of the exhaust port shut by carbon
	ValveBurnt                        float64
	RingLeak, HealthyRingLeak, Scored float64
	ScoredDeep                        float64 // how deep the scores are to the eye
	FinsPacked                        float64
	BreatherOff, CrankBent            bool
	Noise                             float64
	Rocks                             bool
	Bubbles                           float64 // share of the line's flow that is vapour
	NearHeat, SealSwollen, RunsBack   float64 // the line at a hot part, the cap's seal, the primer's valve
	PlugHeld, HeadHeld                float64 // shares of the torque that they hold
	PlugHot                           float64
	BladeLoose, CreepsAt              float64 // rpm from which the tool turns
	CableShort, CableStops, BarSlack  float64
	SealOut                           float64 // what of a seal's leak a pressure finds
	Hisses                            bool    // past a joint, with each stroke
	// What work has left behind.
	Rag, Swollen, ScrewLost, WrongHole, ScreenHoled bool
	LimitersOff, VentDrilled, Peened, Gritted       bool
	OneWayVent                                      bool
	KeyFlared                                       float64 // how far the hammer has driven the key out
	OilFuel, CylinderML, VentBlown                  float64
}

// Inside looks into the machine.
func (m *Machine) Inside() Inside {
	p, h, s := &m.p, m.ref, &m.s
	in := Inside{
		TwoStroke: p.twoStroke, HasBar: p.bar, MainOpen: m.MainJetOpen(), PilotOpen: p.pilotOpen, SideHoles: h.emulsion / p.emulsion,
		FilterShut: max(max(p.filterShut, s.FilterOil),
			s.FilterWet), FilterTorn: p.torn, FilterOily: p.oilSoaked || s.FilterOil > 0.1, FilterFuelWet: s.FilterWet > 0.1 || m.has("filter-fuel-wet"),
		FilterTear: m.severity("filter-torn"), Nest: m.has("intake-nest"),
		ChokeLeast: p.chokeLeast, ChokeMost: p.chokeMost, SpringOff: p.governorPull == 0, Overspeed: p.governed > h.governed, ThrottleSticks: p.throttleFix >= 0,
		ArrestorShut: p.arrestor, FuelML: s.FuelML, Stale: s.Stale, Water: p.water, Ethanol: p.ethanol, NoOil: p.noOil, OilRich: p.oilRich, OilLevel: s.OilLevel,
		Weep: p.weep, LineAir: p.lineAir, LinePass: p.feedLine / h.feedLine, FilterPass: p.feedFilter / h.feedFilter, VentPass: p.vent / h.vent,
		Debris: p.debris, NeedleOpen: p.needleOpen, NeedleLeak: p.flood, Metering: p.metering, Stiff: p.stiff, PumpEff: p.pumpEff,
		FloatSunk: m.has("float-sunk"), PickupOff: p.pickupOff, CutStuck: p.cutStuck, PrimerFills: p.primerFills, FalseAir: p.falseAir,
		PlugGapMM: p.plugGap, AirGapMM: p.airGap, Magnet: p.magnet / h.magnet, PlugCracked: p.plugCracked, Swarf: p.swarf, Oxidised: m.has("points-oxidised"),
		SeriesKV: p.seriesKV, LeadFlashKV: p.leadFlash, KeyDegrees: p.key + s.KeyCreep, KeyWhole: p.keyWhole == 1 || p.key == 0,
		NutLoose: p.nutLoose,
		MainFlow: p.mainFlow, Seal: p.seal, ValveOpen: p.valveLeak-h.valveLeak > 0.3 && p.burnt == 0, ValveBurnt: p.burnt,
		ValveLeak: p.valveLeak - h.valveLeak, GasketGap: m.severity("head-gasket-leaks"),
		GasketTrack: 0.014*p.displacement*m.severity("head-gasket-leaks") > 0.2, PortShut: p.portShut,
		RingLeak: p.ringLeak + s.Worn, HealthyRingLeak: h.ringLeak, Scored: p.oilBlind, ScoredDeep: m.severity("bore-scored"),
		FinsPacked: p.finsRise / 120, BreatherOff: p.breatherOff,
		CrankBent: p.crankBent, Noise: p.noisy,
		MufflerNest: m.severity("muffler-nest"), LineCracked: m.severity("line-cracked"), PumpReversed: m.has("pulse-blocked"),
		TornDiaphragm: m.torn(), ScrewHigh: m.screwAt("main"), ScrewLow: m.screwAt("low"), ScrewMissing: m.has("screw-missing"),
		Chafe: m.severity("kill-wire-earthed"), Rocks: m.has("carb-mount-loose") || m.has("screw-lost"),
		Rag: m.has("rag-in-intake"), Swollen: m.has("gasket-swollen"), ScrewLost: m.has("screw-lost"), WrongHole: m.has("linkage-wrong-hole"),
		ScreenHoled: m.has("screen-holed"),
		LimitersOff: m.has("limiters-off"), VentDrilled: m.has("vent-drilled"), Peened: p.peened > 0, KeyFlared: m.severity("key-peened"), Gritted: p.grit > 0,
		Bubbles: 1 - m.liquid(), NearHeat: m.severity("vapour-lock"), SealSwollen: m.severity("cap-seal-swollen"), RunsBack: m.severity("primer-valve"),
		PlugHeld: p.plugHeld, HeadHeld: p.headHeld, PlugHot: p.plugHot, BladeLoose: m.severity("blade-loose"),
		CreepsAt: p.idle * (clutchGrips - 1.4*p.clutch), BarSlack: m.severity("bar-cable-slack"),
		SealOut: p.seal * p.sealOut, Hisses: p.jointLeak > h.jointLeak+0.2,
		OneWayVent: p.oneWayVent, OilFuel: s.OilFuel, CylinderML: s.CylinderML, VentBlown: s.VentBlown,
	}
	switch {
	case m.has("valve-clearance-tight"): // the hotter one closes up first
		in.InletShift, in.ExhaustShift = m.onValves("valve-clearance-tight", -0.12, -0.14)
	case m.has("valve-clearance-wide"):
		in.InletShift, in.ExhaustShift = m.onValves("valve-clearance-wide", 0.25, 0.25)
	}
	if cable := m.severity("control-cable-misset"); m.mode("control-cable-misset") == "stays-in-stop" {
		in.CableStops = cable
	} else {
		in.CableShort = cable
	}
	if bent := rodOff * m.severity("pushrod-bent"); m.mode("pushrod-bent") == "ex" {
		in.ExhaustShift += bent
	} else {
		in.InletShift += bent
	}
	return in
}

// clutchGrips is the speed, as a share of idle, from which a sound centrifugal clutch
// takes the tool along, and rodOff what a pushrod quite bent leaves between rocker and
// valve, mm (common practice; sizes chosen by us).
const (
	clutchGrips = 1.45
	rodOff      = 1.5
)

// onValves is what a fault of the clearances takes of each at full severity, mm:
// of both, or of the one that it is on.
func (m *Machine) onValves(id string, inlet, exhaust float64) (in, ex float64) {
	s := m.severity(id)
	switch m.mode(id) {
	case "in":
		return inlet * s, 0
	case "ex":
		return 0, exhaust * s
	}
	return inlet * s, exhaust * s
}

// torn is how far a diaphragm is torn that can be seen when they lie open.
func (m *Machine) torn() float64 {
	worst := m.severity("pump-diaphragm")
	if m.p.choke == chokeSuction {
		worst = max(worst, m.severity("suction-diaphragm"))
	}
	if m.mode("metering-diaphragm") != "stiff" {
		worst = max(worst, m.severity("metering-diaphragm"))
	}
	return worst
}

// screwAt is where a mixture screw stands, as a factor of where it belongs.
func (m *Machine) screwAt(which string) float64 {
	at := 1.0
	for id, way := range map[string]float64{"screw-lean": -0.9, "screw-rich": 0.9} {
		mode := m.mode(id)
		if mode == "" || m.p.choke == chokeSuction {
			mode = "main" // the first, or the only one
		}
		if mode == which {
			at += way * m.severity(id)
		}
	}
	return at
}

// mode is which way a fault went, empty where it goes only one or is not there.
func (m *Machine) mode(id string) string {
	for _, f := range m.faults {
		if f.ID == id {
			return f.Mode
		}
	}
	return ""
}

func (m *Machine) severity(id string) float64 {
	for _, f := range m.faults {
		if f.ID == id {
			return f.Severity
		}
	}
	return 0
}

// has says that something is there that only an eye can tell from another
// thing with the same effect.
func (m *Machine) has(id string) bool {
	for _, f := range m.faults {
		if f.ID == id {
			return true
		}
	}
	return false
}

// Prime presses the primer bulb so many times.
func (m *Machine) Prime(presses int) {
	if m.p.primer || m.p.choke == chokePrimer {
		m.s.Primed += presses
	}
}

// HasScrews says that the mixture can be set by hand.
func (m *Machine) HasScrews() bool { return m.p.twoStroke || m.p.choke == chokeSuction }

// TurnScrews turns the mixture screws by a factor of what they let through; by 0,
// to where they belong.
func (m *Machine) TurnScrews(by float64) {
	if by == 0 {
		m.Mend("screw-lean", "screw-rich")
		return
	}
	m.p.mainFlow *= by
	m.p.pilotOpen *= by
	stop := m.d.idleStop
	m.d = m.p.derive(m.ambient)
	m.d.idleStop = stop
}

// Follow takes over the state that another copy of the machine has come to.
func (m *Machine) Follow(o *Machine) { m.s = o.s }

// Oversize is how far a drill or wire has opened the main jet, as a share of
// its bore.
func (m *Machine) Oversize() float64 { return 0.5 * m.severity("jet-oversize") }

// BowlFilling says that the bowl is less than half full and filling by itself.
func (m *Machine) BowlFilling() bool {
	return m.s.BowlML < 0.5*m.p.bowlML && m.feed(0, 0) > 0.1*m.p.rateML
}

// Primes says that the engine has a primer bulb and no choke plate to start on.
func (m *Machine) Primes() bool { return m.p.choke == chokePrimer }

// HasBar says that the machine has a dead-man bar.
func (m *Machine) HasBar() bool { return m.p.bar }

// TwoStroke says that the engine is a two-stroke.
func (m *Machine) TwoStroke() bool { return m.p.twoStroke }

// ChokesItself says that the choke is not worked by hand.
func (m *Machine) ChokesItself() bool {
	return m.p.choke == chokeSuction || m.p.choke == chokeThermostat
}

// FoundShut says that a fault left the fuel valve shut.
func (m *Machine) FoundShut() bool { return m.p.foundShut }

// FoundEmpty says that it came in with nothing in its tank.
func (m *Machine) FoundEmpty() bool { return m.p.tankEmpty }

// Uncover tells the machine which of its covers are off that change how it
// runs.
func (m *Machine) Uncover(filter, muffler bool) {
	m.s.FilterOff, m.s.MufflerOff = filter, muffler
}

// TopUpOil brings the oil to its mark.
func (m *Machine) TopUpOil() { m.s.OilLevel = 1 }

// FiringDegrees is where the magnet passes the coil, degrees before top dead
// centre.
func (m *Machine) FiringDegrees() float64 { return m.p.advance + m.p.key + m.s.KeyCreep }

// recoilFeel is what the hand meets at a broken rope starter, by what broke: pawls
// that do not grip feel as if nothing were there.
var recoilFeel = map[string]string{"": "none", "pawl": "none", "rope": "rope-gone", "spring": "stays-out"}

// Shares of a full charge's compression from which a hand calls a pull soft, and strong.
const feltSoft, feltStrong = 0.25, 0.72

// Feel is the pull of the rope: locked, drags, snatches, none, soft or strong.
func (m *Machine) Feel() string {
	if m.p.recoilBroken {
		return recoilFeel[m.mode("recoil-broken")]
	}
	if m.locked() {
		return "locked"
	}
	if m.p.brake > 0.05 || (m.p.bar && !m.barHeld()) || m.p.crankBent {
		return "drags"
	}
	// Full compression that nothing relieves tears the rope back.
	if m.ref.decompressor > 0 && m.p.decompressor < 0.4*m.ref.decompressor {
		return "snatches"
	}
	f, _ := m.kept(m.p.crank)
	f *= 1 - 0.85*m.p.inletShut
	switch {
	case m.p.rodBroken || f < feltSoft:
		return "none"
	case f < feltStrong:
		return "soft"
	}
	return "strong"
}

// Speed is the speed under a load in rpm, 0 if it does not run; it must be
// running.
func (m *Machine) Speed(l Load) float64 {
	at, ok := m.settle(l, 0, m.s.BowlML/m.p.bowlML, 0)
	if !ok {
		return 0
	}
	return at.rpm
}

// SparkKV is what comes to an earthed plug at a speed, kV.
func (m *Machine) SparkKV(rpm, lossKV float64) float64 {
	return m.plugKV(m.coilKV(rpm)-lossKV, m.s.Wet())
}

// SparkColour is what shows at a plug earthed in open air: none, faint, orange
// or blue. An open plug needs some 3 kV.
func (m *Machine) SparkColour(rpm, lossKV float64) string {
	switch kv := m.SparkKV(rpm, lossKV); {
	case kv < 2.5:
		return "none"
	case kv < 4.5:
		return "faint"
	case kv < 9:
		return "orange"
	}
	return "blue"
}

// DryPlug takes the fuel off plug and walls.
func (m *Machine) DryPlug() { m.s.Film, m.s.PlugFilm = 0, 0 }

// Breathe opens the cap for a moment: a vacuum in the tank is gone.
func (m *Machine) Breathe() { m.s.TankVacuumKPa = 0 }

// OpenedShare is how full the bowl was when it was opened, 0 to 1.
func (m *Machine) OpenedShare() float64 { return m.s.OpenedShare }

// DrainBowl empties the bowl and says how much came, ml.
func (m *Machine) DrainBowl() float64 {
	ml := m.s.BowlML
	m.s.BowlML, m.s.BowlOpened = 0, true
	return ml
}

// refillMin is how long one waits for a bowl to fill that was opened, minutes.
const refillMin = 2

// Refill lets a bowl fill that was emptied by hand since the engine last ran.
func (m *Machine) Refill() {
	if m.s.BowlOpened {
		m.Rest(refillMin)
	}
}
