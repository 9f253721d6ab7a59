package procedure

import (
	"fmt"
	"slices"
	"strings"

	"zanjero/core/catalogue"
)

// Markdown writes a procedure out for printing, as it is on one family: with
// set-ups, the sheet's bands, precautions and where each outcome leads.
func (p *Procedure) Markdown(family string, sheet catalogue.Sheet) string {
	cat := catalogue.Standard()
	q := p.For(family, sheet)
	var b strings.Builder
	line := func(format string, a ...any) { fmt.Fprintf(&b, format+"\n", a...) }
	line("# %s\n", plain(q.Title))
	line("For: %s. Revision %d.\n", cat.Family(family).Name, q.Revision)
	if q.About != "" {
		line("%s\n", plain(q.About))
	}
	line("> The machine's own manual, local codes, the employer's rules and a licensed technician come first.\n")
	section := ""
	for i := range q.Steps {
		s := &q.Steps[i]
		t := cat.TestFor(family, sheet, s.Test)
		if s.Section != section && s.Section != "" {
			section = s.Section
			line("## %s\n", plain(strings.ToUpper(section[:1])+section[1:]))
		}
		title := s.Test
		if t != nil {
			title = t.Title
		}
		if s.Repair != "" {
			title = fmt.Sprintf("%s at %s, then: %s", cat.RepairAct(s.Repair).Name, strings.ToLower(cat.Reach(s.Reach).Name), title)
		}
		line("**%d. %s**", i+1, plain(title))
		if t != nil {
			if f, ok := sheet[t.Figure]; ok {
				line("sheet %s", f.String())
			}
		}
		line("")
		if len(s.Precautions) > 0 {
			var names []string
			for _, id := range s.Precautions {
				names = append(names, cat.Action(id).Name)
			}
			line("- Before: %s.", strings.Join(names, "; "))
		}
		if t != nil {
			for _, h := range t.Hazards {
				line("- Caution: %s", cat.Hazard(h).Caution)
			}
		}
		if how := howTo(cat, s); how != "" {
			line("- Set-up: %s.", how)
		}
		if s.Note != "" {
			line("- %s", plain(s.Note))
		}
		for k := range s.Outcomes {
			line("- [ ] %s → %s", plain(s.Outcomes[k].says(t)), plain(q.leads(i, &s.Outcomes[k])))
		}
		line("")
	}
	if q.Proof != nil {
		title := q.Proof.Test
		if t := cat.Test(title); t != nil {
			title = t.Title
		}
		line("## Proof\n\n**%s.** %s\n", title, plain(q.Proof.Note))
	}
	line("This says what was checked. It does not say that the machine is safe to return to service.")
	return b.String()
}

// plain keeps a text from being read as marks of Markdown, of a table, or of
// HTML.
func plain(s string) string {
	return strings.NewReplacer("<", "&lt;", ">", "&gt;", "|", "\\|", "*", "\\*", "_", "\\_", "`", "\\`", "[", "\\[", "]", "\\]", "\n", " ").Replace(s)
}

// howTo says a step's set-up in the words of the bench.
func howTo(cat *catalogue.Catalogue, s *Step) string {
	var out []string
	ids := make([]string, 0, len(s.Setup))
	for id := range s.Setup {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	for _, id := range ids {
		name, value := strings.ReplaceAll(id, "_", " "), fmt.Sprint(s.Setup[id])
		if c := cat.Control(id); c != nil && c.Lever {
			switch s.Setup[id] {
			case 0.0:
				value = c.Low
			case 1.0:
				value = c.High
			}
		}
		for _, u := range cat.SetupsOf(s.Test) {
			if u.ID != id {
				continue
			}
			name = strings.ToLower(u.Name)
			for _, o := range u.Options {
				if o.Value == s.Setup[id] {
					value = o.Label
				}
			}
		}
		what, unit, _ := strings.Cut(name, ", ") // "dose, ml" is a dose in ml
		switch value {
		case "true":
			out = append(out, what)
		case "false":
			out = append(out, "not "+what)
		default:
			out = append(out, strings.TrimSpace(what+" "+value+" "+unit))
		}
	}
	return strings.Join(out, ", ")
}

// says puts the condition of an outcome into words.
func (o *Outcome) says(t *catalogue.Test) string {
	var out []string
	for _, w := range o.When {
		out = append(out, strings.ReplaceAll(w, "-", " "))
	}
	unit := ""
	if t != nil {
		unit = " " + t.Unit
	}
	switch {
	case o.From != nil && o.To != nil:
		out = append(out, fmt.Sprintf("%g to under %g%s", *o.From, *o.To, unit))
	case o.From != nil:
		out = append(out, fmt.Sprintf("%g%s or more", *o.From, unit))
	case o.To != nil:
		out = append(out, fmt.Sprintf("under %g%s", *o.To, unit))
	}
	return strings.Join(out, ", ")
}

// leads puts where an outcome of step i leads into words.
func (p *Procedure) leads(i int, o *Outcome) string {
	cat := catalogue.Standard()
	switch o.Then {
	case Conclude:
		var names []string
		for _, id := range o.Faults {
			names = append(names, strings.ToLower(cat.Fault(id).Name))
		}
		if r := cat.Reach(o.Reach); r != nil {
			names = append(names, strings.ToLower(r.Name))
		}
		if o.Lateral != "" {
			names = append(names, "the "+o.Lateral+" path")
		}
		return strings.TrimSuffix(strings.Join(names, ", or ")+". "+o.Why, " ")
	case Stop:
		return "stop. " + o.Why
	}
	k := p.after(i, o)
	switch {
	case k == i+1 && k < len(p.Steps):
		return "go on"
	case k >= 0 && k < len(p.Steps):
		return fmt.Sprintf("go to %d", k+1)
	}
	return "the end"
}

// edges calls f for every way of a procedure, with where it leads in a word.
func (p *Procedure) edges(f func(from int, to int, label string, o *Outcome)) {
	for i := range p.Steps {
		t := catalogue.Standard().Test(p.Steps[i].Test)
		for k := range p.Steps[i].Outcomes {
			o := &p.Steps[i].Outcomes[k]
			f(i, p.after(i, o), o.says(t), o)
		}
	}
}

func stepTitle(s *Step) string {
	if t := catalogue.Standard().Test(s.Test); t != nil {
		return t.Title
	}
	return s.Test
}

// DOT writes a procedure as a Graphviz graph.
func (p *Procedure) DOT(family string, sheet catalogue.Sheet) string {
	q := p.For(family, sheet)
	var b strings.Builder
	fmt.Fprintf(&b, "digraph %s {\n  rankdir=TB;\n  node [shape=box];\n", quoteDOT(q.Title))
	for i := range q.Steps {
		fmt.Fprintf(&b, "  s%d [label=%s];\n", i, quoteDOT(fmt.Sprintf("%d. %s", i+1, stepTitle(&q.Steps[i]))))
	}
	end := 0
	q.edges(func(from, to int, label string, o *Outcome) {
		if to >= 0 && to < len(q.Steps) {
			fmt.Fprintf(&b, "  s%d -> s%d [label=%s];\n", from, to, quoteDOT(label))
			return
		}
		fmt.Fprintf(&b, "  e%d [shape=ellipse, label=%s];\n  s%d -> e%d [label=%s];\n", end, quoteDOT(q.leads(from, o)), from, end, quoteDOT(label))
		end++
	})
	b.WriteString("}\n")
	return b.String()
}

// quoteDOT makes a text a DOT string that can end nothing and start nothing.
func quoteDOT(s string) string {
	return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`, "\n", " ", "\r", " ").Replace(s) + `"`
}

// Mermaid writes a procedure as a Mermaid flow chart.
func (p *Procedure) Mermaid(family string, sheet catalogue.Sheet) string {
	q := p.For(family, sheet)
	var b strings.Builder
	b.WriteString("flowchart TB\n")
	for i := range q.Steps {
		fmt.Fprintf(&b, "  s%d[%s]\n", i, quoteMermaid(fmt.Sprintf("%d. %s", i+1, stepTitle(&q.Steps[i]))))
	}
	end := 0
	q.edges(func(from, to int, label string, o *Outcome) {
		if to >= 0 && to < len(q.Steps) {
			fmt.Fprintf(&b, "  s%d -->|%s| s%d\n", from, quoteMermaid(label), to)
			return
		}
		fmt.Fprintf(&b, "  s%d -->|%s| e%d([%s])\n", from, quoteMermaid(label), end, quoteMermaid(q.leads(from, o)))
		end++
	})
	return b.String()
}

// quoteMermaid makes a text a Mermaid string, with what could be read as markup
// as entities.
func quoteMermaid(s string) string {
	return `"` + strings.NewReplacer(`"`, "#quot;", "<", "#lt;", ">", "#gt;", "|", "#124;", "`", "#96;", "\n", " ", "\r", " ").Replace(s) + `"`
}
