package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"

	"github.com/google/uuid"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/core/units"
	"zanjero/internal/store"
)

// GetFamily tells what an engine family has: the same for every job on it.
func (s *Server) GetFamily(_ context.Context, req GetFamilyRequestObject) (GetFamilyResponseObject, error) {
	cat := catalogue.Standard()
	fam := cat.Family(req.Family)
	if fam == nil {
		return nil, errNotFound
	}
	out := Family{Id: fam.ID, Name: fam.Name, Laterals: []Named{}, Reaches: []Reach{}, Faults: []FaultKind{}, Tests: []Test{}, Covers: []Cover{},
		Controls: []Control{}, Acts: []Named{}, Actions: []Action{}, Repairs: []RepairKind{}, Causes: []Named{}, Advice: []Named{}, Hazards: []Hazard{}, Complaints: []Named{}, Setups: cat.Setups, Blades: bench.Blades}
	for _, l := range cat.Laterals {
		out.Laterals = append(out.Laterals, Named{l.ID, l.Name})
	}
	for _, r := range cat.ReachesOf(fam.ID) {
		out.Reaches = append(out.Reaches, Reach{Id: r.ID, Name: r.Name, Lateral: r.Lateral, Beside: r.Beside})
		for _, a := range cat.Repairs.Acts {
			if !a.On(fam.ID, r.ID) {
				continue
			}
			w := cat.Repair(a.ID, r.ID)
			kind := RepairKind{Act: a.ID, Reach: r.ID, Minutes: w.Minutes, Cost: w.Cost, Verdict: text(a.Verdict)}
			if copied := bench.RepairCost(a.ID, r.ID, bench.GradeCopy); copied != w.Cost {
				kind.CopyCost = &copied
			}
			out.Repairs = append(out.Repairs, kind)
		}
	}
	for _, f := range cat.FaultsOf(fam.ID, nil) {
		out.Faults = append(out.Faults, FaultKind{Id: f.ID, Name: f.Name, Reach: f.Reach, Graded: f.Graded, Modes: list(f.Modes), Causes: list(f.Causes)})
	}
	for _, t := range cat.TestsOf(fam.ID, nil) {
		out.Tests = append(out.Tests, testOf(t))
	}
	for _, id := range fam.Covers {
		c := cat.Cover(id)
		out.Covers = append(out.Covers, Cover{Id: c.ID, Name: c.Name, Off: c.Off, Note: c.Note})
	}
	for _, id := range fam.Controls {
		c := cat.Control(id)
		out.Controls = append(out.Controls, Control{Id: c.ID, Name: c.Name, Positions: list(c.Positions), Lever: c.Lever, Low: text(c.Low), High: text(c.High)})
	}
	for _, a := range cat.Repairs.Acts {
		out.Acts = append(out.Acts, Named{a.ID, a.Name})
	}
	for _, a := range cat.ActionsOf(fam.ID) {
		out.Actions = append(out.Actions, Action{Id: a.ID, Name: a.Name, Kind: ActionKind(a.Kind), Minutes: a.Minutes})
	}
	for _, c := range cat.Causes {
		out.Causes = append(out.Causes, Named{c.ID, c.Name})
	}
	for _, a := range cat.Advice {
		out.Advice = append(out.Advice, Named{a.ID, a.Text})
	}
	for _, h := range cat.Hazards {
		out.Hazards = append(out.Hazards, Hazard{h.ID, h.Caution, list(h.Precautions)})
	}
	for _, c := range scenario.Complaints {
		out.Complaints = append(out.Complaints, Named{c.ID, c.Name})
	}
	return GetFamily200JSONResponse(out), nil
}

func testOf(t catalogue.Test) Test {
	out := Test{Id: t.ID, Title: t.Title, Lateral: t.Lateral, Kind: TestKind(t.Kind), Minutes: t.Minutes, Access: list(t.Access), Reaches: list(t.Reaches),
		Hazards: list(t.Hazards), Words: list(t.Words), Teaches: t.Teaches, Cannot: t.Cannot, Instrument: text(t.Instrument), Figure: text(t.Figure), Long: t.Long, Units: []string{}, Valid: []string{}}
	for _, c := range t.Conditions {
		out.Valid = append(out.Valid, c.Met)
	}
	if !t.Named() {
		out.Words = []string{} // told, not named by the apprentice
	}
	if t.Unit != "" {
		for _, u := range units.Alike(units.Unit(t.Unit)) {
			out.Units = append(out.Units, string(u))
		}
		// In a fixed order, so that the offer does not point at the right one.
		slices.Sort(out.Units)
	}
	return out
}

// list keeps an absent list from turning into null.
func list[T any](l []T) []T {
	if l == nil {
		return []T{}
	}
	return l
}

func text(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

// ListApprentices lists whom a job can be given to.
func (s *Server) ListApprentices(ctx context.Context, _ ListApprenticesRequestObject) (ListApprenticesResponseObject, error) {
	ps, err := s.store.Apprentices(ctx)
	if err != nil {
		return nil, err
	}
	out := ListApprentices200JSONResponse{}
	for _, p := range ps {
		out = append(out, personOf(p))
	}
	return out, nil
}

// scenarioOf makes a scenario of a job as it was sent, with the machine's own
// sheet as it stands now.
func (s *Server) scenarioOf(ctx context.Context, spec JobSpec) (*scenario.Scenario, error) {
	m, err := s.store.Machine(ctx, spec.MachineId)
	if err != nil {
		return nil, refuseAll([]problem.Problem{{Path: "machine_id", Problem: "this machine is not in the yard", Mend: "choose a machine of the yard"}})
	}
	sheet, err := sheetOf(m)
	if err != nil {
		return nil, err
	}
	sc := &scenario.Scenario{Name: m.Name, Code: m.Code, Family: m.Family, Sheet: sheet, Ambient: machine.Ambient{TemperatureC: 20}, Faults: spec.Faults, Words: spec.Words,
		Claim: spec.Claim, LimitMinutes: spec.LimitMinutes, LimitMoney: spec.LimitMoney}
	if spec.History != nil {
		sc.History = *spec.History
	}
	if spec.TemperatureC != nil {
		sc.Ambient.TemperatureC = *spec.TemperatureC
	}
	if spec.AltitudeM != nil {
		sc.Ambient.AltitudeM = *spec.AltitudeM
	}
	if spec.Mode != nil {
		sc.Mode = *spec.Mode
	}
	if spec.ProperOnly != nil {
		sc.ProperOnly = *spec.ProperOnly
	}
	return sc, nil
}

// PreviewJob tells an author what an apprentice would find, and whether the
// complaint is true, while the job is being written.
func (s *Server) PreviewJob(ctx context.Context, req PreviewJobRequestObject) (PreviewJobResponseObject, error) {
	sc, err := s.scenarioOf(ctx, *req.Body)
	if err != nil {
		return nil, err
	}
	out := PreviewJob200JSONResponse{Problems: list(sc.Check()), Rows: []PreviewRow{}}
	for _, p := range out.Problems {
		if !slices.Contains([]string{"words", "claim", "limit_minutes", "limit_money", "mode", "faults"}, p.Path) || len(sc.Faults) > scenario.MaxHidden {
			return out, nil // this machine cannot be put on a bench
		}
	}
	rows, err := sc.Preview(ctx)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		out.Rows = append(out.Rows, PreviewRow{Test: r.Test, Title: r.Title, Lateral: r.Lateral, Minutes: r.Minutes, Shows: r.Shows, Healthy: r.Healthy, Differs: r.Differs})
		if r.Test == "start-attempt" {
			out.Does = &r.Shows
		}
	}
	if sc.Complaint() != nil {
		p, err := sc.Truth()
		if err != nil {
			return nil, err
		}
		out.ComplaintTrue = &p
	}
	return out, nil
}

// CreateJob keeps a job. Nothing is stored of one that is wrong.
func (s *Server) CreateJob(ctx context.Context, req CreateJobRequestObject) (CreateJobResponseObject, error) {
	sc, err := s.scenarioOf(ctx, *req.Body)
	if err != nil {
		return nil, err
	}
	if ps := sc.Check(); len(ps) > 0 {
		return nil, refuseAll(ps)
	}
	raw, err := json.Marshal(sc)
	if err != nil {
		return nil, err
	}
	j := store.Job{ID: uuid.New(), MachineID: req.Body.MachineId, SetBy: whoIs(ctx).ID, Scenario: raw}
	if err := s.store.AddJob(ctx, &j); err != nil {
		return nil, err
	}
	out, err := jobOf(j, nil)
	return CreateJob201JSONResponse(out), err
}

func scenarioIn(j store.Job) (*scenario.Scenario, error) {
	var sc scenario.Scenario
	if err := json.Unmarshal(j.Scenario, &sc); err != nil {
		return nil, fmt.Errorf("job %d: scenario: %w", j.Number, err)
	}
	sc.Sheet = catalogue.Standard().Complete(sc.Family, sc.Sheet)
	return &sc, nil
}

func jobOf(j store.Job, attempts []store.Attempt) (Job, error) {
	sc, err := scenarioIn(j)
	if err != nil {
		return Job{}, err
	}
	out := Job{Id: j.ID, Number: int(j.Number), MachineName: j.Machine.Name, Attempts: []AttemptCard{},
		Spec: JobSpec{MachineId: j.MachineID, Faults: list(sc.Faults), Words: sc.Words, History: &sc.History, Claim: sc.Claim,
			LimitMinutes: sc.LimitMinutes, LimitMoney: sc.LimitMoney, TemperatureC: &sc.Ambient.TemperatureC, AltitudeM: &sc.Ambient.AltitudeM, Mode: text(sc.Guide()), ProperOnly: &sc.ProperOnly}}
	for _, a := range attempts {
		if a.JobID == j.ID {
			card, err := cardOf(a)
			if err != nil {
				return Job{}, err
			}
			out.Attempts = append(out.Attempts, card)
		}
	}
	return out, nil
}

// ListJobs lists what was set, with who has it.
func (s *Server) ListJobs(ctx context.Context, _ ListJobsRequestObject) (ListJobsResponseObject, error) {
	js, err := s.store.Jobs(ctx)
	if err != nil {
		return nil, err
	}
	as, err := s.store.Attempts(ctx, uuid.Nil)
	if err != nil {
		return nil, err
	}
	out := ListJobs200JSONResponse{}
	for _, j := range js {
		job, err := jobOf(j, as)
		if err != nil {
			return nil, err
		}
		out = append(out, job)
	}
	return out, nil
}

// GiveJob puts a job into an apprentice's hands, once.
func (s *Server) GiveJob(ctx context.Context, req GiveJobRequestObject) (GiveJobResponseObject, error) {
	j, err := s.store.Job(ctx, req.Job)
	if err != nil {
		return nil, err
	}
	p, err := s.store.Person(ctx, req.Body.ApprenticeId)
	if err != nil || p.Role != store.Apprentice {
		return nil, refuseAll([]problem.Problem{{Path: "apprentice_id", Problem: "this is no apprentice", Mend: "choose one from the list"}})
	}
	a := store.Attempt{ID: uuid.New(), JobID: j.ID, ApprenticeID: p.ID, ModelVersion: machine.Version, State: store.StateNew}
	a.Seed = s.Seed(a.ID)
	if err := s.store.AddAttempt(ctx, &a); err != nil {
		if store.IsDuplicate(err) {
			return nil, refuse(http.StatusConflict, fmt.Sprintf("%s has this job already", p.DisplayName), "choose somebody else, or set a new job")
		}
		return nil, err
	}
	a.Job, a.Apprentice = j, p
	card, err := cardOf(a)
	return GiveJob201JSONResponse(card), err
}

// ListAttempts lists an apprentice's own, or all for an instructor.
func (s *Server) ListAttempts(ctx context.Context, _ ListAttemptsRequestObject) (ListAttemptsResponseObject, error) {
	of := uuid.Nil
	if me := whoIs(ctx); me.Role == store.Apprentice {
		of = me.ID
	}
	as, err := s.store.Attempts(ctx, of)
	if err != nil {
		return nil, err
	}
	out := ListAttempts200JSONResponse{}
	for _, a := range as {
		card, err := cardOf(a)
		if err != nil {
			return nil, err
		}
		out = append(out, card)
	}
	return out, nil
}
