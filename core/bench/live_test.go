package bench_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// In the hand too: on a crank that does not turn a gauge stays where it stands, a
// tester shows no spark, and what is written down is not judged.
func TestInstrumentsOnAStuckCrank(t *testing.T) {
	for _, hidden := range []string{"seized", "recoil-broken"} {
		for test, acts := range map[string][]string{"compression-dry": {"zero", "pull", "pull", "pull", "pull", "pull"}, "spark-gap": {"pull"}} {
			fam := catalogue.Standard().Family("f4-bowl")
			s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{{ID: hidden}},
				bench.Options{Technique: bench.AsSet, Noise: true, Seed: 3, FuelML: -1})
			require.NoError(t, err)
			s.Control(setup.Settings{"throttle": 1.0, "plug_lead": "earthed"})
			s.Fit(test)
			for _, act := range acts {
				require.Nil(t, s.Act(act, nil), "%s: %s", test, act)
			}
			o, _, ok := s.Read()
			require.True(t, ok)
			assert.Contains(t, o.Because, "crank-turns")
			assert.Nil(t, o.Band)
			assert.Less(t, *o.Value, 0.5, "%s with %s", test, hidden)
		}
	}
}

// A winding that is warm, and known to be, is judged as if it were cold; the meter
// says how warm it is.
func TestWarmWindingInTheHand(t *testing.T) {
	fam := catalogue.Standard().Family("f4-bowl")
	s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, nil,
		bench.Options{Technique: bench.AsSet, Noise: false, FuelML: -1})
	require.NoError(t, err)
	s.Control(setup.Settings{"choke": 1.0, "throttle": 0.3, "plug_lead": "on"})
	s.Test("run-long", setup.Settings{"minutes": 30.0})
	s.Fit("coil-secondary")
	for _, act := range []struct {
		id    string
		value any
	}{{"null", nil}, {"range", "20 kΩ"}, {"temperature_noted", true}, {"touch", nil}} {
		_ = s.Act(act.id, act.value)
	}
	in := s.Instrument()
	require.True(t, in.Ready)
	assert.Greater(t, in.CoilC, 40.0)
	o, _, ok := s.Read()
	require.True(t, ok)
	assert.Equal(t, "within", *o.Band, "it reads %g", *o.Value)
}
