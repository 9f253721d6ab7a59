package assess

import (
	"fmt"
	"math"
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
	Title   string `json:"title"`
	// Shown by the instrument, as a master's set-up would have shown, and as
	// it was typed.
	Shown     string   `json:"shown"`
	WouldHave string   `json:"would_have"`
	Typed     string   `json:"typed"`
	Valid     bool     `json:"valid"`
	Missed    []string `json:"missed"`
	// ErrorBySetup is shown less would-have, in the test's unit; 0 for words.
	ErrorBySetup float64 `json:"error_by_setup"`
	// Divisions the typed value lies from the shown one.
	Divisions float64 `json:"divisions"`
	ReadRight bool    `json:"read_right"`
	Slip      string  `json:"slip,omitempty"`
	// Judged as typed against the sheet, and against what was true.
	Judged      string `json:"judged"`
	JudgedRight bool   `json:"judged_right"`
	TrueBand    string `json:"true_band"`
}

// reviewNumber compares what was written down with what the instrument showed
// and with what it would have shown to a master.
func reviewNumber(cat *catalogue.Catalogue, sheet catalogue.Sheet, st *ledger.Line, master *bench.Session) Reading {
	t := cat.Test(st.Test)
	would := master.Test(t.ID, nil)
	r := Reading{Seq: st.Entry.Seq, TakenAt: st.Seq, Test: t.ID, Title: t.Title, Valid: st.Obs.Valid, Missed: missedText(t, st.Obs.Because),
		Shown: scenario.Say(*st.Obs), WouldHave: scenario.Say(would), Typed: typed(st.Entry), Judged: st.Entry.Judged}
	if st.Obs.Band != nil {
		r.TrueBand = *st.Obs.Band
	}
	if st.Obs.Value != nil && would.Value != nil && !st.Obs.Valid {
		r.ErrorBySetup = math.Round((*st.Obs.Value-*would.Value)*100) / 100
	}
	v, ok := st.Entry.In(t.Unit)
	switch {
	case st.Entry.Over || st.Obs.Over():
		r.ReadRight = st.Entry.Over == st.Obs.Over()
		if !r.ReadRight && st.Obs.Over() {
			r.Slip = "over-limit was taken for a value"
		}
		r.JudgedRight = r.Judged == r.TrueBand
		return r
	case !ok:
		r.Slip = fmt.Sprintf("%s does not measure what this test reads (%s)", st.Entry.Unit, t.Unit)
		return r
	}
	acc := instrument.AccuracyOf(t.ID)
	shown := *st.Obs.Value
	division := max(acc.Division, shown*acc.Repeat)
	r.Divisions = math.Round(math.Abs(v-shown)/division*10) / 10
	r.ReadRight = math.Abs(v-shown) <= division*1.05
	if !r.ReadRight {
		r.Slip = slip(v, shown, division)
	}
	r.JudgedRight = r.ReadRight // where the sheet has nothing to judge it by
	if figure, ok := sheet[t.Figure]; ok {
		r.JudgedRight = r.Judged == r.TrueBand && r.Judged == figure.Judge(v)
	}
	return r
}

func reviewLook(cat *catalogue.Catalogue, st *ledger.Line) Reading {
	t := cat.Test(st.Test)
	right := st.Entry.Word == *st.Obs.Word
	return Reading{Seq: st.Entry.Seq, TakenAt: st.Seq, Test: t.ID, Title: t.Title, Shown: *st.Obs.Word, WouldHave: *st.Obs.Word, Typed: st.Entry.Word,
		Valid: st.Obs.Valid, Missed: missedText(t, st.Obs.Because), ReadRight: right, JudgedRight: right}
}

func typed(e *ledger.Entry) string {
	if e.Over {
		return "over-limit"
	}
	text := strings.TrimSpace(e.Typed)
	if strings.HasSuffix(text, e.Unit) {
		return text
	}
	return text + " " + e.Unit
}

func missedText(t *catalogue.Test, ids []string) []string {
	out := []string{}
	for _, c := range t.Conditions {
		for _, id := range ids {
			if c.ID == id {
				out = append(out, c.Missed)
			}
		}
	}
	return out
}

// factors by which a reading goes wrong in a way that has a name.
var factors = []struct {
	factor float64
	name   string
}{
	{6.894757, "kPa read off as psi"}, {1 / 6.894757, "psi read off as kPa"},
	{1000, "a factor of 1000: Ω for kΩ"}, {1.0 / 1000, "a factor of 1000: kΩ for Ω"},
	{25.4, "mm written as inches"}, {1 / 25.4, "inches written as mm"},
	{14.5038, "bar written as psi"}, {1 / 14.5038, "psi written as bar"},
	{10, "a decimal place out"}, {0.1, "a decimal place out"}, {100, "two decimal places out"}, {0.01, "two decimal places out"},
	{0.5, "half of it: half a minute's flow written as a minute's"}, {2, "twice of it"},
}

// slip names the kind of a misreading, or only says how far it is out.
func slip(typed, shown, division float64) string {
	if shown != 0 {
		for _, f := range factors {
			if math.Abs(typed/f.factor-shown) <= 1.5*division {
				return f.name
			}
		}
	}
	if turned(typed, shown) {
		return "two digits turned round"
	}
	return "off the mark"
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

// readings marks section 1: of each reading, four tenths for a valid set-up,
// three for reading it right and three for judging it right.
func (a *attempt) readings() Section {
	s := Section{ID: "readings", Name: "Readings", Of: 20, Reasons: []Reason{}}
	if len(a.review) == 0 {
		s.Reasons = append(s.Reasons, Reason{"No reading was written down, so there is nothing to go by.", -1, false})
		return s
	}
	sum := 0.0
	for _, r := range a.review {
		part := 0.0
		if r.Valid {
			part += 0.4
		}
		if r.ReadRight {
			part += 0.3
		}
		if r.JudgedRight {
			part += 0.3
		}
		sum += part
		s.Reasons = append(s.Reasons, Reason{readingReason(r), r.Seq, part > 0.99})
	}
	s.Mark = round1(s.Of * sum / float64(len(a.review)))
	return s
}

func readingReason(r Reading) string {
	var bad []string
	if !r.Valid {
		text := strings.Join(r.Missed, "; ")
		if r.ErrorBySetup != 0 {
			text += fmt.Sprintf(", which moved the reading by %+.3g", r.ErrorBySetup)
		}
		bad = append(bad, "not valid: "+text)
	}
	if !r.ReadRight {
		text := fmt.Sprintf("the instrument showed %s and you wrote %s", r.Shown, r.Typed)
		if r.Slip != "" {
			text += " (" + r.Slip + ")"
		}
		bad = append(bad, text)
	}
	if !r.JudgedRight && r.TrueBand != "" {
		bad = append(bad, fmt.Sprintf("judged %s, and the sheet puts it %s", r.Judged, r.TrueBand))
	}
	if len(bad) == 0 {
		return r.Title + ": set up, read and judged right."
	}
	return r.Title + ": " + strings.Join(bad, ". ") + "."
}
