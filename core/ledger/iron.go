package ledger

import (
	"fmt"
	"maps"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/problem"
	"zanjero/core/setup"
	"zanjero/core/units"
)

// Iron is a real engine as its instructor has read it: what a hand reads of it is held
// against that. It is not changed once it is made.
type Iron struct {
	// Bugged are the readings with the fault in it, Sound those of before. A test that
	// nobody has read stands in neither.
	Bugged []HandReading `json:"bugged,omitempty"`
	Sound  []HandReading `json:"sound,omitempty"`
}

// HandReading is what a hand has written down of one test.
type HandReading struct {
	Test    string               `json:"test"`
	Reading string               `json:"reading,omitempty"`
	Unit    string               `json:"unit,omitempty"`
	Word    string               `json:"word,omitempty"`
	Parts   map[string]EventPart `json:"parts,omitempty"`
	// Gauge is what it was read with; nil for one that no register knows.
	Gauge *Gauge `json:"gauge,omitempty"`
	// Within is how far two people who read the same may lie apart, in the unit of the test;
	// 0 for a division of the instrument.
	Within float64 `json:"within,omitempty"`
}

// Held is what a line on a real engine is held against.
type Held struct {
	// Known: somebody else has read the same. Without, the line's observation is what was
	// written down itself.
	Known  bool
	Within float64 // as HandReading has it
	// Gauge is what somebody else has read it with.
	Gauge *Gauge
}

// OnIron starts a ledger on a real engine. What is done is done to a model of it too: that
// says which covers are off, what was safe and whether work could have mended it. It shows
// nothing: that is for the hand that reads.
func OnIron(s *bench.Session, iron *Iron) *Ledger {
	l := New(s)
	l.iron = iron
	return l
}

// Check refuses readings of an engine that no hand can have written, with their place.
func (i *Iron) Check(family string, sheet catalogue.Sheet) *problem.Problem {
	if p := check("bugged", i.Bugged, family, sheet); p != nil {
		return p
	}
	return check("sound", i.Sound, family, sheet)
}

func check(at string, rs []HandReading, family string, sheet catalogue.Sheet) *problem.Problem {
	known := map[string]bool{}
	for k := range rs {
		r, place := &rs[k], fmt.Sprintf("%s[%d].", at, k)
		t := catalogue.Standard().TestFor(family, sheet, r.Test)
		switch {
		case t == nil:
			return problem.New(place+"test", "ledger.no-test-machine", "test", problem.Show(r.Test))
		case known[t.ID]:
			return problem.New(place+"test", "ledger.read-twice", "test", t.ID)
		case !(r.Within >= 0) || r.Within > instrument.AccuracyOf(t.ID).Most:
			return problem.New(place+"within", "ledger.within-cannot-be", "within", r.Within)
		}
		if p := checkWritten(t, r.event(), false); p != nil {
			return p.At(place)
		}
		if p := r.Gauge.check(t); p != nil {
			return p.At(place)
		}
		known[t.ID] = true
	}
	return nil
}

func (r *HandReading) event() Event {
	return Event{Reading: r.Reading, Unit: r.Unit, Word: r.Word, Parts: r.Parts}
}

// checkHand refuses what does not go with the kind of engine: tests of the bench on iron,
// and what only iron has on a bench.
func (l *Ledger) checkHand(e Event) *problem.Problem {
	switch e.Kind {
	case EventTake, EventAct, EventMade:
		if l.iron != nil {
			return problem.New("kind", "ledger.on-iron-by-hand")
		}
	case EventHand:
		if l.iron == nil {
			return problem.New("kind", "ledger.by-hand-on-iron")
		}
	}
	if e.Clock != 0 && (l.iron == nil || e.Clock < l.Minutes() || e.Clock > mostWait) {
		return problem.New("clock_min", "ledger.clock-goes-back", "minutes", e.Clock, "most", mostWait)
	}
	if e.Kind != EventHand {
		if e.Gauge != nil {
			return problem.New("gauge", "ledger.by-hand-on-iron")
		}
		return nil
	}
	t := l.TestOf(e.Test)
	if t == nil {
		return problem.New("test", "ledger.no-test-machine", "test", e.Test)
	}
	for k, c := range e.Missed {
		if !slices.Contains(t.Conditions, c) || slices.Index(e.Missed, c) != k {
			return problem.New("missed", "ledger.no-condition", "test", t.ID, "condition", problem.Show(c))
		}
	}
	if t.Long && !(e.RanMin > 0 && e.RanMin <= mostRun) {
		return problem.New("ran_min", "ledger.how-long-it-ran", "most", mostRun)
	}
	if e.FalteredMin < 0 || e.FalteredMin > e.RanMin {
		return problem.New("faltered_min", "ledger.faltered-after-it-ran", "minutes", e.FalteredMin)
	}
	if p := e.Gauge.check(t); p != nil {
		return p
	}
	if e.Reading == "" && e.Word == "" && len(e.Parts) == 0 {
		return problem.New("reading", "ledger.nothing-written-by-hand")
	}
	return checkWritten(t, e, true)
}

// mostRun is the longest that an engine is run at once, minutes.
const mostRun = 240

// byHand takes in a test that was made on a real engine.
func (l *Ledger) byHand(e Event) {
	t := l.TestOf(e.Test)
	own, known := setup.Without(e.Missed)
	if e.Test == "look-switches" {
		for _, id := range LeftWrong {
			l.Seen[id] = true
		}
	}
	o := l.Test(e.Test, l.had(own))
	en := l.entry(e)
	if t.Kind == catalogue.KindNumber {
		en.typed(e.Reading, e.Unit)
		en.with(e.Gauge, t)
	} else {
		en.Typed = e.Word
	}
	held := Held{}
	read := HandReading{e.Test, e.Reading, e.Unit, e.Word, e.Parts, e.Gauge, 0}
	if r := l.readBefore(t); r != nil {
		held, read = Held{true, r.Within, r.Gauge}, *r
	}
	seen := l.seen(t, &read)
	seen.Event, seen.Skipped, seen.Because = o.Event, o.Skipped, append([]string{}, e.Missed...)
	seen.Valid, seen.AtLeast = len(e.Missed) == 0, slices.Contains(e.Missed, "stepped-out")
	seen.Minutes, seen.FalterAt, seen.AtMin = o.Minutes, e.FalteredMin, o.AtMin
	if e.RanMin > 0 {
		seen.Also = map[string]any{"ran_min": e.RanMin}
	}
	l.add(Line{Kind: EventTake, Test: e.Test, Setup: own, Master: true, Vague: !known, Obs: &seen, Entry: &en, Held: &held})
}

// lastByHand is the place of the test that a hand has written down last, −1 where something
// else was done since.
func (l *Ledger) lastByHand() int {
	if i := len(l.lines) - 1; l.iron != nil && i >= 0 && l.lines[i].Held != nil {
		return i
	}
	return -1
}

// correct writes the last test anew. What it was read with stays, and so does how the test
// was set up; a figure that a device had sent is a hand's now. The events keep both.
func (l *Ledger) correct(e Event) {
	i := l.lastByHand()
	line := l.lines[i]
	t, gauge := l.TestOf(line.Test), line.Entry.Gauge
	en := l.entry(e)
	if t.Kind == catalogue.KindNumber {
		en.typed(e.Reading, e.Unit)
		en.with(gauge, t)
	} else {
		en.Typed = e.Word
	}
	l.write(i, &en)
	if line.Held.Known {
		return // it is held against what somebody else has read
	}
	seen, obs := l.seen(t, &HandReading{line.Test, e.Reading, e.Unit, e.Word, e.Parts, gauge, 0}), *line.Obs
	obs.Kind, obs.Value, obs.Band, obs.Word, obs.Parts = seen.Kind, seen.Value, seen.Band, seen.Word, seen.Parts
	obs.Also = maps.Clone(obs.Also)
	delete(obs.Also, "over_limit")
	for k, v := range seen.Also {
		if obs.Also == nil {
			obs.Also = map[string]any{}
		}
		obs.Also[k] = v
	}
	l.lines[i].Obs = &obs
}

// had are those settings that this machine has.
func (l *Ledger) had(own setup.Settings) setup.Settings {
	lacks, _ := setup.CheckSetup("", own, l.Family(), l.Machine().Sheet())
	for _, id := range lacks {
		delete(own, id)
	}
	return own
}

// readBefore is what an instructor has read of the engine as it is: with its fault in it,
// or as it was before once work has mended that. Runs are not held against another's: each
// run goes its own way.
func (l *Ledger) readBefore(t *catalogue.Test) *HandReading {
	if t.Kind == catalogue.KindRun {
		return nil
	}
	rs := l.iron.Bugged
	if len(l.Machine().Faults()) == 0 && len(l.Fitted()) > 0 {
		rs = l.iron.Sound
	}
	for k := range rs {
		if rs[k].Test == t.ID {
			return &rs[k]
		}
	}
	return nil
}

// seen puts what was read of a test into an observation, in the units of the test.
func (l *Ledger) seen(t *catalogue.Test, r *HandReading) bench.Observation {
	o := bench.Observation{Test: t.ID, Kind: "word", Unit: t.Unit}
	sheet := l.Machine().Sheet()
	if t.Kind == catalogue.KindNumber {
		o.Kind = catalogue.KindNumber
		p := number(EventPart{Reading: r.Reading, Unit: r.Unit}, t.Unit, t.Figure, sheet, func(v float64) float64 { return r.Gauge.Right(t.ID, v) })
		if o.Value, o.Band = p.Value, p.Band; p.Over {
			o.Also = map[string]any{"over_limit": true}
		}
	} else {
		word := r.Word
		o.Word = &word
	}
	for id, e := range r.Parts {
		if o.Parts == nil {
			o.Parts = map[string]bench.Part{}
		}
		p := t.Part(id)
		if p.IsNumber() {
			o.Parts[id] = number(e, p.Unit, p.Figure, sheet, func(v float64) float64 { return v })
			continue
		}
		word := e.Word
		o.Parts[id] = bench.Part{Word: &word}
	}
	return o
}

// number is a number that was written down, which has been checked, in the unit that it is
// kept in, with its band where the sheet has a figure; right takes the gauge's error out.
func number(e EventPart, unit, figure string, sheet catalogue.Sheet, right func(float64) float64) bench.Part {
	var en Entry
	en.typed(e.Reading, e.Unit)
	f, judged := sheet[figure]
	judged = judged && figure != ""
	if en.Over {
		p := bench.Part{Unit: unit, Over: true}
		if judged {
			above := "above"
			p.Band = &above
		}
		return p
	}
	v, err := units.Convert(en.Value, units.Unit(en.Unit), units.Unit(unit))
	if err != nil {
		v = en.Value // of a unit that has been checked: this cannot be
	}
	v = right(v)
	p := bench.Part{Value: &v, Unit: unit}
	if judged {
		band := f.Judge(v)
		p.Band = &band
	}
	return p
}
