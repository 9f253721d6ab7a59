package sequencing

import (
	"context"
	"math"
	"slices"
	"zanjero/core/problem"
)

// Plan is an order of tests as a tree, with what it costs.
type Plan struct {
	ExpectedCost  float64    `json:"expected_cost"`
	WorstCaseCost float64    `json:"worst_case_cost"`
	Leaves        int        `json:"leaves"`
	Groups        [][]string `json:"groups"`
	Tree          *Node      `json:"tree"`
}

// Node is a test and where each outcome leads, or the faults that are left.
type Node struct {
	Test     string           `json:"test,omitempty"`
	Cost     float64          `json:"cost,omitempty"`
	Outcomes map[string]*Node `json:"outcomes,omitempty"`
	Faults   []string         `json:"faults,omitempty"`
}

// exactFrom is how many groups may be left for the exact search to take over
// from the rollout, and maxStates how many sets it may look at.
const (
	exactFrom = 16
	maxStates = 1 << 20
)

// chooser says which test to make on a set of more than one class with some
// covers off, or −1.
type chooser func(s set, off uint64) int

// Greedy takes the test with the most information for its cost, each time.
// Ties go to the cheaper, then by id.
func Greedy(ctx context.Context, m *Matrix) (*Plan, error) {
	p, wrong := newInstance(ctx, m)
	if wrong != nil {
		return nil, wrong
	}
	return p.follow(p.greedy)
}

// Rollout tries each test, goes on greedily, and takes the cheapest; with few
// groups left it is exact. It is never dearer than Greedy.
func Rollout(ctx context.Context, m *Matrix) (*Plan, error) {
	p, wrong := newInstance(ctx, m)
	if wrong != nil {
		return nil, wrong
	}
	base := map[string]float64{}
	exact := newSearch(p)
	return p.follow(func(s set, off uint64) int {
		if len(s) <= exactFrom && exact.states < maxStates {
			if t, ok := exact.choice(s, off); ok {
				return t
			}
		}
		best, at := math.Inf(1), -1
		for _, t := range p.order {
			parts := p.split(s, t)
			if parts == nil {
				continue
			}
			cost, after := p.step(t, off)
			cost *= p.mass(s)
			for _, part := range parts {
				cost += p.costOf(part, after, p.greedy, base)
			}
			if cost < best-1e-12 {
				best, at = cost, t
			}
		}
		return at
	})
}

// Optimal finds an order of least expected cost by exact search with proven
// bounds. It gives up on a matrix that is too large for it, and says so.
func Optimal(ctx context.Context, m *Matrix) (*Plan, error) {
	p, wrong := newInstance(ctx, m)
	if wrong != nil {
		return nil, wrong
	}
	exact := newSearch(p)
	if _, ok := exact.cost(p.all(), 0, math.Inf(1)); !ok {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		return nil, problem.New("matrix", "sequencing.groups-faults-too-many-exact-search", "count", len(p.groups))
	}
	return p.follow(func(s set, off uint64) int {
		t, _ := exact.choice(s, off)
		return t
	})
}

// greedy is the base policy.
func (p *instance) greedy(s set, off uint64) int {
	best, at := -1.0, -1
	for _, t := range p.order {
		rate := p.gain(s, t)
		if rate < 0 {
			continue
		}
		if c, _ := p.step(t, off); c > 0 {
			rate /= c
		} else {
			rate = math.Inf(1)
		}
		if rate > best*(1+1e-12) || at < 0 {
			best, at = rate, t
		}
	}
	return at
}

// costOf is the expected cost, times the mass, of a policy on a set.
func (p *instance) costOf(s set, off uint64, choose chooser, memo map[string]float64) float64 {
	if p.done(s) || p.ctx.Err() != nil {
		return 0
	}
	key := s.key(off)
	if v, ok := memo[key]; ok {
		return v
	}
	t := choose(s, off)
	cost := 0.0
	if t >= 0 {
		var after uint64
		cost, after = p.step(t, off)
		cost *= p.mass(s)
		for _, part := range p.split(s, t) {
			cost += p.costOf(part, after, choose, memo)
		}
	}
	memo[key] = cost
	return cost
}

// follow makes the tree of a policy; it gives up when the context ends.
func (p *instance) follow(choose chooser) (*Plan, error) {
	out := &Plan{Groups: [][]string{}}
	var walk func(s set, off uint64, spent float64) *Node
	walk = func(s set, off uint64, spent float64) *Node {
		t := -1
		if !p.done(s) && p.ctx.Err() == nil {
			t = choose(s, off)
		}
		if t < 0 {
			n := &Node{Faults: p.names(s)}
			out.Leaves++
			out.Groups = append(out.Groups, n.Faults)
			out.ExpectedCost += p.mass(s) * spent
			out.WorstCaseCost = max(out.WorstCaseCost, spent)
			return n
		}
		cost, after := p.step(t, off)
		n := &Node{Test: p.m.Tests[t], Cost: cost, Outcomes: map[string]*Node{}}
		for _, part := range p.split(s, t) {
			n.Outcomes[p.m.Cells[p.groups[part[0]][0]][t]] = walk(part, after, spent+cost)
		}
		return n
	}
	out.Tree = walk(p.all(), 0, 0)
	if err := p.ctx.Err(); err != nil {
		return nil, err
	}
	return out, nil
}

func (p *instance) names(s set) []string {
	var ids []int
	for _, g := range s {
		ids = append(ids, p.groups[g]...)
	}
	slices.Sort(ids)
	out := make([]string, len(ids))
	for i, f := range ids {
		out[i] = p.m.Faults[f]
	}
	return out
}

// search is an exact memoised search, Bellman's equation over sets of groups,
// cut off by the bounds.
type search struct {
	p      *instance
	known  map[string]found
	low    map[string]float64
	states int
}

type found struct {
	cost float64
	test int
}

func newSearch(p *instance) *search {
	return &search{p: p, known: map[string]found{}, low: map[string]float64{}}
}

func (x *search) bound(s set, key string) float64 {
	if v, ok := x.low[key]; ok {
		return v
	}
	v := x.p.bound(s)
	x.low[key] = v
	return v
}

// cost is the least cost of a set, if that is below a limit; ok is false when
// it is not, or the search has grown too large.
func (x *search) cost(s set, off uint64, limit float64) (cost float64, ok bool) {
	p := x.p
	if p.done(s) {
		return 0, limit > 0
	}
	key := s.key(off)
	if f, done := x.known[key]; done {
		return f.cost, f.cost < limit
	}
	if x.bound(s, key) >= limit || x.states >= maxStates || p.ctx.Err() != nil {
		return 0, false
	}
	x.states++
	best := found{math.Inf(1), -1}
	ceiling := limit
	for _, t := range p.order {
		parts := p.split(s, t)
		if parts == nil {
			continue
		}
		sum, after := p.step(t, off)
		sum *= p.mass(s)
		rest := 0.0
		lows := make([]float64, len(parts))
		for i, part := range parts {
			if !p.done(part) {
				lows[i] = x.bound(part, part.key(after))
			}
			rest += lows[i]
		}
		whole := true
		for i, part := range parts {
			if sum+rest >= ceiling {
				whole = false
				break
			}
			rest -= lows[i]
			if p.done(part) {
				continue
			}
			c, ok := x.cost(part, after, ceiling-sum-rest)
			if !ok {
				whole = false
				break
			}
			sum += c
		}
		if whole && sum < ceiling-1e-12 {
			best, ceiling = found{sum, t}, sum
		}
	}
	if best.test < 0 {
		if math.IsInf(limit, 1) && x.states < maxStates && p.ctx.Err() == nil { // nothing parts it
			x.known[key] = found{0, -1}
			return 0, true
		}
		if x.states < maxStates && p.ctx.Err() == nil { // proven: it costs at least that
			x.low[key] = max(x.low[key], limit)
		}
		return 0, false
	}
	x.known[key] = best
	return best.cost, true
}

// choice is the best first test of a set.
func (x *search) choice(s set, off uint64) (test int, ok bool) {
	if _, ok = x.cost(s, off, math.Inf(1)); !ok {
		return -1, false
	}
	return x.known[s.key(off)].test, true
}

// Bounds are proven lower bounds on the expected cost of any order.
type Bounds struct {
	LowerBound float64 `json:"lower_bound"`
	Entropy    float64 `json:"entropy"`
	Huffman    float64 `json:"huffman"`
	SetCover   float64 `json:"set_cover"`
	Lifted     float64 `json:"lifted"`
	// Rollout is what the planned order costs, and Gap how far above the bound
	// it can be at most, in percent.
	Rollout float64 `json:"rollout"`
	Gap     float64 `json:"gap_percent"`
}

// Bound gives the bounds, and the planned order beside them. It takes its time:
// some seconds on a matrix of eighty faults and sixty tests.
func Bound(ctx context.Context, m *Matrix) (*Bounds, error) {
	plan, err := Rollout(ctx, m)
	if err != nil {
		return nil, err
	}
	return boundOn(ctx, m, plan.ExpectedCost, patientLift)
}

// BoundOn gives the bounds beside an order whose expected cost is known, for
// somebody who waits: less is lifted, and the bound is not as near.
func BoundOn(ctx context.Context, m *Matrix, cost float64) (*Bounds, error) {
	return boundOn(ctx, m, cost, quickLift)
}

func boundOn(ctx context.Context, m *Matrix, cost, work float64) (*Bounds, error) {
	p, wrong := newInstance(ctx, m)
	if wrong != nil {
		return nil, wrong
	}
	s := p.all()
	b := &Bounds{Entropy: p.entropyBound(s), Huffman: p.huffmanBound(s), SetCover: p.coverBound(s), Lifted: p.lifted(s, work), Rollout: cost}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	b.LowerBound = max(b.Entropy, b.Huffman, b.SetCover, b.Lifted)
	if b.LowerBound > 0 {
		b.Gap = math.Round(1000*(b.Rollout/b.LowerBound-1)) / 10
	}
	return b, nil
}

// FirstCosts gives, for each test, the expected cost of making it first, with some covers
// off, and going on greedily until what is to be known is known or nothing parts what is
// left: a step of rollout (Bertsekas & Castañon 1999). The error is the context's, or a
// matrix with noisy tests.
func FirstCosts(ctx context.Context, m *Matrix, off uint64) ([]float64, error) {
	p, wrong := newInstance(ctx, m)
	if wrong != nil {
		return nil, wrong
	}
	out, all, base := make([]float64, len(m.Tests)), p.all(), map[string]float64{}
	for t := range m.Tests {
		cost, after := p.step(t, off)
		parts := p.split(all, t)
		if parts == nil { // it tells nothing, and all is still to do
			parts = []set{all}
		}
		for _, part := range parts {
			cost += p.costOf(part, after, p.greedy, base)
		}
		out[t] = cost
	}
	return out, ctx.Err()
}
