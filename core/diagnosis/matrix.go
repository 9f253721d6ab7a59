package diagnosis

import (
	"context"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/sequencing"
)

// matrixSeverity is how far gone a graded fault is in the model's own matrix.
const matrixSeverity = 0.6

// Matrix is the model's own diagnostic matrix of a family: for a sound machine
// and each single fault, by mode, the most likely outcome of each test on a
// fresh machine, as a master would make it. Priors are base rates, costs minutes
// with the access that a fresh machine needs.
func Matrix(ctx context.Context, family string, sheet catalogue.Sheet, amb machine.Ambient) (*sequencing.Matrix, error) {
	cat := catalogue.Standard()
	m := &sequencing.Matrix{}
	tests := cat.TestsOf(family, sheet)
	fresh, err := bench.NewSession(family, sheet, amb, nil, bench.Options{Technique: bench.Ideal, FuelML: -1})
	if err != nil {
		return nil, err
	}
	for i := range tests {
		t := &tests[i]
		minutes := t.Minutes
		if t.Long {
			minutes = 15
		}
		m.Tests, m.Costs, m.Noisy = append(m.Tests, t.ID), append(m.Costs, minutes+fresh.AccessMinutes(t)), append(m.Noisy, false)
	}
	row := func(id string, prior float64, faults []machine.FaultSpec) error {
		s, err := bench.NewSession(family, sheet, amb, faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
		if err != nil {
			return err
		}
		if err := ctx.Err(); err != nil {
			return err
		}
		cells := make([]string, len(tests))
		for i, t := range tests {
			cells[i] = outcome(s.Clone().Test(t.ID, nil))
		}
		m.Faults, m.Priors, m.Cells, m.Fail = append(m.Faults, id), append(m.Priors, prior), append(m.Cells, cells), append(m.Fail, nil)
		return nil
	}
	rates := 0.0
	for _, f := range cat.FaultsOf(family, sheet) {
		rates += f.Rate(family)
	}
	if err := row("healthy", rates*healthyShare/(1-healthyShare), nil); err != nil {
		return nil, err
	}
	for _, f := range cat.FaultsOf(family, sheet) {
		modes := f.Modes
		if len(modes) == 0 {
			modes = []string{""}
		}
		for _, mode := range modes {
			spec := machine.FaultSpec{ID: f.ID, Severity: 1, Mode: mode}
			if f.Graded {
				spec.Severity = matrixSeverity
			}
			id := f.ID
			if mode != "" {
				id += ":" + mode
			}
			if err := row(id, f.Rate(family)/float64(len(modes)), []machine.FaultSpec{spec}); err != nil {
				return nil, err
			}
		}
	}
	return m, nil
}

// outcome is an observation as one label: its word, or its band.
func outcome(o bench.Observation) string {
	switch {
	case o.Word != nil:
		return *o.Word
	case o.Over():
		return "over-limit"
	case o.Band != nil:
		return *o.Band
	}
	return "read"
}
