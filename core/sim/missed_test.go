package sim

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Faults that the trade meets and that look like another: what each shows, what it
// must not show, and that its repair mends it (common practice).

const (
	strokes4 = 3 // of all4, the first are four-strokes
	byHand   = `{"test":"turn-by-hand"}`
)

// A plug that was only loose is mended by taking it out, so the gauge that is screwed
// in its place finds nothing; a stripped thread leaks beside the gauge too, and says
// where it hisses.
func TestLoosePlugAndStrippedThread(t *testing.T) {
	for _, family := range all4 {
		sound := reads(t, family, "", dry)
		for _, s := range []string{"0.5", "0.8", "1"} {
			loose, stripped := fault("plug-loose", s), fault("plug-thread-stripped", s)
			assert.InDelta(t, sound, reads(t, family, loose, dry), 0.5, family)
			assert.Less(t, reads(t, family, stripped, dry), 0.9*sound, family)
			for _, hidden := range []string{loose, stripped} {
				assert.Equal(t, "below", *last(on(t, family, hidden, ask("plug-torque"))).Band, family)
			}
			assert.Equal(t, "within", *last(on(t, family, loose, dry+","+ask("plug-torque"))).Band, "it went back tight")
			assert.Equal(t, "below", *last(on(t, family, stripped, dry+","+ask("plug-torque"))).Band, "it cannot")
			assert.Equal(t, "plug", *last(on(t, family, stripped, ask("leak-down"))).Parts["hiss"].Word)
			mended := last(on(t, family, stripped, `{"repair":"rebuild","reach":"plug"},`+dry))
			assert.InDelta(t, sound, *mended.Value, 0.5)
		}
	}
}

// Loose bolts and a burnt gasket both hiss at the joint: the wrench tells them apart.
func TestHeadBoltsAndGasket(t *testing.T) {
	for _, family := range all4[:strokes4] {
		for _, s := range []string{"0.5", "0.9"} {
			bolts, gasket := fault("head-bolts-loose", s), fault("head-gasket-leaks", s)
			for _, hidden := range []string{bolts, gasket} {
				assert.Equal(t, "joint", *last(on(t, family, hidden, ask("leak-down"))).Parts["hiss"].Word)
			}
			assert.Equal(t, "below", *last(on(t, family, bolts, ask("head-torque"))).Band)
			assert.Equal(t, "within", *last(on(t, family, gasket, ask("head-torque"))).Band)
			says(t, family, bolts, ask("head-look"), "sound", "bolts leave no track")
			tighten := `{"repair":"tighten","reach":"head-joint"},` + dry
			assert.InDelta(t, reads(t, family, "", dry), reads(t, family, bolts, tighten), 0.5)
			assert.Less(t, reads(t, family, gasket, tighten), 0.95*reads(t, family, "", dry), "a burnt gasket stays burnt")
		}
	}
}

// Fuel that boils stops an engine as a blocked vent does, only hot, with the cap
// loose as well, and never a cold one; high up it boils sooner.
func TestVapourLock(t *testing.T) {
	long := `{"test":"run-long","minutes":20}`
	for _, family := range all4 {
		for _, s := range []string{"0.85", "1"} {
			lock := fault("vapour-lock", s)
			says(t, family, lock, start, "runs-well", "cold")
			says(t, family, lock, long, "died-away", "hot")
			says(t, family, lock, `{"test":"run-cap-loose","minutes":20}`, "died-away", "the cap is not it")
			says(t, family, lock, ask("line-look"), "near-heat", "where it lies")
			says(t, family, lock, long+`,{"test":"line-look"}`, "bubbles", "hot")
			says(t, family, lock, long+`,{"wait_min":60},`+start, "runs-well", "cooled down")
			says(t, family, lock, `{"repair":"refit","reach":"fuel-line"},`+long, "runs-well", "laid where it belongs")
		}
	}
	high := `,"ambient":{"temperature_c":20,"altitude_m":2500}`
	falters := func(more string) float64 {
		return last(sim(t, fault("vapour-lock", "0.9"), long, more)).Also["minutes_to_falter"].(float64)
	}
	assert.Less(t, falters(high), falters(""))
}

// A swollen seal stops it as a blocked vent does and lets a bulb through.
func TestSwollenCapSeal(t *testing.T) {
	for _, family := range all4 {
		for _, s := range []string{"0.8", "1"} {
			seal := fault("cap-seal-swollen", s)
			says(t, family, seal, `{"test":"run-long","minutes":20}`, "died-away", family)
			says(t, family, seal, `{"test":"run-cap-loose","minutes":12}`, "runs-well", family)
			says(t, family, seal, ask("vent-blow"), "seal-swollen", family)
		}
	}
}

// A plug too cold is sooty on an engine that is not rich; one too hot knocks and
// loses power only when the engine is hot. The mark tells both.
func TestHeatRange(t *testing.T) {
	for _, family := range all4 {
		cold, hot := way("plug-wrong-heat", "0.7", "cold"), way("plug-wrong-heat", "0.9", "hot")
		says(t, family, cold, ask("plug-mark"), "colder", family)
		says(t, family, hot, ask("plug-mark"), "hotter", family)
		says(t, family, "", ask("plug-mark"), "right", family)
		says(t, family, hot, `{"test":"run-long","minutes":5},{"test":"plug-look"}`, "white", family)
		says(t, family, hot, `{"test":"run-listen"}`, "knocks", family)
		says(t, family, cold, `{"repair":"clean","reach":"plug"},{"test":"plug-mark"}`, "colder", "cleaning is not changing")
		says(t, family, cold, `{"repair":"replace","reach":"plug"},{"test":"plug-mark"}`, "right", family)
	}
}

// What is locked turns, or does not, with the plug out: that comes before "seized".
func TestTurnedByHand(t *testing.T) {
	for _, family := range all4 {
		says(t, family, "", byHand, "free", family)
		says(t, family, fault("seized", "1"), byHand, "locked", family)
		says(t, family, fault("crank-bent", "1"), byHand, "tight", family)
		for _, mode := range []string{"pawl", "rope", "spring"} {
			says(t, family, way("recoil-broken", "1", mode), byHand, "free", family)
		}
	}
	for _, family := range []string{"f4-bowl", "f4-bail"} {
		night := `{"wait_min":1440},`
		says(t, family, fault("needle-leaks", "1"), night+ask("pull-feel"), "locked", family)
		says(t, family, fault("needle-leaks", "1"), night+byHand, "liquid", family)
		says(t, family, fault("needle-leaks", "1"), night+byHand+","+ask("pull-feel"), "strong", "it is out")
	}
	says(t, "f4-bowl", way("recoil-broken", "1", "rope"), ask("pull-feel"), "rope-gone", "")
	says(t, "f4-bowl", way("recoil-broken", "1", "spring"), ask("pull-feel"), "stays-out", "")
}

// A loose blade kicks as a sheared key does, with the spark where it belongs.
func TestLooseBlade(t *testing.T) {
	for _, s := range []string{"0.6", "0.8", "1"} {
		blade := fault("blade-loose", s)
		says(t, "f4-bail", blade, start, "kicks-back", s)
		says(t, "f4-bail", blade, ask("look-driven"), "loose", s)
		assert.InDelta(t, reads(t, "f4-bail", "", ask("tdc-magnet")), reads(t, "f4-bail", blade, ask("tdc-magnet")), 0.5)
		says(t, "f4-bail", blade, `{"repair":"tighten","reach":"turning"},`+start, "runs-well", s)
	}
	says(t, "f4-bail", fault("blade-loose", "0.3"), start, "vibrates", "before that it shakes")
}

// A clutch that does not let go turns the tool at idle and pulls the engine down; one
// whose idle is set too fast turns it too, and is told by the speed.
func TestDraggingClutch(t *testing.T) {
	sound := reads(t, stroke, "", ask("run-idle"))
	for _, s := range []string{"0.6", "0.9"} {
		clutch := fault("clutch-drags", s)
		says(t, stroke, clutch, ask("tool-at-idle"), "creeps", s)
		assert.Less(t, reads(t, stroke, clutch, ask("run-idle")), 0.95*sound)
	}
	fast := way("throttle-stuck", "0.6", "open")
	says(t, stroke, fast, ask("tool-at-idle"), "creeps", "")
	assert.Greater(t, reads(t, stroke, fast, ask("run-idle")), 1.3*sound)
	says(t, stroke, "", ask("tool-at-idle"), "stands", "")
}

// A valve that is not opened: without an intake nothing is compressed, without an
// exhaust it is, and either shows at its own clearance.
func TestPushrod(t *testing.T) {
	for _, family := range []string{"f4-bowl", "f4-bail"} {
		sound := reads(t, family, "", dry)
		in, ex := way("pushrod-bent", "0.9", "in"), way("pushrod-bent", "0.9", "ex")
		assert.Less(t, reads(t, family, in, dry), 0.4*sound)
		assert.InDelta(t, sound, reads(t, family, ex, dry), 0.5)
		says(t, family, in, start, "no-fire", family)
		says(t, family, ex, start, "spits-back", family)
		o := last(on(t, family, ex, ask("valve-clearance")))
		assert.Equal(t, "within", *o.Band)
		assert.Equal(t, "above", *o.Parts["ex"].Band)
		says(t, family, in, `{"repair":"refit","reach":"valves"},`+start, "runs-well", family)
	}
}

// A lip that has lost its spring holds pressure and lets air in.
func TestSealThatHoldsPressure(t *testing.T) {
	for _, s := range []string{"0.4", "0.7", "1"} {
		inward := way("crank-seal-leaks", s, "inward")
		assert.Equal(t, "within", *last(on(t, stroke, inward, ask("crankcase-pressure"))).Band, s)
		assert.Equal(t, "below", *last(on(t, stroke, inward, ask("crankcase-vacuum"))).Band, s)
	}
	assert.Equal(t, "within", *last(on(t, stroke, "", ask("crankcase-vacuum"))).Band)
}

// Where a screw is missing at the tank's well, air comes in and it hunts; the hole is
// seen.
func TestScrewMissingAtTheWell(t *testing.T) {
	missing := fault("screw-missing", "1")
	says(t, tank, missing, start, "hunts|stalls-at-idle", "")
	says(t, tank, missing, ask("look-over"), "screw-missing", "")
	says(t, tank, missing, `{"repair":"refit","reach":"tank"},`+start, "runs-well", "")
}

// Cables are looked at from both ends.
func TestCables(t *testing.T) {
	for _, c := range []struct{ faults, want string }{
		{"", "full-travel"}, {way("control-cable-misset", "0.6", "short-of-choke"), "short-of-choke"},
		{way("control-cable-misset", "0.6", "stays-in-stop"), "stays-in-stop"}, {fault("bar-cable-slack", "0.6"), "bar-slack"},
	} {
		says(t, "f4-bail", c.faults, ask("cable-ends"), c.want, "")
	}
	says(t, stroke, fault("primer-valve", "0.7"), ask("primer-press"), "runs-back", "")
}

// An engine that was seen to leak fuel is not started until it is mended; one that
// nobody has looked over is not held against anybody.
func TestLeakIsMendedBeforeAStart(t *testing.T) {
	for _, c := range []struct{ family, hidden, repair string }{
		{"f4-bowl", fault("line-cracked", "0.7"), `{"repair":"replace","reach":"fuel-line"},`},
		{"f4-bail", fault("bowl-gasket-weep", "0.7"), `{"repair":"refit","reach":"bowl"},`},
		{stroke, fault("grommet-weep", "0.9"), `{"repair":"replace","reach":"fuel-line"},`},
	} {
		skipped := func(events string) []string {
			in := `{"machine":"` + c.family + `","technique":"as-set","faults":[` + c.hidden + `],"events":[` + events + `]}`
			out, err := Simulate(strings.NewReader(in))
			require.NoError(t, err)
			return last(out.Observations).Skipped
		}
		look := ask("look-over") + ","
		assert.NotContains(t, skipped(start), "leak-mended", c.family)
		assert.Contains(t, skipped(look+start), "leak-mended", c.family)
		assert.NotContains(t, skipped(look+c.repair+start), "leak-mended", c.family)
	}
}
