package scenario

import (
	"context"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
)

// mostNext is how many tests are offered, and leastBits what one must be worth.
const (
	mostNext  = 4
	leastBits = 0.05
)

// Next lists the tests that tell most for their minutes, by what has been
// written down so far and the complaint, as the apprentice understood it. It
// knows nothing of what is hidden.
func (s *Scenario) Next(ctx context.Context, l *ledger.Ledger) ([]diagnosis.Worth, error) {
	pop, err := s.Population(ctx, nil)
	if err != nil {
		return nil, err
	}
	b := pop.Start(diagnosis.AsIfValid)
	if c := s.Complaint(); c != nil {
		if err := b.Complain(ctx, c.Claim); err != nil {
			return nil, err
		}
	}
	for _, st := range l.Lines() {
		if err := b.Observe(ctx, st); err != nil {
			return nil, err
		}
	}
	rank, err := b.Rank(ctx, diagnosis.Weights{})
	if err != nil {
		return nil, err
	}
	out := []diagnosis.Worth{}
	for _, w := range rank {
		if len(out) < mostNext && w.Bits >= leastBits {
			out = append(out, w)
		}
	}
	return out, nil
}
