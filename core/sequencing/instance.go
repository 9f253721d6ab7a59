package sequencing

import (
	"cmp"
	"context"
	"encoding/binary"
	"math"
	"slices"
	"strconv"
	"strings"
	"zanjero/core/problem"
)

// instance is a noise-free matrix with alike rows merged: groups with weights
// that sum to one, and for each test the outcome of each group as a small
// number.
type instance struct {
	// ctx is of the one call that the instance is made for.
	ctx     context.Context
	m       *Matrix
	groups  [][]int
	weight  []float64
	outcome [][]uint8 // by test and group
	byGroup [][]uint8 // the same, by group and test
	arity   []int
	class   []int // by group: what is to be known of it
	order   []int // tests, the cheaper first, then by id
}

// maxArity is the most outcomes that one test may have.
const maxArity = 255

func newInstance(ctx context.Context, m *Matrix) (*instance, *problem.Problem) {
	for t, noisy := range m.Noisy {
		if noisy {
			return nil, problem.New("column "+m.Tests[t], "sequencing.test-noisy-order-with-proven-cost-wants")
		}
	}
	groups := m.Groups()
	p := &instance{ctx: ctx, m: m, groups: groups, weight: m.weights(groups), order: m.cheaperFirst()}
	known := map[string]int{}
	for g, members := range p.groups {
		name := strconv.Itoa(g)
		if m.Class != nil {
			var names []string
			for _, i := range members {
				names = append(names, m.Class[i])
			}
			slices.Sort(names)
			name = strings.Join(slices.Compact(names), "\n")
		}
		if _, ok := known[name]; !ok {
			known[name] = len(known)
		}
		p.class = append(p.class, known[name])
	}
	for t := range m.Tests {
		ids := map[string]uint8{}
		row := make([]uint8, len(p.groups))
		for g, members := range p.groups {
			label := m.Cells[members[0]][t]
			id, ok := ids[label]
			if !ok {
				if len(ids) == maxArity {
					return nil, problem.New("column "+m.Tests[t], "sequencing.over-outcomes", "max_arity", maxArity)
				}
				id = uint8(len(ids))
				ids[label] = id
			}
			row[g] = id
		}
		p.outcome, p.arity = append(p.outcome, row), append(p.arity, len(ids))
	}
	for g := range p.groups {
		row := make([]uint8, len(m.Tests))
		for t := range m.Tests {
			row[t] = p.outcome[t][g]
		}
		p.byGroup = append(p.byGroup, row)
	}
	return p, nil
}

// cheaperFirst lists the tests, the cheaper first, then by id.
func (m *Matrix) cheaperFirst() []int {
	order := make([]int, len(m.Tests))
	for t := range order {
		order[t] = t
	}
	slices.SortFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(m.Costs[a], m.Costs[b]), cmp.Compare(m.Tests[a], m.Tests[b]))
	})
	return order
}

// weights are the priors of groups of rows, scaled to sum to one.
func (m *Matrix) weights(groups [][]int) []float64 {
	sum := 0.0
	for _, w := range m.Priors {
		sum += w
	}
	out := make([]float64, len(groups))
	for g, members := range groups {
		for _, i := range members {
			out[g] += m.Priors[i]
		}
		out[g] /= sum
	}
	return out
}

// set is the groups that are still possible, ascending.
type set []int16

func (p *instance) all() set {
	s := make(set, len(p.groups))
	for i := range s {
		s[i] = int16(i)
	}
	return s
}

func (p *instance) mass(s set) float64 {
	sum := 0.0
	for _, g := range s {
		sum += p.weight[g]
	}
	return sum
}

// done says that nothing more is to be known of a set: it is of one class.
func (p *instance) done(s set) bool {
	for _, g := range s {
		if p.class[g] != p.class[s[0]] {
			return false
		}
	}
	return true
}

// step is the cost of a test with some covers off, and what is off afterwards.
func (p *instance) step(t int, off uint64) (cost float64, after uint64) {
	if p.m.Access == nil {
		return p.m.Costs[t], 0
	}
	access, after := p.m.Access.Minutes(t, off)
	return p.m.Costs[t] + access, after
}

// key names a set and the covers that are off, so that what was worked out for
// them is found again.
func (s set) key(off uint64) string {
	b := make([]byte, 2*len(s), 2*len(s)+8)
	if off != 0 {
		b = binary.LittleEndian.AppendUint64(b, off)
	}
	for i, g := range s {
		b[2*i], b[2*i+1] = byte(g>>8), byte(g)
	}
	return string(b)
}

// split parts a set by the outcomes of a test, in the order in which they
// first occur; nil when the test does not part it.
func (p *instance) split(s set, t int) []set {
	row := p.outcome[t]
	first := row[s[0]]
	parted := false
	for _, g := range s[1:] {
		if row[g] != first {
			parted = true
			break
		}
	}
	if !parted {
		return nil
	}
	var place [maxArity + 1]int16
	var out []set
	for _, g := range s {
		o := row[g]
		if place[o] == 0 {
			out = append(out, nil)
			place[o] = int16(len(out))
		}
		out[place[o]-1] = append(out[place[o]-1], g)
	}
	return out
}

// gain is the information in bits, times the mass, that a test brings on a set;
// it is less than nothing when the test does not part it.
func (p *instance) gain(s set, t int) float64 {
	var mass [maxArity + 1]float64
	var place [maxArity + 1]bool
	var met [maxArity + 1]uint8
	row, n := p.outcome[t], 0
	for _, g := range s {
		o := row[g]
		if !place[o] {
			place[o] = true
			met[n] = o
			n++
		}
		mass[o] += p.weight[g]
	}
	if n < 2 {
		return -1
	}
	whole, bits := p.mass(s), 0.0
	for _, o := range met[:n] {
		if w := mass[o]; w > 0 {
			bits += w * math.Log2(whole/w)
		}
	}
	return bits
}
