package sim

import (
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
)

// lived runs events on a machine of a family with figures of its sheet
// changed, and gives what was seen and how it stands at the end.
func lived(t testing.TB, family, sheet, faults, events string) *SimOutput {
	in := `{"machine":"` + family + `","noise":false,"sheet":{` + sheet + `},"faults":[` + faults + `],"events":[` + events + `]}`
	out, err := Simulate(strings.NewReader(in))
	require.NoError(t, err, in)
	return out
}

func items(left []bench.Left) (out []string) {
	for _, l := range left {
		out = append(out, l.Item)
	}
	return out
}

// The side that the sheet lets up pays in full when it lies down instead.
// Source: common practice.
func TestTheWrongSideUpHasItsPrice(t *testing.T) {
	lay := func(way string) string { return `{"control":{"tilt":"` + way + `"}},{"control":{"tilt":"level"}}` }
	plugUp, filterUp := `"tip_side_up":{"word":"plug"}`, `"tip_side_up":{"word":"filter"}`
	wrong := lived(t, four2, filterUp, "", lay("filter-down")+","+ask("look-filter"))
	right := lived(t, four2, filterUp, "", lay("plug-down")+","+ask("look-filter"))
	assert.NotEqual(t, *last(right.Observations).Word, *last(wrong.Observations).Word)
	assert.Contains(t, items(wrong.State.NotReady), "intake-filter")
	flooded := lived(t, four2, plugUp, "", lay("plug-down"))
	half := lived(t, four2, filterUp, "", lay("plug-down"))
	assert.Less(t, flooded.State.BowlML, half.State.BowlML)
	assert.Equal(t, "wet", flooded.State.Plug)
	// A plug that has fouled with oil, and a bore that reads high for a while.
	assert.Equal(t, "oily", lived(t, four2, "", "", lay("breather-down")).State.Plug)
	assert.Greater(t, reads(t, four2, "", lay("breather-down")+","+dry), reads(t, four2, "", dry)*1.03)
	// A needle that leaks under its tank fills the cylinder in a night: the crank
	// does not turn until what stands there is thrown out.
	night := `{"wait_min":720}`
	says(t, four2, fault("needle-leaks", "1"), night+","+start, "locked", "liquid does not yield")
	out := lived(t, four2, "", fault("needle-leaks", "1"), night)
	assert.Contains(t, items(out.State.NotReady), "cylinder")
	says(t, four2, fault("needle-leaks", "1"), night+`,{"act":"spin-out"},`+ask("pull-feel"), "strong|soft", "spun out")
}

// A carburettor that lifts its fuel fills when tipped only with a tank over
// half full. Source: common practice.
func TestTiltPrime(t *testing.T) {
	prime := func(ml string) *SimOutput {
		in := `{"machine":"f4-suction","noise":false,"fuel_ml":` + ml + `,"faults":[` + fault("pickup-blocked", "1") + `],"events":[{"act":"tilt-prime"}]}`
		out, err := Simulate(strings.NewReader(in))
		require.NoError(t, err)
		return out
	}
	assert.Greater(t, prime("1100").State.BowlML, prime("200").State.BowlML)
	_, err := Simulate(strings.NewReader(`{"machine":"f4-bowl","events":[{"act":"tilt-prime"}]}`))
	var p *problem.Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, "events[0].act", p.Path)
}

// Fuel that runs out is less with a clamp or a shut valve, and lies about
// until it is wiped up or a can was set under it.
func TestSpills(t *testing.T) {
	open := `{"cover":"lineoff"}`
	free := lived(t, four2, "", "", open).State
	assert.Less(t, lived(t, four2, "", "", `{"control":{"line_clamp":"on"}},`+open).State.SpiltML, free.SpiltML)
	assert.Less(t, lived(t, four2, "", "", `{"control":{"fuel_valve":"shut"}},`+open).State.SpiltML, free.SpiltML)
	assert.Less(t, lived(t, four2, "", "", `{"act":"catch-can"},`+open).State.SpiltML, 1.0)
	assert.Contains(t, items(free.NotReady), "spill")
	assert.NotContains(t, items(lived(t, four2, "", "", open+`,{"act":"wipe-spill"}`).State.NotReady), "spill")
	// A clamp left on starves it.
	left, err := Simulate(strings.NewReader(`{"machine":"f4-bowl","noise":false,"technique":"as-set",` +
		`"events":[{"control":{"line_clamp":"on"}},{"test":"run-long","minutes":20,"choke":1}]}`))
	require.NoError(t, err)
	assert.Contains(t, []string{"died-away", "fires-and-dies", "no-fire"}, *last(left.Observations).Word, "a clamp left on")
}

// What stays tied, loose, shut or off is told when the machine goes back.
func TestWhatIsLeftIsTold(t *testing.T) {
	for set, item := range map[string]string{
		`{"control":{"bar":"tied"}}`: "bar", `{"control":{"cap":"loose"}}`: "cap", `{"control":{"plug_lead":"off"}}`: "plug_lead",
		`{"control":{"kill_lead":"off"}}`: "kill_lead",
		`{"control":{"switch":"stop"}}`:   "switch", `{"act":"block-driven"}`: "block-driven", `{"cover":"plugout"}`: "plugout",
		`{"control":{"tilt":"plug-down"}}`: "tilt",
	} {
		assert.Contains(t, items(lived(t, bail, "", "", set).State.NotReady), item, set)
	}
	assert.Empty(t, lived(t, bail, "", fault("plug-fouled", "1"),
		start+`,{"repair":"replace","reach":"plug"},{"cover":"plugout","off":false},`+start).State.NotReady)
	assert.NotContains(t, items(lived(t, bail, "", "", `{"act":"block-driven"},{"act":"block-driven"}`).State.NotReady), "block-driven",
		"a block that is in comes out again")
	// A bar tied back runs on when let go, which is why it must not stay so.
	says(t, bail, "", `{"control":{"bar":"tied"}},`+start, "runs-well", "the bar is tied")
}

// Only where there is heat to lose is there anything to wait for.
func TestWarmingUpAndCoolingDown(t *testing.T) {
	warm := lived(t, four2, "", "", `{"act":"warm-up"}`).State
	assert.Greater(t, warm.EngineC, 40.0)
	cool := lived(t, four2, "", "", `{"act":"warm-up"},{"act":"cool-down"}`).State
	assert.Less(t, cool.EngineC, bench.CoolC+1.0)
	assert.Greater(t, cool.Minutes, warm.Minutes+10)
	assert.Less(t, lived(t, four2, "", fault("tank-empty", "1"), `{"act":"warm-up"}`).State.EngineC, 30.0)
}

// The sheet says which variant of its family a machine is, and the variant has
// faults, tests and ways of its own.
func TestVariantsBehave(t *testing.T) {
	// A thermostat choke works itself: nobody sets it, and it opens as it warms.
	auto := `"starting_aid":{"word":"thermostat-choke"}`
	assert.Equal(t, "runs-well", *last(lived(t, bail, auto, "", start).Observations).Word)
	assert.Equal(t, "runs-well", *last(lived(t, bail, auto, "", `{"act":"warm-up"},`+start).Observations).Word)
	cat := catalogue.Standard()
	with := func(word string) catalogue.Sheet {
		s := maps.Clone(cat.Family(tank).Sheet)
		s["ignition"] = catalogue.Figure{Word: word}
		return s
	}
	points, solid := with("points"), with("solid-state")
	has := func(s catalogue.Sheet, id string) bool {
		return slices.ContainsFunc(cat.FaultsOf("f4-suction", s), func(f catalogue.Fault) bool { return f.ID == id })
	}
	assert.True(t, has(points, "points-oxidised"))
	assert.False(t, has(solid, "points-oxidised"))
	says(t, tank, fault("points-oxidised", "1"), start, "no-fire", "points that do not conduct")
	// A solenoid that stays shut: only where the sheet has one.
	_, err := Simulate(strings.NewReader(`{"machine":"f4-bowl","sheet":{"fuel_cut":{"word":"none"}},"faults":[{"id":"fuel-cut-stuck"}]}`))
	var p *problem.Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, "faults[0].id", p.Path)
}

// Each improvised repair does what it is said to, for better and for worse.
// Source: common practice.
func TestImprovisedRepairs(t *testing.T) {
	by := func(id string) string { return `{"repair":"` + id + `"}` }
	blocked := fault("main-jet-blocked", "0.6")
	says(t, four2, blocked, by("soft-wire")+`,{"cover":"bowlopen","off":false},{"wait_min":2},`+start, "runs-well", "soft wire clears a jet")
	says(t, four2, blocked, by("drill-jet")+`,{"cover":"bowlopen","off":false},{"wait_min":2},`+start, "very-rich|rich-smoky", "a drilled jet is rich")
	says(t, four2, fault("cap-vent-blocked", "1"), by("drill-vent")+`,{"test":"run-long","minutes":20}`, "runs-well", "a drilled cap breathes")
	says(t, four2, fault("plug-fouled", "1"), by("sand-plug")+`,{"cover":"plugout","off":false},`+start, "runs-well|low-power|hunts|stalls-at-idle",
		"ground clean it fires")
	over := on(t, four2, fault("governor-spring-off", "1"), by("shorten-spring")+","+ask("run-full"))
	assert.Greater(t, *last(over).Value, 3800.0, "a short spring overspeeds")
	for _, c := range [][3]string{
		{four2, "drill-jet", "jet-oversize"}, {four2, "drill-vent", "vent-drilled"}, {four2, "peen-key", "key-peened"}, {four2, "sand-plug", "plug-gritted"},
		{four2, "shorten-spring", "governor-overspeed"}, {stroke, "remove-limiters", "limiters-off"},
	} {
		assert.Contains(t, items(lived(t, c[0], "", "", by(c[1])).State.NotReady), c[2], c[1])
	}
	// A peened key creeps as it runs, and the timing goes late again.
	peened := fault("key-sheared", "0.35")
	says(t, four2, peened, by("peen-key")+`,{"cover":"flyoff","off":false},{"cover":"shroud","off":false},`+start, "runs-well", "peened it runs")
	says(t, four2, peened,
		by("peen-key")+`,{"cover":"flyoff","off":false},{"cover":"shroud","off":false},{"test":"run-long","minutes":60},{"test":"run-long",`+
			`"minutes":60},`+start, "low-power|bogs|kicks-back|spits-back|no-fire", "and shears again")
}

// Mishaps and failures of work come as often as the catalogue says, within
// four standard errors, and the same for the same seed.
func TestChancesOfWork(t *testing.T) {
	const n = 2000
	screw, torn := 0, 0
	for seed := range n {
		s, err := bench.NewSession(four2, catalogue.Standard().Family(four2).Sheet, machine.Ambient{TemperatureC: 20},
			[]machine.FaultSpec{{ID: "filter-clogged", Severity: 0.8}}, bench.Options{Noise: true, Seed: uint64(seed), FuelML: -1})
		require.NoError(t, err)
		s.Repair("strip-clean", "jets", bench.GradeMaker)
		_, took := s.Repair("blow-out-filter", "intake-filter", bench.GradeMaker)
		again := s.Clone()
		assert.Equal(t, s.NotReady(), again.NotReady())
		for _, f := range s.Machine().Faults() {
			switch f.ID {
			case "screw-lost":
				screw++
			case "filter-clogged":
				assert.False(t, took)
				torn++
			}
		}
	}
	near := func(got int, p float64, what string) {
		assert.InDelta(t, p, float64(got)/n, 4*math.Sqrt(p*(1-p)/n), what)
	}
	near(screw, 0.02, "a lost screw")
	near(torn, 0.30, "a filter not blown clean")
}

// An owner tells what led to it two times in three, and never what did not.
func TestOwnersTellTheCause(t *testing.T) {
	for cause, word := range map[string]string{"struck-object": "struck", "wrong-fuel": "wrong-fuel", "stored-with-fuel": "stored"} {
		fault := map[string]string{"struck-object": "key-sheared", "wrong-fuel": "fuel-ethanol-high", "stored-with-fuel": "fuel-stale"}[cause]
		o := on(t, four2, `{"id":"`+fault+`","severity":0.6,"cause":"`+cause+`"}`, ask("ask-history"))
		assert.Equal(t, word, *last(o).Word)
	}
	assert.Equal(t, "nothing-told", *last(on(t, four2, "", ask("ask-history"))).Word)
}

// What is heard fits what is wrong. Source: common practice.
func TestSounds(t *testing.T) {
	for _, c := range []struct{ family, faults, sound string }{
		{four2, "", "even"}, {four2, fault("head-gasket-leaks", "0.6"), "hiss"}, {four2, fault("carb-mount-loose", "0.8"), "surging"},
		{four2, fault("choke-stuck-shut", "1"), "lumpy"}, {four2, way("key-sheared", "0.35", "advanced"), "bang"},
		{four2, way("key-sheared", "0.35", "retarded"), "pops"},
		{four2, fault("tank-empty", "1"), "none"}, {four2, fault("seized", "1"), "none"}, {four2, fault("intake-valve-leaks", "1"), "spit"},
		{stroke, fault("arrestor-clogged", "0.6"), "labouring"},
	} {
		assert.Equal(t, c.sound, last(on(t, c.family, c.faults, start)).Also["sound"], "%s %s", c.family, c.faults)
	}
}

// Source: 16 CFR 1205 (US): the blade of a walk-behind mower stops within 3.0 s
// of letting go.
func TestBladeStops(t *testing.T) {
	assert.LessOrEqual(t, reads(t, bail, "", ask("bar-stop")), 3.0)
	assert.Equal(t, true, last(on(t, bail, "", `{"control":{"bar":"tied"}},`+ask("bar-stop"))).Also["over_limit"], "tied back it runs on")
	assert.Zero(t, reads(t, bail, fault("tank-empty", "1"), ask("bar-stop")), "what does not run stands")
	assert.Greater(t, reads(t, bail, fault("governor-overspeed", "1"), ask("bar-stop")), reads(t, bail, "", ask("bar-stop")), "faster, longer")
}

// What comes and goes comes and goes by the seed, and the same each time.
func TestIntermittents(t *testing.T) {
	met := func(faults, events string) map[string]int {
		words := map[string]int{}
		for seed := range 60 {
			in := `{"machine":"f4-bowl","seed":` + strconv.Itoa(seed) + `,"faults":[` + faults + `],"events":[` + events + `]}`
			out, err := Simulate(strings.NewReader(in))
			require.NoError(t, err)
			again, err := Simulate(strings.NewReader(in))
			require.NoError(t, err)
			require.Equal(t, out, again)
			words[toWord(last(out.Observations))]++
		}
		return words
	}
	// A chafed wire: it starts two times in three, and the tester agrees only now
	// and then; worn through, it never starts.
	chafed := met(fault("kill-wire-earthed", "0.3"), start)
	assert.Greater(t, chafed["runs-well"], 20)
	assert.Greater(t, chafed["no-fire"], 8)
	tester := met(fault("kill-wire-earthed", "0.3"), spark)
	assert.Greater(t, tester["0"], 8)
	assert.Less(t, tester["0"], 40)
	assert.Equal(t, 60, met(fault("kill-wire-earthed", "1"), start)["no-fire"])
	// With its lead off the wire cannot earth it.
	assert.Zero(t, met(fault("kill-wire-earthed", "0.5"), `{"test":"spark-kill-off"}`)["0"])
	// Water comes in slugs: when it falters differs from run to run.
	falters := map[any]bool{}
	for seed := range 20 {
		out, err := Simulate(strings.NewReader(`{"machine":"f4-bowl","seed":` + strconv.Itoa(seed) + `,"faults":[` + fault("fuel-water", "0.5") +
			`],"events":[{"test":"run-long","minutes":20}]}`))
		require.NoError(t, err)
		falters[last(out.Observations).Also["minutes_to_falter"]] = true
	}
	assert.Greater(t, len(falters), 3)
	// A hot coil dies when hot, comes back when cold, each time.
	hot := fault("coil-fails-hot", "0.8")
	run := `{"test":"run-long","minutes":30}`
	for range 2 {
		says(t, four2, hot, run, "stopped-dead", "hot")
		says(t, four2, hot, run+`,{"wait_min":60},`+run, "stopped-dead", "cold and hot again")
		says(t, four2, hot, run+`,{"wait_min":60},`+start, "runs-well", "cold")
	}
}

func toWord(o bench.Observation) string {
	if o.Word != nil {
		return *o.Word
	}
	return strconv.FormatFloat(*o.Value, 'g', -1, 64)
}

// A worn lining lets the blade turn on: sound below the limit, worn above it, and
// longer the more it is worn, whatever else is as it was. Source of the limit:
// 16 CFR 1205 (US).
func TestWornBrakeStopsLate(t *testing.T) {
	last := reads(t, bail, "", ask("bar-stop"))
	for _, s := range []string{"0.2", "0.4", "0.6", "0.8", "1"} {
		now := reads(t, bail, fault("brake-worn", s), ask("bar-stop"))
		assert.Greater(t, now, last, s)
		last = now
	}
	assert.Greater(t, reads(t, bail, fault("brake-worn", "0.7"), ask("bar-stop")), 3.0)
	assert.Less(t, last, 30.0, "friction stops it in the end, and on the watch")
	worn := on(t, bail, fault("brake-worn", "1"), start+","+ask("pull-feel"))
	assert.Equal(t, "runs-well", toWord(worn[0]), "it runs as before")
	assert.NotEqual(t, "drags", toWord(worn[1]))
	mended := on(t, bail, fault("brake-worn", "1"), `{"repair":"rebuild","reach":"turning"},`+ask("bar-stop"))
	assert.LessOrEqual(t, *mended[len(mended)-1].Value, 3.0)
}

// A burnt valve leaks past the exhaust, oil in the bore does not help, it is worse
// when hot, and its edge is seen with the head off. Source: common practice.
func TestBurntValve(t *testing.T) {
	for _, family := range []string{four2, bail, tank} {
		for _, s := range []string{"0.4", "0.7", "1"} {
			burnt := fault("valve-burnt", s)
			leak := on(t, family, burnt, ask("leak-down"))
			assert.Equal(t, "exhaust", leak[0].Also["hiss"], "%s %s", family, s)
			dry, wet := reads(t, family, burnt, ask("compression-dry")), reads(t, family, burnt, ask("compression-wet"))
			assert.Less(t, dry, reads(t, family, "", ask("compression-dry")), "%s %s", family, s)
			assert.Less(t, wet/dry, 1.3, "%s %s: oil does not seal a valve", family, s)
			assert.Equal(t, "valve-burnt", *last(on(t, family, burnt, ask("head-look"))).Word, "%s %s", family, s)
		}
		assert.Equal(t, "sound", *last(on(t, family, "", ask("head-look"))).Word)
		assert.Equal(t, "valve-open", *last(on(t, family, fault("exhaust-valve-stuck", "1"), ask("head-look"))).Word)
		assert.Equal(t, "runs-well", *last(on(t, family, fault("valve-burnt", "1"), `{"repair":"replace","reach":"valves"},`+start)).Word)
	}
}
