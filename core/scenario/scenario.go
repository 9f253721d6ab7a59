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
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/procedure"
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
	// Distractors are in the machine too, and do not bring the complaint.
	Distractors []machine.FaultSpec `json:"distractors,omitempty"`
	// FuelML is what is in the tank, nil for three quarters of it.
	FuelML *float64 `json:"fuel_ml,omitempty"`
	// Words are the customer's, Claim what they come to as a symptom.
	Words   string `json:"words"`
	History string `json:"history"`
	Claim   string `json:"claim"` // id of a diagnosis.Complaint
	// Told is what the owner knows of how it came about, in the order in which it is told.
	// With none, the owner who is asked answers as the machine's life has it.
	Told []Statement `json:"told,omitempty"`
	// Kit are the tests whose instruments are on the bench, nil for all. What takes no
	// instrument can always be done.
	Kit []string `json:"kit,omitempty"`
	// Rubric says what the sections are worth and where the threshold lies, nil for what
	// is usual.
	Rubric *Rubric `json:"rubric,omitempty"`
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
	// Trial: its author works it, off the record.
	Trial bool `json:"trial,omitempty"`
	// Page is the revision of a procedure that is given with the job, as it is on this
	// machine; nil for none. In an exam it is at hand only where PageInExam says so.
	Page       *procedure.Procedure `json:"page,omitempty"`
	PageInExam bool                 `json:"page_in_exam,omitempty"`
	// Iron is a real engine that the job is worked on, as its instructor has read it; nil for
	// a machine of the model.
	Iron *ledger.Iron `json:"iron,omitempty"`
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

// Inside is everything that is wrong with the machine: what it complains of, and what
// distracts from it.
func (s *Scenario) Inside() []machine.FaultSpec {
	return append(slices.Clone(s.Faults), s.Distractors...)
}

// session puts the machine with some faults on a bench.
func (s *Scenario) session(faults []machine.FaultSpec, o bench.Options) (*bench.Session, error) {
	o.FuelML, o.Catalogue, o.Told = -1, s.Figures(), s.answer()
	if s.FuelML != nil {
		o.FuelML = *s.FuelML
	}
	return bench.NewSession(s.Family, s.Sheet, s.Ambient, faults, o)
}

// Master puts the machine on the bench of somebody who sets every test up rightly and
// reads without error; with noise, its instruments and attempts vary by a seed.
func (s *Scenario) Master(noise bool, seed uint64) (*bench.Session, error) {
	return s.session(s.Inside(), bench.Options{Technique: bench.Ideal, Noise: noise, Seed: seed})
}

// Ledger puts the machine on a bench with an attempt's seed; a real engine has none, and
// nothing of it varies.
func (s *Scenario) Ledger(seed uint64) (*ledger.Ledger, error) {
	if s.Iron != nil {
		ses, err := s.session(s.Inside(), bench.Options{Technique: bench.Ideal, OwnCare: true})
		if err != nil {
			return nil, err
		}
		return ledger.OnIron(ses, s.Iron), nil
	}
	ses, err := s.session(s.Inside(), bench.Options{Technique: bench.AsSet, Noise: true, Seed: seed})
	if err != nil {
		return nil, err
	}
	return ledger.New(ses), nil
}

// Made puts the machine on a bench where tests are made at once, in somebody's way of
// setting them up, with noise or without. Precautions count only where they are taken.
func (s *Scenario) Made(technique bench.Technique, noise bool, seed uint64) (*ledger.Ledger, error) {
	ses, err := s.session(s.Inside(), bench.Options{Technique: technique, Noise: noise, Seed: seed, OwnCare: true})
	if err != nil {
		return nil, err
	}
	return ledger.New(ses), nil
}

// Population lays out the hypotheses about a scenario's engine: one fault at a
// time, and the given sets. It does not depend on what is hidden.
func (s *Scenario) Population(ctx context.Context, sets [][]string) (*diagnosis.Population, error) {
	return diagnosis.NewPopulation(ctx, s.Job(), sets)
}

// Job is what is known of the engine before it reaches the bench.
func (s *Scenario) Job() diagnosis.Job {
	j := diagnosis.Job{Family: s.Family, Sheet: s.Sheet, Ambient: s.Ambient, Catalogue: s.Figures()}
	if s.FuelML != nil {
		j.FuelML = *s.FuelML
	}
	return j
}

// Begin takes the owner's complaint, and what the owner tells with it, into a belief.
// The error is the context's.
func (s *Scenario) Begin(ctx context.Context, b *diagnosis.Belief) error {
	if c := s.Complaint(); c != nil {
		if err := b.Complain(ctx, c.Claim); err != nil {
			return err
		}
	}
	for _, word := range s.Heard() {
		if err := b.Hear(ctx, word); err != nil {
			return err
		}
	}
	return nil
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
		for i, faults := range [2][]machine.FaultSpec{s.Inside(), nil} {
			ses, err := s.session(faults, bench.Options{Technique: bench.Ideal})
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

// Plain writes it without words of any language: the id of a word, or a figure with its
// unit.
func (t Told) Plain() string { return strings.TrimPrefix(t.String(), "@word.") }

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

// Truth is how likely the machine does what is complained of, 0 to 1, in the hands of an
// owner who knows how to start it.
func (s *Scenario) Truth() (float64, error) { return s.TruthOf(s.Claim, s.Inside()) }

// TruthOf is how likely the machine with some faults does what a complaint says. It fails
// on a complaint that is not known, and on a machine that cannot be.
func (s *Scenario) TruthOf(complaint string, faults []machine.FaultSpec) (float64, error) {
	c := diagnosis.ComplaintBy(complaint)
	if c == nil {
		return 0, fmt.Errorf("no complaint %q is known", complaint)
	}
	ses, err := s.session(faults, bench.Options{Technique: bench.Ideal})
	if err != nil {
		return 0, err
	}
	return c.Claim.Of(ses), nil
}

// ProofMinutes is how long a run must last that shows that the complaint is gone: one and a
// half times what this machine takes to falter as it comes in, or with any one of its faults
// left in it, whichever is longer; or as long as the complaint says where it does not
// falter; 0 for a complaint that takes no time.
func (s *Scenario) ProofMinutes() float64 {
	c := s.Complaint()
	if c == nil || c.Claim.Test != "run-long" {
		return 0
	}
	minutes, _ := c.Claim.Setup["minutes"].(float64)
	latest := 0.0
	for i := -1; i < len(s.Faults); i++ {
		left := s.Inside()
		if i >= 0 {
			left = s.Faults[i : i+1]
		}
		ses, err := s.session(left, bench.Options{Technique: bench.Ideal})
		if err != nil {
			return 0
		}
		latest = max(latest, ses.Test(c.Claim.Test, c.Claim.Setup).FalterAt)
		if len(s.Faults) == 1 {
			break
		}
	}
	if latest > 0 {
		return math.Ceil(1.5 * latest)
	}
	return minutes
}

// Bad says that a test that is to show the complaint gone shows an engine that does not run
// well, or the complaint's own smoke, or stop; a number out of its band; or, of a look,
// something else than a sound machine shows.
func (s *Scenario) Bad(o *bench.Observation) bool {
	t, c := catalogue.Standard().Test(o.Test), s.Complaint()
	beside := func(what string) string { s, _ := o.Also[what].(string); return s }
	switch {
	case t.Kind == catalogue.KindNumber:
		return o.Band == nil || *o.Band != "within"
	case slices.Contains(c.Claim.Smoke, beside("smoke")) || slices.Contains(c.Claim.Stop, beside("stop")):
		return true
	case t.Kind == catalogue.KindRun:
		return *o.Word != "runs-well"
	}
	sound, err := s.session(nil, bench.Options{Technique: bench.Ideal})
	return err != nil || *o.Word != *sound.Test(o.Test, nil).Word
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
