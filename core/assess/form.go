package assess

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/problem"
	"zanjero/core/procedure"
	"zanjero/core/scenario"
	"zanjero/core/setup"
)

// Attempt is a finished attempt as it is written, kept and exchanged: open, and whole in
// itself.
type Attempt struct {
	Scenario scenario.Form `json:"scenario"`
	Seed     uint64        `json:"seed"`
	// Noise lays spread on readings and attempts; true where nothing is said.
	Noise *bool `json:"noise,omitempty"`
	// Technique is how tests are set up that are made at once: ideal where nothing is said,
	// or as-set. At "bench" they were worked instrument in hand, act by act; "by-hand" on a
	// real engine, which Iron has the readings of.
	Technique string                       `json:"technique,omitempty"`
	Events    []map[string]json.RawMessage `json:"events"`
	HandOver  Handed                       `json:"hand_over"`
	// Own are the yard's own figures that the job goes by, Page the page that was given with
	// it; both as they were when it was given.
	Own  *catalogue.Own       `json:"own,omitempty"`
	Page *procedure.Procedure `json:"page,omitempty"`
	Iron *ledger.Iron         `json:"iron,omitempty"`
}

// Handed is a hand-over in that form.
type Handed struct {
	Findings []Finding `json:"findings"`
	Cause    *string   `json:"cause"`
	Verdict  string    `json:"verdict"`
	// ProofEvent is the event offered as proof, counted from 0; nil or −1 for none.
	ProofEvent *int   `json:"proof_event"`
	Advice     string `json:"advice"`
	Note       string `json:"note"`
}

// techniqueBench: the events are a bench's own.
const techniqueBench = "bench"

// techniqueHand: they were done on a real engine.
const techniqueHand = "by-hand"

const maxAttempt = 4 << 20 // of bytes

// ReadAttempt reads an attempt as JSON, and gives what is to be judged. Whatever is wrong
// with it is a *problem.Problem with the place; whether the events can be done is found
// when they are replayed.
func ReadAttempt(r io.Reader) (*Input, error) {
	raw, err := io.ReadAll(io.LimitReader(r, maxAttempt+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > maxAttempt {
		return nil, problem.New("", "assess.attempt-too-long", "most_mib", maxAttempt>>20)
	}
	var a Attempt
	if err := scenario.Decode(raw, &a); err != nil {
		return nil, err
	}
	return a.Input()
}

// Input gives what is to be judged. Errors are as ReadAttempt has them.
func (a *Attempt) Input() (*Input, error) {
	sc, bad := a.Scenario.Scenario()
	if len(bad) > 0 {
		return nil, bad[0].At("scenario.")
	}
	if a.Own != nil {
		if err := catalogue.Standard().CheckOwn(a.Own); err != nil {
			return nil, problem.In("own", err)
		}
		sc.Own = a.Own
	}
	if sc.Page = a.Page; sc.Page == nil && a.Scenario.Procedure != "" {
		all := procedure.Schools().Expand()
		at := slices.IndexFunc(all, func(p procedure.Procedure) bool { return p.ID == a.Scenario.Procedure })
		if at < 0 {
			return nil, problem.New("procedure", "assess.no-such-page", "page", problem.Show(a.Scenario.Procedure)).At("scenario.")
		}
		sc.Page = &all[at]
	}
	in := &Input{Scenario: sc, Seed: a.Seed}
	noise := a.Noise == nil || *a.Noise
	switch a.Technique {
	case "", string(bench.Ideal):
		in.Made = &Made{bench.Ideal, noise}
	case string(bench.AsSet):
		in.Made = &Made{bench.AsSet, noise}
	case techniqueBench:
	case techniqueHand:
		if sc.Iron = a.Iron; sc.Iron == nil {
			sc.Iron = &ledger.Iron{}
		}
		if p := sc.Iron.Check(sc.Family, sc.Sheet); p != nil {
			return nil, p.At("iron.")
		}
	default:
		return nil, problem.New("technique", "sim.no-technique", "word", problem.Show(a.Technique))
	}
	if len(a.Events) > ledger.MaxEvents {
		return nil, problem.New("events", "assess.too-many-events", "events", len(a.Events), "most", ledger.MaxEvents)
	}
	for i, e := range a.Events {
		ev, p := eventOf(fmt.Sprintf("events[%d]", i), e, sc)
		if p != nil {
			return nil, p
		}
		in.Events = append(in.Events, ev)
	}
	in.Hand = a.HandOver.handOver()
	if ps := in.Hand.Check(sc.Family, len(in.Events)); len(ps) > 0 {
		p := ps[0]
		if p.Path == "proof_seq" {
			p.Path = "proof_event"
		}
		return nil, p.At("hand_over.")
	}
	return in, nil
}

func (h *Handed) handOver() HandOver {
	out := HandOver{Findings: h.Findings, Verdict: h.Verdict, Advice: h.Advice, Note: h.Note, ProofSeq: -1}
	if h.Cause != nil {
		out.Cause = *h.Cause
	}
	if h.ProofEvent != nil {
		out.ProofSeq = *h.ProofEvent
	}
	return out
}

// kinds of event, by the member that says so.
var eventKinds = []string{"control", "test", "wait_min", "act", "cover", "repair", "mark", "take", "use", "entry", "page", "by_hand"}

// eventOf reads one event.
func eventOf(path string, e map[string]json.RawMessage, sc *scenario.Scenario) (ledger.Event, *problem.Problem) {
	at := slices.IndexFunc(eventKinds, func(k string) bool { return e[k] != nil })
	if at < 0 {
		return ledger.Event{}, problem.New(path, "sim.event-no-known-kind")
	}
	f := fields{path: path, of: maps.Clone(e)}
	out := ledger.Event{}
	f.take("clock_min", &out.Clock)
	switch kind := eventKinds[at]; kind {
	case "control":
		out.Kind = ledger.EventControl
		f.take("control", &out.Control)
	case "test":
		made, p := testEvent(&f, sc)
		made.Clock = out.Clock
		return made, p
	case "wait_min":
		out.Kind = ledger.EventWait
		f.take("wait_min", &out.Minutes)
	case "act":
		out.Kind = ledger.EventDo
		f.take("act", &out.Do)
	case "cover":
		out.Kind, out.Off = ledger.EventCover, true
		f.take("cover", &out.Cover)
		f.take("off", &out.Off)
	case "repair":
		out.Kind = ledger.EventRepair
		f.take("repair", &out.Repair)
		f.take("reach", &out.Reach)
		f.take("grade", &out.Grade)
		if act := catalogue.Standard().RepairAct(out.Repair); act != nil && act.Improvised() && out.Reach == "" {
			out.Reach = act.Reach
		}
	case "mark":
		out.Kind = ledger.EventMark
		f.take("mark", &out.Mark)
		f.take("reach", &out.Reach)
		f.take("up_to", &out.UpTo)
		if out.Mark == "none" {
			out.Mark = ""
		}
	case "take":
		out.Kind = ledger.EventTake
		f.take("take", &out.Test)
		f.take("setup", &out.Setup)
	case "use":
		out.Kind = ledger.EventAct
		f.take("use", &out.Act)
		f.take("value", &out.Value)
	case "entry":
		out.Kind = ledger.EventEntry
		f.take("entry", &out.Reading)
		f.take("unit", &out.Unit)
		f.take("word", &out.Word)
		f.take("judged", &out.Judged)
		f.take("parts", &out.Parts)
	case "page":
		out.Kind = ledger.EventPage
		f.take("page", &out.Why)
	case "by_hand":
		out.Kind = ledger.EventHand
		f.take("by_hand", &out.Test)
		f.take("reading", &out.Reading)
		f.take("unit", &out.Unit)
		f.take("word", &out.Word)
		f.take("judged", &out.Judged)
		f.take("parts", &out.Parts)
		f.take("missed", &out.Missed)
		f.take("ran_min", &out.RanMin)
		f.take("faltered_min", &out.FalteredMin)
		f.take("device", &out.Device)
		f.take("gauge", &out.Gauge)
	}
	return out, f.rest()
}

// fields of an event that are taken one by one; the first that is not of its form stays.
type fields struct {
	path string
	of   map[string]json.RawMessage
	bad  *problem.Problem
}

func (f *fields) take(key string, to any) {
	raw, ok := f.of[key]
	if !ok {
		return
	}
	delete(f.of, key)
	if f.bad == nil && (bytes.Equal(bytes.TrimSpace(raw), []byte("null")) || json.Unmarshal(raw, to) != nil) {
		f.bad = problem.New(f.path+"."+key, "assess.not-of-this-form", "raw", problem.Show(string(raw)))
	}
}

// rest refuses what nobody asked for.
func (f *fields) rest() *problem.Problem {
	if f.bad == nil && len(f.of) > 0 {
		f.bad = problem.New(f.path+"."+slices.Min(slices.Collect(maps.Keys(f.of))), "assess.nothing-name-known", "known", eventKinds)
	}
	return f.bad
}

// testEvent reads a test that was made at once. What stands beside it is set up too, as
// the command line's sim has it; what is recorded of a run changes nothing.
func testEvent(f *fields, sc *scenario.Scenario) (ledger.Event, *problem.Problem) {
	out := ledger.Event{Kind: ledger.EventMade}
	var recorded any
	var inner setup.Settings
	f.take("test", &out.Test)
	f.take("setup", &inner)
	f.take("judged", &out.Judged)
	if string(bytes.TrimSpace(f.of["recorded"])) == "null" {
		delete(f.of, "recorded") // not written down
	}
	f.take("recorded", &recorded)
	if f.bad != nil {
		return out, f.bad
	}
	if len(f.of)+len(inner) > 0 {
		out.Setup = setup.Settings{}
	}
	for k, raw := range f.of {
		var v any
		if json.Unmarshal(raw, &v) != nil {
			return out, problem.New(f.path+"."+k, "assess.not-of-this-form", "raw", problem.Show(string(raw)))
		}
		out.Setup[k] = v
	}
	maps.Copy(out.Setup, inner)
	t := catalogue.Standard().TestFor(sc.Family, sc.Sheet, out.Test)
	if t == nil {
		return out, problem.New(f.path+".test", "sim.no-test", "family", sc.Family, "id", problem.Show(out.Test))
	}
	if t.Kind == catalogue.KindRun {
		out.Judged = ""
		return out, nil
	}
	return out, record(&out, t, f.path+".recorded", recorded)
}

// record puts what was written down into an event: a text or a number, or, of a reading
// with parts, an object of them.
func record(e *ledger.Event, t *catalogue.Test, path string, recorded any) *problem.Problem {
	part := func(path string, v any, number bool, unit string) (p ledger.EventPart, wrong *problem.Problem) {
		switch x := v.(type) {
		case float64:
			if number {
				return ledger.EventPart{Reading: strconv.FormatFloat(x, 'f', -1, 64), Unit: unit}, nil
			}
		case string:
			if number {
				return ledger.EventPart{Reading: strings.TrimSpace(x), Unit: unit}, nil
			}
			return ledger.EventPart{Word: x}, nil
		}
		return p, problem.New(path, "assess.not-of-this-form", "raw", problem.Show(fmt.Sprint(v)))
	}
	if by, several := recorded.(map[string]any); several {
		for _, id := range slices.Sorted(maps.Keys(by)) {
			of := t.Part(id)
			if of == nil {
				return problem.New(path+"."+id, "sim.no-such-part", "test_id", t.ID, "id", id, "parts", partsOf(t))
			}
			v, judged := by[id], ""
			if both, ok := v.(map[string]any); ok {
				v = both["recorded"]
				judged, _ = both["judged"].(string)
			}
			p, wrong := part(path+"."+id, v, of.IsNumber(), of.Unit)
			if wrong != nil {
				return wrong
			}
			p.Judged = judged
			if id == t.Parts[0].ID {
				e.Reading, e.Unit, e.Word = p.Reading, p.Unit, p.Word
				if judged != "" {
					e.Judged = judged
				}
				continue
			}
			if e.Parts == nil {
				e.Parts = map[string]ledger.EventPart{}
			}
			e.Parts[id] = p
		}
		return nil
	}
	if recorded == nil {
		e.Judged = "" // nothing was written down, so nothing was judged
		return nil
	}
	p, wrong := part(path, recorded, t.Kind == catalogue.KindNumber, t.Unit)
	e.Reading, e.Unit, e.Word = p.Reading, p.Unit, p.Word
	if e.Word != "" || t.Figure == "" { // the sheet has nothing to judge it by
		e.Judged = ""
	}
	return wrong
}

func partsOf(t *catalogue.Test) (ids []string) {
	for _, p := range t.Parts {
		ids = append(ids, p.ID)
	}
	return ids
}

// FormOf writes a closed attempt of a bench in the open form, one event for each of the
// ledger's: what comes of it here comes of it anywhere.
func FormOf(sc *scenario.Scenario, seed uint64, events []ledger.Event, h *HandOver) (*Attempt, error) {
	a := &Attempt{Scenario: scenario.FormOf(sc), Seed: seed, Technique: techniqueBench, Own: sc.Own, Page: sc.Page,
		HandOver: Handed{Findings: h.Findings, Verdict: h.Verdict, Advice: h.Advice, Note: h.Note}, Events: []map[string]json.RawMessage{}}
	if h.Cause != "" {
		a.HandOver.Cause = &h.Cause
	}
	if h.ProofSeq >= 0 {
		a.HandOver.ProofEvent = &h.ProofSeq
	}
	if sc.Iron != nil {
		a.Technique, a.Iron = techniqueHand, sc.Iron
	}
	for _, e := range events {
		out := map[string]any{}
		more := func(key string, v any, has bool) {
			if has {
				out[key] = v
			}
		}
		switch e.Kind {
		case ledger.EventControl:
			out["control"] = e.Control
		case ledger.EventTake:
			out["take"] = e.Test
			more("setup", e.Setup, len(e.Setup) > 0)
		case ledger.EventAct:
			out["use"] = e.Act
			more("value", e.Value, e.Value != nil)
		case ledger.EventEntry:
			out["entry"] = e.Reading
			more("unit", e.Unit, e.Unit != "")
			more("word", e.Word, e.Word != "")
			more("judged", e.Judged, e.Judged != "")
			more("parts", e.Parts, len(e.Parts) > 0)
		case ledger.EventMark:
			out["mark"], out["reach"] = e.Mark, e.Reach
			more("mark", "none", e.Mark == "")
			more("up_to", true, e.UpTo)
		case ledger.EventCover:
			out["cover"], out["off"] = e.Cover, e.Off
		case ledger.EventRepair:
			out["repair"], out["reach"] = e.Repair, e.Reach
			more("grade", e.Grade, e.Grade != "")
		case ledger.EventWait:
			out["wait_min"] = e.Minutes
		case ledger.EventDo:
			out["act"] = e.Do
		case ledger.EventPage:
			out["page"] = e.Why
		case ledger.EventHand:
			out["by_hand"] = e.Test
			more("reading", e.Reading, e.Reading != "")
			more("unit", e.Unit, e.Unit != "")
			more("word", e.Word, e.Word != "")
			more("judged", e.Judged, e.Judged != "")
			more("parts", e.Parts, len(e.Parts) > 0)
			more("missed", e.Missed, len(e.Missed) > 0)
			more("ran_min", e.RanMin, e.RanMin > 0)
			more("faltered_min", e.FalteredMin, e.FalteredMin > 0)
			more("device", e.Device, e.Device != "")
			more("gauge", e.Gauge, e.Gauge != nil)
		default:
			return nil, fmt.Errorf("event of kind %q has no open form", e.Kind)
		}
		more("clock_min", e.Clock, e.Clock > 0)
		raw := map[string]json.RawMessage{}
		for k, v := range out {
			b, err := json.Marshal(v)
			if err != nil {
				return nil, err
			}
			raw[k] = b
		}
		a.Events = append(a.Events, raw)
	}
	return a, nil
}

// AssessAttempt reads an attempt and judges it.
func AssessAttempt(ctx context.Context, r io.Reader) (*Assessment, error) {
	in, err := ReadAttempt(r)
	if err != nil {
		return nil, err
	}
	a, err := Assess(ctx, *in)
	var p *problem.Problem
	if errors.As(err, &p) && in.Made != nil { // as it is called there
		for _, member := range []string{".word", ".reading", ".unit"} {
			if at, ok := strings.CutSuffix(p.Path, member); ok {
				p.Path = at + ".recorded"
			}
		}
	}
	return a, err
}
