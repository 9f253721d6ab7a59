package httpapi

import (
	"context"
	"errors"
	"slices"

	"github.com/google/uuid"
	"golang.org/x/sync/semaphore"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/parallel"
	"zanjero/core/problem"
	"zanjero/core/procedure"
	"zanjero/internal/store"
)

// ground is what a procedure is tried on: a machine's sheet and an owner's complaint.
type ground struct {
	Family    string
	Sheet     catalogue.Sheet
	Complaint string
	// Own are the yard's own figures, nil for none: what is worked out by others is
	// another ground.
	Own *catalogue.Own
}

// ground finds it, or refuses what is not in the yard.
func (s *Server) ground(ctx context.Context, machine uuid.UUID, complaint string) (*ground, error) {
	m, err := s.store.Machine(ctx, machine)
	if errors.Is(err, store.ErrNotFound) {
		return nil, refuseAll([]problem.Problem{*problem.New("machine_id", "http.machine-not-in-yard")})
	}
	if err != nil {
		return nil, err
	}
	if complaint != "" && diagnosis.ComplaintBy(complaint) == nil {
		return nil, refuseAll([]problem.Problem{*problem.New("complaint", "procedure.no-complaint", "complaint", complaint)})
	}
	sheet, err := sheetOf(m)
	if err != nil {
		return nil, err
	}
	own, _, err := s.ownFigures(ctx)
	return &ground{m.Family, sheet, complaint, own}, err
}

func (g *ground) job() diagnosis.Job {
	return diagnosis.Job{Family: g.Family, Sheet: g.Sheet, Ambient: machine.Ambient{TemperatureC: 20}, Catalogue: catalogue.Standard().With(g.Own)}
}

// claim is the complaint's, or that of any.
func (g *ground) claim() diagnosis.Claim {
	if c := diagnosis.ComplaintBy(g.Complaint); c != nil {
		return c.Claim
	}
	return diagnosis.Claim{}
}

// trial is a population that remembers what was tried on it, so that an edit works out
// only what it touches. One at a time may use it.
type trial struct {
	turn *semaphore.Weighted
	pop  *procedure.Population
}

// on gives f the population of a ground, kept warm from the last time, when its turn
// comes. It is for work that takes a moment.
func (s *Server) on(ctx context.Context, g *ground, f func(pop *procedure.Population) error) error {
	key, err := keyOf("trial", g)
	if err != nil {
		return err
	}
	t, ok := s.kept.trials.Get(key)
	if !ok {
		t, err = s.kept.preparing.Do(ctx, string(key[:]), func(ctx context.Context) (*trial, error) {
			pop, err := procedure.NewPopulation(ctx, g.job(), g.claim())
			return &trial{semaphore.NewWeighted(1), pop}, err
		})
		if err != nil {
			return err
		}
	}
	if err := t.turn.Acquire(ctx, 1); err != nil {
		return err
	}
	defer t.turn.Release(1)
	err = f(t.pop)
	s.kept.trials.Put(key, t, t.pop.Bytes()) // it has grown
	return err
}

// EvaluateProcedure says what a procedure comes to, and how the readings of the step in
// focus spread; of one that cannot be followed, what keeps it from that.
func (s *Server) EvaluateProcedure(ctx context.Context, req EvaluateProcedureRequestObject) (EvaluateProcedureResponseObject, error) {
	g, err := s.ground(ctx, req.Body.MachineId, req.Body.Complaint)
	if err != nil {
		return nil, err
	}
	p := *req.Body.Procedure.For(g.Family, g.Sheet)
	if findings := p.Check(g.Family, g.Sheet); len(serious(findings)) > 0 {
		return EvaluateProcedure200JSONResponse{Findings: findings, Seen: []Seen{}}, nil
	}
	focus := deref(req.Body.Focus)
	out, err := heavily(ctx, s, []any{"evaluation", g, p, focus}, func(ctx context.Context) (out Evaluated, err error) {
		return out, s.on(ctx, g, func(pop *procedure.Population) (err error) {
			if out.Evaluation, err = pop.Evaluate(ctx, &p); err != nil {
				return err
			}
			out.Findings, out.Seen = list(out.Evaluation.Findings), []Seen{}
			if i := slices.IndexFunc(p.Steps, func(s procedure.Step) bool { return s.ID == focus }); i >= 0 {
				out.Seen, err = pop.Seen(ctx, &p, i)
				out.Seen = list(out.Seen)
			}
			return err
		})
	})
	return EvaluateProcedure200JSONResponse(out), err
}

// BetterOrders looks for changes of one step that save minutes and lose nothing. It goes
// to a population of its own, so that edits go on beside it, and ends when nobody waits.
func (s *Server) BetterOrders(ctx context.Context, req BetterOrdersRequestObject) (BetterOrdersResponseObject, error) {
	g, err := s.ground(ctx, req.Body.MachineId, req.Body.Complaint)
	if err != nil {
		return nil, err
	}
	p := *req.Body.Procedure.For(g.Family, g.Sheet)
	if bad := serious(p.Check(g.Family, g.Sheet)); len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	out, err := heavily(ctx, s, []any{"better", g, p}, func(ctx context.Context) ([]Move, error) {
		pop, err := procedure.NewPopulation(ctx, g.job(), g.claim())
		if err != nil {
			return nil, err
		}
		if err := parallel.Pause(ctx); err != nil {
			return nil, err
		}
		return pop.Better(ctx, &p)
	})
	return BetterOrders200JSONResponse(list(out)), err
}

// BesideSchools gives the schools' pages for a complaint, and the planned order, on a
// machine's population.
func (s *Server) BesideSchools(ctx context.Context, req BesideSchoolsRequestObject) (BesideSchoolsResponseObject, error) {
	g, err := s.ground(ctx, req.Body.MachineId, req.Body.Complaint)
	if err != nil {
		return nil, err
	}
	out, err := heavily(ctx, s, []any{"beside", g}, func(ctx context.Context) ([]BesideRow, error) {
		pop, err := procedure.NewPopulation(ctx, g.job(), g.claim())
		if err != nil {
			return nil, err
		}
		if err := parallel.Pause(ctx); err != nil {
			return nil, err
		}
		planned, err := procedure.Plan(ctx, g.job(), g.claim())
		if err != nil {
			return nil, err
		}
		return pop.Beside(ctx, planned, g.Complaint)
	})
	return BesideSchools200JSONResponse(list(out)), err
}
