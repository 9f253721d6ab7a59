package machine

// What shows at the exhaust and what is heard (common practice).

func (m *Machine) smoke(s Start) string {
	switch {
	case s.LambdaMin < 0.75:
		return "black"
	case m.p.oilBurn >= 0.25 || m.s.OilLevel > 1.3:
		return "blue"
	}
	return "none"
}

// Where what is unburnt lights in the exhaust of an engine that is stopped from its
// working speed: the temperature from which the muffler is hot enough, and what it takes
// from then on; mixtures that leave enough to burn there, λ; degrees of late timing. And
// from how many degrees early a glowing plug goes on lighting the charge (common
// practice; sizes chosen by us).
const (
	mufflerHot, hotOver   = 45.0, 15.0
	richBangs, richOver   = 0.84, 0.14
	leanBangs, leanOver   = 1.20, 0.20
	lateBangs, lateOver   = 5.0, 15.0
	afterfire, runsOnFrom = 0.6, 12.0
)

// ShutDown is what happens when a run is ended at the stop: "quiet"; "bangs", where the
// charge that coasts through unburnt lights in the muffler; or "runs-on", where a glowing
// plug goes on firing it. A valve that shuts off the jet at the stop leaves nothing to
// bang. Empty where nothing ran that could be stopped.
func (m *Machine) ShutDown(s Start) string {
	if !s.Fired || s.over() || s.Word == "stopped-dead" || s.Word == "died-away" {
		return ""
	}
	if m.glowsEarly() >= runsOnFrom {
		return "runs-on"
	}
	if m.p.fuelCut {
		return "quiet"
	}
	late := m.p.advanceSpec - m.p.advance - m.p.key - m.s.KeyCreep
	unburnt := clamp((richBangs-s.LambdaMin)/richOver, 0, 1.2) + clamp((s.LambdaMax-leanBangs)/leanOver, 0, 1) +
		clamp((late-lateBangs)/lateOver, 0, 1.2) + m.p.burnt
	if unburnt*clamp((m.s.EngineC-mufflerHot)/hotOver, 0, 1) > afterfire {
		return "bangs"
	}
	return "quiet"
}

// Where an ear first notices: noise of worn parts, degrees of late timing after
// which fuel still burns in the exhaust, and a mixture so lean that the flame is
// still there when the intake opens.
const (
	knockNoise = 0.35
	popLate    = 8
	stumbles   = 1.3
)

// Sound is what is heard in an attempt, the most telling first: a hiss with
// each stroke, a bang of the rope torn back, a spit or cough at the intake, pops
// in the exhaust, a knock, a surging, lumpy, stumbling or labouring beat, an even
// one, or none.
func (m *Machine) Sound(s Start) string {
	turned := s.Word != "locked" && m.turns()
	outside := m.p.jointLeak > m.ref.jointLeak+0.2 || m.p.valveLeak > m.ref.valveLeak+0.3
	switch late := m.p.advanceSpec - m.p.advance - m.p.key - m.s.KeyCreep; {
	case !turned:
		return "none"
	case s.Word == "kicks-back" || s.Word == "runs-backwards":
		return "bang"
	case s.Word == "spits-back":
		return "spit"
	case outside:
		return "hiss"
	case !s.Fired:
		return "none"
	case s.Word == "races":
		return "howl"
	case s.Word == "vibrates":
		return "shudder"
	case s.Word == "stopped-dead":
		return "none"
	case s.over() || s.Word == "dies" || s.Word == "nothing":
		return "cough"
	case m.p.noisy >= knockNoise:
		return "knock"
	case late > popLate:
		return "pops"
	case s.Word == "hunts":
		return "surging"
	case s.Word == "very-rich" || s.Word == "rich-smoky":
		return "lumpy"
	case s.LambdaMax > stumbles:
		return "stumbling"
	case s.Word == "bogs" || s.Word == "low-power" || s.Word == "fades" || s.Word == "died-away":
		return "labouring"
	}
	return "even"
}
