package machine

import "math"

// flow is one steady-state evaluation.
type flow struct {
	air, manifold float64 // 1 = rated; share of ambient pressure
	phi, lambda   float64 // metered, before evaporation; in the cylinder
	torque        float64 // net of friction, 1 = rated
	fuelMLMin     float64
}

// evaporation gives the share of metered fuel that evaporates at once, the
// share of the wall film that does so each cycle, and their steady sum, at an
// engine temperature.
func evaporation(engineC float64) (ev, film, steady float64) {
	ev = 1 / (1 + math.Exp(-(engineC-43)/27))
	film = math.Min(0.9, 0.1*math.Exp((engineC-20)/25))
	return ev, film, ev + (1-ev)*film/(film+filmDrain)
}

// filmDrain is the share of the wall film lost down the bore each cycle.
const filmDrain = 0.05

// metered gives air, manifold pressure and the metered φ at a speed, throttle,
// choke and bowl level (0..1), with the loss a fuel-wet filter adds.
func (m *Machine) metered(rpm, throttle, choke, level float64, out *flow) {
	p := &m.p
	x := rpm / p.rated
	open := 1 - clamp(p.filterShut+m.s.FilterWet, 0, 0.97)
	upstream := 0.15*choke*choke + 0.012/(open*open)
	th := math.Max(throttle, 0.02)
	pm := 1 / math.Sqrt(1+x*x*(p.throttleLoss/(th*th)+upstream))
	back := p.exhaustLoss * x * x * pm * pm
	a := x * pm * (1 + p.exhaustLoss/p.exhaustBack) / (1 + back/p.exhaustBack)
	d := p.venturi*a*a*(1+p.chokeGain*choke*choke/(1+8*a)) + 0.15*a*a/(open*open)
	main := p.mainJet * p.mainOpen * math.Sqrt(d) * d / (d + p.emulsion) / a
	pilot := m.d.pilotConductance * math.Sqrt(m.d.pressure*(1-pm)+d) / a
	// A sinking bowl lifts less, and uncovers the jet at the last.
	uncover := clamp(level/0.15, 0, 1)
	head := (0.5 + 0.5*level) * uncover * uncover * (3 - 2*uncover)
	out.air, out.manifold = a, pm
	// Mass flow through a jet goes with √density, the air's with density.
	out.phi = (main + pilot) * head / math.Sqrt(m.d.density)
}

// running evaluates the engine turning under its own power at a temperature.
func (m *Machine) running(rpm, throttle, choke, level float64, out *flow) {
	p := &m.p
	m.metered(rpm, throttle, choke, level, out)
	_, _, eta := evaporation(m.s.EngineC)
	x := rpm / p.rated
	out.fuelMLMin = out.phi * out.air * p.rateML
	out.lambda = 1 / math.Max(out.phi*eta, 0.05)
	lean := 0.50
	if out.lambda < 0.92 {
		lean = 0.52
	}
	mixture := math.Max(1-sq((out.lambda-0.92)/lean), 0)
	f, dec := m.kept(rpm)
	fire := m.fire(m.coilKV(rpm), 0.6*m.inletKPa(1, 0)*out.manifold*m.d.compressionRise*f*dec, 700, out.lambda)
	if m.s.Controls.PlugLead != LeadOn {
		fire = 0
	}
	out.torque = 1.3*(out.air/x)*m.d.density*mixture*m.d.timing*f*f*dec*fire -
		(p.friction*(0.6+0.4*x) + 0.1*(1-out.manifold))
}

// Load is what the engine drives.
type Load string

// The loads an attempt or run can be made under.
const (
	LoadIdle Load = "idle"
	LoadNone Load = "none"
	LoadTest Load = "test"
)

// demand is the torque a load asks for at a speed, 1 = rated torque. A pump's
// torque goes with the square of its speed (affinity laws, textbook).
func (m *Machine) demand(l Load, rpm float64) float64 {
	switch l {
	case LoadIdle:
		return 0.01
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
	if l == LoadIdle {
		return m.settleAt(l, m.d.idleStop, choke, level, m.p.idle*1.8, m.p.idle*0.62)
	}
	n := m.p.governed
	excess := func(th float64) float64 {
		m.running(n, th, choke, level, &s.flow)
		return s.torque - m.demand(l, n)
	}
	if excess(1) < 0 {
		return m.settleAt(l, 1, choke, level, n, n*0.40)
	}
	// The governor opens the least throttle that carries the load.
	low, high := m.d.idleStop*0.5, 1.0
	if near > 0 {
		if a := near * 0.9; excess(a) < 0 {
			low = a
		}
		if b := math.Min(near*1.1, 1); excess(b) >= 0 {
			high = b
		}
	} else {
		for th := low * 1.6; th < 1; th *= 1.6 {
			if excess(th) >= 0 {
				high = th
				break
			}
			low = th
		}
	}
	for range 40 {
		if high-low < 2e-4 {
			break
		}
		mid := (low + high) / 2
		if excess(mid) >= 0 {
			high = mid
		} else {
			low = mid
		}
	}
	m.running(n, high, choke, level, &s.flow)
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
	for i := 0; i <= steps; i++ {
		n := high - (high-low)*float64(i)/steps
		if excess(n) >= 0 {
			s.rpm, found = n, true
			break
		}
		above = n
	}
	if !found {
		s.rpm = 0
		return s, false
	}
	for range 12 {
		mid := (s.rpm + above) / 2
		if excess(mid) >= 0 {
			s.rpm = mid
		} else {
			above = mid
		}
	}
	excess(s.rpm)
	return s, true
}

// setIdleStop screws the idle stop to where a healthy, warm engine of this
// sheet turns at its idle speed.
func (m *Machine) setIdleStop() {
	warm := *m
	warm.s.EngineC, warm.s.Controls = 85, Controls{}
	low, high := 0.02, 0.5
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

// idleReserve is the torque in hand at the idle stop; without it idle would
// stand on a knife's edge.
const idleReserve = 0.012
