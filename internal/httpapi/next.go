package httpapi

import (
	"context"
	"math"
	"net/http"
	"time"

	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// NextTests says, in a guided job, which tests would tell most for their
// minutes by what has been written down. It is worked out from the ledger and
// the complaint alone.
func (s *Server) NextTests(ctx context.Context, req NextTestsRequestObject) (NextTestsResponseObject, error) {
	defer pad(time.Now())
	a, err := s.attempt(ctx, req.Attempt)
	if err != nil {
		return nil, err
	}
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	if c.sc.Guide() != scenario.ModeGuided || a.State == store.StateHandedOver {
		return nil, refuse(http.StatusConflict, "this job gives no hints", "choose by what the board still leaves open")
	}
	l, err := s.ledger(ctx, a)
	if err != nil {
		return nil, err
	}
	rank, err := c.sc.Next(ctx, l)
	if err != nil {
		return nil, err
	}
	out := NextTests200JSONResponse{}
	for _, w := range rank {
		left := w.Bits
		for _, o := range w.Outcomes {
			left += o.P * o.Leaves
		}
		out = append(out, NextTest{Test: w.Test, Minutes: math.Round(w.Minutes*10) / 10, Halves: math.Round(100*w.Bits/max(left, 1e-9)) / 100})
	}
	return out, nil
}
