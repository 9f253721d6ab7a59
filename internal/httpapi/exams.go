package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"zanjero/core/machine"
	"zanjero/core/shop"
	"zanjero/internal/store"
)

// ListExams lists the practical exams.
func (s *Server) ListExams(ctx context.Context, _ ListExamsRequestObject) (ListExamsResponseObject, error) {
	es, err := s.store.Exams(ctx)
	out := ListExams200JSONResponse{}
	for _, e := range es {
		people, bad := peopleOf(&e)
		if bad != nil {
			return nil, bad
		}
		out = append(out, Exam{Id: e.ID, Title: e.Title, StartsAt: e.StartsAt, People: len(people), Engines: len(e.Engines)})
	}
	return out, err
}

func peopleOf(e *store.Exam) (ids []uuid.UUID, err error) {
	if err = json.Unmarshal(e.People, &ids); err != nil {
		err = fmt.Errorf("exam %s: %w", e.ID, err)
	}
	return ids, err
}

// turnsOf are the turns in exams that some attempts are, by attempt.
func (s *Server) turnsOf(ctx context.Context, as []store.Attempt) (map[uuid.UUID]*ExamTurnAt, error) {
	var jobs []uuid.UUID
	for _, a := range as {
		jobs = append(jobs, a.JobID)
	}
	es, err := s.store.ExamsOn(ctx, jobs)
	if err != nil {
		return nil, err
	}
	out := map[uuid.UUID]*ExamTurnAt{}
	for i := range es {
		e := &es[i]
		people, err := peopleOf(e)
		if err != nil {
			return nil, err
		}
		plan, p := shop.Rotate(len(people), len(e.Engines))
		if p != nil {
			return nil, p
		}
		for _, a := range as {
			person := slices.Index(people, a.ApprenticeID)
			engine := slices.IndexFunc(e.Engines, func(x store.ExamEngine) bool { return x.JobID == a.JobID })
			if person < 0 || engine < 0 {
				continue
			}
			for r, row := range plan {
				if row[engine] == person {
					out[a.ID] = &ExamTurnAt{Exam: e.Title, Round: r + 1, At: e.StartsAt.Add(time.Duration(r) * roundEvery(e.Minutes, e.Rest))}
				}
			}
		}
	}
	return out, nil
}

// roundEvery is from the beginning of one round to that of the next.
func roundEvery(minutes, rest int) time.Duration { return time.Duration(minutes+rest) * time.Minute }

// AddExam plans an exam and gives its engines out, each with a job for everybody, in one.
func (s *Server) AddExam(ctx context.Context, req AddExamRequestObject) (AddExamResponseObject, error) {
	b, who := req.Body, whoIs(ctx)
	title := strings.TrimSpace(b.Title)
	if title == "" {
		return nil, refuseAt("title", "http.exam-without-title")
	}
	seen := map[uuid.UUID]bool{}
	for _, id := range append(append([]uuid.UUID{}, b.People...), b.Bugs...) {
		if seen[id] {
			return nil, refuseAt("people", "http.exam-twice")
		}
		seen[id] = true
	}
	rounds, p := shop.Rotate(len(b.People), len(b.Bugs))
	if p != nil {
		return nil, p
	}
	if ends := b.StartsAt.Add(time.Duration(len(rounds)) * roundEvery(b.Minutes, b.Rest)); b.DebriefAt.Before(ends) {
		return nil, refuseAt("debrief_at", "http.debrief-before-the-end", "at", ends.UTC().Format(time.RFC3339))
	}
	if _, err := s.store.Exam(ctx, b.Id); err == nil { // the same once more
		out, err := s.examFile(ctx, b.Id)
		return AddExam200JSONResponse(out), err
	}
	people, err := json.Marshal(b.People)
	if err != nil {
		return nil, err
	}
	e := store.Exam{ID: b.Id, Title: title, StartsAt: b.StartsAt, Minutes: b.Minutes, Rest: b.Rest, People: people, ByID: who.ID}
	var gives []func(tx *store.Store) error
	for place, id := range b.Bugs {
		give, job, err := s.giveToExam(ctx, id, b, place)
		if err != nil {
			return nil, err
		}
		gives = append(gives, give)
		e.Engines = append(e.Engines, store.ExamEngine{Place: place, BugID: id, JobID: job})
	}
	err = s.store.Together(ctx, func(tx *store.Store) error {
		for _, give := range gives {
			if err := give(tx); err != nil {
				return err
			}
		}
		return tx.AddExam(ctx, &e)
	})
	if err != nil {
		return nil, err
	}
	out, err := s.examFile(ctx, e.ID)
	return AddExam200JSONResponse(out), err
}

// giveToExam works out how an engine is given to everybody in an exam.
func (s *Server) giveToExam(ctx context.Context, bug uuid.UUID, b *NewExam, place int) (func(tx *store.Store) error, uuid.UUID, error) {
	at := fmt.Sprintf("bugs[%d]", place)
	row, err := s.store.Bug(ctx, bug)
	if err != nil {
		return nil, uuid.Nil, refuseAt(at, "http.no-such-card")
	}
	e, err := s.store.Engine(ctx, row.MachineID)
	if err != nil {
		return nil, uuid.Nil, err
	}
	sheet, err := sheetOf(e.Machine)
	if err != nil {
		return nil, uuid.Nil, err
	}
	c, err := cardOf(&row)
	if err != nil {
		return nil, uuid.Nil, err
	}
	act := shop.Act{Kind: shop.Given}
	if p := c.Allow(act, e.Machine.Family, sheet, whoIs(ctx).DisplayName); p != nil {
		return nil, uuid.Nil, p.At(at + ".")
	}
	// The id of the job follows from the exam's, so that a retry makes no second one.
	job := uuid.NewSHA1(b.Id, []byte(at))
	j, err := s.jobOn(ctx, &e, c, sheet, &GivenEngine{Job: job, LimitMinutes: float64(b.Minutes), LimitMoney: b.LimitMoney, Mode: "exam"})
	if err != nil {
		return nil, uuid.Nil, err
	}
	j.OpensAt, j.DebriefAt = &b.StartsAt, &b.DebriefAt
	body, err := json.Marshal(act)
	if err != nil {
		return nil, uuid.Nil, err
	}
	by := whoIs(ctx).ID
	return func(tx *store.Store) error {
		return tx.ActOnBug(ctx, store.BugAct{BugID: bug, Seq: len(row.Acts), Kind: act.Kind, Body: body, ByID: by}, false, func(tx *store.Store) (uuid.UUID, error) {
			if err := tx.AddJob(ctx, j); err != nil {
				return job, err
			}
			return job, given(tx.Give(ctx, job, b.People, machine.Version, s.Seed))
		})
	}, job, nil
}

// GetExam gives one with how far each turn has come.
func (s *Server) GetExam(ctx context.Context, req GetExamRequestObject) (GetExamResponseObject, error) {
	out, err := s.examFile(ctx, req.Exam)
	return GetExam200JSONResponse(out), err
}

func (s *Server) examFile(ctx context.Context, id uuid.UUID) (ExamFile, error) {
	e, err := s.store.Exam(ctx, id)
	if err != nil {
		return ExamFile{}, err
	}
	people, err := peopleOf(&e)
	if err != nil {
		return ExamFile{}, err
	}
	out := ExamFile{Id: e.ID, Title: e.Title, StartsAt: e.StartsAt, Minutes: e.Minutes, Rest: e.Rest, Engines: []ExamEngine{}, People: []ExamPerson{},
		Rounds: []ExamRound{}}
	var jobs []uuid.UUID
	for _, x := range e.Engines {
		jobs = append(jobs, x.JobID)
	}
	all, err := s.store.Attempts(ctx, store.Page{Jobs: jobs})
	if err != nil {
		return ExamFile{}, err
	}
	type at struct{ job, person uuid.UUID }
	by, of := map[at]*store.Attempt{}, map[uuid.UUID][]store.Attempt{}
	for i := range all {
		a := &all[i]
		by[at{a.JobID, a.ApprenticeID}] = a
		of[a.JobID] = append(of[a.JobID], *a)
		out.DebriefAt = a.Job.DebriefAt
	}
	for _, x := range e.Engines {
		row, err := s.examEngine(ctx, &x, of[x.JobID])
		if err != nil {
			return ExamFile{}, err
		}
		out.Engines = append(out.Engines, row)
	}
	for _, id := range people {
		p, err := s.store.Person(ctx, id)
		if err != nil {
			return ExamFile{}, err
		}
		out.People = append(out.People, ExamPerson{Id: id, Name: p.DisplayName})
	}
	plan, p := shop.Rotate(len(people), len(e.Engines))
	if p != nil {
		return ExamFile{}, p
	}
	for r, row := range plan {
		round := ExamRound{At: e.StartsAt.Add(time.Duration(r) * roundEvery(e.Minutes, e.Rest)), Turns: []ExamTurn{}}
		for engine, person := range row {
			if person == shop.Free {
				continue
			}
			a := by[at{e.Engines[engine].JobID, people[person]}]
			if a == nil { // who was erased has none
				continue
			}
			round.Turns = append(round.Turns, ExamTurn{Engine: engine, Person: person, Attempt: a.ID, State: AttemptState(a.State), Mark: a.Mark, Of: a.MarkOf,
				Outcome: a.Outcome, Untested: &a.Untested, Signed: &a.Signed})
		}
		out.Rounds = append(out.Rounds, round)
	}
	return out, nil
}

// examEngine is an engine of an exam, by the turns of all on it.
func (s *Server) examEngine(ctx context.Context, x *store.ExamEngine, turns []store.Attempt) (ExamEngine, error) {
	b, err := s.store.Bug(ctx, x.BugID)
	if err != nil {
		return ExamEngine{}, err
	}
	c, err := cardOf(&b)
	if err != nil {
		return ExamEngine{}, err
	}
	e, err := s.store.Engine(ctx, b.MachineID)
	if err != nil {
		return ExamEngine{}, err
	}
	state := EngineState(c.State())
	if !c.Open() {
		state = EngineStateFit
	}
	return ExamEngine{MachineId: e.MachineID, Name: e.Machine.Name, Code: e.Machine.Code, State: state, Again: toSet(c, turns), Done: c.Bug.Done}, nil
}
