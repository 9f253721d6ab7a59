package httpapi

import (
	"context"
	"math"
	"net/http"
	"time"

	"zanjero/core/diagnosis"
	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// following are the hints of one attempt, with what they said at a place in the
// ledger.
type following struct {
	hints *scenario.Hints
	seq   int
	said  []diagnosis.Worth
}

// NextTests says, in a guided job, which tests would tell most for their
// minutes by what has been written down. It is worked out from the ledger and
// the complaint alone.
func (s *Server) NextTests(ctx context.Context, _ NextTestsRequestObject) (NextTestsResponseObject, error) {
	defer pad(time.Now(), replayStep)
	a := attempt(ctx)
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	if c.sc.Guide() != scenario.ModeGuided || (a.State != store.StateNew && a.State != store.StateInHand) {
		return nil, refuse(http.StatusConflict, "http.job-gives-no-hints")
	}
	now, err := s.ledger(ctx, a)
	if err != nil {
		return nil, err
	}
	// One at a time may use the hints of an attempt; whoever finds none begins
	// anew, which costs a replay.
	f, ok := s.kept.hints.Take(a.ID)
	if !ok || f.seq != now.l.Seq() || f.said == nil {
		err = s.pool.Do(ctx, whoIs(ctx).ID.String(), func(ctx context.Context) error {
			if !ok {
				pop, err := s.population(ctx, c.sc)
				if err != nil {
					return err
				}
				f = &following{hints: c.sc.Hints(pop)}
			}
			f.seq = now.l.Seq()
			f.said, err = f.hints.Next(ctx, now.l.Lines())
			return err
		})
		if err != nil {
			return nil, err
		}
	}
	said := f.said // from here on somebody else may go on with f
	s.kept.hints.Put(a.ID, f, f.hints.Bytes())
	out := NextTests200JSONResponse{}
	for _, w := range said {
		left := w.Bits
		for _, o := range w.Outcomes {
			left += o.P * o.Leaves
		}
		out = append(out, NextTest{Test: w.Test, Minutes: math.Round(w.Minutes*10) / 10, Halves: math.Round(100*w.Bits/max(left, 1e-9)) / 100})
	}
	return out, nil
}
