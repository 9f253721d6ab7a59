package shop

import (
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/ledger"
)

// Hold points of a job on a real engine: nothing goes on before somebody who teaches has
// looked, and given their initials.
const (
	HoldFirstStart = "first-start"
	HoldTiedBar    = "bar-tied"
	HoldHandBack   = "hand-back"
)

// Holds in the order in which they come.
var Holds = []string{HoldFirstStart, HoldTiedBar, HoldHandBack}

// HoldsOf are those of an engine: only one with a bar has a bar to tie.
func HoldsOf(bar bool) []string {
	if bar {
		return Holds
	}
	return []string{HoldFirstStart, HoldHandBack}
}

// Skills are of the hand: they are seen in passing, and ticked.
var Skills = []string{"plug-by-hand", "torque-wrench-back", "blade-blocked", "fuel-caught", "lead-clear", "covers-refitted"}

// Kinds of what is observed.
const (
	ObservedHold  = "hold"
	ObservedSkill = "skill"
)

// Observable says that there is such a thing to observe.
func Observable(kind, item string) bool {
	switch kind {
	case ObservedHold:
		return slices.Contains(Holds, item)
	case ObservedSkill:
		return slices.Contains(Skills, item)
	}
	return false
}

// HoldBefore is the hold point that an act waits for; "" for none.
func HoldBefore(e ledger.Event) string {
	switch {
	case e.Kind == ledger.EventHand:
		if t := catalogue.Standard().Test(e.Test); t != nil && t.Kind == catalogue.KindRun {
			return HoldFirstStart
		}
	case e.Kind == ledger.EventControl && e.Control["bar"] == "tied":
		return HoldTiedBar
	}
	return ""
}
