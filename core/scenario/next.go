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

// Hints follows an attempt to say which tests would tell most next, by what has
// been written down and the complaint, as the apprentice understood it. It
// knows nothing of what is hidden. One goroutine at a time may use it.
type Hints struct {
	sc  *Scenario
	pop *diagnosis.Population
	// belief is after the lines in past; a later question goes on from there.
	belief *diagnosis.Belief
	past   []ledger.Line
}

// Hints begins to follow an attempt of the scenario, with the population of its
// engine over single faults.
func (s *Scenario) Hints(pop *diagnosis.Population) *Hints { return &Hints{sc: s, pop: pop} }

// Next lists the tests that tell most for their minutes after the lines of a
// ledger. When the context ends it fails, and may be asked again.
func (h *Hints) Next(ctx context.Context, lines []ledger.Line) ([]diagnosis.Worth, error) {
	if h.belief == nil || !h.follows(lines) {
		h.belief, h.past = h.pop.Start(diagnosis.AsIfValid), nil
		if err := h.sc.Begin(ctx, h.belief); err != nil {
			h.belief = nil
			return nil, err
		}
	}
	// The last line may still be written down or corrected, so it is taken in
	// on a copy.
	settled := max(len(lines)-1, 0)
	for _, line := range lines[len(h.past):max(settled, len(h.past))] {
		if err := h.belief.Observe(ctx, line); err != nil {
			h.belief = nil
			return nil, err
		}
	}
	h.past = lines[:max(settled, len(h.past))]
	b := h.belief.Clone()
	for _, line := range lines[len(h.past):] {
		if err := b.Observe(ctx, line); err != nil {
			return nil, err
		}
	}
	best, err := b.Best(ctx, diagnosis.Weights{}, mostNext)
	if err != nil {
		return nil, err
	}
	out := []diagnosis.Worth{}
	for _, w := range best {
		if w.Bits >= leastBits {
			out = append(out, w)
		}
	}
	return out, nil
}

// follows says that a ledger begins with the lines already taken in.
func (h *Hints) follows(lines []ledger.Line) bool {
	if len(lines) < len(h.past) {
		return false
	}
	for i := range h.past {
		if h.past[i].Seq != lines[i].Seq || h.past[i].Entry != lines[i].Entry {
			return false
		}
	}
	return true
}

// Bytes is about how much memory it holds.
func (h *Hints) Bytes() int64 { return h.pop.Bytes() }
