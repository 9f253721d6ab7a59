package reading_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// What a set-up has in place of a condition is a set-up that can be, and misses that
// condition wherever it is asked for; a master's own misses none of them.
func TestWhatIsLeftOutIsMissed(t *testing.T) {
	tried := map[string]int{}
	for _, fam := range catalogue.Standard().Families {
		for _, test := range catalogue.Standard().TestsOf(fam.ID, fam.Sheet) {
			for _, c := range test.Conditions {
				own, known := setup.Without([]string{c})
				if !known {
					continue
				}
				s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, nil, bench.Options{Technique: bench.Ideal, FuelML: -1})
				require.NoError(t, err)
				lacks, p := setup.CheckSetup("setup", own, s.Family(), s.Machine().Sheet())
				require.Nil(t, p, c)
				if len(lacks) > 0 {
					continue // this machine has none
				}
				if c == "temperature-noted" {
					s.Test("run-long", nil) // a cold coil is at the sheet's temperature
				}
				if c == "kill-lead-off" && test.ID != "kill-continuity" {
					s.Control(setup.Settings{"switch": "stop"}) // or it does not matter
				}
				right := s.Clone().Test(test.ID, nil)
				wrong := s.Test(test.ID, own)
				assert.False(t, slices.Contains(right.Because, c), "%s: %s, %s", fam.ID, test.ID, c)
				assert.True(t, slices.Contains(wrong.Because, c), "%s: %s, %s: %v", fam.ID, test.ID, c, wrong.Because)
				tried[c]++
			}
		}
	}
	assert.Greater(t, len(tried), 40)
}
