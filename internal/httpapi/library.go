package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"

	"github.com/google/uuid"
	"github.com/riverqueue/river"

	"zanjero/core/authoring"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// The library's levels and minutes follow the model, the yard's own figures, the machine's
// sheet and the draft. What is out of date is worked out anew from a queue of its own, one
// at a time, so that it holds up neither marking nor a bench.

// libraryQueue is that queue.
const libraryQueue = "library"

// workOutArgs is the work of one scenario for one state of all it goes by.
type workOutArgs struct {
	Paper uuid.UUID `json:"paper"`
	For   string    `json:"for"`
}

// Kind names it in the queue.
func (workOutArgs) Kind() string { return "work-out-scenario" }

// InsertOpts has the same work in the queue once.
func (workOutArgs) InsertOpts() river.InsertOpts {
	return river.InsertOpts{Queue: libraryQueue, MaxAttempts: markTries, UniqueOpts: river.UniqueOpts{ByArgs: true}}
}

// outOfDate says that they do not go by what holds now.
func outOfDate(p *store.Paper, own store.OwnFigures) bool {
	return p.WorkedFor == nil || *p.WorkedFor != p.GoesBy(machine.Version, own.Changes)
}

// refreshLibrary puts what is out of date in the library into the queue. What is there
// already is not put there twice.
func (s *Server) refreshLibrary(ctx context.Context) error {
	ps, err := s.store.Papers(ctx, store.PaperScenario)
	if err != nil {
		return err
	}
	own, err := s.store.OwnFigures(ctx)
	if err != nil {
		return err
	}
	var all []river.InsertManyParams
	for i := range ps {
		if p := &ps[i]; !p.Archived && outOfDate(p, own) {
			all = append(all, river.InsertManyParams{Args: workOutArgs{p.ID, p.GoesBy(machine.Version, own.Changes)}})
		}
	}
	if len(all) == 0 {
		return nil
	}
	_, err = s.marker.client.InsertMany(ctx, all)
	return err
}

// librarian works scenarios of the library out.
type librarian struct {
	river.WorkerDefaults[workOutArgs]
	s *Server
	// quit ends what is in hand when the server closes: it is taken again later.
	quit context.Context
}

// Work works one out, unless it has been changed again since.
func (l *librarian) Work(ctx context.Context, job *river.Job[workOutArgs]) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	defer context.AfterFunc(l.quit, cancel)()
	p, err := l.s.store.Paper(ctx, store.PaperScenario, job.Args.Paper)
	if err != nil {
		return err
	}
	own, row, err := l.s.ownFigures(ctx)
	if err != nil || p.GoesBy(machine.Version, row.Changes) != job.Args.For {
		return err
	}
	sc, bad, err := shelvedScenario(&p, own)
	if err != nil {
		return err
	}
	var level *int
	var minutes *float64
	if sc != nil && !hinders(bad) {
		came, err := l.s.workOut(ctx, sc)
		if err != nil {
			return err
		}
		if len(came.Problems) == 0 {
			level, minutes = &came.Difficulty.Level, &came.Solvable.Minutes
		}
	}
	return l.s.store.WorkedOut(ctx, &p, level, minutes, job.Args.For)
}

// shelvedScenario is what stands on the shelf as a job, on its machine as that is now and
// by the yard's own figures; nil where its machine cannot be.
func shelvedScenario(p *store.Paper, own *catalogue.Own) (*scenario.Scenario, []problem.Problem, error) {
	f, err := formIn(p.Draft)
	if err != nil {
		return nil, nil, err
	}
	if err := json.Unmarshal(p.Machine.Sheet, &f.Sheet); err != nil {
		return nil, nil, fmt.Errorf("machine %s: sheet: %w", p.Machine.Code, err)
	}
	sc, bad := f.Scenario()
	if sc == nil {
		return nil, bad, nil
	}
	sc.Name, sc.Code = p.Machine.Name, p.Machine.Code
	if own != nil {
		own.Sources = nil // they are for who keeps the figures
		sc.Own = own
	}
	return sc, bad, nil
}

// hinders says that something keeps a scenario from being worked; what stands on the card
// alone does not.
func hinders(bad []problem.Problem) bool {
	for _, p := range bad {
		if p.Path != "words" && p.Path != "history" && p.Path != "mode" && p.Path != "title" {
			return true
		}
	}
	return false
}

// workOut tells what a scenario comes to, from what is kept or worked out in the pool.
func (s *Server) workOut(ctx context.Context, sc *scenario.Scenario) (*authoring.Result, error) {
	return heavily(ctx, s, []any{"scenario", sc.Family, sc.Sheet, sc.Ambient, sc.FuelML, sc.Faults, sc.Distractors, sc.Claim, sc.Told, sc.Kit, sc.Own,
		sc.LimitMinutes, sc.LimitMoney}, func(ctx context.Context) (*authoring.Result, error) {
		a, err := s.engineAnswers(ctx, sc)
		if err != nil {
			return nil, err
		}
		return authoring.Check(ctx, sc, a)
	})
}

// libraryChanged has what follows from a change worked out. The change itself is kept by
// now, so a queue that cannot be reached is only told of; the next start catches up.
func (s *Server) libraryChanged(ctx context.Context) {
	if err := s.refreshLibrary(context.WithoutCancel(ctx)); err != nil {
		slog.Error("the library is not brought up to date", "error", err)
	}
}
