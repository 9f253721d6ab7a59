package scenario

import (
	"fmt"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
)

// InKit says that a test can be made with what is on the bench: it takes no instrument, or
// one that some test of the kit takes too.
func (s *Scenario) InKit(t *catalogue.Test) bool {
	if s.Kit == nil || t.Instrument == "" {
		return true
	}
	return slices.ContainsFunc(s.Kit, func(id string) bool {
		k := catalogue.Standard().Test(id)
		return k != nil && k.Instrument == t.Instrument
	})
}

// Tests are those of this machine that can be made with the kit, by the minutes that the
// job goes by.
func (s *Scenario) Tests() []catalogue.Test {
	return slices.DeleteFunc(s.Figures().TestsOf(s.Family, s.Sheet), func(t catalogue.Test) bool { return !s.InKit(&t) })
}

func (c *checker) kit() {
	for i, id := range c.s.Kit {
		path := fmt.Sprintf("kit[%d]", i)
		switch {
		case catalogue.Standard().Test(id) == nil:
			c.add(problem.New(path, "scenario.no-test-for-kit", "id", id))
		case catalogue.Standard().TestFor(c.s.Family, c.s.Sheet, id) == nil:
			c.add(problem.New(path, "scenario.test-not-of-this-engine", "test", id))
		}
	}
}
