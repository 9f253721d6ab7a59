package assess

import (
	"slices"

	"zanjero/core/problem"
	"zanjero/core/scenario"
)

// Report is an assessment in the open form of the command line. Events are counted from 0;
// a place that there is none of is null.
type Report struct {
	ModelVersion string          `json:"model_version"`
	Outcome      string          `json:"outcome"`
	Against      []ReportLine    `json:"against"`
	Mark         float64         `json:"mark"`
	Of           float64         `json:"of"`
	Conclusion   Conclusion      `json:"conclusion"`
	Sections     []ReportSection `json:"sections"`
	Readings     []ReportReading `json:"readings"`
	Economy      ReportEconomy   `json:"economy"`
	Order        []ReportOrder   `json:"order"`
	Safety       []ReportSafety  `json:"safety"`
	Proof        ReportProof     `json:"proof"`
	NotReady     []NotReady      `json:"not_ready"`
	Skills       []Skill         `json:"skills"`
}

// Conclusion is what was concluded, and what the record says of it.
type Conclusion struct {
	Class           string   `json:"class"`
	P               float64  `json:"p"`
	CauseShare      float64  `json:"cause_share"`
	FalseAccusation []string `json:"false_accusations"`
}

// ReportSection is a section with its lines.
type ReportSection struct {
	ID    string       `json:"id"`
	Mark  float64      `json:"mark"`
	Of    float64      `json:"of"`
	Lines []ReportLine `json:"lines"`
}

// ReportLine is a line of the marks, as a code with parameters and in words.
type ReportLine struct {
	Code   string         `json:"code"`
	Good   bool           `json:"good"`
	Marks  float64        `json:"marks"`
	Of     float64        `json:"of"`
	Event  *int           `json:"event"`
	Params problem.Params `json:"params"`
	Text   string         `json:"text"`
}

// ReportReading is the review of one thing written down. Shown, Master and Recorded are
// numbers in Unit, words, or "OL".
type ReportReading struct {
	Event     int      `json:"event"`
	Test      string   `json:"test"`
	Part      string   `json:"part,omitempty"`
	Valid     bool     `json:"valid"`
	Because   []string `json:"invalid_because"`
	Shown     any      `json:"shown"`
	Master    any      `json:"master"`
	Recorded  any      `json:"recorded"`
	Unit      string   `json:"unit"`
	Divisions float64  `json:"divisions_off"`
	Slip      *string  `json:"slip"`
	ReadRight bool     `json:"read_right"`
	Judged    bool     `json:"judged_right"`
}

// ReportEconomy is Economy without the path.
type ReportEconomy struct {
	Minutes   float64 `json:"minutes"`
	Money     float64 `json:"money"`
	Reference float64 `json:"reference_minutes"`
	Ratio     float64 `json:"ratio"`
	Useless   []int   `json:"useless"`
	Unfounded []int   `json:"parts_without_evidence"`
}

// ReportOrder is Ordered.
type ReportOrder struct {
	Event     int     `json:"event"`
	Regret    float64 `json:"regret_minutes"`
	Exempt    *string `json:"exempt"`
	Departure *string `json:"departure"`
}

// ReportSafety is a precaution that was missed.
type ReportSafety struct {
	Event      int    `json:"event"`
	Hazard     string `json:"hazard"`
	Precaution string `json:"precaution"`
	Severity   string `json:"severity"`
}

// ReportProof is Proved.
type ReportProof struct {
	Right bool    `json:"right"`
	Why   *string `json:"why"`
}

// NotReady is how the machine went back otherwise than it should.
type NotReady struct {
	Kind string `json:"kind"`
	Item string `json:"item"`
}

// namedSlips are the kinds of misreading that have a name in the open form.
var namedSlips = []string{SlipUnit, SlipDecimal, SlipDigits, SlipScale, SlipFactorTwo, SlipOverLimit, SlipSheet}

// Report writes an assessment in the open form; say puts a reason into words.
func (a *Assessment) Report(say func(Reason) string) *Report {
	mark, of := a.Total()
	out := &Report{ModelVersion: a.ModelVersion, Outcome: a.Outcome, Mark: mark, Of: of, Against: []ReportLine{},
		Conclusion: Conclusion{a.Class, a.P, a.CauseShare, a.FalselyAccused}, Sections: []ReportSection{}, Readings: []ReportReading{},
		Economy: ReportEconomy{a.Economy.Minutes, a.Economy.Money, a.Economy.ReferenceMinutes, a.Economy.Ratio, a.Economy.Useless, a.Economy.Unfounded},
		Order:   []ReportOrder{}, Safety: []ReportSafety{}, Proof: ReportProof{a.Proof.Right, orNull(a.Proof.Why)}, NotReady: []NotReady{}, Skills: a.Skills}
	lines := func(rs []Reason) []ReportLine {
		all := []ReportLine{}
		for _, r := range rs {
			l := ReportLine{Code: r.Code, Good: r.Good, Marks: r.Marks, Of: r.Of, Params: r.Params, Text: say(r)}
			if r.Seq >= 0 {
				l.Event = &r.Seq
			}
			if l.Params == nil {
				l.Params = problem.Params{}
			}
			all = append(all, l)
		}
		return all
	}
	out.Against = lines(a.Against)
	for _, s := range a.Sections {
		out.Sections = append(out.Sections, ReportSection{s.ID, s.Mark, s.Of, lines(s.Reasons)})
	}
	for i := range a.Readings {
		r := &a.Readings[i]
		x := ReportReading{Event: r.TakenAt, Test: r.Test, Part: r.Part, Valid: r.Valid, Because: some(r.Missed), Shown: plain(r.Shown), Master: plain(r.WouldHave),
			Recorded: r.recorded(), Unit: r.Shown.Unit, Divisions: r.Divisions, ReadRight: r.ReadRight, Judged: r.JudgedRight}
		if slices.Contains(namedSlips, r.Slip) {
			x.Slip = &r.Slip
		}
		out.Readings = append(out.Readings, x)
	}
	for _, o := range a.Order {
		out.Order = append(out.Order, ReportOrder{o.Seq, o.Regret, orNull(o.Exempt), orNull(o.Departure)})
	}
	for _, s := range a.Skipped {
		out.Safety = append(out.Safety, ReportSafety{s.Seq, s.Hazard, s.Precaution, s.Severity})
	}
	for _, l := range a.HandedBack {
		out.NotReady = append(out.NotReady, NotReady{l.Kind, l.Item})
	}
	return out
}

func orNull(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

// plain is what was shown: a number, a word, or over-limit.
func plain(t scenario.Told) any {
	switch {
	case t.Word != "":
		return t.Word
	case t.Over:
		return "OL"
	case t.Value == nil:
		return nil
	}
	return round4(*t.Value)
}

// recorded is what was written down, in the unit of what was shown where it is a number.
func (r *Reading) recorded() any {
	switch {
	case r.Word != "":
		return r.Word
	case r.Over:
		return "OL"
	case r.Value != nil:
		return round4(*r.Value)
	}
	return r.Typed
}
