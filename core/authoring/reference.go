package authoring

import (
	"context"
	"errors"
	"slices"

	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/parallel"
	"zanjero/core/scenario"
)

// Reference is how somebody competent gets on with a job, for others to be held against.
// It may be shared and is not to be changed.
type Reference struct {
	// Path is without noise, on what is really hidden.
	Path    []Step  `json:"path"`
	Minutes float64 `json:"minutes"`
	Money   float64 `json:"money"`
	// TestMinutes are those of the tests alone, without work and proof.
	TestMinutes float64 `json:"test_minutes"`
	// ExpectedMinutes and ExpectedMoney are the same over everything that explains the
	// complaint: who is lucky on this machine is not more skilled by it.
	ExpectedMinutes float64 `json:"expected_minutes"`
	ExpectedMoney   float64 `json:"expected_money"`
	// Solved: the path ends with the complaint gone.
	Solved bool `json:"solved"`
}

// mostExplanations is how many other explanations of a complaint are worked, the likeliest
// first.
const mostExplanations = 24

// Refer has somebody competent work a job, and what else would explain its complaint, by
// the answers of its engine. The error is the context's, or a machine that cannot be.
func Refer(ctx context.Context, sc *scenario.Scenario, a *diagnosis.Answers) (*Reference, error) {
	began, err := Begin(ctx, sc, a)
	if err != nil {
		return nil, err
	}
	policy := newPolicy()
	w, err := work(ctx, sc, began.Clone(), false, 0, policy)
	if err != nil {
		return nil, err
	}
	r := &Reference{Path: w.Path, Minutes: round(w.Minutes, 0.1), Money: round(w.Money, 0.01), Solved: w.Solved}
	for _, st := range w.Path {
		if st.Test != "" && !st.Proof {
			r.TestMinutes = round(r.TestMinutes+st.Minutes, 0.1)
		}
	}
	var others [][]machine.FaultSpec
	var chance []float64
	sum := 0.0
	for _, set := range began.Credible() {
		if len(set.Faults) != 1 || len(others) == mostExplanations {
			continue
		}
		others, chance = append(others, began.Typical(set.Faults)), append(chance, set.P)
		sum += set.P
	}
	took, errs := make([]*Worked, len(others)), make([]error, len(others))
	err = parallel.For(ctx, len(others), func(i int) {
		other := *sc
		other.Faults, other.Distractors = others[i], nil
		took[i], errs[i] = work(ctx, &other, began.Clone(), false, 0, policy)
	})
	if err := errors.Join(append(errs, err)...); err != nil {
		return nil, err
	}
	for i, w := range took {
		r.ExpectedMinutes += chance[i] / sum * w.Minutes
		r.ExpectedMoney += chance[i] / sum * w.Money
	}
	r.ExpectedMinutes, r.ExpectedMoney = round(r.ExpectedMinutes, 0.1), round(r.ExpectedMoney, 0.01)
	return r, nil
}

// Begin is what is believed once the complaint of a job is heard, over single faults and
// the sets that could be made of what is in the machine.
func Begin(ctx context.Context, sc *scenario.Scenario, a *diagnosis.Answers) (*diagnosis.Standing, error) {
	return begin(ctx, sc, a)
}

// SameWork are the faults that the cheapest proper work mends that mends one: who has come
// to that work need not tell them apart.
func SameWork(sc *scenario.Scenario, fault string) []string { return slices.Clone(sameWork(sc, fault)) }
