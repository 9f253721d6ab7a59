package procedure

import (
	"zanjero/core/diagnosis"
	"zanjero/core/sequencing"
)

// Row is one procedure beside others on the same population.
type Row struct {
	Procedure       string  `json:"procedure"`
	ExpectedMinutes float64 `json:"expected_minutes"`
	WorstMinutes    float64 `json:"worst_minutes"`
	Isolated        float64 `json:"isolated"` // to the part or the reach
	Wrong           float64 `json:"wrong"`
	Lost            float64 `json:"without_an_end"` // dead ends and undetected
}

func (e *Evaluation) row() Row {
	t := e.Totals
	return Row{e.Procedure, t.ExpectedMinutes, t.WorstMinutes, e.isolated(), t.Levels[Wrong], t.Levels[DeadEnd] + t.Levels[Undetected]}
}

// Planned is the planner's order for an engine and a complaint: as a procedure,
// with its cost without noise and how far that can be above the best.
type Planned struct {
	Procedure  *Procedure         `json:"procedure"`
	Bounds     *sequencing.Bounds `json:"bounds"`
	Hypotheses int                `json:"hypotheses"`
}

// Plan orders the tests of an engine for a complaint.
func Plan(j diagnosis.Job, complaint diagnosis.Claim) (*Planned, error) {
	m, err := diagnosis.PlanMatrix(j, complaint)
	if err != nil {
		return nil, err
	}
	plan, err := sequencing.Rollout(m)
	if err != nil {
		return nil, err
	}
	b, err := sequencing.BoundOn(m, plan.ExpectedCost)
	if err != nil {
		return nil, err
	}
	return &Planned{FromPlan(plan, m, j.Family), b, len(m.Faults)}, nil
}

// Beside holds the five schools and the planned order against each other on a
// population.
func (pop *Population) Beside(planned *Planned) []Row {
	var out []Row
	for _, p := range Schools().Expand() {
		out = append(out, pop.Evaluate(&p).row())
	}
	return append(out, pop.Evaluate(planned.Procedure).row())
}
