package diagnosis

import (
	"cmp"
	"slices"

	"zanjero/core/catalogue"
)

// RepairGroup is a kind of work at a reach, the faults of a belief that it
// mends, and how likely it alone would make the engine whole, were the work to
// take.
type RepairGroup struct {
	Repair  string   `json:"repair"`
	Reach   string   `json:"reach"`
	Faults  []string `json:"faults"`
	P       float64  `json:"p"`
	Minutes float64  `json:"minutes"`
	Cost    float64  `json:"cost"`
}

// mostRepairs is how many kinds of work are listed.
const mostRepairs = 10

// RepairGroups merges faults that the same work mends: the likeliest work
// first, then the quicker, then by id. Improvised work is left out, and so is
// what mends no more than quicker work does.
func RepairGroups(family string, r Report) []RepairGroup {
	cat := catalogue.Standard()
	all := []RepairGroup{}
	for _, rep := range cat.AllRepairs() {
		if act := cat.RepairAct(rep.Act); act.Improvised() || !act.On(family, rep.Reach) {
			continue
		}
		g := RepairGroup{Repair: rep.Act, Reach: rep.Reach, Faults: []string{}, Minutes: rep.Minutes, Cost: rep.Cost}
		for _, s := range r.Sets {
			if len(s.Faults) == 0 || slices.ContainsFunc(s.Faults, func(f string) bool { return !slices.Contains(rep.Mends, f) }) {
				continue
			}
			g.P += s.P
			for _, f := range s.Faults {
				if s.P >= 0.001 && !slices.Contains(g.Faults, f) {
					g.Faults = append(g.Faults, f)
				}
			}
		}
		if g.P >= 0.005 {
			all = append(all, g)
		}
	}
	slices.SortStableFunc(all, func(a, b RepairGroup) int {
		return cmp.Or(cmp.Compare(b.P, a.P), cmp.Compare(a.Minutes, b.Minutes), cmp.Compare(a.Repair+a.Reach, b.Repair+b.Reach))
	})
	out := []RepairGroup{}
	for _, g := range all {
		same := func(o RepairGroup) bool { return o.Reach == g.Reach && o.P == g.P }
		if len(out) < mostRepairs && !slices.ContainsFunc(out, same) {
			out = append(out, g)
		}
	}
	return out
}
