package machine

import "math"

// feedKPa is the pressure that drives fuel into the bowl, kPa, at a speed
// (share of rated) and a choke position.
func (m *Machine) feedKPa(x, choke float64) float64 {
	s, p := &m.s, &m.p
	if s.FuelML <= 0 || s.Controls.ValveShut || s.Controls.LineClamped || s.LineOff || s.Controls.Tilt != Level || p.pickupOff {
		return 0
	}
	drive := p.headKPa - s.TankVacuumKPa
	if p.pumpKPa > 0 {
		// The pump lives on crankcase pulses; a shut choke pulls on the chamber too.
		drive += p.pumpKPa*p.pumpEff*(1-0.6*p.seal)*(0.35+0.65*x)*(1-0.85*p.lineAir) + 9*choke*choke*min(x*2, 1)
	}
	return max(drive, 0)
}

// Petrol's vapour pressure: 60 kPa at 37.8 °C, the most that EN 228 lets summer petrol
// have by Reid's method. vapourK is the slope of its logarithm over 1/T, K: petrol of
// 10 psi has 5.2 psi at 60 °F and 10.5 at 100 °F (EPA AP-42, table of petroleum liquids,
// from memory). Stale fuel has lost its light ends.
const (
	reidKPa, reidK = 60.0, 310.95
	vapourK        = 2840.0
)

// liquid is the share of the line's flow that bubbles leave: fuel begins to boil in
// earnest as its vapour pressure nears that of the day, and past it none comes
// (a range of a fifth on either side chosen by us).
func (m *Machine) liquid() float64 {
	if m.p.lineHeat == 0 {
		return 1
	}
	kelvin := 273.15 + m.ambient.TemperatureC + m.p.lineHeat*(m.s.EngineC-m.ambient.TemperatureC)
	kpa := vapourKPa(kelvin, m.s.Stale)
	return clamp(3-2.5*kpa/m.d.pressure, 0, 1)
}

// vapourKPa is petrol's vapour pressure at a temperature, by how stale it is.
func vapourKPa(kelvin, stale float64) float64 {
	return reidKPa * (1 - 0.5*stale) * math.Exp(vapourK*(1/reidK-1/kelvin))
}

// feed is what the supply can give at a speed (share of rated), ml/min.
func (m *Machine) feed(x, choke float64) float64 {
	q := m.d.feedConductance * m.feedKPa(x, choke) * m.liquid()
	if m.p.pumpKPa > 0 {
		q *= (1 - m.p.lineAir) * m.p.pumpEff * sq(max(m.p.metering, 0.02))
	}
	return q
}

// FlowMLMin is the flow in ml/min out of the line held open at the
// carburettor's level. The open line lets the tank breathe, so a blocked vent
// does not show here.
func (m *Machine) FlowMLMin() float64 {
	if m.s.FuelML <= 0 || m.s.Controls.ValveShut || m.s.Controls.LineClamped || m.s.Controls.Tilt != Level || m.p.pickupOff {
		return 0
	}
	g := series(m.p.feedFilter, m.p.feedLine) * m.liquid()
	if m.p.pumpKPa > 0 { // drawn by a hand bulb of 5 kPa
		return max(m.p.headKPa+5, 0) * g * (1 - m.p.lineAir)
	}
	return m.p.headKPa * g
}

// lineML is what stands in the line below the valve.
const lineML = 1.5

// CupML is what runs out of the open line into a cup in some seconds, ml: what
// stands in the line falls out first, where air or fuel can follow it; one shut
// at its top holds it as a straw does.
func (m *Machine) CupML(seconds float64) float64 {
	flow := m.FlowMLMin()
	return flow*seconds/60 + lineML*min(flow/10, 1)*(1-math.Exp(-seconds/4))
}

// DrawFuel takes fuel out of the tank, ml.
func (m *Machine) DrawFuel(ml float64) { m.s.FuelML = max(m.s.FuelML-ml, 0) }

// tankBreath is how much more air a tank seems to hold than it does: petrol gives
// off vapour and air as the pressure falls. It and what the walls give are chosen
// so that a vent quite shut stops an engine after some four minutes of work.
const tankBreath = 2

// supply moves bowl, tank and tank vacuum on by dt minutes while the engine
// draws use ml/min. The needle opens over the top tenth of the bowl, and the
// step is implicit, so a stiff needle cannot make the level jump.
func (m *Machine) supply(dt, use, x, choke float64) {
	s, p := &m.s, &m.p
	if s.BowlOff {
		s.BowlML = 0
		return
	}
	capacity := m.feed(x, choke)
	level, k := s.BowlML/p.bowlML, dt/p.bowlML
	next := level + k*(capacity-use) // needle wide open
	if next > 0.9 {
		next = (level + k*(capacity*10-use)) / (1 + k*capacity*10)
	}
	next = clamp(next, 0, 1)
	in := (next-level)/k + use
	if in < 0 {
		in = 0
	}
	if level <= 0 && next <= 0 {
		in = capacity
	}
	s.BowlML = next * p.bowlML
	if s.FuelML -= in * dt; s.FuelML < 0 {
		s.FuelML = 0
	}
	// Boyle: fuel leaving a closed tank lets its headspace expand, and the vent
	// lets air back in, laminar. Exact step of the exponential.
	if s.Controls.Cap != CapTight || s.LineOff {
		s.TankVacuumKPa = 0
		return
	}
	if in == 0 && s.TankVacuumKPa == 0 {
		return
	}
	vent := p.vent + p.ventLeak + m.s.VentBlown*(m.ref.vent-min(p.vent, m.ref.vent))
	head := tankBreath*max(p.tankML-s.FuelML, 20) + p.tankGive
	left := decay(dt * vent * m.d.pressure / head)
	s.TankVacuumKPa = s.TankVacuumKPa*left + in/vent*(1-left)
}

// Rest lets the machine stand for some minutes, stopped.
func (m *Machine) Rest(minutes float64) {
	for left := minutes; left > 0; {
		dt := min(left, 0.5)
		if left > 30 && m.s.TankVacuumKPa < 0.01 {
			dt = min(left, 10)
		}
		m.supply(dt, 0, 0, 0)
		m.cool(dt)
		m.seep(dt)
		left -= dt
	}
	m.s.SinceAttemptMin += minutes
}

// seep is what a needle that leaks lets past while the engine stands under
// its tank: a damp intake, fuel in the sump, and in a night a cylinder that is
// full (common practice; rates chosen by us).
func (m *Machine) seep(dt float64) {
	s, p := &m.s, &m.p
	if p.flood <= 0 || p.pumpKPa > 0 || m.feedKPa(0, 0) <= 0 || s.BowlOff {
		return
	}
	leak := min(p.flood/1.6, 1) * dt
	s.Film += 0.3 * leak
	s.CylinderML = min(s.CylinderML+0.02*leak, m.d.clearance)
	s.OilFuel = min(s.OilFuel+0.0003*leak, 0.5)
	s.FuelML = max(s.FuelML-0.2*leak, 0)
}

// Leaks says that fuel gets out where it can be seen.
func (m *Machine) Leaks() bool { return m.p.weep > 0.25 || m.Drips() }

// Drips says that fuel runs past the needle while it stands, and shows.
func (m *Machine) Drips() bool {
	return m.p.flood > 0.5 && m.p.pumpKPa == 0 && m.feedKPa(0, 0) > 0 && !m.s.BowlOff
}

func (m *Machine) cool(dt float64) {
	s, air := &m.s, m.ambient.TemperatureC
	s.EngineC = air + fade(s.EngineC-air, dt, 25)
	s.CoilC = air + fade(s.CoilC-air, dt, 20)
	s.CoilOpen = s.CoilOpen && s.CoilC > m.p.coilOpenC-coilCloses
	s.Film, s.PlugFilm = fade(s.Film, dt, 18), fade(s.PlugFilm, dt, 18)
	if p := &m.p; p.rodSplash && s.CylinderML > 0 && p.flood == 0 {
		s.CylinderML = fade(s.CylinderML, dt, 40) // it drains past the rings
	}
	s.BoreOilML = fade(s.BoreOilML, dt, 30) // it runs past the rings
	if boils := 1 - m.liquid(); boils > 0 { // what lies in the bowl boils off as it stands
		s.BowlML *= math.Exp(-dt / 3 * boils)
	}
	s.FilterWet = fade(s.FilterWet, dt, 5)
	s.SpiltML = fade(s.SpiltML, dt, 25) // it dries off
}

// fade is what is left of something after dt that falls to 1/e in tau; of
// nothing, which is how most things stand, nothing.
func fade(x, dt, tau float64) float64 {
	if x == 0 {
		return 0
	}
	return x * decay(dt/tau)
}

// decay is e^−x, as a series where that is as good: steps are mostly short.
func decay(x float64) float64 {
	if x < 0 || x > 0.01 {
		return math.Exp(-x)
	}
	return 1 - x*(1-x/2*(1-x/3*(1-x/4*(1-x/5))))
}

// warm moves temperatures and plug colour on by dt minutes of running.
func (m *Machine) warm(dt, load, lambda float64) {
	s, p, air := &m.s, &m.p, m.ambient.TemperatureC
	load = clamp(load, 0, 1)
	engine := air + p.unloadedEngineRise + p.extraEngineRise*load + p.finsRise*(0.4+0.6*load)
	coil := air + p.unloadedCoilRise + (p.loadedCoilRise-p.unloadedCoilRise)*min(load/0.75, 1)
	s.EngineC = engine + fade(s.EngineC-engine, dt, p.warmUpMin)
	s.CoilC = coil + fade(s.CoilC-coil, dt, p.coilWarmUpMin)
	s.CoilOpen = s.CoilOpen || s.CoilC > p.coilOpenC
	tone := p.plugHot
	switch {
	case lambda < 0.75:
		tone = -1
	case lambda > 1.15:
		tone = 1
	}
	s.PlugTone = tone + fade(s.PlugTone-tone, dt, 2)
	s.Film, s.PlugFilm = fade(s.Film, dt, 0.1), fade(s.PlugFilm, dt, 0.1)
	s.BoreOilML, s.FilterWet = fade(s.BoreOilML, dt, 1.5), fade(s.FilterWet, dt, 5)
	if s.BoreOilML < 0.05 {
		s.OilyPlug = false
	}
	// Water comes in slugs: now less of it, now more.
	if p.water > 0 {
		s.Water = p.water * (0.55 + 0.45*math.Sin(3.1*s.RunMin+1+s.Slug))
	}
	s.BowlOpened = false
	s.CylinderML = 0 // what stood on the piston has burnt
	s.SinceAttemptMin = 0
	s.RunMin += dt
	m.wear(dt, load)
}

// scuffedShut is how long a two-stroke bears full load without a trace of oil, and
// stuckFrom from when it sticks where it stops, minutes.
const (
	scuffedShut = 2.5
	stuckFrom   = 0.8
)

// wear is what running does to an engine that is short of oil, air filter or
// cooling, or whose flywheel is loose.
func (m *Machine) wear(dt, load float64) {
	s, p := &m.s, &m.p
	if p.noOil > 0 {
		// The film tears sooner under load, and then it is a matter of minutes
		// (common practice; sizes chosen by us).
		s.Worn += (0.02 + 0.1*p.noOil) * dt
		s.Scuffed += max(p.noOil-0.3, 0) / 0.7 * (0.3 + load) * dt
		s.Drag = min(0.1*s.Scuffed*s.Scuffed, 0.6)
		s.Seized = s.Seized || s.Scuffed > scuffedShut
	}
	if p.dust > 0 {
		s.Worn += p.dust * dt / 60
	}
	if s.EngineC > 150 {
		s.Worn += 0.01 * (s.EngineC - 150) / 20 * dt
	}
	if p.rodSplash && s.OilLevel < 0.5 {
		s.Worn += 0.05 * (0.5 - s.OilLevel) * dt
		s.Drag = min(s.Drag+0.02*(0.5-s.OilLevel)*dt, 0.4)
	}
	if p.debris > 0 { // a jet cleaned without its bowl blocks again
		s.Clog = min(s.Clog+0.04*p.debris*dt, 0.8*p.debris)
	}
	if p.grit > 0 {
		s.Worn += p.grit * dt / 60
	}
	if p.peened > 0 {
		s.KeyCreep = max(s.KeyCreep-1.2*p.peened*dt, -60)
	}
	s.VentBlown = fade(s.VentBlown, dt, 8)
	if p.nutLoose > 0 {
		s.KeyCreep = max(s.KeyCreep-0.8*p.nutLoose*dt, -60)
	}
}

// Sample is a point of a run's speed trace.
type Sample struct {
	Minute float64 `json:"minute"`
	RPM    float64 `json:"rpm"`
}

// Run is what a run under a load came to.
type Run struct {
	Minutes  float64 // it ran
	Stopped  bool
	FalterAt float64 // minutes to the first speed below 88 % of the governor's; −1 if none
	// At the end: bowl level 0..1, and the extremes of λ on the way.
	Level, LambdaMin, LambdaMax float64
	RPM                         float64
	Trace                       []Sample
}

// run lets the engine, already firing, run for some minutes under a load. The
// steps adapt to what changes, and the moment it stops is located to 0.02 min.
// near is a throttle that it stood at before, or 0; keep says whether to record the
// speed trace.
func (m *Machine) run(minutes float64, l Load, choke, near float64, keep bool) Run {
	r := Run{FalterAt: -1, LambdaMin: 9}
	floor := 0.88 * m.p.governed
	if l == LoadIdle {
		floor = 0.88 * m.p.idle
	}
	dt, last := 0.1, 0.0
	was, held := m.s, true // the state before the last step, and whether it held its speed
	for r.Minutes < minutes {
		at, ok := m.settle(l, choke, m.s.BowlML/m.p.bowlML, near)
		ok = ok && !m.s.Seized
		holding := l != LoadTest || (ok && at.rpm >= holds*m.p.governed)
		if last > fineStep && held && !holding {
			// It lets go within the last step: that is gone through finely, for speed,
			// use and level pull at each other and a coarse step would swing.
			m.s, dt = was, fineStep
			r.Minutes -= last
			last = 0
			held = false
			if keep {
				r.Trace = r.Trace[:len(r.Trace)-1]
			}
			continue
		}
		if !ok {
			r.Stopped, r.RPM = true, 0
			m.s.Seized = m.s.Seized || m.s.Scuffed > stuckFrom // a torn film that stops it holds it
			if r.FalterAt < 0 {
				r.FalterAt = r.Minutes
			}
			r.LambdaMax = max(r.LambdaMax, at.lambda)
			break
		}
		near = at.throttle
		r.LambdaMin, r.LambdaMax, r.RPM = min(r.LambdaMin, at.lambda), max(r.LambdaMax, at.lambda), at.rpm
		if at.rpm < floor && r.FalterAt < 0 {
			r.FalterAt = r.Minutes
		}
		if keep {
			r.Trace = append(r.Trace, Sample{r.Minutes, at.rpm})
		}
		before := m.s
		step := min(dt, minutes-r.Minutes)
		for {
			m.supply(step, at.fuelMLMin, at.rpm/m.p.rated, choke)
			m.warm(step, m.demand(l, at.rpm), at.lambda)
			moved := max(math.Abs(m.s.BowlML-before.BowlML)/(0.06*m.p.bowlML), math.Abs(m.s.EngineC-before.EngineC)/8)
			if moved <= 1 || step <= 0.02 {
				switch {
				case !holding && moved > 0.1:
					dt = fineStep
				case moved < 0.5:
					dt = min(step*2, 2)
				default:
					dt = step
				}
				break
			}
			m.s = before
			step = max(step/2, 0.02)
		}
		r.Minutes += step
		was, last, held = before, step, holding
	}
	r.Level = m.s.BowlML / m.p.bowlML
	if keep {
		r.Trace = append(r.Trace, Sample{r.Minutes, r.RPM})
	}
	return r
}

// fineStep is how long one step of a run is that does not hold its speed, minutes;
// one below a share of the governed speed does not.
const (
	fineStep = 0.1
	holds    = 0.99
)

// then appends a run that followed at once.
func (r Run) then(next Run) Run {
	if r.FalterAt < 0 && next.FalterAt >= 0 {
		r.FalterAt = r.Minutes + next.FalterAt
	}
	for _, s := range next.Trace {
		r.Trace = append(r.Trace, Sample{r.Minutes + s.Minute, s.RPM})
	}
	r.LambdaMin, r.LambdaMax = min(r.LambdaMin, next.LambdaMin), max(r.LambdaMax, next.LambdaMax)
	r.Minutes += next.Minutes
	r.Stopped, r.Level, r.RPM = next.Stopped, next.Level, next.RPM
	return r
}
