package main

import (
	"context"
	"fmt"
	"slices"
	"time"

	"zanjero/core/diagnosis"
	"zanjero/core/procedure"
	"zanjero/core/sequencing"
)

var noStart = diagnosis.Claim{Test: "start-attempt", Words: []string{"no-fire", "fires-and-dies"}}

// procedures times a procedure of 25 steps on the whole population: cold, after
// an edit, in another order, and the search for better orders; and a planned
// order for one engine and complaint.
func procedures() []row {
	job := diagnosis.Job{Family: "f4-bowl", Sheet: sheet, Ambient: day}
	p := longOne()
	took := func(f func() error) float64 {
		began := time.Now()
		check(f())
		return float64(time.Since(began).Microseconds()) / 1e3
	}
	var pop *procedure.Population
	fresh := func() {
		var err error
		pop, err = procedure.NewPopulation(context.Background(), job, diagnosis.Claim{})
		check(err)
	}
	fresh()
	cold := took(func() error { _, err := pop.Evaluate(context.Background(), p); return err })
	edited := *p
	edited.Steps = slices.Clone(p.Steps)
	edited.Steps[12].Note += " Edited."
	edited.Steps[12].Outcomes = slices.Clone(p.Steps[12].Outcomes)
	slices.Reverse(edited.Steps[12].Outcomes)
	edit := took(func() error { _, err := pop.Evaluate(context.Background(), &edited); return err })
	other := *p
	other.Steps = slices.Clone(p.Steps)
	other.Steps[10], other.Steps[14] = other.Steps[14], other.Steps[10]
	order := took(func() error { _, err := pop.Evaluate(context.Background(), &other); return err })
	better := took(func() error { _, err := pop.Better(context.Background(), p); return err })
	half := *p
	half.Steps = p.Steps[:12]
	fresh()
	shorter := took(func() error { _, err := pop.Evaluate(context.Background(), &half); return err })
	name := fmt.Sprintf("procedure of %d steps on %d machines: ", len(p.Steps), pop.Size())
	rows := []row{
		{name + "cold", cold, "ms", "≤ 1500", ""}, {name + "an edit", edit, "ms", "≤ 100", ""},
		{name + "another order", order, "ms", "≤ 250", ""}, {name + "better orders", better, "ms", "≤ 5000", ""},
		{"a procedure of 25 steps against its first 12", cold / shorter, "ratio", "about 2", ""},
	}
	planned := took(func() error {
		_, err := procedure.Plan(context.Background(), job, noStart)
		return err
	})
	rows = append(rows, row{"a planned order for one engine and complaint, with its bound", planned, "ms", "≤ 2000", ""})
	m, err := diagnosis.PlanMatrix(context.Background(), job, noStart)
	check(err)
	few := *m
	n := len(m.Faults) / 2
	few.Faults, few.Priors, few.Cells, few.Fail, few.Class = m.Faults[:n], m.Priors[:n], m.Cells[:n], m.Fail[:n], m.Class[:n]
	roll := func(m *sequencing.Matrix) float64 {
		return took(func() error {
			_, err := sequencing.Rollout(context.Background(), m)
			return err
		})
	}
	narrow := *m
	k := len(m.Tests) / 2
	narrow.Tests, narrow.Costs, narrow.Noisy = m.Tests[:k], m.Costs[:k], m.Noisy[:k]
	narrow.Access = &sequencing.Access{Open: m.Access.Open, Close: m.Access.Close, Off: m.Access.Off[:k], On: m.Access.On[:k]}
	narrow.Cells = nil
	for _, c := range m.Cells {
		narrow.Cells = append(narrow.Cells, c[:k])
	}
	whole := roll(m)
	return append(rows,
		row{fmt.Sprintf("rollout on %d rows against half of them", len(m.Faults)), whole / roll(&few), "ratio", "growth in hypotheses", ""},
		row{fmt.Sprintf("rollout on %d tests against half of them", len(m.Tests)), whole / roll(&narrow), "ratio", "growth in tests", ""})
}

// longOne is a procedure of 25 steps on one way, of what the schools' pages ask.
func longOne() *procedure.Procedure {
	p := &procedure.Procedure{ID: "long", Title: "Long", Revision: 1, Families: []string{"f4-bowl"}}
	for _, page := range procedure.Schools().Expand() {
		for _, s := range page.For("f4-bowl", sheet).Steps {
			if len(p.Steps) == 25 || slices.ContainsFunc(p.Steps, func(o procedure.Step) bool { return o.Test == s.Test }) {
				continue
			}
			s.Outcomes = slices.Clone(s.Outcomes)
			for i := range s.Outcomes {
				if o := &s.Outcomes[i]; o.Then != procedure.Conclude {
					*o = procedure.Outcome{Part: o.Part, When: o.When, Then: procedure.Next}
				}
			}
			p.Steps = append(p.Steps, s)
		}
	}
	return p
}
