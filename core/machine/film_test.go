package machine

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
)

func film(t *testing.T, family string, faults ...FaultSpec) []Frame {
	return filmed(t, family, faults...).Frames
}

func filmed(t *testing.T, family string, faults ...FaultSpec) Film {
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

// last is the last cycle of a film.
func last(f Film) (t Turn) {
	for _, x := range f.Frames {
		if x.Turn >= 0 {
			t = f.Turns[x.Turn]
		}
	}
	return t
}

// most is the highest of some values, and at which degree it is.
func most(xs []float64) (high float64, at int) {
	for i, x := range xs {
		if x > high {
			high, at = x, i*TurnStep
		}
	}
	return high, at
}

// A cycle is as a textbook has it: a charge that does not burn stands highest at the top, by
// the polytropic rise and what leaks; one that burns stands highest ten to twenty degrees
// after it (common practice for the best timing), two to five megapascal; the exhaust opens
// before the bottom and the inlet before the top; ports open and shut alike from the top.
func TestACycleIsAsATextbookHasIt(t *testing.T) {
	for _, family := range catalogue.Standard().Families {
		f := filmed(t, family.ID)
		x, cranked := last(f), f.Turns[f.Frames[1].Turn]
		high, at := most(x.Misses)
		assert.InDelta(t, f.Top, at, TurnStep, family.ID)
		m, err := New(family.ID, family.Sheet, Build{}, day, nil)
		require.NoError(t, err)
		filled := x.Misses[int(f.Top-m.closes())/TurnStep]
		assert.InEpsilon(t, filled*m.d.compressionRise, high, 0.15, family.ID)
		high, at = most(x.Fires)
		assert.InDelta(t, f.Top+20, at, TurnStep, family.ID)
		assert.Greater(t, high, 1800.0, family.ID)
		assert.Less(t, high, 5000.0, family.ID)
		assert.Less(t, x.SparkAt, f.Top)
		assert.NotContains(t, x.Beats, "0", family.ID)
		assert.NotContains(t, cranked.Beats, "1", family.ID)
		n := len(x.Exhaust)
		require.Equal(t, int(f.Degrees)/TurnStep, n)
		if family.ID == "t2-diaphragm" {
			for i := 1; i < n; i++ {
				assert.Equal(t, x.Exhaust[i], x.Exhaust[n-i], "ports open as they shut")
			}
			continue
		}
		assert.InEpsilon(t, fullLiftMM, maxOf(x.Inlet), 0.05)
		assert.Zero(t, x.Exhaust[(540-60)/TurnStep])
		assert.Positive(t, x.Exhaust[(540-30)/TurnStep])
		assert.Positive(t, x.Inlet[(720-10)/TurnStep])
		assert.Zero(t, x.Inlet[300/TurnStep])
	}
}

func maxOf(xs []float64) float64 { high, _ := most(xs); return high }

// What is wrong shows in the cycle: late timing lights it late and pushes less, worn rings let
// it by, a tight valve does not shut once it is hot, a wide or bent one lifts less, carbon
// narrows a port, and a plug that does not fire burns nothing.
func TestACycleShowsTheFault(t *testing.T) {
	of := func(family, fault, mode string, severity float64) (sick, sound Turn) {
		return last(filmed(t, family, FaultSpec{ID: fault, Severity: severity, Mode: mode})), last(filmed(t, family))
	}
	sick, sound := of("f4-bowl", "flywheel-misindexed", "retarded", 0.3)
	assert.Greater(t, sick.SparkAt, sound.SparkAt+5)
	assert.Less(t, maxOf(sick.Fires), maxOf(sound.Fires))
	sick, sound = of("f4-bowl", "rings-worn", "", 0.4)
	// Its throttle opens further to hold the speed, so it is the rise that tells.
	rise := func(x Turn) float64 { return maxOf(x.Misses) / x.Misses[250/TurnStep] }
	assert.Less(t, rise(sick), 0.97*rise(sound))
	sick, sound = of("f4-bowl", "pushrod-bent", "in", 0.5)
	assert.Less(t, maxOf(sick.Inlet), maxOf(sound.Inlet)-0.5)
	sick, _ = of("f4-bowl", "exhaust-valve-stuck", "", 0.25)
	assert.Greater(t, slices.Min(sick.Exhaust), 0.2)
	sick, sound = of("t2-diaphragm", "exhaust-port-carbon", "", 0.5)
	assert.Less(t, maxOf(sick.Exhaust), 0.7*maxOf(sound.Exhaust))
	for shift, want := range map[float64]func(lift float64) bool{-0.3: func(x float64) bool { return x > 0.1 }, 0: func(x float64) bool { return x == 0 }} {
		assert.True(t, want(valve(300, 345, 590, 0.15, shift)), "shift %g", shift)
	}
	early, late := 0.0, 0.0
	for d := 300.0; d < 720; d++ {
		early, late = max(early, valve(d, 345, 590, 0.15, 0)), max(late, valve(d, 345, 590, 0.15, 1))
	}
	assert.InDelta(t, early-1, late, 0.01, "what is wide lifts by so much less")
}
