package study_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"zanjero/core/study"
)

// Without jobs the rates are the catalogue's; with many they are what the jobs were; the
// limits close in, and hold what is known in closed form.
func TestRates(t *testing.T) {
	catalogue := map[string]float64{"a": 1, "b": 2, "c": 27}
	none := study.Rates(catalogue, nil)
	for id, r := range catalogue {
		assert.InDelta(t, r, none[id].Mean, 1e-9)
	}
	// A share of one in thirty has the distribution Beta(1, 29), whose quantile is known.
	assert.InDelta(t, 30*(1-math.Pow(0.975, 1.0/29)), none["a"].Low, 1e-6)
	assert.InDelta(t, 30*(1-math.Pow(0.025, 1.0/29)), none["a"].High, 1e-6)
	some := study.Rates(catalogue, map[string]int{"a": 10, "moon": 5})
	assert.InDelta(t, 30*(1+10)/40.0, some["a"].Mean, 1e-9, "ten of the forty that count")
	assert.Equal(t, 10, some["a"].Jobs)
	assert.NotContains(t, some, "moon")
	many := study.Rates(catalogue, map[string]int{"a": 10000, "b": 10000})
	assert.InDelta(t, 15, many["a"].Mean, 0.1)
	assert.InDelta(t, 0, many["c"].High, 0.2)
	for _, r := range []map[string]study.Rate{none, some, many} {
		sum := 0.0
		for _, x := range r {
			assert.True(t, 0 <= x.Low && x.Low <= x.Mean && x.Mean <= x.High && x.High <= 30.0001, "%+v", x)
			sum += x.Mean
		}
		assert.InDelta(t, 30, sum, 1e-6, "they share the same whole")
	}
}
