package machine

// ChokeOff starts it, warms it for at least two minutes and opens the choke;
// or opens it at once, when it is not warmed.
func (m *Machine) ChokeOff(a Attempt, d Draws, warmed bool) Start {
	if !warmed {
		return m.chokeOffCold(a, d)
	}
	s := m.Attempt(a, d)
	if s.over() {
		return s
	}
	warm := m.run(1.5, LoadNone, s.Choke, 0, false)
	s.Minutes += warm.Minutes
	at, ok := m.settle(LoadNone, 0, m.s.BowlML/m.p.bowlML, 0)
	switch {
	case warm.Stopped || !ok:
		s.Word = "dies"
	case at.lambda > 1.15:
		s.Word = "hunts"
	case s.Word == "stalls-at-idle" || s.Word == "low-power" || s.Word == "runs-only-on-choke":
		s.Word = "runs-well"
	}
	return s
}

// chokeOffCold opens the choke of an engine that has only just caught.
func (m *Machine) chokeOffCold(a Attempt, d Draws) Start {
	s := Start{Smoke: "none", LambdaMin: 9}
	if m.locked() {
		s.Word, s.Minutes = "locked", 0.1
		return s
	}
	s.Pulls, s.Fired = m.crank(a, d)
	s.Minutes = float64(s.Pulls)*0.05 + 0.2
	if s.Word = "no-fire"; !s.Fired {
		return s
	}
	if s.Word = m.crankingEnd(true); s.Word != "" {
		return s
	}
	choke, near, _ := m.bestChoke(LoadNone, 0)
	m.run(0.1, LoadNone, choke, near, false)
	at, ok := m.settle(LoadNone, 0, m.s.BowlML/m.p.bowlML, 0)
	switch s.RPM = at.rpm; {
	case !ok:
		s.Word, s.RPM = "dies", 0
	case at.lambda > 1.15:
		s.Word = "hunts"
	default:
		s.Word = "runs-well"
	}
	return s
}

// shortLevel is the bowl level below which the needle stands wide open and the
// supply still falls short; a sound supply holds the bowl above nine tenths.
const shortLevel = 0.88

// Long starts it, warms it up and runs it for some minutes under a load.
// The run's FalterAt and Trace count from the first pull.
func (m *Machine) Long(a Attempt, d Draws, minutes float64, l Load) (Start, Run) {
	s := m.Attempt(a, d)
	if s.over() {
		return s, Run{FalterAt: -1, Stopped: true}
	}
	choke := a.Choke
	if !a.Pinned {
		choke = 0
		if s.Word == "runs-only-on-choke" {
			choke = s.Choke
		}
	}
	first := minutes
	if choke > 0 && !a.Pinned {
		first = min(minutes, 2)
		if c, _, ok := m.bestChoke(l, 0); ok {
			choke = c
		}
	}
	r := m.run(first, l, choke, 0, true)
	if first < minutes && !r.Stopped {
		// Warm now, it wants less choke: the operator opens it as far as it likes.
		if c, _, ok := m.bestChoke(l, 0); ok {
			choke = c
		}
		r = r.then(m.run(minutes-first, l, choke, 0, true))
	}
	switch {
	case r.FalterAt >= 0 && r.FalterAt < 0.05 && r.Stopped && s.Word == "runs-only-on-choke":
	case r.FalterAt >= 0 && r.FalterAt < 0.05:
		s.Word = "bogs"
	case r.Stopped && m.coilOpen():
		s.Word = "stopped-dead"
	case r.Stopped && m.s.Seized:
		s.Word = "stopped-dead"
	case r.Stopped && r.Level < shortLevel:
		s.Word = "died-away"
	case r.FalterAt >= 0:
		s.Word = "fades"
	}
	if r.FalterAt >= 0 {
		r.FalterAt += s.Minutes
	}
	for i := range r.Trace {
		r.Trace[i].Minute += s.Minutes
	}
	// It had been running without load since it caught.
	r.Trace = append([]Sample{{float64(s.Pulls) * 0.05, m.p.governed}, {s.Minutes, m.p.governed}}, r.Trace...)
	s.RPM, s.Minutes = r.RPM, s.Minutes+r.Minutes
	return s, r
}

// DosePulls is how often the rope is pulled after a dose (common practice).
const DosePulls = 4

// Dose gives fuel past the carburettor and cranks a few times: "nothing",
// "fires-and-dies" or "runs".
func (m *Machine) Dose(a Attempt, d Draws) Start {
	a.Pulls = DosePulls
	s := Start{Smoke: "none"}
	if m.locked() {
		s.Word, s.Minutes = "locked", 0.1
		return s
	}
	if !m.turns() {
		s.Word = "nothing"
		return s
	}
	s.Pulls, s.Fired = m.crank(a, d)
	s.Minutes = float64(s.Pulls) * 0.05
	if !s.Fired {
		s.Word = "nothing"
		return s
	}
	ran, choke, _, ok := m.warmUp(Attempt{Throttle: a.Throttle})
	s.Minutes, s.Choke, s.Word = s.Minutes+ran, choke, "fires-and-dies"
	if ok {
		s.Word = "runs"
	}
	return s
}

// Assume puts the machine into the state that follows from what was seen to
// happen, whatever these parameters made of it: it ran for some minutes, or it
// did not. Beliefs condition on it.
func (m *Machine) Assume(ranMin float64) {
	if ranMin > 0 && m.s.SinceAttemptMin == 0 {
		m.warm(ranMin, 0.2, 1)
	}
}

// A blade brake's torque, 1 = the engine's rated one, and the time in which a
// torque of one stops crank and blade from the rated speed, s: a sound one stops
// within two (chosen by us).
const (
	brakeTorque = 0.55
	spinSeconds = 1.65
)

// StopSeconds is how long crank and blade turn on after the bar of a running
// engine is let go, at constant torque; stops is false where letting go neither
// earths the ignition nor sets the brake.
func (m *Machine) StopSeconds() (seconds float64, stops bool) {
	c := &m.s.Controls
	if !m.p.bar || c.BarTied || c.KillLeadOff {
		return 0, false
	}
	torque := brakeTorque*m.p.lining + 0.8*m.p.friction + m.p.drag + m.s.Drag
	return spinSeconds * m.p.governed / m.p.rated / torque, true
}
