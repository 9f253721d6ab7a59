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

// metered gives air, manifold pressure and the metered φ at a speed, throttle,
// choke and bowl level (0..1), with the loss a fuel-wet filter adds.
func (m *Machine) metered(rpm, throttle, choke, level float64, out *flow) {
	p := &m.p
	x := rpm / p.rated
	if p.choke == chokeThermostat {
		choke = (60 - m.s.EngineC) / 35
	}
	choke = clamp(choke, p.chokeLeast, max(p.chokeMost, p.chokeLeast))
	open := 1 - clamp(max(max(p.filterShut, m.s.FilterOil), m.s.FilterWet), 0, 0.97)
	if m.s.FilterOff {
		open = 1 - p.ragShut
	}
	upstream := 0.15*choke*choke + 0.012/(open*open)
	th := max(throttle, 0.002)
	pm := 1 / math.Sqrt(1+x*x*(p.throttleLoss/(th*th)+upstream))
	arr := clamp(p.arrestor, 0, 0.97)
	if m.s.MufflerOff {
		arr = 0
	}
	arr = 1 - (1-arr)*(1-p.portShut)
	back := p.exhaustLoss * x * x * pm * pm / ((1 - arr) * (1 - arr))
	// What the exhaust keeps in, the intake cannot bring; and past a share of
	// spent gas the charge no longer burns (common practice: about a third to
	// two thirds; sizes chosen by us).
	clears := (1 + p.exhaustLoss/p.exhaustBack) / (1 + back/p.exhaustBack)
	out.burns = clamp((clears-0.25)/0.35, 0, 1)
	// Above 130 °C the walls heat the charge and it thins.
	ve := clears * p.breathes * (1 - 0.65*clamp((m.s.EngineC-130)/85, 0, 1))
	if p.twoStroke {
		ve *= 1 - 0.45*p.seal
	}
	a := x * pm * ve
	lift := 0.0
	if p.lift > 0 { // the lower the tank, the harder the lift
		lift = 0.15 * p.lift * (1 + 2*max(0, 0.5-m.s.FuelML/p.tankML))
	}
	d := p.venturi*a*a*(1+p.chokeGain*choke*choke/(1+8*a)) + 0.15*a*a/(open*open) - lift - 0.12*p.stiff
	d = max(d, 0)
	main := p.mainJet * p.mainOpen * (1 - m.s.Clog) * p.mainFlow * math.Sqrt(d) * d / (d + p.emulsion) / a
	pilot := m.d.pilotConductance * math.Sqrt(m.d.pressure*(1-pm)+d) / a
	// A sinking bowl lifts less, and uncovers the jet at the last.
	uncover := clamp(level/0.15, 0, 1)
	if p.cutStuck {
		uncover = 0 // the bowl is full and nothing leaves it
	}
	head := (0.5 + 0.5*(level+p.levelBias*uncover)) * uncover * uncover * (3 - 2*uncover)
	meter := (1 - 0.2*p.stiff) * (0.45 + 0.55*p.metering)
	false_ := p.falseAir
	if p.twoStroke { // the crankcase draws at every opening of the throttle
		false_ = (false_ + 0.20*p.seal) * min(1, 0.4+0.6*pm)
	} else {
		false_ *= math.Sqrt(max(1-pm*pm, 0))
	}
	out.air, out.manifold, out.falseAir = a, pm, false_
	// Mass flow through a jet goes with √density, the air's with density.
	out.phi = ((main+pilot)*head*meter + p.flood*0.05/max(a, 0.05)*uncover) / math.Sqrt(m.d.density)
}

// petrol is how much of its worth the fuel has: water, oil and ethanol take
// from it.
func (m *Machine) petrol() float64 {
	return (1 - m.s.Water) * m.p.fuelMix * (1 - 0.35*m.p.ethanol)
}

// turning is what of an engine hangs on its speed and state alone, whatever its
// throttle and choke.
type turning struct {
	// rpm is the speed and x its share of the rated one.
	rpm, x float64
	// eta is the share of the fuel that evaporates, petrol what it is worth.
	eta, petrol float64
	// kept and dec are the shares of the charge that stay, kv what reaches the plug.
	kept, dec, kv float64
	// inlet is the pressure that compression begins from at full manifold, kPa.
	inlet float64
}

// turning evaluates it for a speed.
func (m *Machine) turning(rpm float64) turning {
	t := turning{rpm: rpm, x: rpm / m.p.rated, petrol: m.petrol(), inlet: 0.6 * m.inletKPa(1, 0)}
	_, _, t.eta = m.evaporation()
	t.kept, t.dec = m.kept(rpm)
	t.kv = m.plugKV(m.coilKV(rpm), 0)
	return t
}

// running evaluates the engine turning under its own power at a temperature.
func (m *Machine) running(rpm, throttle, choke, level float64, out *flow) {
	t := m.turning(rpm)
	m.runningAt(&t, throttle, choke, level, out)
}

// burnt evaluates the mixture that it would burn at a speed.
func (m *Machine) burnt(t *turning, throttle, choke, level float64, out *flow) {
	m.metered(t.rpm, throttle, choke, level, out)
	out.fuelMLMin = out.phi * out.air * m.p.rateML
	out.lambda = 1 / max(out.phi*t.eta*t.petrol*out.air/(out.air+out.falseAir), 0.05)
}

// runningAt is running at a speed that has been evaluated.
func (m *Machine) runningAt(t *turning, throttle, choke, level float64, out *flow) {
	p := &m.p
	m.burnt(t, throttle, choke, level, out)
	lean := 0.50
	if out.lambda < 0.92 {
		lean = 0.52
	}
	mixture := max(1-sq((out.lambda-0.92)/lean), 0)
	fire := 0.0
	if m.s.Controls.PlugLead == LeadOn {
		fire = m.fire(t.kv, t.inlet*out.manifold*m.d.compressionRise*t.kept*t.dec, 700, out.lambda)
	}
	out.torque = 1.3*(out.air/t.x)*(1+0.5*out.falseAir/out.air)*m.d.density*mixture*out.burns*m.timing()*
		t.kept*t.kept*t.dec*(1-0.85*p.inletShut)*fire*(1-0.3*m.s.Water) -
		(p.friction*(0.6+0.4*t.x) + 0.1*(1-out.manifold) + p.drag + m.s.Drag)
	if !m.s.BrakeOff {
		out.torque -= p.brake
	}
}

// glows is how early a plug that is a full step too hot lights the charge of a hot
// engine, degrees (common practice; size chosen by us).
const glows = 40

// timing is the share of the torque that is left by where the flywheel stands.
func (m *Machine) timing() float64 {
	early := 0.0
	if m.p.plugHot > 0 {
		early = glows * m.p.plugHot * clamp((m.s.EngineC-60)/25, 0, 1)
	}
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
	turn := m.turning(n)
	excess := func(th float64) float64 {
		m.runningAt(&turn, th, choke, level, &s.flow)
		return s.torque - m.demand(l, n)
	}
	if excess(1) < 0 {
		return m.settleAt(l, 1, choke, level, n, n*0.40)
	}
	// The governor opens the least throttle that carries the load.
	low, high := m.d.idleStop*0.5, 1.0
	below, above := -1.0, 1.0 // the excess at low and high, once known
	if near > 0 {
		if e := excess(near * 0.9); e < 0 {
			low, below = near*0.9, e
		}
		if b := min(near*1.1, 1); b > low {
			if e := excess(b); e >= 0 {
				high, above = b, e
			}
		}
	} else {
		for th := low * 2; th < 1; th *= 2 {
			e := excess(th)
			if e >= 0 {
				high, above = th, e
				break
			}
			low, below = th, e
		}
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
	m.runningAt(&turn, high, choke, level, &s.flow)
	s.rpm, s.throttle = n, high
	return s, true
}

// settleAt finds the highest speed between high and low at which a fixed
// throttle carries the load.
func (m *Machine) settleAt(l Load, throttle, choke, level, high, low float64) (s setting, ok bool) {
	s.throttle = throttle
	excess := func(n float64) float64 {
		m.running(n, throttle, choke, level, &s.flow)
		return s.torque - m.demand(l, n)
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
	excess(s.rpm)
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
