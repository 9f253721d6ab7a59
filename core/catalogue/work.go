package catalogue

import (
	"fmt"
	"slices"
	"strings"
	"zanjero/core/problem"
)

// CheckRepair refuses work or a reach that is not known.
func CheckRepair(path, act, reach string, fam *Family) *problem.Problem {
	cat := Standard()
	if cat.RepairAct(act) == nil {
		var ids []string
		for _, a := range cat.Repairs.Acts {
			ids = append(ids, a.ID)
		}
		return problem.New(path+".repair", fmt.Sprintf("there is no repair %q", act), "write one of "+strings.Join(ids, ", "))
	}
	if a := cat.RepairAct(act); a.Improvised() && a.Reach != reach {
		return problem.New(path+".reach", fmt.Sprintf("%q is done at %s", act, a.Reach), "name that reach")
	} else if !a.On(fam.ID, reach) {
		return problem.New(path+".repair", fmt.Sprintf("%q is not done on %s", act, fam.ID), "do other work")
	}
	if !slices.ContainsFunc(cat.ReachesOf(fam.ID), func(r Reach) bool { return r.ID == reach }) {
		return problem.New(path+".reach", fmt.Sprintf("%s has no reach %q", fam.ID, reach), "write the id of one of its reaches")
	}
	return nil
}

// CheckCover refuses a cover that the family has not.
func CheckCover(path, id string, fam *Family) *problem.Problem {
	if !slices.Contains(fam.Covers, id) {
		return problem.New(path, fmt.Sprintf("%s has no cover %q", fam.ID, id), "use one of "+strings.Join(fam.Covers, ", "))
	}
	return nil
}

// CheckAction refuses an action that is not known or that the family lacks.
func CheckAction(path, id string, fam *Family) *problem.Problem {
	var ids []string
	for _, a := range Standard().ActionsOf(fam.ID) {
		ids = append(ids, a.ID)
	}
	if !slices.Contains(ids, id) {
		return &problem.Problem{Path: path, Problem: fmt.Sprintf("%s has no action %q", fam.ID, id), Mend: "use one of " + strings.Join(ids, ", ")}
	}
	return nil
}
