package assess

import (
	"encoding/json"
	"fmt"
	"strings"

	"zanjero/core/bench"
	"zanjero/core/problem"
)

// Read reads an assessment that was kept as JSON, of this form or an older one.
// What an older one said in sentences is kept as it was said, under the code
// "kept", and what it did not hold is left empty: nothing is judged anew.
func Read(raw []byte) (*Assessment, error) {
	var a Assessment
	var head struct {
		Form int `json:"form"`
	}
	if err := json.Unmarshal(raw, &head); err != nil {
		return nil, fmt.Errorf("assessment: %w", err)
	}
	if head.Form > FormNow {
		return nil, fmt.Errorf("assessment: its form is %d, and this program knows up to %d", head.Form, FormNow)
	}
	if head.Form >= 2 {
		if err := json.Unmarshal(raw, &a); err != nil {
			return nil, fmt.Errorf("assessment: %w", err)
		}
		a.fill()
		return &a, nil
	}
	var old first
	if err := json.Unmarshal(raw, &old); err != nil {
		return nil, fmt.Errorf("assessment: %w", err)
	}
	return old.now(), nil
}

// fill puts empty lists where a form has none.
func (a *Assessment) fill() {
	a.Against, a.FalselyAccused, a.Skills, a.Order = some(a.Against), some(a.FalselyAccused), some(a.Skills), some(a.Order)
	a.Economy.Useless, a.Economy.Unfounded, a.Economy.Reference = some(a.Economy.Useless), some(a.Economy.Unfounded), some(a.Economy.Reference)
}

func some[T any](list []T) []T {
	if list == nil {
		return []T{}
	}
	return list
}

// stepKept is the kind of a step of an older form, which named it in a sentence.
const stepKept = "kept"

// first is the first form, as far as it is carried over.
type first struct {
	ModelVersion string `json:"model_version"`
	Truth        []struct {
		ID       string  `json:"id"`
		Reach    string  `json:"reach"`
		Severity float64 `json:"severity"`
		Mended   bool    `json:"mended"`
	} `json:"truth"`
	Class    string `json:"class"`
	Verdict  string `json:"verdict"`
	Sections []struct {
		ID      string  `json:"id"`
		Mark    float64 `json:"mark"`
		Of      float64 `json:"of"`
		Reasons []struct {
			Text string `json:"text"`
			Seq  int    `json:"seq"`
			Good bool   `json:"good"`
		} `json:"reasons"`
	} `json:"sections"`
	Points []struct {
		Seq        int                `json:"seq"`
		Minutes    float64            `json:"minutes"`
		Bits       float64            `json:"bits"`
		Candidates int                `json:"candidates"`
		Theirs     map[string]string  `json:"theirs"`
		Evidence   map[string]string  `json:"evidence"`
		Standings  map[string]float64 `json:"standings"`
	} `json:"points"`
	Standings    Standings   `json:"standings"`
	Minutes      float64     `json:"minutes"`
	LimitMinutes float64     `json:"limit_minutes"`
	Money        float64     `json:"money"`
	LimitMoney   float64     `json:"limit_money"`
	Wasted       []Waste     `json:"wasted"`
	Worth        RepairValue `json:"worth"`
	Hand         HandOver    `json:"hand_over"`
}

func (o *first) now() *Assessment {
	a := &Assessment{Form: FormNow, ModelVersion: o.ModelVersion, Truth: []Truth{}, Class: strings.ReplaceAll(o.Class, " ", "-"), Verdict: []Reason{},
		Sections: []Section{},
		Readings: []Reading{}, Points: []Point{}, Standings: o.Standings, HandedBack: []bench.Left{}, Minutes: o.Minutes, LimitMinutes: o.LimitMinutes,
		Money: o.Money, LimitMoney: o.LimitMoney, Wasted: o.Wasted, Makeshifts: []Makeshift{}, Skipped: []Skip{}, Worth: o.Worth, Hand: o.Hand}
	if a.Wasted == nil {
		a.Wasted = []Waste{}
	}
	kept := func(text string, seq int, good bool) Reason {
		return Reason{Code: "kept", Params: problem.Pairs("text", text), Seq: seq, Good: good}
	}
	for _, t := range o.Truth {
		a.Truth = append(a.Truth, Truth{t.ID, t.Reach, t.Severity, t.Mended})
	}
	if o.Verdict != "" {
		a.Verdict = append(a.Verdict, kept(o.Verdict, -1, a.Class == Proven))
	}
	for _, s := range o.Sections {
		section := Section{ID: s.ID, Mark: s.Mark, Of: s.Of, Reasons: []Reason{}}
		for _, r := range s.Reasons {
			section.Reasons = append(section.Reasons, kept(r.Text, r.Seq, r.Good))
		}
		a.Sections = append(a.Sections, section)
	}
	a.fill()
	for _, p := range o.Points {
		a.Points = append(a.Points, Point{Seq: p.Seq, Minutes: p.Minutes, Step: Step{Kind: stepKept}, Bits: p.Bits, Candidates: p.Candidates,
			Theirs: p.Theirs, Evidence: p.Evidence, Standings: p.Standings})
	}
	return a
}
