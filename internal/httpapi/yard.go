package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"zanjero/core/authoring"
	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/procedure"
	"zanjero/core/scenario"
	"zanjero/core/units"
	"zanjero/internal/store"
	"zanjero/messages"
)

// GetFamily tells what an engine family has: the same for every job on it.
func (s *Server) GetFamily(ctx context.Context, req GetFamilyRequestObject) (GetFamilyResponseObject, error) {
	cat := catalogue.Standard()
	fam := cat.Family(req.Family)
	if fam == nil {
		return nil, errNotFound
	}
	w := wordsOf(ctx)
	name := func(kind, id string) string { return w.Name(kind, id, "name") }
	out := Family{Id: fam.ID, Name: name("family", fam.ID), Laterals: []Named{}, Reaches: []Reach{}, Faults: []FaultKind{}, Tests: []Test{}, Covers: []Cover{},
		Controls: []Control{}, Acts: []Named{}, Actions: []Action{}, Repairs: []RepairKind{}, Causes: []Named{}, Advice: []Named{},
		Hazards: []Hazard{}, Complaints: []Named{}, Statements: []Named{}, Setups: []Setup{}, Blades: bench.Blades}
	for _, l := range cat.Laterals {
		out.Laterals = append(out.Laterals, Named{l.ID, name("lateral", l.ID)})
	}
	for _, r := range cat.ReachesOf(fam.ID) {
		out.Reaches = append(out.Reaches, Reach{Id: r.ID, Name: name("reach", r.ID), Lateral: r.Lateral, Beside: r.Beside})
		for _, a := range cat.Repairs.Acts {
			if !a.On(fam.ID, r.ID) {
				continue
			}
			work := cat.Repair(a.ID, r.ID)
			kind := RepairKind{Act: a.ID, Reach: r.ID, Minutes: work.Minutes, Cost: work.Cost, Verdict: text(w.Name("repair", a.ID, "verdict"))}
			if copied := bench.RepairCost(a.ID, r.ID, bench.GradeCopy); copied != work.Cost {
				kind.CopyCost = &copied
			}
			out.Repairs = append(out.Repairs, kind)
		}
	}
	for _, f := range cat.FaultsOf(fam.ID, nil) {
		out.Faults = append(out.Faults, FaultKind{Id: f.ID, Name: name("fault", f.ID), Reach: f.Reach, Graded: f.Graded, Modes: list(f.Modes),
			Causes: list(f.Causes)})
	}
	for _, t := range cat.TestsOf(fam.ID, nil) {
		out.Tests = append(out.Tests, testOf(w, t))
	}
	for _, id := range fam.Covers {
		out.Covers = append(out.Covers, Cover{Id: id, Name: name("cover", id), Off: w.Name("cover", id, "off"), Note: w.Name("cover", id, "note")})
	}
	for _, id := range fam.Controls {
		c := cat.Control(id)
		out.Controls = append(out.Controls, Control{Id: c.ID, Name: name("control", id), Positions: list(c.Positions), Lever: c.Lever,
			Low: text(w.Name("control", id, "low")), High: text(w.Name("control", id, "high"))})
	}
	for _, a := range cat.Repairs.Acts {
		out.Acts = append(out.Acts, Named{a.ID, name("repair", a.ID)})
	}
	for _, a := range cat.ActionsOf(fam.ID) {
		out.Actions = append(out.Actions, Action{Id: a.ID, Name: name("action", a.ID), Kind: ActionKind(a.Kind), Minutes: a.Minutes})
	}
	for _, c := range cat.Causes {
		out.Causes = append(out.Causes, Named{c.ID, name("cause", c.ID)})
	}
	for _, a := range cat.Advice {
		out.Advice = append(out.Advice, Named{a.ID, w.Name("advice", a.ID, "text")})
	}
	for _, h := range cat.Hazards {
		out.Hazards = append(out.Hazards, Hazard{h.ID, w.Name("hazard", h.ID, "caution"), list(h.Precautions)})
	}
	for _, c := range diagnosis.ComplaintsOf(fam.ID, nil) {
		out.Complaints = append(out.Complaints, Named{c.ID, name("complaint", c.ID)})
	}
	for _, x := range cat.Statements {
		out.Statements = append(out.Statements, Named{x.ID, w.Name("statement", x.ID, "says")})
	}
	for _, u := range cat.Setups {
		out.Setups = append(out.Setups, setupOf(w, u))
	}
	return GetFamily200JSONResponse(out), nil
}

func setupOf(w *messages.Words, u catalogue.Setup) Setup {
	out := Setup{Id: u.ID, Name: w.Name("setup", u.ID, "name"), Tests: u.Tests}
	if len(u.Options) == 0 {
		out.Low, out.High, out.Step, out.Start = &u.Low, &u.High, &u.Step, &u.Start
		return out
	}
	options := []SetupOption{}
	for _, v := range u.Options {
		options = append(options, SetupOption{Value: v, Label: w.Name("setup", u.ID, messages.Option(v))})
	}
	out.Options = &options
	return out
}

func testOf(w *messages.Words, t catalogue.Test) Test {
	out := Test{Id: t.ID, Title: w.Name("test", t.ID, "title"), Lateral: t.Lateral, Kind: TestKind(t.Kind), Minutes: t.Minutes, Access: list(t.Access),
		Reaches: list(t.Reaches),
		Hazards: list(t.Hazards), Words: list(t.Words), Teaches: w.Name("test", t.ID, "teaches"), Cannot: w.Name("test", t.ID,
			"cannot"), Instrument: text(t.Instrument), Figure: text(t.Figure), Unit: text(t.Unit), Long: t.Long, Units: []string{}, Valid: []string{}}
	for _, c := range t.Conditions {
		out.Valid = append(out.Valid, w.Name("condition", c, "met"))
	}
	out.Conditions = list(t.Conditions)
	if !t.Named() {
		out.Words = []string{} // told, not named by the apprentice
	}
	if t.Kind == catalogue.KindRun {
		out.Outcomes = &t.Words // of a real engine it is for the apprentice to say
	}
	out.Units = alike(t.Unit)
	if len(t.Parts) > 0 {
		parts := make([]TestPart, len(t.Parts))
		for i, p := range t.Parts {
			parts[i] = TestPart{Id: p.ID, Name: w.Name("part", p.ID, "name"), Figure: text(p.Figure), Units: alike(p.Unit), Words: list(p.Words)}
		}
		out.Parts = &parts
	}
	return out
}

// alike are the units that measure the same, in a fixed order, so that the offer does
// not point at the right one.
func alike(unit string) []string {
	out := []string{}
	if unit != "" {
		for _, u := range units.Alike(units.Unit(unit)) {
			out = append(out, string(u))
		}
	}
	slices.Sort(out)
	return out
}

// list keeps an absent list from turning into null.
func list[T any](l []T) []T {
	if l == nil {
		return []T{}
	}
	return l
}

// some is a list where it has anything in it, else nothing.
func some[T any](l []T) *[]T {
	if len(l) == 0 {
		return nil
	}
	return &l
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
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	if err != nil {
		return nil, refuseAll([]problem.Problem{*problem.New("machine_id", "http.machine-not-in-yard")})
	}
	sheet, err := sheetOf(m)
	if err != nil {
		return nil, err
	}
	sc := &scenario.Scenario{Name: m.Name, Code: m.Code, Family: m.Family, Sheet: sheet, Ambient: machine.Ambient{TemperatureC: 20}, Faults: spec.Faults,
		Words: spec.Words,
		Claim: spec.Claim, LimitMinutes: spec.LimitMinutes, LimitMoney: spec.LimitMoney}
	own, _, err := s.ownFigures(ctx)
	if err != nil {
		return nil, err
	}
	if own != nil {
		own.Sources = nil // they are for who keeps the figures
		sc.Own = own
	}
	sc.FuelML, sc.Rubric = spec.FuelMl, spec.Rubric
	sc.Distractors, sc.Told = deref(spec.Distractors), deref(spec.Told)
	if spec.Kit != nil {
		sc.Kit = list(*spec.Kit)
	}
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
	if spec.PageInExam != nil {
		sc.PageInExam = *spec.PageInExam
	}
	if spec.Procedure != nil {
		if sc.Page, err = s.pageFor(ctx, *spec.Procedure, sc); err != nil {
			return nil, err
		}
	}
	return sc, nil
}

// pageFor is a revision as it is on a scenario's machine.
func (s *Server) pageFor(ctx context.Context, ref RevisionRef, sc *scenario.Scenario) (*procedure.Procedure, error) {
	r, err := s.store.Revision(ctx, ref.Id, ref.Revision)
	if errors.Is(err, store.ErrNotFound) {
		return nil, refuseAll([]problem.Problem{*problem.New("procedure", "http.revision-not-there")})
	}
	if err != nil {
		return nil, err
	}
	p, err := draftIn(r.Body)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(p.Families, sc.Family) {
		return nil, refuseAll([]problem.Problem{*problem.New("procedure", "http.revision-for-another-family", "families", p.Families)})
	}
	return p.For(sc.Family, sc.Sheet), nil
}

// PreviewJob tells an author what an apprentice would find, and whether the
// complaint is true, while the job is being written.
func (s *Server) PreviewJob(ctx context.Context, req PreviewJobRequestObject) (PreviewJobResponseObject, error) {
	sc, err := s.scenarioOf(ctx, *req.Body)
	if err != nil {
		return nil, err
	}
	problems := list(sc.Check())
	for _, p := range problems {
		if !slices.Contains(standsOnCard, p.Path) || len(sc.Faults) > scenario.MaxHidden {
			return PreviewJob200JSONResponse{Problems: problems, Rows: []PreviewRow{}}, nil // this machine cannot be put on a bench
		}
	}
	w := wordsOf(ctx)
	out, err := heavily(ctx, s, []any{"preview", w.Language, sc.Family, sc.Sheet, sc.Ambient, sc.FuelML, sc.Faults, sc.Distractors, sc.Claim, sc.Own,
		len(problems)},
		func(ctx context.Context) (Preview, error) { return previewOf(ctx, w, sc, len(problems) == 0) })
	out.Problems = append(problems, out.Problems...)
	return PreviewJob200JSONResponse(out), err
}

// standsOnCard are the places of a job that its machine does not hang on.
var standsOnCard = []string{"words", "history", "claim", "limit_minutes", "limit_money", "mode", "faults", "rubric", "rubric.threshold"}

// previewOf has what is wrong with the complaint too, where the rest is right.
func previewOf(ctx context.Context, w *messages.Words, sc *scenario.Scenario, whole bool) (Preview, error) {
	out := Preview{Problems: []problem.Problem{}, Rows: []PreviewRow{}}
	rows, err := sc.Preview(ctx)
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		row := PreviewRow{Test: r.Test, Title: w.Name("test", r.Test, "title"), Lateral: r.Lateral, Minutes: r.Minutes, Shows: toldText(w, r.Shows),
			Healthy: toldText(w, r.Healthy), Differs: r.Differs}
		out.Rows = append(out.Rows, row)
		if r.Test == "start-attempt" {
			out.Does = &row.Shows
		}
	}
	if sc.Complaint() != nil {
		p, err := sc.Truth()
		if err != nil {
			return out, err
		}
		out.ComplaintTrue = &p
	}
	if whole {
		claims, err := authoring.Claims(sc)
		if err != nil {
			return out, err
		}
		out.Problems = claims.Problems
	}
	return out, nil
}

// CreateJob keeps a job and gives it to whoever is named, in one. Nothing is
// stored of one that is wrong. The same request with the job's id may be sent
// again.
func (s *Server) CreateJob(ctx context.Context, req CreateJobRequestObject) (CreateJobResponseObject, error) {
	sc, err := s.scenarioOf(ctx, *req.Body)
	if err != nil {
		return nil, err
	}
	if ps := sc.Check(); len(ps) > 0 {
		return nil, refuseAll(ps)
	}
	// A complaint that the machine does not show cannot be given out.
	claims, err := authoring.Claims(sc)
	if err != nil {
		return nil, err
	}
	if len(claims.Problems) > 0 {
		return nil, refuseAll(claims.Problems)
	}
	if o, c := req.Body.OpensAt, req.Body.ClosesAt; o != nil && c != nil && !o.Before(*c) {
		return nil, refuseAll([]problem.Problem{*problem.New("closes_at", "http.closes-before-it-opens")})
	}
	raw, err := json.Marshal(sc)
	if err != nil {
		return nil, err
	}
	j := store.Job{ID: uuid.New(), MachineID: req.Body.MachineId, SetBy: whoIs(ctx).ID, Scenario: raw, PaperID: req.Body.Scenario,
		OpensAt: req.Body.OpensAt, ClosesAt: req.Body.ClosesAt, DebriefAt: req.Body.DebriefAt, ClassID: req.Body.ClassId, Giving: req.Body.Giving}
	if j.ClassID != nil {
		if _, err := s.store.Class(ctx, *j.ClassID); err != nil {
			return nil, refuseAt("class_id", "http.no-such-class")
		}
	}
	if req.Body.Id != nil {
		j.ID = *req.Body.Id
	}
	err = s.store.Together(ctx, func(tx *store.Store) error {
		if j.PaperID != nil { // what is given out stays as it is
			if err := s.revise(ctx, tx, &j); err != nil {
				return err
			}
		}
		if err := tx.AddJob(ctx, &j); err != nil {
			return err
		}
		if req.Body.Apprentices == nil {
			return nil
		}
		return given(tx.Give(ctx, j.ID, *req.Body.Apprentices, machine.Version, s.Seed))
	})
	if err != nil {
		return nil, err
	}
	out, err := s.jobsOf(ctx, []store.Job{j})
	if err != nil {
		return nil, err
	}
	return CreateJob201JSONResponse(out[0]), nil
}

// revise keeps what a job is given out with as the next revision of its scenario. A job
// that is there already was given out before.
func (s *Server) revise(ctx context.Context, tx *store.Store, j *store.Job) error {
	p, err := tx.Paper(ctx, store.PaperScenario, *j.PaperID)
	if errors.Is(err, store.ErrNotFound) {
		return refuseAll([]problem.Problem{*problem.New("scenario", "http.no-such-scenario")})
	}
	if err != nil {
		return err
	}
	if _, err := tx.Job(ctx, j.ID); !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return tx.GiveOut(ctx, p.ID, p.Changes, whoIs(ctx).ID, func(int) ([]byte, error) { return j.Scenario, nil })
}

// given says that somebody whom a job was to be given to is no apprentice.
func given(err error) error {
	if errors.Is(err, store.ErrNotFound) {
		return refuseAll([]problem.Problem{*problem.New("apprentices", "http.not-an-apprentice")})
	}
	return err
}

func scenarioIn(j store.Job) (*scenario.Scenario, error) {
	var sc scenario.Scenario
	if err := json.Unmarshal(j.Scenario, &sc); err != nil {
		return nil, fmt.Errorf("job %d: scenario: %w", j.Number, err)
	}
	sc.Sheet = catalogue.Standard().Complete(sc.Family, sc.Sheet)
	return &sc, nil
}

// jobsOf puts jobs together with who has them.
func (s *Server) jobsOf(ctx context.Context, js []store.Job) ([]Job, error) {
	ids := make([]uuid.UUID, len(js))
	for i, j := range js {
		ids[i] = j.ID
	}
	as, err := s.store.Attempts(ctx, store.Page{Jobs: ids})
	if err != nil {
		return nil, err
	}
	out := []Job{}
	for _, j := range js {
		sc, err := scenarioIn(j)
		if err != nil {
			return nil, err
		}
		job := Job{Id: j.ID, Number: int(j.Number), MachineName: j.Machine.Name, Attempts: []AttemptCard{},
			Spec: JobSpec{MachineId: j.MachineID, Faults: list(sc.Faults), Words: sc.Words, History: &sc.History, Claim: sc.Claim,
				LimitMinutes: sc.LimitMinutes, LimitMoney: sc.LimitMoney, TemperatureC: &sc.Ambient.TemperatureC, AltitudeM: &sc.Ambient.AltitudeM,
				Mode: text(sc.Guide()), ProperOnly: &sc.ProperOnly, Distractors: some(sc.Distractors), Told: some(sc.Told), FuelMl: sc.FuelML, Rubric: sc.Rubric,
				Scenario: j.PaperID, OpensAt: j.OpensAt, ClosesAt: j.ClosesAt, DebriefAt: j.DebriefAt}}
		if sc.Iron != nil {
			job.Iron = new(true)
		}
		if sc.Kit != nil {
			job.Spec.Kit = &sc.Kit
		}
		if sc.Page != nil {
			if id, err := uuid.Parse(sc.Page.ID); err == nil {
				job.Spec.Procedure, job.Spec.PageInExam = &RevisionRef{id, sc.Page.Revision}, &sc.PageInExam
			}
		}
		for _, a := range as {
			if a.JobID == j.ID {
				card, err := s.attemptCard(ctx, a)
				if err != nil {
					return nil, err
				}
				job.Attempts = append(job.Attempts, card)
			}
		}
		out = append(out, job)
	}
	return out, nil
}

// pageSize is how many a list has where nothing else is asked for.
const pageSize = 50

// ListJobs lists what was set, with who has it, a page at a time.
func (s *Server) ListJobs(ctx context.Context, req ListJobsRequestObject) (ListJobsResponseObject, error) {
	limit, below := pageSize, int64(0)
	if req.Params.Limit != nil {
		limit = *req.Params.Limit
	}
	if req.Params.Below != nil {
		below = *req.Params.Below
	}
	js, err := s.store.Jobs(ctx, below, limit)
	if err != nil {
		return nil, err
	}
	out := ListJobs200JSONResponse{}
	if out.Items, err = s.jobsOf(ctx, js); err != nil {
		return nil, err
	}
	if len(js) == limit {
		out.Below = &js[limit-1].Number
	}
	return out, nil
}

// GiveJob puts a job into the hands of some apprentices, in one transaction.
// Those who have it keep what they have.
func (s *Server) GiveJob(ctx context.Context, req GiveJobRequestObject) (GiveJobResponseObject, error) {
	j, err := s.store.Job(ctx, req.Job)
	if err != nil {
		return nil, err
	}
	sc, err := scenarioIn(j)
	if err != nil {
		return nil, err
	}
	if sc.Iron != nil { // it is one engine, and its card says who has it
		return nil, refuse(http.StatusConflict, "http.engine-by-its-card")
	}
	if err := given(s.store.Give(ctx, j.ID, req.Body.Apprentices, machine.Version, s.Seed)); err != nil {
		return nil, err
	}
	out, err := s.jobsOf(ctx, []store.Job{j})
	if err != nil {
		return nil, err
	}
	return GiveJob200JSONResponse(out[0]), nil
}

// ListAttempts lists an apprentice's own, or all for who teaches, a page at a
// time.
func (s *Server) ListAttempts(ctx context.Context, req ListAttemptsRequestObject) (ListAttemptsResponseObject, error) {
	page := store.Page{Limit: pageSize}
	if req.Params.Limit != nil {
		page.Limit = *req.Params.Limit
	}
	if me := whoIs(ctx); me.Role == store.Apprentice {
		page.Apprentice = me.ID
	}
	if req.Params.Before != nil {
		at, id, ok := strings.Cut(*req.Params.Before, "/")
		var err1, err2 error
		page.Before, err1 = time.Parse(time.RFC3339Nano, at)
		page.BeforeID, err2 = uuid.Parse(id)
		if !ok || err1 != nil || err2 != nil {
			return nil, refuse(http.StatusBadRequest, "http.no-such-page")
		}
	}
	as, err := s.store.Attempts(ctx, page)
	if err != nil {
		return nil, err
	}
	out := ListAttempts200JSONResponse{Items: []AttemptCard{}}
	turns, err := s.turnsOf(ctx, as)
	if err != nil {
		return nil, err
	}
	for _, a := range as {
		card, err := s.attemptCard(ctx, a)
		if err != nil {
			return nil, err
		}
		card.Turn = turns[a.ID]
		out.Items = append(out.Items, card)
	}
	if len(as) == page.Limit {
		last := as[len(as)-1]
		next := last.CreatedAt.UTC().Format(time.RFC3339Nano) + "/" + last.ID.String()
		out.Before = &next
	}
	return out, nil
}

// attemptCard is an attempt as lists show it. Nothing is read for it but the
// job's card, which is kept.
func (s *Server) attemptCard(ctx context.Context, a store.Attempt) (AttemptCard, error) {
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return AttemptCard{}, err
	}
	card := AttemptCard{Id: a.ID, JobNumber: c.number, MachineName: a.Job.Machine.Name, MachineCode: a.Job.Machine.Code, Words: c.sc.Words,
		State: AttemptState(a.State), Minutes: math.Round(a.Minutes*10) / 10, LimitMinutes: c.sc.LimitMinutes,
		Apprentice: a.Apprentice.DisplayName, ApprenticeId: a.ApprenticeID, OpensAt: c.times.opens, ClosesAt: c.times.closes,
		Purpose: purposeOf(a.Job)}
	switch a.State {
	case store.StateHandedOver:
		if heldBack(a.Job.DebriefAt, whoIs(ctx)) {
			card.DebriefAt = a.Job.DebriefAt
			break
		}
		if awaits(a, whoIs(ctx)) {
			break
		}
		card.Mark, card.Of, card.Class, card.Outcome = a.Mark, a.MarkOf, a.Class, a.Outcome
		card.Signed = &a.Signed
	case store.StateFrozen:
		// Why is for whoever can do something about it.
		var why problem.Problem
		if whoIs(ctx).Role != store.Apprentice && json.Unmarshal(a.Frozen, &why) == nil {
			card.Frozen = &why
		}
	case store.StateNew, store.StateInHand:
		if a.ModelVersion != machine.Version {
			yes := true
			card.Outdated = &yes
		}
	}
	return card, nil
}

// purposeOf says what a job is for that is not like any other.
func purposeOf(j store.Job) *AttemptCardPurpose {
	p := Practice
	switch {
	case j.ResitOf != nil:
		p = Resit
	case !j.Practice:
		return nil
	}
	return &p
}

// RenewAttempt puts an attempt away that cannot be gone on with, and gives its
// job anew: one that is frozen, or was begun on another version of the model.
// Any other is refused, for it can be finished.
func (s *Server) RenewAttempt(ctx context.Context, _ RenewAttemptRequestObject) (RenewAttemptResponseObject, error) {
	a := attempt(ctx)
	stuck := a.State == store.StateFrozen || (a.ModelVersion != machine.Version && (a.State == store.StateNew || a.State == store.StateInHand))
	if !stuck {
		return nil, refuse(http.StatusConflict, "http.can-be-finished")
	}
	if err := s.store.Renew(ctx, a.ID, machine.Version, s.Seed); err != nil {
		return nil, err
	}
	s.kept.benches.Drop(a.ID)
	return RenewAttempt204Response{}, nil
}

// GetLedger gives the acts of an attempt as they were kept, whatever became of
// it: nothing is replayed, so it can be read on any version of the model.
func (s *Server) GetLedger(ctx context.Context, _ GetLedgerRequestObject) (GetLedgerResponseObject, error) {
	a := attempt(ctx)
	es, err := s.store.Events(ctx, a.ID, 0)
	if err != nil {
		return nil, err
	}
	out := GetLedger200JSONResponse{ModelVersion: a.ModelVersion, State: a.State, Acts: []KeptAct{}}
	var why problem.Problem
	if len(a.Frozen) > 0 && json.Unmarshal(a.Frozen, &why) == nil {
		out.Frozen = &why
	}
	for _, e := range es {
		act := KeptAct{Seq: e.Seq, At: e.At}
		if err := json.Unmarshal(e.Body, &act.Event); err != nil {
			act.Event = map[string]any{}
		}
		var shown map[string]any
		if json.Unmarshal(e.Observed, &shown) == nil && shown != nil {
			act.Shown = &shown
		}
		out.Acts = append(out.Acts, act)
	}
	return out, nil
}
