package httpapi

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"zanjero/core/machine"
	"zanjero/internal/store"
)

// TryScenario lays a scenario on a bench for its author, off the record: it is seen as an
// apprentice would see it, counts for nothing, and nobody else has it. The same scenario is
// gone on with where it was left.
func (s *Server) TryScenario(ctx context.Context, req TryScenarioRequestObject) (TryScenarioResponseObject, error) {
	sc, bad, err := s.putOnBench(ctx, *req.Body)
	if err != nil {
		return nil, err
	}
	if len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	sc.Trial = true
	raw, err := json.Marshal(sc)
	if err != nil {
		return nil, err
	}
	who := whoIs(ctx)
	job := store.Job{ID: uuid.NewSHA1(who.ID, raw), MachineID: req.Body.MachineId, SetBy: who.ID, Scenario: raw}
	a, err := s.store.TakeFirst(ctx, &job, machine.Version, s.Seed)
	return TryScenario200JSONResponse{Attempt: a.ID}, err
}

// LookBehind shows an author what is hidden in the job that they try themselves. Of any
// other attempt there is nothing to look behind.
func (s *Server) LookBehind(ctx context.Context, _ LookBehindRequestObject) (LookBehindResponseObject, error) {
	c, err := s.card(ctx, attempt(ctx).JobID)
	if err != nil {
		return nil, err
	}
	if !c.sc.Trial {
		return nil, errNotFound
	}
	return LookBehind200JSONResponse{Faults: list(c.sc.Faults), Distractors: list(c.sc.Distractors), Told: list(c.sc.Told)}, nil
}
