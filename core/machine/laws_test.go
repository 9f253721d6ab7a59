package machine

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
)

func of(t testing.TB, family string, faults ...FaultSpec) *Machine {
	m, err := New(family, catalogue.Standard().Family(family).Sheet, Build{}, day, faults)
	require.NoError(t, err)
	m.s.Controls.BarHeld = true
	return m
}

// measures of a machine, each larger when more of the thing is there.
var measures = map[string]func(m *Machine) float64{
	"spark":       func(m *Machine) float64 { return m.SparkReachMM(m.PullRPM(0, false), 0) },
	"compression": func(m *Machine) float64 { m.s.Controls.Throttle = 1; return m.PeakKPa(m.PullRPM(0, false), 0) },
	"flow":        func(m *Machine) float64 { return m.FlowMLMin() },
	"feed":        func(m *Machine) float64 { return m.feed(0.8, 0) },
	"mixture": func(m *Machine) float64 {
		var f flow
		m.s.EngineC, m.s.Controls.BarHeld = 90, true
		m.running(0.8*m.p.rated, 0.6, 0, 1, &f)
		return 1 / f.lambda
	},
	"power": func(m *Machine) float64 {
		var f flow
		m.s.EngineC, m.s.Controls.BarHeld = 90, true
		m.running(m.p.rated, 1, 0, 1, &f)
		return f.torque
	},
	"held": func(m *Machine) float64 { psi, _ := m.LeakDown(80); return psi },
	"heat": func(m *Machine) float64 {
		m.warm(20, 0.75, 1)
		return m.s.EngineC
	},
}

// More of a fault never does less: each law moves what it should, one way, over
// the whole of its severity, on every family that has it (common practice).
func TestLawsAreMonotone(t *testing.T) {
	down, up := -1.0, 1.0
	for _, c := range []struct {
		fault, mode, measure string
		sign                 float64
	}{
		{"main-jet-blocked", "", "mixture", down}, {"emulsion-blocked", "", "mixture", down}, {"screw-lean", "main", "mixture", down},
		{"screw-rich", "main", "mixture", up},
		{"needle-leaks", "", "mixture", up}, {"filter-clogged", "", "mixture", up}, {"choke-stuck-shut", "", "mixture", up},
		{"carb-mount-loose", "", "mixture", down},
		{"carb-gasket-leak", "", "mixture", down}, {"intake-boot-split", "", "mixture", down}, {"crank-seal-leaks", "", "mixture", down},
		{"fuel-ethanol-high", "", "mixture", down},
		{"fuel-stale", "", "mixture", down}, {"premix-oil-rich", "", "mixture", down}, {"metering-diaphragm", "torn", "mixture", down},
		{"metering-diaphragm", "stiff", "mixture", down},
		{"filter-blocked", "", "feed", down}, {"pickup-blocked", "", "feed", down}, {"line-blocked", "", "feed", down}, {"line-blocked", "", "flow", down},
		{"needle-stuck-shut", "", "feed", down},
		{"pump-diaphragm", "", "feed", down}, {"pulse-blocked", "", "feed", down}, {"pump-cover-loose", "", "feed", down},
		{"metering-cover-loose", "", "feed", down}, {"line-cracked", "", "feed", down},
		{"coil-weak", "", "spark", down}, {"coil-primary-short", "", "spark", down}, {"gap-wide", "", "spark", down}, {"magnet-weak", "", "spark", down},
		{"lead-leaks", "", "spark", down}, {"boot-loose", "", "spark", down}, {"points-oxidised", "", "spark", down},
		{"rings-worn", "", "compression", down}, {"rings-worn", "", "held", down}, {"bore-scored", "", "compression", down},
		{"exhaust-valve-stuck", "", "compression", down}, {"intake-valve-leaks", "", "compression", down},
		{"valve-clearance-tight", "", "compression", down}, {"head-gasket-leaks", "", "compression", down}, {"head-gasket-leaks", "", "held", down},
		{"decompressor-stuck", "held", "compression", down}, {"decompressor-stuck", "never", "compression", up}, {"premix-no-oil", "", "compression", down},
		{"arrestor-clogged", "", "power", down}, {"exhaust-port-carbon", "", "power", down}, {"muffler-nest", "", "power", down},
		{"valve-clearance-wide", "", "power", down}, {"key-sheared", "retarded", "power", down}, {"key-sheared", "advanced", "power", down},
		{"flywheel-misindexed", "retarded", "power", down},
		{"oil-overfilled", "", "power", down}, {"fins-packed", "", "heat", up},
	} {
		families := 0
		for _, fam := range catalogue.Standard().Fault(c.fault).Families {
			families++
			healthy := measures[c.measure](of(t, fam))
			last := healthy
			for s := 0.05; s <= 1; s += 0.05 {
				v := measures[c.measure](of(t, fam, FaultSpec{ID: c.fault, Severity: s, Mode: c.mode}))
				require.GreaterOrEqual(t, c.sign*(v-last), -1e-9, "%s %s on %s: %s at %.2f went from %g to %g", c.fault, c.mode, fam, c.measure, s, last, v)
				last = v
			}
			assert.Greater(t, c.sign*(last-healthy), 1e-6, "%s %s on %s does not move %s", c.fault, c.mode, fam, c.measure)
		}
		assert.Positive(t, families)
	}
}

// Every fault can be put right: mended, the machine reads as a sound one does.
func TestMendingRestores(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		for _, f := range catalogue.Standard().FaultsOf(fam.ID, nil) {
			m := of(t, fam.ID, FaultSpec{ID: f.ID, Severity: 0.9})
			m.Mend(f.ID)
			assert.Equal(t, of(t, fam.ID).p, m.p, "%s on %s", f.ID, fam.ID)
			assert.Empty(t, m.Faults())
		}
	}
}

// A sound engine of every family holds its governed speed, idles near its
// sheet's idle and runs a half hour without wear.
func TestSoundEngines(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		m := of(t, fam.ID)
		m.s.Controls.BarHeld = true
		m.Prime(3)
		s, r := m.Long(Attempt{Choke: 1, Throttle: 0.3, Pulls: 10}, Draws{}, 30, LoadTest)
		assert.Equal(t, "runs-well", s.Word, fam.ID)
		assert.False(t, r.Stopped)
		assert.Negative(t, r.FalterAt)
		assert.InDelta(t, s.Minutes, r.Trace[len(r.Trace)-1].Minute, 0.01, "the trace ends when the run does, counted from the first pull")
		assert.Zero(t, m.s.Worn, fam.ID)
		assert.InDelta(t, m.p.governed, m.Speed(LoadNone), 1)
		if !m.p.governedIdle {
			assert.InEpsilon(t, m.p.idle, m.Speed(LoadIdle), 0.12, fam.ID)
		}
		assert.Equal(t, "tan", m.PlugFace(), fam.ID)
	}
}

// Wear comes with running and not with standing.
func TestWearWhileRunning(t *testing.T) {
	for id, family := range map[string]string{"premix-no-oil": "t2-diaphragm", "oil-low": "f4-bowl", "filter-torn": "f4-suction", "fins-packed": "f4-bowl"} {
		m := of(t, family, FaultSpec{ID: id, Severity: 1})
		m.Rest(600)
		assert.Zero(t, m.s.Worn, "%s: standing", id)
		for range 40 {
			m.warm(1, 0.75, 1)
		}
		assert.Positive(t, m.s.Worn, "%s: running", id)
	}
}
