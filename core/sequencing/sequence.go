package sequencing

import (
	"fmt"
	"slices"
	"strings"
	"zanjero/core/problem"
)

// Run is a fixed order of tests, made one after another.
type Run struct {
	Plan
	// IsolationRate is the prior mass that comes down to exactly one fault.
	IsolationRate float64 `json:"isolation_rate"`
	// UselessSteps part nothing on any way that reaches them, counted from 1.
	UselessSteps []int `json:"useless_steps"`
}

// Sequence makes tests in a given order. A fault stops once what is consistent
// with it lies within one group; a step that parts nothing is still paid.
func Sequence(m *Matrix, ids []string) (*Run, error) {
	var tests []int
	for i, id := range ids {
		t := m.Test(strings.TrimSpace(id))
		if t < 0 {
			return nil, problem.New(fmt.Sprintf("step %d", i+1), "sequencing.matrix-no-test", "id", id, "tests", m.Tests)
		}
		tests = append(tests, t)
	}
	group := make([]int, len(m.Faults))
	for g, members := range m.Groups() {
		for _, i := range members {
			group[i] = g
		}
	}
	out := &Run{Plan: Plan{Groups: [][]string{}}, UselessSteps: []int{}}
	useful := make([]bool, len(tests))
	total := 0.0
	for _, w := range m.Priors {
		total += w
	}
	if n := noisySteps(m, tests); n > maxNoisySteps {
		return nil, problem.New("steps", "sequencing.noisy-steps-branch-too-often-be-followed", "count", n, "most", maxNoisySteps)
	}
	var walk func(left []weighed, step int, spent float64) *Node
	walk = func(left []weighed, step int, spent float64) *Node {
		one := !slices.ContainsFunc(left, func(w weighed) bool { return group[w.fault] != group[left[0].fault] })
		if one || step == len(tests) {
			n := &Node{}
			mass := 0.0
			for _, w := range left {
				n.Faults = append(n.Faults, m.Faults[w.fault])
				mass += w.mass
			}
			out.Leaves++
			out.Groups = append(out.Groups, n.Faults)
			out.ExpectedCost += mass * spent
			out.WorstCaseCost = max(out.WorstCaseCost, spent)
			if len(left) == 1 {
				out.IsolationRate += mass
			}
			return n
		}
		t := tests[step]
		parts, labels := m.part(left, t)
		n := &Node{Test: m.Tests[t], Cost: m.Costs[t], Outcomes: map[string]*Node{}}
		if len(parts) > 1 {
			useful[step] = true
		}
		for i, part := range parts {
			n.Outcomes[labels[i]] = walk(part, step+1, spent+m.Costs[t])
		}
		return n
	}
	start := make([]weighed, len(m.Faults))
	for i, w := range m.Priors {
		start[i] = weighed{i, w / total}
	}
	out.Tree = walk(start, 0, 0)
	for i, yes := range useful {
		if !yes {
			out.UselessSteps = append(out.UselessSteps, i+1)
		}
	}
	return out, nil
}

// maxNoisySteps is how many steps may send every fault both ways.
const maxNoisySteps = 14

func noisySteps(m *Matrix, tests []int) (n int) {
	for _, t := range tests {
		if m.Noisy[t] {
			n++
		}
	}
	return n
}

// weighed is a fault with the mass that has come this way.
type weighed struct {
	fault int
	mass  float64
}

// part sends faults down the outcomes of a test; a noisy one sends a fault both
// ways, by its chance.
func (m *Matrix) part(left []weighed, t int) (parts [][]weighed, labels []string) {
	put := func(label string, w weighed) {
		i := slices.Index(labels, label)
		if i < 0 {
			i = len(labels)
			labels, parts = append(labels, label), append(parts, nil)
		}
		parts[i] = append(parts[i], w)
	}
	for _, w := range left {
		if !m.Noisy[t] {
			put(m.Cells[w.fault][t], w)
			continue
		}
		if p := m.Fail[w.fault][t]; p > 0 {
			put("fail", weighed{w.fault, w.mass * p})
		}
		if p := 1 - m.Fail[w.fault][t]; p > 0 {
			put("pass", weighed{w.fault, w.mass * p})
		}
	}
	return parts, labels
}

// Posterior is what is believed of each fault once some outcomes are seen,
// written as "t1=outcome". Zeros stay zero. Evidence that no fault could give is
// refused, and said to be so.
func Posterior(m *Matrix, seen []string) (map[string]float64, error) {
	weights := slices.Clone(m.Priors)
	for i, e := range seen {
		id, outcome, ok := strings.Cut(strings.TrimSpace(e), "=")
		t := m.Test(id)
		path := fmt.Sprintf("evidence %d", i+1)
		if !ok || t < 0 {
			return nil, problem.New(path, "sequencing.no-outcome-test-matrix", "text", e, "tests", m.Tests)
		}
		labels := m.labels(t)
		if !slices.Contains(labels, outcome) {
			return nil, problem.New(path, "sequencing.never-says", "id", id, "outcome", outcome, "labels", labels)
		}
		sum := 0.0
		for f := range weights {
			switch {
			case !m.Noisy[t] && m.Cells[f][t] != outcome:
				weights[f] = 0
			case m.Noisy[t] && outcome == "fail":
				weights[f] *= m.Fail[f][t]
			case m.Noisy[t]:
				weights[f] *= 1 - m.Fail[f][t]
			}
			sum += weights[f]
		}
		if !(sum > 0) {
			return nil, problem.New(path, "sequencing.no-fault-matrix-could-give-together-with")
		}
		for f := range weights {
			weights[f] /= sum
		}
	}
	sum := 0.0
	for _, w := range weights {
		sum += w
	}
	out := map[string]float64{}
	for f, w := range weights {
		out[m.Faults[f]] = w / sum
	}
	return out, nil
}

// labels are the outcomes that a test can have.
func (m *Matrix) labels(t int) (out []string) {
	if m.Noisy[t] {
		return []string{"fail", "pass"}
	}
	for f := range m.Faults {
		if !slices.Contains(out, m.Cells[f][t]) {
			out = append(out, m.Cells[f][t])
		}
	}
	return out
}
