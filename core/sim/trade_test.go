package sim

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"zanjero/core/bench"
	"zanjero/core/problem"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// sim runs events, as JSON, on a machine with faults, and gives what was seen.
func sim(t testing.TB, faults, events, more string) []bench.Observation {
	in := `{"machine":"f4-bowl","noise":false,"faults":[` + faults + `],"events":[` + events + `]` + more + `}`
	out, err := Simulate(strings.NewReader(in))
	require.NoError(t, err, in)
	return out.Observations
}

func last(o []bench.Observation) bench.Observation { return o[len(o)-1] }

const (
	start = `{"test":"start-attempt"}`
	dry   = `{"test":"compression-dry"}`
	wet   = `{"test":"compression-wet"}`
	spark = `{"test":"spark-gap"}`
	flow  = `{"test":"fuel-flow"}`
	dose  = `{"test":"dose-intake"}`
	plug  = `{"test":"plug-look"}`
)

func fault(id string, severity string) string {
	return `{"id":"` + id + `","severity":` + severity + `}`
}

// What a practitioner expects to be told in words. Source: common practice.
func TestTradeWords(t *testing.T) {
	for _, c := range []struct{ name, faults, events, want string }{
		{"a healthy engine starts and runs", "", start, "runs-well"},
		{"a healthy engine does not start cold without choke", "", `{"test":"start-attempt","choke":0}`, "no-fire"},
		{"a part-blocked jet runs only on choke", fault("main-jet-blocked", "0.6"), start, "runs-only-on-choke"},
		{"and dies when the choke opens", fault("main-jet-blocked", "0.6"), `{"test":"run-choke-off"}`, "dies"},
		{"a fully blocked jet does not run", fault("main-jet-blocked", "1"), start, "no-fire"},
		{"choke or not", fault("main-jet-blocked", "1"), `{"test":"start-attempt","choke":0}`, "no-fire"},
		{"it fires on a dose and dies", fault("main-jet-blocked", "1"), dose, "fires-and-dies"},
		{"its plug stays dry", fault("main-jet-blocked", "1"), start + "," + plug, "dry"},
		{"the jet shows no light", fault("main-jet-blocked", "1"), `{"test":"jet-look"}`, "none"},
		{"or part of it", fault("main-jet-blocked", "0.5"), `{"test":"jet-look"}`, "part"},
		{"a clean one shows daylight", "", `{"test":"jet-look"}`, "daylight"},
		{"no spark, no fire", fault("coil-secondary-open", "1"), start, "no-fire"},
		{"a dose does nothing without spark", fault("coil-secondary-open", "1"), dose, "nothing"},
		{"cranking without spark wets the plug", fault("coil-secondary-open", "1"), start + "," + plug, "wet"},
		{"but it dries if it waits", fault("coil-secondary-open", "1"), start + `,{"wait_min":45},` + plug, "dry"},
		{"a switch in STOP gives no fire", fault("switch-off", "1"), start, "no-fire"},
		{"a master's set-up does not undo it", fault("switch-off", "1"), `{"test":"look-switches"}`, "stop"},
		{"putting it to RUN does", fault("switch-off", "1"), `{"control":{"switch":"run"}},` + start, "runs-well"},
		{"slight wear still runs", fault("rings-worn", "0.1"), start, "runs-well"},
		{"a worn-out bore does not start", fault("rings-worn", "1"), start, "no-fire"},
		{"a blocked vent starts well", fault("cap-vent-blocked", "0.95"), start, "runs-well"},
		{"and starves under load", fault("cap-vent-blocked", "0.95"), `{"test":"run-long","minutes":20}`, "died-away"},
		{"it restarts after a rest", fault("cap-vent-blocked", "0.95"), `{"test":"run-long","minutes":20},{"wait_min":12},` + start, "runs-well"},
		{"and runs on with the cap loose", fault("cap-vent-blocked", "1"), `{"control":{"cap":"loose"}},{"test":"run-long","minutes":20}`, "runs-well"},
		{"a healthy engine runs the half hour", "", `{"test":"run-long","minutes":30}`, "runs-well"},
		{"cleaning the jet cures it", fault("main-jet-blocked", "0.8"), `{"repair":"clean","reach":"jets"},` + start, "runs-well"},
		{"fitting a plug does not", fault("main-jet-blocked", "0.8"), `{"repair":"replace","reach":"plug"},` + start, "no-fire"},
		{"the second fault shows once the first is cured", fault("coil-secondary-open", "1") + "," + fault("main-jet-blocked", "0.6"),
			`{"repair":"replace","reach":"coil"},` + start, "runs-only-on-choke"},
		{"a flooding dose does not fire", fault("main-jet-blocked", "1"), `{"test":"dose-intake","dose_ml":12}`, "nothing"},
	} {
		assert.Equal(t, c.want, *last(sim(t, c.faults, c.events, "")).Word, c.name)
	}
}

// What a practitioner expects to measure, within bands of the trade. Source:
// common practice; the healthy bands are the demo sheet's own.
func TestTradeNumbers(t *testing.T) {
	for _, c := range []struct {
		name, faults, events string
		low, high            float64
	}{
		{"healthy compression with a decompressor", "", dry, 55, 75},
		{"worn out", fault("rings-worn", "1"), dry, 10, 35},
		{"good magneto spark", "", spark, 12, 16},
		{"an open secondary gives none", fault("coil-secondary-open", "1"), spark, 0, 0},
		{"STOP gives none", "", `{"test":"spark-gap","switch":"stop"}`, 0, 0},
		{"a poor earth reads low", "", `{"test":"spark-gap","earth":"poor"}`, 4, 10},
		{"a slow pull reads low", "", `{"test":"spark-gap","pull":"slow"}`, 3, 11},
		{"throttle shut costs about 30 %", "", `{"test":"compression-dry","throttle":0}`, 38, 48},
		{"a gauge not zeroed reads high", "", `{"test":"compression-dry","zeroed":false}`, 65, 75},
		{"one pull is not enough", "", `{"test":"compression-dry","pulls":1}`, 45, 61.6},
		{"at 1500 m", "", dry, 49, 54},
		{"leads not nulled read high", "", `{"test":"coil-primary","leads_nulled":false}`, 1.4, 1.6},
		{"coil in band cold", "", `{"test":"coil-secondary"}`, 5.9, 7.7},
		{"flow at the carburettor", "", flow, 70, 110},
		{"a valve shut gives none", "", `{"test":"fuel-flow","fuel_valve":"shut"}`, 0, 0},
		{"flow with the line off cannot show a blocked vent", fault("cap-vent-blocked", "1"), flow, 70, 110},
		{"nor a blocked jet", fault("main-jet-blocked", "1"), flow, 70, 110},
		{"a wet bore still reads high dry", "", wet + "," + dry, 66, 80},
	} {
		more := ""
		if c.name == "at 1500 m" {
			more = `,"ambient":{"temperature_c":20,"altitude_m":1500}`
		}
		o := last(sim(t, c.faults, c.events, more))
		require.NotNil(t, o.Value, c.name)
		assert.GreaterOrEqual(t, *o.Value, c.low, c.name)
		assert.LessOrEqual(t, *o.Value, c.high, c.name)
	}
}

// Wet to dry: about 1.2 healthy, 1.7 to 2.7 with worn rings (common practice).
func TestWetToDryRatio(t *testing.T) {
	ratio := func(faults string) float64 {
		o := sim(t, faults, dry+","+wet, "")
		return *o[1].Value / *o[0].Value
	}
	assert.InDelta(t, 1.2, ratio(""), 0.05)
	assert.Greater(t, ratio(fault("rings-worn", "0.6")), 1.6)
	assert.Less(t, ratio(fault("rings-worn", "1")), 2.8)
}

// A vent fault comes on after minutes, sooner with more blockage, and opening
// the line at the carburettor relieves it for a while.
func TestVentTakesMinutes(t *testing.T) {
	falter := func(severity, before string) float64 {
		o := last(sim(t, fault("cap-vent-blocked", severity), before+`{"test":"run-long","minutes":30}`, ""))
		require.Contains(t, o.Also, "minutes_to_falter")
		return o.Also["minutes_to_falter"].(float64)
	}
	worse, bad := falter("1", ""), falter("0.95", "")
	assert.Greater(t, worse, 2.0)
	assert.Less(t, worse, 8.0)
	assert.Greater(t, bad, worse)
	// Run dry, then the line off and on: the tank has breathed.
	o := sim(t, fault("cap-vent-blocked", "1"),
		`{"test":"run-long","minutes":30},{"test":"run-long","minutes":30},`+flow+`,{"wait_min":3},{"test":"run-long","minutes":30}`, "")
	at := func(i int) float64 { return o[i].Also["ran_min"].(float64) }
	assert.Greater(t, at(3), at(1), "the opened line buys a run")
}

// A wrong set-up is called invalid, and the right one is not.
func TestValidity(t *testing.T) {
	for events, because := range map[string]string{
		`{"test":"compression-dry","throttle":0}`:     "throttle-open",
		`{"test":"compression-dry","choke":1}`:        "choke-open",
		`{"test":"compression-dry","pulls":2}`:        "enough-pulls",
		`{"test":"compression-dry","plug_lead":"on"}`: "plug-lead-earthed",
		wet + "," + dry: "bore-dry",
		`{"test":"coil-secondary","range":"200 Ω"}`:                 "right-range",
		`{"test":"coil-secondary","contact":"poor"}`:                "boot-contact",
		`{"test":"dose-intake","switch":"stop"}`:                    "switch-run",
		`{"control":{"cap":"off"}},{"test":"run-long","minutes":1}`: "cap-as-used",
	} {
		o := last(sim(t, "", events, ""))
		assert.False(t, o.Valid, events)
		assert.Contains(t, o.Because, because, events)
	}
	for _, o := range sim(t, "",
		strings.Join([]string{start, plug, spark, dry, flow, `{"test":"coil-secondary"}`, `{"test":"coil-primary"}`, `{"test":"jet-look"}`}, ","), "") {
		assert.True(t, o.Valid, "%s: %v", o.Test, o.Because)
	}
	// Only what was set counts when the technique is as-set.
	o := last(sim(t, "", dry, `,"technique":"as-set"`))
	assert.Subset(t, o.Because, []string{"throttle-open", "zeroed", "enough-pulls", "plug-lead-earthed"})
}

// A copy costs less, and now and then it does not do.
func TestGradeOfPart(t *testing.T) {
	cost := func(grade string) float64 {
		out, err := Simulate(strings.NewReader(`{"machine":"f4-bowl","noise":false,"events":[{"repair":"replace","reach":"coil","grade":"` + grade + `"}]}`))
		require.NoError(t, err)
		return out.State.Money
	}
	assert.Less(t, cost("copy"), cost("maker"))
	failed := 0
	for seed := range 200 {
		out, err := Simulate(strings.NewReader(fmt.Sprintf(`{"machine":"f4-bowl","seed":%d,"faults":[{"id":"coil-secondary-open"}],`+
			`"events":[{"repair":"replace","reach":"coil","grade":"copy"},%s]}`, seed, spark)))
		require.NoError(t, err)
		if *last(out.Observations).Value == 0 {
			failed++
		}
	}
	assert.Greater(t, failed, 8)
	assert.Less(t, failed, 50)
}

func TestBadInputSaysWhereAndHow(t *testing.T) {
	for in, path := range map[string]string{
		`{"machine":"f4-bowl","events":[{"test":"xray"}]}`:                         "events[0].test",
		`{"machine":"f4-bowl","faults":[{"id":"gremlins"}]}`:                       "faults[0].id",
		`{"machine":"f4-bowl","faults":[{"id":"rings-worn","severity":7}]}`:        "faults[0].severity",
		`{"machine":"f4-bowl","faults":[{"id":"rings-worn"},{"id":"rings-worn"}]}`: "faults[1].id",
		`{"machine":"steam"}`: "machine",
		`{"machine":"f4-bowl","events":[{"test":"compression-dry","pulls":"six"}]}`:         "events[0].pulls",
		`{"machine":"f4-bowl","events":[{"control":{"choke":"0,5"}}]}`:                      "events[0].control.choke",
		`{"machine":"f4-bowl","events":[{"control":{"sail":1}}]}`:                           "events[0].control.sail",
		`{"machine":"f4-bowl","events":[{"wait_min":-1}]}`:                                  "events[0].wait_min",
		`{"machine":"f4-bowl","events":[{"repair":"polish","reach":"jets"}]}`:               "events[0].repair",
		`{"machine":"f4-bowl","events":[{"repair":"clean","reach":"moon"}]}`:                "events[0].reach",
		`{"machine":"f4-bowl","events":[{}]}`:                                               "events[0]",
		`{"machine":"f4-bowl","events":[0,5]}`:                                              "events[0]",
		`{"machine":"f4-bowl","ambient":{"temperature_c":900}}`:                             "ambient.temperature_c",
		`{"machine":"f4-bowl","fuel_ml":-3}`:                                                "fuel_ml",
		`{"machine":"f4-bowl","colour":"red"}`:                                              "colour",
		`{"machine":"f4-bowl","technique":"sloppy"}`:                                        "technique",
		`{"machine":"f4-bowl","events":[{"test":"compression-dry","setup":{"pulls":1,5}}]}`: "",
		`[]`: "", ``: "", `{`: "",
	} {
		_, err := Simulate(strings.NewReader(in))
		var p *problem.Problem
		if assert.ErrorAs(t, err, &p, in) {
			assert.Equal(t, path, p.Path, in)
			assert.NotEmpty(t, p.Code)
		}
	}
	_, err := Simulate(strings.NewReader(`{"machine":"f4-bowl"` + strings.Repeat(" ", maxSimBytes) + "}"))
	assert.ErrorContains(t, err, "sim.input-over-1-mib")
}

// The same seed and events give the same answers, another seed others; and the
// instruments' noise is of the size that is documented.
func TestReplayIsDeterministic(t *testing.T) {
	run := func(seed string) string {
		in := `{"machine":"f4-bowl","seed":` + seed + `,"faults":[{"id":"rings-worn","severity":0.4}],"events":[` + strings.Join([]string{start, dry, dry,
			spark, plug}, ",") + `]}`
		out, err := Simulate(strings.NewReader(in))
		require.NoError(t, err)
		b, err := json.Marshal(out)
		require.NoError(t, err)
		return string(b)
	}
	assert.Equal(t, run("7"), run("7"))
	assert.NotEqual(t, run("7"), run("8"))
}

func FuzzSimulate(f *testing.F) {
	for _, s := range []string{
		`{"machine":"f4-bowl","faults":[{"id":"rings-worn","severity":0.5}],"events":[{"test":"compression-dry","pulls":3},{"wait_min":5},` +
			`{"repair":"clean","reach":"jets"}]}`,
		`{"machine":"f4-bowl","events":[{"control":{"cap":"loose","choke":0.5}},{"test":"run-long","minutes":2}],"ambient":{"temperature_c":-10,"altitude_m":900}}`,
		`{"machine":"f4-bowl","technique":"as-set","seed":18446744073709551615,"events":[{"test":"spark-gap","setup":{"earth":"good","gap_to_mm":6}}]}`,
		`{"machine":"f4-suction","sheet":{"ignition":{"word":"points"},"tank_ml":{"low":900,"high":900}},"events":[{"act":"tilt-prime"},` +
			`{"cover":"plugout"},{"test":"points-check"},{"cover":"plugout","off":false}]}`,
		`{"machine":"t2-diaphragm","sheet":{"displacement_ml":{"low":25,"high":25}},"faults":[{"id":"metering-diaphragm","mode":"stiff",` +
			`"cause":"wrong-fuel"}],"events":[{"repair":"remove-limiters"},{"test":"run-long","minutes":5}]}`,
		`{"machine":"f4-bail","sheet":{"starting_aid":{"word":"thermostat-choke"},"compression_ratio":{"low":9,"high":9}},` +
			`"events":[{"control":{"bar":"tied","tilt":"breather-down"}},{"test":"start-attempt"}]}`,
		`{"events":null}`, `[1,5]`, `{"machine":"f4-bowl","events":[{"test":"dose-intake","dose_ml":1e999}]}`,
	} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, in string) {
		if strings.Count(in, "test") > 6 {
			return // long sequences only cost time here
		}
		out, err := Simulate(strings.NewReader(in))
		if err != nil {
			var p *problem.Problem
			require.ErrorAs(t, err, &p)
			return
		}
		_, err = json.Marshal(out) // fails on NaN and infinities
		require.NoError(t, err)
	})
}
