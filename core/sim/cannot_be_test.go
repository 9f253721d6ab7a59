package sim

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
)

// Readings that cannot be, over the families, severities and orders that matter.
// Each is what a real engine does (common practice), or does not.

var severities = []string{"0.1", "0.3", "0.5", "0.7", "0.9", "1"}

// A crank that does not turn gives no pressure, no spark and no mark: what needs
// it turned says so, and nothing it shows is judged.
func TestNoTurningNoReading(t *testing.T) {
	for _, family := range all4 {
		for _, hidden := range []string{"seized", "recoil-broken"} {
			for _, x := range catalogue.Standard().TestsOf(family, nil) {
				byRope := x.Cranks && x.Kind != catalogue.KindRun && x.ID != "run-listen" && x.Instrument != "tachometer" && x.ID != "bar-stop"
				if !byRope || len(x.Needs) > 0 {
					continue
				}
				o := last(on(t, family, fault(hidden, "1"), ask(x.ID)))
				assert.Contains(t, o.Because, "crank-turns", "%s: %s with %s", family, x.ID, hidden)
				assert.Nil(t, o.Band)
				if o.Value != nil {
					assert.Zero(t, *o.Value)
				} else {
					assert.Equal(t, "none", *o.Word)
				}
			}
		}
		assert.Contains(t, last(on(t, family, fault("seized", "1"), ask("leak-down"))).Because, "crank-turns", "no stroke is known")
		assert.True(t, last(on(t, family, fault("recoil-broken", "1"), ask("leak-down"))).Valid, "it is turned by hand")
		says(t, family, fault("seized", "1"), start, "locked", "and the rope tells")
		says(t, family, fault("seized", "1"), ask("dose-intake"), "locked", "with a dose as well")
	}
	blocked := last(on(t, four2, "", `{"act":"block-driven"},{"test":"leak-down"}`))
	assert.True(t, blocked.Valid, "a block holds what is driven, and hands still find the stroke")
}

// From a few drops to a teaspoon fires an engine that gets no fuel; more floods
// it and wets its plug; and what fills the chamber locks it.
func TestDoses(t *testing.T) {
	for _, family := range all4 {
		dose := func(test, ml string) string { return `{"test":"` + test + `","dose_ml":` + ml + `}` }
		for _, dry := range []string{fault("tank-empty", "1"), fault("main-jet-blocked", "1"), fault("line-blocked", "1") + "," + fault("main-jet-blocked", "1")} {
			for _, ml := range []string{"0.1", "0.3", "0.5", "1", "2", "5"} {
				says(t, family, dry, dose("dose-intake", ml), "fires-and-dies", ml+" ml past the carburettor")
			}
			for _, ml := range []string{"0.1", "0.5", "1"} {
				says(t, family, dry, dose("dose-cylinder", ml), "fires-and-dies", ml+" ml onto the piston")
			}
			for _, ml := range []string{"12", "20"} {
				says(t, family, dry, dose("dose-intake", ml), "nothing", ml+" ml floods")
				says(t, family, dry, dose("dose-intake", ml)+","+plug, "wet", "and wets the plug")
				assert.Contains(t, last(on(t, family, dry, dose("dose-intake", ml))).Because, "small-dose")
			}
			says(t, family, dry, dose("dose-cylinder", "20"), "locked", "liquid is not squeezed")
		}
		says(t, family, fault("coil-secondary-open", "1"), dose("dose-intake", "1"), "nothing", "no spark, no fire")
	}
}

// Oil from a wet test stands in the way of a leak-down, until it has drained.
func TestOilInTheBore(t *testing.T) {
	for _, family := range all4 {
		for _, s := range []string{"0.4", "0.6", "0.9"} {
			rings := fault("rings-worn", s)
			before := *last(on(t, family, rings, ask("leak-down"))).Value
			after := last(on(t, family, rings, wet+","+ask("leak-down")))
			assert.False(t, after.Valid)
			assert.Contains(t, after.Because, "bore-dry")
			later := last(on(t, family, rings, wet+`,{"wait_min":120},`+ask("leak-down")))
			assert.True(t, later.Valid, "%s after two hours: %v", family, later.Because)
			assert.InDelta(t, before, *later.Value, 4)
		}
	}
}

// What ran only with its choke shut runs so again, however often.
func TestChokedAgain(t *testing.T) {
	for _, family := range manual {
		for _, hidden := range []string{"main-jet-blocked", "emulsion-blocked", "bowl-debris", "screw-lean"} {
			if !slices.Contains(catalogue.Standard().Fault(hidden).Families, family) {
				continue
			}
			for _, s := range []string{"0.4", "0.5", "0.6", "0.7"} {
				o := on(t, family, fault(hidden, s), start+","+start+","+start)
				for _, again := range o[1:] {
					if *o[0].Word == "runs-only-on-choke" {
						assert.Equal(t, "runs-only-on-choke", *again.Word, "%s: %s %s", family, hidden, s)
					}
				}
			}
		}
	}
}

// Without oil in its fuel a two-stroke under load seizes within minutes, the
// sooner the less there is; a little short it only wears.
func TestNoOilSeizes(t *testing.T) {
	ran := 60.0
	for _, s := range []string{"0.5", "0.6", "0.7", "0.8", "0.9"} {
		o := on(t, stroke, fault("premix-no-oil", s), `{"test":"run-long","minutes":40},`+ask("pull-feel"))
		assert.Equal(t, "stopped-dead", *o[0].Word, s)
		assert.Less(t, o[0].Also["ran_min"].(float64), min(ran, 20), s)
		ran = o[0].Also["ran_min"].(float64)
		assert.Equal(t, "locked", *o[1].Word)
	}
	says(t, stroke, fault("premix-no-oil", "0.2"), `{"test":"run-long","minutes":20}`, "runs-well|low-power|fades", "hardly short")
}

// Each sign is on the part that has it, and on no other.
func TestSignsAreOnTheirPart(t *testing.T) {
	for _, c := range []struct{ family, test, sign, has, hasNot string }{
		{stroke, "gasket-look", "reversed", "pulse-blocked", "pump-diaphragm pump-cover-loose metering-diaphragm line-cracked"},
		{stroke, "diaphragm-look", "torn", "metering-diaphragm pump-diaphragm", "metering-cover-loose pump-cover-loose pulse-blocked needle-leaks"},
		{tank, "diaphragm-look", "torn", "suction-diaphragm", "choke-stuck-open choke-stuck-shut auto-choke-misassembled"},
		{four2, "look-leads", "chafed", "kill-wire-earthed", "control-cable-misset oil-sensor-failed"},
		{bail, "look-leads", "chafed", "kill-wire-earthed", "bar-cable-slack control-cable-misset"},
		{four2, "plug-look", "sooty", "", "plug-gritted"},
		{stroke, "look-arrestor", "nest", "muffler-nest", "exhaust-port-carbon arrestor-clogged"},
		{stroke, "look-arrestor", "clogged", "arrestor-clogged", "exhaust-port-carbon muffler-nest"},
		{stroke, "look-piston", "carboned", "exhaust-port-carbon", "arrestor-clogged muffler-nest rings-worn"},
		{tank, "look-over", "screw-missing", "screw-missing screw-lost", "carb-gasket-leak carb-mount-loose"},
	} {
		for _, s := range []string{"0.7", "0.9", "1"} {
			for _, id := range strings.Fields(c.has) {
				says(t, c.family, fault(id, s), ask(c.test), c.sign, id+" "+s)
			}
			for _, id := range strings.Fields(c.hasNot) {
				o := last(on(t, c.family, fault(id, s), ask(c.test)))
				assert.NotEqual(t, c.sign, *o.Word, "%s: %s of %s %s", c.family, c.test, id, s)
			}
		}
	}
	for _, s := range severities {
		held := func(family, id string) float64 { return reads(t, family, fault(id, s), ask("line-pressure")) }
		for _, family := range []string{four2, bail} {
			assert.Equal(t, 50.0, held(family, "vent-drilled"), "both its ends are closed")
			assert.Equal(t, 50.0, held(family, "bowl-gasket-weep"))
		}
		assert.Less(t, held(four2, "line-cracked"), 49.0)
		assert.InDelta(t, reads(t, stroke, "", ask("screw-count")), reads(t, stroke, fault("jet-oversize", s), ask("screw-count")), 1e-9)
		assert.InDelta(t, reads(t, stroke, "", ask("screw-count")), reads(t, stroke, way("screw-lean", s, "low"), ask("screw-count")), 1e-9, "it is the other screw")
		assert.Less(t, reads(t, tank, fault("screw-lean", s), ask("screw-count")), reads(t, tank, "", ask("screw-count")))
	}
	assert.Greater(t, reads(t, four2, fault("fuel-cut-stuck", "1"), ask("bowl-drain")), 20.0, "the plunger shuts the jet, not the drain")
	assert.InDelta(t, 14, reads(t, four2, fault("float-sunk", "1"), ask("float-check")), 1, "upside down it lies where a dry one does")
}

// What needs a running engine says so when there is none.
func TestNothingRunsNothingIsRead(t *testing.T) {
	for _, family := range all4 {
		for _, dead := range []string{fault("tank-empty", "1") + "," + fault("main-jet-blocked", "1"), fault("coil-secondary-open", "1"), fault("seized", "1")} {
			for _, test := range []string{"run-idle", "run-full", "bar-stop"} {
				if catalogue.Standard().TestFor(family, nil, test) == nil {
					continue
				}
				o := last(on(t, family, dead, ask(test)))
				require.Contains(t, o.Because, "engine-runs", "%s: %s", family, test)
				assert.Nil(t, o.Band)
			}
		}
	}
	// With its blade blocked a mower neither starts nor is timed.
	o := lived(t, bail, "", "", `{"act":"block-driven"}`)
	assert.Contains(t, items(o.State.NotReady), "block-driven")
}

// A warm winding is judged by what it would read at the sheet's 20 °C.
func TestWarmWindings(t *testing.T) {
	for _, family := range all4 {
		for _, minutes := range []string{"5", "15", "30"} {
			for _, test := range []string{"coil-secondary", "coil-primary"} {
				o := last(on(t, family, "", `{"test":"run-long","minutes":`+minutes+`},`+ask(test)))
				assert.Equal(t, "within", *o.Band, "%s: %s after %s min reads %g", family, test, minutes, *o.Value)
				assert.Greater(t, *o.Value, o.Also["at_20c"], "copper, IEC 60028")
			}
		}
		hot := last(on(t, family, "", `{"test":"run-long","minutes":30},{"test":"coil-secondary","temperature_noted":false}`))
		assert.Contains(t, []string{"within", "above"}, *hot.Band)
	}
}

// The bowl fills again before it is drained, and however often.
func TestBowlFillsAgain(t *testing.T) {
	for _, family := range []string{four2, bail} {
		full := reads(t, family, "", ask("bowl-drain"))
		for _, before := range []string{ask("bowl-look"), ask("bowl-drain"), ask("jet-look"), ask("bowl-look") + `,{"cover":"bowlopen","off":false}`} {
			assert.InDelta(t, full, reads(t, family, "", before+","+ask("bowl-drain")), 1, before)
		}
		for _, starved := range []string{fault("needle-stuck-shut", "1"), fault("line-blocked", "1")} {
			assert.Less(t, reads(t, family, starved, ask("bowl-look")+","+ask("bowl-drain")), 0.3*full, starved)
		}
	}
}

// Turning the screws finds the one that is off, and does not find what is not
// theirs.
func TestScrewSweep(t *testing.T) {
	for _, family := range []string{tank, stroke} {
		for _, s := range []string{"0.4", "0.5", "0.6"} {
			says(t, family, fault("screw-lean", s), ask("screw-sweep"), "runs-well|low-power", "a lean screw is turned out")
			assert.Equal(t, reads(t, family, fault("screw-lean", s), ask("screw-count")),
				reads(t, family, fault("screw-lean", s), ask("screw-sweep")+","+ask("screw-count")), "and goes back to where it stood")
		}
		says(t, family, fault("rings-worn", "1"), ask("screw-sweep"), "no-fire|hunts|stalls-at-idle|fires-and-dies", "it is not the screws")
	}
}

// A test that a family cannot have is not offered there.
func TestNotOffered(t *testing.T) {
	for family, tests := range map[string][]string{
		four2: {"look-piston", "crankcase-pressure", "screw-count", "diaphragm-look"}, bail: {"look-piston", "fuel-cut-click"},
		tank: {"look-piston", "fuel-flow", "bowl-drain"}, stroke: {"fuel-flow", "valve-clearance", "head-look", "look-oil", "bowl-drain"},
	} {
		for _, test := range tests {
			assert.Nil(t, catalogue.Standard().TestFor(family, nil, test), "%s on %s", test, family)
		}
	}
	for _, s := range severities[3:] {
		says(t, stroke, fault("line-blocked", s), ask("primer-press"), "hard", "nothing comes to fill it")
	}
	says(t, stroke, fault("pickup-off", "1"), ask("primer-press"), "hard", "nor from a tank whose pick-up hangs in air")
}

// With its element out a sound engine runs as before.
func TestElementOut(t *testing.T) {
	for _, family := range all4 {
		says(t, family, "", ask("run-filter-off"), "runs-well", "the housing stays bolted")
		says(t, family, "", ask("look-filter")+","+start, "runs-well", "and when it is left out")
	}
}

// What runs away races, and what is bent shakes; a word does not say why.
func TestRacesAndVibrates(t *testing.T) {
	for _, family := range all4 {
		for _, s := range []string{"0.6", "0.8", "1"} {
			says(t, family, way("throttle-stuck", s, "open"), start, "races", "open by "+s)
			if family != stroke {
				says(t, family, fault("governor-overspeed", s), start, "races", "set past its speed by "+s)
			}
		}
		says(t, family, fault("crank-bent", "1"), start, "vibrates", "a bent crank")
		assert.Equal(t, "shudder", last(on(t, family, fault("crank-bent", "1"), start)).Also["sound"])
		says(t, family, "", start, "runs-well", "and a sound one neither")
	}
}

// A loosened cap never makes a run shorter.
func TestCapLooseIsNoWorse(t *testing.T) {
	falter := func(o float64, ok bool) float64 {
		if !ok {
			return 1e9
		}
		return o
	}
	for _, family := range all4 {
		for _, hidden := range []string{"pickup-blocked", "line-blocked", "cap-vent-blocked"} {
			for _, s := range []string{"0.5", "0.6", "0.65", "0.7", "0.9"} {
				tight, okT := last(on(t, family, fault(hidden, s), `{"test":"run-long","minutes":25}`)).Also["minutes_to_falter"].(float64)
				loose, okL := last(on(t, family, fault(hidden, s), `{"test":"run-cap-loose","minutes":25}`)).Also["minutes_to_falter"].(float64)
				assert.GreaterOrEqual(t, falter(loose, okL)+0.3, falter(tight, okT), "%s: %s %s", family, hidden, s)
			}
		}
	}
}

// The low-oil switch stops an engine that is low on oil, whatever else it has.
func TestLowOilStops(t *testing.T) {
	for _, s := range []string{"0.7", "0.9", "1"} {
		says(t, four2, fault("oil-low", s), start, "no-fire", "it has a low-oil switch")
		says(t, four2, fault("oil-low", s), ask("oil-lead-off"), "blue", "and its lead off")
		says(t, bail, fault("oil-low", s), start, "runs-well|low-power", "this one has none")
	}
	says(t, four2, fault("oil-low", "0.3"), start, "runs-well", "above its level")
}

// A tank that runs dry in a test is said to have; a hot restart is made hot.
func TestRunsOutAndHeats(t *testing.T) {
	o := last(on(t, stroke, "", `{"test":"run-long","minutes":60}`))
	assert.Contains(t, o.Because, "fuel-enough")
	assert.Equal(t, "ran-dry", o.Also["tank"])
	for _, family := range all4 {
		o := last(on(t, family, "", ask("hot-restart")))
		assert.True(t, o.Valid, "%s: %v", family, o.Because)
		assert.Greater(t, o.Minutes, 15.0)
		for _, s := range []string{"0.7", "0.9"} {
			says(t, family, fault("coil-fails-hot", s), ask("hot-restart"), "no-fire", fmt.Sprint("open hot at ", s))
		}
	}
}

// Compression that nothing relieves tears at the rope.
func TestSnatches(t *testing.T) {
	for _, s := range []string{"0.7", "0.9", "1"} {
		says(t, four2, way("decompressor-stuck", s, "never"), ask("pull-feel"), "snatches", s)
	}
	says(t, four2, fault("valve-clearance-wide", "0.9"), ask("pull-feel"), "snatches", "its valve no longer lifts")
	assert.NotEqual(t, "black", last(on(t, four2, fault("valve-clearance-wide", "0.9"), start)).Also["smoke"])
}

// What smokes black leaves its soot on the plug.
func TestBlackSmokeSoots(t *testing.T) {
	for _, family := range all4 {
		for _, hidden := range []string{"jet-oversize", "choke-stuck-shut", "filter-clogged", "needle-leaks"} {
			f := catalogue.Standard().Fault(hidden)
			if !slices.Contains(f.Families, family) || len(f.Needs) > 0 {
				continue
			}
			for _, s := range severities {
				o := on(t, family, fault(hidden, s), start+","+plug)
				if o[0].Also["smoke"] == "black" {
					assert.Equal(t, "sooty", *o[1].Word, "%s: %s %s", family, hidden, s)
				}
			}
		}
	}
}

// What sits badly sits well once it has been off and on.
func TestRefitting(t *testing.T) {
	on2 := `,{"cover":"flyoff","off":false},{"cover":"shroud","off":true},`
	for _, family := range all4 {
		for _, s := range severities {
			sound := reads(t, family, "", ask("nut-torque"))
			assert.InDelta(t, sound, reads(t, family, fault("flywheel-nut-loose", s), ask("key-look")+on2+ask("nut-torque")), 0.5, s)
			says(t, family, fault("carb-mount-loose", s), ask("passage-trace")+`,{"cover":"carboff","off":false},`+ask("joint-wiggle"), "tight", s)
		}
		bruised := `{"test":"key-look","puller":false}`
		assert.Less(t, reads(t, family, "", bruised+on2+ask("nut-torque")), 0.7*reads(t, family, "", ask("nut-torque")), "a thread that a hammer has bruised")
	}
	says(t, four2, fault("key-sheared", "0.8"), ask("key-look")+on2+start, "no-fire", "a key stays sheared")
}

// An engine that is started over spilt fuel is a precaution left out.
func TestNotStartedOverFuel(t *testing.T) {
	in := `{"machine":"f4-bowl","technique":"as-set","noise":false,"events":[{"cover":"bowlopen"},{"cover":"bowlopen","off":false},` + start + `]}`
	out, err := Simulate(strings.NewReader(in))
	require.NoError(t, err)
	assert.Contains(t, last(out.Observations).Skipped, "wipe-spill")
	in = strings.Replace(in, `{"cover":"bowlopen","off":false},`, `{"cover":"bowlopen","off":false},{"act":"wipe-spill"},`, 1)
	out, err = Simulate(strings.NewReader(in))
	require.NoError(t, err)
	assert.NotContains(t, last(out.Observations).Skipped, "wipe-spill")
}
