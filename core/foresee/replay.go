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
	// Beside is what is seen and heard beside the words of a run that went one way; it
	// stands only in what a test is tried for.
	Beside Beside
	// Parts are the others of a reading that has several, by id.
	Parts map[string]*Prediction
}

// Beside is what a run shows beside how it went.
type Beside struct {
	// Pulls it took, 0 where that was not counted; Smoke and Sound as the machine has them;
	// Stop what happened as it was stopped, empty where nothing ran.
	Pulls              int
	Smoke, Sound, Stop string
}

// besideOf takes it out of a reading.
func besideOf(r *reading.Reading) (b Beside) {
	b.Pulls, _ = r.Also["pulls"].(int)
	b.Smoke, _ = r.Also["smoke"].(string)
	b.Sound, _ = r.Also["sound"].(string)
	b.Stop, _ = r.Also["stop"].(string)
	return b
}

// Chance is how likely a word is.
type Chance struct {
	Word string
	P    float64
}

// inOrder lists chances by word, so that sums over them come out the same
// each time.
func inOrder(m map[string]float64) []Chance {
	if len(m) == 1 { // as most are
		for w, p := range m {
			return []Chance{{w, p}}
		}
	}
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
// every test as a master would have set it up. t is the line's test as the machine
// has it, nil for a line that has none; it is only read. known is the run last made
// on this machine or on a copy of it, and then holds the one made here; nil if
// none is kept.
func Replay(s *bench.Session, st ledger.Line, t *catalogue.Test, asIfValid bool, known *Run) *Prediction {
	switch st.Kind {
	case ledger.EventControl:
		s.Control(st.Control)
	case ledger.EventCover:
		s.Cover(st.Cover, st.Off)
	case ledger.EventWait:
		s.Wait(st.Minutes)
	case ledger.EventRepair:
		Work(s, st, true)
	case ledger.EventDo:
		s.Do(st.Do)
	case ledger.EventTake:
		p, settle := predict(s, st, t, asIfValid, known)
		settle()
		return p
	}
	return nil
}

// Work does a line's repair on a session's machine; took says whether it mended what
// such work mends. What it cost tells nothing.
func Work(s *bench.Session, st ledger.Line, took bool) {
	s.RepairAs(catalogue.Standard().Repair(st.Repair, st.Reach), took, bench.Likely)
}

// Line says what a line of a ledger would tell, and leaves the session as it is.
func Line(s *bench.Session, st ledger.Line, t *catalogue.Test, asIfValid bool) *Prediction {
	if st.Kind != ledger.EventTake {
		return nil
	}
	p, _ := predict(s.Glance(), st, t, asIfValid, nil)
	return p
}

// predict says what a line tells on a session; settle then ends the test there.
func predict(s *bench.Session, st ledger.Line, t *catalogue.Test, asIfValid bool, known *Run) (p *Prediction, settle func()) {
	s.OpenFor(t)
	if asIfValid || st.Master {
		s.MakeReady(t, st.Setup)
	}
	m := s.Machine()
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
	} else if st.Master { // as somebody set it up who sets up rightly, but for what is said
		su = s.MasterSetup(t).With(st.Setup)
	} else {
		su = s.FoundSetup(t).With(st.Setup)
	}
	was := m.State().Controls
	m.SetControls(su.Controls)
	p = &Prediction{}
	ran := 0.0
	if t.Kind == catalogue.KindRun {
		ran = predictRun(s, t, su, st.Obs, p, known)
	} else {
		predictRead(m, t, su, p, st.Entry == nil || len(st.Entry.Parts) > 0) // what lies ahead may show any
	}
	return p, func() { s.Settle(t, su.Controls, was, ran) }
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

// tries cranks once for each of the fixed draws: the one that stands for those
// that fire and the one for those that do not, −1 for none, and the share that
// fires.
func tries(m *machine.Machine, t *catalogue.Test, su setup.Setup) (fires, stays int, share float64) {
	fires, stays = -1, -1
	var try machine.Machine
	for i := range attemptDraws {
		try = *m
		if reading.Catches(&try, t, su, attemptDraws[i]) {
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

// way is one of the ways in which a run can go.
type way struct {
	p    float64
	r    reading.Reading
	m    *machine.Machine // as it stands afterwards
	told map[string]float64
}

// Run is how a run goes on a machine as it stood: beliefs that differ in how they take
// a set-up mostly make the same one. The zero value is none. It is not safe for use
// by several goroutines at once.
type Run struct {
	test   string
	setup  setup.Setup
	before machine.Machine
	ways   []way
}

// waysOf are the ways of a run, from those known if it is the same one.
func (r *Run) waysOf(m *machine.Machine, t *catalogue.Test, su setup.Setup) []way {
	if r == nil {
		return ways(m, t, su)
	}
	su = su.Running(t)
	if r.test != t.ID || r.setup != su || !r.before.Same(m) {
		*r = Run{test: t.ID, setup: su, before: *m, ways: ways(m, t, su)}
	}
	return r.ways
}

// restore puts a session's machine to where a way of a run left it.
func (r *Run) restore(s *bench.Session, w way) {
	if r != nil { // it may be asked for again
		w.m = w.m.Clone()
	}
	s.Restore(w.m)
}

// ways of a run: one of those attempts that fire and one of those that do not,
// each followed to its end.
func ways(m *machine.Machine, t *catalogue.Test, su setup.Setup) (out []way) {
	fires, stays, share := tries(m, t, su)
	for _, w := range []struct {
		draw int
		p    float64
	}{{fires, share}, {stays, 1 - share}} {
		if w.draw < 0 {
			continue
		}
		after := m.Clone()
		r := reading.Read(after, t, su, attemptDraws[w.draw])
		told := r.Chances
		if told == nil {
			told = map[string]float64{r.Word: 1}
		}
		out = append(out, way{w.p, r, after, told})
	}
	return out
}

// predictRun averages an attempt over the ways it can go, and follows the one that
// went as was seen. It gives the minutes that it ran.
func predictRun(s *bench.Session, t *catalogue.Test, su setup.Setup, seen *bench.Observation, p *Prediction, known *Run) (ran float64) {
	before := s.Machine()
	words, all := map[string]float64{}, known.waysOf(before, t, su)
	for _, w := range all {
		for word, chance := range w.told {
			words[word] += w.p * chance
		}
		p.FalterAt = max(p.FalterAt, w.r.Value)
	}
	p.Words = inOrder(words)
	if seen == nil || seen.Word == nil {
		known.restore(s, all[0])
		return all[0].r.Minutes
	}
	// The way that tells what was seen; or, where none does, one that ran as it did.
	best := -1
	for i, w := range all {
		if c := w.told[*seen.Word]; c > 0 && (best < 0 || c > all[best].told[*seen.Word]) {
			best = i
		}
	}
	for i, w := range all {
		if best < 0 && silent(w.r.Word) == silent(*seen.Word) {
			best = i
		}
	}
	if best >= 0 {
		known.restore(s, all[best])
		return all[best].r.Minutes
	}
	if !silent(*seen.Word) {
		before.JustRan()
		before.Assume(seen.Minutes)
	}
	return 0
}

// silent says of a run's word that the engine did not run.
func silent(word string) bool {
	return slices.Contains([]string{"no-fire", "nothing", "locked", "no-run"}, word)
}
