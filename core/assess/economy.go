package assess

import (
	"math"
	"zanjero/core/catalogue"

	"zanjero/core/authoring"
	"zanjero/core/ledger"
)

// Economy is what an attempt took, beside how somebody competent gets on.
type Economy struct {
	// Minutes without those of precautions, which nobody is to save.
	Minutes float64 `json:"minutes"`
	Money   float64 `json:"money"`
	// ReferenceMinutes and ReferenceMoney are the larger of what somebody competent takes
	// on this machine and on everything that explains the complaint: luck is not skill.
	ReferenceMinutes float64 `json:"reference_minutes"`
	ReferenceMoney   float64 `json:"reference_money"`
	// Ratio of the minutes to their reference.
	Ratio float64 `json:"ratio"`
	// Useless are the tests, by place in the ledger, that could tell nothing when they were
	// made; Unfounded the work that nothing spoke for yet.
	Useless   []int            `json:"useless"`
	Unfounded []int            `json:"unfounded"`
	Reference []authoring.Step `json:"reference"`
}

// Limits of economy: full marks up to so many times the reference, none from so many.
// Minutes and money have their shares; under leastMoney nobody counts. Sizes as the
// design has them; the shares chosen by us.
const (
	fullRatio, noneRatio     = 1.3, 3.0
	minuteShare, moneyShare  = 0.7, 0.3
	leastMoney, leastMinutes = 5.0, 5.0
)

// economy marks minutes and money. What was not found was not saved: without the root no
// marks, and with less of it, fewer; found is the share of the root that was.
func (a *attempt) economy(found float64) (s Section, e Economy) {
	s = Section{ID: "economy", Of: a.rubric.Economy, Reasons: []Reason{}}
	e = Economy{Minutes: round1(a.ledger.Minutes() - a.care()), Money: round2(a.ledger.Money()), Useless: []int{}, Unfounded: []int{}, Reference: a.refer.Path,
		ReferenceMinutes: round1(max(a.refer.Minutes, a.refer.ExpectedMinutes, leastMinutes)),
		ReferenceMoney:   round2(max(a.refer.Money, a.refer.ExpectedMoney, leastMoney))}
	e.Ratio = round2(e.Minutes / e.ReferenceMinutes)
	for i := range a.steps {
		switch st := &a.steps[i]; {
		case st.useless:
			e.Useless = append(e.Useless, st.seq)
			s.tell(false, st.seq, "economy.useless", "test", st.test)
		case st.unfounded:
			e.Unfounded = append(e.Unfounded, st.seq)
			if st.sooner != "" {
				s.tell(false, st.seq, "economy.less-enough", "repair", st.repair, "reach", st.reach, "test", st.sooner)
				continue
			}
			s.tell(false, st.seq, "economy.unfounded", "repair", st.repair, "reach", st.reach, "percent", percent(st.likely))
		}
	}
	give := func(of, used, reference float64, code string, pairs ...any) {
		share := clamp01((noneRatio-used/reference)/(noneRatio-fullRatio)) * clamp01(found)
		if code == "economy.money" && len(e.Unfounded) > 0 {
			share = 0 // money spent on a guess was not saved
		}
		s.Mark += round2(share * of)
		s.give(share*of, of, share >= 0.999, -1, code, append(pairs, "ratio", round2(used/reference))...)
	}
	if found <= 0 {
		s.give(0, s.Of, false, -1, "economy.nothing-found")
		return s, e
	}
	give(minuteShare*s.Of, e.Minutes, e.ReferenceMinutes, "economy.minutes", "minutes", e.Minutes, "reference", e.ReferenceMinutes)
	give(moneyShare*s.Of, e.Money, e.ReferenceMoney, "economy.money", "money", e.Money, "reference", e.ReferenceMoney)
	s.Mark = round1(s.Mark)
	return s, e
}

// care is the minutes that precautions took, without waiting for anything to cool.
func (a *attempt) care() (minutes float64) {
	for _, st := range a.ledger.Lines() {
		if act := a.cat.Action(st.Do); act != nil && act.Kind == catalogue.ActPrecaution {
			minutes += act.Minutes
		}
	}
	return minutes
}

// Sizes of what tells and what speaks for work: a test of less than littleBits could tell
// nothing; one of worthTesting comes before work while it takes clearly less than the work
// is expected to waste, with the minutes of proving that it did not help. What is surely it
// wants no further test.
const (
	surely       = 0.9
	littleBits   = 0.02
	worthTesting = 0.3
	proving      = 5.0
	clearly      = 2.0 // times
)

// isTest says that a line is of a test that tells of the machine.
func isTest(st *ledger.Line) bool { return st.Kind == ledger.EventTake && st.Obs != nil }

// bitsLeft are those to know, from nothing upwards.
func bitsLeft(b float64) float64 { return math.Max(b, 0) }
