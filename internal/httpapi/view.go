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
	"zanjero/core/problem"
	"zanjero/core/procedure"
	"zanjero/internal/store"
	"zanjero/messages"
)

// view lists what a person at the bench could see, and nothing else: it copies
// field by field, so that whatever is added to an observation stays inside
// until somebody decides otherwise.
func view(w *messages.Words, a store.Attempt, c *card, l *ledger.Ledger) (Bench, error) {
	b := c.bench(w)
	b.Id, b.State, b.Seq = a.ID, AttemptState(a.State), l.Seq()
	b.Minutes, b.Money = math.Round(l.Minutes()*10)/10, l.Money()
	b.Controls, b.Board = controlsSeen(l), l.Board()
	b.Taken, b.Open = list(l.Taken()), list(l.Open())
	at := l.Machine().State()
	b.Instrument, b.Spilt, b.Hot = l.Instrument(), at.SpiltML > 5, at.EngineC >= bench.HotC
	b.Ledger, b.Tray = []LedgerLine{}, make([]TrayLine, len(c.tests))
	for i := range c.tests {
		b.Tray[i] = TrayLine{Test: c.tests[i].ID, Minutes: c.tests[i].Minutes, AccessMinutes: l.AccessMinutes(&c.tests[i])}
	}
	cat := catalogue.Standard()
	var followed procedure.Followed
	if page := c.sc.PageAtHand(); page != nil {
		followed = page.Follow(c.sc.Family, c.sc.Sheet, l.Lines(), l.Pages())
		b.Page = pageOf(page, &followed)
	}
	for _, st := range l.Lines() {
		if line, ok := lineOf(w, cat, st); ok {
			if step, on := followed.Steps[st.Seq]; on {
				line.Step = new(step + 1)
			}
			b.Ledger = append(b.Ledger, line)
		}
	}
	if st := l.Latest(); st != nil && b.Instrument == nil && c.sc.Iron == nil && st.Seq == l.Lines()[len(l.Lines())-1].Seq {
		b.Look = lookOf(w, cat, st)
	}
	if c.sc.Iron != nil { // what the model has of it is not what is there
		b.Iron = new(true)
		b.Controls, b.Spilt, b.Hot = map[string]any{}, false, false
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

// pageOf is the page as far as it has been come: the step in front and those that were
// passed, and nothing of what lies ahead.
func pageOf(p *procedure.Procedure, f *procedure.Followed) *BenchPage {
	out := &BenchPage{Title: p.Title, At: f.At, Of: len(p.Steps), Left: text(f.Left), Ended: f.Ended, Passed: []PassedStep{}}
	for _, x := range f.Passed {
		s := PassedStep{Place: x.Step, Test: p.Steps[x.Step].Test, Seq: x.Seq}
		if x.Outcome >= 0 {
			s.Outcome = &p.Steps[x.Step].Outcomes[x.Outcome]
		}
		out.Passed = append(out.Passed, s)
	}
	if f.At < len(p.Steps) {
		s := &p.Steps[f.At]
		out.Step = &PageStep{Test: s.Test, Repair: text(s.Repair), Reach: text(s.Reach), Note: text(s.Note)}
		if len(s.Setup) > 0 {
			out.Step.Setup = &s.Setup
		}
		if len(s.Precautions) > 0 {
			out.Step.Precautions = &s.Precautions
		}
	}
	return out
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

func lineOf(w *messages.Words, cat *catalogue.Catalogue, st ledger.Line) (LedgerLine, bool) {
	line := LedgerLine{Seq: st.Seq, AtMin: math.Round(st.AtMin*10) / 10, Kind: st.Kind}
	done := w.Text("line.done", nil)
	switch st.Kind {
	case ledger.EventTake:
		line.Test, line.Title = text(st.Test), w.Name("test", st.Test, "title")
		line.Result, line.Waiting = w.Text("line.not-written-down", nil), st.Entry == nil
		if e := st.Entry; e != nil {
			line.Judged = text(e.Judged)
			line.Result = entryText(w, e)
			if len(e.Parts) > 0 { // each with its own judgement
				if e.Judged != "" {
					line.Result, line.Judged = line.Result+", "+w.Text("band."+e.Judged, nil), nil
				}
				line.Result += partsText(w, cat.Test(st.Test), e)
			}
			if g := e.Gauge; g != nil && g.ID != e.Device {
				line.Result += " " + w.Text("line.with-gauge", problem.Pairs("gauge", g.ID))
			}
			if e.Device != "" {
				line.Result += " " + w.Text("line.by-device", problem.Pairs("device", e.Device))
			}
			if !cat.Test(st.Test).Named() && e.Word != "" {
				line.Result += besideRun(w, st.Obs)
			}
		}
	case ledger.EventRepair:
		line.Title, line.Result = w.Text("line.repair", problem.Pairs("repair", st.Repair, "reach", st.Reach)), done
	case ledger.EventWait:
		line.Title, line.Result = w.Text("line.wait", nil), w.Text("line.minutes", problem.Pairs("minutes", st.Minutes))
	case ledger.EventDo:
		line.Title, line.Result = w.Name("action", st.Do, "name"), done
	case ledger.EventCover:
		line.Title, line.Result = w.Name("cover", st.Cover, "name"), w.Text("line.put-back", nil)
		if st.Off {
			line.Result = w.Text("line.taken-off", nil)
		}
	default:
		return line, false
	}
	return line, true
}

// partsText is what was written down of the other parts of a reading.
func partsText(w *messages.Words, t *catalogue.Test, e *ledger.Entry) string {
	out := ""
	for i := range t.Parts {
		p := &t.Parts[i]
		part, ok := e.Parts[p.ID]
		if !ok {
			continue
		}
		out += "; " + strings.ToLower(w.Name("part", p.ID, "name")) + ": " + entryText(w, &part)
		if part.Judged != "" {
			out += ", " + w.Text("band."+part.Judged, nil)
		}
	}
	if e.Left {
		return strings.TrimPrefix(out, "; ")
	}
	return out
}

func entryText(w *messages.Words, e *ledger.Entry) string {
	switch {
	case e.Left:
		return ""
	case e.Word != "":
		return w.Text("word."+e.Word, nil)
	case e.Over:
		return w.Text("word.over-limit", nil)
	}
	if strings.HasSuffix(strings.TrimSpace(e.Typed), e.Unit) {
		return strings.TrimSpace(e.Typed)
	}
	return strings.TrimSpace(e.Typed) + " " + e.Unit
}

// besideRun is what anybody standing there would see and hear of a run beside
// its word.
func besideRun(w *messages.Words, o *bench.Observation) string {
	out := ""
	add := func(key string, pairs ...any) { out += ", " + w.Text(key, problem.Pairs(pairs...)) }
	if n, ok := o.Also["pulls"].(int); ok {
		add("line.pull", "n", n)
	}
	if m, ok := o.Also["minutes_to_falter"].(float64); ok {
		add("line.falters", "minutes", math.Round(m))
	}
	if s, ok := o.Also["smoke"].(string); ok && s != "none" {
		add("smoke." + s)
	}
	if s, ok := o.Also["sound"].(string); ok && w.Has("sound."+s) {
		add("sound." + s)
	}
	if s, ok := o.Also["stop"].(string); ok && w.Has("stop."+s) {
		add("stop." + s)
	}
	return out
}

// lookOf is the picture of the latest look, or the trace of the latest run.
func lookOf(w *messages.Words, cat *catalogue.Catalogue, st *ledger.Line) *Look {
	o := st.Obs
	look := &Look{Test: st.Test}
	t := cat.Test(st.Test)
	look.Parts = partsSeen(w, t, o)
	if p := o.Plug; p != nil {
		look.Plug = &PlugSeen{Tone: p.Tone, Wet: p.Wet, Oil: p.Oil, Cracked: p.Cracked, GapMm: p.GapMM}
	}
	if o.Dim {
		look.Dim = &o.Dim
	}
	if o.Rope != nil {
		look.Rope = &Rope{Holds: o.Rope.Holds, End: RopeEnd(o.Rope.End)}
	}
	if o.Heard != nil && len(o.Heard.Parts) > 0 {
		look.Heard = &st.Seq
	}
	sight := w.Name("sight", t.ID, *o.Word)
	switch {
	case t.Named():
		look.Text = sight
		if o.Seen != nil {
			seen := map[string]float64(o.Seen)
			look.Seen = &seen
		}
		if st.Test == "jet-look" && *o.Word == "part" {
			look.Text = sight + " " + w.Text("line.tenths-left", problem.Pairs("tenths", math.Round(10*o.Seen["open"])))
		}
	case st.Test == "look-switches":
		look.Text = sight + " " + w.Text("line.controls-seen", nil)
	case sight != "":
		look.Text = sight
	default:
		look.Text = capital(w.Text("word."+*o.Word, nil)) + besideRun(w, o) + "."
		if len(o.Trace) > 1 {
			look.Trace = &o.Trace
		}
		if s, ok := o.Also["sound"].(string); ok && s != "none" {
			look.Sound = &s
		}
	}
	return look
}

// partsSeen is what else is seen of a look, by the parts of its reading.
func partsSeen(w *messages.Words, t *catalogue.Test, o *bench.Observation) *[]SeenPart {
	var out []SeenPart
	for i := range t.Parts {
		id := t.Parts[i].ID
		p, ok := o.Parts[id]
		switch {
		case !ok || i == 0:
		case p.Word != nil:
			out = append(out, SeenPart{id, w.Text("seen."+id+"."+*p.Word, nil)})
		case p.Value != nil:
			out = append(out, SeenPart{id, w.Text("seen."+id, problem.Pairs("value", *p.Value, "unit", p.Unit))})
		}
	}
	if len(out) == 0 {
		return nil
	}
	return &out
}

func capital(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
