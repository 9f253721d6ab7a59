package apprentice

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/scenario"
)

// Who knows the trade passes, who throws parts or leaves precautions out does not, and the
// same seeds work the same way.
func TestKindsGetWhatTheyEarn(t *testing.T) {
	sc := &scenario.Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20},
		Faults: []machine.FaultSpec{{ID: "coil-secondary-open", Severity: 1}}, Words: "Dead.", Claim: "no-start", LimitMinutes: 90, LimitMoney: 60}
	answers, err := authoring.Answers(t.Context(), sc)
	require.NoError(t, err)
	refer, err := authoring.Refer(t.Context(), sc, answers)
	require.NoError(t, err)
	got := map[string]*assess.Assessment{}
	for _, k := range Kinds {
		in, err := Work(t.Context(), sc, answers, k, 7, 7)
		require.NoError(t, err, k.ID)
		again, err := Work(t.Context(), sc, answers, k, 7, 7)
		require.NoError(t, err)
		assert.Equal(t, in.Events, again.Events, k.ID)
		in.Reference = refer
		a, err := assess.Assess(t.Context(), *in)
		require.NoError(t, err, k.ID)
		got[k.ID] = a
		mark, _ := a.Total()
		t.Logf("%-18s %5.1f %s %s %v", k.ID, mark, a.Outcome, a.Class, a.Against)
		for _, s := range a.Sections {
			t.Logf("    %s %.1f", s.ID, s.Mark)
		}
	}
	assert.Equal(t, assess.Competent, got["master"].Outcome)
	assert.Equal(t, assess.NotYet, got["parts-thrower"].Outcome)
	assert.Equal(t, assess.NotYet, got["unsafe-and-quick"].Outcome)
}
