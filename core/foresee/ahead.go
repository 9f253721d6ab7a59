package foresee

import (
	"math"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/setup"
)

// Outcome is one way in which an act can turn out: how likely it is, what is
// told, and the bench as it stands afterwards.
type Outcome struct {
	P     float64
	Seen  *Prediction
	After *bench.Session
}

// Test foresees a test on this bench, without noise of its own: the session
// stays as it is. The parts of a reading that has several are foreseen where parts
// says so. A look, a feel or a measurement has one branch; a run has one
// for the attempts that fire and one for those that do not, for they leave the
// machine in different states. The chances of the branches sum to one.
func Test(s *bench.Session, id string, own setup.Settings, parts bool) []Outcome {
	c := s.Clone()
	m, t := c.Machine(), c.TestOf(id)
	c.Prepare(t, own)
	su := c.SetupFor(t, own)
	was := m.State().Controls
	m.SetControls(su.Controls)
	if t.Kind != catalogue.KindRun {
		p := &Prediction{}
		predictRead(m, t, su, p, parts)
		c.Settle(t, su.Controls, was, 0)
		return []Outcome{{1, p, c}}
	}
	var out []Outcome
	for _, w := range ways(m, t, su) {
		after := c.Clone()
		after.Restore(w.m)
		after.Settle(t, su.Controls, was, w.r.Minutes)
		out = append(out, Outcome{w.p, &Prediction{Words: inOrder(w.told), FalterAt: w.r.Value, Beside: besideOf(&w.r)}, after})
	}
	return out
}

// Start is the word that a start of the engine, made ready as a master would, most
// likely earns.
func Start(s *bench.Session) string {
	best, word := 0.0, ""
	for _, b := range Test(s.AsMaster(), "start-attempt", nil, false) {
		for _, c := range b.Seen.Words {
			if p := b.P * c.P; p > best {
				best, word = p, c.Word
			}
		}
	}
	return word
}

// Repair foresees work: that it takes, and, where it can fail, that it
// does not.
func Repair(s *bench.Session, act, reach string) []Outcome {
	r := catalogue.Standard().Repair(act, reach)
	p := 1.0
	for _, f := range s.Machine().Faults() {
		for _, id := range r.Mends {
			if f.ID == id {
				p = r.Success
			}
		}
	}
	var out []Outcome
	for _, took := range []bool{true, false} {
		chance := p
		if !took {
			chance = 1 - p
		}
		if chance > 0 {
			after := s.Clone()
			after.RepairAs(r, took, bench.Likely)
			out = append(out, Outcome{P: chance, After: after})
		}
	}
	return out
}

// Between is how likely a reading of a foreseen number lies from low to high,
// over-limit apart.
func (p *Prediction) Between(test string, low, high float64) float64 {
	a := instrument.AccuracyOf(test)
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
