package sequencing

import (
	"math"
	"slices"
)

// How much work lifting may take, in cells looked at: where somebody waits for a
// plan, and where the bound itself is asked for. It is counted and not timed, so
// that the bound is the same on every machine.
const (
	quickLift   = 80e6
	patientLift = 600e6
)

// lift raises the bound of a whole set by Bellman's equation where it helps
// most: again and again it follows the order that the bounds so far think
// cheapest, works each state on the way out from the bounds of what it leads
// to, and keeps the larger. Bounds stay bounds. Source: learning real-time
// search with admissible values (Barto, Bradtke & Singh 1995).
type lift struct {
	p      *instance
	states map[string]*lifting
	work   float64 // done so far
	most   float64
}

type lifting struct {
	s     set
	low   float64
	done  bool // low is exact
	tests []liftingTest
}

type liftingTest struct {
	cost  float64
	parts []*lifting
}

func (l *lift) at(s set) *lifting {
	key := s.key(0)
	if st, ok := l.states[key]; ok {
		return st
	}
	st := &lifting{s: s}
	if st.done = l.p.done(s); !st.done {
		n := float64(len(s))
		l.work += n * n * float64(len(l.p.m.Costs))
		st.low = l.p.bound(s)
	}
	l.states[key] = st
	return st
}

// open lists the tests that part a state and what they lead to.
func (l *lift) open(st *lifting) {
	if st.tests != nil {
		return
	}
	st.tests = []liftingTest{}
	for _, t := range l.p.order {
		parts := l.p.split(st.s, t)
		if parts == nil {
			continue
		}
		o := liftingTest{cost: l.p.m.Costs[t] * l.p.mass(st.s)}
		for _, part := range parts {
			o.parts = append(o.parts, l.at(part))
		}
		st.tests = append(st.tests, o)
	}
}

// best is the test that looks cheapest by the bounds so far.
func (st *lifting) best() (at int, cost float64) {
	at, cost = -1, math.Inf(1)
	for i, t := range st.tests {
		sum := t.cost
		for _, part := range t.parts {
			sum += part.low
		}
		if sum < cost {
			at, cost = i, sum
		}
	}
	return at, cost
}

// walk goes down one way and raises the bounds on it.
func (l *lift) walk(st *lifting) {
	if st.done {
		return
	}
	l.open(st)
	l.work += 20 * float64(len(st.tests)) // to look twice at what each leads to
	i, cost := st.best()
	if i < 0 { // nothing parts it
		st.done, st.low = true, 0
		return
	}
	var next *lifting
	for _, part := range st.tests[i].parts {
		if !part.done && (next == nil || part.low > next.low) {
			next = part
		}
	}
	if next != nil && l.work < l.most {
		l.walk(next)
		i, cost = st.best()
	}
	st.low = max(st.low, cost)
	st.done = !slices.ContainsFunc(st.tests[i].parts, func(p *lifting) bool { return !p.done })
}

// lifted is the bound of a whole problem after at most so much lifting.
func (p *instance) lifted(s set, most float64) float64 {
	l := &lift{p: p, states: map[string]*lifting{}, most: most}
	root := l.at(s)
	for !root.done && l.work < l.most && p.ctx.Err() == nil {
		l.walk(root)
		l.work += float64(len(s)) // an end, even where nothing is opened any more
	}
	return root.low
}
