package machine

import "math"

// Draws are the chances of one attempt, as standard normal deviates: how hard
// each pull was, and where the threshold of firing lay. The zero value is the
// middle of both.
type Draws struct {
	Pull      [10]float64
	Threshold float64
	// Shake decides whether a chafed wire touches, Slug when water comes.
	Shake, Slug float64
}

// Spread of a brisk pull's speed and of the firing threshold from attempt to
// attempt, relative (common practice: no two pulls are alike).
const (
	pullSpread      = 0.10
	thresholdSpread = 0.12
)

// PullRPM is the crank speed of a pull with its deviate; a slow pull turns the
// engine at 0.6 of a brisk one.
func (m *Machine) PullRPM(deviate float64, slow bool) float64 {
	n := m.p.crank * (1 + pullSpread*clamp(deviate, -2.5, 2.5))
	if slow {
		n *= 0.6
	}
	if m.p.bar && !m.barHeld() {
		n *= 0.55 // the brake is on
	}
	return n
}

// Attempt says how an attempt is made.
type Attempt struct {
	// Choke while cranking, 0 open … 1 shut. After firing the operator finds
	// the best choke, unless it is pinned.
	Choke    float64
	Pinned   bool
	Throttle float64
	// DoseML of fuel given past the carburettor.
	DoseML float64
	Pulls  int
	Slow   bool
}

// Start is what an attempt came to.
type Start struct {
	Word    string
	Pulls   int
	Fired   bool
	Minutes float64
	RPM     float64
	Smoke   string
	// Choke is where the operator left it, LambdaMax and Min what was met.
	Choke, LambdaMin, LambdaMax float64
}

// prime spends the presses of a primer bulb: fuel on the walls, none from a
// dry bowl or through a shut jet.
func (m *Machine) prime() {
	if m.s.Primed == 0 {
		return
	}
	fill := min(2.5, float64(m.s.Primed)/3) * min(1, 2.2*m.p.mainOpen) * m.p.primerFills
	if m.s.BowlML > 0.3*m.p.bowlML {
		m.s.Film += 10 * fill
		m.s.OnWalls = 10 * fill
	}
	m.s.Primed = 0
}

// turns says whether the rope turns the crank at all.
func (m *Machine) turns() bool { return !(m.locked() || m.p.recoilBroken) }

// locked says that the crank does not turn: seized, or liquid stands on the
// piston and cannot be squeezed (hydro-lock).
func (m *Machine) locked() bool { return m.p.seized || m.s.Seized || m.HydroLocked() }

// HydroLocked says that there is more liquid on the piston than room for it
// under the plug.
func (m *Machine) HydroLocked() bool { return m.s.CylinderML > 0.6*m.d.clearance }

// SpinOut turns the crank with the plug out, which throws out what stands on
// the piston.
func (m *Machine) SpinOut() {
	if m.p.seized || m.s.Seized || m.p.recoilBroken {
		return
	}
	m.s.CylinderML = 0
	m.s.Film *= 0.5
	m.s.PlugFilm *= 0.5
}

// barHeld says that the bar is held, by hand or by a tie.
func (m *Machine) barHeld() bool { return m.s.Controls.BarHeld || m.s.Controls.BarTied }

// Beyond 38° of advance it kicks; beyond 42° late it lights in the intake.
const (
	kickAdvance = 38
	spitLate    = -14
)

// crank pulls the rope until it fires or the pulls are used up.
func (m *Machine) crank(a Attempt, d Draws) (pulls int, fired bool) {
	score, need := 0.0, 1.9*(1+thresholdSpread*clamp(d.Threshold, -2.5, 2.5))
	m.s.Water, m.s.Slug = m.p.water, d.Slug
	m.Jolt(d)
	ev, y, _ := m.evaporation()
	m.prime()
	soak := 0.45 * clamp((m.s.EngineC-30)/50, 0, 1) * min(1, 2*m.p.mainOpen)
	dose := 1.05 * a.DoseML / 2
	m.s.SinceAttemptMin = 0
	var f flow
	if m.p.rodBroken {
		return a.Pulls, false
	}
	choke := a.Choke
	if m.p.choke == chokeSuction {
		// Shut at rest, hot or cold; a warm engine draws it part open at once.
		choke = clamp(1-(m.s.EngineC-30)/70, 0.25, 1)
	}
	choke = min(choke, m.chokeMost())
	for pulls < a.Pulls {
		n := m.PullRPM(d.Pull[pulls%len(d.Pull)], a.Slow)
		pulls++
		m.metered(n, a.Throttle, choke, m.s.BowlML/m.p.bowlML, &f)
		kept, dec := m.kept(n)
		strength := clamp((kept*kept*dec-m.p.fireFloor)/m.p.fireSlope, 0, 1)
		kelvin := 30 + m.d.crankTemperatureRiK
		peak := 0.85 * m.inletKPa(1, 0) * m.d.compressionRise * kept * dec
		for range m.p.strokesPerPull {
			vapour := (ev*f.phi+y*m.s.Film+soak)*m.petrol() + dose
			lambda := 1 / max(vapour, 0.01)
			kv := m.plugKV(m.coilKV(n), max(m.s.Film-m.s.OnWalls, m.s.PlugFilm))
			if m.s.Controls.PlugLead != LeadOn {
				kv = 0
			}
			if lambda <= 1.40 && lambda >= m.p.lambdaFlood {
				score += m.fire(kv, peak, kelvin, lambda) * strength * m.timing()
			}
			m.s.Film = m.s.Film*(1-y-filmDrain) + (1-ev)*f.phi
			m.s.PlugFilm += 0.09 * m.s.OnWalls
			m.s.OnWalls *= 1 - y - filmDrain
		}
		const pullMin = 0.05
		m.supply(pullMin, f.phi*f.air*m.p.rateML*0.3, n/m.p.rated, choke)
		m.cool(pullMin)
		if score >= need {
			return pulls, true
		}
	}
	return pulls, false
}

// bestChoke is where a practised operator would hold the choke to keep it
// running under a load: the position that runs with λ nearest to best. near is
// a throttle it stood at before, or 0.
func (m *Machine) bestChoke(l Load, near float64) (choke, throttle float64, ok bool) {
	level := m.s.BowlML / m.p.bowlML
	// Where it stands now gives the throttle; at that throttle the mixture is
	// looked at across the choke's travel, which costs one evaluation each.
	order, at := [...]float64{0, 0.15, 0.3, 0.45, 0.6, 0.8, 1}, [7]float64{}
	th := near
	if th == 0 {
		th = 0.12
		if here, runs := m.settle(l, 0, level, 0); runs {
			th = here.throttle
		}
	}
	var f flow
	for i, c := range order {
		at[i] = 9
		if c <= m.chokeMost() {
			m.running(m.p.governed, th, c, level, &f)
			at[i] = math.Abs(f.lambda - 0.92)
		}
	}
	for range order {
		best := 0
		for i := range at {
			if at[i] < at[best] {
				best = i
			}
		}
		if at[best] >= 9 {
			return 0, 0, false
		}
		if here, runs := m.settle(l, order[best], level, near); runs {
			return order[best], here.throttle, true
		}
		at[best] = 9
	}
	return 0, 0, false
}

// warmUp runs it without load at the best choke until a warm engine can be
// judged, at most three minutes. It says how long, and whether it still runs.
func (m *Machine) warmUp(a Attempt) (minutes, choke float64, ok bool) {
	near := 0.0
	for {
		choke = a.Choke
		if !a.Pinned {
			if choke, near, ok = m.bestChoke(LoadNone, near); !ok {
				return minutes, 0, false
			}
		}
		// A warm engine still runs a while, so that a dying one is seen.
		if minutes >= 0.3 && (m.s.EngineC >= 50 || minutes >= 3) {
			return minutes, choke, true
		}
		r := m.run(0.3, LoadNone, choke, false)
		minutes += r.Minutes
		if r.Stopped {
			return minutes, choke, false
		}
	}
}

// chokeMost is how far the choke can be shut: not at all where there is none.
func (m *Machine) chokeMost() float64 {
	if m.p.choke == chokePrimer {
		return m.p.chokeLeast
	}
	return 1
}

// oddly is how cranking ended, in a word, when it did not simply catch.
func (m *Machine) oddly(fired bool) string {
	ahead := m.p.advance + m.p.key + m.s.KeyCreep
	switch {
	case !fired:
		return ""
	case ahead > kickAdvance && m.p.twoStroke && ahead > 60:
		return "runs-backwards"
	case ahead > kickAdvance:
		return "kicks-back"
	case ahead < spitLate || m.p.spits > 0.6:
		return "spits-back"
	}
	return ""
}

// Attempt tries to start it and, if it fires, warms it, takes the choke off,
// lets it idle and gives it a brief working load.
func (m *Machine) Attempt(a Attempt, d Draws) Start {
	s := Start{LambdaMin: 9, Smoke: "none"}
	if m.locked() {
		s.Word, s.Minutes = "locked", 0.1
		return s
	}
	if m.p.recoilBroken {
		s.Word, s.Minutes = "no-fire", 0.1
		return s
	}
	s.Pulls, s.Fired = m.crank(a, d)
	s.Minutes = float64(s.Pulls) * 0.05
	if !s.Fired {
		s.Word = "no-fire"
		return s
	}
	if s.Word = m.oddly(true); s.Word == "kicks-back" || s.Word == "runs-backwards" {
		return s
	}
	ran, choke, ok := m.warmUp(a)
	s.Minutes += ran
	if !ok {
		if s.Word == "" {
			s.Word = "fires-and-dies"
		}
		return s
	}
	s.Choke = choke
	level := func() float64 { return m.s.BowlML / m.p.bowlML }
	see := func(lambda float64) {
		s.LambdaMin, s.LambdaMax = min(s.LambdaMin, lambda), max(s.LambdaMax, lambda)
	}
	off := 0.0
	if a.Pinned {
		off = a.Choke
	}
	before := m.s
	none := m.run(0.2, LoadNone, off, false)
	if none.Stopped {
		m.s = before
		s.Word, s.RPM = "runs-only-on-choke", m.p.governed
		if choke == 0 || none.LambdaMax < 1.15 {
			s.Word = "fires-and-dies"
		}
		return s
	}
	see(none.LambdaMin)
	see(none.LambdaMax)
	idle, idles := m.settle(LoadIdle, off, level(), 0)
	see(idle.lambda)
	before = m.s
	loaded := m.run(0.3, LoadTest, off, false)
	s.Minutes += 0.7
	see(loaded.LambdaMin)
	see(loaded.LambdaMax)
	s.RPM = none.RPM
	bogs := loaded.Stopped || loaded.FalterAt >= 0
	odd := s.Word
	s.Word = m.word(s, bogs, idles)
	if bogs && s.Word == "bogs" && m.p.pumpKPa > 0 && loaded.LambdaMax > 1.15 {
		m.s = before
		if m.helpedByChoke() {
			s.Word = "runs-only-on-choke"
		}
	}
	if odd != "" {
		s.Word = odd
	}
	s.Smoke = m.smoke(s)
	return s
}

// helpedByChoke says that it carries a working load with some choke.
func (m *Machine) helpedByChoke() bool {
	for _, c := range [...]float64{0.3, 0.6, 1} {
		try := *m
		if r := try.run(0.3, LoadTest, c, false); !r.Stopped && r.FalterAt < 0 {
			return true
		}
	}
	return false
}

// word puts what was met after firing into the trade's words, the first that
// fits.
func (m *Machine) word(s Start, bogs, idles bool) string {
	switch {
	case s.LambdaMin < 0.60:
		return "very-rich"
	case bogs:
		return "bogs"
	case s.LambdaMax > 1.15:
		return "hunts"
	case !idles:
		return "stalls-at-idle"
	case s.LambdaMin < 0.75:
		return "rich-smoky"
	case m.powerShare() < 0.90:
		return "low-power"
	}
	return "runs-well"
}

// powerShare is the full-throttle torque at the governed speed against a
// healthy engine's at the same temperature.
func (m *Machine) powerShare() float64 {
	var f, h flow
	m.running(m.p.governed, 1, 0, m.s.BowlML/m.p.bowlML, &f)
	sound := *m
	sound.p, sound.d = m.ref, m.ref.derive(m.ambient)
	sound.s.Worn, sound.s.Drag, sound.s.KeyCreep, sound.s.FilterWet, sound.s.Water, sound.s.Stale = 0, 0, 0, 0, 0, 0
	sound.s.Controls.KillLeadOff, sound.s.CoilC = true, 60
	sound.running(m.p.governed, 1, 0, 1, &h)
	if h.torque <= 0 {
		return 1
	}
	return f.torque / h.torque
}

// over says that an attempt ended before it ran.
func (s *Start) over() bool {
	switch s.Word {
	case "locked", "no-fire", "kicks-back", "runs-backwards", "fires-and-dies":
		return true
	}
	return false
}

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
	warm := m.run(1.5, LoadNone, s.Choke, false)
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
	if s.Word = m.oddly(true); s.Word != "" {
		return s
	}
	choke, _, _ := m.bestChoke(LoadNone, 0)
	m.run(0.1, LoadNone, choke, false)
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
	r := m.run(first, l, choke, true)
	if first < minutes && !r.Stopped {
		// Warm now, it wants less choke: the operator opens it as far as it likes.
		if c, _, ok := m.bestChoke(l, 0); ok {
			choke = c
		}
		r = r.then(m.run(minutes-first, l, choke, true))
	}
	switch {
	case r.FalterAt >= 0 && r.FalterAt < 0.05 && r.Stopped && s.Word == "runs-only-on-choke":
	case r.FalterAt >= 0 && r.FalterAt < 0.05:
		s.Word = "bogs"
	case r.Stopped && m.s.CoilC > m.p.coilOpenC:
		s.Word = "cuts-out-hot"
	case r.Stopped && m.s.Seized:
		s.Word = "fades"
	case r.FalterAt >= 0 && r.Level < shortLevel:
		s.Word = "starves"
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

// Dose gives fuel past the carburettor and cranks a few times: "nothing",
// "fires-and-dies" or "runs".
func (m *Machine) Dose(a Attempt, d Draws) Start {
	a.Pulls = 4
	s := Start{Smoke: "none"}
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
	ran, choke, ok := m.warmUp(Attempt{Throttle: a.Throttle})
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

// Fires says whether an attempt would fire; it moves the machine only through
// its cranking.
func (m *Machine) Fires(a Attempt, d Draws) bool {
	if !m.turns() {
		return false
	}
	_, fired := m.crank(a, d)
	return fired
}
