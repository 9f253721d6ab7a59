package diagnosis

import (
	"context"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/parallel"
)

// Work that may fail, done again and again, does not multiply what is believed:
// a set of n faults has at most 2ⁿ states, whatever is done and how often.
func TestRepeatedWorkStaysBounded(t *testing.T) {
	p, err := NewPopulation(t.Context(), job, [][]string{{"head-gasket-leaks", "main-jet-blocked"}})
	require.NoError(t, err)
	b := p.Start(AsIfValid)
	most := 0
	for i := range b.hyps {
		most += 1 << len(b.hyps[i].faults)
	}
	for _, again := range []ledger.Line{
		{Kind: ledger.EventRepair, Repair: "tighten", Reach: "head-joint"}, {Kind: ledger.EventRepair, Repair: "clean", Reach: "jets"},
		{Kind: ledger.EventRepair, Repair: "strip-clean", Reach: "jets"}, {Kind: ledger.EventRepair, Repair: "free", Reach: "valves"},
	} {
		before := sum(b)
		for range 18 {
			observe(t, b, again)
			require.LessOrEqual(t, len(b.hyps), most)
		}
		assert.InDelta(t, before, sum(b), 1e-9, "%s at %s", again.Repair, again.Reach)
	}
}

// sum is the prior mass of all states.
func sum(b *Belief) (mass float64) {
	for i := range b.hyps {
		mass += b.hyps[i].prior
	}
	return mass
}

// After n tries of work that takes with chance s, a fault is still there with
// (1−s)ⁿ of its weight, evidence between the tries or not.
func TestWorkThatMayFail(t *testing.T) {
	p := population(t)
	r := catalogue.Standard().Repair("clean", "jets")
	require.Less(t, r.Success, 1.0)
	line := ledger.Line{Kind: ledger.EventRepair, Repair: "clean", Reach: "jets"}
	for n := range 5 {
		b := p.Start(AsIfValid)
		for range n {
			observe(t, b, line)
		}
		left, all := 0.0, 0.0
		for i := range b.hyps {
			if h := &b.hyps[i]; len(h.faults) == 1 && h.faults[0] == "main-jet-blocked" {
				all += h.prior
				if h.mended == 0 {
					left += h.prior
				}
			}
		}
		assert.InDelta(t, math.Pow(1-r.Success, float64(n)), left/all, 1e-9, "after %d", n)
	}
}

// An evaluation whose context ends gives up with the context's error.
func TestEvaluationsEndWithTheirContext(t *testing.T) {
	ended, cancel := context.WithCancel(t.Context())
	cancel()
	_, err := NewPopulation(ended, job, nil)
	assert.ErrorIs(t, err, context.Canceled)
	b := population(t).Start(AsIfValid)
	assert.ErrorIs(t, b.Observe(ended, ledger.Line{Kind: ledger.EventWait, Minutes: 5}), context.Canceled)
	_, err = b.Rank(ended, Weights{})
	assert.ErrorIs(t, err, context.Canceled)
	_, err = PlanMatrix(ended, job, Claim{})
	assert.ErrorIs(t, err, context.Canceled)
}

// With one processor everything comes out as with all of them.
func TestFewerProcessorsChangeNothing(t *testing.T) {
	rank := func(ctx context.Context) []Worth {
		b := population(t).Start(AsIfValid)
		require.NoError(t, b.Observe(ctx, ledger.Line{Kind: ledger.EventRepair, Repair: "clean", Reach: "jets"}))
		out, err := b.Rank(ctx, Weights{}, "jet-look", "start-attempt")
		require.NoError(t, err)
		return out
	}
	assert.Equal(t, rank(t.Context()), rank(parallel.WithWorkers(t.Context(), 1)))
}
