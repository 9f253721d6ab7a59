package assess

import (
	"math"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/ledger"
	"zanjero/core/scenario"
)

// Shares of the proof section: the run, the machine as handed back, the advice.
const (
	runShare    = 0.5
	readyShare  = 0.3
	adviceShare = 0.2
)

// leftCosts is the share of the marks for the machine as handed back that each thing costs
// that is not as it should be.
const leftCosts = 0.5

// proof marks the end: was the condition of the complaint repeated after the
// repair, long enough; is the machine ready to return; does the advice fit.
func (a *attempt) proof(notReady []bench.Left) (Section, Proved) {
	s := Section{ID: "proof", Of: a.rubric.Proof, Reasons: []Reason{}}
	marks, p := a.proved(&s, runShare*s.Of)
	s.Mark = round1(marks + a.ready(&s, readyShare*s.Of, notReady) + a.advised(&s, adviceShare*s.Of))
	return s, p
}

// Proved says whether the end was proved, and why not.
type Proved struct {
	Right bool `json:"right"`
	// Why is empty where it is right.
	Why string `json:"why,omitempty"`
}

// Why a proof is not right.
const (
	ProofNone       = "none"
	ProofBefore     = "before-repair"
	ProofOther      = "other-run"
	ProofShort      = "too-short"
	ProofBad        = "ended-badly"
	ProofNotOffered = "not-offered"
)

// proved gives of at most so many marks.
func (a *attempt) proved(s *Section, of float64) (marks float64, p Proved) {
	end := func(share float64, why string, seq int, code string, pairs ...any) (float64, Proved) {
		s.give(share*of, of, share >= 0.999, seq, code, pairs...)
		return share * of, Proved{why == "", why}
	}
	if a.hand.Verdict == NotWorth {
		w := ValueOf(a.sc)
		code, share, why := "proof.rightly-given-up", 1.0, ""
		unread := func(f Finding) bool { return f.Filing == Root && len(a.readOf(f.Reach)) == 0 }
		switch {
		case w.Repair:
			code, share, why = "proof.given-up-and-worth-it", 0, ProofNone
		case slices.ContainsFunc(a.named(), unread): // by what a run made of it, and nothing more
			code, share, why = "proof.given-up-unread", 0, ProofNone
		}
		return end(share, why, -1, code, "parts", math.Round(w.Parts), "minutes", math.Round(w.Minutes), "cost", math.Round(w.Cost), "value", math.Round(w.Value))
	}
	if a.hand.Verdict != Repaired {
		if w := ValueOf(a.sc); !w.Repair || w.Parts > a.sc.LimitMoney || w.Minutes > a.sc.LimitMinutes {
			return end(1, "", -1, "proof.rightly-handed-on", "parts", math.Round(w.Parts), "minutes", math.Round(w.Minutes), "limit", a.sc.LimitMoney)
		}
		return end(0.5, ProofNone, -1, "proof.handed-on")
	}
	repaired := a.repairedAt()
	if repaired < 0 {
		return end(0, ProofNone, -1, "proof.nothing-repaired")
	}
	if a.hand.ProofSeq < 0 {
		if good := a.goodRun(); good >= 0 {
			return end(0.8, ProofNotOffered, good, "proof.not-offered")
		}
		return end(0, ProofNone, repaired, "proof.never-repeated")
	}
	st := a.at(a.hand.ProofSeq)
	claim := a.sc.Complaint().Claim
	switch {
	case st == nil || st.Obs == nil:
		return end(0, ProofOther, a.hand.ProofSeq, "proof.other-run")
	case st.Seq < repaired:
		return end(0, ProofBefore, st.Seq, "proof.before-repair")
	case !a.repeats(*st, claim.Test):
		return end(0, ProofOther, st.Seq, "proof.other-run")
	case a.sc.Bad(st.Obs):
		return end(0, ProofBad, st.Seq, "proof.ended-badly", "word", scenario.Tell(*st.Obs).String())
	case !a.lasted(st):
		return end(0.5, ProofShort, st.Seq, "proof.too-short", "minutes", math.Round(st.Obs.Also["ran_min"].(float64)), "needs", a.longEnough())
	}
	return end(1, "", st.Seq, "proof.proved")
}

// repairedAt is the place of the last work that was done, or of the control that was left
// wrong and put right; −1 for none.
func (a *attempt) repairedAt() int {
	at := -1
	for _, st := range a.ledger.Lines() {
		if st.Kind == ledger.EventRepair || (st.Kind == ledger.EventControl &&
			((st.Control["switch"] == "run" && a.hides("switch-off")) || (st.Control["fuel_valve"] == "open" && a.hides("valve-shut")))) {
			at = st.Seq
		}
	}
	return at
}

// at is the line at a place of the ledger, or nil.
func (a *attempt) at(seq int) *ledger.Line {
	for i := range a.ledger.Lines() {
		if st := &a.ledger.Lines()[i]; st.Seq == seq {
			return st
		}
	}
	return nil
}

// goodRun is the place of the last run after the work that shows the complaint gone; −1
// for none.
func (a *attempt) goodRun() int {
	after, good := a.repairedAt(), -1
	for i := range a.ledger.Lines() {
		st := &a.ledger.Lines()[i]
		if isTest(st) && after >= 0 && st.Seq > after && a.repeats(*st, a.sc.Complaint().Claim.Test) && !a.sc.Bad(st.Obs) && a.lasted(st) {
			good = st.Seq
		}
	}
	return good
}

// lasted says that a run was long enough to show the complaint.
func (a *attempt) lasted(st *ledger.Line) bool {
	ran, ok := st.Obs.Also["ran_min"].(float64)
	return !ok || ran >= a.longEnough()
}

// repeats says that a step makes the complaint's condition again: the same
// test, or a longer one that contains it, started from cold and worked.
func (a *attempt) repeats(st ledger.Line, test string) bool {
	return st.Test == test || (test == "start-attempt" && (st.Test == "run-long" || st.Test == "run-load"))
}

// longEnough is how many minutes a proof run must last: one and a half times
// what this machine took to falter as it came in, or as long as the complaint says.
func (a *attempt) longEnough() float64 { return a.sc.ProofMinutes() }

// ready gives of at most so many marks; each thing left costs half of them.
func (a *attempt) ready(s *Section, of float64, notReady []bench.Left) float64 {
	if len(notReady) == 0 {
		s.give(of, of, true, -1, "ready.all")
		return of
	}
	s.give(of, of, false, -1, "ready.of-all")
	left := of
	for _, l := range notReady {
		costs := min(leftCosts*of, left)
		left -= costs
		s.give(-costs, 0, false, -1, "ready.left", "left", "@left."+l.Kind+"."+l.Item, "kind", l.Kind, "item", l.Item)
	}
	return left
}

// hides says that a fault was hidden in the job.
func (a *attempt) hides(fault string) bool { return contains(a.sc.Faults, fault) }

func (a *attempt) advised(s *Section, of float64) float64 {
	for _, t := range a.sc.Faults {
		if def := a.cat.Fault(t.ID); def.Advice == a.hand.Advice {
			s.give(of, of, true, -1, "advice.fits")
			return of
		}
	}
	code := "advice.other-cause"
	if a.hand.Advice == "" {
		code = "advice.none"
	}
	s.give(0, of, false, -1, code)
	return 0
}
