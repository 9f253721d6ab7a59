package sim

import (
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/setup"
	"zanjero/core/units"
)

// Seen is a ledger from outside: what was done to a machine whose faults are
// not known, and what was observed.
type Seen struct {
	Family   string
	Sheet    catalogue.Sheet
	Ambient  machine.Ambient
	Lines    []ledger.Line
	Warnings []problem.Problem
}

// ReadSeen reads a ledger in the form of the command line's `sim`, without
// faults and with `observed` beside each test: a number in the test's unit, a
// text as it is typed ("43 psi", "OL"), or a word. Whatever is wrong comes back
// as a *Problem.
func ReadSeen(r io.Reader) (*Seen, error) {
	raw, err := io.ReadAll(io.LimitReader(r, maxSimBytes+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > maxSimBytes {
		return nil, problem.New("", "sim.input-over-1-mib")
	}
	o, p := object("", raw)
	if p != nil {
		return nil, p
	}
	if _, told := o["faults"]; told {
		return nil, problem.New("faults", "sim.faults-are-asked-for")
	}
	var events []map[string]json.RawMessage
	if e, ok := o["events"]; ok {
		if err := json.Unmarshal(e, &events); err != nil {
			return nil, problem.In("events", err)
		}
	}
	observed := make([]json.RawMessage, len(events))
	for i, e := range events {
		observed[i] = e["observed"]
		delete(e, "observed")
	}
	if o["events"], err = json.Marshal(events); err != nil {
		return nil, err
	}
	plain, err := json.Marshal(o)
	if err != nil {
		return nil, err
	}
	in, p := parseSim(plain)
	if p != nil {
		return nil, p
	}
	out := &Seen{Family: in.family, Sheet: in.sheet, Ambient: in.ambient, Warnings: in.warnings}
	for i, e := range events {
		st, p := lineOf(fmt.Sprintf("events[%d]", i), &in, e, observed[i])
		if p != nil {
			return nil, p
		}
		st.Seq = i
		out.Lines = append(out.Lines, st)
	}
	return out, nil
}

// stepOf makes a step of an event that has been checked already.
func lineOf(path string, in *simInput, e map[string]json.RawMessage, observed json.RawMessage) (st ledger.Line, p *problem.Problem) {
	text := func(key string) (s string) {
		_ = json.Unmarshal(e[key], &s) // checked already
		return s
	}
	switch {
	case e["control"] != nil:
		st.Kind = ledger.EventControl
		_ = json.Unmarshal(e["control"], &st.Control)
	case e["wait_min"] != nil:
		st.Kind = ledger.EventWait
		_ = json.Unmarshal(e["wait_min"], &st.Minutes)
	case e["act"] != nil:
		st.Kind, st.Do = ledger.EventDo, text("act")
	case e["cover"] != nil:
		st.Kind, st.Cover, st.Off = ledger.EventCover, text("cover"), true
		if e["off"] != nil {
			_ = json.Unmarshal(e["off"], &st.Off)
		}
	case e["repair"] != nil:
		st.Kind, st.Repair, st.Reach = ledger.EventRepair, text("repair"), text("reach")
		if a := catalogue.Standard().RepairAct(st.Repair); a != nil && a.Improvised() {
			st.Reach = a.Reach
		}
	default:
		st.Kind, st.Test, st.Setup, st.Master = ledger.EventTake, text("test"), setup.Settings{}, true
		for k, raw := range e {
			if k != "test" && k != "setup" {
				var v any
				_ = json.Unmarshal(raw, &v)
				st.Setup[k] = v
			}
		}
		var inner setup.Settings
		_ = json.Unmarshal(e["setup"], &inner)
		for k, v := range inner {
			st.Setup[k] = v
		}
		if observed == nil {
			return st, nil
		}
		st.Obs, st.Entry, p = observation(path+".observed", catalogue.Standard().TestFor(in.family, in.sheet, st.Test), observed)
	}
	if observed != nil && st.Kind != ledger.EventTake {
		p = problem.New(path+".observed", "sim.only-test-shows-something")
	}
	return st, p
}

func observation(path string, t *catalogue.Test, raw json.RawMessage) (*bench.Observation, *ledger.Entry, *problem.Problem) {
	var v any
	if err := json.Unmarshal(raw, &v); err != nil {
		return nil, nil, problem.In(path, err)
	}
	if by, several := v.(map[string]any); several {
		return observedParts(path, t, by)
	}
	o, e := &bench.Observation{Test: t.ID, Unit: t.Unit, Valid: true}, &ledger.Entry{Unit: t.Unit}
	if t.Kind != catalogue.KindNumber {
		w, ok := v.(string)
		if !ok || !slices.Contains(t.Words, w) {
			return nil, nil, problem.New(path, "sim.not-word", "value", problem.Show(v), "words", t.Words)
		}
		o.Word, e.Word = &w, w
		return o, e, nil
	}
	switch x := v.(type) {
	case float64:
		e.Value = x
	case string:
		if strings.EqualFold(strings.TrimSpace(x), ledger.OverLimit) {
			e.Over, o.Also = true, map[string]any{"over_limit": true}
			return o, e, nil
		}
		n, u, err := units.ParseReading(x)
		if err == nil && u != "" {
			n, err = units.Convert(n, u, units.Unit(t.Unit))
		}
		if err != nil {
			return nil, nil, problem.In(path, err)
		}
		e.Value = n
	default:
		return nil, nil, problem.New(path, "sim.no-reading", "value", problem.Show(v), "unit", t.Unit)
	}
	o.Value = &e.Value
	return o, e, nil
}

// observedParts reads what was observed of the parts of a reading, by part; one
// that is left out tells nothing.
func observedParts(path string, t *catalogue.Test, by map[string]any) (*bench.Observation, *ledger.Entry, *problem.Problem) {
	if len(t.Parts) == 0 {
		return nil, nil, problem.New(path, "sim.reading-has-no-parts", "test_id", t.ID)
	}
	var ids []string
	for _, p := range t.Parts {
		ids = append(ids, p.ID)
	}
	for _, id := range slices.Sorted(maps.Keys(by)) {
		if t.Part(id) == nil {
			return nil, nil, problem.New(path+"."+id, "sim.no-such-part", "test_id", t.ID, "id", id, "parts", ids)
		}
	}
	if len(by) == 0 {
		return nil, nil, problem.New(path, "sim.no-such-part", "test_id", t.ID, "id", "", "parts", ids)
	}
	o, e := &bench.Observation{Test: t.ID, Unit: t.Unit, Valid: true}, &ledger.Entry{Unit: t.Unit, Left: true}
	for i, p := range t.Parts {
		v, there := by[p.ID]
		if !there {
			continue
		}
		raw, err := json.Marshal(v)
		if err != nil {
			return nil, nil, problem.In(path+"."+p.ID, err)
		}
		as := t // the first part is what the test itself is
		if i > 0 {
			as = &catalogue.Test{ID: t.ID, Kind: catalogue.KindNumber, Unit: p.Unit, Words: p.Words}
			if !p.IsNumber() {
				as.Kind = catalogue.KindLook
			}
		}
		seen, entry, prob := observation(path+"."+p.ID, as, raw)
		if prob != nil {
			return nil, nil, prob
		}
		if i == 0 {
			entry.Parts = e.Parts
			o, e = seen, entry
			continue
		}
		if e.Parts == nil {
			e.Parts = map[string]ledger.Entry{}
		}
		e.Parts[p.ID] = *entry
	}
	return o, e, nil
}
