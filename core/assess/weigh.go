package assess

import (
	"context"
	"slices"
	"strings"

	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
)

// weigh follows the three beliefs through the steps, for each of several ways in which one
// attempt could have been written down: over single faults and pairs, and where two at once
// have come to matter, over sets of three too. All three are always weighed, whatever was
// read right. The first way is the one with everything read right, so that what is made of
// a way does not hang on the others.
func weigh(ctx context.Context, ways []*attempt) error {
	a := ways[0]
	parts := make([][]*course, len(ways))
	singles, err := follow(ctx, a.singles, ways)
	if err != nil {
		return err
	}
	seen := make([][]diagnosis.Report, len(ways))
	for k, c := range singles {
		parts[k] = append(parts[k], c)
		for _, t := range c.recorded {
			seen[k] = append(seen[k], diagnosis.Together(t))
		}
	}
	for _, sets := range []func(k int) [][]string{
		func(k int) [][]string { return diagnosis.Pairs(a.sc.Family, a.sc.Sheet, seen[k]) },
		func(k int) [][]string {
			return diagnosis.Triples(a.sc.Family, a.sc.Sheet, seen[k], at(parts[k], recorded, len(seen[k])-1))
		},
	} {
		own, all := make([]map[string]bool, len(ways)), map[string][]string{}
		for k := range ways {
			own[k] = map[string]bool{}
			for _, set := range sets(k) {
				slices.Sort(set)
				key := strings.Join(set, "+")
				own[k][key], all[key] = true, set
			}
		}
		if len(all) == 0 {
			continue
		}
		pop, err := a.singles.Only(ctx, sorted(all))
		if err != nil {
			return err
		}
		more, err := follow(ctx, pop, ways)
		if err != nil {
			return err
		}
		for k, c := range more {
			c.only(func(faults []string) bool { return own[k][strings.Join(faults, "+")] })
			parts[k] = append(parts[k], c)
		}
	}
	for k, w := range ways {
		w.tell(parts[k])
	}
	return nil
}

// sorted gives the sets in the order of their keys.
func sorted(by map[string][]string) (out [][]string) {
	for _, set := range by {
		out = append(out, set)
	}
	slices.SortFunc(out, slices.Compare)
	return out
}

// course is how the three beliefs over some hypotheses went, for one way: at first, and
// after each line. Of what was shown only the end counts.
type course struct {
	recorded, asIfValid []diagnosis.Tally
	shown               diagnosis.Tally
}

// only leaves some sets of faults in it.
func (c *course) only(keep func(faults []string) bool) {
	for i := range c.recorded {
		c.recorded[i], c.asIfValid[i] = c.recorded[i].Only(keep), c.asIfValid[i].Only(keep)
	}
	c.shown = c.shown.Only(keep)
}

func recorded(c *course, moment int) diagnosis.Tally  { return c.recorded[moment] }
func asIfValid(c *course, moment int) diagnosis.Tally { return c.asIfValid[moment] }
func shown(c *course, _ int) diagnosis.Tally          { return c.shown }

// at reports a belief over all hypotheses together at a moment.
func at(parts []*course, of func(*course, int) diagnosis.Tally, moment int) diagnosis.Report {
	var ts []diagnosis.Tally
	for _, c := range parts {
		ts = append(ts, of(c, moment))
	}
	return diagnosis.Together(ts...)
}

// follow takes the three beliefs over a population through the steps, for every way.
func follow(ctx context.Context, pop *diagnosis.Population, ways []*attempt) ([]*course, error) {
	c, err := pop.Follow(len(ways), func(b *diagnosis.Belief) error { return ways[0].sc.Begin(ctx, b) })
	if err != nil {
		return nil, err
	}
	out := make([]*course, len(ways))
	keep := func() {
		for k, o := range out {
			o.recorded, o.asIfValid = append(o.recorded, c.Recorded(k)), append(o.asIfValid, c.AsIfValid(k))
		}
	}
	for k := range out {
		out[k] = &course{}
	}
	keep()
	for i := range ways[0].ledger.Lines() {
		lines := make([]ledger.Line, len(ways))
		for k, w := range ways {
			lines[k] = w.ledger.Lines()[i]
		}
		if err := c.Observe(ctx, lines); err != nil {
			return nil, err
		}
		keep()
	}
	for _, o := range out {
		o.shown = c.Shown()
	}
	return out, nil
}

// tell works out the reports and the time line of what was followed.
func (a *attempt) tell(parts []*course) {
	a.prior = at(parts, recorded, 0)
	a.points = []Point{a.point(-1, 0, Step{}, a.prior)}
	for i, st := range a.ledger.Lines() {
		r := at(parts, recorded, i+1)
		a.recorded = append(a.recorded, r)
		a.asIfValid = append(a.asIfValid, at(parts, asIfValid, i+1))
		if step, shows := stepOf(st); shows {
			a.points = append(a.points, a.point(st.Seq, st.AtMin, step, r))
		}
	}
	last := len(a.ledger.Lines())
	a.final[diagnosis.Recorded], a.final[diagnosis.AsIfValid] = at(parts, recorded, last), at(parts, asIfValid, last)
	a.final[diagnosis.Shown] = at(parts, shown, last)
}
