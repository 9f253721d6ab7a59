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
	hardestPull     = 2.5 // deviates beyond it count as that
)

// PullRPM is the crank speed of a pull with its deviate; a slow pull turns the
// engine at 0.6 of a brisk one.
func (m *Machine) PullRPM(deviate float64, slow bool) float64 {
	n := drawn(m.p.crank, deviate, slow)
	if m.p.bar && !m.barHeld() {
		n *= 0.55 // the brake is on
	}
	return n
}

// drawn is the speed at which a hand turns a crank that is usually turned at a speed.
func drawn(crank, deviate float64, slow bool) float64 {
	n := crank * (1 + pullSpread*clamp(deviate, -hardestPull, hardestPull))
	if slow {
		n *= 0.6
	}
	return n
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

// TurnsByHand says that the crank can be turned with the plug out: all but a
// seized one, for what stands on the piston leaves by the plug's hole.
func (m *Machine) TurnsByHand() bool { return !m.p.seized && !m.s.Seized }

// TurnsByRope says that the rope turns it with the plug out.
func (m *Machine) TurnsByRope() bool { return m.TurnsByHand() && !m.p.recoilBroken && !m.s.Blocked }

// turns says whether the rope turns the crank at all.
func (m *Machine) turns() bool { return !(m.locked() || m.p.recoilBroken) }

// locked says that the crank does not turn: seized, blocked, or liquid stands on
// the piston and cannot be squeezed (hydro-lock).
func (m *Machine) locked() bool {
	return m.p.seized || m.s.Seized || m.s.Blocked || m.HydroLocked()
}

// Locked says that the rope meets something that does not give.
func (m *Machine) Locked() bool { return m.locked() && !m.p.recoilBroken }

// Block blocks the driven part, or takes the block out.
func (m *Machine) Block(in bool) { m.s.Blocked = in }

// HydroLocked says that there is more liquid on the piston than room for it
// under the plug.
func (m *Machine) HydroLocked() bool { return m.s.CylinderML > 0.6*m.d.clearance }

// SpinOut turns the crank with the plug out, which throws out what stands on
// the piston.
func (m *Machine) SpinOut() {
	if !m.p.recoilBroken {
		m.ThrowOut()
	}
}

// ThrowOut is what a turn of the crank does with the plug out.
func (m *Machine) ThrowOut() {
	if !m.TurnsByHand() {
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

// dose is fuel given past the carburettor while it lasts, in units of a
// stoichiometric charge.
type dose struct{ left, rich float64 }

// A charge's fuel is 1.1e-4 of the displacement: air of 1.2 g/l at 14.7 : 1 and
// petrol of 745 g/l (textbook). The stream carries a little more than one charge
// of mist a stroke, however much lies there, until liquid is drawn in as such:
// from a teaspoon on (common practice: a few drops to a teaspoon fire, more
// floods; sizes chosen by us).
const (
	chargeML    = 1.1e-4 // of the displacement
	mostMist    = 1.2    // charges a stroke
	teaspoonML  = 5.5
	drawnLiquid = 2.8 // charges a stroke for each teaspoon more
)

// dosed gives a dose of ml. What the stream cannot carry wets walls and plug.
func (m *Machine) dosed(ml float64) dose {
	over := max(ml-teaspoonML, 0) / teaspoonML
	m.s.PlugFilm += 20 * over
	return dose{left: ml / (chargeML * m.p.displacement), rich: drawnLiquid * over}
}

// take draws what a stroke takes of it.
func (d *dose) take() float64 {
	if d.left <= 0 {
		return 0
	}
	u := min(mostMist*(1-math.Exp(-0.3*d.left/mostMist))+d.rich, d.left)
	d.left -= u
	return u
}

// leanest is the λ beyond which nothing lights (common practice; chosen by us).
const leanest = 1.40

// soak is what a hot carburettor gives off by itself, in units of a charge.
func (m *Machine) soak() float64 {
	return 0.45 * clamp((m.s.EngineC-30)/50, 0, 1) * min(1, 2*m.p.mainOpen)
}

// crankChoke is where the choke stands as it is cranked.
func (m *Machine) crankChoke(a Attempt) float64 {
	choke := a.Choke
	if m.p.choke == chokeSuction {
		// Shut at rest, hot or cold; a warm engine draws it part open at once.
		choke = clamp(1-(m.s.EngineC-30)/70, 0.25, 1)
	}
	return min(choke, m.chokeMost())
}

// crank pulls the rope until it fires or the pulls are used up.
func (m *Machine) crank(a Attempt, d Draws) (pulls int, fired bool) {
	score, need := 0.0, 1.9*(1+thresholdSpread*clamp(d.Threshold, -hardestPull, hardestPull))
	m.s.Water, m.s.Slug = m.p.water, d.Slug
	m.Jolt(d)
	ev, y, _ := m.evaporation()
	m.prime()
	soak, choke := m.soak(), m.crankChoke(a)
	dose := m.dosed(a.DoseML)
	m.s.SinceAttemptMin = 0
	var f flow
	if m.p.rodBroken {
		return a.Pulls, false
	}
	for pulls < a.Pulls {
		n := m.PullRPM(d.Pull[pulls%len(d.Pull)], a.Slow)
		pulls++
		in := m.intake(n, choke, m.s.BowlML/m.p.bowlML)
		m.metered(&in, a.Throttle, &f)
		kept, dec := m.kept(n)
		strength := m.strength(kept, dec)
		kelvin := 30 + m.d.crankTemperatureRiK
		peak := 0.85 * m.inletKPa(1, 0) * m.d.compressionRise * kept * dec
		coil := m.coilKV(n)
		for range m.p.strokesPerPull {
			vapour := (ev*f.phi+y*m.s.Film+soak)*m.petrol() + dose.take()
			lambda := 1 / max(vapour, 0.01)
			kv := m.plugKV(coil, max(m.s.Film-m.s.OnWalls, m.s.PlugFilm))
			if m.s.Controls.PlugLead != LeadOn {
				kv = 0
			}
			if lambda <= leanest && lambda >= m.p.lambdaFlood {
				score += m.fire(kv, peak, kelvin, lambda) * strength * m.timing()
			}
			m.s.Film = m.s.Film*(1-y-filmDrain) + (1-ev)*f.phi
			m.s.PlugFilm += 0.13 * m.s.OnWalls
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

// Fires says whether an attempt would fire. What it leaves of the machine is of no
// use: it cranks no further than it has to.
func (m *Machine) Fires(a Attempt, d Draws) bool {
	if !m.turns() {
		return false
	}
	if m.Jolt(d); m.lifeless(a) || m.starved(a) {
		return false
	}
	_, fired := m.crank(a, d)
	return fired
}

// lifeless says that no pull, however hard, gives a spark or compression that fires.
func (m *Machine) lifeless(a Attempt) bool {
	hardest := m.PullRPM(hardestPull, a.Slow)
	mute := m.s.Controls.PlugLead != LeadOn || m.plugKV(m.coilKV(hardest), 0) == 0
	// A coil that let go hot may close as it is cranked.
	return (mute && !m.coilOpen()) || m.strength(m.kept(hardest)) == 0
}

// starved says that no pull draws a mixture that lights: that of the hardest or the
// softest pull, with some to spare, is too lean even once its fuel has gathered on
// the walls.
func (m *Machine) starved(a Attempt) bool {
	if a.DoseML > 0 || m.s.Primed > 0 || m.s.OnWalls > 0 {
		return false
	}
	m.s.Water = m.p.water
	choke, level, most := m.crankChoke(a), m.s.BowlML/m.p.bowlML, 0.0
	for _, deviate := range [...]float64{-hardestPull, hardestPull} {
		n := m.PullRPM(deviate, a.Slow)
		if m.feed(n/m.p.rated, choke) > 0 {
			level = 1 // it may come to that
		}
		var f flow
		in := m.intake(n, choke, level)
		m.metered(&in, a.Throttle, &f)
		most = max(most, toSpare*f.phi)
	}
	ev, y, _ := m.evaporation()
	film := max(m.s.Film, (1-ev)*most/(y+filmDrain))
	return (ev*most+y*film+m.soak())*m.petrol() < 1/leanest
}

// toSpare is by how much what a pull draws is taken to be more.
const toSpare = 1.25

// strength is the share of a full charge's worth that compression leaves to fire.
func (m *Machine) strength(kept, dec float64) float64 {
	return clamp((kept*kept*dec*sq(1-0.85*m.p.inletShut)-m.p.fireFloor)/m.p.fireSlope, 0, 1)
}
