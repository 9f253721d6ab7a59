package procedure

import (
	"context"
	"fmt"
	"slices"
	"sync/atomic"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/foresee"
)

// Limits of a walk: ways less likely than leastWay are not followed, a way is cut
// off after longestWay steps, and one machine makes at most mostTries steps in
// all. What is not followed is reported as lost.
const (
	leastWay   = 2e-3
	longestWay = 150
	mostTries  = 1500
)

// mostKept is how many steps made by machines a population remembers, together;
// then it forgets them all and begins anew.
const mostKept = 60_000

// keptBytes is about what a remembered step takes, measured.
const keptBytes = 2_900

// Population is the machines that procedures are tried on. It remembers what
// each machine did at each step of what was tried, so that trying a procedure
// again after an edit works out only what the edit touches. It is not safe for
// use by several goroutines at once.
type Population struct {
	cat       *catalogue.Catalogue
	family    string
	sheet     catalogue.Sheet
	specimens []specimen
	healthy   int
	kept      atomic.Int64 // steps made and remembered
}

type specimen struct {
	diagnosis.Specimen
	root *state
}

// state is a machine after some steps, with what the steps tried from here
// came to.
type state struct {
	bench *bench.Session
	next  map[string][]edge
}

type edge struct {
	p    float64
	told *foresee.Prediction
	to   *state
}

// NewPopulation makes the machines of a job, weighted by an owner's complaint
// where one is made.
func NewPopulation(ctx context.Context, j diagnosis.Job, complaint diagnosis.Claim) (*Population, error) {
	pop, err := diagnosis.NewPopulation(ctx, j, nil)
	if err != nil {
		return nil, err
	}
	out := &Population{cat: j.Figures(), family: j.Family, sheet: j.Sheet}
	for _, s := range pop.Specimens(complaint) {
		out.specimens = append(out.specimens, specimen{s, &state{bench: s.Bench}})
	}
	out.healthy = slices.IndexFunc(out.specimens, func(s specimen) bool { return s.Fault.ID == "" })
	return out, nil
}

// Size is the number of machines.
func (pop *Population) Size() int { return len(pop.specimens) }

// Bytes is about how much memory it holds, for whoever keeps some of them.
func (pop *Population) Bytes() int64 {
	return int64(len(pop.specimens))*bench.SessionBytes + pop.kept.Load()*keptBytes
}

// key names what a step does, so that what came of it is found again.
func (s *Step) key() string {
	return fmt.Sprint(s.Precautions, s.Repair, s.Reach, s.Test, s.Setup) // maps print in order
}

// try makes a step from a state, or finds what was made of it before.
func (pop *Population) try(st *state, s *Step, key string) []edge {
	if known, ok := st.next[key]; ok {
		return known
	}
	at := []foresee.Outcome{{P: 1, After: st.bench.Clone()}}
	for _, id := range s.Precautions {
		at[0].After.Do(id)
	}
	if s.Repair != "" {
		at = foresee.Repair(at[0].After, s.Repair, s.Reach)
	}
	var out []edge
	for _, from := range at {
		from.After.PutBackFor(s.Test)
		for _, b := range foresee.Test(from.After, s.Test, s.Setup, true) {
			out = append(out, edge{from.P * b.P, b.Seen, &state{bench: b.After}})
		}
	}
	if st.next == nil {
		st.next = map[string][]edge{}
	}
	st.next[key] = out
	pop.kept.Add(1)
	return out
}

// walk is what following a procedure with one machine comes to.
type walk struct {
	ends               []walked
	detected, isolated []float64
	outcomes           [][]float64 // mass by step and outcome
	ended, lost        float64
}

type walked struct {
	step, outcome int // step is len for the end of the list, outcome −1 for none
	level         string
	p, minutes    float64
	money         float64
	path          []int
}

// plan is a procedure made ready for walking.
type plan struct {
	*Procedure
	pop   *Population
	tests []*catalogue.Test
	keys  []string
	sheet catalogue.Sheet
	// usual is the likeliest outcome of each step on a sound machine, −1 where
	// it does not come.
	usual []int
}

func (pop *Population) plan(p *Procedure) *plan {
	out := &plan{Procedure: p, pop: pop, sheet: pop.sheet}
	for i := range p.Steps {
		s := &p.Steps[i]
		out.tests = append(out.tests, pop.cat.TestFor(pop.family, pop.sheet, s.Test))
		out.keys = append(out.keys, s.key())
	}
	out.usual = slices.Repeat([]int{-1}, len(p.Steps))
	sound := out.follow(&pop.specimens[pop.healthy])
	for i, mass := range sound.outcomes {
		best := 0.0
		for o, m := range mass {
			if m > best {
				out.usual[i], best = o, m
			}
		}
	}
	return out
}

// follow goes every way that a machine can take.
func (p *plan) follow(sp *specimen) *walk { return p.followAnd(sp, nil) }

// followAnd also tells of each step that is made, unless met is nil, how likely it is
// come to and what it says.
func (p *plan) followAnd(sp *specimen, met func(step int, prob float64, told *foresee.Prediction)) *walk {
	w := &walk{detected: make([]float64, len(p.Steps)), isolated: make([]float64, len(p.Steps)), outcomes: make([][]float64, len(p.Steps))}
	for i := range p.Steps {
		w.outcomes[i] = make([]float64, len(p.Steps[i].Outcomes)+1)
	}
	tries := 0
	var onward func(at *state, i int, prob float64, noticed bool, path []int)
	onward = func(at *state, i int, prob float64, noticed bool, path []int) {
		if i < 0 || i >= len(p.Steps) || len(path) >= longestWay {
			level := DeadEnd
			switch {
			case sp.Fault.ID == "" && len(path) < longestWay:
				level = Sound
			case !noticed:
				level = Undetected
			}
			w.end(at, len(p.Steps), -1, level, prob, path)
			return
		}
		if tries++; tries > mostTries {
			w.lost += prob
			return
		}
		s := &p.Steps[i]
		path = append(slices.Clone(path), i)
		for _, e := range p.pop.try(at, s, p.keys[i]) {
			if met != nil {
				met(i, prob*e.p, e.told)
			}
			var ways []way
			for o, chance := range s.match(p.tests[i], p.sheet, e.told) {
				q := prob * e.p * chance
				if q < leastWay {
					w.lost += q
					continue
				}
				w.outcomes[i][o] += q
				seen := noticed
				if !seen && o != p.usual[i] {
					w.detected[i] += q
					seen = true
				}
				if o == len(s.Outcomes) { // no way on
					level := DeadEnd
					if sp.Fault.ID == "" {
						level = Sound
					}
					w.end(e.to, i, -1, level, q, path)
					continue
				}
				out := &s.Outcomes[o]
				switch out.Then {
				case Conclude, Stop:
					level := out.level(sp.Fault.ID)
					if level == AtPart || level == AtReach {
						w.isolated[i] += q
					}
					w.end(e.to, i, o, level, q, path)
				default:
					ways = join(ways, way{p.After(i, out), seen, q})
				}
			}
			for _, on := range ways {
				onward(e.to, on.to, on.p, on.seen, path)
			}
		}
	}
	onward(sp.root, 0, 1, false, nil)
	if len(w.ends) == 0 { // nothing could be followed to its end
		w.end(sp.root, len(p.Steps), -1, DeadEnd, 1, nil)
	}
	for _, e := range w.ends {
		w.ended += e.p
	}
	return w
}

// way is where a machine goes on from a step. Outcomes that go on alike go on
// together.
type way struct {
	to   int
	seen bool
	p    float64
}

func join(ways []way, w way) []way {
	for i := range ways {
		if ways[i].to == w.to && ways[i].seen == w.seen {
			ways[i].p += w.p
			return ways
		}
	}
	return append(ways, w)
}

func (w *walk) end(at *state, step, outcome int, level string, p float64, path []int) {
	w.ends = append(w.ends, walked{step, outcome, level, p, at.bench.Minutes(), at.bench.Money(), path})
}
