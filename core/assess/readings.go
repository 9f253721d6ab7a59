package assess

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/scenario"
)

// Reading is the review of one thing written down.
type Reading struct {
	Seq     int    `json:"seq"`
	TakenAt int    `json:"taken_at"`
	Test    string `json:"test"`
	// Part is which of a reading that has several; empty for the first.
	Part string `json:"part,omitempty"`
	// Shown by the instrument, and as a master's set-up would have shown.
	Shown     scenario.Told `json:"shown"`
	WouldHave scenario.Told `json:"would_have"`
	// Typed is what was written down, as it was typed; Word what was chosen for
	// a look, and Over that over-limit was written down.
	Typed string `json:"typed"`
	Unit  string `json:"unit,omitempty"`
	Word  string `json:"word,omitempty"`
	Over  bool   `json:"over,omitempty"`
	// Value is the number that was written down, in the unit of what was shown.
	Value *float64 `json:"value,omitempty"`
	// Valid: every condition of the test was met; Missed lists the others.
	Valid  bool     `json:"valid"`
	Missed []string `json:"missed"`
	// ErrorBySetup is shown less would-have, in the test's unit; 0 for words.
	ErrorBySetup float64 `json:"error_by_setup"`
	// Divisions the typed value lies from the shown one.
	Divisions float64 `json:"divisions"`
	ReadRight bool    `json:"read_right"`
	// Unchecked: of a real engine that nobody else has read with this test, so that reading
	// it right is not marked.
	Unchecked bool `json:"unchecked,omitempty"`
	// Gauge is what it was read with on a real engine, where a register knows it.
	Gauge *ledger.Gauge `json:"gauge,omitempty"`
	// Slip is the kind of a misreading, "" for none.
	Slip string `json:"slip,omitempty"`
	// Judged as typed against the sheet, and against what was true.
	Judged      string `json:"judged"`
	JudgedRight bool   `json:"judged_right"`
	TrueBand    string `json:"true_band"`
}

// Kinds of misreading.
const (
	SlipOverLimit = "over-limit"   // over-limit taken for a value
	SlipQuantity  = "quantity"     // a unit of something else
	SlipUnit      = "unit"         // one unit read off as another
	SlipDecimal   = "decimal"      // the point in another place
	SlipFactorTwo = "factor-two"   // half or twice
	SlipDigits    = "digits"       // two turned round
	SlipScale     = "scale"        // the other scale of the dial
	SlipSheet     = "wrong-sheet"  // judged by another machine's sheet
	SlipOffMark   = "off-the-mark" // no kind that has a name
)

// twoScales is the instrument that has another scale inside its own: psi and kPa.
const twoScales = "compression-gauge"

// reviewNumber compares what was written down with what the instrument showed
// and with what it would have shown to a master.
func reviewNumber(cat *catalogue.Catalogue, sheet catalogue.Sheet, st *ledger.Line, would bench.Observation) Reading {
	t := cat.Test(st.Test)
	r := Reading{Seq: st.Entry.Seq, TakenAt: st.Seq, Test: t.ID, Valid: st.Obs.Valid, Missed: st.Obs.Because, Unchecked: unchecked(st),
		Shown: scenario.Tell(*st.Obs), WouldHave: scenario.Tell(would), Typed: strings.TrimSpace(st.Entry.Typed),
		Unit: st.Entry.Unit, Over: st.Entry.Over, Judged: st.Entry.Judged}
	if st.Obs.Band != nil {
		r.TrueBand = *st.Obs.Band
	}
	if st.Obs.Value != nil && would.Value != nil && !st.Obs.Valid {
		r.ErrorBySetup = math.Round((*st.Obs.Value-*would.Value)*100) / 100
	}
	v, ok := r.typed(st.Entry, t.Unit, st.Obs.Over())
	if !ok {
		return r
	}
	shown, high := *st.Obs.Value, 0.0
	if st.Entry.Gauge != nil { // held against each other as this gauge would have shown them
		high = st.Entry.Gauge.High
		r.Gauge = st.Entry.Gauge
	}
	r.hold(v+high, shown+high, t.ID, within(st))
	if r.Slip == SlipUnit && t.Instrument == twoScales && st.Entry.Unit == t.Unit {
		r.Slip = SlipScale // the figure of the other scale, with the unit of this one
	}
	r.JudgedRight = r.ReadRight // where the sheet has nothing to judge it by
	if figure, ok := sheet[t.Figure]; ok {
		if cold, warm := st.Obs.Also["at_20c"].(float64); warm && shown > 0 {
			v *= cold / shown // a winding is judged by what it would be at 20 °C
		}
		r.JudgedRight = r.Judged == figure.Judge(v)
		if !r.JudgedRight && r.ReadRight {
			r.Slip = wrongSheet(cat, t, sheet, v, r.Judged)
		}
	}
	return r
}

// wrongSheet says that a reading was judged as the family's usual sheet would have it and
// not as this machine's own; "" where that is not so.
func wrongSheet(cat *catalogue.Catalogue, t *catalogue.Test, sheet catalogue.Sheet, v float64, judged string) string {
	for i := range cat.Families {
		if usual, ok := cat.Families[i].Sheet[t.Figure]; ok && usual != sheet[t.Figure] && judged == usual.Judge(v) && judged != "" {
			return SlipSheet
		}
	}
	return ""
}

// typed gives what was typed in a unit; where it cannot be held against a figure it
// says what came of that, and false.
func (r *Reading) typed(e *ledger.Entry, unit string, over bool) (float64, bool) {
	if e.Over || over {
		r.ReadRight = e.Over == over
		if !r.ReadRight && over {
			r.Slip = SlipOverLimit
		}
		r.JudgedRight = r.Judged == r.TrueBand || (e.Over && r.Judged == "above")
		return 0, false
	}
	v, ok := e.In(unit)
	if !ok {
		r.Slip = SlipQuantity
		return v, ok
	}
	r.Value = &v
	return v, ok
}

// unchecked says that a reading of a real engine is held against nobody else's.
func unchecked(st *ledger.Line) bool { return st.Held != nil && !st.Held.Known }

// within is how far two people who read the same may lie apart, 0 for a division.
func within(st *ledger.Line) float64 {
	if st.Held == nil {
		return 0
	}
	return st.Held.Within
}

// hold holds what was typed against what was shown, to a division of the instrument or to
// what two people may differ by, whichever is larger.
func (r *Reading) hold(v, shown float64, like string, within float64) {
	acc := instrument.AccuracyOf(like)
	division := max(acc.Division, shown*acc.Repeat, within)
	r.Divisions = math.Round(math.Abs(v-shown)/division*10) / 10
	r.ReadRight = math.Abs(v-shown) <= division*1.05
	if !r.ReadRight {
		r.Slip = slip(v, shown, division)
	}
}

// reviewParts compares the other parts of a reading that were written down, in the
// order of the catalogue. A part that was left out tells nothing and costs nothing.
func reviewParts(t *catalogue.Test, sheet catalogue.Sheet, st *ledger.Line) (out []Reading) {
	for i := range t.Parts[min(1, len(t.Parts)):] {
		p := &t.Parts[1+i]
		e, written := st.Entry.Parts[p.ID]
		seen, shown := st.Obs.Parts[p.ID]
		if !written || !shown {
			continue
		}
		told := scenario.Told{Value: seen.Value, Unit: seen.Unit, Over: seen.Over}
		r := Reading{Seq: st.Entry.Seq, TakenAt: st.Seq, Test: t.ID, Part: p.ID, Valid: st.Obs.Valid, Missed: st.Obs.Because, Unchecked: unchecked(st),
			Typed: strings.TrimSpace(e.Typed), Unit: e.Unit, Word: e.Word, Over: e.Over, Judged: e.Judged}
		if seen.Word != nil {
			told = scenario.Told{Word: *seen.Word}
			r.ReadRight = e.Word == *seen.Word
			r.JudgedRight = r.ReadRight
		}
		if r.Shown, r.WouldHave = told, told; seen.Band != nil {
			r.TrueBand = *seen.Band
		}
		if p.IsNumber() {
			if v, ok := r.typed(&e, p.Unit, seen.Over); ok {
				r.hold(v, *seen.Value, t.AccuracyLike(p), 0)
				r.JudgedRight = r.ReadRight
				if figure, ok := sheet[p.Figure]; ok {
					r.JudgedRight = r.Judged == figure.Judge(v)
				}
			}
		}
		out = append(out, r)
	}
	return out
}

func reviewLook(st *ledger.Line) Reading {
	right := st.Entry.Word == *st.Obs.Word
	told := scenario.Told{Word: *st.Obs.Word}
	return Reading{Seq: st.Entry.Seq, TakenAt: st.Seq, Test: st.Test, Shown: told, WouldHave: told, Typed: st.Entry.Word, Word: st.Entry.Word,
		Valid: st.Obs.Valid, Missed: st.Obs.Because, ReadRight: right, JudgedRight: right, Unchecked: unchecked(st)}
}

// factors by which a reading goes wrong in a way that has a name: psi and kPa,
// kΩ and Ω, inches and millimetres, bar and psi; the point; half and twice.
var factors = []struct {
	factor float64
	slip   string
}{
	{6.894757, SlipUnit}, {1 / 6.894757, SlipUnit}, {1000, SlipUnit}, {1.0 / 1000, SlipUnit}, {25.4, SlipUnit}, {1 / 25.4, SlipUnit},
	{14.5038, SlipUnit}, {1 / 14.5038, SlipUnit},
	{10, SlipDecimal}, {0.1, SlipDecimal}, {100, SlipDecimal}, {0.01, SlipDecimal},
	{0.5, SlipFactorTwo}, {2, SlipFactorTwo},
}

// slip names the kind of a misreading.
func slip(typed, shown, division float64) string {
	if shown != 0 {
		for _, f := range factors {
			if math.Abs(typed/f.factor-shown) <= 1.5*division {
				return f.slip
			}
		}
	}
	if turned(typed, shown) {
		return SlipDigits
	}
	return SlipOffMark
}

func turned(a, b float64) bool {
	x, y := digits(a), digits(b)
	if len(x) != len(y) || len(x) < 2 || x == y {
		return false
	}
	for i := 0; i+1 < len(x); i++ {
		if x[:i]+string(x[i+1])+string(x[i])+x[i+2:] == y {
			return true
		}
	}
	return false
}

// digits are the leading figures as a person would write them.
func digits(v float64) string {
	return strings.ReplaceAll(strconv.FormatFloat(v, 'f', -1, 64), ".", "")
}

// Shares of a reading's marks: for a valid set-up, for reading it right, and
// for judging it right.
const (
	validShare = 0.4
	readShare  = 0.3
	judgeShare = 0.3
)

// shares of a reading's marks. Where nobody can say whether it was read right, the others
// have all of it; and a look that nobody else has made is called as it is called.
func (r *Reading) shares() (valid, read, judge float64) {
	switch {
	case !r.Unchecked:
		return validShare, readShare, judgeShare
	case r.Word != "":
		return 1, 0, 0
	}
	return validShare / (1 - readShare), 0, judgeShare / (1 - readShare)
}

// readings marks the readings: each has an even share of the section. Who has written none
// down has all of it where none was needed.
func (a *attempt) readings(needed bool) Section {
	s := Section{ID: "readings", Of: a.rubric.Readings, Reasons: []Reason{}}
	if len(a.review) == 0 {
		if needed {
			s.give(0, s.Of, false, -1, "reading.none")
		} else {
			s.give(s.Of, s.Of, true, -1, "reading.none-needed")
			s.Mark = s.Of
		}
		return s
	}
	counted, counts := 0, a.counts()
	for i := range a.review {
		if counts(&a.review[i]) {
			counted++
		}
	}
	each := s.Of / float64(max(counted, 1))
	if counted == 0 {
		s.give(s.Of, s.Of, true, -1, "reading.none-wrong")
		s.Mark = s.Of
	}
	for _, r := range a.review {
		r.tellGauge(&s)
		if !counts(&r) {
			s.tell(true, r.Seq, "reading.idle", "of", r.of())
			continue
		}
		valid, read, judge := r.shares()
		if r.Unchecked {
			s.tell(true, r.Seq, "reading.unchecked", "of", r.of())
		} else if r.Valid && r.ReadRight && r.JudgedRight {
			s.give(each, each, true, r.Seq, "reading.right", "of", r.of())
			s.Mark += each
			continue
		}
		part := func(ok bool, share float64, right, wrong string, pairs ...any) {
			marks := 0.0
			code := wrong
			if ok {
				marks, code, pairs = share*each, right, nil
			}
			s.give(marks, share*each, ok, r.Seq, code, append(pairs, "of", r.of())...)
			s.Mark += marks
		}
		if r.ErrorBySetup != 0 {
			part(r.Valid, valid, "reading.valid", "reading.invalid-by", "conditions", r.Missed, "error", r.ErrorBySetup, "unit", r.Shown.Unit)
		} else {
			part(r.Valid, valid, "reading.valid", "reading.invalid", "conditions", r.Missed)
		}
		if r.Word != "" { // what is called wrong is judged wrong with it
			if r.Unchecked {
				continue
			}
			part(r.ReadRight, read+judge, "reading.read", "reading.miscalled", "shown", r.Shown.String(), "typed", r.written())
			continue
		}
		if !r.Unchecked {
			part(r.ReadRight, read, "reading.read", "reading.misread", "slip", "@slip."+r.Slip, "shown", r.Shown.String(), "typed", r.written())
		}
		if r.TrueBand != "" {
			part(r.JudgedRight, judge, "reading.judged", "reading.misjudged", "judged", "@band."+r.Judged, "true", "@band."+r.TrueBand)
		} else {
			part(r.JudgedRight, judge, "reading.judged", "reading.not-judged")
		}
	}
	s.Mark = round1(s.Mark)
	return s
}

// counts says which readings are marked. Those of a test that could tell nothing water
// nothing: they count only where they are worse than the others.
func (a *attempt) counts() func(r *Reading) bool {
	idle := func(r *Reading) bool {
		return slices.ContainsFunc(a.steps, func(s step) bool { return s.seq == r.TakenAt && s.useless })
	}
	sum, n := 0.0, 0
	for i := range a.review {
		if r := &a.review[i]; !idle(r) {
			sum, n = sum+r.share(), n+1
		}
	}
	usual := 1.0
	if n > 0 {
		usual = sum / float64(n)
	}
	return func(r *Reading) bool { return !idle(r) || r.share() < usual-1e-9 }
}

// share is how much of a reading's marks it has.
func (r *Reading) share() (sum float64) {
	for _, x := range []struct {
		ok    bool
		share float64
	}{{r.Valid, validShare}, {r.ReadRight, readShare}, {r.JudgedRight, judgeShare}} {
		if x.ok {
			sum += x.share
		}
	}
	return sum
}

// of is what a reason speaks of: a test, or a part of its reading.
func (r *Reading) of() []string {
	if r.Part == "" {
		return []string{r.Test}
	}
	return []string{r.Test, r.Part}
}

// tellGauge says what is known of the gauge where it matters.
func (r *Reading) tellGauge(s *Section) {
	if r.Gauge == nil {
		return
	}
	if r.Gauge.High != 0 {
		s.tell(true, r.Seq, "reading.gauge-error", "of", r.of(), "gauge", r.Gauge.ID, "high", r.Gauge.High, "unit", r.Shown.Unit)
	}
	if r.Gauge.Overdue {
		s.tell(false, r.Seq, "reading.gauge-overdue", "of", r.of(), "gauge", r.Gauge.ID)
	}
}

// written is what was typed, with its unit where that was not typed.
func (r *Reading) written() string {
	switch {
	case r.Word != "":
		return "@word." + r.Word
	case r.Over:
		return "@word.over-limit"
	case strings.HasSuffix(r.Typed, r.Unit):
		return r.Typed
	}
	return r.Typed + " " + r.Unit
}
