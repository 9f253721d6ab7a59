package bench

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// SimOutput is what one simulated machine came to.
type SimOutput struct {
	ModelVersion string        `json:"model_version"`
	Observations []Observation `json:"observations"`
	State        SimState      `json:"state"`
	Warnings     []string      `json:"warnings"`
}

// SimState is the machine and the bench at the end.
type SimState struct {
	Minutes       float64  `json:"minutes"`
	Money         float64  `json:"money"`
	Controls      Settings `json:"controls"`
	Open          []string `json:"open"`
	EngineC       float64  `json:"engine_c"`
	CoilC         float64  `json:"coil_c"`
	FuelML        float64  `json:"fuel_ml"`
	BowlML        float64  `json:"bowl_ml"`
	TankVacuumKPa float64  `json:"tank_vacuum_kpa"`
	Plug          string   `json:"plug"`
}

// Limits on what one simulation may hold, so that a slip cannot ask for days.
const (
	MaxEvents   = 500
	MaxFaults   = 10
	maxWaitMin  = 7 * 24 * 60
	maxSimBytes = 1 << 20
)

// simEvent is one event of the input, checked.
type simEvent struct {
	control     Settings
	test        string
	setup       Settings
	wait        float64
	repair, ref string
	grade       string
}

type simInput struct {
	family   string
	sheet    catalogue.Sheet
	ambient  machine.Ambient
	faults   []machine.FaultSpec
	options  Options
	events   []simEvent
	warnings []string
}

// Simulate runs one machine from JSON in the form of the command line's `sim`.
// Whatever is wrong with the input comes back as a *Problem.
func Simulate(r io.Reader) (*SimOutput, error) {
	raw, err := io.ReadAll(io.LimitReader(r, maxSimBytes+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > maxSimBytes {
		return nil, &Problem{"", "the input is over 1 MiB", "split it into several runs"}
	}
	in, problem := parseSim(raw)
	if problem != nil {
		return nil, problem
	}
	s, err := NewSession(in.family, in.sheet, in.ambient, in.faults, in.options)
	if err != nil {
		return nil, &Problem{"machine", err.Error(), "mend the figure it names"}
	}
	out := &SimOutput{ModelVersion: machine.Version, Observations: []Observation{}, Warnings: in.warnings}
	for i, e := range in.events {
		s.events = i
		switch {
		case e.control != nil:
			s.Control(e.control)
		case e.test != "":
			out.Observations = append(out.Observations, s.Test(e.test, e.setup))
		case e.repair != "":
			s.Repair(e.repair, e.ref, e.grade)
		default:
			s.Wait(e.wait)
		}
	}
	st := s.m.State()
	out.State = SimState{Minutes: round(s.minutes, 0.1), Money: s.money, Controls: s.Controls(), Open: s.Open(),
		EngineC: round(st.EngineC, 0.1), CoilC: round(st.CoilC, 0.1), FuelML: round(st.FuelML, 0.1), BowlML: round(st.BowlML, 0.1),
		TankVacuumKPa: round(st.TankVacuumKPa, 0.001), Plug: s.m.PlugFace()}
	if out.State.Open == nil {
		out.State.Open = []string{}
	}
	return out, nil
}

// object reads a JSON object, or says that it is none.
func object(path string, raw json.RawMessage) (map[string]json.RawMessage, *Problem) {
	var o map[string]json.RawMessage
	if err := json.Unmarshal(raw, &o); err != nil || o == nil {
		var syntax *json.SyntaxError
		if errors.As(err, &syntax) {
			return nil, &Problem{path, fmt.Sprintf("this is not JSON: %v at byte %d", err, syntax.Offset), "mend the JSON there; numbers take a point, not a comma"}
		}
		return nil, &Problem{path, "an object in braces belongs here", "see the form in the documentation"}
	}
	return o, nil
}

// take decodes a member of an object into out and removes it.
func take[T any](o map[string]json.RawMessage, path, key, what string, out *T) *Problem {
	raw, ok := o[key]
	if !ok {
		return nil
	}
	delete(o, key)
	at := join(path, key)
	if bytes.Equal(bytes.TrimSpace(raw), []byte("null")) || json.Unmarshal(raw, out) != nil {
		return &Problem{at, fmt.Sprintf("%s is not %s", shorten(raw), what), "write " + what}
	}
	return nil
}

func shorten(raw []byte) string {
	s := strings.ToValidUTF8(string(raw), "?")
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

func join(path, key string) string {
	if path == "" {
		return key
	}
	return path + "." + key
}

// unknown refuses members that nobody asked for, so that a misspelling is not
// silently ignored.
func unknown(o map[string]json.RawMessage, path string, known string) *Problem {
	keys := make([]string, 0, len(o))
	for k := range o {
		keys = append(keys, k)
	}
	if len(keys) == 0 {
		return nil
	}
	return &Problem{join(path, slices.Min(keys)), "nothing of that name is known here", "use " + known}
}

func parseSim(raw []byte) (in simInput, p *Problem) {
	o, p := object("", raw)
	if p != nil {
		return in, p
	}
	cat := catalogue.Standard()
	in.options, in.warnings = Options{Technique: Ideal, Noise: true, FuelML: -1}, []string{}
	if p = take(o, "", "machine", "the id of a family in quotes", &in.family); p != nil {
		return in, p
	}
	fam := cat.Family(in.family)
	if fam == nil {
		var ids []string
		for _, f := range cat.Families {
			ids = append(ids, f.ID)
		}
		return in, &Problem{"machine", fmt.Sprintf("there is no machine %q", in.family), "write one of " + strings.Join(ids, ", ")}
	}
	in.sheet, in.ambient = fam.Sheet, machine.Ambient{TemperatureC: 20}
	if raw, ok := o["ambient"]; ok {
		delete(o, "ambient")
		if p = parseAmbient(raw, &in.ambient); p != nil {
			return in, p
		}
	}
	var technique string
	var fuel *float64
	for _, step := range []func() *Problem{
		func() *Problem { return take(o, "", "seed", "a whole number from 0", &in.options.Seed) },
		func() *Problem { return take(o, "", "noise", "true or false", &in.options.Noise) },
		func() *Problem { return take(o, "", "technique", `"ideal" or "as-set"`, &technique) },
		func() *Problem { return take(o, "", "fuel_ml", "a number", &fuel) },
	} {
		if p = step(); p != nil {
			return in, p
		}
	}
	switch Technique(technique) {
	case Ideal, "":
	case AsSet:
		in.options.Technique = AsSet
	default:
		return in, &Problem{"technique", fmt.Sprintf("there is no technique %q", technique), `write "ideal" or "as-set"`}
	}
	if fuel != nil {
		if tank := in.sheet["tank_ml"].Middle(); *fuel < 0 || *fuel > tank {
			return in, &Problem{"fuel_ml", fmt.Sprintf("%g ml cannot be in this tank", *fuel), fmt.Sprintf("write a number from 0 to %g", tank)}
		}
		in.options.FuelML = *fuel
	}
	var faults, events []json.RawMessage
	if p = take(o, "", "faults", "a list", &faults); p != nil {
		return in, p
	}
	if p = take(o, "", "events", "a list", &events); p != nil {
		return in, p
	}
	if len(faults) > MaxFaults || len(events) > MaxEvents {
		return in, &Problem{"events", fmt.Sprintf("%d faults and %d events are too many", len(faults), len(events)), fmt.Sprintf("keep to %d faults and %d events", MaxFaults, MaxEvents)}
	}
	if p = unknown(o, "", "machine, ambient, seed, noise, technique, fuel_ml, faults, events"); p != nil {
		return in, p
	}
	for i, f := range faults {
		spec, p := parseFault(fmt.Sprintf("faults[%d]", i), f, fam)
		if p == nil && slices.ContainsFunc(in.faults, func(o machine.FaultSpec) bool { return o.ID == spec.ID }) {
			p = &Problem{fmt.Sprintf("faults[%d].id", i), fmt.Sprintf("%q stands here twice", spec.ID), "name it once"}
		}
		if p != nil {
			return in, p
		}
		in.faults = append(in.faults, spec)
	}
	if p := CheckTogether("faults", in.faults); p != nil {
		return in, p
	}
	for i, e := range events {
		ev, warnings, p := parseEvent(fmt.Sprintf("events[%d]", i), e, fam)
		if p != nil {
			return in, p
		}
		in.events, in.warnings = append(in.events, ev), append(in.warnings, warnings...)
	}
	return in, nil
}

func parseAmbient(raw json.RawMessage, a *machine.Ambient) *Problem {
	o, p := object("ambient", raw)
	if p != nil {
		return p
	}
	if p = take(o, "ambient", "temperature_c", "a number", &a.TemperatureC); p != nil {
		return p
	}
	if p = take(o, "ambient", "altitude_m", "a number", &a.AltitudeM); p != nil {
		return p
	}
	return firstProblem(unknown(o, "ambient", "temperature_c, altitude_m"), CheckAmbient("ambient", *a))
}

func firstProblem(ps ...*Problem) *Problem {
	for _, p := range ps {
		if p != nil {
			return p
		}
	}
	return nil
}

// CheckAmbient refuses a day that no small engine is mended on.
func CheckAmbient(path string, a machine.Ambient) *Problem {
	if !(a.TemperatureC >= -40 && a.TemperatureC <= 55) {
		return &Problem{path + ".temperature_c", fmt.Sprintf("%g °C is out of range", a.TemperatureC), "write a number from -40 to 55"}
	}
	if !(a.AltitudeM >= -430 && a.AltitudeM <= 5000) {
		return &Problem{path + ".altitude_m", fmt.Sprintf("%g m is out of range", a.AltitudeM), "write a number from -430 to 5000"}
	}
	return nil
}

func parseFault(path string, raw json.RawMessage, fam *catalogue.Family) (f machine.FaultSpec, p *Problem) {
	o, p := object(path, raw)
	if p != nil {
		return f, p
	}
	f.Severity = 1
	if p = take(o, path, "id", "the id of a fault in quotes", &f.ID); p != nil {
		return f, p
	}
	if p = take(o, path, "severity", "a number", &f.Severity); p != nil {
		return f, p
	}
	if p = take(o, path, "mode", "a mode of the fault in quotes", &f.Mode); p != nil {
		return f, p
	}
	if p = unknown(o, path, "id, severity, mode"); p != nil {
		return f, p
	}
	return f, CheckFault(path, f, fam)
}

// CheckFault refuses a fault that the family cannot have, or a severity that
// cannot be.
func CheckFault(path string, f machine.FaultSpec, fam *catalogue.Family) *Problem {
	known := catalogue.Standard().FaultsOf(fam.ID)
	if !slices.ContainsFunc(known, func(k catalogue.Fault) bool { return k.ID == f.ID }) {
		var ids []string
		for _, k := range known {
			ids = append(ids, k.ID)
		}
		return &Problem{path + ".id", fmt.Sprintf("%s has no fault %q", fam.ID, f.ID), "write one of " + strings.Join(ids, ", ")}
	}
	if def := catalogue.Standard().Fault(f.ID); f.Mode != "" && !slices.Contains(def.Modes, f.Mode) {
		return &Problem{path + ".mode", fmt.Sprintf("%s has no mode %q", f.ID, f.Mode), "leave it out, or write one of " + strings.Join(def.Modes, ", ")}
	}
	if !(f.Severity >= 0 && f.Severity <= 1) {
		return &Problem{path + ".severity", fmt.Sprintf("%g is outside 0 to 1", f.Severity), "write a number from 0 to 1"}
	}
	return nil
}

// apart are faults that cannot be in one machine at once.
var apart = [][2]string{
	{"choke-stuck-open", "choke-stuck-shut"}, {"screw-lean", "screw-rich"}, {"valve-clearance-tight", "valve-clearance-wide"},
	{"oil-low", "oil-overfilled"}, {"oil-low-cutout", "oil-overfilled"}, {"seized", "rod-broken"}, {"premix-no-oil", "premix-oil-rich"},
	{"tank-empty", "fuel-stale"}, {"tank-empty", "fuel-water"}, {"key-sheared", "flywheel-misindexed"}, {"suction-diaphragm", "auto-choke-misassembled"},
}

// CheckTogether refuses faults that contradict each other.
func CheckTogether(path string, faults []machine.FaultSpec) *Problem {
	at := func(id string) int {
		return slices.IndexFunc(faults, func(f machine.FaultSpec) bool { return f.ID == id })
	}
	for _, pair := range apart {
		if i, j := at(pair[0]), at(pair[1]); i >= 0 && j >= 0 {
			return &Problem{fmt.Sprintf("%s[%d].id", path, max(i, j)), fmt.Sprintf("%s and %s cannot both be", pair[0], pair[1]), "take one away"}
		}
	}
	return nil
}

func parseEvent(path string, raw json.RawMessage, fam *catalogue.Family) (e simEvent, warnings []string, p *Problem) {
	o, p := object(path, raw)
	if p != nil {
		return e, nil, p
	}
	cat := catalogue.Standard()
	warn := func(lacking []string) {
		for _, id := range lacking {
			warnings = append(warnings, fmt.Sprintf("%s: %s has no %s; it is ignored", path, fam.ID, id))
		}
	}
	switch {
	case o["control"] != nil:
		if p = take(o, path, "control", "an object of controls", &e.control); p != nil {
			return e, nil, p
		}
		lacking, p := CheckControls(path+".control", e.control, fam)
		if p != nil {
			return e, nil, p
		}
		warn(lacking)
		return e, warnings, unknown(o, path, "control alone")
	case o["test"] != nil:
		if p = take(o, path, "test", "the id of a test in quotes", &e.test); p != nil {
			return e, nil, p
		}
		if !slices.ContainsFunc(cat.TestsOf(fam.ID), func(t catalogue.Test) bool { return t.ID == e.test }) {
			return e, nil, &Problem{path + ".test", fmt.Sprintf("%s has no test %q", fam.ID, e.test), "see `zanjero sim --list tests`"}
		}
		inner := Settings{}
		if p = take(o, path, "setup", "an object of set-ups", &inner); p != nil {
			return e, nil, p
		}
		e.setup = Settings{}
		for k, raw := range o { // beside the test; setup wins
			var v any
			if err := json.Unmarshal(raw, &v); err != nil {
				return e, nil, &Problem{join(path, k), err.Error(), "mend the JSON"}
			}
			e.setup[k] = v
		}
		lacking, p := CheckSetup(path, e.setup, fam)
		if p != nil {
			return e, nil, p
		}
		warn(lacking)
		if lacking, p = CheckSetup(path+".setup", inner, fam); p != nil {
			return e, nil, p
		}
		warn(lacking)
		for k, v := range inner {
			e.setup[k] = v
		}
		return e, warnings, nil
	case o["wait_min"] != nil:
		if p = take(o, path, "wait_min", "a number", &e.wait); p != nil {
			return e, nil, p
		}
		if !(e.wait >= 0 && e.wait <= maxWaitMin) {
			return e, nil, &Problem{path + ".wait_min", fmt.Sprintf("%g minutes is out of range", e.wait), "write a number from 0 to 10080"}
		}
		return e, nil, unknown(o, path, "wait_min alone")
	case o["repair"] != nil:
		if p = take(o, path, "repair", "a kind of work in quotes", &e.repair); p != nil {
			return e, nil, p
		}
		if p = take(o, path, "reach", "the id of a reach in quotes", &e.ref); p != nil {
			return e, nil, p
		}
		e.grade = GradeMaker
		if p = take(o, path, "grade", `"maker" or "copy"`, &e.grade); p == nil && e.grade != GradeMaker && e.grade != GradeCopy {
			p = &Problem{path + ".grade", fmt.Sprintf("there is no grade %q", e.grade), `write "maker" or "copy"`}
		}
		if p != nil {
			return e, nil, p
		}
		return e, nil, firstProblem(unknown(o, path, "repair, reach and grade"), CheckRepair(path, e.repair, e.ref, fam))
	}
	return e, nil, &Problem{path, "this event is of no known kind", "give it control, test, wait_min or repair"}
}

// CheckRepair refuses work or a reach that is not known.
func CheckRepair(path, act, reach string, fam *catalogue.Family) *Problem {
	cat := catalogue.Standard()
	if cat.RepairAct(act) == nil {
		var ids []string
		for _, a := range cat.Repairs.Acts {
			ids = append(ids, a.ID)
		}
		return &Problem{path + ".repair", fmt.Sprintf("there is no repair %q", act), "write one of " + strings.Join(ids, ", ")}
	}
	if !slices.ContainsFunc(cat.ReachesOf(fam.ID), func(r catalogue.Reach) bool { return r.ID == reach }) {
		return &Problem{path + ".reach", fmt.Sprintf("%s has no reach %q", fam.ID, reach), "write the id of one of its reaches"}
	}
	return nil
}
