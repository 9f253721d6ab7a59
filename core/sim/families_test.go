package sim

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/problem"
	"zanjero/core/reading"
)

const (
	four2  = "f4-bowl"
	bail   = "f4-bail"
	tank   = "f4-suction"
	stroke = "t2-diaphragm"
)

// on runs events on a machine of a family.
func on(t testing.TB, family, faults, events string) []bench.Observation {
	in := `{"machine":"` + family + `","noise":false,"faults":[` + faults + `],"events":[` + events + `]}`
	out, err := Simulate(strings.NewReader(in))
	require.NoError(t, err, in)
	return out.Observations
}

func way(id, severity, mode string) string {
	return `{"id":"` + id + `","severity":` + severity + `,"mode":"` + mode + `"}`
}

func ask(test string) string { return `{"test":"` + test + `"}` }

// The catalogue and the bench hold each other's ends: every test has a reader,
// every fault a law on each of its families, and each fault at full severity
// is told from a sound machine by some test of its family.
func TestEveryFaultIsFound(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	cat := catalogue.Standard()
	for _, fam := range cat.Families {
		sound := map[string]string{}
		tests := cat.TestsOf(fam.ID, nil)
		var events []string
		for _, x := range tests {
			require.True(t, reading.HasReader(x.ID), x.ID)
			events = append(events, ask(x.ID))
		}
		see := func(faults string) map[string]string {
			out := map[string]string{}
			for i, e := range events {
				made, err := Simulate(strings.NewReader(`{"machine":"` + fam.ID + `","noise":false,"faults":[` + faults + `],"events":[` + e + `]}`))
				if err != nil { // no one variant has this test and this fault
					require.ErrorContains(t, err, "sim.no-such-variant")
					out[tests[i].ID] = sound[tests[i].ID]
					continue
				}
				o := made.Observations[0]
				raw, err := json.Marshal([]any{o.Word, o.Value, o.Also["hiss"], o.Also["with"], o.Also["smoke"], o.Also["faces"], o.Also["needle"], o.Also["limiters"]})
				require.NoError(t, err)
				out[tests[i].ID] = string(raw)
			}
			return out
		}
		sound = see("")
		for _, f := range cat.FaultsOf(fam.ID, nil) {
			seen := see(fault(f.ID, "1"))
			found := slices.ContainsFunc(tests, func(x catalogue.Test) bool { return seen[x.ID] != sound[x.ID] })
			assert.True(t, found, "%s on %s is told by no test", f.ID, fam.ID)
		}
	}
}

// What a practitioner expects on each family that has it. Written from the
// trade (common practice); a list of words where practice allows more than one.
func TestTradeOnEveryFamily(t *testing.T) {
	for _, c := range []struct{ family, faults, events, want string }{
		// sound engines
		{bail, "", start, "runs-well"}, {tank, "", start, "runs-well"}, {stroke, "", start, "runs-well"},
		{bail, "", `{"test":"run-long","minutes":30}`, "runs-well"}, {tank, "", `{"test":"run-long","minutes":30}`, "runs-well"},
		{stroke, "", `{"test":"run-long","minutes":30}`, "runs-well"},
		// full blockage of any fuel part: no fire
		{four2, fault("valve-shut", "1"), start, "no-fire"}, {four2, fault("tank-empty", "1"), start, "no-fire"},
		{four2, fault("needle-stuck-shut", "1"), start, "no-fire"},
		{four2, fault("filter-blocked", "1"), start, "no-fire"}, {four2, fault("fuel-cut-stuck", "1"), start, "no-fire"},
		{bail, fault("main-jet-blocked", "1"), start, "no-fire"},
		{tank, fault("pickup-blocked", "1"), start, "no-fire"}, {stroke, fault("pump-diaphragm", "1"), start, "no-fire"},
		{stroke, fault("pulse-blocked", "1"), start, "no-fire"},
		{stroke, fault("pickup-off", "1"), start, "no-fire"}, {stroke, way("metering-diaphragm", "1", "torn"), start, "no-fire"},
		{stroke, fault("line-cracked", "1"), start, "no-fire"},
		// every way to run only on choke
		{four2, fault("main-jet-blocked", "0.5"), start, "runs-only-on-choke"}, {four2, fault("emulsion-blocked", "0.8"), start, "runs-only-on-choke"},
		{four2, fault("bowl-debris", "1"), start, "runs-only-on-choke"},
		{stroke, fault("main-jet-blocked", "0.5"), start, "runs-only-on-choke"}, {stroke, fault("filter-blocked", "0.6"), start, "runs-only-on-choke"},
		{stroke, fault("line-cracked", "0.6"), start, "runs-only-on-choke"},
		{stroke, fault("pump-cover-loose", "0.6"), start, "runs-only-on-choke|bogs"},
		{stroke, way("metering-diaphragm", "0.6", "torn"), start, "runs-only-on-choke"}, {stroke, way("screw-lean", "0.6", "main"), start, "runs-only-on-choke"},
		// rich, flooded, fouled
		{four2, fault("needle-leaks", "1"), start, "very-rich"}, {four2, fault("float-sunk", "1"), start, "very-rich"},
		{four2, fault("choke-stuck-shut", "1"), start, "very-rich"},
		{stroke, fault("needle-leaks", "0.8"), start, "very-rich"}, {stroke, way("screw-rich", "0.6", "main"), start, "rich-smoky|very-rich"},
		{four2, fault("plug-fouled", "1"), start, "no-fire"},
		// weak spark: seen in air, fails under pressure
		{four2, fault("coil-weak", "1"), start, "no-fire"}, {four2, fault("coil-weak", "1"), ask("spark-plug-earthed"), "faint|orange"},
		{four2, fault("gap-wide", "1"), start, "no-fire"},
		{four2, fault("boot-loose", "1"), start, "no-fire"}, {four2, fault("plug-cracked", "1"), ask("spark-plug-earthed"), "blue"},
		{stroke, fault("gap-wide", "1"), start, "no-fire"},
		// earthed, open, hot
		{four2, fault("kill-wire-earthed", "1"), start, "no-fire"}, {four2, fault("oil-low-cutout", "1"), start, "no-fire"},
		{four2, fault("oil-low-cutout", "1"), ask("oil-lead-off"), "blue"},
		{four2, fault("oil-low-cutout", "1"), ask("oil-restore-run"), "runs-well"},
		{four2, fault("oil-sensor-failed", "1"), ask("oil-restore-run"), "no-fire"}, {four2, fault("oil-low-cutout", "1"), ask("look-oil"), "low"},
		{four2, fault("coil-fails-hot", "0.8"), `{"test":"run-long","minutes":20}`, "stopped-dead"}, {four2, fault("coil-fails-hot", "0.8"), start, "runs-well"},
		{four2, fault("coil-swarf", "1"), start, "no-fire"}, {bail, fault("bar-cable-slack", "1"), start, "no-fire"},
		{bail, "", `{"test":"start-attempt","bar":"released"}`, "no-fire"},
		// timing
		{four2, way("key-sheared", "0.35", "advanced"), start, "kicks-back"}, {four2, way("key-sheared", "0.35", "retarded"), start, "low-power"},
		{four2, way("key-sheared", "1", "retarded"), start, "no-fire"},
		{four2, fault("key-sheared", "0.5"), ask("key-look"), "sheared"}, {four2, fault("flywheel-misindexed", "0.5"), ask("key-look"), "whole"},
		// wear, valve, gasket
		{four2, fault("exhaust-valve-stuck", "1"), start, "no-fire"}, {four2, fault("head-gasket-leaks", "1"), ask("head-look"), "gasket-track"},
		{stroke, fault("rings-worn", "1"), start, "no-fire|stalls-at-idle"},
		{stroke, fault("bore-scored", "0.8"), ask("look-piston"), "scored"}, {four2, fault("intake-valve-leaks", "1"), start, "spits-back"},
		// crankcase, joints, air
		{stroke, fault("crank-seal-leaks", "1"), start, "bogs|hunts|stalls-at-idle|runs-only-on-choke"},
		{four2, fault("carb-mount-loose", "0.8"), start, "hunts|stalls-at-idle"}, {four2, fault("carb-mount-loose", "0.8"), ask("joint-leak"), "changes"},
		{four2, fault("choke-stuck-open", "1"), start, "no-fire"}, {four2, fault("choke-stuck-open", "1"), ask("look-choke"), "does-not-close"},
		{four2, fault("governor-spring-off", "1"), start, "bogs"},
		// exhaust
		{stroke, fault("arrestor-clogged", "0.6"), start, "low-power|bogs"},
		{stroke, fault("arrestor-clogged", "0.6"), ask("muffler-off-run"), "runs-well"}, {stroke, fault("exhaust-port-carbon", "0.6"), start, "low-power|bogs"},
		// primers
		{bail, fault("primer-failed", "1"), start, "no-fire"}, {bail, fault("primer-failed", "0.6"), ask("primer-press"), "hard"},
		// turning
		{four2, fault("seized", "1"), start, "locked"}, {four2, fault("recoil-broken", "1"), ask("pull-feel"), "none"},
		{four2, fault("rod-broken", "1"), ask("pull-feel"), "none"}, {bail, "", `{"test":"pull-feel","bar":"released"}`, "drags"},
		// a defect that is not the cause
		{four2, fault("bowl-gasket-weep", "0.6"), start, "runs-well"}, {stroke, fault("grommet-weep", "0.6"), start, "runs-well"},
		{four2, fault("grommet", "0")[:0], start, "runs-well"},
		// two at once: the second shows once the first is cured
		{four2, fault("coil-swarf", "1") + "," + fault("main-jet-blocked", "0.5"), start, "no-fire"},
		{four2, fault("coil-swarf", "1") + "," + fault("main-jet-blocked", "0.5"), `{"repair":"clean","reach":"air-gap"},` + start, "runs-only-on-choke"},
	} {
		got := *last(on(t, c.family, c.faults, c.events)).Word
		assert.Contains(t, strings.Split(c.want, "|"), got, "%s: %s: %s", c.family, c.faults, c.events)
	}
}

// What must stay apart has a test that parts it.
func TestWhatMustStayApart(t *testing.T) {
	value := func(family, faults, test string) float64 {
		o := last(on(t, family, faults, ask(test)))
		require.NotNil(t, o.Value, "%s %s", faults, test)
		return *o.Value
	}
	assert.Zero(t, value(four2, fault("coil-swarf", "1"), "spark-gap"))
	assert.Greater(t, value(four2, fault("plug-fouled", "1"), "spark-gap"), 12.0, "the tester bypasses the plug")
	assert.Zero(t, value(four2, fault("kill-wire-earthed", "1"), "spark-gap"))
	assert.Greater(t, value(four2, fault("kill-wire-earthed", "1"), "spark-kill-off"), 12.0)
	assert.Less(t, value(four2, fault("needle-stuck-shut", "1"), "bowl-drain"), 2.0)
	assert.Greater(t, value(four2, fault("main-jet-blocked", "1"), "bowl-drain"), 20.0)
	assert.Less(t, value(stroke, fault("crank-seal-leaks", "0.6"), "crankcase-pressure"), 30.0)
	assert.Greater(t, value(stroke, fault("carb-gasket-leak", "0.6"), "crankcase-pressure"), 40.0)
	assert.Greater(t, value(four2, fault("gap-wide", "0.8"), "air-gap"), 0.9)
	assert.InDelta(t, 0.3, value(four2, fault("magnet-weak", "0.8"), "air-gap"), 0.02)
	assert.Greater(t, value(four2, fault("rings-worn", "0.8"), "leak-down"), 3*value(four2, "", "leak-down"))
	assert.Equal(t, "exhaust", last(on(t, four2, fault("exhaust-valve-stuck", "0.8"), ask("leak-down"))).Also["hiss"])
	// The vent hisses straight after it falters, and is silent later.
	vent := fault("cap-vent-blocked", "1")
	assert.Equal(t, "hiss", *last(on(t, four2, vent, `{"test":"run-long","minutes":15},`+ask("vent-hiss"))).Word)
	assert.Equal(t, "silent", *last(on(t, four2, fault("filter-blocked", "0.9"), `{"test":"run-long","minutes":15},`+ask("vent-hiss"))).Word)
}

// Acts change the machine, and can mislead.
func TestActsChangeState(t *testing.T) {
	// The element out changes nothing on a sound engine, for the housing stays.
	o := on(t, four2, "", ask("look-filter")+","+start)
	assert.Equal(t, "runs-well", *last(o).Word)
	// A jet cleaned without its bowl blocks again; with its bowl it stays clear.
	dirty := fault("main-jet-blocked", "0.8") + "," + fault("bowl-debris", "0.3")
	look, clean := ask("jet-look"), `{"repair":"clean","reach":"jets"}`
	run := `{"test":"run-long","minutes":20,"load":"none"}`
	assert.Equal(t, "part", *last(on(t, four2, dirty, clean+","+run+","+look)).Word)
	assert.Equal(t, "daylight", *last(on(t, four2, dirty, clean+`,{"repair":"clean","reach":"bowl"},`+run+","+look)).Word)
	// Pre-mix without oil fades as it runs, and leaves its mark.
	dryBefore, dryAfter := *last(on(t, stroke, fault("premix-no-oil", "0.3"), dry)).Value, *last(on(t, stroke, fault("premix-no-oil", "0.3"),
		`{"test":"run-long","minutes":20},`+dry)).Value
	assert.Less(t, dryAfter, dryBefore)
	// A tachometer told two pulses a turn reads half.
	full := *last(on(t, four2, "", ask("run-full"))).Value
	assert.InDelta(t, full/2, *last(on(t, four2, "", `{"test":"run-full","pulses_per_rev":2}`)).Value, 20)
	// Leak-down off top dead centre finds a valve that stands open.
	assert.Greater(t, *last(on(t, four2, "", `{"test":"leak-down","at_tdc":false}`)).Value, 95.0)
}

func TestContradictoryFaultsAreRefused(t *testing.T) {
	for in, path := range map[string]string{
		`{"machine":"f4-bowl","faults":[{"id":"choke-stuck-open"},{"id":"choke-stuck-shut"}]}`: "faults[1].id",
		`{"machine":"f4-bowl","faults":[{"id":"pump-diaphragm"}]}`:                             "faults[0].id",
		`{"machine":"f4-bowl","faults":[{"id":"key-sheared","mode":"sideways"}]}`:              "faults[0].mode",
		`{"machine":"f4-bail","events":[{"test":"needle-test"}]}`:                              "events[0].test",
		`{"machine":"t2-diaphragm","events":[{"repair":"replace","reach":"valves"}]}`:          "events[0].reach",
	} {
		_, err := Simulate(strings.NewReader(in))
		var p *problem.Problem
		if assert.ErrorAs(t, err, &p, in) {
			assert.Equal(t, path, p.Path)
		}
	}
}
