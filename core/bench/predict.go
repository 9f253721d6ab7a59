package bench

import (
	"maps"
	"math/rand/v2"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
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

// Replay does a recorded step on a session's machine and says what it
// would have told. Whatever the parameters make of it, the machine's state
// afterwards follows what was seen: it fired, or it did not. asIfValid takes
// every test as a master would have set it up; took says whether work done in
// the step mended what such work mends.
func Replay(s *Session, st Step, asIfValid, took bool) *Prediction {
	switch st.Kind {
	case EventControl:
		s.Control(st.Control)
	case EventCover:
		s.Cover(st.Cover, st.Off)
	case EventWait:
		s.Wait(st.Minutes)
	case EventRepair:
		s.RepairAs(catalogue.Standard().Repair(st.Repair, st.Reach), took, Likely) // what it cost tells nothing
	case EventDo:
		s.Do(st.Do)
	case EventTake:
		return predict(s, st, asIfValid)
	}
	return nil
}

// Foresee says what a step would tell, and leaves the session as it is.
func Foresee(s *Session, st Step, asIfValid bool) *Prediction {
	if st.Kind != EventTake {
		return nil
	}
	return predict(s.Glance(), st, asIfValid)
}

func predict(s *Session, st Step, asIfValid bool) *Prediction {
	t, m := s.TestOf(st.Test), s.Machine()
	s.OpenFor(t)
	var su setup
	if asIfValid {
		su = s.MasterSetup(t)
		if minutes, ok := st.Setup["minutes"].(float64); ok {
			su.minutes = minutes
		}
		if l, ok := st.Setup["load"].(string); ok {
			su.load = machine.Load(l)
		}
		// How the choke stood is what the attempt tried, not how well it was set up.
		if !st.Master {
			su.controls.Choke = m.State().Controls.Choke
		}
		if c, ok := st.Setup["choke"].(float64); ok {
			su.controls.Choke = c
		}
		if t.Kind == catalogue.KindNumber {
			su.controls.Choke = s.MasterSetup(t).controls.Choke
		}
	} else {
		su = s.FoundSetup(t).with(st.Setup)
	}
	was := m.State().Controls
	m.SetControls(su.controls)
	p := &Prediction{}
	if t.Kind == catalogue.KindRun {
		p.Words = inOrder(predictRun(s, t, su, st.Obs, p))
	} else {
		predictRead(m, t, su, p)
	}
	m = s.Machine() // a run may have put another in its place
	m.SetControls(was)
	if t.Kind == catalogue.KindRun {
		m.JustRan()
	}
	return p
}

// predictRead reads with a chafed wire clear, and touching.
func predictRead(m *machine.Machine, t *catalogue.Test, su setup, p *Prediction) {
	touch := m.TouchChance()
	var touched reading
	if touch > 0 {
		other := m.Clone()
		other.Touch(true)
		touched = read(other, t, su, machine.Draws{})
	}
	m.Touch(false)
	r := read(m, t, su, machine.Draws{})
	if touch > 0 && r.chances != nil {
		mixed := map[string]float64{}
		for w, c := range r.chances {
			mixed[w] += (1 - touch) * c
		}
		for w, c := range touched.chances {
			mixed[w] += touch * c
		}
		r.chances = mixed
	}
	p.Value, p.Over, p.Words = r.value, r.over, inOrder(r.chances)
	if touch > 0 && (touched.value != r.value || touched.over != r.over) {
		p.Touch, p.Touched = touch, touched.value
	}
}

// tries cranks once for each of the fixed draws, on a copy: the one that stands
// for those that fire and the one for those that do not, −1 for none, and the
// share that fires.
func tries(m *machine.Machine, t *catalogue.Test, su setup) (fires, stays int, share float64) {
	a := machine.Attempt{Choke: su.controls.Choke, Throttle: max(su.controls.Throttle, 0.1), Pulls: su.pulls, Slow: su.slow}
	if t.ID == "dose-intake" {
		a.DoseML, a.Pulls = su.doseML, 4
	}
	a = clearFirst(m, a)
	fires, stays = -1, -1
	for i := range attemptDraws {
		try := m.Clone()
		if su.primer > 0 {
			try.Prime(su.primer)
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
func predictRun(s *Session, t *catalogue.Test, su setup, seen *Observation, p *Prediction) map[string]float64 {
	fires, stays, share := tries(s.Machine(), t, su)
	silent := "no-fire"
	if t.ID == "dose-intake" {
		silent = "nothing"
	}
	words := map[string]float64{}
	if share < 1 {
		words[silent] = 1 - share
	}
	didFire := seen != nil && seen.Word != nil && *seen.Word != silent && *seen.Word != "locked"
	before := s.Machine().Clone()
	if fires >= 0 {
		r := read(s.Machine(), t, su, attemptDraws[fires])
		words[r.word] += share
		p.FalterAt = r.value
	}
	switch {
	case seen == nil:
	case !didFire && stays >= 0:
		s.Restore(before)
		read(s.Machine(), t, su, attemptDraws[stays])
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
