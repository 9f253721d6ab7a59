package procedure

import "slices"

// Kinds of end, as people look at them: named at its part or reach, on its path only,
// wrongly, or not at all.
const (
	KindRight = "right"
	KindPath  = "path"
	KindWrong = "wrong"
	KindOpen  = "open"
)

// Kinds in order, the best first.
var Kinds = []string{KindRight, KindPath, KindWrong, KindOpen}

// KindOf is the kind of a level.
func KindOf(level string) string {
	switch level {
	case AtPart, AtReach, Sound:
		return KindRight
	case AtLateral, AtGroup, WrongPart:
		return KindPath
	case Wrong:
		return KindWrong
	}
	return KindOpen
}

// FlowRow is what flows to a step and from it, as shares of all machines. What comes is
// what ends there by kind, goes on to the next step, or goes past some.
type FlowRow struct {
	Comes float64
	Ends  map[string]float64 // by kind
	// To is what goes on, by the place that it goes to; the number of steps where the
	// list runs out.
	To map[int]float64
}

// Flow lays an evaluation out as what flows from step to step and ends at each; the last
// row is what the list has run out for.
func (e *Evaluation) Flow() []FlowRow {
	rows := make([]FlowRow, len(e.Steps)+1)
	for k := range rows {
		rows[k] = FlowRow{Ends: map[string]float64{}, To: map[int]float64{}}
	}
	for _, h := range e.Hypotheses {
		for _, l := range h.Links {
			rows[l.To].Comes += h.Prior * l.P
			if l.From >= 0 {
				rows[l.From].To[l.To] += h.Prior * l.P
			}
		}
		for _, end := range h.Ends {
			k := slices.IndexFunc(e.Steps, func(s StepFigure) bool { return s.ID == end.Step })
			if k < 0 {
				k = len(e.Steps)
			}
			rows[k].Ends[KindOf(end.Level)] += h.Prior * end.P
		}
	}
	return rows
}
