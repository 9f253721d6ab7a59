package apprentice

import (
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/scenario"
)

// ByHand is an attempt at a bench as it would be typed in from a real engine that shows the
// same: every test by a hand, with what was left out and when it was done. What a bench shows
// and nobody wrote down, such as how a run went, is written down.
func ByHand(sc *scenario.Scenario, seed uint64, events []ledger.Event) ([]ledger.Event, error) {
	l, err := sc.Made(bench.Ideal, true, seed)
	if err != nil {
		return nil, err
	}
	var out []ledger.Event
	for _, e := range events {
		if p := l.Apply(e); p != nil {
			return nil, p
		}
		if e.Kind == ledger.EventMade {
			e = byHand(e, l.TestOf(e.Test), l.Latest().Obs)
		}
		e.Clock = l.Minutes()
		out = append(out, e)
	}
	return out, nil
}

// byHand is a test that was made at a bench as a hand writes it down.
func byHand(e ledger.Event, t *catalogue.Test, o *bench.Observation) ledger.Event {
	h := ledger.Event{Kind: ledger.EventHand, Test: t.ID, FalteredMin: o.FalterAt, Reading: e.Reading, Unit: e.Unit, Word: e.Word, Judged: e.Judged}
	for _, c := range o.Because {
		if slices.Contains(t.Conditions, c) {
			h.Missed = append(h.Missed, c)
		}
	}
	if ran, ok := o.Also["ran_min"].(float64); ok && t.Long {
		h.RanMin = ran
	}
	if h.Reading == "" && h.Word == "" && o.Word != nil {
		h.Word = *o.Word
	}
	return h
}

// Read is what an instructor reads of an engine: tests of a machine of the model, without
// noise, as a hand writes them down.
func Read(sc *scenario.Scenario, tests []string) ([]ledger.HandReading, error) {
	s, err := bench.NewSession(sc.Family, sc.Sheet, sc.Ambient, sc.Faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
	if err != nil {
		return nil, err
	}
	var out []ledger.HandReading
	for _, id := range tests {
		o := s.Clone().Test(id, nil)
		r := ledger.HandReading{Test: id}
		switch {
		case o.Word != nil:
			r.Word = *o.Word
		case o.Value == nil:
			r.Reading, r.Unit = ledger.OverLimit, o.Unit
		default:
			r.Reading, r.Unit = figures(*o.Value), o.Unit
		}
		out = append(out, r)
	}
	return out, nil
}
