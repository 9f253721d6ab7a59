package procedure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
)

// A yard's own minutes are what its pages take, and its own base rates weigh its
// machines: a test that takes longer adds its minutes times how often it is come to, a
// plan puts it off, and a fault that comes often is what most machines have.
func TestOwnFiguresCount(t *testing.T) {
	const family, test, more = "f4-bowl", "look-fuel", 20.0
	with := func(o *catalogue.Own) (*Population, diagnosis.Job) {
		j := job(family)
		j.Catalogue = catalogue.Standard().With(o)
		pop, err := NewPopulation(t.Context(), j, noStart)
		require.NoError(t, err)
		return pop, j
	}
	usual, _ := with(nil)
	page := school(t, "look-first")
	was := evaluated(t, usual, page)
	reached := 0.0
	for i, s := range page.Steps {
		if s.Test == test {
			reached += was.Steps[i].Reached
		}
	}
	require.Greater(t, reached, 0.3)
	dear, j := with(&catalogue.Own{Tests: map[string]float64{test: catalogue.Standard().Test(test).Minutes + more}})
	is := evaluated(t, dear, page)
	assert.InDelta(t, was.Totals.ExpectedMinutes+more*reached, is.Totals.ExpectedMinutes, 0.5)
	m, err := diagnosis.PlanMatrix(t.Context(), j, noStart)
	require.NoError(t, err)
	for k, id := range m.Tests {
		if id == test {
			assert.Equal(t, catalogue.Standard().Test(test).Minutes+more, m.Costs[k])
		}
	}
	often, _ := with(&catalogue.Own{Rates: map[string]float64{"main-jet-blocked": 900}})
	share := 0.0
	for _, h := range evaluated(t, often, page).Hypotheses {
		if h.Fault == "main-jet-blocked" {
			share += h.Prior
		}
	}
	assert.Greater(t, share, 0.7)
}
