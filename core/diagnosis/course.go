package diagnosis

import (
	"context"
	"maps"
	"slices"

	"zanjero/core/foresee"
	"zanjero/core/ledger"
)

// Course follows what a ledger makes of a population, in the three views, for each of
// several ways in which its readings were written down. What was done to the machines is
// the same whatever was written, so they are replayed once for all the ways.
//
// What it makes of a way is the same to the last figure whatever other ways go with it, as
// long as the first is the same: for no hypothesis is postponed, and where work leaves one
// machine in two states, what was shown and the first way choose which of them stands.
//
// It is not safe for use by several goroutines at once, and of no more use once one of its
// methods has failed.
type Course struct {
	// shown and valid have the machines, as they were set up and as if that had been
	// right; the others stand beside them. valid is the first way's.
	shown, valid        *Belief
	recorded, asIfValid []*Belief
}

// Follow begins a course for a number of ways, at least one, where a belief stands once it
// is begun. The error is begin's.
func (p *Population) Follow(ways int, begin func(*Belief) error) (*Course, error) {
	c := &Course{shown: p.Start(Shown)}
	c.shown.eager = true
	if err := begin(c.shown); err != nil {
		return nil, err
	}
	for range ways {
		c.recorded = append(c.recorded, c.shown.as(Recorded))
		c.asIfValid = append(c.asIfValid, c.shown.as(AsIfValid))
	}
	c.valid = c.asIfValid[0]
	for i := range p.hyps {
		// Where a run is the same for both, it is not made again.
		runs := make([]foresee.Run, len(p.hyps[i].nodes))
		c.shown.hyps[i].runs, c.valid.hyps[i].runs = runs, runs
		c.valid.hyps[i].nodes = cloneAll(p.hyps[i].nodes)
	}
	c.shown.beside, c.valid.beside = c.recorded, c.asIfValid[1:]
	return c, nil
}

// as is a belief from another view where this one stands, without machines.
func (b *Belief) as(v View) *Belief {
	c := &Belief{view: v, pop: b.pop, hyps: slices.Clone(b.hyps), eager: b.eager}
	for i := range c.hyps {
		h := &c.hyps[i]
		h.nodes, h.runs, h.loglik, h.last = nil, nil, slices.Clone(h.loglik), map[string]repeatable{}
		h.said, h.asked = maps.Clone(h.said), maps.Clone(h.asked)
	}
	return c
}

// Observe takes one line in, as each way has it: the ways differ in what was written down,
// and in nothing else. The error is the context's.
func (c *Course) Observe(ctx context.Context, ways []ledger.Line) error {
	for k, line := range ways {
		c.recorded[k].lines = append(c.recorded[k].lines, line)
		if k > 0 {
			c.asIfValid[k].lines = append(c.asIfValid[k].lines, line)
		}
	}
	if err := c.shown.Observe(ctx, ways[0]); err != nil {
		return err
	}
	return c.valid.Observe(ctx, ways[0])
}

// Shown is what the instruments showed makes of it, which is the same for all ways.
func (c *Course) Shown() Tally { return c.shown.Tally() }

// Recorded is what one way makes of it.
func (c *Course) Recorded(way int) Tally { return c.recorded[way].Tally() }

// AsIfValid is what one way makes of it, taken as if the set-up had been right.
func (c *Course) AsIfValid(way int) Tally { return c.asIfValid[way].Tally() }
