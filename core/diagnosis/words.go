package diagnosis

import (
	"fmt"
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
const neighbourShare = 0.12

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

func toText(v any) string { return fmt.Sprint(v) }
