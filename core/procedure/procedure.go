// Package procedure holds ordered diagnostic procedures: their form, the checks
// of their structure, and what they cost and find on a population of machines,
// worked out on the machine model.
package procedure

import (
	"cmp"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/setup"
)

// Format and Version of packs that this program writes and reads.
const (
	Format  = "zanjero.pack"
	Version = 1
)

// Pack is a set of procedures in an open form (api/pack.schema.json). Steps
// that several procedures share stand once in Steps, by id.
type Pack struct {
	Format     string          `json:"format"`
	Version    int             `json:"version"`
	Name       string          `json:"name"`
	Steps      map[string]Step `json:"steps,omitempty"`
	Procedures []Procedure     `json:"procedures"`
}

// Procedure is an ordered list of steps. One that names several families is
// written for all of them; a step that names families is left out on others.
type Procedure struct {
	ID       string `json:"id"`
	Title    string `json:"title"`
	Revision int    `json:"revision"`
	// School is the way of teaching it belongs to; About says what it is good at.
	School   string   `json:"school,omitempty"`
	About    string   `json:"about,omitempty"`
	Families []string `json:"families"`
	// Complaint is the owner's complaint that it is written for; empty for any.
	Complaint string `json:"complaint,omitempty"`
	Steps     []Step `json:"steps"`
	// Proof is the run that proves a repair under the owner's complaint.
	Proof *Proof `json:"proof,omitempty"`
}

// Step is a test, or work and a test after it, and where each outcome leads.
type Step struct {
	// Use takes a step of the pack's by its id; what else stands here replaces
	// that of the shared step.
	Use string `json:"use,omitempty"`
	ID  string `json:"id,omitempty"`
	// Section is the part of the procedure that the step belongs to: "leave"
	// goes on behind its last step.
	Section  string   `json:"section,omitempty"`
	Families []string `json:"families,omitempty"`
	Test     string   `json:"test,omitempty"`
	// Setup is to be taught; what is not named is as a master would have it.
	Setup setup.Settings `json:"setup,omitempty"`
	// Repair at a reach comes before the test, which is then made again.
	Repair      string    `json:"repair,omitempty"`
	Reach       string    `json:"reach,omitempty"`
	Precautions []string  `json:"precautions,omitempty"`
	Note        string    `json:"note,omitempty"`
	Outcomes    []Outcome `json:"outcomes,omitempty"`
}

// Ways on from an outcome.
const (
	Next     = "next"     // the following step
	Leave    = "leave"    // the first step behind this section
	Goto     = "goto"     // the step that is named
	ToPart   = "section"  // the first step of the section that is named, further on; the following step where it has none
	Conclude = "conclude" // the faults, or the reach or lateral, are found
	Stop     = "stop"     // refer it on, or give it back; Why says so
)

// Judgements of a number against the sheet, and the outcome of all that is not
// named.
const (
	Below     = "below"
	Within    = "within"
	Above     = "above"
	OverLimit = "over-limit"
	Otherwise = "otherwise"
)

// Outcome is what a test says and where that leads. A number is told by the
// sheet's band, or by From (included) and To (not included) in the test's unit. Of
// outcomes that speak of several parts of a reading the first that fits counts.
type Outcome struct {
	// Part is the part of the reading that is spoken of; empty for the first.
	Part    string   `json:"part,omitempty"`
	When    []string `json:"when,omitempty"`
	From    *float64 `json:"from,omitempty"`
	To      *float64 `json:"to,omitempty"`
	Then    string   `json:"then"`
	Step    string   `json:"step,omitempty"`
	Section string   `json:"section,omitempty"`
	Faults  []string `json:"faults,omitempty"`
	Reach   string   `json:"reach,omitempty"`
	Lateral string   `json:"lateral,omitempty"`
	Why     string   `json:"why,omitempty"`
}

// Proof is a run under a set-up.
type Proof struct {
	Test  string         `json:"test"`
	Setup setup.Settings `json:"setup,omitempty"`
	Note  string         `json:"note,omitempty"`
}

// Expand gives a pack's procedures with the shared steps written out.
func (p *Pack) Expand() []Procedure {
	out := make([]Procedure, len(p.Procedures))
	for i, proc := range p.Procedures {
		out[i] = proc
		out[i].Steps = nil
		for _, st := range proc.Steps {
			if shared, ok := p.Steps[st.Use]; ok && st.Use != "" {
				st = shared.with(st)
			}
			out[i].Steps = append(out[i].Steps, st)
		}
	}
	return out
}

// with lays what a step says itself over a shared one.
func (shared Step) with(own Step) Step {
	out := shared
	out.ID = cmp.Or(own.ID, shared.ID, own.Use)
	out.Section = cmp.Or(own.Section, shared.Section)
	out.Test = cmp.Or(own.Test, shared.Test)
	out.Repair, out.Reach = cmp.Or(own.Repair, shared.Repair), cmp.Or(own.Reach, shared.Reach)
	out.Note = cmp.Or(own.Note, shared.Note)
	if own.Families != nil {
		out.Families = own.Families
	}
	if own.Setup != nil {
		out.Setup = own.Setup
	}
	if own.Precautions != nil {
		out.Precautions = own.Precautions
	}
	if own.Outcomes != nil {
		out.Outcomes = own.Outcomes
	}
	out.Use = ""
	return out
}

// For gives the procedure as it is on one family: its steps alone, and of the
// faults concluded those that the family has. A procedure for several families
// also leaves out the tests that this one cannot have, and outcomes that would
// conclude nothing on it.
func (p *Procedure) For(family string, sheet catalogue.Sheet) *Procedure {
	cat := catalogue.Standard()
	has := cat.FaultsOf(family, sheet)
	several := len(p.Families) > 1
	out := *p
	out.Families, out.Steps = []string{family}, nil
	for _, st := range p.Steps {
		if len(st.Families) > 0 && !slices.Contains(st.Families, family) {
			continue
		}
		if several && cat.Test(st.Test) != nil && cat.TestFor(family, sheet, st.Test) == nil {
			continue
		}
		st.Families = nil
		var outcomes []Outcome
		for _, o := range st.Outcomes {
			if t := cat.TestFor(family, sheet, st.Test); several && t != nil {
				if _, has := o.side(t); !has {
					continue
				}
			}
			named := len(o.Faults)
			o.Faults = slices.DeleteFunc(slices.Clone(o.Faults), func(id string) bool {
				return cat.Fault(id) != nil && !slices.ContainsFunc(has, func(f catalogue.Fault) bool { return f.ID == id })
			})
			if several && named > 0 && len(o.Faults) == 0 && o.Reach == "" && o.Lateral == "" {
				continue
			}
			outcomes = append(outcomes, o)
		}
		st.Outcomes = outcomes
		out.Steps = append(out.Steps, st)
	}
	return &out
}

// After gives the index of the step that an outcome of step i leads to, len
// for the end, or −1 when it ends there or leads nowhere.
func (p *Procedure) After(i int, o *Outcome) int {
	switch o.Then {
	case Next:
		return i + 1
	case Leave:
		for k := i + 1; k < len(p.Steps); k++ {
			if p.Steps[k].Section != p.Steps[i].Section {
				return k
			}
		}
		return len(p.Steps)
	case ToPart:
		for k := i + 1; k < len(p.Steps); k++ {
			if p.Steps[k].Section == o.Section {
				return k
			}
		}
		return i + 1
	case Goto:
		return slices.IndexFunc(p.Steps, func(s Step) bool { return s.ID == o.Step })
	}
	return -1
}
