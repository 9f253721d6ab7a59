package diagnosis

import (
	"cmp"
	"context"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/parallel"
	"zanjero/core/sequencing"
	"zanjero/core/setup"
)

// planMass is the share of the prior mass that a plan is made for; what is
// rarer is left to chance.
const planMass = 0.995

// PlanMatrix is the diagnostic matrix of one engine and complaint: sound and
// every single fault, by mode, slight, middling and bad, with the likeliest
// outcome of each test on a fresh machine. What is to be known is the fault,
// not how bad it is. Costs are the tests' own minutes; covers stay off once
// they are off, and an engine is whole before it is run.
func PlanMatrix(ctx context.Context, j Job, c Claim) (*sequencing.Matrix, error) {
	pop, err := NewPopulation(ctx, j, nil)
	if err != nil {
		return nil, err
	}
	tests := j.Figures().TestsOf(j.Family, j.Sheet)
	m := &sequencing.Matrix{}
	var all []*catalogue.Test
	for i := range tests {
		t := &tests[i]
		minutes := t.Minutes
		if t.Long {
			minutes = longMinutes
		}
		all = append(all, t)
		m.Tests, m.Costs, m.Noisy = append(m.Tests, t.ID), append(m.Costs, minutes), append(m.Noisy, false)
	}
	m.Access = AccessTo(j.Figures(), j.Family, all)
	rows := planRows(pop.Specimens(c))
	slices.SortStableFunc(rows, func(a, b planRow) int {
		return cmp.Compare(b.weight, a.weight)
	})
	held := 0.0
	for _, r := range rows {
		if held >= planMass {
			break
		}
		held += r.weight
		class := r.fault
		if class == "" {
			class = "healthy"
		}
		m.Faults, m.Class, m.Priors = append(m.Faults, r.name), append(m.Class, class), append(m.Priors, r.weight)
		m.Fail = append(m.Fail, nil)
	}
	m.Cells = make([][]string, len(m.Faults))
	err = parallel.For(ctx, len(m.Cells), func(i int) {
		m.Cells[i] = make([]string, len(tests))
		for k := range tests {
			m.Cells[i][k] = likeliest(rows[i].bench, j.Sheet, &tests[k])
		}
	})
	return m, err
}

// AccessTo is what some tests of a family need off and on by a catalogue, as planning sees it:
// an engine is whole before it is run.
func AccessTo(cat *catalogue.Catalogue, family string, tests []*catalogue.Test) *sequencing.Access {
	covers := cat.Family(family).Covers
	out := &sequencing.Access{}
	for _, id := range covers {
		out.Open, out.Close = append(out.Open, cat.Cover(id).OpenMinutes), append(out.Close, cat.Cover(id).CloseMinutes)
	}
	for _, t := range tests {
		needs, not := setup.AccessOf(t)
		var off, on uint64
		for k, id := range covers {
			switch {
			case slices.Contains(needs, id):
				off |= 1 << k
			case slices.Contains(not, id) || t.Kind == catalogue.KindRun:
				on |= 1 << k
			}
		}
		out.Off, out.On = append(out.Off, off), append(out.On, on)
	}
	return out
}

type planRow struct {
	name, fault string
	weight      float64
	bench       *bench.Session
}

// planRows lets three nodes of each hypothesis stand for the rest: the middle one of
// each third of its weight.
func planRows(all []Specimen) (rows []planRow) {
	for from := 0; from < len(all); {
		to := from + 1
		for to < len(all) && all[to].Fault.ID == all[from].Fault.ID && all[to].Fault.Mode == all[from].Fault.Mode {
			to++
		}
		f := all[from].Fault
		name := f.ID
		if name == "" {
			name = "healthy"
		}
		if f.Mode != "" {
			name += ":" + f.Mode
		}
		if to-from == 1 {
			rows = append(rows, planRow{name, f.ID, all[from].Weight, all[from].Bench})
		} else {
			for _, third := range thirds(all[from:to]) {
				r := planRow{fault: f.ID}
				for _, s := range third {
					r.weight += s.Weight
				}
				half := r.weight / 2
				at := slices.IndexFunc(third, func(s Specimen) bool { half -= s.Weight; return half <= 0 })
				mid := third[max(at, 0)]
				r.name, r.bench = name+"@"+number(mid.Fault.Severity), mid.Bench
				rows = append(rows, r)
			}
		}
		from = to
	}
	return rows
}

// thirds parts specimens, slight to bad, into at most three of about the same weight.
func thirds(all []Specimen) (out [][]Specimen) {
	sum, held, last := 0.0, 0.0, -1
	for _, s := range all {
		sum += s.Weight
	}
	for _, s := range all {
		k := min(int(3*(held+s.Weight/2)/sum), 2)
		if held += s.Weight; k != last {
			out = append(out, nil)
			last = k
		}
		out[len(out)-1] = append(out[len(out)-1], s)
	}
	return out
}

// likeliest is the likeliest outcome of a test as one label: its word, or its
// band.
func likeliest(s *bench.Session, sheet catalogue.Sheet, t *catalogue.Test) string {
	best, label := 0.0, ""
	for _, b := range foresee.Test(s, t.ID, nil, false) {
		if t.Kind == catalogue.KindNumber {
			f, judged := sheet[t.Figure]
			switch {
			case b.Seen.Over:
				return "over-limit"
			case judged:
				return f.Judge(b.Seen.Value)
			}
			return "read"
		}
		for _, w := range b.Seen.Words {
			if b.P*w.P > best {
				best, label = b.P*w.P, w.Word
			}
		}
	}
	return label
}
