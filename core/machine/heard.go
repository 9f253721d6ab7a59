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
