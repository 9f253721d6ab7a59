package ledger

import (
	"reflect"
	"slices"

	"zanjero/core/problem"
)

// MaxEvents is the most acts that one ledger holds. A real attempt has under
// two hundred; a ledger without an end would be replayed without an end.
const MaxEvents = 500

// kinds of event that there are.
var kinds = []string{EventControl, EventTake, EventAct, EventEntry, EventMark, EventCover, EventRepair, EventWait, EventDo, EventPage, EventMade, EventHand}

// longestText is the most letters of anything that is named in an event.
const longestText = 40

// only gives the event with nothing but what its kind has.
func (e Event) only() Event {
	o := Event{Kind: e.Kind, Clock: e.Clock}
	switch e.Kind {
	case EventControl:
		o.Control = e.Control
	case EventTake:
		o.Test, o.Setup = e.Test, e.Setup
	case EventAct:
		o.Act, o.Value = e.Act, e.Value
	case EventEntry:
		o.Reading, o.Unit, o.Word, o.Judged, o.Parts = e.Reading, e.Unit, e.Word, e.Judged, e.Parts
	case EventMark:
		o.Reach, o.Mark, o.UpTo = e.Reach, e.Mark, e.UpTo
	case EventMade:
		o.Test, o.Setup, o.Reading, o.Unit, o.Word, o.Judged, o.Parts = e.Test, e.Setup, e.Reading, e.Unit, e.Word, e.Judged, e.Parts
	case EventHand:
		o.Test, o.Reading, o.Unit, o.Word, o.Judged, o.Parts = e.Test, e.Reading, e.Unit, e.Word, e.Judged, e.Parts
		o.Missed, o.RanMin, o.FalteredMin, o.Device, o.Gauge = e.Missed, e.RanMin, e.FalteredMin, e.Device, e.Gauge
	case EventCover:
		o.Cover, o.Off = e.Cover, e.Off
	case EventRepair:
		o.Repair, o.Reach, o.Grade = e.Repair, e.Reach, e.Grade
	case EventWait:
		o.Minutes = e.Minutes
	case EventDo:
		o.Do = e.Do
	case EventPage:
		o.Why = e.Why
	}
	return o
}

// checkForm refuses members that the event's kind does not have, and texts and
// values that no act takes: an event is kept for ever, so it holds no more than
// it needs.
func (e Event) checkForm() *problem.Problem {
	was, kept := reflect.ValueOf(e), reflect.ValueOf(e.only())
	for i := range was.NumField() {
		name := jsonName(was.Type().Field(i))
		if s := was.Field(i); s.Kind() == reflect.String && s.Len() > longestText {
			return problem.New(name, "ledger.too-long", "most", longestText)
		}
		if !reflect.DeepEqual(was.Field(i).Interface(), kept.Field(i).Interface()) && slices.Contains(kinds, e.Kind) {
			return problem.New(name, "ledger.member-of-another-kind", "kind", e.Kind)
		}
	}
	for id, part := range e.Parts {
		if len(e.Parts) > 5 || max(len(id), len(part.Reading), len(part.Unit), len(part.Word), len(part.Judged)) > longestText {
			return problem.New("parts", "ledger.too-long", "most", longestText)
		}
	}
	switch v := e.Value.(type) {
	case map[string]any:
		if len(v) > 2 {
			return problem.New("value", "ledger.not-a-set-up-value")
		}
		for _, x := range v {
			if !plain(x) {
				return problem.New("value", "ledger.not-a-set-up-value")
			}
		}
	default:
		if !plain(v) {
			return problem.New("value", "ledger.no-act-takes-such-value")
		}
	}
	return nil
}

// plain says that a value is a number, a short text, true, false or nothing.
func plain(v any) bool {
	switch x := v.(type) {
	case nil, bool, float64:
		return true
	case string:
		return len(x) <= longestText
	}
	return false
}

func jsonName(f reflect.StructField) string {
	name := f.Tag.Get("json")
	for i, c := range name {
		if c == ',' {
			return name[:i]
		}
	}
	return name
}
