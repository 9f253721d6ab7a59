package scenario

import (
	"fmt"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/problem"
)

// The most that one job holds, and the longest that its words are, in letters.
const (
	MaxHidden      = 3
	MaxDistractors = 3
	MaxStatements  = 8
	maxWords       = 600
	maxHistory     = 2000
	// leastSeverity is that of a graded fault that can be found at all.
	leastSeverity = 0.05
)

// Check lists what is wrong with a scenario by its form, with where and how to mend it.
// Whether the complaint is true, and whether it can be solved, is not asked here.
func (s *Scenario) Check() []problem.Problem {
	fam := catalogue.Standard().Family(s.Family)
	if fam == nil {
		return []problem.Problem{*problem.New("family", "scenario.no-engine-family", "family", s.Family)}
	}
	c := checker{s: s, fam: fam}
	for _, p := range catalogue.Standard().CheckSheet(s.Family, s.Sheet) {
		c.add(p.At("sheet."))
	}
	c.add(machine.CheckAmbient("ambient", s.Ambient))
	if tank := s.Sheet["tank_ml"].Middle(); s.FuelML != nil && !(*s.FuelML >= 0 && *s.FuelML <= tank) {
		c.add(problem.New("fuel_ml", "scenario.tank-holds-less", "value", *s.FuelML, "most", tank))
	}
	c.faults()
	c.card()
	c.told()
	c.limits()
	c.kit()
	if s.Page != nil {
		for _, r := range s.Page.Check(s.Family, s.Sheet) {
			if r.Serious {
				c.add(r.At("page."))
			}
		}
	}
	if s.Rubric != nil {
		c.add(s.Rubric.Check("rubric"))
	}
	return c.out
}

// checker collects what is wrong.
type checker struct {
	s   *Scenario
	fam *catalogue.Family
	out []problem.Problem
}

func (c *checker) add(p *problem.Problem) {
	if p != nil {
		c.out = append(c.out, *p)
	}
}

func (c *checker) faults() {
	s := c.s
	switch n := len(s.Faults); {
	case n == 0:
		c.add(problem.New("faults", "scenario.no-fault-hidden"))
	case n > MaxHidden:
		c.add(problem.New("faults", "scenario.faults-hidden", "count", n, "most", MaxHidden))
	}
	if n := len(s.Distractors); n > MaxDistractors {
		c.add(problem.New("distractors", "scenario.distractors-too-many", "count", n, "most", MaxDistractors))
	}
	var seen []machine.FaultSpec
	for _, list := range []struct {
		name   string
		faults []machine.FaultSpec
	}{{"faults", s.Faults}, {"distractors", s.Distractors}} {
		for i, f := range list.faults {
			path := fmt.Sprintf("%s[%d]", list.name, i)
			bad := machine.CheckFault(path, f, c.fam)
			if bad == nil {
				bad = s.checkVariant(path, f.ID)
			}
			c.add(bad)
			if slices.ContainsFunc(seen, func(o machine.FaultSpec) bool { return o.ID == f.ID }) {
				c.add(problem.New(path+".id", "scenario.fault-hidden-twice"))
			}
			if def := catalogue.Standard().Fault(f.ID); def != nil && def.Graded && f.Severity < leastSeverity {
				c.add(problem.New(path+".severity", "scenario.fault-as-slight-as-cannot-be-found"))
			}
			if list.name == "distractors" && s.leadsTo(f.ID) != "" {
				c.add(problem.New(path+".id", "scenario.distractor-is-a-cause", "fault", f.ID, "named_fault", s.leadsTo(f.ID)))
			}
			seen = append(seen, f)
		}
	}
	if p := machine.CheckTogether("faults", seen); p != nil {
		p.Path = "faults"
		c.add(p)
	}
}

// leadsTo is the hidden fault that another is the cause of, or "".
func (s *Scenario) leadsTo(fault string) string {
	for _, f := range s.Faults {
		def := catalogue.Standard().Fault(f.ID)
		if f.Cause == fault || (f.Cause == "" && def != nil && slices.Contains(def.Causes, fault)) {
			return f.ID
		}
	}
	return ""
}

func (c *checker) card() {
	s := c.s
	if strings.TrimSpace(s.Words) == "" {
		c.add(problem.New("words", "scenario.customer-says-nothing"))
	}
	if len([]rune(s.Words)) > maxWords {
		c.add(problem.New("words", "scenario.words-too-long", "most", maxWords))
	}
	if len([]rune(s.History)) > maxHistory {
		c.add(problem.New("history", "scenario.words-too-long", "most", maxHistory))
	}
	switch at := s.Complaint(); {
	case at == nil:
		c.add(problem.New("claim", "scenario.complaint-comes-no-known-symptom"))
	case !slices.ContainsFunc(diagnosis.ComplaintsOf(s.Family, s.Sheet), func(o diagnosis.Complaint) bool { return o.ID == at.ID }):
		c.add(problem.New("claim", "scenario.complaint-not-of-this-engine", "complaint", at.ID))
	}
}

func (c *checker) limits() {
	s := c.s
	if !(s.LimitMinutes >= 10 && s.LimitMinutes <= 600) {
		c.add(problem.New("limit_minutes", "scenario.minutes-out-range", "value", s.LimitMinutes))
	}
	if !slices.Contains(Modes, s.Guide()) {
		c.add(problem.New("mode", "scenario.no-mode", "mode", s.Mode, "modes", Modes))
	}
	if !(s.LimitMoney >= 0 && s.LimitMoney <= 10000) {
		c.add(problem.New("limit_money", "scenario.out-range", "value", s.LimitMoney))
	}
}

// checkVariant refuses a fault that this machine cannot have by its sheet,
// though another of its family can.
func (s *Scenario) checkVariant(path, id string) *problem.Problem {
	cat := catalogue.Standard()
	has := func(sheet catalogue.Sheet) bool {
		return slices.ContainsFunc(cat.FaultsOf(s.Family, sheet), func(f catalogue.Fault) bool { return f.ID == id })
	}
	if has(nil) && !has(s.Sheet) {
		return problem.New(path+".id", "scenario.its-sheet-machine-cannot", "id", id)
	}
	return nil
}
