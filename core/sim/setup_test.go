package sim

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
)

// Every set-up condition of the catalogue, missed: the reading is marked as
// not valid, and it, or what is read afterwards, comes out otherwise than a
// master's, the way the trade expects (common practice).
func TestEveryMissedConditionChangesTheReading(t *testing.T) {
	const lower, higher, other = "lower", "higher", "other"
	covered := map[string]bool{}
	for _, c := range []struct {
		condition, family, faults string
		before, test, setup, then string // then is the test that shows it, if not this one
		way                       string
	}{
		{"good-light", four2, fault("fuel-water", "0.6"), "", "look-fuel", `"lights":"off"`, "", other},
		{"own-sheet", four2, "", "", "compression-dry", `"sheet_used":"other"`, "", other},
		{"measured-water", four2, fault("fuel-ethanol-high", "0.5"), "", "jar-fuel", `"water_measured":false`, "", higher},
		{"level", four2, "", "", "look-oil", `"tilt":"plug-down"`, "", other},
		{"cool", stroke, fault("arrestor-clogged", "0.2"), `{"test":"run-load"},`, "look-arrestor", ``, "", ""},
		{"warm", four2, "", "", "run-choke-off", `"warmed_up":false`, "", other},
		{"pulses-per-rev", four2, "", "", "run-full", `"pulses_per_rev":2`, "", lower},
		{"cap-as-used", four2, fault("cap-vent-blocked", "1"), "", "run-long", `"cap":"loose"`, "", other},
		{"fuel-noted", four2, fault("cap-vent-blocked", "1"), "", "run-long", `"fuel_noted":false`, "", ""},
		{"hot", four2, fault("main-jet-blocked", "1"), "", "hot-restart", ``, "", ""},
		{"switch-run", four2, "", "", "spark-inline", `"switch":"stop"`, "", other},
		{"plug-lead-on", four2, "", "", "dose-intake", `"plug_lead":"off"`, "", other},
		{"plug-not-wet", four2, fault("coil-secondary-open", "1"), `{"test":"start-attempt"},{"test":"start-attempt"},`, "dose-intake", `"choke":1`, "", ""},
		{"small-dose", four2, fault("main-jet-blocked", "1"), "", "dose-intake", `"dose_ml":12`, "", other},
		{"right-dose", stroke, "", "", "dose-intake", `"dose_of":"starting-spray"`, "compression-dry", lower},
		{"straight-after", four2, fault("coil-secondary-open", "1"), `{"test":"start-attempt"},{"wait_min":60},`, "plug-look", ``, "", ""},
		{"wire-gauge", four2, "", "", "plug-gap", `"gauge_form":"flat"`, "", lower},
		{"good-earth", four2, "", "", "spark-gap", `"earth":"poor"`, "", lower},
		{"brisk-pull", four2, "", "", "spark-gap", `"pull":"slow"`, "", lower},
		{"stepped-out", four2, "", "", "spark-gap", `"gap_to_mm":6`, "", lower},
		{"magneto-tester", four2, "", "", "spark-gap", `"tester":"car"`, "", lower},
		{"shade", four2, fault("coil-weak", "0.95"), "", "spark-plug-earthed", `"shade":false`, "", ""},
		{"leads-nulled", four2, "", "", "coil-primary", `"leads_nulled":false`, "", higher},
		{"kill-lead-off", four2, "", "", "coil-primary", `"kill_lead":"on","switch":"stop"`, "", lower},
		{"boot-contact", four2, "", "", "coil-secondary", `"contact":"poor"`, "", higher},
		{"right-range", four2, "", "", "coil-secondary", `"range":"2 kΩ"`, "", other},
		{"temperature-noted", four2, "", `{"test":"run-long","minutes":20},`, "coil-primary", `"temperature_noted":false`, "", ""},
		{"piston-stop", four2, "", "", "tdc-magnet", `"piston_stop":false`, "", higher},
		{"magnet-under", four2, "", "", "air-gap", `"magnet_under":false`, "", higher},
		{"puller", four2, "", "", "key-look", `"puller":false`, "nut-torque", lower},
		{"bar-held", bail, "", "", "pull-feel", `"bar":"released"`, "", other},
		{"plug-lead-earthed", four2, "", "", "compression-dry", `"plug_lead":"off","pulls":30`, "spark-gap", lower},
		{"throttle-open", four2, "", "", "compression-dry", `"throttle":0`, "", lower},
		{"choke-open", four2, "", "", "compression-dry", `"choke":1`, "", lower},
		{"zeroed", four2, "", "", "compression-dry", `"zeroed":false`, "", higher},
		{"enough-pulls", four2, "", "", "compression-dry", `"pulls":1`, "", lower},
		{"bore-dry", four2, fault("rings-worn", "0.6"), `{"test":"compression-wet"},`, "compression-dry", ``, "", ""},
		{"valve-at-plug", four2, "", "", "compression-dry", `"check_valve":"gauge-end"`, "", lower},
		{"purged", four2, fault("coil-secondary-open", "1"), `{"test":"start-attempt"},{"test":"start-attempt"},`, "compression-dry", `"purged":false`, "", higher},
		{"few-ml", four2, fault("rings-worn", "0.8"), "", "compression-wet", `"oil_drops_ml":0.2`, "", lower},
		{"at-tdc", four2, "", "", "leak-down", `"at_tdc":false`, "", higher},
		{"crank-held", four2, "", "", "leak-down", `"crank_held":false`, "", higher},
		{"supply-set", four2, "", "", "leak-down", `"supply_psi":60`, "", higher},
		{"cold", four2, "", `{"test":"run-long","minutes":20},`, "valve-clearance", ``, "", ""},
		{"head-cold", four2, fault("fins-packed", "1"), `{"test":"run-long","minutes":20},`, "head-look", ``, "", ""},
		{"ports-blanked", stroke, "", "", "crankcase-pressure", `"ports_blanked":false`, "", lower},
		{"straight-after-run", four2, fault("cap-vent-blocked", "1"), `{"test":"run-long"},{"wait_min":60},`, "vent-hiss", ``, "", ""},
		{"quiet", four2, fault("cap-vent-blocked", "1"), `{"test":"run-long"},`, "vent-hiss", `"quiet":false`, "", other},
		{"inward", tank, "", "", "vent-blow", `"blow_way":"outward"`, "", other},
		{"hand-bulb", four2, fault("cap-vent-blocked", "1"), "", "vent-blow", `"blow_with":"compressed-air"`, "", other},
		{"ends-closed", four2, "", "", "line-pressure", `"ends_closed":false`, "", lower},
		{"valve-open", four2, "", "", "fuel-flow", `"fuel_valve":"shut"`, "", lower},
		{"timed", four2, "", "", "fuel-flow", `"seconds":15`, "", higher},
		{"wetted", stroke, "", "", "needle-test", `"wetted":false`, "", lower},
		{"upside-down", four2, "", "", "float-check", `"upside_down":false`, "", higher},
		{"mild-cleaner", four2, "", "", "passage-trace", `"cleaner":"harsh"`, "gasket-look", other},
		{"orientation-noted", stroke, "", "", "diaphragm-look", `"orientation_noted":false`, "", ""},
		{"lightly-seated", tank, "", "", "screw-count", `"seated":"hard"`, "", higher},
		{"water-mist", four2, "", "", "joint-leak", `"mist":"fuel"`, "", other},
		{"substitute-proved", four2, "", "", "plug-swap", `"substitute":"untried"`, "", ""},
		{"plug-lead-off", four2, "", "", "look-driven", `"plug_lead":"on"`, "", ""},
	} {
		covered[c.condition] = true
		master := on(t, c.family, c.faults, c.before+ask(c.test)+thenAsk(c.then))
		setup := `{"test":"` + c.test + `"`
		if c.setup != "" {
			setup += "," + c.setup
		}
		missed := on(t, c.family, c.faults, c.before+setup+"}"+thenAsk(c.then))
		at := len(missed) - 1
		if c.then != "" {
			at--
		}
		require.Contains(t, missed[at].Because, c.condition, "%s: %s", c.condition, c.test)
		m, x := last(master), last(missed)
		switch c.way {
		case lower:
			assert.Less(t, *x.Value, *m.Value, c.condition)
		case higher:
			assert.Greater(t, *x.Value, *m.Value, c.condition)
		case other:
			assert.NotEqual(t, shows(m), shows(x), c.condition)
		}
	}
	for _, x := range catalogue.Standard().Tests {
		for _, c := range x.Conditions {
			assert.True(t, covered[c], "%s of %s has no case here", c, x.ID)
		}
	}
}

func thenAsk(test string) string {
	if test == "" {
		return ""
	}
	return "," + ask(test)
}

// shows is everything a reading tells.
func shows(o bench.Observation) []any {
	out := []any{o.Also["minutes_to_falter"]}
	if o.Value != nil {
		out = append(out, *o.Value)
	}
	if o.Word != nil {
		out = append(out, *o.Word)
	}
	if o.Band != nil {
		out = append(out, *o.Band)
	}
	return out
}

// What the missed conditions cost that are not in the reading itself: heat, a
// dried plug, a tank that has breathed, chance.
func TestWhatCannotBeSeenInOneReading(t *testing.T) {
	word := func(family, faults, events string) string { return *last(on(t, family, faults, events)).Word }
	assert.Equal(t, "wet", word(four2, fault("coil-secondary-open", "1"), start+","+ask("plug-look")))
	assert.Equal(t, "dry", word(four2, fault("coil-secondary-open", "1"), start+`,{"wait_min":40},`+ask("plug-look")), "looked at too late")
	assert.Equal(t, "hiss", word(four2, fault("cap-vent-blocked", "1"), `{"test":"run-long"},`+ask("vent-hiss")))
	assert.Equal(t, "silent", word(four2, fault("cap-vent-blocked", "1"), `{"test":"run-long"},{"wait_min":60},`+ask("vent-hiss")), "the tank has breathed")
	value := func(faults, events string) float64 { return *last(on(t, four2, faults, events)).Value }
	hot := `{"test":"run-long","minutes":20},`
	assert.Greater(t, value("", hot+ask("coil-primary")), 1.05*value("", ask("coil-primary")), "copper, IEC 60028")
	assert.Less(t, value("", hot+ask("valve-clearance")), value("", ask("valve-clearance")), "hot parts are longer")
	assert.Greater(t, value(fault("rings-worn", "0.6"), `{"test":"compression-wet"},`+ask("compression-dry")),
		1.2*value(fault("rings-worn", "0.6"), ask("compression-dry")), "oil left in the bore")
	assert.Equal(t, "gasket-track", word(four2, fault("fins-packed", "1"), hot+ask("head-look")+`,{"wait_min":240},`+ask("head-look")),
		"a head taken off hot warps")
	noted := last(on(t, four2, "", `{"test":"run-long","minutes":1}`)).Also
	assert.Contains(t, noted, "fuel_before_ml")
	assert.NotContains(t, last(on(t, four2, "", `{"test":"run-long","minutes":1,"fuel_noted":false}`)).Also, "fuel_before_ml")
}
