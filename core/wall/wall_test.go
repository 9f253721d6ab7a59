package wall_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/authoring"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/core/wall"
)

// A class that always makes the test that is worth most a minute comes to the path of what is
// hidden; what is worth most is told before, is never negative, and the same seed shows the
// same. A test that was made cannot be made again.
func TestAClassThatVotesWellComesToTheFault(t *testing.T) {
	sc := &scenario.Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20},
		Faults: []machine.FaultSpec{{ID: "coil-secondary-open", Severity: 1}}, Words: "Nothing.", Claim: "no-start", LimitMinutes: 60, LimitMoney: 50}
	answers, err := authoring.Answers(t.Context(), sc)
	require.NoError(t, err)
	w, err := wall.Open(t.Context(), sc, answers, 7, nil)
	require.NoError(t, err)
	assert.Empty(t, w.Board(), "the complaint alone marks nothing")
	var made []string
	for range 6 {
		best := w.Worths()
		for i, x := range best {
			assert.True(t, x.Share >= 0 && x.Share <= 1 && x.Minutes > 0, "%+v", x)
			if i > 0 {
				assert.GreaterOrEqual(t, best[i-1].Share/best[i-1].Minutes, x.Share/x.Minutes-1e-9)
			}
		}
		require.Nil(t, w.Take(best[0].Test))
		made = append(made, best[0].Test)
	}
	assert.Contains(t, []string{ledger.MarkSuspect, ledger.MarkCondemned}, w.Board()["coil"], "%v: %v", made, w.Done())
	assert.NotContains(t, w.Left(), made[0])
	again, err := wall.Open(t.Context(), sc, answers, 7, made)
	require.NoError(t, err)
	assert.Equal(t, w.Done(), again.Done())
	assert.Equal(t, w.Board(), again.Board())
	_, err = wall.Open(t.Context(), sc, answers, 7, []string{made[0], made[0]})
	var p *problem.Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, "wall.no-such-test", p.Code)
}
