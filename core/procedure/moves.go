package procedure

import (
	"cmp"
	"context"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/parallel"
	"zanjero/core/sequencing"
)

// Move is one change of a procedure that makes it cheaper and isolates no less.
type Move struct {
	// Kind is "move" (Step goes before Before, or to the end), "add" (Added comes
	// in there) or "drop".
	Kind   string `json:"kind"`
	Step   string `json:"step"`
	Before string `json:"before,omitempty"`
	Added  *Step  `json:"added,omitempty"`
	// Saves are expected minutes; Isolates what the share isolated to part or
	// reach gains, Wrong what the share wrongly concluded gains.
	Saves    float64 `json:"saves_minutes"`
	Isolates float64 `json:"isolates"`
	Wrong    float64 `json:"wrong"`
}

// Limits of the search for better orders.
const (
	mostMoves  = 5     // offered
	tried      = 8     // tried on the machines, of those that look best
	noLess     = 0.002 // the share of isolation that counts as no loss
	leastSaved = 0.05  // minutes
)

// Better finds the changes of one step, moved to another place, added or left
// out, that save the most expected minutes at no loss of isolation and no more
// wrong conclusions.
// Moves are sorted on what each step was seen to say of each hypothesis, and
// the best of them are then followed on the machines: what is offered is what
// was found there.
func (pop *Population) Better(ctx context.Context, proc *Procedure) ([]Move, error) {
	p := proc.For(pop.family, pop.sheet)
	base, err := pop.Evaluate(ctx, p)
	if err != nil {
		return nil, err
	}
	wider := *p
	wider.Steps = append(slices.Clone(p.Steps), pop.additions(p)...)
	frozen := pop.freeze(&wider)
	type candidate struct {
		move  Move
		order []int
		saves float64
	}
	order := make([]int, len(p.Steps))
	for i := range order {
		order[i] = i
	}
	now, isolated := frozen.cost(order)
	var all []candidate
	consider := func(m Move, order []int) { all = append(all, candidate{move: m, order: order}) }
	for i := range p.Steps {
		id := p.Steps[i].ID
		without := slices.Delete(slices.Clone(order), i, i+1)
		if !p.jumpedTo(id) {
			consider(Move{Kind: "drop", Step: id}, without)
		}
		for k := 0; k <= len(without); k++ {
			if k == i {
				continue
			}
			m := Move{Kind: "move", Step: id}
			if k < len(without) {
				m.Before = p.Steps[without[k]].ID
			}
			consider(m, slices.Insert(slices.Clone(without), k, i))
		}
	}
	for i := len(p.Steps); i < len(wider.Steps); i++ {
		s := &wider.Steps[i]
		for k := 0; k <= len(order); k++ {
			m := Move{Kind: "add", Step: s.ID, Added: s}
			if k < len(order) {
				m.Before = p.Steps[k].ID
			}
			consider(m, slices.Insert(slices.Clone(order), k, i))
		}
	}
	if err := parallel.For(ctx, len(all), func(i int) {
		cost, right := frozen.cost(all[i].order)
		if all[i].saves = now - cost; right < isolated-5*noLess {
			all[i].saves = 0
		}
	}); err != nil {
		return nil, err
	}
	all = slices.DeleteFunc(all, func(c candidate) bool { return c.saves < leastSaved })
	slices.SortStableFunc(all, func(a, b candidate) int {
		return cmp.Compare(b.saves, a.saves)
	})
	out := []Move{}
	perStep := map[string]int{}
	n := 0
	for _, c := range all {
		if perStep[c.move.Step] == 2 { // the neighbours of a good place look as good
			continue
		}
		perStep[c.move.Step]++
		if n++; n > tried {
			break
		}
		q := *p
		q.Steps = make([]Step, len(c.order))
		for i, k := range c.order {
			q.Steps[i] = wider.Steps[k]
		}
		if err := parallel.Pause(ctx); err != nil {
			return nil, err
		}
		e, err := pop.Evaluate(ctx, &q)
		if err != nil {
			return nil, err
		}
		if slices.ContainsFunc(e.Findings, func(f Remark) bool { return f.Serious }) {
			continue
		}
		c.move.Saves = base.Totals.ExpectedMinutes - e.Totals.ExpectedMinutes
		c.move.Isolates = e.isolated() - base.isolated()
		c.move.Wrong = e.wrong() - base.wrong()
		if c.move.Saves >= leastSaved && c.move.Isolates >= -noLess && c.move.Wrong <= noLess {
			out = append(out, c.move)
		}
	}
	slices.SortStableFunc(out, func(a, b Move) int {
		return cmp.Compare(b.Saves, a.Saves)
	})
	return out[:min(len(out), mostMoves)], nil
}

func (p *Procedure) jumpedTo(id string) bool {
	return slices.ContainsFunc(p.Steps, func(s Step) bool {
		return slices.ContainsFunc(s.Outcomes, func(o Outcome) bool { return o.Then == Goto && o.Step == id })
	})
}

// isolated is the share that is known to the part or the reach.
func (e *Evaluation) isolated() float64 { return e.Totals.Levels[AtPart] + e.Totals.Levels[AtReach] }

// frozen is what each step says of each machine on its own, and what it takes:
// enough to see which order is worth following on the machines.
type frozen struct {
	p       *Procedure
	weight  []float64
	chance  [][][]float64 // by machine, step and outcome
	right   [][][]ending  // the same
	minutes []float64     // by step, its own and its precautions
	access  *sequencing.Access
}

// ending is what an outcome is to a machine.
type ending uint8

const (
	goesOn ending = iota
	endsRight
	endsOtherwise
)

// longRun is how long a run is taken to last that has no length of its own,
// minutes.
const longRun = 15

// minutes of a step without its covers: the test's, its precautions' and the
// work's.
func (s *Step) minutes(t *catalogue.Test) float64 {
	cat := catalogue.Standard()
	sum := t.Minutes
	if t.Long {
		sum = longRun
		if m, ok := s.Setup["minutes"].(float64); ok {
			sum = m
		}
	}
	for _, id := range s.Precautions {
		sum += cat.Action(id).Minutes
	}
	if s.Repair != "" {
		sum += cat.Repair(s.Repair, s.Reach).Minutes
	}
	return sum
}

// everyNth machine of a fault's severities stands for its neighbours.
const everyNth = 3

func (pop *Population) freeze(p *Procedure) *frozen {
	plan := pop.plan(p)
	out := &frozen{p: p, access: diagnosis.AccessTo(pop.cat, pop.family, plan.tests)}
	for i := range p.Steps {
		out.minutes = append(out.minutes, p.Steps[i].minutes(plan.tests[i]))
	}
	for i := range pop.specimens {
		sp := &pop.specimens[i]
		severe := i > 0 && pop.specimens[i-1].Fault.ID == sp.Fault.ID && pop.specimens[i-1].Fault.Mode == sp.Fault.Mode
		if n := len(out.weight); severe && i%everyNth != 0 {
			out.weight[n-1] += sp.Weight
			continue
		}
		w := plan.follow(sp)
		rows := make([][]float64, len(p.Steps))
		for k := range p.Steps {
			rows[k] = w.outcomes[k]
			sum := 0.0
			for _, m := range rows[k] {
				sum += m
			}
			if sum == 0 { // not come to in this order: as on a fresh machine
				for _, e := range pop.try(sp.root, &p.Steps[k], plan.keys[k]) {
					for o, c := range p.Steps[k].match(plan.tests[k], pop.sheet, e.told) {
						rows[k][o] += e.p * c
					}
				}
				continue
			}
			for o := range rows[k] {
				rows[k][o] /= sum
			}
		}
		right := make([][]ending, len(p.Steps))
		for k := range p.Steps {
			for o := range p.Steps[k].Outcomes {
				e := goesOn
				switch out := &p.Steps[k].Outcomes[o]; out.Then {
				case Conclude, Stop:
					e = endsOtherwise
					if l := out.level(sp.Fault.ID); l == AtPart || l == AtReach {
						e = endsRight
					}
				}
				right[k] = append(right[k], e)
			}
		}
		out.right = append(out.right, right)
		out.chance, out.weight = append(out.chance, rows), append(out.weight, sp.Weight)
	}
	return out
}

// cost is the expected minutes of an order of the steps and the mass that it
// isolates to part or reach.
func (f *frozen) cost(order []int) (minutes, isolated float64) {
	q := *f.p
	q.Steps = make([]Step, len(order))
	for i, k := range order {
		q.Steps[i] = f.p.Steps[k]
	}
	next := make([][]int, len(order))
	for i := range q.Steps {
		for o := range q.Steps[i].Outcomes {
			next[i] = append(next[i], q.After(i, &q.Steps[i].Outcomes[o]))
		}
	}
	for h := range f.weight {
		var walk func(i int, p float64, off uint64, steps int)
		walk = func(i int, p float64, off uint64, steps int) {
			if i < 0 || i >= len(order) || steps > longestWay {
				return
			}
			k := order[i]
			access, after := f.access.Minutes(k, off)
			minutes += f.weight[h] * p * (f.minutes[k] + access)
			for o, c := range f.chance[h][k] {
				if p*c < 0.02 || o == len(next[i]) {
					continue
				}
				switch f.right[h][k][o] {
				case endsRight:
					isolated += f.weight[h] * p * c
				case goesOn:
					walk(next[i][o], p*c, after, steps+1)
				}
			}
		}
		walk(0, 1, 0, 0)
	}
	return minutes, isolated
}

// wrong is the share in which something is concluded that it is not, on its path or
// off it: a part is bought for nothing either way.
func (e *Evaluation) wrong() float64 { return e.Totals.Levels[WrongPart] + e.Totals.Levels[Wrong] }
