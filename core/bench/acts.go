package bench

import (
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// Do takes a precaution or makes another action, with what it does to the
// machine. The action must be one of the family's.
func (s *Session) Do(id string) {
	a := s.cat.Action(id)
	for _, cover := range a.Access {
		s.Cover(cover, true)
	}
	s.spend(a.Minutes)
	switch a.Kind {
	case catalogue.ActPrime:
		s.m.TiltPrime()
	case catalogue.ActSpin:
		s.m.SpinOut()
	case catalogue.ActWarm:
		s.warmUp()
	case catalogue.ActPrecaution:
		// A block that is in comes out again.
		s.taken[id] = id != "block-driven" || !s.taken[id]
		switch id {
		case "block-driven":
			s.m.Block(s.taken[id])
		case "lead-clear":
			s.Control(setup.Settings{"plug_lead": "off"})
		case "wipe-spill":
			s.m.WipeUp(0)
		case "cool-down":
			for range 60 {
				if s.m.State().EngineC < CoolC {
					break
				}
				s.spend(2)
			}
		}
	}
}

// CoolC is cool enough to be touched, HotC too hot for a hand, °C.
const (
	CoolC = 45
	HotC  = CoolC + 15
)

// warmUp starts it as the controls stand and lets it run without load until it
// is warm, if it will.
func (s *Session) warmUp() {
	s.repeats["warm-up"]++
	t := s.TestOf("start-attempt")
	s.OpenFor(t)
	su := s.SetupFor(t, nil)
	was := s.m.State().Controls
	s.m.SetControls(su.Controls)
	_, run := s.m.Long(su.Attempt(), s.noise.Draws("warm-up", s.repeats["warm-up"]), 5, machine.LoadNone)
	s.m.SetControls(was)
	s.minutes += run.Minutes + 0.5
	s.m.JustRan()
}

// skipped lists the precautions of a test that have not been taken, as the
// machine stood before it. A master takes them all, unless they are to count only where
// they were taken.
func (s *Session) skipped(t *catalogue.Test, before machine.State) []string {
	if s.technique == Ideal && !s.ownCare {
		return []string{}
	}
	return s.owing(t, before)
}

// Owing lists the precautions that a test asks for as the machine stands, and that have
// not been taken.
func (s *Session) Owing(t *catalogue.Test) []string { return s.owing(t, s.m.State()) }

func (s *Session) owing(t *catalogue.Test, before machine.State) []string {
	out := []string{}
	ids := s.cat.PrecautionsOf(t)
	if setup.Starts(t) && !slices.Contains(ids, "wipe-spill") {
		ids = append(slices.Clone(ids), "wipe-spill") // no engine is started over spilt fuel
	}
	if setup.Starts(t) && s.sawLeak && s.m.Leaks() { // nor one that was seen to leak
		out = append(out, "leak-mended")
	}
	for _, id := range ids {
		switch id {
		case "cool-down":
			if before.EngineC < HotC {
				continue
			}
		case "wipe-spill":
			if before.SpiltML < 1 {
				continue
			}
		case "lead-clear":
			if before.Controls.PlugLead != machine.LeadOn {
				continue
			}
		default:
			if s.taken[id] {
				continue
			}
		}
		out = append(out, id)
	}
	return out
}

// Taken lists the precautions that have been taken, sorted.
func (s *Session) Taken() []string {
	var out []string
	for id, yes := range s.taken {
		if yes {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return out
}
