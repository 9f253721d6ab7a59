package catalogue

import (
	"slices"
)

// Setup is a way in which some tests can be gone about by hand: one of some
// options, the first of which is how it is when nobody thinks of it, or a
// number.
type Setup struct {
	ID string `json:"id"`
	// Options are positions: texts, numbers, or true and false.
	Options []any    `json:"options,omitempty"`
	Low     float64  `json:"low,omitempty"`
	High    float64  `json:"high,omitempty"`
	Step    float64  `json:"step,omitempty"`
	Start   float64  `json:"start,omitempty"`
	Tests   []string `json:"tests"`
}

// Default is how it is when nobody thinks of it.
func (s *Setup) Default() any {
	if len(s.Options) > 0 {
		return s.Options[0]
	}
	return s.Start
}

// SetupsOf lists the ways in which a test can be gone about.
func (c *Catalogue) SetupsOf(test string) (out []Setup) {
	for _, s := range c.Setups {
		if slices.Contains(s.Tests, test) {
			out = append(out, s)
		}
	}
	return out
}

func (c *Catalogue) checkSetups(miss func(ok bool, format string, a ...any)) {
	for _, s := range c.Setups {
		miss(len(s.Options) != 1 && (len(s.Options) > 1 || (s.Low < s.High && s.Step > 0)), "set-up %s: neither options nor a range", s.ID)
		for _, id := range s.Tests {
			miss(c.Test(id) != nil, "set-up %s: no test %s", s.ID, id)
		}
	}
}
