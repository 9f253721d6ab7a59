package setup_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// specs are all settings that there are.
func specs() map[string]setup.Spec {
	out := map[string]setup.Spec{}
	for _, of := range []map[string]setup.Spec{setup.ControlSpecs, setup.InstrumentSpecs} {
		for id, s := range of {
			out[id] = s
		}
	}
	return out
}

// A setting takes what it says, and refuses all else with the place and a code that fits.
func TestSettingsTakeWhatTheySay(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for id, s := range specs() {
		for range 20 {
			v := ledgertest.Any(r, s)
			require.Nil(t, s.Check("x", v), "%s: %v", id, v)
		}
		bad := map[string][]any{}
		switch {
		case s.YesNo:
			bad["setup.neither-true-nor-false"] = []any{"true", 1.0, nil}
		case s.Words != nil:
			bad["setup.not-position"] = []any{"", s.Words[0] + " ", s.Words[0] + s.Words[1], true, 0.0, nil}
		default:
			bad["setup.not-number"] = []any{"5", true, nil, 5}
			bad["setup.not-number-comma"] = []any{"0,5"}
			out := "setup.out-of-range"
			if s.Whole {
				out = "setup.no-whole-number-in-range"
				bad[out] = []any{s.Low + 0.5}
			}
			for _, n := range []float64{math.Nextafter(s.Low, -1), math.Nextafter(s.High, 1e9), math.NaN(), math.Inf(1), math.Inf(-1)} {
				bad[out] = append(bad[out], n)
			}
		}
		for code, values := range bad {
			for _, v := range values {
				p := s.Check("event.control."+id, v)
				require.NotNil(t, p, "%s takes %v", id, v)
				assert.Equal(t, code, p.Code, "%s: %v", id, v)
				assert.Equal(t, "event.control."+id, p.Path)
			}
		}
	}
}

// Of several settings the first that is wrong is named, and what an engine lacks is told and
// no error.
func TestChecksNameTheSetting(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		all := setup.Settings{}
		r := rand.New(rand.NewPCG(3, 4))
		for id, s := range setup.ControlSpecs {
			all[id] = ledgertest.Any(r, s)
		}
		lacking, p := setup.CheckControls("event.control", all, &fam, fam.Sheet)
		require.Nil(t, p)
		has := setup.ControlIDs(&fam, fam.Sheet)
		for id := range all {
			assert.NotEqual(t, slices.Contains(has, id), slices.Contains(lacking, id), "%s: %s", fam.ID, id)
		}
		_, p = setup.CheckControls("event.control", setup.Settings{"choke": 0.5, "handbrake": "on"}, &fam, fam.Sheet)
		require.NotNil(t, p)
		assert.Equal(t, "event.control.handbrake", p.Path)
		_, p = setup.CheckSetup("event.setup", setup.Settings{"pulls": 6.0, "choke": 1.5}, &fam, fam.Sheet)
		require.NotNil(t, p)
		assert.Equal(t, "event.setup.choke", p.Path)
		_, p = setup.CheckSetup("event.setup", setup.Settings{"gloves": true}, &fam, fam.Sheet)
		require.NotNil(t, p)
		assert.Equal(t, "setup.no-such-control-or-set-up", p.Code)
	}
}

// Controls written out and laid on again stand as they stood.
func TestPositionsAreLaidOnAgain(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for _, fam := range catalogue.Standard().Families {
		has := setup.ControlIDs(&fam, fam.Sheet)
		for range 200 {
			own := setup.Settings{}
			for _, id := range has {
				if id != "primer" && r.IntN(2) == 0 { // presses, not a position
					own[id] = ledgertest.Any(r, setup.ControlSpecs[id])
				}
			}
			c := own.Onto(machine.Controls{})
			as := setup.Positions(c, &fam, fam.Sheet)
			for id, v := range own {
				assert.Equal(t, v, as[id], "%s: %s", fam.ID, id)
			}
			assert.Equal(t, c, as.Onto(machine.Controls{}), fam.ID)
		}
	}
}

// No setting is taken and then does nothing: two ways of it are two set-ups.
func TestEverySettingIsOfTheSetup(t *testing.T) {
	fam := catalogue.Standard().Families[0]
	m, err := machine.New(fam.ID, fam.Sheet, machine.Build{}, machine.Ambient{TemperatureC: 20}, nil)
	require.NoError(t, err)
	for id, s := range specs() {
		ways := []any{s.Low, s.High}
		switch {
		case s.YesNo:
			ways = []any{true, false}
		case s.Words != nil:
			ways = []any{s.Words[0], s.Words[1]}
		}
		base := setup.Found(m, catalogue.Standard().Test("start-attempt"))
		one, other := base.With(setup.Settings{id: ways[0]}), base.With(setup.Settings{id: ways[1]})
		assert.NotEqual(t, one, other, id)
		assert.Equal(t, one, one.With(setup.Settings{id: ways[0]}), "%s twice is %s once", id, id)
	}
}

// A master's set-up does not hang on how the last user left the controls, but for the cap,
// which is as it is used, and for a tilt, which has floods stay in the cylinder.
func TestMasterSetsAllOfIt(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for _, fam := range catalogue.Standard().Families {
		for range 6 {
			fresh, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, nil, bench.Options{Technique: bench.Ideal, FuelML: -1})
			require.NoError(t, err)
			left := fresh.Clone()
			as := setup.Settings{}
			for _, id := range setup.ControlIDs(&fam, fam.Sheet) {
				if id != "cap" && id != "primer" && id != "lights" && id != "tilt" {
					as[id] = ledgertest.Any(r, setup.ControlSpecs[id])
				}
			}
			m := left.Machine()
			m.SetControls(as.Onto(m.State().Controls))
			for _, test := range catalogue.Standard().TestsOf(fam.ID, fam.Sheet) {
				require.Equal(t, setup.Master(fresh.Machine(), &test, nil), setup.Master(m, &test, nil), "%s: %s after %v", fam.ID, test.ID, as)
			}
		}
	}
}

// Covers that a test wants off and on are covers, and never the same; what starts an engine
// wants it whole.
func TestAccessHoldsTogether(t *testing.T) {
	cat := catalogue.Standard()
	for i := range cat.Tests {
		test := &cat.Tests[i]
		off, on := setup.AccessOf(test)
		for _, id := range slices.Concat(off, on) {
			assert.NotNil(t, cat.Cover(id), "%s: %s", test.ID, id)
		}
		for _, id := range off {
			assert.NotContains(t, on, id, test.ID)
		}
		if setup.Starts(test) {
			assert.Contains(t, on, "shroud", "%s: no rope without the recoil", test.ID)
			assert.NotContains(t, off, "plugout", test.ID)
		}
	}
}
