package scenario

import (
	"fmt"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/problem"
)

// Modes of a job. In a guided one the bench names the precautions that are
// still to be taken; in an exam nothing is said, and the time is a limit.
const (
	ModeOpen   = "open"
	ModeGuided = "guided"
	ModeExam   = "exam"
)

// Modes in the order in which they are offered.
var Modes = []string{ModeOpen, ModeGuided, ModeExam}

// Guide says how the job is given; open where nothing is said.
func (s *Scenario) Guide() string {
	if s.Mode == "" {
		return ModeOpen
	}
	return s.Mode
}

// Allow refuses an act that this job does not give room for: a part that there
// is no money left for, a makeshift repair where only proper ones are to be
// done, and in an exam any test or work once the time is up. What is written
// down, marked and put back is always allowed.
func (s *Scenario) Allow(l *ledger.Ledger, e ledger.Event) *problem.Problem {
	if r := catalogue.Standard().RepairAct(e.Repair); e.Kind == ledger.EventRepair && r != nil { // else the ledger refuses it
		if r.Improvised() && s.ProperOnly {
			return problem.New("repair", "scenario.job-be-done-without-makeshift-repairs")
		}
		cost, left := bench.RepairCost(e.Repair, e.Reach, e.Grade), s.LimitMoney-l.Money()
		if cost > left+1e-9 {
			return problem.New("repair", "scenario.too-dear", "cost", fmt.Sprintf("%.2f", cost), "left", fmt.Sprintf("%.2f", max(left, 0)))
		}
	}
	if t := catalogue.Standard().Test(e.Test); (e.Kind == ledger.EventTake || e.Kind == ledger.EventMade) && t != nil && !s.InKit(t) {
		return problem.New("test", "scenario.not-on-the-bench", "test", t.ID)
	}
	if e.Kind == ledger.EventPage && s.PageAtHand() == nil {
		return problem.New("kind", "scenario.no-page-is-followed")
	}
	if s.Mode == ModeExam && l.Minutes() >= s.LimitMinutes && !slices.Contains([]string{ledger.EventEntry, ledger.EventMark, ledger.EventControl,
		ledger.EventCover, ledger.EventPage}, e.Kind) {
		return problem.New("kind", "scenario.time-job-up")
	}
	return nil
}
