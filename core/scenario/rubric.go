package scenario

import "zanjero/core/problem"

// Rubric says what the sections of the marks are worth, and how much of all of it is
// competent.
type Rubric struct {
	Readings   float64 `json:"readings"`
	Conclusion float64 `json:"conclusion"`
	Economy    float64 `json:"economy"`
	Order      float64 `json:"order"`
	Safety     float64 `json:"safety"`
	Proof      float64 `json:"proof"`
	// Threshold is of a hundred.
	Threshold float64 `json:"threshold"`
}

// UsualRubric stands where a job says nothing else.
var UsualRubric = Rubric{Readings: 20, Conclusion: 35, Economy: 10, Order: 10, Safety: 15, Proof: 10, Threshold: 60}

// Weights are what the sections are worth on this job.
func (s *Scenario) Weights() Rubric {
	if s.Rubric != nil {
		return *s.Rubric
	}
	return UsualRubric
}

// Check refuses weights that cannot be: below 0 or over 100, with a sum of nothing, or a
// threshold outside 0 to 100.
func (r *Rubric) Check(path string) *problem.Problem {
	sum := 0.0
	for _, w := range []float64{r.Readings, r.Conclusion, r.Economy, r.Order, r.Safety, r.Proof} {
		if !(w >= 0 && w <= 100) {
			return problem.New(path, "scenario.rubric-weight", "value", w)
		}
		sum += w
	}
	switch {
	case sum == 0:
		return problem.New(path, "scenario.rubric-of-nothing")
	case !(r.Threshold >= 0 && r.Threshold <= 100):
		return problem.New(path+".threshold", "scenario.rubric-weight", "value", r.Threshold)
	}
	return nil
}
