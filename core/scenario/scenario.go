// Package scenario holds a job as an instructor sets it, and the checks that
// are made while it is written: what an apprentice will find, and whether the
// complaint is true of this machine.
package scenario

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/foresee"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/setup"
)

// Scenario is a machine with hidden faults, a customer's words, and limits.
type Scenario struct {
	// Name and Code of the machine, as it was when the job was set.
	Name    string              `json:"name"`
	Code    string              `json:"code"`
	Family  string              `json:"family"`
	Sheet   catalogue.Sheet     `json:"sheet"`
	Ambient machine.Ambient     `json:"ambient"`
	Faults  []machine.FaultSpec `json:"faults"`
	// Words are the customer's, Claim what they come to as a symptom.
	Words   string `json:"words"`
	History string `json:"history"`
	Claim   string `json:"claim"` // id of a Complaint
	// Limits in minutes and in the yard's money.
	LimitMinutes float64 `json:"limit_minutes"`
	LimitMoney   float64 `json:"limit_money"`
	// Mode is how the job is given, open where nothing is said; ProperOnly bars
	// makeshift repairs.
	Mode       string `json:"mode,omitempty"`
	ProperOnly bool   `json:"proper_only,omitempty"`
}

// Complaint is a symptom under a condition, as owners state it.
type Complaint struct {
	ID    string
	Name  string
	Claim diagnosis.Claim
}

// Complaints are the symptoms that can be claimed.
var Complaints = []Complaint{
	{"no-start", "It does not start", diagnosis.Claim{Test: "start-attempt", Words: []string{"no-fire", "fires-and-dies"}}},
	{"dies-at-once", "It fires and dies", diagnosis.Claim{Test: "start-attempt", Words: []string{"fires-and-dies"}}},
	{"only-on-choke", "It runs only with the choke on", diagnosis.Claim{Test: "start-attempt", Words: []string{"runs-only-on-choke"}}},
	{"weak", "It starts but has no power", diagnosis.Claim{Test: "start-attempt", Words: []string{"bogs", "low-power", "runs-only-on-choke"}}},
	{"no-idle", "It will not idle", diagnosis.Claim{Test: "start-attempt", Words: []string{"stalls-at-idle", "hunts"}}},
	{"dies-later", "It runs, then stops after some minutes", diagnosis.Claim{Test: "run-long", Setup: setup.Settings{"minutes": 30.0, "load": "test"}, Words: []string{"starves", "fades", "cuts-out-hot"}}},
}

// Complaint gives a complaint by id, or nil.
func (s *Scenario) Complaint() *Complaint {
	i := slices.IndexFunc(Complaints, func(c Complaint) bool { return c.ID == s.Claim })
	if i < 0 {
		return nil
	}
	return &Complaints[i]
}

// MaxHidden is the most faults that one job hides.
const MaxHidden = 2

// Check lists what is wrong with a scenario, with where and how to mend it.
func (s *Scenario) Check() []problem.Problem {
	var out []problem.Problem
	add := func(p *problem.Problem) {
		if p != nil {
			out = append(out, *p)
		}
	}
	fam := catalogue.Standard().Family(s.Family)
	if fam == nil {
		return []problem.Problem{{Path: "family", Problem: fmt.Sprintf("there is no engine family %q", s.Family), Mend: "choose a machine of the yard"}}
	}
	for _, p := range catalogue.Standard().CheckSheet(s.Family, s.Sheet) {
		add(&problem.Problem{Path: "sheet." + p.Path, Problem: p.Problem, Mend: p.Mend})
	}
	add(machine.CheckAmbient("ambient", s.Ambient))
	switch n := len(s.Faults); {
	case n == 0:
		add(&problem.Problem{Path: "faults", Problem: "no fault is hidden", Mend: "hide one or two on the board"})
	case n > MaxHidden:
		add(&problem.Problem{Path: "faults", Problem: fmt.Sprintf("%d faults are hidden", n), Mend: "hide one or two"})
	}
	for i, f := range s.Faults {
		path := fmt.Sprintf("faults[%d]", i)
		add(machine.CheckFault(path, f, fam))
		add(s.checkVariant(path, f.ID))
		if slices.ContainsFunc(s.Faults[:i], func(o machine.FaultSpec) bool { return o.ID == f.ID }) {
			add(&problem.Problem{Path: path + ".id", Problem: "this fault is hidden twice", Mend: "take one away"})
		}
		if def := catalogue.Standard().Fault(f.ID); def != nil && def.Graded && f.Severity < 0.05 {
			add(&problem.Problem{Path: path + ".severity", Problem: "a fault as slight as this cannot be found", Mend: "set it to 0.05 or more"})
		}
	}
	add(machine.CheckTogether("faults", s.Faults))
	if strings.TrimSpace(s.Words) == "" {
		add(&problem.Problem{Path: "words", Problem: "the customer says nothing", Mend: "write the complaint in the customer's words"})
	}
	if len(s.Words) > 600 || len(s.History) > 2000 {
		add(&problem.Problem{Path: "words", Problem: "complaint or history is too long", Mend: "keep the complaint to 600 and the history to 2000 characters"})
	}
	if s.Complaint() == nil {
		add(&problem.Problem{Path: "claim", Problem: "the complaint comes to no known symptom", Mend: "choose the symptom that the words describe"})
	}
	if !(s.LimitMinutes >= 10 && s.LimitMinutes <= 600) {
		add(&problem.Problem{Path: "limit_minutes", Problem: fmt.Sprintf("%g minutes is out of range", s.LimitMinutes), Mend: "allow from 10 to 600 minutes"})
	}
	if !slices.Contains(Modes, s.Guide()) {
		add(&problem.Problem{Path: "mode", Problem: fmt.Sprintf("there is no mode %q", s.Mode), Mend: "choose " + strings.Join(Modes, ", ")})
	}
	if !(s.LimitMoney >= 0 && s.LimitMoney <= 10000) {
		add(&problem.Problem{Path: "limit_money", Problem: fmt.Sprintf("%g is out of range", s.LimitMoney), Mend: "allow from 0 to 10000"})
	}
	return out
}

// checkVariant refuses a fault that this machine cannot have by its sheet,
// though another of its family can.
func (s *Scenario) checkVariant(path, id string) *problem.Problem {
	cat := catalogue.Standard()
	has := func(sheet catalogue.Sheet) bool {
		return slices.ContainsFunc(cat.FaultsOf(s.Family, sheet), func(f catalogue.Fault) bool { return f.ID == id })
	}
	if has(nil) && !has(s.Sheet) {
		return &problem.Problem{Path: path + ".id", Problem: fmt.Sprintf("by its sheet this machine cannot have %q", id), Mend: "hide another fault, or mend the sheet"}
	}
	return nil
}

// Ledger puts the machine on a bench with an attempt's seed.
func (s *Scenario) Ledger(seed uint64) (*ledger.Ledger, error) {
	ses, err := bench.NewSession(s.Family, s.Sheet, s.Ambient, s.Faults, bench.Options{Technique: bench.AsSet, Noise: true, Seed: seed, FuelML: -1})
	if err != nil {
		return nil, err
	}
	return ledger.New(ses), nil
}

// Population lays out the hypotheses about a scenario's engine: one fault at a
// time, and the given sets. It does not depend on what is hidden.
func (s *Scenario) Population(ctx context.Context, sets [][]string) (*diagnosis.Population, error) {
	return diagnosis.NewPopulation(ctx, diagnosis.Job{Family: s.Family, Sheet: s.Sheet, Ambient: s.Ambient}, sets)
}

// Row is what one test would show on this machine, set up as a master would,
// beside a healthy one.
type Row struct {
	Test, Title, Lateral string
	Minutes              float64
	Shows, Healthy       string
	// Differs: a competent tester would tell the two apart.
	Differs bool
}

// Preview makes every test on a fresh machine and on a healthy one.
func (s *Scenario) Preview(ctx context.Context) ([]Row, error) {
	var rows []Row
	for _, t := range catalogue.Standard().TestsOf(s.Family, s.Sheet) {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		var seen [2]bench.Observation
		var minutes float64
		for i, faults := range [2][]machine.FaultSpec{s.Faults, nil} {
			ses, err := bench.NewSession(s.Family, s.Sheet, s.Ambient, faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
			if err != nil {
				return nil, err
			}
			if t.ID == "plug-look" {
				ses.Test("start-attempt", nil) // a plug is looked at after an attempt
			}
			minutes = t.Minutes + ses.AccessMinutes(&t)
			seen[i] = ses.Test(t.ID, nil)
		}
		rows = append(rows, Row{Test: t.ID, Title: t.Title, Lateral: t.Lateral, Minutes: minutes,
			Shows: Say(seen[0]), Healthy: Say(seen[1]), Differs: differs(t, seen[0], seen[1])})
	}
	return rows, nil
}

func differs(t catalogue.Test, a, b bench.Observation) bool {
	if t.Kind != catalogue.KindNumber {
		return *a.Word != *b.Word
	}
	if a.Over() || b.Over() {
		return a.Over() != b.Over()
	}
	acc := instrument.AccuracyOf(t.ID)
	return math.Abs(*a.Value-*b.Value) > 3*(math.Abs(*b.Value)*(acc.Bias+acc.Repeat)+acc.Floor)
}

// Say puts an observation into words: "62 psi", "over-limit", "runs well".
func Say(o bench.Observation) string {
	switch {
	case o.Word != nil:
		w := strings.ReplaceAll(*o.Word, "-", " ")
		if m, ok := o.Also["minutes_to_falter"].(float64); ok {
			w += fmt.Sprintf(" at %.0f min", m)
		}
		return w
	case o.Over():
		return "over-limit"
	}
	if *o.Value >= 100 {
		return strings.TrimSpace(fmt.Sprintf("%.0f %s", *o.Value, o.Unit))
	}
	return strings.TrimSpace(fmt.Sprintf("%.3g %s", *o.Value, o.Unit))
}

// Truth is how likely the complaint is of this machine, 0 to 1, from the
// spread of attempts.
func (s *Scenario) Truth() (float64, error) {
	c := s.Complaint()
	if c == nil {
		return 0, fmt.Errorf("no complaint is claimed")
	}
	ses, err := bench.NewSession(s.Family, s.Sheet, s.Ambient, s.Faults, bench.Options{Technique: bench.Ideal, FuelML: -1})
	if err != nil {
		return 0, err
	}
	// An owner knows how to start it: on choke or primed, with the bar held.
	ses.Control(setup.Settings{"choke": 1.0})
	p := foresee.Replay(ses, ledger.Line{Kind: ledger.EventTake, Test: c.Claim.Test, Setup: c.Claim.Setup}, true, true)
	sum := 0.0
	for _, w := range p.Words {
		if slices.Contains(c.Claim.Words, w.Word) {
			sum += w.P
		}
	}
	return min(sum, 1), nil
}

// HealthyRow is what the model reads on a sound machine of a sheet, beside the
// sheet's own figure.
type HealthyRow struct {
	Test, Title, Reads, Figure, Sheet string
	// Agrees: the reading lies in the sheet's band.
	Agrees bool
}

// Healthy holds the model's healthy readings against the sheet.
func (s *Scenario) Healthy(ctx context.Context) ([]HealthyRow, error) {
	var rows []HealthyRow
	for _, t := range catalogue.Standard().TestsOf(s.Family, s.Sheet) {
		if t.Kind != catalogue.KindNumber || t.Figure == "" {
			continue
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		ses, err := bench.NewSession(s.Family, s.Sheet, s.Ambient, nil, bench.Options{Technique: bench.Ideal, FuelML: -1})
		if err != nil {
			return nil, err
		}
		o := ses.Test(t.ID, nil)
		f := s.Sheet[t.Figure]
		rows = append(rows, HealthyRow{Test: t.ID, Title: t.Title, Reads: Say(o), Figure: t.Figure, Sheet: f.String(), Agrees: *o.Band == "within"})
	}
	return rows, nil
}
