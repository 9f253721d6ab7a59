package catalogue

import (
	"fmt"
	"slices"
)

// Setup is a way in which some tests can be gone about by hand: one of some
// options, the first of which is how it is when nobody thinks of it, or a
// number.
type Setup struct {
	ID      string        `json:"id"`
	Name    string        `json:"name"`
	Options []SetupOption `json:"options,omitempty"`
	Low     float64       `json:"low,omitempty"`
	High    float64       `json:"high,omitempty"`
	Step    float64       `json:"step,omitempty"`
	Start   float64       `json:"start,omitempty"`
	Tests   []string      `json:"tests"`
}

// SetupOption is one position: text, a number, or true or false.
type SetupOption struct {
	Value any    `json:"value"`
	Label string `json:"label"`
}

// Default is how it is when nobody thinks of it.
func (s *Setup) Default() any {
	if len(s.Options) > 0 {
		return s.Options[0].Value
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

// Sight is what an eye, ear or finger meets in a look whose word for it is w,
// without that word; "" where it is told by the word.
func (c *Catalogue) Sight(test, w string) string { return c.Sights[test][w] }

func (c *Catalogue) checkSetups(miss func(ok bool, format string, a ...any)) {
	for _, s := range c.Setups {
		miss(len(s.Options) != 1 && (len(s.Options) > 1 || (s.Low < s.High && s.Step > 0)), "set-up %s: neither options nor a range", s.ID)
		for _, id := range s.Tests {
			miss(c.Test(id) != nil, "set-up %s: no test %s", s.ID, id)
		}
	}
	for id, words := range c.Sights {
		t := c.Test(id)
		miss(t != nil, "sights: no test %s", id)
		for w, text := range words {
			miss(t != nil && slices.Contains(t.Words, w), "sights: %s has no word %s", id, w)
			miss(text != "", "sights: %s", fmt.Sprintf("%s says nothing of %s", id, w))
		}
	}
	for _, t := range c.Tests {
		if t.Kind == KindLook || t.Kind == KindFeel {
			for _, w := range t.Words {
				miss(c.Sight(t.ID, w) != "", "test %s: nothing is said of %s", t.ID, w)
			}
		}
	}
}
