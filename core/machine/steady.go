package machine

import "math"

// flow is one steady-state evaluation.
type flow struct {
	air, manifold float64 // 1 = rated; share of ambient pressure
	falseAir      float64 // 1 = rated, past the carburettor
	phi, lambda   float64 // metered, before evaporation; in the cylinder
	burns         float64 // 1, less where spent gas stays in the cylinder
	torque        float64 // net of friction, 1 = rated
	fuelMLMin     float64
}

// evaporation gives the share of metered fuel that evaporates at once, the
// share of the wall film that does so each cycle, and their steady sum, at an
// engine temperature.
func (m *Machine) evaporation() (ev, film, steady float64) {
	t, stale := m.s.EngineC, m.s.Stale
	ev = 1 / (1 + math.Exp(-(t-43-30*stale)/27))
	film = min(0.9, 0.1*math.Exp((t-20)/25)*(1-0.7*stale))
	return ev, film, ev + (1-ev)*film/(film+filmDrain)
}

// filmDrain is the share of the wall film lost down the bore each cycle.
const filmDrain = 0.05

// intake is the way in as it stands: what of an engine's breathing and metering
// hangs on speed, choke and bowl level, whatever its throttle.
type intake struct {
	// x is the share of the rated speed; strangles what stands before the throttle
	// takes, filter and choke.
	x, strangles float64
	// open is the square of the filter's open share.
	open float64
	// back is the back pressure at full manifold, clears what a free exhaust lets
	// out, thins what a hot engine leaves of the charge.
	back, clears, thins float64
	// choke is what the choke adds to the depression at no flow; lift and stiff are
	// what height and a stiff diaphragm take from it.
	choke, lift, stiff float64
	// main is the main jet as it stands, head and meter the shares of both jets that
	// the bowl's level and the diaphragm leave.
	main, head, meter float64
	// floods is what runs past the needle, share of a rated charge.
	floods float64
	// density is the square root of the air's, relative to 20 °C at sea level.
	density float64
	// leak is the false air at full manifold, 1 = rated.
	leak float64
}

// intake evaluates it for a speed, a choke and a bowl level (0..1), with the loss
// that a fuel-wet filter adds.
func (m *Machine) intake(rpm, choke, level float64) (in intake) {
	p := &m.p
	in.x = rpm / p.rated
	if p.choke == chokeThermostat {
		choke = (60 - m.s.EngineC) / 35
	}
	choke = clamp(choke, p.chokeLeast, max(p.chokeMost, p.chokeLeast))
	open := 1 - clamp(max(max(p.filterShut, m.s.FilterOil), m.s.FilterWet), 0, 0.97)
	if m.s.FilterOff {
		open = 1 - p.ragShut
	}
	in.open = open * open
	in.strangles = 0.15*choke*choke + 0.012/in.open
	arr := clamp(p.arrestor, 0, 0.97)
	if m.s.MufflerOff {
		arr = 0
	}
	arr = 1 - (1-arr)*(1-p.portShut)
	in.back = p.exhaustLoss * in.x * in.x / ((1 - arr) * (1 - arr))
	in.clears = 1 + p.exhaustLoss/p.exhaustBack
	// Above 130 °C the walls heat the charge and it thins.
	in.thins = p.breathes * (1 - 0.65*clamp((m.s.EngineC-130)/85, 0, 1))
	in.leak = p.falseAir
	if p.twoStroke {
		in.thins *= 1 - 0.45*p.seal
		in.leak += 0.20 * p.seal
	}
	in.choke = p.chokeGain * choke * choke
	if p.lift > 0 { // the lower the tank, the harder the lift
		in.lift = 0.15 * p.lift * (1 + 2*max(0, 0.5-m.s.FuelML/p.tankML))
	}
	in.stiff = 0.12 * p.stiff
	in.main = p.mainJet * p.mainOpen * (1 - m.s.Clog) * p.mainFlow
	// A sinking bowl lifts less, and uncovers the jet at the last.
	uncover := clamp(level/0.15, 0, 1)
	if p.cutStuck {
		uncover = 0 // the bowl is full and nothing leaves it
	}
	in.head = (0.5 + 0.5*(level+p.levelBias*uncover)) * uncover * uncover * (3 - 2*uncover)
	in.meter = (1 - 0.2*p.stiff) * (0.45 + 0.55*p.metering)
	in.floods = p.flood * 0.05 * uncover
	in.density = math.Sqrt(m.d.density)
	return in
}

// metered gives air, manifold pressure and the metered φ at a throttle.
func (m *Machine) metered(in *intake, throttle float64, out *flow) {
	p := &m.p
	th := throttle
	if th < 0.002 {
		th = 0.002
	}
	pm := 1 / math.Sqrt(1+in.x*in.x*(p.throttleLoss/(th*th)+in.strangles))
	// What the exhaust keeps in, the intake cannot bring; and past a share of
	// spent gas the charge no longer burns (common practice: about a third to
	// two thirds; sizes chosen by us).
	clears := in.clears / (1 + in.back*pm*pm/p.exhaustBack)
	out.burns = clamp((clears-0.25)/0.35, 0, 1)
	a := in.x * pm * clears * in.thins
	d := p.venturi*a*a*(1+in.choke/(1+8*a)) + 0.15*a*a/in.open - in.lift - in.stiff
	if d < 0 {
		d = 0
	}
	main := in.main * math.Sqrt(d) * d / (d + p.emulsion) / a
	pilot := m.d.pilotConductance * math.Sqrt(m.d.pressure*(1-pm)+d) / a
	false_ := in.leak
	if p.twoStroke { // the crankcase draws at every opening of the throttle
		if pm < 1 {
			false_ *= 0.4 + 0.6*pm
		}
	} else if false_ != 0 {
		false_ *= math.Sqrt(max(1-pm*pm, 0))
	}
	out.air, out.manifold, out.falseAir = a, pm, false_
	// Mass flow through a jet goes with √density, the air's with density.
	out.phi = ((main+pilot)*in.head*in.meter + in.floods/max(a, 0.05)) / in.density
}

// petrol is how much of its worth the fuel has: water, oil and ethanol take
// from it.
func (m *Machine) petrol() float64 {
	return (1 - m.s.Water) * m.p.fuelMix * (1 - 0.35*m.p.ethanol)
}

// turning is what of an engine hangs on its speed and state alone, whatever its
// throttle and choke.
type turning struct {
	// rpm is the speed, x its share of the rated one.
	rpm, x float64
	// eta is the share of the fuel that evaporates, petrol what it is worth.
	eta, petrol float64
	// kv is what reaches the plug.
	kv float64
	// peak is the pressure when the spark comes at full manifold, kPa; bears the most
	// that a perfect mixture gives for each share of air; drags what the engine itself
	// takes.
	peak, bears, drags float64
}

// turning evaluates it for a speed, with the share of the fuel that evaporates.
func (m *Machine) turning(rpm, eta float64) turning {
	p := &m.p
	t := turning{rpm: rpm, x: rpm / p.rated, petrol: m.petrol(), eta: eta}
	kept, dec := m.kept(rpm)
	t.peak = 0.6 * m.inletKPa(1, 0) * m.d.compressionRise * kept * dec
	if m.s.Controls.PlugLead == LeadOn {
		t.kv = m.plugKV(m.coilKV(rpm), 0)
	}
	t.bears = 1.3 / t.x * m.d.density * m.timing() * kept * kept * dec * (1 - 0.85*p.inletShut) * (1 - 0.3*m.s.Water)
	t.drags = p.friction*(0.6+0.4*t.x) + p.drag + m.s.Drag
	if !m.s.BrakeOff {
		t.drags += p.brake
	}
	return t
}

// running evaluates the engine turning under its own power at a temperature.
func (m *Machine) running(rpm, throttle, choke, level float64, out *flow) {
	_, _, eta := m.evaporation()
	m.at(rpm, eta, throttle, choke, level, out)
}

// at is running, with the share of the fuel that evaporates.
func (m *Machine) at(rpm, eta, throttle, choke, level float64, out *flow) {
	t, in := m.turning(rpm, eta), m.intake(rpm, choke, level)
	m.runningAt(&t, &in, throttle, out)
}

// burnt evaluates the mixture that it would burn.
func (m *Machine) burnt(t *turning, in *intake, throttle float64, out *flow) {
	m.metered(in, throttle, out)
	out.fuelMLMin = out.phi * out.air * m.p.rateML
	out.lambda = 1 / max(out.phi*t.eta*t.petrol*out.air/(out.air+out.falseAir), 0.05)
}

// runningAt is running at a speed and with an intake that have been evaluated.
func (m *Machine) runningAt(t *turning, in *intake, throttle float64, out *flow) {
	m.burnt(t, in, throttle, out)
	out.torque = -t.drags - 0.1*(1-out.manifold)
	lean := 0.50
	if out.lambda < 0.92 {
		lean = 0.52
	}
	mixture := 1 - sq((out.lambda-0.92)/lean)
	if mixture <= 0 || t.kv <= 0 {
		return
	}
	fire := m.fire(t.kv, t.peak*out.manifold, 700, out.lambda)
	out.torque += t.bears * (out.air + 0.5*out.falseAir) * mixture * out.burns * fire
}

// glows is how early a plug that is a full step too hot lights the charge of a hot
// engine, degrees (common practice; size chosen by us).
const glows = 40

// glowsEarly is how early a plug that glows lights the charge as it stands, degrees.
func (m *Machine) glowsEarly() float64 {
	if m.p.plugHot <= 0 {
		return 0
	}
	return glows * m.p.plugHot * clamp((m.s.EngineC-60)/25, 0, 1)
}

// timing is the share of the torque that is left by where the flywheel stands.
func (m *Machine) timing() float64 {
	early := m.glowsEarly()
	if m.s.KeyCreep == 0 && early == 0 {
		return m.d.timing
	}
	return max(1-sq((m.p.advance+m.p.key+m.s.KeyCreep+early-m.p.advanceSpec)/45), 0)
}

// Load is what the engine drives.
type Load string

// The loads an attempt or run can be made under.
const (
	LoadIdle Load = "idle"
	LoadNone Load = "none"
	LoadTest Load = "test"
)

// clutchIdle is what a clutch that does not let go takes at idle, share of the rated
// torque (chosen by us: the engine goes down by a third).
const clutchIdle = 0.14

// demand is the torque a load asks for at a speed, 1 = rated torque. A pump's
// torque goes with the square of its speed (affinity laws, textbook).
func (m *Machine) demand(l Load, rpm float64) float64 {
	switch l {
	case LoadIdle:
		return 0.01 + clutchIdle*m.p.clutch
	case LoadTest:
		return 0.75 * sq(rpm/m.p.governed)
	}
	return 0.03
}

// setting is where the engine settles under a load.
type setting struct {
	rpm, throttle float64
	flow
}

// settle finds where the engine runs under a load with a choke position and
// bowl level, starting from the throttle of the last call. ok is false when it
// cannot keep running; then the setting holds what it last tried.
func (m *Machine) settle(l Load, choke, level float64, near float64) (s setting, ok bool) {
	switch {
	case m.p.throttleFix >= 0:
		// A stuck throttle runs where it may; flat out it stops for nothing.
		return m.settleAt(l, m.p.throttleFix, choke, level, m.p.governed*1.25, m.p.governed*0.3)
	case m.p.governorPull == 0:
		return m.settleAt(l, m.d.idleStop, choke, level, m.p.idle*1.8, m.p.idle*idleStall)
	case l == LoadIdle && m.p.governedIdle:
		l = LoadNone
	case l == LoadIdle:
		return m.settleAt(l, m.d.idleStop, choke, level, m.p.idle*1.8, m.p.idle*idleStall)
	}
	n := m.p.governed
	_, _, eta := m.evaporation()
	turn, in, asked := m.turning(n, eta), m.intake(n, choke, level), m.demand(l, n)
	var carries flow // at the least throttle known to carry the load
	excess := func(th float64) float64 {
		m.runningAt(&turn, &in, th, &s.flow)
		if s.torque >= asked {
			carries = s.flow
		}
		return s.torque - asked
	}
	if excess(1) < 0 {
		return m.settleAt(l, 1, choke, level, n, n*0.40)
	}
	// The governor opens the least throttle that carries the load: looked for near to
	// where it stood, or from the stop upwards.
	low, high := m.d.idleStop*0.5, 1.0
	below, above := -1.0, 1.0 // the excess at low and high, once known
	th, step := low*2, 2.0
	if near > 0 {
		th, step = near, besideNear
	}
	for th > low && th < high {
		e := excess(th)
		if e < 0 {
			low, below = th, e
			th *= step
		} else if high, above = th, e; near > 0 {
			th /= step
		}
		step = min(step*step, 2)
	}
	// Regula falsi with Illinois' halving; the upper end always carries the load.
	for range 40 {
		if high-low < 2e-4 || above < 5e-5 {
			break
		}
		th := low + (high-low)*clamp(-below/(above-below), 0.05, 0.95)
		if e := excess(th); e >= 0 {
			high, above, below = th, e, below/2
		} else {
			low, below, above = th, e, above/2
		}
	}
	s.flow, s.rpm, s.throttle = carries, n, high
	return s, true
}

// besideNear is how far, as a factor, a throttle is first looked for on either side of
// where it stood.
const besideNear = 1.02

// settleAt finds the highest speed between high and low at which a fixed
// throttle carries the load.
func (m *Machine) settleAt(l Load, throttle, choke, level, high, low float64) (s setting, ok bool) {
	s.throttle = throttle
	_, _, eta := m.evaporation()
	var runs flow // at the highest speed known to carry the load
	excess := func(n float64) float64 {
		m.at(n, eta, throttle, choke, level, &s.flow)
		e := s.torque - m.demand(l, n)
		if e >= 0 {
			runs = s.flow
		}
		return e
	}
	const steps = 8
	above, found := high, false
	carries, lacks := 0.0, 0.0 // the excess at the highest that carries, and at above
	for i := 0; i <= steps; i++ {
		n := high - (high-low)*float64(i)/steps
		e := excess(n)
		if e >= 0 {
			s.rpm, found, carries = n, true, e
			break
		}
		above, lacks = n, e
	}
	if !found {
		s.rpm = 0
		return s, false
	}
	// Regula falsi with Illinois' halving; the lower end always carries the load.
	for range 12 {
		if above-s.rpm < 1e-4*high || carries < 2e-5 {
			break
		}
		mid := s.rpm + (above-s.rpm)*clamp(carries/(carries-lacks), 0.05, 0.95)
		if e := excess(mid); e >= 0 {
			s.rpm, carries, lacks = mid, e, lacks/2
		} else {
			above, lacks, carries = mid, e, carries/2
		}
	}
	s.flow = runs
	return s, true
}

// setIdleStop screws the idle stop to where a healthy, warm engine of this
// sheet turns at its idle speed.
func (m *Machine) setIdleStop() {
	warm := *m
	warm.s = State{EngineC: 85, CoilC: 60, FuelML: 0.75 * m.p.tankML, BowlML: m.p.bowlML, OilLevel: 1, Controls: Controls{BarHeld: true}}
	low, high := 0.002, 0.5
	var f flow
	for range 40 {
		mid := (low + high) / 2
		if warm.running(warm.p.idle, mid, 0, 1, &f); f.torque < warm.demand(LoadIdle, warm.p.idle)+idleReserve {
			low = mid
		} else {
			high = mid
		}
	}
	m.d.idleStop = high
}

// idleStall is the share of the idle speed below which it stops.
const idleStall = 0.5

// idleReserve is the torque in hand at the idle stop; without it idle would
// stand on a knife's edge.
const idleReserve = 0.004
