package procedure

import (
	"context"
	"slices"

	"zanjero/core/diagnosis"
	"zanjero/core/parallel"
	"zanjero/core/sequencing"
)

// Row is one procedure beside others on the same population.
type Row struct {
	Procedure       string  `json:"procedure"`
	ExpectedMinutes float64 `json:"expected_minutes"`
	WorstMinutes    float64 `json:"worst_minutes"`
	Isolated        float64 `json:"isolated"` // to the part or the reach
	// WrongPart is a wrong part of the right path, Wrong something of another path.
	WrongPart float64 `json:"wrong_part"`
	Wrong     float64 `json:"wrong"`
	Lost      float64 `json:"without_an_end"` // dead ends and undetected
}

// Row is the evaluation's line beside others.
func (e *Evaluation) Row() Row {
	t := e.Totals
	return Row{e.Procedure, t.ExpectedMinutes, t.WorstMinutes, e.isolated(), t.Levels[WrongPart], t.Levels[Wrong], t.Levels[DeadEnd] + t.Levels[Undetected]}
}

// Planned is the planner's order for an engine and a complaint: as a procedure,
// with its cost without noise and how far that can be above the best.
type Planned struct {
	Procedure  *Procedure         `json:"procedure"`
	Bounds     *sequencing.Bounds `json:"bounds"`
	Hypotheses int                `json:"hypotheses"`
}

// Plan orders the tests of an engine for a complaint.
func Plan(ctx context.Context, j diagnosis.Job, complaint diagnosis.Claim) (*Planned, error) {
	m, err := diagnosis.PlanMatrix(ctx, j, complaint)
	if err != nil {
		return nil, err
	}
	if err := parallel.Pause(ctx); err != nil {
		return nil, err
	}
	plan, err := sequencing.Rollout(ctx, m)
	if err != nil {
		return nil, err
	}
	if err := parallel.Pause(ctx); err != nil {
		return nil, err
	}
	b, err := sequencing.BoundOn(ctx, m, plan.ExpectedCost)
	if err != nil {
		return nil, err
	}
	return &Planned{FromPlan(plan, m, j.Family), b, len(m.Faults)}, nil
}

// Beside holds the schools' pages for a complaint and the planned order against each
// other on a population.
func (pop *Population) Beside(ctx context.Context, planned *Planned, complaint string) ([]Row, error) {
	var out []Row
	for _, p := range append(Schools().Expand(), *planned.Procedure) {
		if p.School != "" && (p.Complaint != complaint || !slices.Contains(p.Families, pop.family)) {
			continue
		}
		if err := parallel.Pause(ctx); err != nil {
			return nil, err
		}
		e, err := pop.Evaluate(ctx, &p)
		if err != nil {
			return nil, err
		}
		out = append(out, e.Row())
	}
	return out, nil
}
