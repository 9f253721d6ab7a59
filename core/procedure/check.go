package procedure

import (
	"fmt"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
	"zanjero/core/setup"
)

// Finding is something wrong with a procedure, or worth a second look: where it
// is, what, and how to mend it. A serious one keeps it from being followed.
type Finding struct {
	problem.Problem
	Serious bool `json:"serious"`
}

// checker gathers findings.
type checker struct {
	p      *Procedure
	family string
	sheet  catalogue.Sheet
	cat    *catalogue.Catalogue
	out    []Finding
}

func (c *checker) add(serious bool, path, what, mend string) {
	c.out = append(c.out, Finding{problem.Problem{Path: path, Problem: what, Mend: mend}, serious})
}

// MaxSteps is the most steps of a procedure, and MaxOutcomes of a step.
const (
	MaxSteps    = 120
	MaxOutcomes = 24
)

// Check looks a procedure over as it is on one family: its form first, and if
// that holds, its structure.
func (p *Procedure) Check(family string, sheet catalogue.Sheet) []Finding {
	c := &checker{p: p.For(family, sheet), family: family, sheet: sheet, cat: catalogue.Standard()}
	if c.cat.Family(family) == nil {
		c.add(true, "families", fmt.Sprintf("there is no engine family %q", family), "name one of the catalogue")
		return c.out
	}
	c.form()
	if !slices.ContainsFunc(c.out, func(f Finding) bool { return f.Serious }) {
		c.ways()
		c.order()
		c.proofs()
	}
	return c.out
}

// form checks each step alone.
func (c *checker) form() {
	switch n := len(c.p.Steps); {
	case n == 0:
		c.add(true, "steps", "there is no step for this family", "add a step, or take the family out")
	case n > MaxSteps:
		c.add(true, "steps", fmt.Sprintf("%d steps are too many", n), fmt.Sprintf("keep to %d", MaxSteps))
	}
	seen := map[string]bool{}
	for i := range c.p.Steps {
		s := &c.p.Steps[i]
		path := fmt.Sprintf("steps[%d]", i)
		if s.Use != "" {
			c.add(true, path+".use", fmt.Sprintf("the pack has no shared step %q", s.Use), "write the id of one under steps, or write the step out")
			continue
		}
		if s.ID == "" {
			c.add(true, path+".id", "the step has no id", "give it one, so that it can be jumped to")
		} else if seen[s.ID] {
			c.add(true, path+".id", fmt.Sprintf("a second step is called %q", s.ID), "give each step an id of its own")
		}
		seen[s.ID] = true
		if s.Test == "" {
			c.add(true, path+".test", "the step is empty: it makes no test", "name a test, or take the step out")
			continue
		}
		t := c.cat.TestFor(c.family, c.sheet, s.Test)
		if t == nil {
			c.add(true, path+".test", fmt.Sprintf("%s cannot have the test %q", c.family, s.Test), "name one that it has, or keep the step to the families that do")
			continue
		}
		fam := c.cat.Family(c.family)
		if lacking, p := setup.CheckSetup(path+".setup", s.Setup, fam, c.sheet); p != nil {
			c.out = append(c.out, Finding{*p, true})
		} else if len(lacking) > 0 {
			c.add(false, path+".setup", "this family has no "+strings.Join(lacking, ", "), "leave it out, or keep the step to the families that have it")
		}
		if s.Repair != "" {
			if p := catalogue.CheckRepair(path, s.Repair, s.Reach, fam); p != nil {
				c.out = append(c.out, Finding{*p, true})
			}
		}
		for k, id := range s.Precautions {
			if p := catalogue.CheckAction(fmt.Sprintf("%s.precautions[%d]", path, k), id, fam); p != nil {
				c.out = append(c.out, Finding{*p, true})
			}
		}
		c.outcomes(path, s, t)
	}
}

// outcomes checks what a step makes of what its test says.
func (c *checker) outcomes(path string, s *Step, t *catalogue.Test) {
	if len(s.Outcomes) == 0 || len(s.Outcomes) > MaxOutcomes {
		c.add(true, path+".outcomes", fmt.Sprintf("it has %d outcomes", len(s.Outcomes)), fmt.Sprintf("say where each outcome leads, in at most %d", MaxOutcomes))
		return
	}
	named := map[string]bool{}
	var spans [][2]float64
	for k := range s.Outcomes {
		o := &s.Outcomes[k]
		at := fmt.Sprintf("%s.outcomes[%d]", path, k)
		known := append(slices.Clone(t.Words), Otherwise)
		if t.Kind == catalogue.KindNumber {
			known = []string{Below, Within, Above, OverLimit, Otherwise}
		}
		if len(o.When) == 0 && o.From == nil && o.To == nil {
			c.add(true, at+".when", "it is not said when this is so", "name outcomes of the test, or from and to")
		}
		if (o.From != nil || o.To != nil) && t.Kind != catalogue.KindNumber {
			c.add(true, at+".from", fmt.Sprintf("%s gives a word, not a number", t.ID), "name its words under when")
		}
		if o.From != nil && o.To != nil && *o.From >= *o.To {
			c.add(true, at+".from", fmt.Sprintf("the band from %g to %g is empty", *o.From, *o.To), "write the smaller number first")
		}
		for _, w := range o.When {
			switch {
			case !slices.Contains(known, w):
				c.add(true, at+".when", fmt.Sprintf("%s never says %q", t.ID, w), "write one of "+strings.Join(known, ", "))
			case named[w]:
				c.add(true, at+".when", fmt.Sprintf("%q leads two ways", w), "keep it in one outcome")
			case t.Kind == catalogue.KindNumber && (w == Below || w == Within || w == Above) && t.Figure == "":
				c.add(true, at+".when", fmt.Sprintf("the sheet has no figure for %s", t.ID), "write from and to in "+t.Unit)
			}
			named[w] = true
		}
		for _, span := range o.spans(t, c.sheet) {
			for _, other := range spans {
				if span[0] < other[1] && other[0] < span[1] {
					c.add(true, at, "the band overlaps another of this step", "let one begin where the other ends")
				}
			}
			spans = append(spans, span)
			c.against(at, s, o, t)
		}
		c.way(at, o)
	}
	if named[Otherwise] {
		return
	}
	if t.Kind != catalogue.KindNumber {
		var missing []string
		for _, w := range t.Words {
			if !named[w] {
				missing = append(missing, w)
			}
		}
		if len(missing) > 0 {
			c.add(false, path+".outcomes", "without a way on: "+strings.Join(missing, ", "), "add an outcome for them, or otherwise")
		}
		return
	}
	if gap := firstGap(spans); gap != "" {
		c.add(false, path+".outcomes", "without a way on: readings "+gap, "close the gap, or add otherwise")
	}
}

// firstGap says where some spans leave the number line uncovered, or nothing.
func firstGap(spans [][2]float64) string {
	slices.SortFunc(spans, func(a, b [2]float64) int {
		if a[0] < b[0] {
			return -1
		}
		return 1
	})
	upTo := negInf
	for _, s := range spans {
		if s[0] > upTo {
			if upTo == negInf {
				return fmt.Sprintf("below %g", s[0])
			}
			return fmt.Sprintf("from %g to %g", upTo, s[0])
		}
		upTo = max(upTo, s[1])
	}
	if upTo < posInf {
		return fmt.Sprintf("from %g up", upTo)
	}
	return ""
}

// against says where an explicit band calls a reading good that the sheet calls
// bad, or the other way about.
func (c *checker) against(at string, s *Step, o *Outcome, t *catalogue.Test) {
	f, judged := c.sheet[t.Figure]
	if !judged || (o.From == nil && o.To == nil) {
		return
	}
	span := o.spans(t, c.sheet)
	inBand := span[len(span)-1][0] < f.High && span[len(span)-1][1] > f.Low
	if o.Then == Conclude && inBand && !s.hasRepair() {
		c.add(false, at+".from", fmt.Sprintf("it condemns readings that the sheet passes (%g to %g %s)", f.Low, f.High, f.Unit), "use below, within and above, or say why under why")
	}
}

func (s *Step) hasRepair() bool { return s.Repair != "" }

// way checks where an outcome leads.
func (c *checker) way(at string, o *Outcome) {
	switch o.Then {
	case Next, Leave:
	case Goto:
		if !slices.ContainsFunc(c.p.Steps, func(s Step) bool { return s.ID == o.Step }) {
			c.add(true, at+".step", fmt.Sprintf("it jumps to %q, which is nowhere on this family", o.Step), "name the id of a step")
		}
	case Stop:
		if strings.TrimSpace(o.Why) == "" {
			c.add(false, at+".why", "it stops without saying why", "write what is to be told")
		}
	case Conclude:
		for _, id := range o.Faults {
			if c.cat.Fault(id) == nil {
				c.add(true, at+".faults", fmt.Sprintf("there is no fault %q", id), "see zanjero sim --list faults")
			}
		}
		reachOK := o.Reach == "" || slices.ContainsFunc(c.cat.ReachesOf(c.family), func(r catalogue.Reach) bool { return r.ID == o.Reach })
		lateralOK := o.Lateral == "" || slices.ContainsFunc(c.cat.Laterals, func(l catalogue.Lateral) bool { return l.ID == o.Lateral })
		switch {
		case !reachOK || !lateralOK:
			c.add(true, at, "it concludes a reach or a lateral that this family has not", "name one of the board")
		case len(o.Faults) == 0 && o.Reach == "" && o.Lateral == "":
			c.add(false, at+".faults", "nothing is concluded that this family can have", "name faults, a reach or a lateral, or go on")
		}
	default:
		c.add(true, at+".then", fmt.Sprintf("there is no way %q", o.Then), "write next, leave, goto, conclude or stop")
	}
}

// ways finds steps that nothing leads to, and rounds that can be gone for ever.
func (c *checker) ways() {
	n := len(c.p.Steps)
	reached, onWay := make([]bool, n), make([]bool, n)
	loops := map[int]bool{}
	var visit func(i int)
	visit = func(i int) {
		if i < 0 || i >= n {
			return
		}
		if onWay[i] {
			loops[i] = true
			return
		}
		if reached[i] {
			return
		}
		reached[i], onWay[i] = true, true
		for k := range c.p.Steps[i].Outcomes {
			visit(c.p.after(i, &c.p.Steps[i].Outcomes[k]))
		}
		onWay[i] = false
	}
	visit(0)
	for i := range n {
		if !reached[i] {
			c.add(false, fmt.Sprintf("steps[%d]", i), fmt.Sprintf("nothing leads to %q", c.p.Steps[i].ID), "let an outcome lead to it, or take it out")
		}
		if loops[i] {
			c.add(true, fmt.Sprintf("steps[%d]", i), fmt.Sprintf("the way comes round to %q again and can go on for ever", c.p.Steps[i].ID), "lead the way back somewhere else, or conclude")
		}
	}
}

// order finds covers that are opened twice and hazards without precaution on
// the way that goes straight down the list.
func (c *checker) order() {
	off := map[string]bool{}
	closed := map[string]bool{}
	taken := map[string]int{}
	later := map[string]int{}
	for i, s := range c.p.Steps {
		for _, id := range s.Precautions {
			later[id] = i
		}
	}
	for i := range c.p.Steps {
		s := &c.p.Steps[i]
		path := fmt.Sprintf("steps[%d]", i)
		t := c.cat.TestFor(c.family, c.sheet, s.Test)
		opens, shuts := setup.AccessOf(t)
		for _, id := range opens {
			if !off[id] && closed[id] {
				c.add(false, path, fmt.Sprintf("%s comes off a second time for %s", strings.ToLower(c.cat.Cover(id).Name), t.ID), "make the tests that share it one after the other")
				delete(closed, id) // once is enough
			}
			off[id] = true
		}
		for id := range off {
			if slices.Contains(shuts, id) || (t.Kind == catalogue.KindRun && !slices.Contains(opens, id)) {
				delete(off, id)
				closed[id] = true
			}
		}
		for _, id := range s.Precautions {
			taken[id] = i
		}
		for _, id := range c.cat.PrecautionsOf(t) {
			if _, ok := taken[id]; ok {
				continue
			}
			problem, mend := "without the precaution: ", "name it in this step or an earlier one"
			if later[id] > i {
				problem, mend = "the precaution comes only later: ", "bring it forward"
			}
			c.add(false, path+".precautions", problem+strings.ToLower(c.cat.Action(id).Name), mend)
			taken[id] = i // said once
		}
	}
}

// proofs finds a procedure that proves nothing at the end.
func (c *checker) proofs() {
	if c.p.Proof == nil {
		c.add(false, "proof", "there is no proof run", "say under which condition the repair is proved")
		return
	}
	t := c.cat.TestFor(c.family, c.sheet, c.p.Proof.Test)
	if t == nil || t.Kind != catalogue.KindRun {
		c.add(true, "proof.test", fmt.Sprintf("%q is no run of this family", c.p.Proof.Test), "name start-attempt, run-load or run-long")
		return
	}
	if _, p := setup.CheckSetup("proof.setup", c.p.Proof.Setup, c.cat.Family(c.family), c.sheet); p != nil {
		c.out = append(c.out, Finding{*p, true})
	}
}

// useless finds steps that are reached and tell nothing on this population.
func (e *Evaluation) useless() (out []Finding) {
	for i, s := range e.Steps {
		if s.Reached > 0 && s.Bits < 1e-4 {
			out = append(out, Finding{problem.Problem{Path: fmt.Sprintf("steps[%d]", i), Problem: fmt.Sprintf("%q separates nothing in this population", s.ID), Mend: "take it out, or put it where something is still open"}, false})
		}
	}
	return out
}

// leastRight is how much of what comes to a conclusion must have what is
// concluded, for the steps before it to be called a proof.
const leastRight = 0.5

// unproved finds conclusions that the steps before them do not bear out: most
// of what comes there has something else.
func (e *Evaluation) unproved(p *plan, groups map[[2]int]map[string]float64) (out []Finding) {
	for i := range p.Steps {
		for k := range p.Steps[i].Outcomes {
			o := &p.Steps[i].Outcomes[k]
			if o.Then != Conclude {
				continue
			}
			right, all := 0.0, 0.0
			for _, f := range faultsOf(e.Hypotheses) {
				m := groups[[2]int{i, k}][f]
				if all += m; o.level(f) != Wrong && (len(o.Faults) == 0 || slices.Contains(o.Faults, f)) {
					right += m
				}
			}
			if all > 1e-4 && right < leastRight*all {
				out = append(out, Finding{problem.Problem{Path: fmt.Sprintf("steps[%d].outcomes[%d]", i, k),
					Problem: fmt.Sprintf("%q concludes without proof: of what comes to it, %.0f %% has that", p.Steps[i].ID, 100*right/all),
					Mend:    "put a step before it that tells the rest apart, or conclude less"}, false})
			}
		}
	}
	return out
}

// faultsOf lists the faults of some hypotheses, each once.
func faultsOf(fates []Fate) (out []string) {
	for _, f := range fates {
		if n := len(out); n == 0 || out[n-1] != f.Fault { // modes stand together
			out = append(out, f.Fault)
		}
	}
	return out
}
