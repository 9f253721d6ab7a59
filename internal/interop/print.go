package interop

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
	"zanjero/core/procedure"
	"zanjero/messages"
)

// Printer writes procedures out in the words of a language.
type Printer struct{ Words *messages.Words }

// name is a field of a thing, in the middle of a sentence.
func (pr Printer) name(kind, id, field string) string {
	return strings.ToLower(pr.Words.Name(kind, id, field))
}

func (pr Printer) say(key string, pairs ...any) string {
	return pr.Words.Text("print."+key, problem.Pairs(pairs...))
}

// title is what a step does, or the test's id where the catalogue has none such.
func (pr Printer) title(test string) string {
	return cmp.Or(pr.Words.Name("test", test, "title"), test)
}

// Markdown writes a procedure out for printing, as it is on one family: with
// set-ups, the sheet's bands, precautions and where each outcome leads.
func (pr Printer) Markdown(p *procedure.Procedure, family string, sheet catalogue.Sheet) string {
	cat := catalogue.Standard()
	q := p.For(family, sheet)
	var b strings.Builder
	line := func(format string, a ...any) { fmt.Fprintf(&b, format+"\n", a...) }
	line("# %s\n", plain(q.Title))
	line("%s\n", pr.say("for", "family", pr.Words.Name("family", family, "name"), "revision", q.Revision))
	if q.About != "" {
		line("%s\n", plain(q.About))
	}
	line("> %s\n", pr.say("caution"))
	section := ""
	for i := range q.Steps {
		s := &q.Steps[i]
		t := cat.TestFor(family, sheet, s.Test)
		if s.Section != section && s.Section != "" {
			section = s.Section
			line("## %s\n", plain(strings.ToUpper(section[:1])+section[1:]))
		}
		title := pr.title(s.Test)
		if s.Repair != "" {
			title = pr.say("work-then", "repair", s.Repair, "reach", s.Reach, "test", s.Test)
		}
		line("**%d. %s**", i+1, plain(title))
		if t != nil {
			if f, ok := sheet[t.Figure]; ok {
				line("%s", pr.say("sheet", "figure", f.String()))
			}
		}
		line("")
		if len(s.Precautions) > 0 {
			line("- %s", pr.say("before", "actions", s.Precautions))
		}
		if t != nil {
			for _, h := range t.Hazards {
				line("- %s", pr.say("hazard", "caution", pr.Words.Name("hazard", h, "caution")))
			}
		}
		if how := pr.howTo(cat, s); how != "" {
			line("- %s", pr.say("set-up", "setup", how))
		}
		if s.Note != "" {
			line("- %s", plain(s.Note))
		}
		for k := range s.Outcomes {
			line("- [ ] %s → %s", plain(pr.when(&s.Outcomes[k], t)), plain(pr.leads(q, i, &s.Outcomes[k])))
		}
		line("")
	}
	if q.Proof != nil {
		line("## %s\n\n**%s.** %s\n", pr.say("proof"), pr.title(q.Proof.Test), plain(q.Proof.Note))
	}
	line("%s", pr.say("end"))
	return b.String()
}

// plain keeps a text from being read as marks of Markdown, of a table, or of
// HTML.
func plain(s string) string {
	return strings.NewReplacer("<", "&lt;", ">", "&gt;", "|", "\\|", "*", "\\*", "_", "\\_", "`", "\\`", "[", "\\[", "]", "\\]", "\n", " ").Replace(s)
}

// howTo says a step's set-up in the words of the bench.
func (pr Printer) howTo(cat *catalogue.Catalogue, s *procedure.Step) string {
	var out []string
	for _, id := range slices.Sorted(maps.Keys(s.Setup)) {
		name, value := strings.ReplaceAll(id, "_", " "), fmt.Sprint(s.Setup[id])
		if c := cat.Control(id); c != nil && c.Lever {
			switch s.Setup[id] {
			case 0.0:
				value = pr.Words.Name("control", id, "low")
			case 1.0:
				value = pr.Words.Name("control", id, "high")
			}
		}
		for _, u := range cat.SetupsOf(s.Test) {
			if u.ID == id {
				name = pr.name("setup", id, "name")
				value = cmp.Or(pr.Words.Name("setup", id, messages.Option(s.Setup[id])), value)
			}
		}
		what, unit, _ := strings.Cut(name, ", ") // "dose, ml" is a dose in ml
		switch value {
		case "true":
			out = append(out, what)
		case "false":
			out = append(out, pr.say("not", "what", what))
		default:
			out = append(out, strings.TrimSpace(what+" "+value+" "+unit))
		}
	}
	return strings.Join(out, ", ")
}

// when puts the condition of an outcome into words.
func (pr Printer) when(o *procedure.Outcome, t *catalogue.Test) string {
	var out []string
	for _, w := range o.When {
		out = append(out, pr.word(w))
	}
	unit := ""
	if t != nil {
		unit = t.Unit
	}
	part := ""
	if t != nil && o.Part != "" {
		part = pr.name("part", o.Part, "name") + ": "
		if p := t.Part(o.Part); p != nil {
			unit = p.Unit
		}
	}
	switch {
	case o.From != nil && o.To != nil:
		out = append(out, strings.TrimSpace(pr.say("from-to", "low", *o.From, "high", *o.To, "unit", unit)))
	case o.From != nil:
		out = append(out, pr.say("from", "low", *o.From, "unit", unit))
	case o.To != nil:
		out = append(out, strings.TrimSpace(pr.say("under", "high", *o.To, "unit", unit)))
	}
	return part + strings.Join(out, ", ")
}

// word is what a test says, or where a reading lies.
func (pr Printer) word(w string) string {
	for _, key := range []string{"word." + w, "band." + w, "print." + w} {
		if pr.Words.Has(key) {
			return pr.Words.Text(key, nil)
		}
	}
	return strings.ReplaceAll(w, "-", " ")
}

// leads puts where an outcome of step i leads into words.
func (pr Printer) leads(p *procedure.Procedure, i int, o *procedure.Outcome) string {
	switch o.Then {
	case procedure.Conclude:
		var names []string
		for _, id := range o.Faults {
			names = append(names, pr.name("fault", id, "name"))
		}
		if o.Reach != "" {
			names = append(names, pr.name("reach", o.Reach, "name"))
		}
		if o.Lateral != "" {
			names = append(names, pr.say("path", "lateral", o.Lateral))
		}
		return strings.TrimSuffix(strings.Join(names, pr.say("or"))+". "+o.Why, " ")
	case procedure.Stop:
		return pr.say("stop") + " " + o.Why
	}
	k := p.After(i, o)
	switch {
	case k == i+1 && k < len(p.Steps):
		return pr.say("go-on")
	case k >= 0 && k < len(p.Steps):
		return pr.say("go-to", "step", k+1)
	}
	return pr.say("the-end")
}

// edges calls f for every way of a procedure, with where it leads in a word.
func (pr Printer) edges(p *procedure.Procedure, f func(from int, to int, label string, o *procedure.Outcome)) {
	for i := range p.Steps {
		t := catalogue.Standard().Test(p.Steps[i].Test)
		for k := range p.Steps[i].Outcomes {
			o := &p.Steps[i].Outcomes[k]
			f(i, p.After(i, o), pr.when(o, t), o)
		}
	}
}

// DOT writes a procedure as a Graphviz graph.
func (pr Printer) DOT(p *procedure.Procedure, family string, sheet catalogue.Sheet) string {
	q := p.For(family, sheet)
	var b strings.Builder
	fmt.Fprintf(&b, "digraph %s {\n  rankdir=TB;\n  node [shape=box];\n", quoteDOT(q.Title))
	for i := range q.Steps {
		fmt.Fprintf(&b, "  s%d [label=%s];\n", i, quoteDOT(fmt.Sprintf("%d. %s", i+1, pr.title(q.Steps[i].Test))))
	}
	end := 0
	pr.edges(q, func(from, to int, label string, o *procedure.Outcome) {
		if to >= 0 && to < len(q.Steps) {
			fmt.Fprintf(&b, "  s%d -> s%d [label=%s];\n", from, to, quoteDOT(label))
			return
		}
		fmt.Fprintf(&b, "  e%d [shape=ellipse, label=%s];\n  s%d -> e%d [label=%s];\n", end, quoteDOT(pr.leads(q, from, o)), from, end, quoteDOT(label))
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
func (pr Printer) Mermaid(p *procedure.Procedure, family string, sheet catalogue.Sheet) string {
	q := p.For(family, sheet)
	var b strings.Builder
	b.WriteString("flowchart TB\n")
	for i := range q.Steps {
		fmt.Fprintf(&b, "  s%d[%s]\n", i, quoteMermaid(fmt.Sprintf("%d. %s", i+1, pr.title(q.Steps[i].Test))))
	}
	end := 0
	pr.edges(q, func(from, to int, label string, o *procedure.Outcome) {
		if to >= 0 && to < len(q.Steps) {
			fmt.Fprintf(&b, "  s%d -->|%s| s%d\n", from, quoteMermaid(label), to)
			return
		}
		fmt.Fprintf(&b, "  s%d -->|%s| e%d([%s])\n", from, quoteMermaid(label), end, quoteMermaid(pr.leads(q, from, o)))
		end++
	})
	return b.String()
}

// quoteMermaid makes a text a Mermaid string, with what could be read as markup
// as entities.
func quoteMermaid(s string) string {
	return `"` + strings.NewReplacer(`"`, "#quot;", "<", "#lt;", ">", "#gt;", "|", "#124;", "`", "#96;", "\n", " ", "\r", " ").Replace(s) + `"`
}
