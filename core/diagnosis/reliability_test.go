package diagnosis

import (
	"context"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// What is believed is so about as often as it is believed: in each range of
// probability, within three standard errors and five points. docs/findings.md
// has the same over eight thousand jobs.
func TestReliability(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	var j Job
	for _, family := range []string{"t2-diaphragm", "f4-bowl"} {
		j = Job{Family: family, Sheet: catalogue.Standard().Family(family).Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
		bins, err := Reliability(context.Background(), j, 60, 3)
		require.NoError(t, err)
		given, right, all := 0.0, 0.0, 0
		for _, b := range bins {
			n := float64(b.N)
			given, right, all = given+n*b.Given, right+n*b.Right, all+b.N
			// Beliefs of one job hang together, eight in a row: count it as n/8.
			if b.N >= 80 {
				assert.InDelta(t, b.Given, b.Right, 0.05+3*math.Sqrt(b.Given*(1-b.Given)*8/n), "%s: %+v", family, b)
			}
		}
		assert.Greater(t, all, 30_000)
		assert.InDelta(t, given, right, 0.12*given, family)
	}
	again, err := Reliability(context.Background(), j, 5, 3)
	require.NoError(t, err)
	twice, err := Reliability(context.Background(), j, 5, 3)
	require.NoError(t, err)
	assert.Equal(t, again, twice)
}
