// Package foresee says what a test would tell before it is made: by replaying a
// ledger on a machine whose hidden parameters are assumed, or by trying a test
// on a copy of the bench. It never draws on an attempt's own seed.
package foresee

import (
	"maps"
	"math/rand/v2"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/reading"
	"zanjero/core/setup"
)

// Prediction is what a machine would have told in a step: for a number the
// exact value, for words the chance of each.
type Prediction struct {
	Value float64
	Over  bool
	// Touch is how likely a chafed wire touched, Touched the value if it did.
	Touch, Touched float64
	Words          []Chance // by word
	// FalterAt in minutes of a long run, 0 if it would not.
	FalterAt float64
	// Parts are the others of a reading that has several, by id.
	Parts map[string]*Prediction
}

// Chance is how likely a word is.
type Chance struct {
	Word string
	P    float64
}

// inOrder lists chances by word, so that sums over them come out the same
// each time.
func inOrder(m map[string]float64) []Chance {
	out := make([]Chance, 0, len(m))
	for _, w := range slices.Sorted(maps.Keys(m)) {
		out = append(out, Chance{w, m[w]})
	}
	return out
}

// attemptDraws is the fixed set of chances over which attempts are averaged.
// It has nothing to do with any attempt's own seed.
var attemptDraws = func() (d [5]machine.Draws) {
	r := rand.New(rand.NewPCG(20, 26))
	shakes := [...]float64{-0.5, 1.4, -1.4, 0.5, 0}
	for i, z := range [...]float64{-1.4, -0.5, 0, 0.5, 1.4} {
		d[i].Threshold, d[i].Shake = z, shakes[i]
		for j := range d[i].Pull {
			d[i].Pull[j] = r.NormFloat64()
		}
	}
	return d
}()

// Replay does a recorded line on a session's machine and says what it
// would have told. Whatever the parameters make of it, the machine's state
// afterwards follows what was seen: it fired, or it did not. asIfValid takes
// every test as a master would have set it up; took says whether work done in
// the step mended what such work mends.
func Replay(s *bench.Session, st ledger.Line, asIfValid, took bool) *Prediction {
	switch st.Kind {
	case ledger.EventControl:
		s.Control(st.Control)
	case ledger.EventCover:
		s.Cover(st.Cover, st.Off)
	case ledger.EventWait:
		s.Wait(st.Minutes)
	case ledger.EventRepair:
		s.RepairAs(catalogue.Standard().Repair(st.Repair, st.Reach), took, bench.Likely) // what it cost tells nothing
	case ledger.EventDo:
		s.Do(st.Do)
	case ledger.EventTake:
		return predict(s, st, asIfValid)
	}
	return nil
}

// Line says what a line of a ledger would tell, and leaves the session as it is.
func Line(s *bench.Session, st ledger.Line, asIfValid bool) *Prediction {
	if st.Kind != ledger.EventTake {
		return nil
	}
	return predict(s.Glance(), st, asIfValid)
}

func predict(s *bench.Session, st ledger.Line, asIfValid bool) *Prediction {
	t, m := s.TestOf(st.Test), s.Machine()
	s.OpenFor(t)
	var su setup.Setup
	if asIfValid {
		su = s.MasterSetup(t)
		if minutes, ok := st.Setup["minutes"].(float64); ok {
			su.Minutes = minutes
		}
		if l, ok := st.Setup["load"].(string); ok {
			su.Load = machine.Load(l)
		}
		// How the choke stood is what the attempt tried, not how well it was set up.
		if !st.Master {
			su.Controls.Choke = m.State().Controls.Choke
		}
		if c, ok := st.Setup["choke"].(float64); ok {
			su.Controls.Choke = c
		}
		if t.Kind == catalogue.KindNumber {
			su.Controls.Choke = s.MasterSetup(t).Controls.Choke
		}
	} else {
		su = s.FoundSetup(t).With(st.Setup)
	}
	was := m.State().Controls
	m.SetControls(su.Controls)
	p := &Prediction{}
	if t.Kind == catalogue.KindRun {
		p.Words = inOrder(predictRun(s, t, su, st.Obs, p))
	} else {
		predictRead(m, t, su, p, st.Entry == nil || len(st.Entry.Parts) > 0) // what lies ahead may show any
	}
	m = s.Machine() // a run may have put another in its place
	m.SetControls(was)
	if t.Kind == catalogue.KindRun {
		m.JustRan()
	}
	return p
}

// predictRead reads with a chafed wire clear, and touching; the parts of a reading
// only where they are asked for.
func predictRead(m *machine.Machine, t *catalogue.Test, su setup.Setup, p *Prediction, parts bool) {
	touch := m.TouchChance()
	var touched reading.Reading
	if touch > 0 {
		other := m.Clone()
		other.Touch(true)
		touched = reading.Read(other, t, su, machine.Draws{})
	}
	m.Touch(false)
	r := reading.Read(m, t, su, machine.Draws{})
	if touch > 0 && r.Chances != nil {
		mixed := map[string]float64{}
		for w, c := range r.Chances {
			mixed[w] += (1 - touch) * c
		}
		for w, c := range touched.Chances {
			mixed[w] += touch * c
		}
		r.Chances = mixed
	}
	p.Value, p.Over, p.Words = r.Value, r.Over, inOrder(r.Chances)
	if parts {
		p.Parts = make(map[string]*Prediction, len(r.Parts))
		for id, x := range r.Parts {
			p.Parts[id] = &Prediction{Value: x.Value, Over: x.Over, Words: inOrder(x.Chances)}
		}
	}
	if touch > 0 && (touched.Value != r.Value || touched.Over != r.Over) {
		p.Touch, p.Touched = touch, touched.Value
	}
}

// tries cranks once for each of the fixed draws, on a copy: the one that stands
// for those that fire and the one for those that do not, −1 for none, and the
// share that fires.
func tries(m *machine.Machine, t *catalogue.Test, su setup.Setup) (fires, stays int, share float64) {
	a := machine.Attempt{Choke: su.Controls.Choke, Throttle: max(su.Controls.Throttle, 0.1), Pulls: su.Pulls, Slow: su.Slow}
	if t.ID == "dose-intake" {
		a.DoseML, a.Pulls = su.DoseML, 4
	}
	a = reading.ClearFirst(m, a)
	fires, stays = -1, -1
	for i := range attemptDraws {
		try := m.Clone()
		if su.Primer > 0 {
			try.Prime(su.Primer)
		}
		if try.Fires(a, attemptDraws[i]) {
			share += 1.0 / float64(len(attemptDraws))
			if fires < 0 || i == 2 {
				fires = i
			}
		} else if stays < 0 || i == 2 {
			stays = i
		}
	}
	return fires, stays, share
}

// predictRun averages an attempt over the fixed draws: each is cranked, and
// the first that does as was seen is followed to its end.
func predictRun(s *bench.Session, t *catalogue.Test, su setup.Setup, seen *bench.Observation, p *Prediction) map[string]float64 {
	fires, stays, share := tries(s.Machine(), t, su)
	silent := "no-fire"
	if t.ID == "dose-intake" {
		silent = "nothing"
	}
	words := map[string]float64{}
	switch {
	case s.Machine().Locked():
		words["locked"] = 1
	case share < 1:
		words[silent] = 1 - share
	}
	didFire := seen != nil && seen.Word != nil && *seen.Word != silent && *seen.Word != "locked"
	before := s.Machine().Clone()
	if fires >= 0 {
		r := reading.Read(s.Machine(), t, su, attemptDraws[fires])
		words[r.Word] += share
		p.FalterAt = r.Value
	}
	switch {
	case seen == nil:
	case !didFire && stays >= 0:
		s.Restore(before)
		reading.Read(s.Machine(), t, su, attemptDraws[stays])
	case !didFire:
		s.Restore(before)
	case fires < 0:
		s.Restore(before)
		ran := seen.Minutes
		s.Machine().JustRan()
		s.Machine().Assume(ran)
	}
	return words
}
