package foresee

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/machine"
)

// The share of a reading's spread that comes of the build is what the machine
// model makes of it, to within a factor of two or half a per cent.
func TestBuildMovesReadings(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		for _, test := range catalogue.Standard().TestsOf(fam.ID, fam.Sheet) {
			if test.Kind != catalogue.KindNumber || test.ID == "leak-down" || test.ID == "kill-continuity" { // a few percent of nothing much, and of infinity
				continue
			}
			read := func(b machine.Build) float64 {
				s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, nil, bench.Options{Technique: bench.Ideal, FuelML: -1})
				require.NoError(t, err)
				m, err := machine.New(fam.ID, fam.Sheet, b, machine.Ambient{TemperatureC: 20}, nil)
				require.NoError(t, err)
				s.Restore(m)
				return Test(s, test.ID, nil, false)[0].Seen.Value
			}
			h, moved := read(machine.Build{}), 0.0
			if h == 0 {
				continue
			}
			for i := range 5 {
				var b machine.Build
				*[]*float64{&b.Leak, &b.Winding, &b.Magnet, &b.Metering, &b.Flow}[i] = machine.BuildSpread
				moved = math.Hypot(moved, (read(b)-h)/h)
			}
			assert.InDelta(t, moved, instrument.AccuracyOf(test.ID).Build, max(0.005, moved/2), "%s on %s", test.ID, fam.ID)
		}
	}
}

// What is foreseen is what then happens: the branches of a test sum to one, the
// session itself stays as it was, and its words are those that attempts with
// noise give, as often.
func TestOutlookForesees(t *testing.T) {
	for _, fault := range []machine.FaultSpec{{ID: "main-jet-blocked", Severity: 0.6}, {ID: "rings-worn", Severity: 0.62},
		{ID: "plug-fouled", Severity: 0.5}, {ID: "seized", Severity: 1}} {
		on := func(seed uint64) *bench.Session {
			s, err := bench.NewSession("f4-bowl", catalogue.Standard().Family("f4-bowl").Sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{fault},
				bench.Options{Technique: bench.Ideal, Noise: seed > 0, Seed: seed, FuelML: -1})
			require.NoError(t, err)
			return s
		}
		s := on(0)
		before := s.Machine().State()
		want, sum := map[string]float64{}, 0.0
		for _, b := range Test(s, "start-attempt", nil, false) {
			sum += b.P
			for _, w := range b.Seen.Words {
				want[w.Word] += b.P * w.P
			}
			assert.Greater(t, b.After.Minutes(), 0.0)
		}
		assert.InDelta(t, 1, sum, 1e-9)
		assert.Equal(t, before, s.Machine().State())
		assert.Zero(t, s.Minutes())
		got := map[string]float64{}
		const n = 300
		for i := range n {
			got[*on(uint64(i+1)).Test("start-attempt", nil).Word] += 1.0 / n
		}
		for w, p := range want {
			assert.InDelta(t, p, got[w], 0.2, "%s: %s of %v", fault.ID, w, got) // five draws stand for all
		}
	}
}
