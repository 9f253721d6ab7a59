package httpapi

import (
	"context"
	"net/http"
	"time"

	"zanjero/core/procedure"
)

// PlanPage looks for a page of few steps. That takes up to a minute, so the answer says
// on the way how far it is, a line at a time; who hangs up ends it.
func (s *Server) PlanPage(ctx context.Context, req PlanPageRequestObject) (PlanPageResponseObject, error) {
	g, err := s.ground(ctx, req.Body.MachineId, req.Body.Complaint)
	if err != nil {
		return nil, err
	}
	spec := procedure.PageSpec{Steps: req.Body.Steps, School: deref(req.Body.School), Complaint: g.Complaint}
	return &planning{ctx: ctx, s: s, g: g, spec: spec}, nil
}

// planning is the answer while it is being worked out.
type planning struct {
	ctx  context.Context
	s    *Server
	g    *ground
	spec procedure.PageSpec
}

// planLine is one line of it.
type planLine struct {
	Done      float64              `json:"done,omitempty"`
	Procedure *procedure.Procedure `json:"procedure,omitempty"`
	Error     *Error               `json:"error,omitempty"`
}

// lineWithin is how long a client may take for a line.
const lineWithin = 30 * time.Second

// VisitPlanPageResponse does the work and writes the answer. Only what goes wrong before
// the first line can still have a status of its own.
func (p *planning) VisitPlanPageResponse(w http.ResponseWriter) error {
	out := &lines{w: w}
	var page *procedure.Procedure
	err := p.s.pool.Do(p.ctx, whoIs(p.ctx).ID.String(), func(ctx context.Context) error {
		out.say(planLine{Done: 0.01})
		pop, err := procedure.NewPopulation(ctx, p.g.job(), p.g.claim())
		if err != nil {
			return err
		}
		p.spec.Progress = func(done float64) { out.say(planLine{Done: done}) }
		page, _, err = pop.PlanPage(ctx, p.spec)
		return err
	})
	switch {
	case err != nil && !out.begun:
		writeRefusal(w, asRefusal(err))
	case err != nil:
		said := asRefusal(err).body()
		out.say(planLine{Error: &said})
	default:
		out.say(planLine{Procedure: page})
	}
	return nil
}
