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
	"zanjero/core/procedure"
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
	Claim   string `json:"claim"` // id of a diagnosis.Complaint
	// Own are the yard's own minutes and base rates as they were when the job was given,
	// nil for the catalogue's: they stay under it, whatever the yard says later.
	Own *catalogue.Own `json:"own,omitempty"`
	// Limits in minutes and in the yard's money.
	LimitMinutes float64 `json:"limit_minutes"`
	LimitMoney   float64 `json:"limit_money"`
	// Mode is how the job is given, open where nothing is said; ProperOnly bars
	// makeshift repairs.
	Mode       string `json:"mode,omitempty"`
	ProperOnly bool   `json:"proper_only,omitempty"`
	// First is a lesson that somebody takes by themselves; it counts for nothing.
	First bool `json:"first,omitempty"`
	// Page is the revision of a procedure that is given with the job, as it is on this
	// machine; nil for none. In an exam it is at hand only where PageInExam says so.
	Page       *procedure.Procedure `json:"page,omitempty"`
	PageInExam bool                 `json:"page_in_exam,omitempty"`
}

// PageAtHand is the page that is followed at the bench, or nil.
func (s *Scenario) PageAtHand() *procedure.Procedure {
	if s.Mode == ModeExam && !s.PageInExam {
		return nil
	}
	return s.Page
}

// Figures is the catalogue whose minutes and base rates the job goes by. It is not to
// be changed.
func (s *Scenario) Figures() *catalogue.Catalogue { return catalogue.Standard().With(s.Own) }

// Complaint gives what is complained of, or nil where nothing is claimed.
func (s *Scenario) Complaint() *diagnosis.Complaint { return diagnosis.ComplaintBy(s.Claim) }

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
		return []problem.Problem{*problem.New("family", "scenario.no-engine-family", "family", s.Family)}
	}
	for _, p := range catalogue.Standard().CheckSheet(s.Family, s.Sheet) {
		add(p.At("sheet."))
	}
	add(machine.CheckAmbient("ambient", s.Ambient))
	switch n := len(s.Faults); {
	case n == 0:
		add(problem.New("faults", "scenario.no-fault-hidden"))
	case n > MaxHidden:
		add(problem.New("faults", "scenario.faults-hidden", "count", n))
	}
	for i, f := range s.Faults {
		path := fmt.Sprintf("faults[%d]", i)
		add(machine.CheckFault(path, f, fam))
		add(s.checkVariant(path, f.ID))
		if slices.ContainsFunc(s.Faults[:i], func(o machine.FaultSpec) bool { return o.ID == f.ID }) {
			add(problem.New(path+".id", "scenario.fault-hidden-twice"))
		}
		if def := catalogue.Standard().Fault(f.ID); def != nil && def.Graded && f.Severity < 0.05 {
			add(problem.New(path+".severity", "scenario.fault-as-slight-as-cannot-be-found"))
		}
	}
	add(machine.CheckTogether("faults", s.Faults))
	if strings.TrimSpace(s.Words) == "" {
		add(problem.New("words", "scenario.customer-says-nothing"))
	}
	if len(s.Words) > 600 || len(s.History) > 2000 {
		add(problem.New("words", "scenario.complaint-or-history-too-long"))
	}
	if s.Complaint() == nil {
		add(problem.New("claim", "scenario.complaint-comes-no-known-symptom"))
	}
	if !(s.LimitMinutes >= 10 && s.LimitMinutes <= 600) {
		add(problem.New("limit_minutes", "scenario.minutes-out-range", "value", s.LimitMinutes))
	}
	if !slices.Contains(Modes, s.Guide()) {
		add(problem.New("mode", "scenario.no-mode", "mode", s.Mode, "modes", Modes))
	}
	if s.Page != nil {
		for _, r := range s.Page.Check(s.Family, s.Sheet) {
			if r.Serious {
				add(r.At("page."))
			}
		}
	}
	if !(s.LimitMoney >= 0 && s.LimitMoney <= 10000) {
		add(problem.New("limit_money", "scenario.out-range", "value", s.LimitMoney))
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
		return problem.New(path+".id", "scenario.its-sheet-machine-cannot", "id", id)
	}
	return nil
}

// Ledger puts the machine on a bench with an attempt's seed.
func (s *Scenario) Ledger(seed uint64) (*ledger.Ledger, error) {
	ses, err := bench.NewSession(s.Family, s.Sheet, s.Ambient, s.Faults, bench.Options{Technique: bench.AsSet, Noise: true, Seed: seed, FuelML: -1,
		Catalogue: s.Figures()})
	if err != nil {
		return nil, err
	}
	return ledger.New(ses), nil
}

// Population lays out the hypotheses about a scenario's engine: one fault at a
// time, and the given sets. It does not depend on what is hidden.
func (s *Scenario) Population(ctx context.Context, sets [][]string) (*diagnosis.Population, error) {
	return diagnosis.NewPopulation(ctx, diagnosis.Job{Family: s.Family, Sheet: s.Sheet, Ambient: s.Ambient, Catalogue: s.Figures()}, sets)
}

// PreviewRow is what one test would show on this machine, set up as a master would,
// beside a healthy one.
type PreviewRow struct {
	Test, Lateral string
	Minutes       float64
	// Shows and Healthy are what the two show.
	Shows, Healthy Told
	// Differs: a competent tester would tell the two apart.
	Differs bool
}

// Preview makes every test on a fresh machine and on a healthy one.
func (s *Scenario) Preview(ctx context.Context) ([]PreviewRow, error) {
	var rows []PreviewRow
	for _, t := range s.Figures().TestsOf(s.Family, s.Sheet) {
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
		rows = append(rows, PreviewRow{Test: t.ID, Lateral: t.Lateral, Minutes: minutes,
			Shows: Tell(seen[0]), Healthy: Tell(seen[1]), Differs: differs(t, seen[0], seen[1])})
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

// Told is what a test showed, for whoever puts it into words and figures: a
// word, a number in a unit, or that a meter was over its limit.
type Told struct {
	Word  string   `json:"word,omitempty"`
	Value *float64 `json:"value,omitempty"`
	Unit  string   `json:"unit,omitempty"`
	Over  bool     `json:"over,omitempty"`
	// FalterMin is when a long run faltered, 0 where it did not.
	FalterMin float64 `json:"falter_min,omitempty"`
}

// String writes it as a parameter of a message: a figure with its unit, or the
// key of a word.
func (t Told) String() string {
	switch {
	case t.Word != "":
		return "@word." + t.Word
	case t.Over:
		return "@word.over-limit"
	case t.Value == nil:
		return ""
	case *t.Value >= 100:
		return strings.TrimSpace(fmt.Sprintf("%.0f %s", *t.Value, t.Unit))
	}
	return strings.TrimSpace(fmt.Sprintf("%.3g %s", *t.Value, t.Unit))
}

// Tell takes of an observation what it showed.
func Tell(o bench.Observation) Told {
	if o.Word != nil {
		t := Told{Word: *o.Word}
		if m, ok := o.Also["minutes_to_falter"].(float64); ok {
			t.FalterMin = math.Round(m)
		}
		return t
	}
	return Told{Value: o.Value, Unit: o.Unit, Over: o.Over()}
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
	p := foresee.Replay(ses, ledger.Line{Kind: ledger.EventTake, Test: c.Claim.Test, Setup: c.Claim.Setup}, ses.TestOf(c.Claim.Test), true, nil)
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
	Test, Figure string
	Reads        Told
	Sheet        catalogue.Figure
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
		rows = append(rows, HealthyRow{Test: t.ID, Reads: Tell(o), Figure: t.Figure, Sheet: f, Agrees: *o.Band == "within"})
	}
	return rows, nil
}
