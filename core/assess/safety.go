package assess

import (
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
)

// Skip is a precaution that was not taken before a test.
type Skip struct {
	Seq        int    `json:"seq"`
	Test       string `json:"test"`
	Precaution string `json:"precaution"`
	// Hazard is what it answers, Severity how much that can hurt.
	Hazard   string `json:"hazard,omitempty"`
	Severity string `json:"severity,omitempty"`
}

// Severities of a precaution that was missed.
const (
	Critical = "critical" // it can kill, maim or burn
	Minor    = "minor"
)

// missed are the codes of what is said of one that was missed.
var missed = map[string]string{Critical: "safety.missed-critical", Minor: "safety.missed-minor"}

// Shares of the section's marks that each missed precaution costs (sizes chosen by us).
const (
	criticalCosts = 0.5
	minorCosts    = 0.15
)

// spilt is the hazard of fuel that lies about or leaks.
const spilt = "fire"

// skips lists the precautions that were not taken, each at the first test that asked for
// it, and fuel that was left lying about at the end.
func (a *attempt) skips() []Skip {
	out := []Skip{}
	for _, st := range a.ledger.Lines() {
		if st.Obs == nil {
			continue
		}
		for _, id := range st.Obs.Skipped {
			if slices.ContainsFunc(out, func(s Skip) bool { return s.Precaution == id }) {
				continue
			}
			s := Skip{Seq: st.Seq, Test: st.Test, Precaution: id, Hazard: spilt, Severity: Critical}
			if h := a.cat.HazardOf(a.cat.Test(st.Test), id); h != nil {
				s.Hazard, s.Severity = h.ID, severityOf(h)
			}
			out = append(out, s)
		}
	}
	return out
}

func severityOf(h *catalogue.Hazard) string {
	if h.Critical {
		return Critical
	}
	return Minor
}

// safety marks the precautions by how much each guards from.
func (a *attempt) safety(notReady []bench.Left) Section {
	s := Section{ID: "safety", Of: a.rubric.Safety, Reasons: []Reason{}}
	share := 1.0
	miss := func(seq int, severity, code string, pairs ...any) {
		costs := minorCosts
		if severity == Critical {
			costs = criticalCosts
		}
		costs = min(costs, share)
		share -= costs
		s.give(-costs*s.Of, 0, false, seq, code, pairs...)
	}
	for _, x := range a.skips() {
		miss(x.Seq, x.Severity, missed[x.Severity], "test", x.Test, "precaution", "@action."+x.Precaution+".name", "hazard", "@hazard."+x.Hazard+".caution")
	}
	if leftSpilt(notReady) {
		miss(-1, Critical, "safety.left-spilt")
	}
	if len(s.Reasons) == 0 {
		s.give(s.Of, s.Of, true, -1, "safety.all")
	} else {
		s.Reasons = slices.Insert(s.Reasons, 0, Reason{Code: "safety.of-all", Seq: -1, Marks: s.Of, Of: s.Of})
	}
	s.Mark = round1(share * s.Of)
	return s
}

func leftSpilt(notReady []bench.Left) bool {
	return slices.ContainsFunc(notReady, func(l bench.Left) bool { return l.Kind == bench.LeftState && l.Item == "spill" })
}

// criticalMiss says that something was left out that can kill, maim or burn.
func (a *attempt) criticalMiss(notReady []bench.Left) bool {
	return leftSpilt(notReady) || slices.ContainsFunc(a.skips(), func(s Skip) bool { return s.Severity == Critical })
}
