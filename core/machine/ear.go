package machine

import "math"

// Kinds of what an ear gets of an attempt, one after another.
const (
	EarPull  = "pull"  // the rope is drawn
	EarRun   = "run"   // it fires by itself
	EarStill = "still" // nothing turns
)

// Heard is an attempt as an ear takes it in: the words that it was told in, and behind them
// what a practised ear would tell apart. No fault and no parameter stands in it; what the
// words do not name is not heard, and the rest is rounded to what an ear can tell. Two
// machines that go the same sound the same, whatever is wrong with them.
type Heard struct {
	TwoStroke bool
	// ToneHz is the muffler's own tone: the smaller the engine, the higher.
	ToneHz float64
	// Parts in their order; none where the rope turns nothing.
	Parts []EarPart
}

// EarPart is some seconds that go on in one way.
type EarPart struct {
	Kind    string
	Seconds float64
	// From and To are the speeds of the crank, rpm, at its beginning and end.
	From, To float64
	// Loud is how loud each firing is, 0 to 1.
	Loud float64
	// Missed is the share of firings that do not come; EveryOther says that it is each second.
	Missed     float64
	EveryOther bool
	// Swing is how far the speed swings up and down, as a share of it, and Period how long one
	// swing takes, s.
	Swing, Period float64
	// How loud, 0 to 1: a hiss with each compression, a knock in each cycle, a shudder at each
	// turn. Pop and Spit are the shares of firings that are followed by one.
	Hiss, Knock, Shudder, Pop, Spit float64
	// Bang: the rope is torn back at its end.
	Bang bool
}

// How what an ear picks out grows with what makes it (common practice that it does; sizes
// chosen by us). A governor that hunts swings once in one to two seconds (common practice).
const (
	huntPeriod, freePeriod   = 1.6, 1.0 // s, with a governor and without
	swingFrom, swingLeast    = 1.15, 0.03
	swingOver, swingMost     = 0.35, 0.12
	richMisses, richestShare = 0.75, 0.50
	leanestShare             = 0.30
	soundTone, toneAt        = 170.0, 163.0 // Hz at ml
	heardPulls               = 4            // of many pulls the first
)

// earStep is the least difference of two speeds that an ear tells from memory, as a share
// (common practice: a third of a semitone).
const earStep = 0.02

// pitch is a speed as an ear tells it.
func pitch(rpm float64) float64 {
	if rpm <= 0 {
		return 0
	}
	step := math.Log1p(earStep)
	return math.Round(math.Exp(math.Round(math.Log(rpm)/step) * step))
}

// notch is a share as an ear tells it.
func notch(x, step float64) float64 { return math.Round(math.Round(x/step)*step*1000) / 1000 }

// Heard gives what was heard of an attempt that has come to s. It is asked right after it,
// of the machine as that has left it.
func (m *Machine) Heard(a Attempt, d Draws, s Start) Heard {
	h := m.ear()
	if s.Pulls == 0 || s.Word == "locked" {
		return h
	}
	sound := m.Sound(s)
	for i := range min(s.Pulls, heardPulls) {
		h.Parts = append(h.Parts, m.heardPull(drawn(m.ref.crank, d.Pull[i%len(d.Pull)], a.Slow), sound), EarPart{Kind: EarStill, Seconds: 0.6})
	}
	last := &h.Parts[len(h.Parts)-2]
	switch {
	case sound == "bang":
		last.Bang = true
		return h
	case sound == "spit":
		last.Spit = 1
	}
	if s.Fired {
		h.Parts = append(h.Parts[:len(h.Parts)-1], m.heardRun(s, sound)...)
	}
	return h
}

// heardPull is one pull as fast as the hand drew it: that a crank drags is for the hand to
// feel.
func (m *Machine) heardPull(rpm float64, sound string) EarPart {
	p := EarPart{Kind: EarPull, From: pitch(rpm), To: pitch(rpm), Loud: 0.3}
	if sound == "hiss" {
		p.Hiss = 0.5
	}
	p.Seconds = notch(float64(m.p.strokesPerPull)*m.cycleSeconds(rpm), 0.05)
	return p
}

// cycleSeconds is from one firing to the next: two turns of a four-stroke, one of a
// two-stroke.
func (m *Machine) cycleSeconds(rpm float64) float64 {
	if m.p.twoStroke {
		return 60 / rpm
	}
	return 120 / rpm
}

// heardRun is what follows the pull that fired.
func (m *Machine) heardRun(s Start, sound string) []EarPart {
	free, still := pitch(m.p.governed), EarPart{Kind: EarStill, Seconds: 0.8}
	if s.RPM > 0 {
		free = pitch(s.RPM)
	}
	beat := m.beat(s, sound)
	going := func(seconds, from, to, loud float64) EarPart {
		p := beat
		p.Kind, p.Seconds, p.From, p.To, p.Loud = EarRun, seconds, from, to, loud
		return p
	}
	dies := func(from, seconds float64) []EarPart { return []EarPart{going(seconds, from, 0.12*from, 0.5), still} }
	// How it goes without load, at the idle stop and under a working load, loudest last.
	alone, load := going(2.5, free, free, 0.6), pitch(m.Speed(LoadTest))
	idle := EarPart{Kind: EarRun, Seconds: 0}
	if n := pitch(s.IdleRPM); n > 0 {
		idle = going(2, n, n, 0.4)
	}
	switch s.Word {
	case "fires-and-dies", "nothing":
		return dies(0.5*free, 1.2)
	case "dies", "runs-only-on-choke":
		return append([]EarPart{alone}, dies(free, 1.5)...)
	case "runs":
		return []EarPart{alone}
	case "bogs":
		return append([]EarPart{alone}, dies(free, 2)...)
	case "fades":
		return []EarPart{alone, going(2, free, free, 1), going(2.5, free, pitch(0.72*free), 1)}
	case "died-away":
		return append([]EarPart{alone, going(2, free, free, 1)}, dies(free, 3)...)
	case "stopped-dead":
		return []EarPart{alone, going(2, free, free, 1), still}
	case "stalls-at-idle":
		return append([]EarPart{alone}, dies(pitch(max(s.IdleRPM, 0.4*free)), 1.8)...)
	}
	out := []EarPart{alone}
	if idle.Seconds > 0 {
		out = append(out, idle)
	}
	if load > 0 {
		out = append(out, going(2.5, load, load, 1))
	}
	return out
}

// beat is what is odd in each beat, of that which the words name.
func (m *Machine) beat(s Start, sound string) (p EarPart) {
	switch sound {
	case "hiss":
		p.Hiss = 0.5
	case "knock":
		p.Knock = notch(clamp(m.p.noisy, knockNoise, 1), 0.2)
	case "pops":
		late := m.p.advanceSpec - m.p.advance - m.p.key - m.s.KeyCreep
		p.Pop = notch(clamp((late-popLate)/20, 0.1, 0.5), 0.1)
	case "spit":
		p.Spit = 0.1
	case "shudder":
		p.Shudder = 0.6
	}
	if s.Word == "hunts" {
		p.Swing = notch(clamp(swingLeast+swingMost*(s.LambdaMax-swingFrom)/swingOver, swingLeast, swingMost), 0.03)
		if p.Period = huntPeriod; m.p.governorPull == 0 {
			p.Period = freePeriod
		}
	}
	switch {
	case s.Word == "very-rich" || s.Word == "rich-smoky":
		p.Missed = notch(max(richMissed(s.LambdaMin), 0.1*richestShare), 0.05)
		if p.EveryOther = m.p.twoStroke && p.Missed > 0.3; p.EveryOther { // it four-strokes
			p.Missed = 0.5
		}
	case sound == "stumbling" || s.Word == "runs-only-on-choke" || s.Word == "dies":
		p.Missed = notch(max(leanMissed(s.LambdaMax), 0.2*leanestShare), 0.05)
	case s.Word == "low-power" || s.Word == "bogs":
		p.Missed = notch(min(m.missing(), 0.5), 0.05)
	}
	return p
}

// Listen is what an ear gets that is laid to an engine as it runs, as a word tells it: even,
// rattles, knocks or hisses.
func (m *Machine) Listen(word string) Heard {
	h := m.ear()
	p := EarPart{Kind: EarRun, Seconds: 4, From: pitch(m.p.governed), To: pitch(m.p.governed), Loud: 0.6}
	switch word {
	case "hisses":
		p.Hiss = 0.5
	case "knocks":
		p.Knock = 0.8
	case "rattles":
		p.Shudder = 0.4
	}
	h.Parts = []EarPart{p}
	return h
}

// ear is what hangs on the kind of engine alone.
func (m *Machine) ear() Heard {
	return Heard{TwoStroke: m.p.twoStroke, ToneHz: math.Round(soundTone*math.Cbrt(toneAt/m.p.displacement)/5) * 5}
}

// missing is the share of sparks that do not jump the gap under a working load.
func (m *Machine) missing() float64 {
	at, ok := m.settle(LoadTest, 0, m.s.BowlML/m.p.bowlML, 0)
	if !ok {
		return 0
	}
	return 1 - m.burnsAt(&at)
}
