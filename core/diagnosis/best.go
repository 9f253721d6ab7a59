package diagnosis

import (
	"cmp"
	"context"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/foresee"
)

// worthALook is the share of the worth of the last one wanted, roughly reckoned,
// from which a test is reckoned in full; degreesHide how much more may lie between
// the machines that are looked at where a test tells degrees, as numbers and looks do
// and runs less.
const (
	worthALook  = 0.8
	degreesHide = 3
)

// Best gives the tests worth most for their minutes, at most n of them, as Rank
// does. It first reckons all of them roughly, each hypothesis by one of its machines,
// and then in full those that could be among the best. A test whose worth lies in
// severities that are unlikely each by itself may be missed by that.
func (b *Belief) Best(ctx context.Context, by Weights, n int) ([]Worth, error) {
	rough, err := b.sketch().Rank(ctx, by)
	if err != nil || len(rough) <= n {
		return rough, err
	}
	var ids []string
	for _, w := range rough {
		t := catalogue.Standard().Test(w.Test)
		worth := w.BitsPerMinute
		if t.Kind != catalogue.KindRun {
			worth *= degreesHide
		}
		if worth >= worthALook*rough[n-1].BitsPerMinute {
			ids = append(ids, w.Test)
		}
	}
	rank, err := b.Rank(ctx, by, ids...)
	if err != nil {
		return nil, err
	}
	return rank[:min(n, len(rank))], nil
}

// sketch is the belief with one machine for each hypothesis, the one nearest to the
// middle of its weight, and all of that weight on it. It shares the machines, so it
// is only good for looking ahead.
func (b *Belief) sketch() *Belief {
	c := &Belief{view: b.view, hyps: slices.Clone(b.hyps)}
	weights := b.weights()
	for i := range c.hyps {
		h := &c.hyps[i]
		sum := 0.0
		for _, w := range weights[i] {
			sum += w
		}
		node := h.nodeAt(weights[i], sum/2)
		h.nodes, h.loglik, h.axes = h.nodes[node:node+1], []float64{0}, grid{}
		h.prior, h.last, h.asked = sum, nil, map[string][]*foresee.Prediction{}
		for id, preds := range b.hyps[i].asked {
			h.asked[id] = preds[node : node+1]
		}
	}
	return c
}

// nodeAt is the node nearest to where the weights of the points reach a sum.
func (h *candidate) nodeAt(weights []float64, sum float64) int {
	point := len(weights) - 1
	for k, w := range weights {
		if sum -= w; sum <= 0 {
			point = k
			break
		}
	}
	return slices.MaxFunc(h.axes.cornersOf(point, nil), func(a, b corner) int { return cmp.Compare(a.weight, b.weight) }).node
}
