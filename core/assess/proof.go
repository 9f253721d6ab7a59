package assess

import (
	"fmt"
	"math"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
)

// Shares of the 10 marks of section 6.
const (
	proofMarks  = 5.0
	readyMarks  = 3.0
	adviceMarks = 2.0
)

// proof marks section 6: was the condition of the complaint repeated after the
// repair, long enough; is the machine ready to return; does the advice fit.
func (a *attempt) proof(notReady []string) Section {
	s := Section{ID: "proof", Name: "Proof and hand-over", Of: proofMarks + readyMarks + adviceMarks, Reasons: []Reason{}}
	s.Mark = round1(a.proved(&s) + a.ready(&s, notReady) + a.advised(&s))
	return s
}

func (a *attempt) proved(s *Section) float64 {
	add := func(text string, seq int, good bool) { s.Reasons = append(s.Reasons, Reason{text, seq, good}) }
	if a.hand.Verdict == NotWorth {
		return a.notWorth(add)
	}
	if a.hand.Verdict != Repaired {
		add("Handed on without a repair, so there was no proof run to make. Say what would have to be proved.", -1, true)
		return proofMarks / 2
	}
	repaired := -1
	for _, st := range a.ledger.Lines() {
		if st.Kind == ledger.EventRepair || (st.Kind == ledger.EventControl && ((st.Control["switch"] == "run" && a.hides("switch-off")) || (st.Control["fuel_valve"] == "open" && a.hides("valve-shut")))) {
			repaired = st.Seq
		}
	}
	if repaired < 0 {
		add("Handed back as repaired, and nothing was repaired.", -1, false)
		return 0
	}
	st := a.offered(repaired)
	if st == nil {
		add("After the repair the condition of the complaint was never repeated. A repair is proved by the run that failed before.", repaired, false)
		return 0
	}
	marks := proofMarks
	if a.hand.ProofSeq < 0 {
		marks--
		add("A run was made after the repair, and not offered as proof.", st.Seq, false)
	}
	claim := a.sc.Complaint().Claim
	word := *st.Obs.Word
	switch {
	case st.Seq < repaired:
		add("The run offered as proof was made before the repair.", st.Seq, false)
		return 0
	case !a.repeats(*st, claim.Test):
		add("The run offered as proof is not the one that failed before.", st.Seq, false)
		return 0
	case slices.Contains(claim.Words, word) || word != "runs-well":
		add(fmt.Sprintf("The proof run ended as %q: it was handed back with the complaint unproved.", word), st.Seq, false)
		return 0
	case st.Obs.Also["ran_min"] != nil && st.Obs.Also["ran_min"].(float64) < a.longEnough():
		add(fmt.Sprintf("The proof run lasted %.0f minutes; this complaint needs %.0f to show.", st.Obs.Also["ran_min"], a.longEnough()), st.Seq, false)
		return marks / 2
	}
	add("The condition of the complaint was repeated after the repair, and the engine ran well.", st.Seq, true)
	return marks
}

// notWorth judges the verdict that the machine is not worth repairing, from
// its figures.
func (a *attempt) notWorth(add func(text string, seq int, good bool)) float64 {
	w := WorthOf(a.sc)
	figures := fmt.Sprintf("the cheapest proper repair takes %.0f in parts and %.0f min, %.0f in all, and the machine is worth %.0f", w.Parts, w.Minutes, w.Cost, w.Value)
	if w.Repair {
		add("Given up as not worth repairing, and it is: "+figures+".", -1, false)
		return 0
	}
	add("Rightly given up as not worth repairing: "+figures+".", -1, true)
	return proofMarks
}

// offered is the run that was handed over as proof; where none was, the last
// one after the repair that makes the complaint's condition again.
func (a *attempt) offered(repaired int) *ledger.Line {
	var last *ledger.Line
	for i := range a.ledger.Lines() {
		st := &a.ledger.Lines()[i]
		if st.Obs == nil || st.Obs.Word == nil || a.cat.Test(st.Test).Kind != catalogue.KindRun {
			continue
		}
		if st.Seq == a.hand.ProofSeq {
			return st
		}
		if st.Seq > repaired && a.repeats(*st, a.sc.Complaint().Claim.Test) {
			last = st
		}
	}
	if a.hand.ProofSeq >= 0 {
		return nil
	}
	return last
}

// repeats says that a step makes the complaint's condition again: the same
// test, or a longer one that contains it.
func (a *attempt) repeats(st ledger.Line, test string) bool {
	return st.Test == test || (test == "start-attempt" && st.Test == "run-long")
}

// longEnough is how many minutes a proof run must last: one and a half times
// what this machine took to falter as it came in.
func (a *attempt) longEnough() float64 {
	claim := a.sc.Complaint().Claim
	if claim.Test != "run-long" {
		return 0
	}
	ses, err := bench.NewSession(a.sc.Family, a.sc.Sheet, a.sc.Ambient, a.sc.Faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
	if err != nil {
		return 0
	}
	o := ses.Test(claim.Test, claim.Setup)
	return math.Ceil(1.5 * o.FalterAt)
}

func (a *attempt) ready(s *Section, notReady []string) float64 {
	if len(notReady) == 0 {
		s.Reasons = append(s.Reasons, Reason{"Handed back with everything in its place.", -1, true})
		return readyMarks
	}
	for _, item := range notReady {
		s.Reasons = append(s.Reasons, Reason{"Handed back with the " + item + ".", -1, false})
	}
	return max(readyMarks-1.5*float64(len(notReady)), 0)
}

// hides says that a fault was hidden in the job.
func (a *attempt) hides(fault string) bool { return contains(a.sc.Faults, fault) }

func (a *attempt) advised(s *Section) float64 {
	for _, t := range a.sc.Faults {
		if def := a.cat.Fault(t.ID); def.Advice == a.hand.Advice {
			s.Reasons = append(s.Reasons, Reason{"The advice to the owner fits the cause.", -1, true})
			return adviceMarks
		}
	}
	if a.hand.Advice == "" {
		s.Reasons = append(s.Reasons, Reason{"The owner was told nothing of how to keep it away.", -1, false})
	} else {
		s.Reasons = append(s.Reasons, Reason{"The advice to the owner fits another cause.", -1, false})
	}
	return 0
}
