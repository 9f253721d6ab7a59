package authoring

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/machine"
	"zanjero/core/scenario"
)

// Before work that mends a runaway whatever it is, the look of a minute that may show less to
// be enough comes first. After the look nothing does; nor does what cannot be made; and the
// cheaper the part, the less there is to save.
func TestTestFirstSavesWork(t *testing.T) {
	sc := made(t, &scenario.Form{Machine: "f4-bowl", Faults: []machine.FaultSpec{{ID: "governor-overspeed", Severity: 0.9}}, Complaint: "races",
		Words: "It screams.", LimitMinutes: 60, LimitMoney: 40})
	a, err := Answers(t.Context(), sc)
	require.NoError(t, err)
	st, err := Begin(t.Context(), sc, a)
	require.NoError(t, err)
	ses, err := sc.Master(false, 1)
	require.NoError(t, err)
	claim := sc.Complaint().Claim
	o := ses.Test(claim.Test, claim.Setup)
	st.Take(claim.Test, &o)
	whole := sc.Figures().Repair("replace", "throttle-governor")
	require.Greater(t, st.Any(whole.Mends), 0.9)
	anything := func(string) bool { return true }

	first, saved := TestFirst(sc, st, nil, &whole, anything)
	assert.Equal(t, "look-governor", first)
	assert.Greater(t, saved, WorthSaving)
	none, nothing := TestFirst(sc, st, nil, &whole, func(string) bool { return false })
	assert.Empty(t, none)
	assert.Zero(t, nothing)
	other, less := TestFirst(sc, st, nil, &whole, func(id string) bool { return id != first })
	assert.NotEqual(t, first, other)
	assert.LessOrEqual(t, less, saved)
	last := saved
	for _, share := range []float64{0.5, 0.1, 0} {
		cheap := whole
		cheap.Cost, cheap.Minutes = share*whole.Cost, share*whole.Minutes
		_, now := TestFirst(sc, st, nil, &cheap, anything)
		assert.LessOrEqual(t, now, last, "at %g of its cost", share)
		last = now
	}
	assert.Zero(t, last, "what costs nothing is done at once")

	seen := ses.Test(first, nil)
	st.Take(first, &seen)
	after, still := TestFirst(sc, st, nil, &whole, func(id string) bool { return id != first })
	assert.Less(t, still, WorthSaving, after)

	// And so somebody competent goes about it.
	again, err := Begin(t.Context(), sc, a)
	require.NoError(t, err)
	w, err := Work(t.Context(), sc, again, false, 1)
	require.NoError(t, err)
	assert.True(t, w.Solved)
	looked := slices.IndexFunc(w.Path, func(s Step) bool { return s.Test == first })
	worked := slices.IndexFunc(w.Path, func(s Step) bool { return s.Repair != "" })
	assert.True(t, looked >= 0 && looked < worked, "%v", w.Path)
	assert.NotEqual(t, "replace", w.Path[worked].Repair)
}
