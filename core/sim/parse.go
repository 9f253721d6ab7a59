package sim

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/setup"
)

// object reads a JSON object, or says that it is none.
func object(path string, raw json.RawMessage) (map[string]json.RawMessage, *problem.Problem) {
	var o map[string]json.RawMessage
	if err := json.Unmarshal(raw, &o); err != nil || o == nil {
		var syntax *json.SyntaxError
		if errors.As(err, &syntax) {
			return nil, problem.New(path, "sim.not-json-at-byte", "detail", err, "byte", syntax.Offset)
		}
		return nil, problem.New(path, "sim.object-braces-belongs")
	}
	return o, nil
}

// take decodes a member of an object into out and removes it.
func take[T any](o map[string]json.RawMessage, path, key, what string, out *T) *problem.Problem {
	raw, ok := o[key]
	if !ok {
		return nil
	}
	delete(o, key)
	at := join(path, key)
	if bytes.Equal(bytes.TrimSpace(raw), []byte("null")) || json.Unmarshal(raw, out) != nil {
		return problem.New(at, "sim.not-of-this-form", "raw", shorten(raw), "want", what)
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
func unknown(o map[string]json.RawMessage, path string, known ...string) *problem.Problem {
	keys := make([]string, 0, len(o))
	for k := range o {
		keys = append(keys, k)
	}
	if len(keys) == 0 {
		return nil
	}
	return problem.New(join(path, slices.Min(keys)), "sim.nothing-name-known", "known", known)
}

func parseSim(raw []byte) (in simInput, p *problem.Problem) {
	o, p := object("", raw)
	if p != nil {
		return in, p
	}
	cat := catalogue.Standard()
	in.options, in.warnings = bench.Options{Technique: bench.Ideal, Noise: true, FuelML: -1}, []problem.Problem{}
	if p = take(o, "", "machine", "@want.id-of-a-family", &in.family); p != nil {
		return in, p
	}
	fam := cat.Family(in.family)
	if fam == nil {
		var ids []string
		for _, f := range cat.Families {
			ids = append(ids, f.ID)
		}
		return in, problem.New("machine", "sim.no-machine", "family", in.family, "ids", ids)
	}
	in.sheet, in.ambient = fam.Sheet, machine.Ambient{TemperatureC: 20}
	if p = in.parseSheet(o, fam); p != nil {
		return in, p
	}
	if raw, ok := o["ambient"]; ok {
		delete(o, "ambient")
		if p = parseAmbient(raw, &in.ambient); p != nil {
			return in, p
		}
	}
	var technique string
	var fuel *float64
	for _, step := range []func() *problem.Problem{
		func() *problem.Problem { return take(o, "", "seed", "@want.a-whole-number-from-0", &in.options.Seed) },
		func() *problem.Problem { return take(o, "", "noise", "@want.true-or-false", &in.options.Noise) },
		func() *problem.Problem { return take(o, "", "technique", "@want.ideal-or-as-set", &technique) },
		func() *problem.Problem { return take(o, "", "fuel_ml", "@want.a-number", &fuel) },
	} {
		if p = step(); p != nil {
			return in, p
		}
	}
	switch bench.Technique(technique) {
	case bench.Ideal, "":
	case bench.AsSet:
		in.options.Technique = bench.AsSet
	default:
		return in, problem.New("technique", "sim.no-technique", "word", technique)
	}
	if fuel != nil {
		if tank := in.sheet["tank_ml"].Middle(); *fuel < 0 || *fuel > tank {
			return in, problem.New("fuel_ml", "sim.tank-holds-less", "value", *fuel, "most", tank)
		}
		in.options.FuelML = *fuel
	}
	var faults, events []json.RawMessage
	if p = take(o, "", "faults", "@want.a-list", &faults); p != nil {
		return in, p
	}
	if p = take(o, "", "events", "@want.a-list", &events); p != nil {
		return in, p
	}
	if len(faults) > MaxFaults || len(events) > MaxEvents {
		return in, problem.New("events", "sim.faults-events-too-many", "faults", len(faults), "events", len(events), "most_faults", MaxFaults,
			"most_events", MaxEvents)
	}
	if p = unknown(o, "", "machine", "sheet", "ambient", "seed", "noise", "technique", "fuel_ml", "faults", "events"); p != nil {
		return in, p
	}
	for i, f := range faults {
		spec, p := parseFault(fmt.Sprintf("faults[%d]", i), f, fam)
		if p == nil && slices.ContainsFunc(in.faults, func(o machine.FaultSpec) bool { return o.ID == spec.ID }) {
			p = problem.New(fmt.Sprintf("faults[%d].id", i), "sim.stands-twice", "fault", spec.ID)
		}
		if p != nil {
			return in, p
		}
		in.faults = append(in.faults, spec)
	}
	if p := machine.CheckTogether("faults", in.faults); p != nil {
		return in, p
	}
	if p := in.fitVariant(fam, events); p != nil {
		return in, p
	}
	for i, e := range events {
		ev, warnings, p := parseEvent(fmt.Sprintf("events[%d]", i), e, fam, in.sheet)
		if p != nil {
			return in, p
		}
		in.events, in.warnings = append(in.events, ev), append(in.warnings, warnings...)
	}
	return in, nil
}

// parseSheet lays figures of its own over the family's sheet, whole or none.
func (in *simInput) parseSheet(o map[string]json.RawMessage, fam *catalogue.Family) *problem.Problem {
	var own catalogue.Sheet
	if p := take(o, "", "sheet", "@want.an-object-of-figures", &own); p != nil || own == nil {
		return p
	}
	cat := catalogue.Standard()
	in.sheet, in.stated = cat.Given(fam.ID, own)
	for _, p := range cat.CheckSheet(fam.ID, in.sheet) {
		p.Path = "sheet." + p.Path
		return &p
	}
	return nil
}

// fitVariant takes the machine as the variant that can have its faults and
// tests.
func (in *simInput) fitVariant(fam *catalogue.Family, events []json.RawMessage) *problem.Problem {
	cat := catalogue.Standard()
	var all []catalogue.Needing
	var paths []string
	for i, f := range in.faults {
		all, paths = append(all, catalogue.Needing{ID: f.ID, Needs: cat.Fault(f.ID).Needs}), append(paths, fmt.Sprintf("faults[%d].id", i))
	}
	for i, raw := range events {
		var e struct {
			Test string `json:"test"`
		}
		_ = json.Unmarshal(raw, &e) // what is no event is refused later
		if t := cat.TestFor(fam.ID, nil, e.Test); t != nil {
			all, paths = append(all, catalogue.Needing{ID: t.ID, Needs: t.Needs}), append(paths, fmt.Sprintf("events[%d].test", i))
		}
	}
	sheet, changed, at := cat.Variant(fam, in.sheet, in.stated, all)
	if at >= 0 {
		return problem.New(paths[at], "sim.no-such-variant", "family", fam.ID, "id", all[at].ID)
	}
	in.sheet, in.warnings = sheet, append(in.warnings, changed...)
	return nil
}

func parseAmbient(raw json.RawMessage, a *machine.Ambient) *problem.Problem {
	o, p := object("ambient", raw)
	if p != nil {
		return p
	}
	if p = take(o, "ambient", "temperature_c", "@want.a-number", &a.TemperatureC); p != nil {
		return p
	}
	if p = take(o, "ambient", "altitude_m", "@want.a-number", &a.AltitudeM); p != nil {
		return p
	}
	return firstProblem(unknown(o, "ambient", "temperature_c", "altitude_m"), machine.CheckAmbient("ambient", *a))
}

func firstProblem(ps ...*problem.Problem) *problem.Problem {
	for _, p := range ps {
		if p != nil {
			return p
		}
	}
	return nil
}

func parseFault(path string, raw json.RawMessage, fam *catalogue.Family) (f machine.FaultSpec, p *problem.Problem) {
	o, p := object(path, raw)
	if p != nil {
		return f, p
	}
	f.Severity = 1
	if p = take(o, path, "id", "@want.id-of-a-fault", &f.ID); p != nil {
		return f, p
	}
	if p = take(o, path, "severity", "@want.a-number", &f.Severity); p != nil {
		return f, p
	}
	if p = take(o, path, "mode", "@want.a-mode-of-the-fault", &f.Mode); p != nil {
		return f, p
	}
	if p = take(o, path, "cause", "@want.a-cause-of-the-fault", &f.Cause); p != nil {
		return f, p
	}
	if p = unknown(o, path, "id", "severity", "mode", "cause"); p != nil {
		return f, p
	}
	return f, machine.CheckFault(path, f, fam)
}

func parseEvent(path string, raw json.RawMessage, fam *catalogue.Family, sheet catalogue.Sheet) (e simEvent, warnings []problem.Problem, p *problem.Problem) {
	o, p := object(path, raw)
	if p != nil {
		return e, nil, p
	}
	switch {
	case o["control"] != nil:
		return parseControl(path, o, fam, sheet)
	case o["test"] != nil:
		return parseTest(path, o, fam, sheet)
	case o["wait_min"] != nil:
		var wait float64
		if p = take(o, path, "wait_min", "@want.a-number", &wait); p == nil && !(wait >= 0 && wait <= maxWaitMin) {
			p = problem.New(path+".wait_min", "sim.minutes-out-range", "minutes", wait)
		}
		return func(s *bench.Session, _ *SimOutput) { s.Wait(wait) }, nil, firstProblem(p, unknown(o, path, "wait_min"))
	case o["act"] != nil:
		var id string
		p = take(o, path, "act", "@want.id-of-an-action", &id)
		return func(s *bench.Session, _ *SimOutput) { s.Do(id) }, nil, firstProblem(p, unknown(o, path, "act"), catalogue.CheckAction(path+".act", id, fam))
	case o["cover"] != nil:
		id, off := "", true
		p = firstProblem(take(o, path, "cover", "@want.id-of-a-cover", &id), take(o, path, "off", "@want.true-or-false", &off))
		return func(s *bench.Session, _ *SimOutput) { s.Cover(id, off) }, nil, firstProblem(p, unknown(o, path, "cover", "off"),
			catalogue.CheckCover(path+".cover", id, fam))
	case o["repair"] != nil:
		return parseRepair(path, o, fam)
	}
	return e, nil, problem.New(path, "sim.event-no-known-kind")
}

// warn says which settings a machine has no control for.
func warn(path string, fam *catalogue.Family, lacking []string) (out []problem.Problem) {
	for _, id := range lacking {
		out = append(out, *problem.New(path, "sim.control-ignored", "family", fam.ID, "control_id", id))
	}
	return out
}

func parseControl(path string, o map[string]json.RawMessage, fam *catalogue.Family, sheet catalogue.Sheet) (simEvent, []problem.Problem, *problem.Problem) {
	var c setup.Settings
	if p := take(o, path, "control", "@want.an-object-of-controls", &c); p != nil {
		return nil, nil, p
	}
	lacking, p := setup.CheckControls(path+".control", c, fam, sheet)
	return func(s *bench.Session, _ *SimOutput) { s.Control(c) }, warn(path, fam, lacking), firstProblem(p, unknown(o, path, "control"))
}

func parseTest(path string, o map[string]json.RawMessage, fam *catalogue.Family, sheet catalogue.Sheet) (simEvent, []problem.Problem, *problem.Problem) {
	var id string
	if p := take(o, path, "test", "@want.id-of-a-test", &id); p != nil {
		return nil, nil, p
	}
	if catalogue.Standard().TestFor(fam.ID, sheet, id) == nil {
		return nil, nil, problem.New(path+".test", "sim.no-test", "family", fam.ID, "id", id)
	}
	inner := setup.Settings{}
	if p := take(o, path, "setup", "@want.an-object-of-set-ups", &inner); p != nil {
		return nil, nil, p
	}
	own := setup.Settings{}
	for k, raw := range o { // beside the test; setup wins
		var v any
		if err := json.Unmarshal(raw, &v); err != nil {
			return nil, nil, problem.In(join(path, k), err)
		}
		own[k] = v
	}
	lacking, p := setup.CheckSetup(path, own, fam, sheet)
	if p != nil {
		return nil, nil, p
	}
	more, p := setup.CheckSetup(path+".setup", inner, fam, sheet)
	if p != nil {
		return nil, nil, p
	}
	maps.Copy(own, inner)
	return func(s *bench.Session, out *SimOutput) { out.Observations = append(out.Observations, s.Test(id, own)) }, warn(path, fam, append(lacking, more...)), nil
}

func parseRepair(path string, o map[string]json.RawMessage, fam *catalogue.Family) (simEvent, []problem.Problem, *problem.Problem) {
	act, reach, grade := "", "", bench.GradeMaker
	p := firstProblem(take(o, path, "repair", "@want.a-kind-of-work", &act), take(o, path, "reach", "@want.id-of-a-reach", &reach),
		take(o, path, "grade", "@want.maker-or-copy", &grade))
	if p != nil {
		return nil, nil, p
	}
	if grade != bench.GradeMaker && grade != bench.GradeCopy {
		return nil, nil, problem.New(path+".grade", "sim.no-grade", "grade", grade)
	}
	if a := catalogue.Standard().RepairAct(act); a != nil && a.Improvised() && reach == "" {
		reach = a.Reach
	}
	return func(s *bench.Session, _ *SimOutput) { s.Repair(act, reach, grade) }, nil, firstProblem(unknown(o, path, "repair", "reach", "grade"),
		catalogue.CheckRepair(path, act, reach, fam))
}
