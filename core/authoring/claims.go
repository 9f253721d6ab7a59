package authoring

import (
	"fmt"
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/foresee"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
)

// Claimed is what the machine itself says of a scenario's complaint.
type Claimed struct {
	Problems  []problem.Problem
	Complaint Truth
	Proof     Proof
}

// Claims asks the machine whether it does what is complained of, and whether each fault and
// each distractor has the part in it that the scenario gives it. It is quick.
func Claims(sc *scenario.Scenario) (*Claimed, error) {
	out := &Claimed{Problems: []problem.Problem{}}
	share, err := sc.Truth()
	if err != nil {
		return nil, err
	}
	out.Complaint = Truth{share >= isTrue, round(share, 1e-4)}
	c := sc.Complaint()
	ses, err := master(sc)
	if err != nil {
		return nil, err
	}
	out.Proof = Proof{c.Claim.Test, round(ses.TestOf(c.Claim.Test).Minutes, 0.1)}
	if m := sc.ProofMinutes(); m > 0 {
		out.Proof.Minutes = m
	}
	if !out.Complaint.True {
		p, err := untrue(sc, foresee.Start(ses))
		if err != nil {
			return nil, err
		}
		out.Problems = append(out.Problems, *p)
		return out, nil
	}
	parts, err := parts(sc)
	out.Problems = append(out.Problems, parts...)
	return out, err
}

// untrue says what a machine does in place of what is complained of, and what would make it
// true: another severity, or another complaint.
func untrue(sc *scenario.Scenario, shows string) (*problem.Problem, error) {
	if fault, severity, err := severityFor(sc); err != nil {
		return nil, err
	} else if fault != "" {
		return problem.New("complaint", "scenario.complaint-not-so-but-at", "shows", "@word."+shows, "fault", fault, "percent", math.Round(100*severity)), nil
	}
	if others, err := Symptoms(sc); err != nil {
		return nil, err
	} else if len(others) > 0 {
		return problem.New("complaint", "scenario.complaint-not-so-but-is", "shows", "@word."+shows, "complaint", "@complaint."+others[0]+".name"), nil
	}
	return problem.New("complaint", "scenario.complaint-not-so", "shows", "@word."+shows), nil
}

// severitySteps is how finely severities are tried.
const severitySteps = 20

// severityFor looks for the severity of one of the faults, nearest to what it is, at which
// the complaint is true; "" for none.
func severityFor(sc *scenario.Scenario) (fault string, severity float64, err error) {
	least := math.Inf(1)
	for i, f := range sc.Faults {
		if !catalogue.Standard().Fault(f.ID).Graded {
			continue
		}
		for k := 1; k <= severitySteps; k++ {
			s := float64(k) / severitySteps
			if off := math.Abs(s - f.Severity); off < least {
				p, err := sc.TruthOf(sc.Claim, with(sc.Inside(), i, s))
				if err != nil {
					return "", 0, err
				}
				if p >= isTrue {
					least, fault, severity = off, f.ID, s
				}
			}
		}
	}
	return fault, severity, nil
}

// with gives faults with the severity of one changed.
func with(faults []machine.FaultSpec, i int, severity float64) []machine.FaultSpec {
	out := slices.Clone(faults)
	out[i].Severity = severity
	return out
}

// Symptoms are the complaints that are true of a scenario's machine, the surest first.
func Symptoms(sc *scenario.Scenario) ([]string, error) {
	ses, err := master(sc)
	if err != nil {
		return nil, err
	}
	type so struct {
		id string
		p  float64
	}
	var all []so
	for _, c := range diagnosis.ComplaintsOf(sc.Family, sc.Sheet) {
		if p := c.Claim.Of(ses); p >= isTrue {
			all = append(all, so{c.ID, p})
		}
	}
	slices.SortStableFunc(all, func(a, b so) int { return -cmpFloat(a.p, b.p) })
	var out []string
	for _, x := range all {
		out = append(out, x.id)
	}
	return out, nil
}

func cmpFloat(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// littleChange is by how much a chance must move to have moved.
const littleChange = 0.25

// parts holds the part that each defect has in the complaint against what the scenario says
// of it: a distractor does not bring it, and takes nothing from it; and each fault, where
// there are several, has its part in it.
func parts(sc *scenario.Scenario) (out []problem.Problem, err error) {
	only := func(faults []machine.FaultSpec) float64 {
		p := 0.0
		if err == nil {
			p, err = sc.TruthOf(sc.Claim, faults)
		}
		return p
	}
	if len(sc.Distractors) > 0 {
		if only(sc.Faults) < isTrue {
			out = append(out, *problem.New("distractors", "scenario.distractors-bring-it"))
		} else if only(sc.Distractors) >= isTrue {
			out = append(out, *problem.New("distractors", "scenario.distractors-alone-bring-it"))
		}
	}
	if len(sc.Faults) < 2 {
		return out, err
	}
	for i, f := range sc.Faults {
		rest := slices.Delete(slices.Clone(sc.Faults), i, i+1)
		without := append(slices.Clone(rest), sc.Distractors...)
		// With the others mended, does this one still keep it from running well?
		if alone := only([]machine.FaultSpec{f}); alone < littleChange && only(without) >= isTrue && sound(sc, f, &err) {
			out = append(out, *problem.New(fmt.Sprintf("faults[%d]", i), "scenario.fault-has-no-part", "fault", f.ID))
		}
	}
	return out, err
}

// sound says that a machine with one fault alone would pass the proof.
func sound(sc *scenario.Scenario, f machine.FaultSpec, failed *error) bool {
	alone := *sc
	alone.Faults, alone.Distractors = []machine.FaultSpec{f}, nil
	ses, err := alone.Master(false, 0)
	if err != nil {
		*failed = err
		return false
	}
	c := sc.Complaint()
	o := ses.Test(c.Claim.Test, c.Claim.Setup)
	return !alone.Bad(&o)
}
