package assess

import (
	"math"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/scenario"
)

// Shares of the proof section: the run, the machine as handed back, the advice.
const (
	runShare    = 0.5
	readyShare  = 0.3
	adviceShare = 0.2
)

// proof marks the end: was the condition of the complaint repeated after the
// repair, long enough; is the machine ready to return; does the advice fit.
func (a *attempt) proof(notReady []bench.Left) Section {
	s := Section{ID: "proof", Of: a.rubric.Proof, Reasons: []Reason{}}
	s.Mark = round1(a.proved(&s, runShare*s.Of) + a.ready(&s, readyShare*s.Of, notReady) + a.advised(&s, adviceShare*s.Of))
	return s
}

// proved gives of at most so many marks.
func (a *attempt) proved(s *Section, of float64) float64 {
	end := func(share float64, seq int, code string, pairs ...any) float64 {
		s.give(share*of, of, share >= 0.999, seq, code, pairs...)
		return share * of
	}
	if a.hand.Verdict == NotWorth {
		w := ValueOf(a.sc)
		code, share := "proof.rightly-given-up", 1.0
		if w.Repair {
			code, share = "proof.given-up-and-worth-it", 0
		}
		return end(share, -1, code, "parts", math.Round(w.Parts), "minutes", math.Round(w.Minutes), "cost", math.Round(w.Cost), "value", math.Round(w.Value))
	}
	if a.hand.Verdict != Repaired {
		return end(0.5, -1, "proof.handed-on")
	}
	repaired := -1
	for _, st := range a.ledger.Lines() {
		if st.Kind == ledger.EventRepair || (st.Kind == ledger.EventControl &&
			((st.Control["switch"] == "run" && a.hides("switch-off")) || (st.Control["fuel_valve"] == "open" && a.hides("valve-shut")))) {
			repaired = st.Seq
		}
	}
	if repaired < 0 {
		return end(0, -1, "proof.nothing-repaired")
	}
	st := a.offered(repaired)
	if st == nil {
		return end(0, repaired, "proof.never-repeated")
	}
	share := 1.0
	if a.hand.ProofSeq < 0 {
		share -= 0.2
		s.tell(false, st.Seq, "proof.not-offered")
	}
	claim := a.sc.Complaint().Claim
	switch {
	case st.Seq < repaired:
		return end(0, st.Seq, "proof.before-repair")
	case !a.repeats(*st, claim.Test):
		return end(0, st.Seq, "proof.other-run")
	case a.sc.Bad(st.Obs):
		return end(0, st.Seq, "proof.ended-badly", "word", scenario.Tell(*st.Obs).String())
	case st.Obs.Also["ran_min"] != nil && st.Obs.Also["ran_min"].(float64) < a.longEnough():
		return end(share/2, st.Seq, "proof.too-short", "minutes", math.Round(st.Obs.Also["ran_min"].(float64)), "needs", a.longEnough())
	}
	return end(share, st.Seq, "proof.proved")
}

// offered is the run that was handed over as proof; where none was, the last
// one after the repair that makes the complaint's condition again.
func (a *attempt) offered(repaired int) *ledger.Line {
	var last *ledger.Line
	for i := range a.ledger.Lines() {
		st := &a.ledger.Lines()[i]
		if st.Obs == nil || (a.cat.Test(st.Test).Kind != catalogue.KindRun && st.Test != a.sc.Complaint().Claim.Test) {
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
// what this machine took to falter as it came in, or as long as the complaint says.
func (a *attempt) longEnough() float64 { return a.sc.ProofMinutes() }

// ready gives of at most so many marks; each thing left costs half of them.
func (a *attempt) ready(s *Section, of float64, notReady []bench.Left) float64 {
	if len(notReady) == 0 {
		s.give(of, of, true, -1, "ready.all")
		return of
	}
	for _, l := range notReady {
		s.tell(false, -1, "ready.left", "left", "@left."+l.Kind+"."+l.Item, "kind", l.Kind, "item", l.Item)
	}
	return max(of*(1-0.5*float64(len(notReady))), 0)
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
