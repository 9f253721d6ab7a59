// Package bench turns acts at the workbench into what a person would see: it
// sets the machine and the instrument up, reads the machine through the
// instrument, and says whether the reading was validly taken. It knows nothing
// of faults.
package bench

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// Settings are positions of controls and instruments by id, as they stand in
// JSON: text, numbers or true and false.
type Settings map[string]any

// A settingSpec says what a setting can be: one of some words, a number in a
// range, or yes and no.
type settingSpec struct {
	words     []string
	low, high float64
	whole     bool
	yesNo     bool
}

var controlSpecs = map[string]settingSpec{
	"switch":     {words: []string{"run", "stop"}},
	"bar":        {words: []string{"held", "released", "tied"}},
	"choke":      {high: 1},
	"throttle":   {high: 1},
	"fuel_valve": {words: []string{"open", "shut"}},
	"cap":        {words: []string{"tight", "loose", "off"}},
	"primer":     {high: 20, whole: true},
	"plug_lead":  {words: []string{"on", "off", "earthed"}},
	"kill_lead":  {words: []string{"on", "off"}},
	"tilt":       {words: []string{"level", "plug-down", "filter-down", "breather-down"}},
	"oil_lead":   {words: []string{"on", "off"}},
	"line_clamp": {words: []string{"off", "on"}},
	"lights":     {words: []string{"on", "off"}},
}

var instrumentSpecs = map[string]settingSpec{
	"pulls":             {low: 1, high: 30, whole: true},
	"zeroed":            {yesNo: true},
	"leads_nulled":      {yesNo: true},
	"earth":             {words: []string{"good", "poor"}},
	"range":             {words: []string{"200 Ω", "2 kΩ", "20 kΩ", "200 kΩ"}},
	"contact":           {words: []string{"good", "poor"}},
	"pulses_per_rev":    {low: 0.5, high: 4},
	"shade":             {yesNo: true},
	"pull":              {words: []string{"brisk", "slow"}},
	"minutes":           {low: 0.5, high: 60},
	"load":              {words: []string{"idle", "none", "test"}},
	"dose_ml":           {low: 0, high: 20},
	"dose_of":           {words: []string{"petrol", "mixed-fuel", "starting-spray", "brake-cleaner"}},
	"seconds":           {low: 5, high: 120},
	"gap_to_mm":         {low: 1, high: 20},
	"light":             {words: []string{"good", "poor"}},
	"at_tdc":            {yesNo: true},
	"water_measured":    {yesNo: true},
	"sheet_used":        {words: []string{"own", "other"}},
	"gauge_form":        {words: []string{"wire", "flat"}},
	"substitute":        {words: []string{"proved", "untried"}},
	"tester":            {words: []string{"magneto", "car"}},
	"piston_stop":       {yesNo: true},
	"magnet_under":      {yesNo: true},
	"puller":            {yesNo: true},
	"check_valve":       {words: []string{"plug-end", "gauge-end"}},
	"purged":            {yesNo: true},
	"oil_drops_ml":      {low: 0, high: 30},
	"supply_psi":        {low: 20, high: 100},
	"crank_held":        {yesNo: true},
	"ports_blanked":     {yesNo: true},
	"quiet":             {yesNo: true},
	"blow_with":         {words: []string{"hand-bulb", "compressed-air"}},
	"blow_way":          {words: []string{"inward", "outward"}},
	"ends_closed":       {yesNo: true},
	"wetted":            {yesNo: true},
	"upside_down":       {yesNo: true},
	"cleaner":           {words: []string{"mild", "harsh"}},
	"orientation_noted": {yesNo: true},
	"seated":            {words: []string{"lightly", "hard"}},
	"mist":              {words: []string{"water", "fuel"}},
	"fuel_noted":        {yesNo: true},
	"temperature_noted": {yesNo: true},
	"warmed_up":         {yesNo: true},
}

func (s settingSpec) check(path string, v any) *catalogue.Problem {
	switch {
	case s.yesNo:
		if _, ok := v.(bool); !ok {
			return catalogue.NewProblem(path, fmt.Sprintf("%v is neither true nor false", catalogue.ShowValue(v)), "write true or false")
		}
	case s.words != nil:
		if t, ok := v.(string); !ok || !slices.Contains(s.words, t) {
			return catalogue.NewProblem(path, fmt.Sprintf("%v is not a position of it", catalogue.ShowValue(v)), "write one of "+strings.Join(s.words, ", "))
		}
	default:
		n, ok := v.(float64)
		if !ok {
			mend := "write a number without quotes"
			if t, isText := v.(string); isText && strings.Contains(t, ",") {
				mend = "write a number without quotes, with a point and not a comma"
			}
			return catalogue.NewProblem(path, fmt.Sprintf("%v is not a number", catalogue.ShowValue(v)), mend)
		}
		if !(n >= s.low && n <= s.high) || (s.whole && n != math.Trunc(n)) {
			kind := "a number"
			if s.whole {
				kind = "a whole number"
			}
			return catalogue.NewProblem(path, fmt.Sprintf("%v is out of range", n), fmt.Sprintf("write %s from %g to %g", kind, s.low, s.high))
		}
	}
	return nil
}

// CheckControls refuses unknown controls and impossible positions; it lists
// the known ones that a machine of this family and sheet lacks.
func CheckControls(path string, c Settings, fam *catalogue.Family, sheet catalogue.Sheet) (lacking []string, err *catalogue.Problem) {
	has := controlIDs(fam, sheet)
	for _, id := range sortedKeys(c) {
		spec, ok := controlSpecs[id]
		if !ok {
			return nil, catalogue.NewProblem(path+"."+id, "there is no such control", "use one of "+strings.Join(has, ", "))
		}
		if err := spec.check(path+"."+id, c[id]); err != nil {
			return nil, err
		}
		if !slices.Contains(has, id) {
			lacking = append(lacking, id)
		}
	}
	return lacking, nil
}

func controlIDs(fam *catalogue.Family, sheet catalogue.Sheet) (ids []string) {
	for _, c := range catalogue.Standard().ControlsOf(fam.ID, sheet) {
		ids = append(ids, c.ID)
	}
	return ids
}

// CheckSetup is CheckControls for a test's set-up, instruments included.
func CheckSetup(path string, s Settings, fam *catalogue.Family, sheet catalogue.Sheet) (lacking []string, err *catalogue.Problem) {
	for _, id := range sortedKeys(s) {
		spec, ok := instrumentSpecs[id]
		if !ok {
			l, err := CheckControls(path, Settings{id: s[id]}, fam, sheet)
			if err != nil {
				if _, known := controlSpecs[id]; !known {
					return nil, catalogue.NewProblem(path+"."+id, "there is no such control or set-up", "see the set-ups that the documentation names")
				}
				return nil, err
			}
			lacking = append(lacking, l...)
			continue
		}
		if err := spec.check(path+"."+id, s[id]); err != nil {
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

// onto puts checked control settings onto controls. What a family lacks has no
// effect on them.
func (s Settings) onto(c machine.Controls) machine.Controls {
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
			c.Cap = machine.CapPosition(slices.Index(controlSpecs["cap"].words, word))
		case "plug_lead":
			c.PlugLead = machine.LeadPosition(slices.Index(controlSpecs["plug_lead"].words, word))
		case "kill_lead":
			c.KillLeadOff = word == "off"
		case "lights":
			c.Dark = word == "off"
		case "oil_lead":
			c.OilLeadOff = word == "off"
		case "line_clamp":
			c.LineClamped = word == "on"
		case "tilt":
			c.Tilt = machine.Tilt(slices.Index(controlSpecs["tilt"].words, word))
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
		"fuel_valve": pick(c.ValveShut, "shut", "open"), "cap": controlSpecs["cap"].words[c.Cap],
		"plug_lead": controlSpecs["plug_lead"].words[c.PlugLead], "kill_lead": pick(c.KillLeadOff, "off", "on"),
		"tilt": controlSpecs["tilt"].words[c.Tilt], "bar": pick(c.BarTied, "tied", pick(c.BarHeld, "held", "released")), "primer": 0.0,
		"oil_lead": pick(c.OilLeadOff, "off", "on"), "line_clamp": pick(c.LineClamped, "on", "off"), "lights": pick(c.Dark, "off", "on"),
	}
	out := Settings{}
	for _, id := range controlIDs(fam, sheet) {
		if v, ok := all[id]; ok {
			out[id] = v
		}
	}
	return out
}
