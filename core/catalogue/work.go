package catalogue

import (
	"slices"
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
		return problem.New(path+".repair", "catalogue.no-repair", "act", act, "ids", ids)
	}
	if a := cat.RepairAct(act); a.Improvised() && a.Reach != reach {
		return problem.New(path+".reach", "catalogue.done-elsewhere", "act", act, "reach", a.Reach)
	} else if !a.On(fam.ID, reach) {
		return problem.New(path+".repair", "catalogue.not-done-on", "act", act, "family", fam.ID)
	}
	if !slices.ContainsFunc(cat.ReachesOf(fam.ID), func(r Reach) bool { return r.ID == reach }) {
		return problem.New(path+".reach", "catalogue.no-reach", "family", fam.ID, "reach", reach)
	}
	return nil
}

// CheckCover refuses a cover that the family has not.
func CheckCover(path, id string, fam *Family) *problem.Problem {
	if !slices.Contains(fam.Covers, id) {
		return problem.New(path, "catalogue.no-cover", "family", fam.ID, "id", id, "covers", fam.Covers)
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
		return problem.New(path, "catalogue.no-action", "family", fam.ID, "id", id, "ids", ids)
	}
	return nil
}
