package httpapi

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"

	"zanjero/core/assess"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/internal/store"
)

// view lists what a person at the bench could see, and nothing else: it copies
// field by field, so that whatever is added to an observation stays inside
// until somebody decides otherwise.
func view(a store.Attempt, c *card, l *bench.Ledger) (Bench, error) {
	sc := c.sc
	b := Bench{
		Id: a.ID, State: BenchState(a.State), JobNumber: c.number, Family: sc.Family, MachineName: sc.Name, MachineCode: sc.Code,
		Words: sc.Words, History: sc.History, LimitMinutes: sc.LimitMinutes, LimitMoney: sc.LimitMoney, Sheet: sheetLines(sc.Family, sc.Sheet),
		Seq: l.Seq(), Minutes: math.Round(l.Minutes()*10) / 10, Money: l.Money(), Has: []string{}, Controls: controlsSeen(l), Taken: list(l.Taken()), Open: list(l.Open()),
		Instrument: l.Instrument(), Ledger: []LedgerLine{}, Board: l.Board(), Tray: []TrayLine{},
	}
	cat := catalogue.Standard()
	for _, c := range cat.ControlsOf(sc.Family, sc.Sheet) {
		b.Has = append(b.Has, c.ID)
	}
	for _, t := range cat.TestsOf(sc.Family, sc.Sheet) {
		if !bench.AtBench(&t) {
			continue
		}
		b.Tray = append(b.Tray, TrayLine{Test: t.ID, AccessMinutes: l.AccessMinutes(&t)})
	}
	for _, st := range l.Steps {
		if line, ok := lineOf(cat, st); ok {
			b.Ledger = append(b.Ledger, line)
		}
	}
	if st := l.Latest(); st != nil && b.Instrument == nil && st == &l.Steps[len(l.Steps)-1] {
		b.Look = lookOf(st)
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
func controlsSeen(l *bench.Ledger) map[string]any {
	c := l.Controls()
	for _, id := range bench.LeftWrong {
		if !l.Seen[id] {
			delete(c, id)
		}
	}
	return c
}

func lineOf(cat *catalogue.Catalogue, st bench.Step) (LedgerLine, bool) {
	line := LedgerLine{Seq: st.Seq, AtMin: math.Round(st.AtMin*10) / 10, Kind: st.Kind}
	switch st.Kind {
	case bench.EventTake:
		line.Test, line.Title = text(st.Test), cat.Test(st.Test).Title
		line.Result, line.Waiting = "not written down", st.Entry == nil
		if e := st.Entry; e != nil {
			line.Judged = text(e.Judged)
			line.Result = entryText(e)
			if !bench.Drawn(st.Test) && e.Word != "" {
				line.Result += told(st.Obs)
			}
		}
	case bench.EventRepair:
		line.Title, line.Result = cat.RepairAct(st.Repair).Name+": "+cat.Reach(st.Reach).Name, "done"
	case bench.EventWait:
		line.Title, line.Result = "Let it stand", fmt.Sprintf("%g min", st.Minutes)
	case bench.EventDo:
		line.Title, line.Result = cat.Action(st.Do).Name, "done"
	case bench.EventCover:
		line.Title, line.Result = cat.Cover(st.Cover).Name, "put back"
		if st.Off {
			line.Result = "taken off"
		}
	default:
		return line, false
	}
	return line, true
}

func entryText(e *bench.Entry) string {
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
	return out
}

// faces describe a plug as an eye would, without the word for it.
var faces = map[string]string{
	"tan":     "The nose of the insulator is light brown and dry; the electrodes are clean and grey.",
	"dry":     "The nose is pale and bone dry. No smell of fuel.",
	"damp":    "A dull film of fuel on the nose; it smells, but nothing runs.",
	"wet":     "Fuel stands in drops between the electrodes and runs down the shell.",
	"sooty":   "Soft black velvet over nose and shell that wipes off on a finger.",
	"oily":    "A black, shiny, greasy coat that smears.",
	"white":   "The nose is chalk white and glazed, the electrode edges burnt thin.",
	"cracked": "A hairline runs across the nose and catches a fingernail.",
}

// lookOf is the picture of the latest look, or the trace of the latest run.
func lookOf(st *bench.Step) *Look {
	o := st.Obs
	look := &Look{Test: st.Test}
	switch st.Test {
	case "plug-look":
		look.Text, look.Face = faces[*o.Word], o.Word
	case "jet-look":
		open := 1.0
		switch *o.Word {
		case "none":
			open, look.Text = 0, "Held to the window, the bore is black from end to end."
		case "part":
			share, _ := o.Also["open_share"].(float64)
			open = math.Min(math.Max(math.Round(share*10)/10, 0.1), 0.9)
			look.Text = fmt.Sprintf("Held to the window, the round of light is bitten into: about %.0f tenths of it is left.", open*10)
		default:
			look.Text = "Held to the window, the whole round of the bore is bright."
		}
		look.OpenShare = &open
	case "look-switches":
		look.Text = "The stop switch stands at " + strings.ToUpper(*o.Word) + ". The other controls can now be seen as they stand."
	default:
		look.Text = capital(strings.ReplaceAll(*o.Word, "-", " ")) + told(o) + "."
		if len(o.Trace) > 1 {
			look.Trace = &o.Trace
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
