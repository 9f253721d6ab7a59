package httpapi

import (
	"context"
	"net/http"

	"zanjero/core/bench"
	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// FilmMachine shows an instructor what goes on behind the covers of a machine
// of the yard with faults in it.
func (s *Server) FilmMachine(ctx context.Context, req FilmMachineRequestObject) (FilmMachineResponseObject, error) {
	sc, err := s.scenarioOf(ctx, JobSpec{MachineId: req.Body.MachineId, Faults: req.Body.Faults})
	if err != nil {
		return nil, err
	}
	out, err := s.film(ctx, sc, req.Body.Minutes, machine.Load(req.Body.Load))
	return FilmMachine200JSONResponse(out), err
}

// FilmAttempt shows the machine of a job as it came in, once the job is marked:
// before that it would tell what is hidden.
func (s *Server) FilmAttempt(ctx context.Context, _ FilmAttemptRequestObject) (FilmAttemptResponseObject, error) {
	a := attempt(ctx)
	if a.State != store.StateHandedOver {
		return nil, refuse(http.StatusConflict, "http.job-not-handed-over-yet-2")
	}
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	out, err := s.film(ctx, c.sc, 15, machine.LoadTest)
	return FilmAttempt200JSONResponse(out), err
}

// film films a machine as a master would start it, and a sound one beside it where it is not.
func (s *Server) film(ctx context.Context, sc *scenario.Scenario, minutes float64, load machine.Load) (Inside, error) {
	return heavily(ctx, s, []any{"film", sc, minutes, load}, func(context.Context) (Inside, error) {
		out := Inside{Family: sc.Family, Name: sc.Name + " " + sc.Code}
		of := func(faults []machine.FaultSpec) (*machine.Film, error) {
			f, p := bench.Film(sc.Family, sc.Sheet, sc.Ambient, faults, minutes, load)
			if p != nil {
				return nil, p
			}
			return &f, nil
		}
		film, err := of(sc.Faults)
		if err != nil {
			return out, err
		}
		if out.Film = *film; len(sc.Faults) > 0 {
			out.Sound, err = of(nil)
		}
		return out, err
	})
}
