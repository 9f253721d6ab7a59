package procedure

import (
	"context"
	"encoding/json"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/diagnosis"
	"zanjero/core/machine"
)

func planned(t *testing.T, family, complaint string, spec PageSpec) (*Procedure, *Evaluation, *Population) {
	pop := population(t, family, diagnosis.ComplaintBy(complaint).Claim)
	spec.Complaint = complaint
	p, e, err := pop.PlanPage(context.Background(), spec)
	require.NoError(t, err)
	assert.False(t, slices.ContainsFunc(p.Check(family, pop.sheet), func(f Remark) bool { return f.Serious }))
	return p, e, pop
}

// A planned page of at most fourteen steps takes at most three quarters of the minutes
// of the cheapest school, is wrong no more often than the best of them, and right no
// less; and what is said of it is what anybody's evaluation of it comes to.
func TestPlannedPageBeatsTheSchools(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	p, e, pop := planned(t, "f4-bowl", "no-start", PageSpec{Steps: MaxPageSteps})
	assert.LessOrEqual(t, len(p.Steps), MaxPageSteps)
	for _, s := range Schools().Expand() {
		if s.Complaint != "no-start" || !slices.Contains(s.Families, "f4-bowl") {
			continue
		}
		school := evaluated(t, pop, &s)
		assert.Less(t, e.Totals.ExpectedMinutes, 0.75*school.Totals.ExpectedMinutes, s.ID)
		assert.LessOrEqual(t, e.wrong(), school.wrong(), s.ID)
		assert.GreaterOrEqual(t, e.isolated(), school.isolated(), s.ID)
		assert.GreaterOrEqual(t, e.Totals.Levels[AtPart], school.Totals.Levels[AtPart], s.ID)
	}
	// What is said of it is what comes of following it.
	for _, f := range []machine.FaultSpec{{}, {ID: "main-jet-blocked", Severity: 0.9}, {ID: "plug-fouled", Severity: 0.9}, {ID: "rings-worn", Severity: 0.9}} {
		againstMonteCarlo(t, p, "f4-bowl", f)
	}
	// Whoever keeps the whole belief is wrong the less often the surer they want to be,
	// and takes the longer for it; a page as seldom wrong takes no third more.
	before := Limit{Wrong: 1}
	for _, surely := range []float64{0.7, 0.9, 0.98} {
		l, err := pop.ByBelief(t.Context(), surely, 1000, 5)
		require.NoError(t, err)
		assert.InDelta(t, 1, l.Right+l.Wrong+l.Open, 1e-9)
		assert.Less(t, l.Wrong, before.Wrong)
		assert.GreaterOrEqual(t, l.Minutes, before.Minutes)
		if before.Wrong > e.wrong() && l.Wrong <= e.wrong() {
			assert.Less(t, e.Totals.ExpectedMinutes, 1.3*l.Minutes)
		}
		before = l
	}
	assert.Less(t, before.Wrong, e.wrong(), "it has been as seldom wrong as the page")
	// Through a pack and on a population of its own, the figures stay.
	raw, err := json.Marshal(p)
	require.NoError(t, err)
	var back Procedure
	require.NoError(t, json.Unmarshal(raw, &back))
	assert.Equal(t, e.Totals, evaluated(t, population(t, "f4-bowl", noStart), &back).Totals)
}

// Few steps are kept to, a school's first moves stay first, the same seed gives the same
// page, more steps are never worth less, and nobody has to wait for the end.
func TestPlannedPageAsAsked(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	p, short, _ := planned(t, "f4-bowl", "no-start", PageSpec{Steps: 4, Seed: 3, WrongCosts: usualWrong})
	assert.LessOrEqual(t, len(p.Steps), 4)
	again, _, _ := planned(t, "f4-bowl", "no-start", PageSpec{Steps: 4, Seed: 3, WrongCosts: usualWrong})
	assert.Equal(t, p, again)
	s := &search{wrong: usualWrong, open: usualOpen}
	_, longer, _ := planned(t, "f4-bowl", "no-start", PageSpec{Steps: 6, WrongCosts: usualWrong})
	assert.Less(t, s.worth(longer), s.worth(short))
	moves := school(t, "dose-first").Steps[:FirstMoves]
	dosed, _, pop := planned(t, "f4-bowl", "no-start", PageSpec{Steps: 5, School: "dose-first"})
	for i := range moves {
		assert.Equal(t, moves[i].Test, dosed.Steps[i].Test)
	}
	ctx, stop := context.WithCancel(context.Background())
	said := 0
	_, _, err := pop.PlanPage(ctx, PageSpec{Steps: 12, Complaint: "no-start", Progress: func(done float64) {
		assert.True(t, done > 0 && done <= 1)
		if said++; said == 2 {
			stop()
		}
	}})
	require.ErrorIs(t, err, context.Canceled)
	assert.Equal(t, 2, said)
}
