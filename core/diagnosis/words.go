package diagnosis

import (
	"fmt"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/foresee"
)

// neighbours are words that a competent listener may use for one another when
// the engine stands near a boundary (common practice; share chosen by us).
var neighbours = map[string][]string{
	"no-fire":            {"fires-and-dies"},
	"fires-and-dies":     {"no-fire", "runs-only-on-choke"},
	"runs-only-on-choke": {"fires-and-dies", "bogs", "dies"},
	"bogs":               {"runs-only-on-choke", "hunts", "low-power", "fades", "very-rich", "rich-smoky"},
	"hunts":              {"bogs", "stalls-at-idle", "low-power", "runs-well"},
	"stalls-at-idle":     {"hunts", "runs-well", "low-power", "bogs"},
	"low-power":          {"runs-well", "bogs", "hunts", "stalls-at-idle"},
	"runs-well":          {"low-power"},
	"rich-smoky":         {"very-rich", "runs-well", "bogs"},
	"very-rich":          {"rich-smoky", "bogs"},
	"died-away":          {"fades"},
	"fades":              {"died-away", "bogs"},
	"dies":               {"bogs", "hunts"},
	"runs":               {"fires-and-dies"},
}

// neighbourShare is how often the neighbouring word is used.
const neighbourShare = 0.08

// soften gives the chance that a word is used, from the chances of what the
// machine does.
func soften(words []foresee.Chance, said string) float64 {
	p := 0.0
	for _, c := range words {
		w, chance := c.Word, c.P
		near := neighbours[w]
		switch {
		case w == said && len(near) > 0:
			p += chance * (1 - neighbourShare)
		case w == said:
			p += chance
		default:
			for _, n := range near {
				if n == said {
					p += chance * neighbourShare / float64(len(near))
				}
			}
		}
	}
	return p
}

// question is what a test asks of a machine, the same for all runs that are judged
// in the words of a start; empty where asking again is asking anew.
func question(test string) string {
	switch t := catalogue.Standard().Test(test); {
	case t.Kind == catalogue.KindLook || t.Kind == catalogue.KindFeel:
		return t.ID
	case t.Kind == catalogue.KindRun && slices.Contains(t.Words, "runs-well"):
		return "run"
	}
	return ""
}

// sameAnswer says that a machine would show what it showed before, and that, in a
// run, it does not hang on the chance of an attempt.
func sameAnswer(run bool, now, before []foresee.Chance) bool {
	return slices.Equal(now, before) && (!run || slices.ContainsFunc(now, func(c foresee.Chance) bool { return c.P > certain }))
}

// certain is how likely a word is of which no attempt makes another.
const certain = 0.95

// sameWord is how often a person who judges the same thing again calls it the
// same: a look always, a run that may have been a little different mostly
// (common practice; size chosen by us).
func sameWord(t *catalogue.Test) float64 {
	if t.Kind == catalogue.KindRun {
		return 0.85
	}
	return 1
}

func toText(v any) string { return fmt.Sprint(v) }
