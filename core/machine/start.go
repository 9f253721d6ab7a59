package machine

import "math"

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
	// RPM without load, and at idle.
	RPM, IdleRPM float64
	Smoke        string
	// Choke is where the operator left it, LambdaMax and Min what was met.
	Choke, LambdaMin, LambdaMax float64
}

// bestChoke is where a practised operator would hold the choke to keep it
// running under a load: the position that runs with λ nearest to best. near is
// a throttle it stood at before, or 0.
func (m *Machine) bestChoke(l Load, near float64) (choke, throttle float64, ok bool) {
	level := m.s.BowlML / m.p.bowlML
	// Where it stands now gives the throttle; at that throttle the mixture is looked at
	// along the choke's travel, which costs one evaluation each.
	th := near
	if th == 0 {
		th = 0.12
		if here, runs := m.settle(l, 0, level, 0); runs {
			th = here.throttle
		}
	}
	_, _, eta := m.evaporation()
	turn := m.turning(m.p.governed, eta)
	const none = 9
	off := func(c float64) float64 {
		if c > m.chokeMost() {
			return none
		}
		var f flow
		in := m.intake(turn.rpm, c, level)
		m.burnt(&turn, &in, th, &f)
		return math.Abs(f.lambda - 0.92)
	}
	// Shutting it only makes the mixture richer: past the best there is no better.
	order, best := [...]float64{0, 0.15, 0.3, 0.45, 0.6, 0.8, 1}, 0
	least := off(order[0])
	for i := 1; i < len(order); i++ {
		o := off(order[i])
		if o > least {
			break
		}
		if o < least {
			best, least = i, o
		}
	}
	if here, runs := m.settle(l, order[best], level, near); runs {
		return order[best], here.throttle, true
	}
	// It does not run there: the others, by how near they come.
	var tried [len(order)]bool
	var at [len(order)]float64
	tried[best] = true
	for i, c := range order {
		at[i] = off(c)
	}
	for range len(order) - 1 {
		best = -1
		for i := range at {
			if !tried[i] && at[i] < none && (best < 0 || at[i] < at[best]) {
				best = i
			}
		}
		if best < 0 {
			break
		}
		if here, runs := m.settle(l, order[best], level, near); runs {
			return order[best], here.throttle, true
		}
		tried[best] = true
	}
	return 0, 0, false
}

// warmUp runs it without load at the best choke until a warm engine can be
// judged, at most three minutes. It says how long, where choke and throttle then
// stand, and whether it still runs.
func (m *Machine) warmUp(a Attempt) (minutes, choke, near float64, ok bool) {
	for {
		choke = a.Choke
		if !a.Pinned {
			if choke, near, ok = m.bestChoke(LoadNone, near); !ok {
				return minutes, 0, 0, false
			}
		}
		// A warm engine still runs a while, so that a dying one is seen.
		if minutes >= 0.3 && (m.s.EngineC >= 50 || minutes >= 3) {
			return minutes, choke, near, true
		}
		r := m.run(0.3, LoadNone, choke, near, false)
		minutes += r.Minutes
		if r.Stopped {
			return minutes, choke, near, false
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

// crankingEnd is how cranking ended, in a word, when it did not simply catch.
func (m *Machine) crankingEnd(fired bool) string {
	ahead := m.p.advance + m.p.key + m.s.KeyCreep
	kicks := kickAdvance * (0.2 + 0.8*m.p.blade)
	switch {
	case !fired:
		return ""
	case ahead > kicks && m.p.twoStroke && ahead > 60:
		return "runs-backwards"
	case ahead > kicks:
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
	if s.Word = m.crankingEnd(true); s.Word == "kicks-back" || s.Word == "runs-backwards" {
		return s
	}
	ran, choke, near, ok := m.warmUp(a)
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
	none := m.run(0.2, LoadNone, off, near, false)
	m.s.WantsChoke = none.Stopped
	if none.Stopped {
		m.s = before
		m.s.WantsChoke = true
		s.Word, s.RPM = "runs-only-on-choke", m.p.governed
		if choke == 0 || none.LambdaMax < onlyLean {
			s.Word = "fires-and-dies"
		}
		return s
	}
	see(none.LambdaMin)
	see(none.LambdaMax)
	idle, idles := m.settle(LoadIdle, off, level(), 0)
	s.IdleRPM = idle.rpm
	see(idle.lambda)
	before = m.s
	loaded := m.run(0.3, LoadTest, off, 0, false)
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
	if s.Smoke = m.smoke(s); s.Smoke == "black" {
		m.s.PlugTone = min(m.s.PlugTone, -0.6) // what smokes black leaves its soot on the plug
	}
	return s
}

// onlyLean is how lean it has to be for the choke to be what it runs on.
const onlyLean = 1.2

// helpedByChoke says that it carries a working load with some choke.
func (m *Machine) helpedByChoke() bool {
	for _, c := range [...]float64{0.3, 0.6, 1} {
		try := *m
		if r := try.run(0.3, LoadTest, c, 0, false); !r.Stopped && r.FalterAt < 0 {
			return true
		}
	}
	return false
}

// word puts what was met after firing into the trade's words, the first that
// fits.
func (m *Machine) word(s Start, bogs, idles bool) string {
	switch {
	case m.races(s.RPM, s.IdleRPM):
		return "races"
	case s.LambdaMin < 0.60:
		return "very-rich"
	case bogs:
		return "bogs"
	case m.p.crankBent || m.p.blade < bladeFelt:
		return "vibrates"
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

// bladeFelt is the share of a blade's hold below which the engine shakes with it.
const bladeFelt = 0.8

// races says that it runs away from what its controls ask for: past the governed
// speed where there is a governor, or far past idle at the idle stop.
func (m *Machine) races(rpm, idle float64) bool {
	if !m.p.twoStroke {
		return rpm > 1.08*m.ref.governed
	}
	return idle > 1.8*m.ref.idle
}

// powerShare is the full-throttle torque at the governed speed against a
// healthy engine's at the same temperature.
func (m *Machine) powerShare() float64 {
	var f, h flow
	m.running(m.p.governed, 1, 0, m.s.BowlML/m.p.bowlML, &f)
	sound := *m
	sound.p, sound.d = *m.ref, m.ref.derive(m.ambient)
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
