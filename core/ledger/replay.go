package ledger

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"

	"zanjero/core/bench"
	"zanjero/core/problem"
)

// Shown is what a person at the bench saw come of an event, as it is kept beside
// it. It is what a replay is held against: a replay that shows anything else is
// no replay, and nothing may be judged from it.
type Shown struct {
	// Minutes on the bench clock and Money spent, after the event.
	Minutes float64 `json:"minutes"`
	Money   float64 `json:"money"`
	// Test that told something, as a number or a word, or that a meter was
	// over its limit; Also is what was met beside it.
	Test  string         `json:"test,omitempty"`
	Value *float64       `json:"value,omitempty"`
	Word  *string        `json:"word,omitempty"`
	Over  bool           `json:"over,omitempty"`
	Also  map[string]any `json:"also,omitempty"`
	// Parts are the others of a reading that has several.
	Parts map[string]bench.Part `json:"parts,omitempty"`
	// Instrument in hand, where nothing was read off it with this event.
	Instrument *bench.Instrument `json:"instrument,omitempty"`
}

// Shown is what the last event showed. It panics on a ledger without events.
func (l *Ledger) Shown() Shown {
	s := Shown{Minutes: math.Round(l.Minutes()*1e6) / 1e6, Money: math.Round(l.Money()*1e6) / 1e6}
	if n := len(l.lines); n > 0 && l.lines[n-1].Seq == l.seq-1 && l.lines[n-1].Obs != nil {
		o := l.lines[n-1].Obs
		s.Test, s.Value, s.Word, s.Over, s.Also, s.Parts = o.Test, o.Value, o.Word, o.Over(), o.Also, o.Parts
	} else if l.events[l.seq-1].Kind != EventMark {
		if s.Instrument = l.Instrument(); s.Instrument != nil {
			s.Instrument.Scale = nil // what is drawn on it is no finding
		}
	}
	return s
}

// Recorded is an event as it was kept, with what it showed then, as JSON of
// Shown.
type Recorded struct {
	Event Event
	Shown json.RawMessage
}

// Difference is the error of a replay that did not come to what was recorded:
// the model is not the one that the ledger was made on, or the record has been
// damaged.
type Difference struct {
	// Seq of the event, what was shown Then and what the replay shows Now.
	Seq       int
	Then, Now json.RawMessage
	// Refused is why the event could not be done at all; nil where it could.
	Refused *problem.Problem
}

func (d *Difference) Error() string {
	if d.Refused != nil {
		return fmt.Sprintf("event %d was done then and is refused now: %v", d.Seq, d.Refused)
	}
	return fmt.Sprintf("event %d showed %s then and shows %s now", d.Seq, d.Then, d.Now)
}

// Replay applies recorded events, which must follow those already there, and
// compares what each shows with what it showed. At the first that differs it
// stops with a *Difference; the ledger is then of no more use.
func (l *Ledger) Replay(rs []Recorded) error {
	for _, r := range rs {
		at := l.seq
		if p := l.Apply(r.Event); p != nil {
			return &Difference{Seq: at, Then: r.Shown, Refused: p}
		}
		now, err := json.Marshal(l.Shown())
		if err != nil {
			return fmt.Errorf("event %d: %w", at, err)
		}
		if !sameJSON(r.Shown, now) {
			return &Difference{Seq: at, Then: r.Shown, Now: now}
		}
	}
	return nil
}

// sameJSON compares two JSON texts by value: whoever kept one may have put its
// keys in another order.
func sameJSON(a, b []byte) bool {
	canon := func(raw []byte) ([]byte, bool) {
		var v any
		if json.Unmarshal(raw, &v) != nil {
			return nil, false
		}
		out, err := json.Marshal(v)
		return out, err == nil
	}
	x, ok := canon(a)
	y, too := canon(b)
	return ok && too && bytes.Equal(x, y)
}
