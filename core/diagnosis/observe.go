package diagnosis

import (
	"context"
	"maps"
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/ledger"
	"zanjero/core/parallel"
)

// postponed is how far the weight of a hypothesis lies below the heaviest one's,
// as a logarithm, when what is done and seen is kept for later: about one part in
// a million. A line adds to no weight (next to nothing, for a number), so such a
// hypothesis stays below until the others fall, and then it catches up. What is
// reported differs by less than that share for each hypothesis.
const postponed = 14

// Observe takes one line of a ledger in: what was done happens to every
// hypothesis, and what was seen weighs it. The error is the context's.
func (b *Belief) Observe(ctx context.Context, st ledger.Line) error {
	b.lines = append(b.lines, st)
	for {
		due := b.due()
		if len(due) == 0 {
			return nil
		}
		if err := b.take(ctx, due); err != nil {
			return err
		}
	}
}

// due are the states that have a line to take in and count for something in one
// of the views. States of one hypothesis go together, so that what is the same
// can be joined.
func (b *Belief) due() (out []int) {
	heavy := make([]bool, len(b.hyps)) // by origin, of which there are no more than states
	for _, v := range b.all() {
		top := math.Inf(-1)
		for i := range v.hyps {
			top = max(top, v.hyps[i].mass())
		}
		for i := range v.hyps {
			if h := &v.hyps[i]; b.eager || h.mass() >= top-postponed {
				heavy[h.origin] = true
			}
		}
	}
	for i := range b.hyps {
		if h := &b.hyps[i]; h.taken < len(b.lines) && heavy[h.origin] {
			out = append(out, i)
		}
	}
	return out
}

// all is the belief and those beside it.
func (b *Belief) all() []*Belief { return append([]*Belief{b}, b.beside...) }

// take has some states take in the next line of each.
func (b *Belief) take(ctx context.Context, due []int) error {
	all := b.all()
	likes := map[int][]likeness{}
	for _, i := range due {
		n := b.hyps[i].taken
		if likes[n] == nil {
			likes[n] = make([]likeness, len(all))
			for k, v := range all {
				likes[n][k] = v.likelihood(v.lines[n])
			}
		}
	}
	from := make([]int, len(due)) // the line of each
	for d, i := range due {
		from[d] = b.hyps[i].taken
	}
	failed := make([][]candidate, len(due)) // of every view
	err := parallel.For(ctx, len(due), func(d int) {
		i, n := due[d], from[d]
		if st := b.lines[n]; st.Kind == ledger.EventRepair {
			failed[d] = b.repair(all, i, st)
		} else {
			b.see(all, i, n, likes[n])
		}
	})
	if err != nil {
		return err
	}
	for k, v := range all {
		for _, i := range due {
			v.hyps[i].taken++
		}
		worked := false
		for d, alts := range failed {
			worked = worked || b.lines[from[d]].Kind == ledger.EventRepair
			if alts != nil {
				alts[k].taken++
				v.hyps = append(v.hyps, alts[k])
			}
		}
		if worked {
			v.join()
		}
	}
	return nil
}

// see lets a line happen to a state and weighs it by what each view saw.
func (b *Belief) see(all []*Belief, i, n int, likes []likeness) {
	h, st := &b.hyps[i], b.lines[n]
	lay := make([]func(int, predictionAt) float64, len(all))
	blind := true
	for k, v := range all {
		if likes[k] != nil {
			lay[k], blind = likes[k](&v.hyps[i]), false
		}
	}
	if blind {
		t := h.test(st)
		for k, node := range h.nodes {
			foresee.Replay(node, st, t, b.view == AsIfValid, h.run(k))
		}
		return
	}
	preds := h.predict(st, b.view == AsIfValid, func(point int, at predictionAt) {
		for k, v := range all {
			if lay[k] != nil {
				v.hyps[i].loglik[point] += math.Log(max(lay[k](point, at), 1e-300))
			}
		}
	})
	if q := question(st.Test); q != "" {
		h.asked[q] = preds
		for k, v := range all {
			if lay[k] != nil && !(v.view != Shown && v.lines[n].Entry.Left) {
				v.hyps[i].said[q] = v.word(v.lines[n])
			}
		}
	}
}

// word is what a view saw of a look or a feel.
func (b *Belief) word(st ledger.Line) string {
	if b.view == Shown {
		return *st.Obs.Word
	}
	return st.Entry.Word
}

// repair lets work act under a state with its chance of success: where it can
// fail, the state parts into one where it took and one, given back for every
// view, where it did not.
func (b *Belief) repair(all []*Belief, i int, st ledger.Line) (failed []candidate) {
	r := catalogue.Standard().Repair(st.Repair, st.Reach)
	h := &b.hyps[i]
	mends := h.mended
	for k, f := range h.faults {
		if slices.Contains(r.Mends, f) {
			mends |= 1 << k
		}
	}
	parts := mends != h.mended && r.Success < 1
	for _, v := range all {
		o := &v.hyps[i]
		o.last, o.said, o.asked = map[string]repeatable{}, map[string]string{}, map[string][]*foresee.Prediction{}
		if parts {
			alt := *o
			alt.loglik, alt.nodes, alt.last = slices.Clone(o.loglik), cloneAll(o.nodes), maps.Clone(o.last)
			alt.said, alt.asked, alt.runs = maps.Clone(o.said), maps.Clone(o.asked), nil
			alt.prior *= 1 - r.Success
			o.prior *= r.Success
			failed = append(failed, alt)
		}
		o.mended = mends
	}
	if parts {
		for _, n := range failed[0].nodes {
			foresee.Work(n, st, false)
		}
	}
	for _, n := range h.nodes {
		foresee.Work(n, st, true)
	}
	return failed
}

// join puts together the states of a hypothesis that have the same faults left:
// their weights add up at every point, and the machines of the likelier stand
// for both, for they differ only in when the work took.
func (b *Belief) join() {
	type state struct {
		origin int
		mended uint
	}
	at := map[state]int{}
	kept := b.hyps[:0]
	for i := range b.hyps {
		h := &b.hyps[i]
		key := state{h.origin, h.mended}
		k, known := at[key]
		if !known {
			at[key] = len(kept)
			kept = append(kept, *h)
			continue
		}
		kept[k].add(h)
	}
	clear(b.hyps[len(kept):])
	b.hyps = kept
}

// add puts another state of the same hypothesis to this one.
func (h *candidate) add(o *candidate) {
	if o.mass() > h.mass() {
		h.nodes = o.nodes
	}
	prior := h.prior + o.prior
	for k := range h.loglik {
		top := max(h.loglik[k], o.loglik[k])
		h.loglik[k] = top + math.Log((h.prior*math.Exp(h.loglik[k]-top)+o.prior*math.Exp(o.loglik[k]-top))/prior)
	}
	h.prior = prior
}

// mass is the logarithm of the weight of a state among those of its hypothesis.
func (h *candidate) mass() float64 { return math.Log(h.prior) + slices.Max(h.loglik) }
