package bench

import (
	"math"

	"zanjero/core/catalogue"
)

// Branch is one way in which an act can turn out: how likely it is, what is
// told, and the bench as it stands afterwards.
type Branch struct {
	P     float64
	Told  *Prediction
	After *Session
}

// Outlook foresees a test on this bench, without noise of its own: the session
// stays as it is. A look, a feel or a measurement has one branch; a run has one
// for the attempts that fire and one for those that do not, for they leave the
// machine in different states. The chances of the branches sum to one.
func Outlook(s *Session, id string, own Settings) []Branch {
	c := s.Clone()
	m, t := c.Machine(), c.TestOf(id)
	c.Prepare(t, own)
	su := c.SetupFor(t, own)
	was := m.State().Controls
	m.SetControls(su.controls)
	if t.Kind != catalogue.KindRun {
		p := &Prediction{}
		predictRead(m, t, su, p)
		c.Settle(t, su.controls, was, 0)
		return []Branch{{1, p, c}}
	}
	fires, stays, share := tries(m, t, su)
	var out []Branch
	for _, way := range []struct {
		draw int
		p    float64
	}{{fires, share}, {stays, 1 - share}} {
		if way.draw < 0 {
			continue
		}
		after := c.Clone()
		r := read(after.Machine(), t, su, attemptDraws[way.draw])
		after.Settle(t, su.controls, was, r.minutes)
		out = append(out, Branch{way.p, &Prediction{Words: []Chance{{r.word, 1}}, FalterAt: r.value}, after})
	}
	return out
}

// RepairOutlook foresees work: that it takes, and, where it can fail, that it
// does not.
func RepairOutlook(s *Session, act, reach string) []Branch {
	r := catalogue.Standard().Repair(act, reach)
	p := 1.0
	for _, f := range s.Machine().Faults() {
		for _, id := range r.Mends {
			if f.ID == id {
				p = r.Success
			}
		}
	}
	var out []Branch
	for _, took := range []bool{true, false} {
		chance := p
		if !took {
			chance = 1 - p
		}
		if chance > 0 {
			after := s.Clone()
			after.RepairAs(r, took, Likely)
			out = append(out, Branch{P: chance, After: after})
		}
	}
	return out
}

// Between is how likely a reading of a foreseen number lies from low to high,
// over-limit apart.
func (p *Prediction) Between(test string, low, high float64) float64 {
	a := AccuracyOf(test)
	part := func(v float64) float64 {
		sigma := a.Spread(v) * math.Sqrt2
		return 0.5 * (math.Erfc((low-v)/sigma) - math.Erfc((high-v)/sigma))
	}
	sum := 0.0
	if !p.Over {
		sum = (1 - p.Touch) * part(p.Value)
	}
	if p.Touch > 0 {
		sum += p.Touch * part(p.Touched)
	}
	return sum
}

// OverLimit is how likely a foreseen number is over the meter's limit.
func (p *Prediction) OverLimit() float64 {
	if p.Over {
		return 1 - p.Touch
	}
	return 0
}
