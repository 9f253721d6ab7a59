// Package ledger is the record of an attempt: the acts as events, what they
// showed, what was written down and how the board was marked.
package ledger

import (
	"maps"
	"math"
	"slices"
	"strings"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/problem"
	"zanjero/core/setup"
	"zanjero/core/units"
)

// Kinds of ledger event.
const (
	EventControl = "control" // move the machine's controls
	EventTake    = "take"    // take up a test
	EventAct     = "act"     // do something with the instrument in hand
	EventEntry   = "entry"   // write down what was read, and judge it
	EventMark    = "mark"    // mark a reach of the board
	EventCover   = "cover"   // open or close a cover
	EventRepair  = "repair"  // do work at a reach
	EventWait    = "wait"    // let it stand
	EventDo      = "do"      // take a precaution or make another action
	EventPage    = "page"    // leave the page that is followed, for a reason, or come back to it
	EventMade    = "made"    // a test made and written down at once, without an instrument in hand
	EventHand    = "by-hand" // a test made on a real engine and read by a hand
)

// Reasons for leaving a page.
const (
	LeaveSafety   = "safety"    // it is not safe to go on by it
	LeaveSeen     = "seen"      // something was seen that it does not ask for
	LeaveJudgment = "judgement" // another way is judged better
)

// Event is one act of an apprentice, as it stands in the append-only ledger.
type Event struct {
	Kind    string         `json:"kind"`
	Control setup.Settings `json:"control,omitempty"`
	Test    string         `json:"test,omitempty"`
	Setup   setup.Settings `json:"setup,omitempty"`
	Act     string         `json:"act,omitempty"`
	Value   any            `json:"value,omitempty"`
	// Reading is what was typed for a number ("62", "0,7", "OL"), with Unit;
	// Word is what was chosen for a look; Judged is below, within or above.
	Reading string `json:"reading,omitempty"`
	Unit    string `json:"unit,omitempty"`
	Word    string `json:"word,omitempty"`
	Judged  string `json:"judged,omitempty"`
	// Parts are the others of a reading that has several, by id. With parts alone the
	// first was not written down.
	Parts map[string]EventPart `json:"parts,omitempty"`
	Reach string               `json:"reach,omitempty"`
	Mark  string               `json:"mark,omitempty"`
	// UpTo marks everything upstream on the reach's path as well.
	UpTo   bool   `json:"up_to,omitempty"`
	Cover  string `json:"cover,omitempty"`
	Off    bool   `json:"off,omitempty"`
	Repair string `json:"repair,omitempty"`
	// Grade of a part that is fitted: maker, the default, or copy.
	Grade   string  `json:"grade,omitempty"`
	Minutes float64 `json:"minutes,omitempty"`
	// Do is the id of an action.
	Do string `json:"do,omitempty"`
	// Why a page is left; empty to come back to it.
	Why string `json:"why,omitempty"`
	// Missed are the conditions of a test on a real engine that were not ticked; RanMin how
	// long a long run ran, and FalteredMin how long until it faltered, 0 for not.
	Missed      []string `json:"missed,omitempty"`
	RanMin      float64  `json:"ran_min,omitempty"`
	FalteredMin float64  `json:"faltered_min,omitempty"`
	// Device is what sent the reading; empty where a hand typed it.
	Device string `json:"device,omitempty"`
	// Gauge is what it was read with; nil for one that no register knows.
	Gauge *Gauge `json:"gauge,omitempty"`
	// Clock is when it was done, minutes of a clock since the job was begun; 0 for as long as
	// it takes by the catalogue. Only a real engine has one.
	Clock float64 `json:"clock_min,omitempty"`
}

// EventPart is one of the other parts of a reading, as Reading, Unit, Word and Judged
// are of the first.
type EventPart struct {
	Reading string `json:"reading,omitempty"`
	Unit    string `json:"unit,omitempty"`
	Word    string `json:"word,omitempty"`
	Judged  string `json:"judged,omitempty"`
}

// clone gives a copy that shares no map with the event. A value that is a map
// holds plain settings; anything deeper is refused by every act.
func (e Event) clone() Event {
	e.Control, e.Setup, e.Parts, e.Missed = maps.Clone(e.Control), maps.Clone(e.Setup), maps.Clone(e.Parts), slices.Clone(e.Missed)
	if m, ok := e.Value.(map[string]any); ok {
		e.Value = maps.Clone(m)
	}
	return e
}

// Marks of the board.
const (
	MarkClear     = "clear"
	MarkSuspect   = "suspect"
	MarkCondemned = "condemned"
)

// Entry is what an apprentice wrote down for an observation.
type Entry struct {
	Seq    int     `json:"seq"`
	Typed  string  `json:"typed"`
	Value  float64 `json:"value"` // in the typed unit
	Unit   string  `json:"unit"`
	Over   bool    `json:"over,omitempty"`
	Word   string  `json:"word,omitempty"`
	Judged string  `json:"judged,omitempty"`
	// Device is what sent it; empty where a hand typed it.
	Device string `json:"device,omitempty"`
	// Gauge is what it was read with, nil for one that no register knows. Its error is taken
	// out of Value already, and not out of Typed.
	Gauge *Gauge `json:"gauge,omitempty"`
	// Parts are what was written down of the other parts of a reading that has
	// several, by id; Left says that the first part was not written down.
	Parts map[string]Entry `json:"parts,omitempty"`
	Left  bool             `json:"left,omitempty"`
}

// In gives the entered value in a unit; ok is false when it is over-limit or
// measures something else.
func (e *Entry) In(u string) (v float64, ok bool) {
	if e.Over || e.Word != "" {
		return 0, false
	}
	v, err := units.Convert(e.Value, units.Unit(e.Unit), units.Unit(u))
	return v, err == nil
}

// Line is one thing that happened to the machine or was learned of it, in the
// form in which it can be replayed on any machine. It never changes once it
// stands in a ledger, but for the entry that is put to it; its maps and what it
// points at may be read from any goroutine and must not be written.
type Line struct {
	Seq     int
	Kind    string // EventControl, EventTake, EventCover, EventRepair, EventWait or EventDo
	Control setup.Settings
	Test    string
	// Setup is the whole of what was set for the test by hand.
	Setup setup.Settings
	// Master: what Setup does not say stood as a master would have set it, the choke too.
	Master  bool
	Cover   string
	Off     bool
	Repair  string
	Reach   string
	Minutes float64
	Do      string
	// Obs is what the test showed, Entry what was written down of it, if it was.
	Obs   *bench.Observation
	Entry *Entry
	// Held is what a reading of a real engine is held against, nil at a bench; Vague says that
	// it is not known how the set-up was, so that it tells nothing but as if it were right.
	Held  *Held
	Vague bool
	// AtMin is the bench clock after the step.
	AtMin float64
}

// BoardMark is a mark with the place in the ledger where it was made.
type BoardMark struct {
	Seq   int    `json:"seq"`
	Reach string `json:"reach"`
	Mark  string `json:"mark"`
}

// PageAct is a page left, with why, or come back to, and where in the ledger.
type PageAct struct {
	Seq int    `json:"seq"`
	Why string `json:"why,omitempty"`
}

// Ledger is an attempt in hand: the session and what has been learned, written
// and marked so far. It is the replay of its events. One goroutine at a time may
// use it; a clone is independent, and clones of one ledger may be used at once.
type Ledger struct {
	*bench.Session
	lines []Line
	marks []BoardMark
	pages []PageAct
	// Seen are the controls that somebody has looked at or moved, of those that
	// may have been left wrong.
	Seen    map[string]bool
	events  []Event
	seq     int
	iron    *Iron // nil at a bench
	pending int   // index of the step whose look waits for an entry, or −1
	entered bool
}

// New starts a ledger on a session.
func New(s *bench.Session) *Ledger {
	return &Ledger{Session: s, pending: -1, Seen: map[string]bool{}}
}

// LeftWrong are the controls that an owner may have left wrong: where they
// stand is not seen until somebody looks or moves them.
var LeftWrong = []string{"switch", "fuel_valve"}

// Seq is how many events have been applied.
func (l *Ledger) Seq() int { return l.seq }

// Clone gives an independent copy that can go on by itself.
func (l *Ledger) Clone() *Ledger {
	c := *l
	c.Session, c.Seen = l.Session.Clone(), maps.Clone(l.Seen)
	// What is past is never written again, so both may go on from it.
	c.lines, c.marks, c.events = slices.Clip(l.lines), slices.Clip(l.marks), slices.Clip(l.events)
	c.pages = slices.Clip(l.pages)
	return &c
}

// Lines are what happened so far, in order. They never change: what is written
// down later stands in a new list. The caller must not change them either.
func (l *Ledger) Lines() []Line { return slices.Clip(l.lines) }

// Marks of the board in the order in which they were made; not to be changed.
func (l *Ledger) Marks() []BoardMark { return slices.Clip(l.marks) }

// Pages are the times that a page was left or come back to, in order; not to be changed.
func (l *Ledger) Pages() []PageAct { return slices.Clip(l.pages) }

// offPage says that the page is left just now.
func (l *Ledger) offPage() bool { return len(l.pages) > 0 && l.pages[len(l.pages)-1].Why != "" }

// Events as they were applied, in order; not to be changed.
func (l *Ledger) Events() []Event { return slices.Clip(l.events) }

// Board gives the mark on each marked reach.
func (l *Ledger) Board() map[string]string {
	b := map[string]string{}
	for _, m := range l.marks {
		b[m.Reach] = m.Mark
		if m.Mark == "" {
			delete(b, m.Reach)
		}
	}
	return b
}

// Latest is a copy of the last step that showed something, or nil.
func (l *Ledger) Latest() *Line {
	for i := len(l.lines) - 1; i >= 0; i-- {
		if l.lines[i].Obs != nil {
			st := l.lines[i]
			return &st
		}
	}
	return nil
}

// Apply does one event. A refused event changes nothing. The event is copied:
// what the caller does with it afterwards does not reach the ledger.
func (l *Ledger) Apply(e Event) *problem.Problem {
	e = e.clone()
	if l.seq >= MaxEvents {
		return problem.New("kind", "ledger.ledger-holds-acts-no-more", "most_events", MaxEvents)
	}
	if p := l.check(e); p != nil {
		return p
	}
	l.Number(l.seq)
	before := len(l.lines)
	switch e.Kind {
	case EventControl:
		l.Control(e.Control)
		for _, id := range LeftWrong {
			if e.Control[id] != nil {
				l.Seen[id] = true
			}
		}
		l.touched()
		l.add(Line{Kind: e.Kind, Control: e.Control})
	case EventTake:
		l.take(e)
	case EventAct:
		if p := l.Act(e.Act, e.Value); p != nil {
			return p
		}
		l.entered = false
	case EventEntry:
		if l.iron != nil {
			l.correct(e)
		} else if p := l.enter(e); p != nil {
			return p
		}
	case EventMark:
		for _, reach := range l.upTo(e) {
			l.marks = append(l.marks, BoardMark{l.seq, reach, e.Mark})
		}
	case EventMade:
		l.made(e)
	case EventHand:
		l.byHand(e)
	case EventCover:
		l.PutAway()
		l.Cover(e.Cover, e.Off)
		l.add(Line{Kind: e.Kind, Cover: e.Cover, Off: e.Off})
	case EventRepair:
		l.PutAway()
		grade := bench.GradeMaker
		if e.Grade != "" {
			grade = e.Grade
		}
		l.Repair(e.Repair, e.Reach, grade)
		l.add(Line{Kind: e.Kind, Repair: e.Repair, Reach: e.Reach})
	case EventWait:
		l.PutAway()
		l.Wait(e.Minutes)
		l.add(Line{Kind: e.Kind, Minutes: e.Minutes})
	case EventDo:
		l.PutAway()
		l.Do(e.Do)
		l.add(Line{Kind: e.Kind, Do: e.Do})
	case EventPage:
		l.pages = append(l.pages, PageAct{l.seq, e.Why})
	}
	if e.Clock > 0 {
		l.ClockAt(e.Clock)
		for i := before; i < len(l.lines); i++ {
			l.lines[i].AtMin = e.Clock
		}
	}
	l.events = append(l.events, e)
	l.seq++
	return nil
}

func (l *Ledger) add(s Line) {
	s.Seq, s.AtMin = l.seq, l.Minutes()
	l.lines = append(l.lines, s)
}

// write puts an entry to a step, in a new list: whoever holds the old one
// keeps it as it was.
func (l *Ledger) write(i int, en *Entry) {
	l.lines = slices.Clone(l.lines)
	l.lines[i].Entry = en
}

// touched: the instrument no longer stands where it was read.
func (l *Ledger) touched() { l.entered = false }

func (l *Ledger) take(e Event) {
	l.PutAway()
	l.pending, l.entered = -1, false
	t := l.TestOf(e.Test)
	if t.Kind == catalogue.KindNumber {
		l.Fit(e.Test)
		return
	}
	if e.Test == "look-switches" {
		for _, id := range LeftWrong {
			l.Seen[id] = true
		}
	}
	o := l.Test(e.Test, e.Setup)
	l.add(Line{Kind: EventTake, Test: e.Test, Setup: e.Setup, Obs: &o})
	i := len(l.lines) - 1
	if t.Named() {
		l.pending = i
		return
	}
	// What a run does is told in words; there is nothing to misread.
	en := Entry{Seq: l.seq, Typed: *o.Word, Word: *o.Word}
	for id, p := range o.Parts {
		if p.Word != nil && id != t.Parts[0].ID {
			if en.Parts == nil {
				en.Parts = map[string]Entry{}
			}
			en.Parts[id] = Entry{Seq: l.seq, Typed: *p.Word, Word: *p.Word}
		}
	}
	l.lines[i].Entry = &en
}

// upTo are the reaches that a mark is put to.
func (l *Ledger) upTo(e Event) (out []string) {
	if !e.UpTo {
		return []string{e.Reach}
	}
	lateral, board := catalogue.Standard().Reach(e.Reach).Lateral, l.Board()
	for _, r := range catalogue.Standard().ReachesOf(l.Family().ID) {
		if r.Lateral == lateral && (board[r.ID] == "" || r.ID == e.Reach) { // what is marked stays so
			out = append(out, r.ID)
		}
		if r.ID == e.Reach {
			break
		}
	}
	return out
}

// made makes a test by the session's own technique, and writes down what was written.
func (l *Ledger) made(e Event) {
	t := l.TestOf(e.Test)
	written := e.Reading != "" || e.Word != "" || len(e.Parts) > 0
	if t.Kind == catalogue.KindRun || !t.Named() && t.Kind != catalogue.KindNumber {
		l.take(e) // told in words; what else was written of it changes nothing
		l.lines[len(l.lines)-1].Master = l.Ideal()
		return
	}
	l.PutAway()
	l.pending, l.entered = -1, false
	if e.Test == "look-switches" {
		for _, id := range LeftWrong {
			l.Seen[id] = true
		}
	}
	o := l.Test(e.Test, e.Setup)
	line := Line{Kind: EventTake, Test: e.Test, Setup: e.Setup, Master: l.Ideal(), Obs: &o}
	if written {
		en := l.entry(e)
		if t.Kind == catalogue.KindNumber {
			en.typed(e.Reading, e.Unit)
		} else {
			en.Typed = e.Word
		}
		line.Entry = &en
	}
	l.add(line)
}

// OverLimit is how over-limit is written down.
const OverLimit = "OL"

// enter writes down a reading. Writing again before anything has moved
// corrects the last entry; the ledger keeps both events.
func (l *Ledger) enter(e Event) *problem.Problem {
	en := l.entry(e)
	if l.InHand() == "" {
		en.Typed, en.Unit = e.Reading, e.Unit
		l.write(l.pending, &en)
		return nil
	}
	if en.typed(e.Reading, e.Unit); l.entered {
		l.write(len(l.lines)-1, &en)
		return nil
	}
	o, own, ok := l.Read()
	if !ok {
		return problem.New("reading", "ledger.instrument-shows-nothing-yet")
	}
	l.add(Line{Kind: EventTake, Test: o.Test, Setup: own, Obs: &o, Entry: &en})
	l.entered = true
	return nil
}

// entry is what an event writes down, but for the number of its first part.
func (l *Ledger) entry(e Event) Entry {
	en := Entry{Seq: l.seq, Judged: e.Judged, Word: e.Word, Device: e.Device, Left: len(e.Parts) > 0 && e.Reading == "" && e.Word == ""}
	for id, p := range e.Parts {
		part := Entry{Seq: l.seq, Judged: p.Judged, Word: p.Word}
		if p.Word == "" {
			part.typed(p.Reading, p.Unit)
		}
		if en.Parts == nil {
			en.Parts = map[string]Entry{}
		}
		en.Parts[id] = part
	}
	return en
}

// typed takes in what was typed for a number, which has been checked.
func (en *Entry) typed(reading, unit string) {
	en.Typed, en.Unit = reading, unit
	if strings.EqualFold(strings.TrimSpace(reading), OverLimit) {
		en.Over = true
		return
	}
	v, u, err := units.ParseReading(reading)
	if err == nil {
		en.Value = v
	}
	if u != "" {
		en.Unit = string(u)
	}
}

// check refuses what cannot be done, before anything is done.
func (l *Ledger) check(e Event) *problem.Problem {
	if p := e.checkForm(); p != nil {
		return p
	}
	if p := l.checkHand(e); p != nil {
		return p
	}
	switch e.Kind {
	case EventHand:
	case EventControl:
		if len(e.Control) == 0 {
			return problem.New("control", "ledger.no-control-was-named")
		}
		lacking, p := setup.CheckControls("control", e.Control, l.Family(), l.Machine().Sheet())
		if p == nil && len(lacking) > 0 {
			p = problem.New("control."+lacking[0], "ledger.machine-none", "controls", setup.ControlIDs(l.Family(), l.Machine().Sheet()))
		}
		return p
	case EventTake, EventMade:
		t := l.TestOf(e.Test)
		if t == nil {
			return problem.New("test", "ledger.no-test-machine", "test", e.Test)
		}
		if e.Kind == EventMade {
			if p := checkMade(t, e); p != nil {
				return p
			}
		}
		lacking, p := setup.CheckSetup("setup", e.Setup, l.Family(), l.Machine().Sheet())
		if p == nil && len(lacking) > 0 {
			p = problem.New("setup."+lacking[0], "ledger.machine-none-2")
		}
		return p
	case EventAct:
		return nil // Act checks, and changes nothing when it refuses
	case EventEntry:
		return l.checkEntry(e)
	case EventMark:
		if !slices.ContainsFunc(catalogue.Standard().ReachesOf(l.Family().ID), func(r catalogue.Reach) bool { return r.ID == e.Reach }) {
			return problem.New("reach", "ledger.machine-no-reach", "reach", e.Reach)
		}
		if !slices.Contains([]string{"", MarkClear, MarkSuspect, MarkCondemned}, e.Mark) {
			return problem.New("mark", "ledger.no-mark", "mark", e.Mark)
		}
	case EventCover:
		return catalogue.CheckCover("cover", e.Cover, l.Family())
	case EventDo:
		return catalogue.CheckAction("do", e.Do, l.Family())
	case EventRepair:
		if e.Grade != "" && e.Grade != bench.GradeMaker && e.Grade != bench.GradeCopy {
			return problem.New("grade", "ledger.no-grade", "grade", e.Grade)
		}
		return catalogue.CheckRepair("", e.Repair, e.Reach, l.Family())
	case EventWait:
		if !(e.Minutes > 0 && e.Minutes <= mostWait) {
			return problem.New("minutes", "ledger.minutes-out-range", "minutes", e.Minutes)
		}
	case EventPage:
		if reasons := []string{"", LeaveSafety, LeaveSeen, LeaveJudgment}; !slices.Contains(reasons, e.Why) {
			return problem.New("why", "ledger.no-reason", "why", e.Why, "reasons", reasons[1:])
		}
		if l.offPage() == (e.Why != "") {
			return problem.New("why", "ledger.page-is-so-already")
		}
	default:
		return problem.New("kind", "ledger.no-event", "kind", e.Kind)
	}
	return nil
}

// mostWait is how long somebody waits at once, minutes: a week.
const mostWait = 7 * 24 * 60

func (l *Ledger) checkEntry(e Event) *problem.Problem {
	if l.iron != nil {
		i := l.lastByHand()
		if i < 0 {
			return problem.New("reading", "ledger.nothing-to-correct")
		}
		return checkWritten(l.TestOf(l.lines[i].Test), e, true)
	}
	id := l.InHand()
	if id == "" {
		if l.pending < 0 {
			return problem.New("reading", "ledger.nothing-write-down")
		}
		id = l.lines[l.pending].Test
	}
	return checkWritten(l.TestOf(id), e, true)
}

// checkMade refuses what cannot be written down of a test that was made at once; nothing
// at all may be.
func checkMade(t *catalogue.Test, e Event) *problem.Problem {
	if e.Reading == "" && e.Word == "" && len(e.Parts) == 0 && e.Judged == "" {
		return nil
	}
	return checkWritten(t, e, false)
}

// checkWritten refuses what cannot be written down of a test; judge says that what the
// sheet has a figure for must be judged.
func checkWritten(t *catalogue.Test, e Event, judge bool) *problem.Problem {
	for part, p := range e.Parts {
		if p := checkPart(t, part, p, judge); p != nil {
			return p
		}
	}
	if t.Kind != catalogue.KindNumber {
		if !slices.Contains(t.Words, e.Word) && !(e.Word == "" && len(e.Parts) > 0) {
			return problem.New("word", "ledger.not-word", "word", e.Word, "words", t.Words)
		}
		return nil
	}
	return checkNumber("", t.ID, t.Unit, t.Figure, EventPart{Reading: e.Reading, Unit: e.Unit, Judged: e.Judged}, judge)
}

// checkPart refuses what cannot be written down of one of the other parts.
func checkPart(t *catalogue.Test, id string, e EventPart, judge bool) *problem.Problem {
	var ids []string
	for i := range t.Parts {
		if i > 0 {
			ids = append(ids, t.Parts[i].ID)
		}
	}
	if !slices.Contains(ids, id) {
		return problem.New("parts", "ledger.no-part", "test", t.ID, "part", problem.Show(id), "parts", ids)
	}
	p, at := t.Part(id), "parts."+id+"."
	if p.IsNumber() {
		if e.Word != "" {
			return problem.New(at+"word", "ledger.part-is-a-number", "part", id)
		}
		return checkNumber(at, t.AccuracyLike(p), p.Unit, p.Figure, e, judge)
	}
	if !slices.Contains(p.Words, e.Word) {
		return problem.New(at+"word", "ledger.not-word", "word", e.Word, "words", p.Words)
	}
	return nil
}

// checkNumber refuses what is no reading in a unit that means anything there, or is
// not judged where the sheet has a figure.
func checkNumber(at, like, unit, figure string, e EventPart, judge bool) *problem.Problem {
	if len(e.Reading) > 40 {
		return problem.New(at+"reading", "ledger.too-long-reading")
	}
	if figure == "" {
		if e.Judged != "" {
			return problem.New(at+"judged", "ledger.no-figure-sheet-judges-reading")
		}
	} else if (judge || e.Judged != "") && !slices.Contains([]string{"below", "within", "above"}, e.Judged) {
		return problem.New(at+"judged", "ledger.reading-not-judged")
	}
	if strings.EqualFold(strings.TrimSpace(e.Reading), OverLimit) {
		return nil
	}
	v, u, err := units.ParseReading(e.Reading)
	if err != nil {
		return problem.In(at+"reading", err)
	}
	if u == "" {
		if u, err = units.ParseUnit(e.Unit); err != nil || string(u) != e.Unit {
			return problem.New(at+"unit", "ledger.not-unit-used", "unit", e.Unit)
		}
	}
	in, err := units.Convert(v, u, units.Unit(unit))
	if err != nil {
		return problem.In(at+"unit", err)
	}
	// A slip of a thousand is a slip to learn from; beyond that it is a cat on the keys.
	if most := instrument.AccuracyOf(like).Most; math.Abs(in) > 1000*most {
		return problem.New(at+"reading", "ledger.beyond-instrument", "reading", strings.TrimSpace(e.Reading), "of", e.Unit)
	}
	return nil
}
