package assess

import (
	"maps"
	"math"
	"slices"
	"strconv"

	"zanjero/core/ledger"
)

// mostSlips are as many as every choice of them is put right, which takes some seconds. Of
// more nobody could say what stands on them and what does not.
const mostSlips = 7

// slips are the readings that were written down otherwise than they were shown.
func (a *attempt) slips() (out []*Reading) {
	for i := range a.review {
		r := &a.review[i]
		if told := r.Shown; !r.ReadRight && (told.Word != "" || told.Value != nil || told.Over) {
			out = append(out, r)
		}
	}
	return out
}

// putRight gives every choice of slips to be put right, first all of them. There is none
// where everything was read right, and none where too much was not.
func (a *attempt) putRight() (out [][]*Reading) {
	slips := a.slips()
	if len(slips) > mostSlips {
		return nil
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

// onSlips takes all marks from what is built on readings, where more were written down wrong
// than can be told apart: what is concluded, and how economically and in what order. So much
// is left that no attempt with fewer slips comes to less.
func (a *attempt) onSlips(out *Assessment) {
	slips := a.slips()
	if len(slips) <= mostSlips {
		return
	}
	for i := range out.Sections {
		s := &out.Sections[i]
		if !slices.Contains([]string{"conclusion", "economy", "order"}, s.ID) || s.Mark <= 0 {
			continue
		}
		s.give(-s.Mark, 0, false, slips[0].Seq, "slip.too-many", "n", len(slips))
		s.Mark = 0
	}
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
