package assess

import (
	"math"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/scenario"
)

// worthShare is the share of a machine's worth beyond which a repair is not
// made (common practice; yards differ).
const worthShare = 0.6

// RepairValue holds what the cheapest proper repair costs against what the machine
// is worth, all in the yard's money and minutes.
type RepairValue struct {
	Parts   float64 `json:"parts"`
	Minutes float64 `json:"minutes"`
	Labour  float64 `json:"labour"`
	Cost    float64 `json:"cost"`
	Value   float64 `json:"value"`
	// Repair: it is worth repairing.
	Repair bool `json:"repair"`
}

// ValueOf works out, for what is hidden in a job, the cheapest proper work
// that mends it: parts and minutes over the chance that it takes, covers off
// and on once, labour by the sheet.
func ValueOf(sc *scenario.Scenario) RepairValue {
	cat := sc.Figures()
	fam := cat.Family(sc.Family)
	hour := sc.Sheet["labour_money_h"].Middle()
	w := RepairValue{Value: sc.Sheet["worth_money"].Middle()}
	var covers []string
	for _, f := range sc.Faults {
		best, found := catalogue.Repair{}, false
		cost := func(r catalogue.Repair) float64 {
			return (r.Cost + (r.Minutes+coverMinutes(cat, fam, r.Access))*hour/60) / r.Success
		}
		for _, r := range cat.Repairs.Entries {
			if cat.RepairAct(r.Act).Improvised() || !slices.Contains(r.Mends, f.ID) {
				continue
			}
			if !found || cost(r) < cost(best) {
				best, found = r, true
			}
		}
		if !found {
			continue
		}
		w.Parts += best.Cost / best.Success
		w.Minutes += best.Minutes / best.Success
		for _, id := range best.Access {
			if slices.Contains(fam.Covers, id) && !slices.Contains(covers, id) {
				covers = append(covers, id)
			}
		}
	}
	w.Minutes += coverMinutes(cat, fam, covers)
	w.Labour = w.Minutes * hour / 60
	w.Cost = w.Parts + w.Labour
	w.Repair = w.Cost <= worthShare*w.Value
	for _, x := range []*float64{&w.Parts, &w.Minutes, &w.Labour, &w.Cost} {
		*x = math.Round(*x*100) / 100
	}
	return w
}

// coverMinutes is what covers take to come off and go back.
func coverMinutes(cat *catalogue.Catalogue, fam *catalogue.Family, covers []string) (sum float64) {
	for _, id := range covers {
		if slices.Contains(fam.Covers, id) {
			sum += cat.Cover(id).OpenMinutes + cat.Cover(id).CloseMinutes
		}
	}
	return sum
}

// Makeshift is work of the improvised kind, or work that left something behind.
type Makeshift struct {
	Act   string   `json:"act"`
	Reach string   `json:"reach"`
	Left  []string `json:"left"` // faults
}

func (a *attempt) makeshifts() []Makeshift {
	out := []Makeshift{}
	for _, p := range a.ledger.Fitted() {
		act := a.cat.RepairAct(p.Act)
		if !act.Improvised() && len(p.Left) == 0 {
			continue
		}
		out = append(out, Makeshift{Act: p.Act, Reach: p.Reach, Left: append([]string{}, p.Left...)})
	}
	return out
}

// notReady is the difference between the machine as handed back and as it
// should be, item by item, with the faults that are still in it. A defect that does not
// bring the complaint may stay: it is for the owner to say.
func (a *attempt) notReady() []bench.Left {
	out := a.ledger.NotReady()
	for _, f := range a.ledger.Machine().Faults() {
		told := slices.ContainsFunc(out, func(l bench.Left) bool { return l.Item == f.ID }) || contains(a.sc.Distractors, f.ID)
		if a.hand.Verdict == Repaired && !told && !a.cured(f.ID) {
			out = append(out, bench.Left{Kind: bench.LeftFault, Item: f.ID})
		}
	}
	return out
}
