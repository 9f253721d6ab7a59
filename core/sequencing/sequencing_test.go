package sequencing

import (
	"bytes"
	"context"
	_ "embed"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"
	"zanjero/core/problem"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func read(t testing.TB, csv string) *Matrix {
	m, err := Read(strings.NewReader(csv))
	require.NoError(t, err, csv)
	return m
}

//go:embed testdata/six-states.csv
var sixStates string

// Source: Pattipati & Alexandridis 1990, the six-state five-test example (from
// memory): the optimum is 2.18, greedy comes to 2.86 and Huffman's bound to 1.59.
func TestPublishedExample(t *testing.T) {
	m := read(t, sixStates)
	best, err := Optimal(context.Background(), m)
	require.NoError(t, err)
	assert.InDelta(t, 2.18, best.ExpectedCost, 1e-9)
	greedy, err := Greedy(context.Background(), m)
	require.NoError(t, err)
	assert.InDelta(t, 2.86, greedy.ExpectedCost, 1e-9)
	b, err := Bound(context.Background(), m)
	require.NoError(t, err)
	assert.InDelta(t, 1.59, b.Huffman, 1e-9)
	assert.LessOrEqual(t, b.LowerBound, 2.18+1e-9)
	plan, err := Rollout(context.Background(), m)
	require.NoError(t, err)
	assert.InDelta(t, 2.18, plan.ExpectedCost, 1e-9)
}

// Source: Huffman 1952, on weights 45, 13, 12, 16, 9, 5 of a hundred, as in
// textbooks: 2.24 digits. The exact planner given all 31 binary questions over
// six faults finds the same, and Shannon's entropy is no more.
func TestHuffmanIsWhatAllQuestionsReach(t *testing.T) {
	weights := []float64{45, 13, 12, 16, 9, 5}
	assert.InDelta(t, 224, Huffman(weights, 2), 1e-9)
	m := &Matrix{}
	for q := 1; q < 32; q++ {
		m.Tests, m.Costs, m.Noisy = append(m.Tests, "q"+strconv.Itoa(q)), append(m.Costs, 1), append(m.Noisy, false)
	}
	for f, w := range weights {
		row := make([]string, 31)
		for q := 1; q < 32; q++ {
			row[q-1] = strconv.Itoa(q >> f & 1)
		}
		m.Faults, m.Priors, m.Cells = append(m.Faults, "f"+strconv.Itoa(f)), append(m.Priors, w), append(m.Cells, row)
	}
	best, err := Optimal(context.Background(), m)
	require.NoError(t, err)
	assert.InDelta(t, 2.24, best.ExpectedCost, 1e-9)
	bits := 0.0
	for _, w := range weights {
		bits += w / 100 * math.Log2(100/w)
	}
	assert.Less(t, bits, best.ExpectedCost)
}

// Source: Huffman 1952, the construction with d symbols; worked by hand: four
// equal weights over three symbols need 2 + 2 + 1 + 1 digits.
func TestHuffmanOverThree(t *testing.T) {
	assert.InDelta(t, 6, Huffman([]float64{1, 1, 1, 1}, 3), 1e-9)
	assert.InDelta(t, 3, Huffman([]float64{1, 1, 1}, 3), 1e-9)
	assert.Zero(t, Huffman([]float64{1}, 2))
}

// random makes a small matrix: multi-outcome, unequal costs, alike rows, zero
// priors.
func random(r *rand.Rand) *Matrix {
	m := &Matrix{}
	faults, tests := 2+r.IntN(6), 1+r.IntN(6)
	for t := range tests {
		m.Tests, m.Costs, m.Noisy = append(m.Tests, "t"+strconv.Itoa(t)), append(m.Costs, float64(r.IntN(8))/2), append(m.Noisy, false)
	}
	for f := range faults {
		var row []string
		if f > 0 && r.IntN(6) == 0 {
			row = m.Cells[r.IntN(f)]
		} else {
			for range tests {
				row = append(row, string(rune('a'+r.IntN(1+r.IntN(3)))))
			}
		}
		p := r.Float64()
		if r.IntN(7) == 0 {
			p = 0
		}
		m.Faults, m.Priors, m.Cells = append(m.Faults, "f"+strconv.Itoa(f)), append(m.Priors, p), append(m.Cells, row)
	}
	m.Priors[0] += 0.1
	return m
}

// brute is the least expected cost by trying everything, on faults and not on
// groups, without memory or bounds.
func brute(m *Matrix, left []int) float64 {
	best := math.Inf(1)
	mass := 0.0
	for _, f := range left {
		mass += m.Priors[f]
	}
	for t := range m.Tests {
		parts := map[string][]int{}
		for _, f := range left {
			parts[m.Cells[f][t]] = append(parts[m.Cells[f][t]], f)
		}
		if len(parts) < 2 {
			continue
		}
		cost := m.Costs[t] * mass
		for _, p := range parts {
			cost += brute(m, p)
		}
		best = min(best, cost)
	}
	if math.IsInf(best, 1) {
		return 0 // nothing parts them any more
	}
	return best
}

// Against brute force on hundreds of random matrices: the exact planner finds
// the least cost; no bound lies above it, no policy below it; rollout is never
// dearer than greedy; every plan ends in the ambiguity groups.
func TestAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	for range 400 {
		m := random(r)
		all, sum := []int{}, 0.0
		for f, p := range m.Priors {
			all, sum = append(all, f), sum+p
		}
		least := brute(m, all) / sum
		best, err := Optimal(context.Background(), m)
		require.NoError(t, err)
		require.InDelta(t, least, best.ExpectedCost, 1e-9, "%+v", m)
		greedy, err := Greedy(context.Background(), m)
		require.NoError(t, err)
		plan, err := Rollout(context.Background(), m)
		require.NoError(t, err)
		b, err := Bound(context.Background(), m)
		require.NoError(t, err)
		for _, low := range []float64{b.Entropy, b.Huffman, b.SetCover, b.Lifted, b.LowerBound} {
			require.LessOrEqual(t, low, least+1e-9, "%+v: %+v", b, m)
		}
		require.LessOrEqual(t, least, greedy.ExpectedCost+1e-9)
		require.LessOrEqual(t, plan.ExpectedCost, greedy.ExpectedCost+1e-9)
		for _, p := range []*Plan{best, greedy, plan} {
			require.Len(t, p.Groups, len(m.Groups()))
			require.Equal(t, p.Leaves, len(p.Groups))
			require.GreaterOrEqual(t, p.WorstCaseCost, p.ExpectedCost-1e-9)
		}
		again, err := Rollout(context.Background(), m)
		require.NoError(t, err)
		require.Equal(t, plan, again)
	}
}

// The rollout without its exact end stays between the best and the greedy one.
func TestRolloutOnLargerMatrices(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 3 {
		m := &Matrix{}
		for i := range 14 {
			m.Tests, m.Costs, m.Noisy = append(m.Tests, "t"+strconv.Itoa(i)), append(m.Costs, 1+r.Float64()*9), append(m.Noisy, false)
		}
		for f := range 60 {
			row := make([]string, 14)
			for i := range row {
				row[i] = strconv.Itoa(r.IntN(3))
			}
			m.Faults, m.Priors, m.Cells = append(m.Faults, "f"+strconv.Itoa(f)), append(m.Priors, r.ExpFloat64()), append(m.Cells, row)
		}
		greedy, err := Greedy(context.Background(), m)
		require.NoError(t, err)
		b, err := Bound(context.Background(), m)
		require.NoError(t, err)
		assert.LessOrEqual(t, b.Rollout, greedy.ExpectedCost+1e-9)
		assert.LessOrEqual(t, b.LowerBound, b.Rollout+1e-9)
		assert.Greater(t, b.LowerBound, 0.3*b.Rollout)
	}
}

// With classes to be known and covers that stay off, the exact order costs what
// trying everything says, no policy less, and the bound is not above it.
func TestClassesAndAccessAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	for range 150 {
		m := random(r)
		m.Class = make([]string, len(m.Faults))
		for i := range m.Class {
			m.Class[i] = string(rune('a' + r.IntN(3)))
		}
		m.Access = &Access{Open: []float64{float64(r.IntN(4)), 2}, Close: []float64{1, float64(r.IntN(3))}}
		for range m.Tests {
			off := uint64(r.IntN(4))
			m.Access.Off, m.Access.On = append(m.Access.Off, off), append(m.Access.On, uint64(r.IntN(4))&^off)
		}
		p, wrong := newInstance(context.Background(), m)
		require.Nil(t, wrong)
		var try func(s set, off uint64) float64
		try = func(s set, off uint64) float64 {
			if p.done(s) {
				return 0
			}
			best := math.Inf(1)
			for _, test := range p.order {
				parts := p.split(s, test)
				if parts == nil {
					continue
				}
				access, after := m.Access.Minutes(test, off)
				cost := (m.Costs[test] + access) * p.mass(s)
				for _, part := range parts {
					cost += try(part, after)
				}
				best = min(best, cost)
			}
			if math.IsInf(best, 1) {
				return 0 // nothing parts it
			}
			return best
		}
		least := try(p.all(), 0)
		best, err := Optimal(context.Background(), m)
		require.NoError(t, err)
		require.InDelta(t, least, best.ExpectedCost, 1e-9)
		greedy, err := Greedy(context.Background(), m)
		require.NoError(t, err)
		plan, err := Rollout(context.Background(), m)
		require.NoError(t, err)
		require.LessOrEqual(t, plan.ExpectedCost, greedy.ExpectedCost+1e-9)
		require.GreaterOrEqual(t, plan.ExpectedCost, least-1e-9)
		b, err := BoundOn(context.Background(), m, plan.ExpectedCost)
		require.NoError(t, err)
		require.LessOrEqual(t, b.LowerBound, least+1e-9, "%+v", b)
	}
}

// With noise: a sure matrix costs what the exact reckoning says; one noisy test
// of known error rates is right as often as Bayes' rule says; nothing that tells
// nothing is made, and what cannot be told is given up.
func TestNoisyPlans(t *testing.T) {
	example := read(t, sixStates)
	exact, err := Greedy(context.Background(), example)
	require.NoError(t, err)
	sure, err := PlanNoisy(context.Background(), example, false)
	require.NoError(t, err)
	assert.Less(t, sure.ExpectedCost, exact.ExpectedCost, "a group is named at 0.95: the rest is spared")
	assert.GreaterOrEqual(t, sure.Accuracy, 0.94)

	// Two faults, one test that errs one time in ten, made at most three times:
	// two alike settle it (81 : 1), else the third does not reach 0.95 (9 : 1).
	coin := read(t, "fault,prior,t\ncost,,2\na,1,0.9\nb,1,0.1\n")
	plan, err := PlanNoisy(context.Background(), coin, false)
	require.NoError(t, err)
	assert.InDelta(t, 2*(2+0.18), plan.ExpectedCost, 4*plan.StandardError)
	assert.InDelta(t, 0.81, plan.Accuracy, 0.025)
	assert.InDelta(t, 0.18, plan.GiveUpRate, 0.025)
	assert.Equal(t, "t", plan.Tree.Test)
	again, err := PlanNoisy(context.Background(), coin, false)
	require.NoError(t, err)
	assert.Equal(t, plan, again)

	alike := read(t, "fault,prior,t\ncost,,1\na,1,0.5\nb,1,0.5\n")
	plan, err = PlanNoisy(context.Background(), alike, true)
	require.NoError(t, err)
	assert.Zero(t, plan.ExpectedCost, "rows alike are one group, known from the start")

	r := rand.New(rand.NewPCG(4, 2))
	for range 4 {
		m := &Matrix{}
		for i := range 6 {
			m.Tests, m.Costs, m.Noisy = append(m.Tests, "t"+strconv.Itoa(i)), append(m.Costs, 1+4*r.Float64()), append(m.Noisy, true)
		}
		for f := range 8 {
			row, cells := make([]float64, 6), make([]string, 6)
			for i := range row {
				row[i] = 0.04 + 0.92*float64(r.IntN(2))
				cells[i] = strconv.FormatFloat(row[i], 'g', -1, 64)
			}
			m.Faults, m.Priors, m.Fail, m.Cells = append(m.Faults, "f"+strconv.Itoa(f)), append(m.Priors, 1), append(m.Fail, row), append(m.Cells, cells)
		}
		base, err := PlanNoisy(context.Background(), m, false)
		require.NoError(t, err)
		roll, err := PlanNoisy(context.Background(), m, true)
		require.NoError(t, err)
		assert.Greater(t, roll.Accuracy, 0.85)
		again := 0.0 // what it costs to begin anew, for those that were not named right
		for _, c := range m.Costs {
			again += c
		}
		assert.Less(t, roll.ExpectedCost+(1-roll.Accuracy)*again, 1.05*(base.ExpectedCost+(1-base.Accuracy)*again))
		assert.InDelta(t, 1, roll.Accuracy+roll.GiveUpRate, 0.08, "the rest named wrongly")
	}
}

// Ids of tests do not matter to the cost of the best order.
func TestNamesDoNotMatter(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 2))
	for range 60 {
		m := random(r)
		a, err := Optimal(context.Background(), m)
		require.NoError(t, err)
		for i := range m.Tests {
			m.Tests[i] = "z" + strconv.Itoa(len(m.Tests)-i)
		}
		b, err := Optimal(context.Background(), m)
		require.NoError(t, err)
		require.InDelta(t, a.ExpectedCost, b.ExpectedCost, 1e-9)
	}
}

func TestSequence(t *testing.T) {
	m := read(t, "fault,prior,t1,t2,t3\ncost,,1,2,4\na,0.5,0,0,x\nb,0.25,1,0,x\nc,0.15,1,1,x\nd,0.10,1,1,x\n")
	run, err := Sequence(m, []string{"t3", "t1", "t2"})
	require.NoError(t, err)
	// t3 parts nothing and is paid by all; a stops after t1; the rest pay t2 too.
	assert.InDelta(t, 4+1+0.5*2, run.ExpectedCost, 1e-9)
	assert.Equal(t, []int{1}, run.UselessSteps)
	assert.InDelta(t, 0.75, run.IsolationRate, 1e-9, "c and d are alike")
	assert.InDelta(t, 7, run.WorstCaseCost, 1e-9)
	assert.Contains(t, run.Groups, []string{"c", "d"})
	_, err = Sequence(m, []string{"t9"})
	var p *problem.Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, "step 1", p.Path)
	// A noisy step sends a fault both ways; the expected cost counts both.
	noisy := read(t, "fault,prior,t1,t2\ncost,,1,1\na,1,0.9,0\nb,1,0.2,1\n")
	run, err = Sequence(noisy, []string{"t1", "t2"})
	require.NoError(t, err)
	assert.InDelta(t, 2, run.ExpectedCost, 1e-9)
	assert.InDelta(t, 1, run.IsolationRate, 1e-9)
}

// Source: Bayes. Eddy 1982: 1 % prior, 80 % hits, 9.6 % false alarms give 7.8 %.
func TestPosterior(t *testing.T) {
	eddy := read(t, "fault,prior,mammogram\ncost,,1\ncancer,0.01,0.80\nnone,0.99,0.096\n")
	p, err := Posterior(eddy, []string{"mammogram=fail"})
	require.NoError(t, err)
	assert.InDelta(t, 0.078, p["cancer"], 0.0005)
	// Independent evidence commutes, and beliefs sum to one.
	r := rand.New(rand.NewPCG(5, 5))
	for range 200 {
		m := random(r)
		a, b := m.Tests[r.IntN(len(m.Tests))], m.Tests[r.IntN(len(m.Tests))]
		f := r.IntN(len(m.Faults))
		if m.Priors[f] == 0 {
			continue
		}
		ea, eb := a+"="+m.Cells[f][m.Test(a)], b+"="+m.Cells[f][m.Test(b)]
		x, err := Posterior(m, []string{ea, eb})
		require.NoError(t, err)
		y, err := Posterior(m, []string{eb, ea})
		require.NoError(t, err)
		sum := 0.0
		for id, v := range x {
			require.InDelta(t, v, y[id], 1e-12)
			sum += v
		}
		require.InDelta(t, 1, sum, 1e-9)
		require.Greater(t, x[m.Faults[f]], 0.0)
	}
	// What no fault could give is said, not divided by.
	_, err = Posterior(read(t, "fault,prior,t1,t2\ncost,,1,1\na,1,0,0\nb,1,1,1\n"), []string{"t1=0", "t2=1"})
	var wrong *problem.Problem
	require.ErrorAs(t, err, &wrong)
	assert.Contains(t, wrong.Code, "no-fault")
}

func TestBadMatrices(t *testing.T) {
	for in, path := range map[string]string{
		"": "line 1", "fault,prior,t1\ncost,,1\n": "line 3", "x,y,z\ncost,,1\na,1,1\n": "line 1", "fault,prior,t1\ncost,,1\na,1\n": "line 3",
		"fault,prior,t1\ncost,,-1\na,1,0\n": "line 2, column t1", "fault,prior,t1\ncost,,1\na,0,0\n": "column prior",
		"fault,prior,t1\ncost,,1\na,-1,0\n":       "line 3, column prior",
		"fault,prior,t1,t1\ncost,,1,1\na,1,0,0\n": "line 1, column 4", "fault,prior,t1\ncost,,1\na,1,0\na,1,1\n": "line 4, column fault",
		"fault,prior,t1\ncost,,1\na,1,0.5\nb,1,maybe\n":         "line 4, column t1",
		"fault,prior,t1\nprice,,1\na,1,0\n":                     "line 2",
		"fault,prior,t1\ncost,,1\na,1,\n":                       "line 3, column t1",
		"fault,prior,t1\ncost,,1\n\"a,1,0\n":                    "line 3",
		"fault,prior" + strings.Repeat(",t", MaxTests+1) + "\n": "line 1",
	} {
		_, err := Read(strings.NewReader(in))
		var p *problem.Problem
		if assert.ErrorAs(t, err, &p, in) {
			assert.Equal(t, path, p.Path, in)
			assert.NotEmpty(t, p.Code)
		}
	}
	_, err := Optimal(context.Background(), read(t, "fault,prior,t1\ncost,,1\na,1,0.5\nb,1,0.1\n"))
	var p *problem.Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, "column t1", p.Path)
}

func TestWriteIsReadBack(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 50 {
		m := random(r)
		var b bytes.Buffer
		require.NoError(t, m.Write(&b))
		back := read(t, b.String())
		assert.Equal(t, m.Cells, back.Cells)
		assert.InDeltaSlice(t, m.Priors, back.Priors, 1e-12)
		assert.Equal(t, m.Costs, back.Costs)
	}
}

func FuzzRead(f *testing.F) {
	f.Add("fault,prior,t1,t2\ncost,,1,2\na,0.5,0,0.3\nb,0.5,1,0.9\n")
	f.Add("fault,prior,t1\ncost,,1e9\n\"x\",1,y\nz,0,w\n")
	f.Fuzz(func(t *testing.T, in string) {
		m, err := Read(strings.NewReader(in))
		if err != nil {
			return
		}
		if len(m.Faults) > 8 || len(m.Tests) > 6 {
			return
		}
		plan, err := Rollout(context.Background(), m)
		if err != nil {
			return
		}
		require.False(t, math.IsNaN(plan.ExpectedCost) || plan.ExpectedCost < 0)
		var b bytes.Buffer
		require.NoError(t, m.Write(&b))
		_, err = Read(&b)
		require.NoError(t, err)
	})
}
