package procedure

import (
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/units"
)

// Passed is a step that was made, by its place, the outcome that it came to, or −1 where
// none fits, and where in the ledger that was written down.
type Passed struct {
	Step    int `json:"step"`
	Outcome int `json:"outcome"`
	Seq     int `json:"seq"`
}

// Followed is where somebody is who works by a page.
type Followed struct {
	// At is the step in front; the number of steps where the list has run out or has
	// come to an end.
	At int `json:"at"`
	// Left is why the page is left just now; empty while it is followed.
	Left   string   `json:"left,omitempty"`
	Passed []Passed `json:"passed"`
	// Ended: it has come to a conclusion or a stop, which is the last one passed.
	Ended bool `json:"ended"`
	// Steps gives, for each act of the ledger by its place, the step that it belongs to.
	// Acts off the page belong to none.
	Steps map[int]int `json:"steps"`
}

// Follow finds, from what was done and written down alone, where somebody is in a
// procedure that is for their machine's family. Readings count as they were written
// down, in whatever unit; nothing hidden is asked.
func (p *Procedure) Follow(family string, sheet catalogue.Sheet, lines []ledger.Line, pages []ledger.PageAct) Followed {
	f := Followed{Steps: map[int]int{}, Passed: []Passed{}}
	repaired := false
	// What is written down counts where it was written, which can be after other acts.
	type act struct {
		seq   int
		line  *ledger.Line
		entry bool
		page  *ledger.PageAct
	}
	var acts []act
	for i := range lines {
		l := &lines[i]
		acts = append(acts, act{seq: l.Seq, line: l})
		if l.Entry != nil {
			acts = append(acts, act{seq: max(l.Entry.Seq, l.Seq), line: l, entry: true})
		}
	}
	for i := range pages {
		acts = append(acts, act{seq: pages[i].Seq, page: &pages[i]})
	}
	slices.SortStableFunc(acts, func(a, b act) int { return a.seq - b.seq })
	for _, a := range acts {
		switch {
		case a.page != nil:
			f.Left = a.page.Why
			continue
		case f.Left != "" || f.At >= len(p.Steps):
			continue
		}
		if _, known := f.Steps[a.seq]; !known {
			f.Steps[a.seq] = f.At
		}
		s := &p.Steps[f.At]
		if a.line.Repair == s.Repair && a.line.Reach == s.Reach && s.Repair != "" {
			repaired = true
		}
		if !a.entry || a.line.Test != s.Test || f.Steps[a.line.Seq] != f.At || (s.Repair != "" && !repaired) {
			continue
		}
		t := catalogue.Standard().TestFor(family, sheet, s.Test)
		if t == nil {
			continue
		}
		k := s.written(t, sheet, a.line.Entry)
		f.Passed = append(f.Passed, Passed{f.At, k, a.seq})
		repaired = false
		at := len(p.Steps)
		if k >= 0 {
			if at = p.After(f.At, &s.Outcomes[k]); at < 0 {
				f.Ended, at = true, len(p.Steps)
			}
		}
		f.At = at
	}
	return f
}

// written finds the outcome that what was written down belongs to: of those that speak
// of several parts the first that fits, else the one for all others, else −1.
func (s *Step) written(t *catalogue.Test, sheet catalogue.Sheet, e *ledger.Entry) int {
	rest := -1
	for i := range s.Outcomes {
		o := &s.Outcomes[i]
		if slices.Contains(o.When, Otherwise) {
			rest = i
			continue
		}
		d, ok := o.side(t)
		if !ok {
			continue
		}
		part, has := *e, !e.Left
		if d.id != "" {
			part, has = e.Parts[d.id]
		}
		if has && o.fits(&d, sheet, &part) {
			return i
		}
	}
	return rest
}

// fits says whether an entry of a side is what the outcome names.
func (o *Outcome) fits(d *side, sheet catalogue.Sheet, e *ledger.Entry) bool {
	if !d.number {
		return e.Word != "" && slices.Contains(o.When, e.Word)
	}
	if e.Over {
		return slices.Contains(o.When, OverLimit)
	}
	v, err := units.Convert(e.Value, units.Unit(e.Unit), units.Unit(d.unit))
	if err != nil {
		return false
	}
	if fig, judged := sheet[d.figure]; judged && slices.Contains(o.When, fig.Judge(v)) {
		return true
	}
	return (o.From != nil || o.To != nil) && (o.From == nil || v >= *o.From) && (o.To == nil || v < *o.To)
}
