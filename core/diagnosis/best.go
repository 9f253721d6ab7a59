package diagnosis

import (
	"cmp"
	"context"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/foresee"
)

// worthALook is the share of the worth of the last one wanted, roughly reckoned,
// from which a test is reckoned in full.
const worthALook = 0.4

// Best gives the tests worth most for their minutes, at most n of them, as Rank
// does. It first reckons all of them roughly, each hypothesis by the machine that
// the evidence speaks for most, and then in full those that could be among the
// best. A test whose worth lies in severities that are unlikely each by itself
// may be missed by that.
func (b *Belief) Best(ctx context.Context, by Weights, n int) ([]Worth, error) {
	rough, err := b.sketch().Rank(ctx, by)
	if err != nil || len(rough) <= n {
		return rough, err
	}
	var ids []string
	for _, w := range rough {
		if w.BitsPerMinute >= worthALook*rough[n-1].BitsPerMinute {
			ids = append(ids, w.Test)
		}
	}
	rank, err := b.Rank(ctx, by, ids...)
	if err != nil {
		return nil, err
	}
	return rank[:min(n, len(rank))], nil
}

// sketch is the belief with one machine for each hypothesis, the one nearest to
// its heaviest point, and all of the hypothesis's weight on it. It shares the
// machines, so it is only good for looking ahead.
func (b *Belief) sketch() *Belief {
	c := &Belief{view: b.view, hyps: slices.Clone(b.hyps)}
	weights := b.weights()
	for i := range c.hyps {
		h := &c.hyps[i]
		sum, heaviest := 0.0, 0
		for k, w := range weights[i] {
			if sum += w; w > weights[i][heaviest] {
				heaviest = k
			}
		}
		corners := h.axes.cornersOf(heaviest, nil)
		near := slices.MaxFunc(corners, func(a, b corner) int { return cmp.Compare(a.weight, b.weight) })
		h.nodes, h.axes = []*bench.Session{h.nodes[near.node]}, grid{}
		h.prior, h.loglik, h.last = sum, []float64{0}, nil
		h.asked = map[string][]*foresee.Prediction{}
		for id, preds := range b.hyps[i].asked {
			h.asked[id] = preds[near.node : near.node+1]
		}
	}
	return c
}
