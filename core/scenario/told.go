package scenario

import (
	"fmt"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/problem"
)

// How a statement of the owner's stands to the machine.
const (
	TrueTold   = "true"       // so, and told
	Omitted    = "omitted"    // so, and kept back
	Misleading = "misleading" // told, and leads elsewhere
)

// Statement is something that the owner knows, or thinks to know, of how it came about.
type Statement struct {
	// Says is the id of one of the catalogue's statements.
	Says string `json:"says"`
	Is   string `json:"is"`
}

// nothingTold is the owner's answer who does not know, or does not say.
const nothingTold = "nothing-told"

// Heard are the words of what is told with the complaint. It counts as evidence; owners
// omit and err.
func (s *Scenario) Heard() (words []string) {
	for _, t := range s.Told {
		if st := catalogue.Standard().Statement(t.Says); st != nil && t.Is != Omitted && st.Tells != nothingTold {
			words = append(words, st.Tells)
		}
	}
	return words
}

// Says are the ids of what is told with the complaint.
func (s *Scenario) Says() (ids []string) {
	for _, t := range s.Told {
		if t.Is != Omitted {
			ids = append(ids, t.Says)
		}
	}
	return ids
}

// answer is what the owner says who is asked at the bench: the first of what is told;
// nothing, where all of it is kept back; empty where the job says nothing of it.
func (s *Scenario) answer() string {
	switch heard := s.Heard(); {
	case len(s.Told) == 0:
		return ""
	case len(heard) == 0:
		return nothingTold
	default:
		return heard[0]
	}
}

// told checks the statements: a true one is so of this machine, and a misleading one is
// not.
func (c *checker) told() {
	if n := len(c.s.Told); n > MaxStatements {
		c.add(problem.New("history", "scenario.statements-too-many", "count", n, "most", MaxStatements))
	}
	var life map[string]float64
	if ses, err := c.s.session(c.s.Inside(), bench.Options{}); err == nil {
		life = ses.Machine().History()
	}
	for i, t := range c.s.Told {
		path := fmt.Sprintf("history[%d]", i)
		st := catalogue.Standard().Statement(t.Says)
		switch {
		case st == nil:
			c.add(problem.New(path+".says", "scenario.nobody-says-that", "id", t.Says))
		case !slices.Contains([]string{TrueTold, Omitted, Misleading}, t.Is):
			c.add(problem.New(path+".is", "scenario.statement-is-neither", "is", t.Is, "ways", []string{TrueTold, Omitted, Misleading}))
		case life == nil || !st.Cause:
		case t.Is != Misleading && life[st.ID] == 0:
			c.add(problem.New(path+".is", "scenario.statement-not-so", "cause", st.ID))
		case t.Is == Misleading && life[st.ID] > 0:
			c.add(problem.New(path+".is", "scenario.statement-is-so", "cause", st.ID))
		}
	}
}
