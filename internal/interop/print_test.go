package interop

import (
	"strings"
	"testing"
	"zanjero/core/catalogue"
	"zanjero/core/procedure"
	"zanjero/messages"

	"github.com/stretchr/testify/assert"
)

// What is typed into a title can end nothing and start nothing in what is
// exported.
func TestExports(t *testing.T) {
	p := school(t, "dose-first-no-start")
	p.Title = "A \"b\" <script> | c\n] --> x"
	sheet := catalogue.Standard().Family("f4-bowl").Sheet
	print := Printer{messages.In(messages.English)}
	md, dot, mermaid := print.Markdown(p, "f4-bowl", sheet), print.DOT(p, "f4-bowl", sheet), print.Mermaid(p, "f4-bowl", sheet)
	for _, want := range []string{"&lt;script&gt;", "**3. Dose past the carburettor**", "sheet 55 to 75 psi", "Set-up: clip bare metal",
		"Set-up: dose 2 ml.", "where it hisses: exhaust", "Ventilate, or go outdoors.", "## Proof", "licensed technician"} {
		assert.Contains(t, md, want)
	}
	assert.NotContains(t, md, "<script>")
	assert.Contains(t, dot, `digraph "A \"b\" <script>`)
	assert.Equal(t, strings.Count(dot, "{"), strings.Count(dot, "}"))
	assert.Contains(t, mermaid, "flowchart TB")
	for _, l := range strings.Split(strings.TrimSpace(mermaid), "\n")[1:] {
		assert.Zero(t, strings.Count(l, `"`)%2, l)
		assert.NotContains(t, l, "<")
	}
	assert.Greater(t, strings.Count(dot, "->"), 40)
}

// Every school prints whole on every family: nothing is left without its words.
func TestSchoolsPrint(t *testing.T) {
	print := Printer{messages.In(messages.English)}
	for _, p := range procedure.Schools().Expand() {
		for _, family := range p.Families {
			md := print.Markdown(&p, family, catalogue.Standard().Family(family).Sheet)
			assert.NotContains(t, md, "{", "%s on %s", p.ID, family)
			assert.NotRegexp(t, `\b(test|fault|reach|print|word)\.[a-z-]+`, md, "%s on %s", p.ID, family)
		}
	}
}

func school(t *testing.T, id string) *procedure.Procedure {
	for _, p := range procedure.Schools().Expand() {
		if p.ID == id {
			return &p
		}
	}
	t.Fatal("no school ", id)
	return nil
}
