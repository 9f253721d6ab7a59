package sequencing

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
)

// Noisy is a plan on a matrix with noisy tests, by simulation: there is no
// tight bound on its cost, and none is given.
type Noisy struct {
	Plan
	// StandardError is that of ExpectedCost over Runs simulated faults.
	StandardError float64 `json:"standard_error"`
	Runs          int     `json:"runs"`
	// Accuracy is the share of runs that named the right group, GiveUpRate that
	// of those that named none.
	Accuracy   float64 `json:"accuracy"`
	GiveUpRate float64 `json:"give_up_rate"`
}

// How a noisy plan is followed and tried out.
const (
	sure       = 0.95 // a group is named from this belief on
	leastGain  = 1e-3 // bits; what tells less is not worth making
	mostRepeat = 3    // of one noisy test
	noisyRuns  = 4000
	noisySeed  = 1990
	// The rollout tries the best few tests by gain for cost, each with some
	// simulated faults, where a history is likely enough to matter.
	tryTests  = 4
	tryRuns   = 100
	tryMass   = 0.02
	treeMass  = 0.005 // the tree is written down to histories this likely
	longestIn = 60    // steps of one run
)

// noisy is a matrix with noise made ready for planning.
type noisy struct {
	m      *Matrix
	groups [][]int
	prior  []float64
	labels [][]string
	chance [][][]float64 // by test, group and outcome
	order  []int
	policy map[string]int // test chosen, or −1, by history
	roll   bool
}

// belief is what is believed of the groups after some outcomes.
type belief struct {
	p    []float64
	made []int // how often each test was made
	mass float64
	key  string
}

// PlanNoisy orders tests on a matrix that has noisy ones: the most information
// for its cost, or with rollout a few of those tried out to the end. A group is
// named once it is believed at 0.95; where no test tells any more, the run
// gives up. Cost, accuracy and give-up rate come from simulated faults with a
// fixed seed.
func PlanNoisy(ctx context.Context, m *Matrix, rollout bool) (*Noisy, error) {
	groups := m.Groups()
	x := &noisy{m: m, groups: groups, prior: m.weights(groups), order: m.cheaperFirst(), policy: map[string]int{}, roll: rollout}
	for t := range m.Tests {
		labels := m.labels(t)
		rows := make([][]float64, len(x.groups))
		for g, members := range x.groups {
			rows[g] = make([]float64, len(labels))
			for o, l := range labels {
				switch f := members[0]; {
				case !m.Noisy[t] && m.Cells[f][t] == l:
					rows[g][o] = 1
				case m.Noisy[t] && l == "fail":
					rows[g][o] = m.Fail[f][t]
				case m.Noisy[t]:
					rows[g][o] = 1 - m.Fail[f][t]
				}
			}
		}
		x.labels, x.chance = append(x.labels, labels), append(x.chance, rows)
	}
	out := &Noisy{Runs: noisyRuns}
	out.Groups = [][]string{}
	for _, g := range x.groups {
		out.Groups = append(out.Groups, x.names(g))
	}
	r := rand.New(rand.NewPCG(noisySeed, 0))
	squares, ends := 0.0, map[string]bool{}
	for range noisyRuns {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		g := x.drawn(x.prior, r)
		cost, named, key := x.run(x.start(), g, r, x.choose)
		out.ExpectedCost += cost / noisyRuns
		squares += cost * cost / noisyRuns
		out.WorstCaseCost = max(out.WorstCaseCost, cost)
		ends[key] = true
		switch named {
		case g:
			out.Accuracy += 1.0 / noisyRuns
		case -1:
			out.GiveUpRate += 1.0 / noisyRuns
		}
	}
	out.StandardError = math.Sqrt(max(squares-out.ExpectedCost*out.ExpectedCost, 0) / noisyRuns)
	out.Leaves = len(ends)
	out.Tree = x.tree(x.start(), 0)
	return out, nil
}

func (x *noisy) names(group []int) []string {
	out := make([]string, len(group))
	for i, f := range group {
		out[i] = x.m.Faults[f]
	}
	return out
}

func (x *noisy) start() belief {
	return belief{p: x.prior, made: make([]int, len(x.m.Tests)), mass: 1}
}

// see is a belief after one more outcome. Source: Bayes.
func (x *noisy) see(b belief, t, o int) belief {
	out := belief{p: make([]float64, len(b.p)), made: slices.Clone(b.made), key: b.key + strconv.Itoa(t) + "=" + strconv.Itoa(o) + ";"}
	out.made[t]++
	sum := 0.0
	for g, p := range b.p {
		out.p[g] = p * x.chance[t][g][o]
		sum += out.p[g]
	}
	for g := range out.p {
		out.p[g] /= sum
	}
	out.mass = b.mass * sum
	return out
}

// named is the group that a belief names, or −1.
func (b *belief) named() int {
	return slices.IndexFunc(b.p, func(p float64) bool { return p >= sure })
}

// gain is the information in bits that a test would bring.
func (x *noisy) gain(b *belief, t int) float64 {
	bits := 0.0
	for o := range x.labels[t] {
		total := 0.0
		for g, p := range b.p {
			total += p * x.chance[t][g][o]
		}
		for g, p := range b.p {
			if c := x.chance[t][g][o]; p > 0 && c > 0 {
				bits += p * c * math.Log2(c/total)
			}
		}
	}
	return bits
}

// worthwhile lists tests by gain for cost, the best first: ties to the cheaper,
// then by id.
func (x *noisy) worthwhile(b *belief) (out []int) {
	rate := map[int]float64{}
	for _, t := range x.order {
		most := 1
		if x.m.Noisy[t] {
			most = mostRepeat
		}
		if b.made[t] >= most {
			continue
		}
		if g := x.gain(b, t); g >= leastGain {
			out = append(out, t)
			if rate[t] = math.Inf(1); x.m.Costs[t] > 0 {
				rate[t] = g / x.m.Costs[t]
			}
		}
	}
	slices.SortStableFunc(out, func(a, b int) int {
		switch {
		case rate[a] > rate[b]*(1+1e-12):
			return -1
		case rate[b] > rate[a]*(1+1e-12):
			return 1
		}
		return 0
	})
	return out
}

func (x *noisy) greedy(b belief) int {
	if b.named() >= 0 {
		return -1
	}
	if all := x.worthwhile(&b); len(all) > 0 {
		return all[0]
	}
	return -1
}

// choose is the policy: greedy, or the cheapest of a few tests tried out with
// the same simulated faults each.
func (x *noisy) choose(b belief) int {
	if t, ok := x.policy[b.key]; ok {
		return t
	}
	t := x.greedy(b)
	if t >= 0 && x.roll && b.mass >= tryMass {
		rivals := x.worthwhile(&b) // the first is the greedy one
		base := x.tryOut(&b, t)
		least := 0.0
		for _, c := range rivals[1:min(len(rivals), tryTests)] {
			// It must be cheaper on the same faults by more than chance.
			mean, squares := 0.0, 0.0
			for i, cost := range x.tryOut(&b, c) {
				d := cost - base[i]
				mean, squares = mean+d/tryRuns, squares+d*d/tryRuns
			}
			if upper := mean + 2*math.Sqrt((squares-mean*mean)/tryRuns); upper < 0 && mean < least {
				least, t = mean, c
			}
		}
	}
	x.policy[b.key] = t
	return t
}

// tryOut makes a test and goes on greedily, with simulated faults that are the
// same for every test: what each cost.
func (x *noisy) tryOut(b *belief, t int) (costs [tryRuns]float64) {
	for i := range costs {
		r := rand.New(rand.NewPCG(noisySeed, uint64(i+1)))
		g := x.drawn(b.p, r)
		after := x.see(*b, t, x.drawn(x.chance[t][g], r))
		spent, named, _ := x.run(after, g, r, x.greedy)
		costs[i] = x.m.Costs[t] + spent
		if named != g {
			costs[i] += x.dearest() // to be wrong must not look cheap
		}
	}
	return costs
}

// dearest is all tests made once: what it may cost to begin again.
func (x *noisy) dearest() (sum float64) {
	for _, c := range x.m.Costs {
		sum += c
	}
	return sum
}

// drawn picks an index by its chance.
func (x *noisy) drawn(chances []float64, r *rand.Rand) int {
	u, last := r.Float64(), 0
	for i, c := range chances {
		if c > 0 {
			last = i
		}
		if u -= c; u < 0 {
			return i
		}
	}
	return last
}

// run follows a policy on one fault, and says what it cost, which group was
// named (−1 for none) and where it ended.
func (x *noisy) run(b belief, group int, r *rand.Rand, choose func(belief) int) (cost float64, named int, key string) {
	for range longestIn {
		t := choose(b)
		if t < 0 {
			break
		}
		cost += x.m.Costs[t]
		b = x.see(b, t, x.drawn(x.chance[t][group], r))
	}
	return cost, b.named(), b.key
}

// tree writes the policy down as far as it is likely to be followed; below
// that, the groups that are left.
func (x *noisy) tree(b belief, depth int) *Node {
	t := -1
	if b.mass >= treeMass && depth < longestIn {
		t = x.choose(b)
	}
	if t < 0 {
		n := &Node{}
		for g, p := range b.p {
			if p >= 1-sure {
				n.Faults = append(n.Faults, x.names(x.groups[g])...)
			}
		}
		return n
	}
	n := &Node{Test: x.m.Tests[t], Cost: x.m.Costs[t], Outcomes: map[string]*Node{}}
	for o, l := range x.labels[t] {
		total := 0.0
		for g, p := range b.p {
			total += p * x.chance[t][g][o]
		}
		if total > 0 {
			n.Outcomes[strings.TrimSpace(l)] = x.tree(x.see(b, t, o), depth+1)
		}
	}
	return n
}

// HasNoise says that some test of the matrix is noisy.
func (m *Matrix) HasNoise() bool { return slices.Contains(m.Noisy, true) }
