package assess

import (
	"encoding/json"
	"slices"
	"strings"

	"zanjero/core/problem"
)

// Kinds of act by which people review an assessment. They are kept as they were done, one
// after the other; what is said of the attempt is what all of them come to.
const (
	ActLine      = "line"       // other marks on a line
	ActOutcome   = "outcome"    // another outcome
	ActComment   = "comment"    // something said at a step, or of all of it
	ActSignOff   = "sign-off"   // it stands as it is; with an appeal open, that is answered
	ActAskSecond = "ask-second" // somebody else is to mark it without seeing the marks
	ActSecond    = "second"     // what they gave
	ActAppeal    = "appeal"     // the apprentice asks for another look
	ActAnew      = "anew"       // it was judged again, by the model of another day
	ActResit     = "resit"      // an equal job was given
)

// Act is one of them. Who did it and when stands beside it.
type Act struct {
	Kind string `json:"kind"`
	// Section and Line are where other marks are put; Line counts from 0.
	Section string `json:"section,omitempty"`
	Line    int    `json:"line,omitempty"`
	// Marks on that line.
	Marks float64 `json:"marks,omitempty"`
	// Outcome of all of it, by whoever changes it or marks second.
	Outcome string `json:"outcome,omitempty"`
	// Sections are the marks of a second marker by section.
	Sections map[string]float64 `json:"sections,omitempty"`
	// Seq is the place in the ledger that a comment is made at; −1 for all of it.
	Seq int `json:"seq,omitempty"`
	// Text is the reason, or what is said.
	Text string `json:"text,omitempty"`
	// Who is to mark second.
	Who string `json:"who,omitempty"`
	// Attempt is the new one of a resit.
	Attempt string `json:"attempt,omitempty"`
	// Assessment is what judging it anew came to.
	Assessment json.RawMessage `json:"assessment,omitempty"`
}

// Done is an act with who did it, as an id.
type Done struct {
	Act
	By string
}

// Reviewed is what an assessment and the acts on it come to.
type Reviewed struct {
	// Assessment with the marks as they stand now. It shares with the one that was reviewed
	// what no act changes.
	*Assessment
	// Changed are the lines whose marks a person set, and OutcomeSet says that the outcome is
	// a person's.
	Changed    []Changed `json:"changed"`
	OutcomeSet bool      `json:"outcome_set"`
	Signed     bool      `json:"signed"`
	// Appealed: another look has been asked for, which can be done once; AppealOpen: it has
	// not been answered.
	Appealed   bool `json:"appealed"`
	AppealOpen bool `json:"appeal_open"`
	// Awaited is who is to mark second and has not yet.
	Awaited string `json:"awaited,omitempty"`
	// Seconds are what second markers gave.
	Seconds []Second `json:"seconds"`
}

// Changed is a line with what it was before anybody changed it.
type Changed struct {
	Section string  `json:"section"`
	Line    int     `json:"line"`
	Was     float64 `json:"was"`
	Now     float64 `json:"now"`
}

// Second is what a second marker gave, with what it differs in by section, theirs less the
// marks as they stood before.
type Second struct {
	By       string             `json:"by"`
	Outcome  string             `json:"outcome"`
	Sections map[string]float64 `json:"sections"`
	Differ   map[string]float64 `json:"differ"`
	Same     bool               `json:"same_outcome"`
	Text     string             `json:"text,omitempty"`
}

// Limits of what people write in a review.
const (
	mostText  = 2000 // letters
	mostActs  = 200  // on one attempt
	noWordsOf = " \t\r\n"
)

// Review is what the acts on an assessment come to. The assessment is not changed.
func Review(a *Assessment, acts []Done, threshold float64) *Reviewed {
	r := &Reviewed{Assessment: a.copyMarks(), Changed: []Changed{}, Seconds: []Second{}}
	for i := range acts {
		r.take(&acts[i], threshold)
	}
	for _, c := range r.Changed { // a section that a person marked otherwise is that skill
		for i := range r.Skills {
			if k := &r.Skills[i]; k.Skill == c.Section && slices.Contains(wholeSections, k.Skill) {
				s := r.section(c.Section)
				k.Score = round2(s.Mark / s.Of)
			}
		}
	}
	return r
}

// wholeSections are skills that are a section's marks as a whole; the others are the marks
// of its lines by path.
var wholeSections = []string{"conclusion", "economy", "safety", "proof"}

// copyMarks gives one whose marks can be changed without touching the other's.
func (a *Assessment) copyMarks() *Assessment {
	c := *a
	c.Sections = slices.Clone(a.Sections)
	for i := range c.Sections {
		c.Sections[i].Reasons = slices.Clone(c.Sections[i].Reasons)
	}
	c.Against, c.Skills = slices.Clone(a.Against), slices.Clone(a.Skills)
	return &c
}

func (r *Reviewed) take(d *Done, threshold float64) {
	switch d.Kind {
	case ActLine:
		s := r.section(d.Section)
		line := &s.Reasons[d.Line]
		at := slices.IndexFunc(r.Changed, func(c Changed) bool { return c.Section == d.Section && c.Line == d.Line })
		if at < 0 {
			r.Changed = append(r.Changed, Changed{d.Section, d.Line, line.Marks, 0})
			at = len(r.Changed) - 1
		}
		r.Changed[at].Now = d.Marks
		s.Mark = round1(min(max(s.Mark+d.Marks-line.Marks, 0), s.Of))
		line.Marks = d.Marks
		r.judge(threshold)
	case ActOutcome:
		r.Outcome, r.OutcomeSet, r.Untested = d.Outcome, true, false // their word is the last
	case ActSignOff:
		r.Signed, r.AppealOpen = true, false
	case ActAppeal:
		r.Appealed, r.AppealOpen, r.Signed = true, true, false
	case ActAskSecond:
		r.Awaited = d.Who
	case ActSecond:
		x := Second{By: d.By, Outcome: d.Outcome, Sections: d.Sections, Differ: map[string]float64{}, Same: d.Outcome == r.Outcome, Text: d.Text}
		for _, s := range r.Sections {
			x.Differ[s.ID] = round1(d.Sections[s.ID] - s.Mark)
		}
		r.Seconds, r.Awaited = append(r.Seconds, x), ""
	}
}

// judge says anew whether the marks reach the threshold; what else speaks against it stays.
func (r *Reviewed) judge(threshold float64) {
	const short = "outcome.threshold"
	r.Against = slices.DeleteFunc(r.Against, func(x Reason) bool { return x.Code == short })
	if mark, of := r.Total(); of > 0 && 100*mark/of < threshold {
		s := Section{}
		s.tell(false, -1, short, "mark", round1(100*mark/of), "threshold", threshold)
		r.Against = append(r.Against, s.Reasons...)
	}
	if !r.OutcomeSet {
		r.Outcome = Competent
		if len(r.Against) > 0 {
			r.Outcome = NotYet
		}
	}
}

func (a *Assessment) section(id string) *Section {
	for i := range a.Sections {
		if a.Sections[i].ID == id {
			return &a.Sections[i]
		}
	}
	return nil
}

// Check says what is wrong with an act that comes next, by somebody who is the apprentice
// whose attempt it is, or one who marks.
func (r *Reviewed) Check(d *Done, apprentice bool, acts, events int) *problem.Problem {
	text := strings.Trim(d.Text, noWordsOf)
	switch {
	case acts >= mostActs:
		return problem.New("kind", "review.too-many", "most", mostActs)
	case len([]rune(d.Text)) > mostText:
		return problem.New("text", "review.too-long", "most", mostText)
	case apprentice && d.Kind != ActAppeal, !apprentice && d.Kind == ActAppeal:
		return problem.New("kind", "review.not-yours")
	case text == "" && slices.Contains([]string{ActLine, ActOutcome, ActComment, ActAppeal}, d.Kind):
		return problem.New("text", "review.no-reason")
	case r.Awaited == d.By && d.Kind != ActSecond:
		return problem.New("kind", "review.mark-first")
	}
	switch d.Kind {
	case ActLine, ActOutcome:
		if r.Signed {
			return problem.New("kind", "review.signed")
		}
		if d.Kind == ActLine {
			return r.checkLine(d)
		}
		return checkOutcome(d.Outcome)
	case ActComment:
		if d.Seq < -1 || d.Seq >= events {
			return problem.New("seq", "assess.ledger-no-entry", "seq", d.Seq)
		}
	case ActSignOff:
		if r.Signed {
			return problem.New("kind", "review.signed")
		}
		if r.AppealOpen && text == "" {
			return problem.New("text", "review.answer-the-appeal")
		}
	case ActAppeal:
		if r.Appealed {
			return problem.New("kind", "review.appealed-before")
		}
	case ActAskSecond:
		if r.Awaited != "" {
			return problem.New("who", "review.second-awaited")
		}
		if d.Who == "" || d.Who == d.By {
			return problem.New("who", "review.second-is-somebody-else")
		}
	case ActSecond:
		return r.checkSecond(d)
	case ActAnew, ActResit: // made by the program at a person's word
	default:
		return problem.New("kind", "review.no-kind", "kind", problem.Show(d.Kind))
	}
	return nil
}

func (r *Reviewed) checkLine(d *Done) *problem.Problem {
	s := r.section(d.Section)
	if s == nil || d.Line < 0 || d.Line >= len(s.Reasons) {
		return problem.New("line", "review.no-line", "section", problem.Show(d.Section), "line", d.Line)
	}
	// A line that takes marks off has none to give.
	low, high := 0.0, s.Reasons[d.Line].Of
	if high == 0 {
		low = -s.Of
	}
	if !(d.Marks >= low && d.Marks <= high) {
		return problem.New("marks", "review.marks-out-of-range", "marks", d.Marks, "low", round1(low), "high", round1(high))
	}
	return nil
}

func checkOutcome(outcome string) *problem.Problem {
	if outcome != Competent && outcome != NotYet {
		return problem.New("outcome", "review.no-outcome", "outcome", problem.Show(outcome))
	}
	return nil
}

func (r *Reviewed) checkSecond(d *Done) *problem.Problem {
	if r.Awaited != d.By {
		return problem.New("kind", "review.not-asked")
	}
	for _, s := range r.Sections {
		m, ok := d.Sections[s.ID]
		if !ok || !(m >= 0 && m <= s.Of) {
			return problem.New("sections."+s.ID, "review.marks-out-of-range", "marks", m, "low", 0, "high", s.Of)
		}
	}
	return checkOutcome(d.Outcome)
}

// Blind is an assessment as somebody sees it who is to mark second: what was hidden and
// what was done, and nothing of the marks or of what the program says of a reading.
func (a *Assessment) Blind() *Assessment {
	b := *a
	b.Sections, b.Verdict, b.Against, b.Skills, b.Order = []Section{}, []Reason{}, []Reason{}, []Skill{}, []Ordered{}
	b.Class, b.Outcome, b.P, b.CauseShare, b.FalselyAccused = "", "", 0, 0, []string{}
	b.Proof, b.Economy = Proved{}, Economy{}
	b.Readings = slices.Clone(a.Readings)
	for i := range b.Readings {
		r := &b.Readings[i]
		r.ReadRight, r.JudgedRight, r.Valid, r.Slip, r.TrueBand, r.Divisions = false, false, false, "", "", 0
	}
	b.fill()
	for _, s := range a.Sections { // what there is to give stays known
		b.Sections = append(b.Sections, Section{ID: s.ID, Of: s.Of, Reasons: []Reason{}})
	}
	return &b
}
