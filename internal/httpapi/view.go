package httpapi

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"

	"zanjero/core/assess"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/internal/store"
)

// view lists what a person at the bench could see, and nothing else: it copies
// field by field, so that whatever is added to an observation stays inside
// until somebody decides otherwise.
func view(a store.Attempt, c *card, l *ledger.Ledger) (Bench, error) {
	sc := c.sc
	b := Bench{
		Id: a.ID, State: BenchState(a.State), JobNumber: c.number, Family: sc.Family, MachineName: sc.Name, MachineCode: sc.Code,
		Words: sc.Words, History: sc.History, LimitMinutes: sc.LimitMinutes, LimitMoney: sc.LimitMoney, Sheet: sheetLines(sc.Family, sc.Sheet),
		Seq: l.Seq(), Minutes: math.Round(l.Minutes()*10) / 10, Money: l.Money(), Has: []string{}, Controls: controlsSeen(l), Taken: list(l.Taken()), Open: list(l.Open()),
		Instrument: l.Instrument(), Ledger: []LedgerLine{}, Board: l.Board(), Tray: []TrayLine{},
		Mode: BenchMode(sc.Guide()), ProperOnly: sc.ProperOnly, Spilt: l.Machine().State().SpiltML > 5,
	}
	cat := catalogue.Standard()
	for _, c := range cat.ControlsOf(sc.Family, sc.Sheet) {
		b.Has = append(b.Has, c.ID)
	}
	for _, t := range cat.TestsOf(sc.Family, sc.Sheet) {
		b.Tray = append(b.Tray, TrayLine{Test: t.ID, AccessMinutes: l.AccessMinutes(&t)})
	}
	for _, st := range l.Lines() {
		if line, ok := lineOf(cat, st); ok {
			b.Ledger = append(b.Ledger, line)
		}
	}
	if st := l.Latest(); st != nil && b.Instrument == nil && st.Seq == l.Lines()[len(l.Lines())-1].Seq {
		b.Look = lookOf(cat, st)
	}
	if len(a.Draft) > 0 {
		var d assess.HandOver
		if err := json.Unmarshal(a.Draft, &d); err != nil {
			return Bench{}, fmt.Errorf("attempt %s: draft: %w", a.ID, err)
		}
		b.Draft = &d
	}
	return b, nil
}

// controlsSeen leaves out what may have been left wrong until somebody has
// looked at it.
func controlsSeen(l *ledger.Ledger) map[string]any {
	c := l.Controls()
	for _, id := range ledger.LeftWrong {
		if !l.Seen[id] {
			delete(c, id)
		}
	}
	return c
}

func lineOf(cat *catalogue.Catalogue, st ledger.Line) (LedgerLine, bool) {
	line := LedgerLine{Seq: st.Seq, AtMin: math.Round(st.AtMin*10) / 10, Kind: st.Kind}
	switch st.Kind {
	case ledger.EventTake:
		line.Test, line.Title = text(st.Test), cat.Test(st.Test).Title
		line.Result, line.Waiting = "not written down", st.Entry == nil
		if e := st.Entry; e != nil {
			line.Judged = text(e.Judged)
			line.Result = entryText(e)
			if !cat.Test(st.Test).Named() && e.Word != "" {
				line.Result += told(st.Obs)
			}
		}
	case ledger.EventRepair:
		line.Title, line.Result = cat.RepairAct(st.Repair).Name+": "+cat.Reach(st.Reach).Name, "done"
	case ledger.EventWait:
		line.Title, line.Result = "Let it stand", fmt.Sprintf("%g min", st.Minutes)
	case ledger.EventDo:
		line.Title, line.Result = cat.Action(st.Do).Name, "done"
	case ledger.EventCover:
		line.Title, line.Result = cat.Cover(st.Cover).Name, "put back"
		if st.Off {
			line.Result = "taken off"
		}
	default:
		return line, false
	}
	return line, true
}

func entryText(e *ledger.Entry) string {
	switch {
	case e.Word != "":
		return strings.ReplaceAll(e.Word, "-", " ")
	case e.Over:
		return "over-limit"
	}
	if strings.HasSuffix(strings.TrimSpace(e.Typed), e.Unit) {
		return strings.TrimSpace(e.Typed)
	}
	return strings.TrimSpace(e.Typed) + " " + e.Unit
}

// told is what anybody standing there would see of a run beside its word.
func told(o *bench.Observation) string {
	out := ""
	if n, ok := o.Also["pulls"].(int); ok {
		out += fmt.Sprintf(", pull %d", n)
	}
	if m, ok := o.Also["minutes_to_falter"].(float64); ok {
		out += fmt.Sprintf(", falters at %.0f min", m)
	}
	if s, ok := o.Also["smoke"].(string); ok && s != "none" {
		out += ", " + s + " smoke"
	}
	if s, ok := o.Also["sound"].(string); ok {
		out += sounds[s]
	}
	return out
}

// sounds are what is heard beside a run, where there is more to say than that
// it runs.
var sounds = map[string]string{
	"surging": ", surging", "stumbling": ", stumbling", "lumpy": ", lumpy", "labouring": ", labouring", "pops": ", popping in the exhaust", "cough": ", coughing",
	"spit": ", spitting at the intake", "hiss": ", hissing", "knock": ", knocking", "bang": ", with a bang",
}

// lookOf is the picture of the latest look, or the trace of the latest run.
func lookOf(cat *catalogue.Catalogue, st *ledger.Line) *Look {
	o := st.Obs
	look := &Look{Test: st.Test}
	t := cat.Test(st.Test)
	switch {
	case t.Named():
		look.Text, look.Scene = cat.Sight(t.ID, *o.Word), o.Word
		if x, ok := o.Also["shown"].(float64); ok {
			look.Shown = &x
		}
		if st.Test == "jet-look" && *o.Word == "part" {
			share, _ := o.Also["open_share"].(float64)
			open := math.Min(math.Max(math.Round(share*10)/10, 0.1), 0.9)
			look.Shown, look.Text = &open, fmt.Sprintf("%s About %.0f tenths of it is left.", look.Text, open*10)
		}
	case st.Test == "look-switches":
		look.Text = cat.Sight(t.ID, *o.Word) + " The other controls can now be seen as they stand."
	case cat.Sight(t.ID, *o.Word) != "":
		look.Text = cat.Sight(t.ID, *o.Word)
	default:
		look.Text = capital(strings.ReplaceAll(*o.Word, "-", " ")) + told(o) + "."
		if len(o.Trace) > 1 {
			look.Trace = &o.Trace
		}
		if s, ok := o.Also["sound"].(string); ok && s != "none" {
			look.Sound = &s
		}
	}
	return look
}

func capital(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
