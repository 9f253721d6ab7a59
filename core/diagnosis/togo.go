package diagnosis

import (
	"context"
	"slices"
	"sort"

	"zanjero/core/sequencing"
)

// leastToGo is the weight of a set of faults below which nobody would still look for it;
// severities are how many parts one is taken in, from slight to bad.
const (
	leastToGo  = 0.003
	severities = 3
)

// ToGo gives, for each test that is allowed, the minutes that are still to be expected
// until it is known which work to do, if that test comes next and the best for its minutes
// follow: on an engine of which some covers are off, without noise. work names the work
// that mends a set of faults; sets with the same work need not be told apart. The error is
// the context's.
func (s *Standing) ToGo(ctx context.Context, off []string, work func(faults []string) string, allowed func(test string) bool) (map[string]float64, error) {
	m := &sequencing.Matrix{Access: &sequencing.Access{Open: s.a.access.Open, Close: s.a.access.Close}}
	var asked []int
	for t := range s.a.asked {
		if q := &s.a.asked[t]; allowed(q.test.ID) {
			asked = append(asked, t)
			m.Tests, m.Costs, m.Noisy = append(m.Tests, q.test.ID), append(m.Costs, q.minutes), append(m.Noisy, false)
			m.Access.Off, m.Access.On = append(m.Access.Off, s.a.access.Off[t]), append(m.Access.On, s.a.access.On[t])
		}
	}
	for r, x := range s.rows {
		mass := 0.0
		for _, w := range s.w[r] {
			mass += w
		}
		if mass < leastToGo {
			continue
		}
		for _, part := range s.parts(r) {
			cells, weight := make([]string, len(asked)), 0.0
			for _, k := range part {
				weight += s.w[r][k]
			}
			for i, t := range asked {
				best, at := -1.0, 0
				for o := range s.a.asked[t].names {
					p := 0.0
					for _, k := range part {
						p += s.w[r][k] * float64(x.likely[t][o][k])
					}
					if p > best {
						best, at = p, o
					}
				}
				cells[i] = s.a.asked[t].names[at]
			}
			m.Faults, m.Class, m.Fail = append(m.Faults, ""), append(m.Class, work(x.faults)), append(m.Fail, nil)
			m.Priors, m.Cells = append(m.Priors, weight), append(m.Cells, cells)
		}
	}
	if len(m.Faults) == 0 {
		return map[string]float64{}, nil
	}
	bits := uint64(0)
	for c, id := range s.a.pop.job.Figures().Family(s.a.pop.family).Covers {
		if slices.Contains(off, id) {
			bits |= 1 << c
		}
	}
	costs, err := sequencing.FirstCosts(ctx, m, bits)
	out := map[string]float64{}
	for t, id := range m.Tests {
		out[id] = costs[t]
	}
	return out, err
}

// parts are the points of a row that count for something, by how bad the fault is.
func (s *Standing) parts(r int) (out [][]int) {
	var live []int
	sum := 0.0
	for k, w := range s.w[r] {
		if w > uncountedPoint {
			live = append(live, k)
			sum += w
		}
	}
	bad := func(k int) (b float64) {
		for _, x := range s.rows[r].points[k].severities {
			b += x
		}
		return b
	}
	sort.SliceStable(live, func(i, j int) bool { return bad(live[i]) < bad(live[j]) })
	held, last := 0.0, -1
	for _, k := range live {
		n := min(int(severities*(held+s.w[r][k]/2)/sum), severities-1)
		if held += s.w[r][k]; n != last {
			out, last = append(out, nil), n
		}
		out[len(out)-1] = append(out[len(out)-1], k)
	}
	return out
}

// Asks says whether a test is among those that are weighed.
func (s *Standing) Asks(test string) bool { return s.a.test(test) >= 0 }

// Tell gives the expected bits of a test.
func (s *Standing) Tell(test string) float64 {
	for _, w := range s.Rank(Weights{}, nil, func(id string) bool { return id == test }) {
		return w.Bits
	}
	return 0
}
