package procedure

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/problem"
	"zanjero/core/setup"
)

// Remark is something wrong with a procedure, or worth a second look: where it
// is, what, and how to mend it. A serious one keeps it from being followed.
type Remark struct {
	problem.Problem
	Serious bool `json:"serious"`
}

// checker gathers findings.
type checker struct {
	p      *Procedure
	family string
	sheet  catalogue.Sheet
	cat    *catalogue.Catalogue
	out    []Remark
}

func (c *checker) add(serious bool, path, code string, pairs ...any) {
	c.out = append(c.out, Remark{*problem.New(path, code, pairs...), serious})
}

// MaxSteps is the most steps of a procedure, and MaxOutcomes of a step.
const (
	MaxSteps    = 120
	MaxOutcomes = 24
)

// Check looks a procedure over as it is on one family: its form first, and if
// that holds, its structure.
func (p *Procedure) Check(family string, sheet catalogue.Sheet) []Remark {
	c := &checker{p: p.For(family, sheet), family: family, sheet: sheet, cat: catalogue.Standard()}
	if c.cat.Family(family) == nil {
		c.add(true, "families", "procedure.no-engine-family", "family", family)
		return c.out
	}
	if p.Complaint != "" && diagnosis.ComplaintBy(p.Complaint) == nil {
		c.add(true, "complaint", "procedure.no-complaint", "complaint", p.Complaint)
	}
	c.form()
	if !slices.ContainsFunc(c.out, func(f Remark) bool { return f.Serious }) {
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
		c.add(true, "steps", "procedure.no-step-family")
	case n > MaxSteps:
		c.add(true, "steps", "procedure.steps-too-many", "count", n, "most", MaxSteps)
	}
	seen := map[string]bool{}
	for i := range c.p.Steps {
		s := &c.p.Steps[i]
		path := fmt.Sprintf("steps[%d]", i)
		if s.Use != "" {
			c.add(true, path+".use", "procedure.pack-no-shared-step", "id", s.Use)
			continue
		}
		if s.ID == "" {
			c.add(true, path+".id", "procedure.step-no-id")
		} else if seen[s.ID] {
			c.add(true, path+".id", "procedure.second-step-called", "id", s.ID)
		}
		seen[s.ID] = true
		if s.Test == "" {
			c.add(true, path+".test", "procedure.step-empty-makes-no-test")
			continue
		}
		t := c.cat.TestFor(c.family, c.sheet, s.Test)
		if t == nil {
			c.add(true, path+".test", "procedure.cannot-test", "family", c.family, "test", s.Test)
			continue
		}
		fam := c.cat.Family(c.family)
		if lacking, p := setup.CheckSetup(path+".setup", s.Setup, fam, c.sheet); p != nil {
			c.out = append(c.out, Remark{*p, true})
		} else if len(lacking) > 0 {
			c.add(false, path+".setup", "procedure.family-lacks-controls", "lacking", lacking)
		}
		if s.Repair != "" {
			if p := catalogue.CheckRepair(path, s.Repair, s.Reach, fam); p != nil {
				c.out = append(c.out, Remark{*p, true})
			}
		}
		for k, id := range s.Precautions {
			if p := catalogue.CheckAction(fmt.Sprintf("%s.precautions[%d]", path, k), id, fam); p != nil {
				c.out = append(c.out, Remark{*p, true})
			}
		}
		c.outcomes(path, s, t)
	}
}

// outcomes checks what a step makes of what its test says.
func (c *checker) outcomes(path string, s *Step, t *catalogue.Test) {
	if len(s.Outcomes) == 0 || len(s.Outcomes) > MaxOutcomes {
		c.add(true, path+".outcomes", "procedure.too-many-or-no-outcomes", "count", len(s.Outcomes), "most", MaxOutcomes)
		return
	}
	anyway := false
	named := map[string]bool{} // part and word
	spans := map[string][][2]float64{}
	for k := range s.Outcomes {
		o := &s.Outcomes[k]
		at := fmt.Sprintf("%s.outcomes[%d]", path, k)
		d, has := o.side(t)
		if !has {
			var parts []string
			for _, p := range t.Parts {
				parts = append(parts, p.ID)
			}
			c.add(true, at+".part", "procedure.no-part", "test", t.ID, "part", o.Part, "parts", parts)
			continue
		}
		known := append(slices.Clone(d.words), Otherwise)
		if d.number {
			known = []string{Below, Within, Above, OverLimit, Otherwise}
		}
		if len(o.When) == 0 && o.From == nil && o.To == nil {
			c.add(true, at+".when", "procedure.not-said-when-so")
		}
		if (o.From != nil || o.To != nil) && !d.number {
			c.add(true, at+".from", "procedure.gives-word-not-number", "test", t.ID)
		}
		if o.From != nil && o.To != nil && *o.From >= *o.To {
			c.add(true, at+".from", "procedure.band-from-empty", "from", *o.From, "to", *o.To)
		}
		for _, w := range o.When {
			switch {
			case !slices.Contains(known, w):
				c.add(true, at+".when", "procedure.never-says", "test", t.ID, "word", w, "known", known)
			case named[d.id+" "+w]:
				c.add(true, at+".when", "procedure.leads-two-ways", "word", w)
			case d.number && (w == Below || w == Within || w == Above) && d.figure == "":
				c.add(true, at+".when", "procedure.sheet-no-figure", "test", t.ID, "unit", d.unit)
			}
			named[d.id+" "+w] = true
			anyway = anyway || w == Otherwise
		}
		for _, span := range o.spans(&d, c.sheet) {
			for _, other := range spans[d.id] {
				if span[0] < other[1] && other[0] < span[1] {
					c.add(true, at, "procedure.band-overlaps-another-step")
				}
			}
			spans[d.id] = append(spans[d.id], span)
			c.against(at, s, o, &d)
		}
		c.way(at, o)
	}
	if anyway {
		return
	}
	if t.Kind != catalogue.KindNumber {
		var missing []string
		for _, w := range t.Words {
			if !named[" "+w] {
				missing = append(missing, w)
			}
		}
		if len(missing) > 0 {
			c.add(false, path+".outcomes", "procedure.without-way-on", "missing", missing)
		}
		return
	}
	if low, high, gap := firstGap(spans[""]); gap {
		switch {
		case low == negInf:
			c.add(false, path+".outcomes", "procedure.no-way-on-below", "high", high)
		case high == posInf:
			c.add(false, path+".outcomes", "procedure.no-way-on-above", "low", low)
		default:
			c.add(false, path+".outcomes", "procedure.no-way-on-between", "low", low, "high", high)
		}
	}
}

// firstGap says where some spans leave the number line uncovered, if anywhere.
func firstGap(spans [][2]float64) (low, high float64, gap bool) {
	slices.SortFunc(spans, func(a, b [2]float64) int {
		if a[0] < b[0] {
			return -1
		}
		return 1
	})
	upTo := negInf
	for _, s := range spans {
		if s[0] > upTo {
			return upTo, s[0], true
		}
		upTo = max(upTo, s[1])
	}
	return upTo, posInf, upTo < posInf
}

// against says where an explicit band calls a reading good that the sheet calls
// bad, or the other way about.
func (c *checker) against(at string, s *Step, o *Outcome, d *side) {
	f, judged := c.sheet[d.figure]
	if !judged || (o.From == nil && o.To == nil) {
		return
	}
	span := o.spans(d, c.sheet)
	inBand := span[len(span)-1][0] < f.High && span[len(span)-1][1] > f.Low
	if o.Then == Conclude && inBand && !s.hasRepair() {
		c.add(false, at+".from", "procedure.condemns-readings-sheet-passes", "low", f.Low, "high", f.High, "unit", f.Unit)
	}
}

func (s *Step) hasRepair() bool { return s.Repair != "" }

// way checks where an outcome leads.
func (c *checker) way(at string, o *Outcome) {
	switch o.Then {
	case Next, Leave:
	case ToPart:
		if o.Section == "" {
			c.add(true, at+".section", "procedure.no-section")
		}
	case Goto:
		if !slices.ContainsFunc(c.p.Steps, func(s Step) bool { return s.ID == o.Step }) {
			c.add(true, at+".step", "procedure.jumps-which-nowhere-on-family", "step", o.Step)
		}
	case Stop:
		if strings.TrimSpace(o.Why) == "" {
			c.add(false, at+".why", "procedure.stops-without-saying-why")
		}
	case Conclude:
		for _, id := range o.Faults {
			if c.cat.Fault(id) == nil {
				c.add(true, at+".faults", "procedure.no-fault", "id", id)
			}
		}
		reachOK := o.Reach == "" || slices.ContainsFunc(c.cat.ReachesOf(c.family), func(r catalogue.Reach) bool { return r.ID == o.Reach })
		lateralOK := o.Lateral == "" || slices.ContainsFunc(c.cat.Laterals, func(l catalogue.Lateral) bool { return l.ID == o.Lateral })
		switch {
		case !reachOK || !lateralOK:
			c.add(true, at, "procedure.concludes-reach-or-lateral-family-not")
		case len(o.Faults) == 0 && o.Reach == "" && o.Lateral == "":
			c.add(false, at+".faults", "procedure.nothing-concluded-family-can")
		}
	default:
		c.add(true, at+".then", "procedure.no-way", "then", o.Then)
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
			visit(c.p.After(i, &c.p.Steps[i].Outcomes[k]))
		}
		onWay[i] = false
	}
	visit(0)
	for i := range n {
		if !reached[i] {
			c.add(false, fmt.Sprintf("steps[%d]", i), "procedure.nothing-leads", "id", c.p.Steps[i].ID)
		}
		if loops[i] {
			c.add(true, fmt.Sprintf("steps[%d]", i), "procedure.way-comes-round-again-can-go-on", "id", c.p.Steps[i].ID)
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
				c.add(false, path, "procedure.cover-comes-off-again", "cover", id, "test", t.ID)
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
			code := "procedure.precaution-missing"
			if later[id] > i {
				code = "procedure.precaution-comes-later"
			}
			c.add(false, path+".precautions", code, "action", id)
			taken[id] = i // said once
		}
	}
}

// proofs finds a procedure that proves nothing at the end.
func (c *checker) proofs() {
	if c.p.Proof == nil {
		c.add(false, "proof", "procedure.no-proof-run")
		return
	}
	t := c.cat.TestFor(c.family, c.sheet, c.p.Proof.Test)
	if t == nil || t.Kind != catalogue.KindRun {
		c.add(true, "proof.test", "procedure.no-run-family", "test", c.p.Proof.Test)
		return
	}
	if _, p := setup.CheckSetup("proof.setup", c.p.Proof.Setup, c.cat.Family(c.family), c.sheet); p != nil {
		c.out = append(c.out, Remark{*p, true})
	}
}

// useless finds steps that are reached and tell nothing on this population.
func (e *Evaluation) useless() (out []Remark) {
	for i, s := range e.Steps {
		if s.Reached > 0 && s.Bits < 1e-4 {
			out = append(out, Remark{*problem.New(fmt.Sprintf("steps[%d]", i), "procedure.separates-nothing-population", "id", s.ID), false})
		}
	}
	return out
}

// leastRight is how much of what comes to a conclusion must have what is
// concluded, for the steps before it to be called a proof.
const leastRight = 0.5

// unproved finds conclusions that the steps before them do not bear out: most
// of what comes there has something else.
func (e *Evaluation) unproved(p *plan, groups map[[2]int]map[string]float64) (out []Remark) {
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
				out = append(out, Remark{*problem.New(fmt.Sprintf("steps[%d].outcomes[%d]", i, k), "procedure.concludes-without-proof-what-comes", "id",
					p.Steps[i].ID, "percent", math.Round(100*right/all)), false})
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
