package diagnosis

import (
	"context"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/ledger"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/sim"
)

// The worth of a test is the entropy it is expected to take away: outcomes sum
// to one, what they leave is what is not taken, nothing is below nought, and a
// test that cannot tell anything is worth nothing.
func TestWorthIsWhatIsTakenAway(t *testing.T) {
	p := population(t)
	l := ledgerOf(t, 4, machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.5})
	ledgertest.Work(t, l, "start-attempt")
	b := p.Start(AsIfValid)
	for _, st := range l.Lines() {
		observe(t, b, st)
	}
	told := outcomesOf(t, b)
	bits := 0.0
	for _, q := range told.prior {
		bits -= q * math.Log2(q)
	}
	rank := ranked(t, b, Weights{})
	require.Len(t, rank, len(told.tests))
	worth := map[string]Worth{}
	for i, w := range rank {
		worth[w.Test] = w
		sum, left := 0.0, 0.0
		for _, o := range w.Outcomes {
			sum += o.P
			left += o.P * o.Leaves
		}
		assert.InDelta(t, 1, sum, 1e-6, w.Test)
		assert.InDelta(t, bits-w.Bits, left, 1e-6, w.Test)
		assert.GreaterOrEqual(t, w.Bits, 0.0)
		assert.LessOrEqual(t, w.Bits, bits+1e-9)
		if i > 0 {
			assert.LessOrEqual(t, w.BitsPerMinute, rank[i-1].BitsPerMinute)
		}
	}
	assert.Less(t, worth["look-plate"].Bits, 0.01)
	assert.Less(t, worth["magnet-pull"].Bits, 0.05, "it runs on choke: the magnet is good")
	assert.Greater(t, worth["jet-look"].Bits, 5*worth["magnet-pull"].Bits)
	assert.Equal(t, rank, ranked(t, b, Weights{}), "the same each time")
	some := ranked(t, b, Weights{}, rank[3].Test, rank[1].Test)
	assert.Equal(t, []Worth{rank[1], rank[3]}, some, "some of them, as among all")
	// What stays open costs nothing to open again.
	before := worth["jet-look"].Minutes
	observe(t, b, ledger.Line{Kind: ledger.EventCover, Cover: "bowlopen", Off: true})
	for _, w := range ranked(t, b, Weights{}) {
		if w.Test == "jet-look" {
			assert.Less(t, w.Minutes, before)
		}
	}
}

func believed(t *testing.T, in string) *Believed {
	seen, err := sim.ReadSeen(strings.NewReader(in))
	require.NoError(t, err)
	out, err := Believe(context.Background(), seen, Weights{})
	require.NoError(t, err)
	return out
}

// A ledger from outside: what is seen finds the fault; what nothing explains is
// said; what no test parts is grouped.
func TestBelieve(t *testing.T) {
	out := believed(t, `{"machine":"f4-bowl","events":[{"test":"start-attempt","observed":"no-fire"},{"test":"look-switches","observed":"run"},
		{"test":"spark-gap","observed":0},{"test":"spark-kill-off","observed":"0 mm"},{"test":"coil-secondary","observed":"OL"}]}`)
	assert.Greater(t, out.Posterior["coil-secondary-open"], 0.9)
	assert.Greater(t, out.Lateral["spark"], 0.9)
	assert.Empty(t, out.Warnings)
	assert.NotEmpty(t, out.NextBest)
	assert.Less(t, out.Entropy, 1.5)

	assert.Contains(t, out.Explanations, []string{"coil-secondary-open"})

	// A jet and a wire at once: neither explains both signs.
	two := believed(t, `{"machine":"f4-bowl","events":[{"test":"spark-gap","observed":0},{"test":"jet-look","observed":"none"}]}`)
	for _, e := range two.Explanations {
		assert.Len(t, e, 2)
	}
	assert.Contains(t, two.Explanations, []string{"kill-wire-earthed", "main-jet-blocked"})

	odd := believed(t, `{"machine":"f4-bowl","events":[{"test":"compression-dry","observed":155}]}`)
	require.Len(t, odd.Warnings, 1)
	assert.Equal(t, "events[0]", odd.Warnings[0].Path)

	// Repairs and waits pass through, and evidence before them still counts.
	mended := believed(t, `{"machine":"f4-bowl","events":[{"test":"start-attempt","observed":"runs-only-on-choke"},{"test":"jet-look","observed":"part"},
		{"repair":"strip-clean","reach":"jets"},{"cover":"bowlopen","off":false},{"wait_min":2},{"test":"start-attempt","observed":"runs-well"}]}`)
	assert.Greater(t, mended.Posterior["main-jet-blocked"], 0.9)
}

func TestBadLedgers(t *testing.T) {
	for in, path := range map[string]string{
		`{"machine":"f4-bowl","faults":[{"id":"rings-worn"}]}`:                                       "faults",
		`{"machine":"f4-bowl","events":[{"test":"start-attempt","observed":"sulks"}]}`:               "events[0].observed",
		`{"machine":"f4-bowl","events":[{"wait_min":3,"observed":1}]}`:                               "events[0].observed",
		`{"machine":"f4-bowl","events":[{"test":"spark-gap","observed":"12 psi"}]}`:                  "events[0].observed",
		`{"machine":"f4-bowl","events":[{"test":"spark-gap","observed":true}]}`:                      "events[0].observed",
		`{"machine":"f4-bowl","events":[{"test":"start-attempt"},{"test":"pop-quiz","observed":1}]}`: "events[1].test",
		`{"machine":"f5","events":[]}`:                                                               "machine",
		`{"machine":"f4-bowl","events":7}`:                                                           "events", `[]`: "",
	} {
		_, err := sim.ReadSeen(strings.NewReader(in))
		var p *problem.Problem
		if assert.ErrorAs(t, err, &p, in) {
			assert.Equal(t, path, p.Path, in)
		}
	}
}

func TestDivergence(t *testing.T) {
	assert.Zero(t, divergence([]float64{0.5, 0.5}, []float64{0.5, 0.5}))
	assert.InDelta(t, 1, divergence([]float64{1, 0}, []float64{0, 1}), 1e-12, "Lin 1991: at most one bit")
}

func FuzzReadSeen(f *testing.F) {
	f.Add(`{"machine":"f4-bowl","events":[{"test":"spark-gap","observed":12.5},{"control":{"cap":"loose"}},{"repair":"drill-jet"}]}`)
	f.Add(`{"machine":"t2-diaphragm","events":[{"test":"needle-test","setup":{"wetted":true},"observed":"OL"},{"wait_min":1},{"cover":"carboff","off":false}]}`)
	f.Fuzz(func(t *testing.T, in string) {
		_, err := sim.ReadSeen(strings.NewReader(in))
		if err != nil {
			var p *problem.Problem
			require.ErrorAs(t, err, &p)
		}
	})
}

// Money and hazards weigh as the instructor sets them: a head that costs a
// gasket and a run that brings hazards fall behind, and nothing rises for it.
func TestWeightsCount(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	pop, err := NewPopulation(context.Background(), job, nil)
	require.NoError(t, err)
	b := pop.Start(AsIfValid)
	of := func(by Weights, id string) Worth {
		for _, w := range ranked(t, b, by) {
			if w.Test == id {
				return w
			}
		}
		t.Fatal(id)
		return Worth{}
	}
	plain, dear := of(Weights{}, "head-look"), of(Weights{MinutesPerMoney: 4}, "head-look")
	assert.Greater(t, plain.Money, 0.0)
	assert.InDelta(t, plain.Bits/(plain.Minutes+4*plain.Money), dear.BitsPerMinute, 1e-9)
	start := of(Weights{MinutesPerHazard: 2}, "start-attempt")
	assert.InDelta(t, start.Bits/(start.Minutes+2*float64(start.Hazards)), start.BitsPerMinute, 1e-9)
	assert.Positive(t, start.Hazards)
	free := of(Weights{MinutesPerHazard: 2, MinutesPerMoney: 4}, "look-switches")
	assert.InDelta(t, free.Bits/free.Minutes, free.BitsPerMinute, 1e-9)
}

func ranked(t testing.TB, b *Belief, by Weights, only ...string) []Worth {
	rank, err := b.Rank(t.Context(), by, only...)
	require.NoError(t, err)
	return rank
}

func observe(t testing.TB, b *Belief, line ledger.Line) {
	require.NoError(t, b.Observe(t.Context(), line))
}

func outcomesOf(t testing.TB, b *Belief) *outcomeTable {
	told, err := b.outcomes(t.Context())
	require.NoError(t, err)
	return told
}
