// Package setup is how a test is gone about: the machine's controls, the
// instrument's settings, and whether a master or nobody has set them.
package setup

import (
	"math"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
)

// Settings are positions of controls and instruments by id, as they stand in
// JSON: text, numbers or true and false.
//
// A value is a string, a float64 or a bool; anything else is refused by Check.
type Settings map[string]any

// Spec says what a setting can be: one of some words, yes or no, or else a
// number from Low to High, a whole one where Whole says so.
type Spec struct {
	Words     []string
	Low, High float64
	Whole     bool
	YesNo     bool
}

// ControlSpecs are the machine's own controls by id. The map is not to be changed.
var ControlSpecs = map[string]Spec{
	"switch":     {Words: []string{"run", "stop"}},
	"bar":        {Words: []string{"held", "released", "tied"}},
	"choke":      {High: 1},
	"throttle":   {High: 1},
	"fuel_valve": {Words: []string{"open", "shut"}},
	"cap":        {Words: []string{"tight", "loose", "off"}},
	"primer":     {High: 20, Whole: true},
	"plug_lead":  {Words: []string{"on", "off", "earthed"}},
	"kill_lead":  {Words: []string{"on", "off"}},
	"tilt":       {Words: []string{"level", "plug-down", "filter-down", "breather-down"}},
	"oil_lead":   {Words: []string{"on", "off"}},
	"line_clamp": {Words: []string{"off", "on"}},
	"lights":     {Words: []string{"on", "off"}},
}

// InstrumentSpecs are the ways of going about a test by id. The map is not to be
// changed.
var InstrumentSpecs = map[string]Spec{
	"pulls":             {Low: 1, High: 30, Whole: true},
	"zeroed":            {YesNo: true},
	"leads_nulled":      {YesNo: true},
	"earth":             {Words: []string{"good", "poor"}},
	"range":             {Words: []string{"200 Ω", "2 kΩ", "20 kΩ", "200 kΩ"}},
	"contact":           {Words: []string{"good", "poor"}},
	"pulses_per_rev":    {Low: 0.5, High: 4},
	"shade":             {YesNo: true},
	"pull":              {Words: []string{"brisk", "slow"}},
	"minutes":           {Low: 0.5, High: 60},
	"load":              {Words: []string{"idle", "none", "test"}},
	"dose_ml":           {Low: 0, High: 20},
	"dose_of":           {Words: []string{"petrol", "mixed-fuel", "starting-spray"}},
	"seconds":           {Low: 5, High: 120},
	"gap_to_mm":         {Low: 1, High: 20},
	"light":             {Words: []string{"good", "poor"}},
	"at_tdc":            {YesNo: true},
	"water_measured":    {YesNo: true},
	"sheet_used":        {Words: []string{"own", "other"}},
	"gauge_form":        {Words: []string{"wire", "flat"}},
	"substitute":        {Words: []string{"proved", "untried"}},
	"tester":            {Words: []string{"magneto", "car"}},
	"piston_stop":       {YesNo: true},
	"magnet_under":      {YesNo: true},
	"puller":            {YesNo: true},
	"check_valve":       {Words: []string{"plug-end", "gauge-end"}},
	"purged":            {YesNo: true},
	"oil_drops_ml":      {Low: 0, High: 30},
	"supply_psi":        {Low: 20, High: 100},
	"crank_held":        {YesNo: true},
	"ports_blanked":     {YesNo: true},
	"quiet":             {YesNo: true},
	"blow_with":         {Words: []string{"hand-bulb", "compressed-air"}},
	"blow_way":          {Words: []string{"inward", "outward"}},
	"ends_closed":       {YesNo: true},
	"wetted":            {YesNo: true},
	"upside_down":       {YesNo: true},
	"cleaner":           {Words: []string{"mild", "harsh"}},
	"orientation_noted": {YesNo: true},
	"seated":            {Words: []string{"lightly", "hard"}},
	"mist":              {Words: []string{"water", "fuel"}},
	"fuel_noted":        {YesNo: true},
	"temperature_noted": {YesNo: true},
	"warmed_up":         {YesNo: true},
}

// Check refuses a value that the setting cannot be; path says where it stood.
func (s Spec) Check(path string, v any) *problem.Problem {
	switch {
	case s.YesNo:
		if _, ok := v.(bool); !ok {
			return problem.New(path, "setup.neither-true-nor-false", "value", problem.Show(v))
		}
	case s.Words != nil:
		if t, ok := v.(string); !ok || !slices.Contains(s.Words, t) {
			return problem.New(path, "setup.not-position", "value", problem.Show(v), "words", s.Words)
		}
	default:
		n, ok := v.(float64)
		if !ok {
			code := "setup.not-number"
			if t, isText := v.(string); isText && strings.Contains(t, ",") {
				code = "setup.not-number-comma"
			}
			return problem.New(path, code, "value", problem.Show(v))
		}
		if !(n >= s.Low && n <= s.High) || (s.Whole && n != math.Trunc(n)) {
			code := "setup.out-of-range"
			if s.Whole {
				code = "setup.no-whole-number-in-range"
			}
			return problem.New(path, code, "value", n, "low", s.Low, "high", s.High)
		}
	}
	return nil
}

// CheckControls refuses unknown controls and impossible positions; it lists
// the known ones that a machine of this family and sheet lacks.
func CheckControls(path string, c Settings, fam *catalogue.Family, sheet catalogue.Sheet) (lacking []string, err *problem.Problem) {
	has := ControlIDs(fam, sheet)
	for _, id := range sortedKeys(c) {
		spec, ok := ControlSpecs[id]
		if !ok {
			return nil, problem.New(path+"."+id, "setup.no-such-control", "has", has)
		}
		if err := spec.Check(path+"."+id, c[id]); err != nil {
			return nil, err
		}
		if !slices.Contains(has, id) {
			lacking = append(lacking, id)
		}
	}
	return lacking, nil
}

// ControlIDs lists the controls that a machine has.
func ControlIDs(fam *catalogue.Family, sheet catalogue.Sheet) (ids []string) {
	for _, c := range catalogue.Standard().ControlsOf(fam.ID, sheet) {
		ids = append(ids, c.ID)
	}
	return ids
}

// CheckSetup is CheckControls for a test's set-up, instruments included.
func CheckSetup(path string, s Settings, fam *catalogue.Family, sheet catalogue.Sheet) (lacking []string, err *problem.Problem) {
	for _, id := range sortedKeys(s) {
		spec, ok := InstrumentSpecs[id]
		if !ok {
			l, err := CheckControls(path, Settings{id: s[id]}, fam, sheet)
			if err != nil {
				if _, known := ControlSpecs[id]; !known {
					return nil, problem.New(path+"."+id, "setup.no-such-control-or-set-up")
				}
				return nil, err
			}
			lacking = append(lacking, l...)
			continue
		}
		if err := spec.Check(path+"."+id, s[id]); err != nil {
			return nil, err
		}
	}
	return lacking, nil
}

func sortedKeys(s Settings) []string {
	keys := make([]string, 0, len(s))
	for k := range s {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}

// Onto puts checked control settings onto controls. What a family lacks has no
// effect on them.
func (s Settings) Onto(c machine.Controls) machine.Controls {
	for id, v := range s {
		word, _ := v.(string)
		switch id {
		case "switch":
			c.Stop = word == "stop"
		case "bar":
			c.BarHeld, c.BarTied = word == "held", word == "tied"
		case "choke":
			c.Choke = v.(float64)
		case "throttle":
			c.Throttle = v.(float64)
		case "fuel_valve":
			c.ValveShut = word == "shut"
		case "cap":
			c.Cap = machine.CapPosition(slices.Index(ControlSpecs["cap"].Words, word))
		case "plug_lead":
			c.PlugLead = machine.LeadPosition(slices.Index(ControlSpecs["plug_lead"].Words, word))
		case "kill_lead":
			c.KillLeadOff = word == "off"
		case "lights":
			c.Dark = word == "off"
		case "oil_lead":
			c.OilLeadOff = word == "off"
		case "line_clamp":
			c.LineClamped = word == "on"
		case "tilt":
			c.Tilt = machine.Tilt(slices.Index(ControlSpecs["tilt"].Words, word))
		}
	}
	return c
}

// Positions writes controls out as settings, for the controls a machine has.
func Positions(c machine.Controls, fam *catalogue.Family, sheet catalogue.Sheet) Settings {
	pick := func(yes bool, a, b string) string {
		if yes {
			return a
		}
		return b
	}
	all := Settings{
		"switch": pick(c.Stop, "stop", "run"), "choke": c.Choke, "throttle": c.Throttle,
		"fuel_valve": pick(c.ValveShut, "shut", "open"), "cap": ControlSpecs["cap"].Words[c.Cap],
		"plug_lead": ControlSpecs["plug_lead"].Words[c.PlugLead], "kill_lead": pick(c.KillLeadOff, "off", "on"),
		"tilt": ControlSpecs["tilt"].Words[c.Tilt], "bar": pick(c.BarTied, "tied", pick(c.BarHeld, "held", "released")), "primer": 0.0,
		"oil_lead": pick(c.OilLeadOff, "off", "on"), "line_clamp": pick(c.LineClamped, "on", "off"), "lights": pick(c.Dark, "off", "on"),
	}
	out := Settings{}
	for _, id := range ControlIDs(fam, sheet) {
		if v, ok := all[id]; ok {
			out[id] = v
		}
	}
	return out
}
