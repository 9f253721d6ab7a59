package scenario

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"regexp"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
)

// Form is a scenario as it is written, kept and exchanged: open, and whole in itself. What
// it leaves out is as usual: the family's sheet, 20 °C at sea level, three quarters of a
// tank, every instrument, open, with the usual weights.
type Form struct {
	// Title is the author's, and told to no apprentice.
	Title string `json:"title,omitempty"`
	// Machine is the id of a family, Sheet what its machine has otherwise.
	Machine     string              `json:"machine"`
	Sheet       catalogue.Sheet     `json:"sheet,omitempty"`
	Ambient     *machine.Ambient    `json:"ambient,omitempty"`
	FuelML      *float64            `json:"fuel_ml,omitempty"`
	Faults      []machine.FaultSpec `json:"faults"`
	Distractors []machine.FaultSpec `json:"distractors,omitempty"`
	Complaint   string              `json:"complaint"`
	Words       string              `json:"words"`
	// Story is what else stands on the card of how it came about, in words.
	Story        string      `json:"story,omitempty"`
	History      []Statement `json:"history,omitempty"`
	Kit          []string    `json:"kit,omitempty"`
	LimitMinutes float64     `json:"limit_minutes"`
	LimitMoney   float64     `json:"limit_money"`
	Mode         string      `json:"mode,omitempty"`
	ProperOnly   bool        `json:"proper_only,omitempty"`
	// Procedure is the id of a procedure to be followed; PageInExam gives it in an exam too.
	Procedure  string  `json:"procedure,omitempty"`
	PageInExam bool    `json:"page_in_exam,omitempty"`
	Rubric     *Rubric `json:"rubric,omitempty"`
	Seed       uint64  `json:"seed,omitempty"`
}

// Limits on a form from outside.
const (
	maxForm  = 1 << 20 // of bytes
	maxTitle = 120     // of letters
)

// ReadForm reads a scenario as JSON. Whatever is wrong with its form is a
// *problem.Problem, with the place; what it says is checked by Scenario.
func ReadForm(r io.Reader) (*Form, error) {
	raw, err := io.ReadAll(io.LimitReader(r, maxForm+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > maxForm {
		return nil, problem.New("", "scenario.form-too-long", "most", maxForm)
	}
	var f Form
	if err := Decode(raw, &f); err != nil {
		return nil, err
	}
	return &f, nil
}

// Decode reads one JSON value without members that nobody knows. Whatever is wrong with it
// is a *problem.Problem with the place.
func Decode(raw []byte, v any) error {
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	if err := d.Decode(v); err != nil {
		return notRead(err)
	}
	if d.More() {
		return problem.New("", "scenario.form-goes-on")
	}
	return nil
}

// FormOf writes a scenario in its open form. Its page and the yard's own figures have no
// place in it.
func FormOf(s *Scenario) Form {
	f := Form{Machine: s.Family, Faults: s.Faults, Distractors: s.Distractors, Complaint: s.Claim, Words: s.Words, Story: s.History,
		History: s.Told, Kit: s.Kit, LimitMinutes: s.LimitMinutes, LimitMoney: s.LimitMoney, Mode: s.Mode, ProperOnly: s.ProperOnly, Rubric: s.Rubric,
		FuelML: s.FuelML, PageInExam: s.PageInExam}
	if s.Ambient != (machine.Ambient{TemperatureC: 20}) {
		f.Ambient = &s.Ambient
	}
	f.Sheet = catalogue.Sheet{}
	usual := catalogue.Standard().Family(s.Family).Sheet
	for id, v := range s.Sheet {
		if v != usual[id] {
			f.Sheet[id] = v
		}
	}
	if len(f.Sheet) == 0 {
		f.Sheet = nil
	}
	return f
}

var unknownField = regexp.MustCompile(`unknown field "(.*)"`)

// notRead puts the decoder's error to its place.
func notRead(err error) error {
	var wrong *json.UnmarshalTypeError
	var syntax *json.SyntaxError
	switch {
	case errors.As(err, &wrong):
		return problem.New(strings.TrimPrefix(wrong.Field, "Form."), "scenario.form-not-of-this-kind", "is", wrong.Value)
	case errors.As(err, &syntax):
		return problem.New("", "scenario.form-not-json", "byte", syntax.Offset)
	}
	if m := unknownField.FindStringSubmatch(err.Error()); m != nil {
		return problem.New(m[1], "scenario.form-unknown-member", "name", m[1])
	}
	return problem.New("", "scenario.form-not-json", "byte", 0)
}

// Scenario makes a scenario of it, on a machine of its own family and sheet. What is wrong
// with it comes as problems, with places in the form; the scenario is nil where the
// machine cannot be.
func (f *Form) Scenario() (*Scenario, []problem.Problem) {
	fam := catalogue.Standard().Family(f.Machine)
	if fam == nil {
		var ids []string
		for _, x := range catalogue.Standard().Families {
			ids = append(ids, x.ID)
		}
		return nil, []problem.Problem{*problem.New("machine", "sim.no-machine", "family", f.Machine, "ids", ids)}
	}
	// A fault that only a variant has makes the machine that variant, unless its sheet says
	// otherwise.
	sheet, given := catalogue.Standard().Given(fam.ID, f.Sheet)
	var all []catalogue.Needing
	for _, x := range append(slices.Clone(f.Faults), f.Distractors...) {
		if def := catalogue.Standard().Fault(x.ID); def != nil {
			all = append(all, catalogue.Needing{ID: x.ID, Needs: def.Needs})
		}
	}
	sheet, _, _ = catalogue.Standard().Variant(fam, sheet, given, all)
	s := f.On(fam.ID, sheet)
	s.Faults, s.Distractors = full(s.Faults), full(s.Distractors)
	bad := s.Check()
	for i := range bad {
		if bad[i].Path == "claim" { // as it is called there
			bad[i].Path = "complaint"
		}
	}
	if len([]rune(f.Title)) > maxTitle {
		bad = append(bad, *problem.New("title", "scenario.words-too-long", "most", maxTitle))
	}
	return s, bad
}

// full gives faults that say nothing of how bad they are at their worst.
func full(faults []machine.FaultSpec) []machine.FaultSpec {
	out := slices.Clone(faults)
	for i := range out {
		if out[i].Severity == 0 {
			out[i].Severity = 1
		}
	}
	return out
}

// On makes a scenario of it on a machine of a family with a whole sheet of its own.
func (f *Form) On(family string, sheet catalogue.Sheet) *Scenario {
	s := &Scenario{Family: family, Sheet: sheet, Ambient: machine.Ambient{TemperatureC: 20}, Faults: f.Faults, Distractors: f.Distractors, FuelML: f.FuelML,
		Words: f.Words, History: f.Story, Claim: f.Complaint, Told: f.History, Kit: f.Kit, LimitMinutes: f.LimitMinutes, LimitMoney: f.LimitMoney,
		Mode: f.Mode, ProperOnly: f.ProperOnly, PageInExam: f.PageInExam, Rubric: f.Rubric}
	if f.Ambient != nil {
		s.Ambient = *f.Ambient
	}
	return s
}
