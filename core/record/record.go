// Package record is what an apprentice has shown: skills by path, each square with the
// attempts behind it, and what of an outside training standard they come to.
package record

import (
	"slices"

	"zanjero/core/assess"
)

// Attempt is a marked attempt as a record has it.
type Attempt struct {
	ID      string  `json:"id"`
	Job     int     `json:"job"`
	Machine string  `json:"machine"` // name and code
	At      string  `json:"at"`      // handed over, RFC 3339
	Minutes float64 `json:"minutes"` // at the bench, by its clock
	Mark    float64 `json:"mark"`
	Of      float64 `json:"of"`
	Outcome string  `json:"outcome"`
	Class   string  `json:"class"`
	Signed  bool    `json:"signed"`
	// Practice was taken by the apprentice alone: it is evidence, and shows nothing.
	Practice bool `json:"practice,omitempty"`
	// Untested was ended without a test that could tell anything, and no person has said that
	// it counts all the same: it shows work and proof, and nothing of finding faults.
	Untested bool           `json:"untested,omitempty"`
	Skills   []assess.Skill `json:"-"`
	Comments []string       `json:"comments,omitempty"`
}

// Passed says that an attempt counts as competent.
func (a *Attempt) Passed() bool { return a.Outcome == assess.Competent && !a.Untested }

// shows says that an attempt is held to show a skill, where it is good enough.
func (a *Attempt) shows(skill string) bool {
	return !a.Practice && (!a.Untested || !slices.Contains(finding, skill))
}

// finding are the skills of finding a fault.
var finding = []string{"conclusion", "economy", "order"}

// Piece is what one attempt says of a square.
type Piece struct {
	Attempt string  `json:"attempt"`
	Score   float64 `json:"score"` // 0 to 1
}

// Square is one skill on one path.
type Square struct {
	Skill   string `json:"skill"`
	Lateral string `json:"lateral"`
	// Score is the mean of the latest few, 0 to 1.
	Score float64 `json:"score"`
	// Trend is the mean of the latest three less that of the three before, 0 with fewer
	// than four.
	Trend float64 `json:"trend"`
	// Shown: the latest three that are held to show it are good enough together.
	Shown bool `json:"shown"`
	// Evidence is every attempt behind it, the latest last.
	Evidence []Piece `json:"evidence"`
}

// Sizes of a square's sums; chosen by us.
const (
	latest = 5    // whose mean is the score
	few    = 3    // that show something together, and that a trend is between
	enough = 0.75 // from which it is shown
)

// Record is what somebody has shown.
type Record struct {
	Squares []Square `json:"squares"`
	// Attempts, the latest first; Minutes is what they took together.
	Attempts  []Attempt `json:"attempts"`
	Minutes   float64   `json:"minutes"`
	Competent int       `json:"competent"` // that passed and were not taken to practise
}

// Of makes a record of somebody's attempts, in any order.
func Of(attempts []Attempt) Record {
	all := append([]Attempt{}, attempts...)
	slices.SortStableFunc(all, func(a, b Attempt) int { return compare(a.At, b.At) })
	r := Record{Squares: []Square{}, Attempts: all}
	at := map[[2]string]int{}
	shown := map[[2]string][]float64{}
	for _, a := range all {
		r.Minutes += a.Minutes
		if a.Passed() && !a.Practice {
			r.Competent++
		}
		for _, s := range a.Skills {
			key := [2]string{s.Skill, s.Lateral}
			i, there := at[key]
			if !there {
				i = len(r.Squares)
				at[key] = i
				r.Squares = append(r.Squares, Square{Skill: s.Skill, Lateral: s.Lateral})
			}
			r.Squares[i].Evidence = append(r.Squares[i].Evidence, Piece{a.ID, s.Score})
			if a.shows(s.Skill) {
				shown[key] = append(shown[key], s.Score)
			}
		}
	}
	for i := range r.Squares {
		q := &r.Squares[i]
		var scores []float64
		for _, e := range q.Evidence {
			scores = append(scores, e.Score)
		}
		q.Score = mean(last(scores, latest))
		if n := len(scores); n > few {
			q.Trend = mean(last(scores, few)) - mean(last(scores[:n-few], few))
		}
		counted := shown[[2]string{q.Skill, q.Lateral}]
		q.Shown = len(counted) >= few && mean(last(counted, few)) >= enough
	}
	slices.Reverse(r.Attempts)
	return r
}

func last(x []float64, n int) []float64 { return x[max(0, len(x)-n):] }

func mean(x []float64) (m float64) {
	for _, v := range x {
		m += v / float64(len(x))
	}
	return m
}

func compare(a, b string) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}
