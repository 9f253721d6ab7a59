package assess

import (
	"maps"
	"math"
	"slices"
	"strconv"

	"zanjero/core/ledger"
)

// fewSlips are so few that every choice of them is put right.
const fewSlips = 6

// putRight gives the slips of reading to be put right: first all of them, then every choice
// of them where there are few; where there are many, each alone and all but each. There are
// none where everything was read right.
func (a *attempt) putRight() (out [][]*Reading) {
	var slips []*Reading
	for i := range a.review {
		r := &a.review[i]
		if told := r.Shown; !r.ReadRight && (told.Word != "" || told.Value != nil || told.Over) {
			slips = append(slips, r)
		}
	}
	if len(slips) > fewSlips {
		out = append(out, slips)
		for i := range slips {
			out = append(out, slips[i:i+1], slices.Delete(slices.Clone(slips), i, i+1))
		}
		return out
	}
	for chosen := 1<<len(slips) - 1; chosen > 0; chosen-- {
		var right []*Reading
		for i, r := range slips {
			if chosen&(1<<i) != 0 {
				right = append(right, r)
			}
		}
		out = append(out, right)
	}
	return out
}

// withRight gives the events with some readings as they were shown.
func withRight(events []ledger.Event, readings []*Reading) []ledger.Event {
	out := slices.Clone(events)
	for _, r := range readings {
		p := ledger.EventPart{Word: r.Shown.Word}
		if p.Word == "" {
			p.Unit, p.Judged, p.Reading = r.Shown.Unit, r.TrueBand, ledger.OverLimit
			if r.Shown.Value != nil {
				p.Reading = figures(*r.Shown.Value)
			}
		}
		if e := &out[r.Seq]; r.Part != "" {
			e.Parts = maps.Clone(e.Parts)
			e.Parts[r.Part] = p
		} else {
			e.Reading, e.Unit, e.Word, e.Judged = p.Reading, p.Unit, p.Word, p.Judged
			if e.Gauge != nil { // its error is taken out of what was shown already
				e.Gauge = &ledger.Gauge{ID: e.Gauge.ID, Overdue: e.Gauge.Overdue}
			}
		}
	}
	return out
}

// figures writes a number with six of them.
func figures(v float64) string {
	short, _ := strconv.ParseFloat(strconv.FormatFloat(v, 'g', 6, 64), 64)
	return strconv.FormatFloat(short, 'f', -1, 64)
}

// luck takes away what stands on slips alone: where the same attempt read right comes to
// fewer marks, this one comes to no more, and each section says what it lost by that. A
// slip that spoke for what is right was luck, and luck is not skill.
func (a *attempt) luck(out, right *Assessment) {
	mine, _ := out.Total()
	theirs, _ := right.Total()
	apart, sum := make([]float64, len(out.Sections)), 0.0
	for i := range out.Sections {
		apart[i] = max(0, out.Sections[i].Mark-right.Sections[i].Mark)
		sum += apart[i]
	}
	if mine <= theirs || sum == 0 {
		return
	}
	slip := slices.IndexFunc(a.review, func(r Reading) bool { return !r.ReadRight })
	for i := range out.Sections {
		s := &out.Sections[i]
		// Upwards to a tenth, so that the whole is not more by rounding.
		costs := math.Ceil((mine-theirs)*apart[i]/sum*10-1e-6) / 10
		if costs = min(costs, s.Mark); costs <= 0 {
			continue
		}
		s.Mark = round1(s.Mark - costs)
		s.give(-costs, 0, false, a.review[slip].Seq, "slip.spoke-for-it", "of", a.review[slip].of(), "marks", round1(costs))
	}
}
