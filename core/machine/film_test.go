package machine

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
)

func film(t *testing.T, family string, faults ...FaultSpec) []Frame {
	m, err := New(family, catalogue.Standard().Family(family).Sheet, Build{}, day, faults)
	require.NoError(t, err)
	c := m.s.Controls
	c.BarHeld = true
	m.SetControls(c)
	if m.Primes() {
		m.Prime(3)
	}
	return m.Film(Attempt{Choke: 1, Throttle: 0.3, Pulls: 10}, Draws{}, 12, LoadTest)
}

// A film shows what the model does: a blocked vent draws the tank down until
// the bowl empties and the engine stops; a torn pump does not push; worn rings
// let charge by. On a sound engine nothing of it happens.
func TestFilmShowsTheFault(t *testing.T) {
	sound := film(t, "f4-bowl")
	last := sound[len(sound)-1]
	assert.Greater(t, last.RPM, 3000.0)
	assert.Greater(t, last.BowlShare, 0.9)
	assert.Less(t, last.TankVacuumKPa, 0.1)
	assert.InDelta(t, 12, last.Minute, 0.7)

	vent := film(t, "f4-bowl", FaultSpec{ID: "cap-vent-blocked", Severity: 1})
	end := vent[len(vent)-1]
	assert.Zero(t, end.RPM)
	most, ran := 0.0, 0.0
	for i, f := range vent {
		most = max(most, f.TankVacuumKPa)
		if f.RPM > 0 {
			ran = f.Minute
		}
		if i > 0 {
			assert.Greater(t, f.Minute, vent[i-1].Minute-1e-9)
		}
	}
	assert.Greater(t, most, 0.5)
	assert.InDelta(t, ran+filmAfter, end.Minute, 0.2)

	top := func(fs []Frame, of func(Frame) float64) (out float64) {
		for _, f := range fs {
			out = max(out, of(f))
		}
		return out
	}
	leak := func(f Frame) float64 { return f.LeakShare }
	assert.Greater(t, top(film(t, "f4-bowl", FaultSpec{ID: "rings-worn", Severity: 0.4}), leak), 1.2*top(sound, leak))
	pump := func(f Frame) float64 { return f.PumpKPa }
	assert.Less(t, top(film(t, "t2-diaphragm", FaultSpec{ID: "pump-diaphragm", Severity: 0.7}), pump), 0.7*top(film(t, "t2-diaphragm"), pump))
}

// Every fault of every family can be filmed, in finite figures.
func TestEveryFaultCanBeFilmed(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		for _, f := range catalogue.Standard().FaultsOf(fam.ID, fam.Sheet) {
			for _, fr := range film(t, fam.ID, FaultSpec{ID: f.ID, Severity: 1}) {
				for _, v := range []float64{fr.Minute, fr.RPM, fr.TankVacuumKPa, fr.FuelShare, fr.BowlShare, fr.FlowMLMin, fr.UseMLMin, fr.ManifoldKPa, fr.Charge,
					fr.FalseAir, fr.Lambda, fr.SparkKV, fr.LeakShare, fr.PumpKPa} {
					require.False(t, math.IsNaN(v) || math.IsInf(v, 0) || v < -1e-9, "%s on %s: %+v", f.ID, fam.ID, fr)
				}
			}
		}
	}
}
