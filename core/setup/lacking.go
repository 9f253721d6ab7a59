package setup

// lacking is what a set-up has in place of each condition that can be left out of it. A
// condition that belongs to the machine as it stood (cool, a dry plug) is not among them:
// of that a set-up says nothing.
var lacking = map[string]Settings{
	"switch-run":        {"switch": "stop"},
	"plug-lead-on":      {"plug_lead": "off"},
	"plug-lead-off":     {"plug_lead": "on"},
	"plug-lead-earthed": {"plug_lead": "on"},
	"kill-lead-off":     {"kill_lead": "on"},
	"bar-held":          {"bar": "released"},
	"throttle-open":     {"throttle": 0.0},
	"choke-open":        {"choke": 1.0},
	"valve-open":        {"fuel_valve": "shut"},
	"level":             {"tilt": "plug-down"},
	"cap-as-used":       {"cap": "loose"},
	"small-dose":        {"dose_ml": 8.0},
	"good-earth":        {"earth": "poor"},
	"boot-contact":      {"contact": "poor"},
	"brisk-pull":        {"pull": "slow"},
	"zeroed":            {"zeroed": false},
	"leads-nulled":      {"leads_nulled": false},
	"enough-pulls":      {"pulls": 2.0},
	"few-ml":            {"oil_drops_ml": 0.0},
	"timed":             {"seconds": 20.0},
	"supply-set":        {"supply_psi": 60.0},
	"pulses-per-rev":    {"pulses_per_rev": 2.0},
	"valve-at-plug":     {"check_valve": "gauge-end"},
	"at-tdc":            {"at_tdc": false},
	"measured-water":    {"water_measured": false},
	"own-sheet":         {"sheet_used": "other"},
	"good-light":        {"light": "poor"},
	"shade":             {"shade": false},
	"wire-gauge":        {"gauge_form": "flat"},
	"magneto-tester":    {"tester": "car"},
	"puller":            {"puller": false},
	"quiet":             {"quiet": false},
	"hand-bulb":         {"blow_with": "compressed-air"},
	"inward":            {"blow_way": "outward"},
	"mild-cleaner":      {"cleaner": "harsh"},
	"orientation-noted": {"orientation_noted": false},
	"lightly-seated":    {"seated": "hard"},
	"water-mist":        {"mist": "fuel"},
	"fuel-noted":        {"fuel_noted": false},
	"substitute-proved": {"substitute": "untried"},
	"piston-stop":       {"piston_stop": false},
	"magnet-under":      {"magnet_under": false},
	"crank-held":        {"crank_held": false},
	"ports-blanked":     {"ports_blanked": false},
	"ends-closed":       {"ends_closed": false},
	"wetted":            {"wetted": false},
	"upside-down":       {"upside_down": false},
	"temperature-noted": {"temperature_noted": false},
}

// Without is a set-up from which some conditions of a test were left out. It is known only
// where each of them belongs to the set-up, and not to the machine as it stood.
func Without(conditions []string) (own Settings, known bool) {
	known = true
	for _, c := range conditions {
		of, ok := lacking[c]
		if known = known && ok; !ok {
			continue
		}
		if own == nil {
			own = Settings{}
		}
		for k, v := range of {
			own[k] = v
		}
	}
	return own, known
}
