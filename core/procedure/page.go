package procedure

import (
	"cmp"
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/parallel"
	"zanjero/core/sequencing"
)

// PageSpec says what a planned page may be.
type PageSpec struct {
	// Steps is the most tests, MaxPageSteps at the utmost; zero for 12.
	Steps int
	// WrongCosts is what a wrong part is worth in minutes. Zero looks for a page that is
	// wrong no more often than the best of the schools' pages and right no less: it
	// begins with usualWrong, and asks more where that does not do.
	WrongCosts float64
	// School keeps the first moves of a school's page: its steps up to FirstMoves.
	School string
	// Complaint is the id that the school's page and the proof are taken for.
	Complaint string
	// Seed of the restarts: the same gives the same page.
	Seed uint64
	// Progress is told how far it has come, from 0 to 1, now and then; nil for nobody.
	Progress func(done float64)
}

const (
	// MaxPageSteps is the most steps that fit on a side of paper.
	MaxPageSteps = 14
	// FirstMoves is how many of a school's steps are its first moves.
	FirstMoves = 3
	// usualWrong is what a wrong part is worth in minutes, and usualOpen what it is when
	// nothing is named (half of it when only the path is): a part bought and fitted for
	// nothing with the day that goes by, and an hour and a half of somebody who begins
	// anew. Chosen by us.
	usualWrong, usualOpen = 360.0, 90.0
	// dearer and cheaper are by how much wrong ends and those left open are made so, and
	// rounds how often at most, while a page is not yet what is wanted beside the schools:
	// as good, in muchQuicker of the minutes of the cheapest.
	dearer, cheaper, rounds, muchQuicker = 2.5, 1.8, 4, 0.75
	// again is how often a page is looked for anew from what was met on it, at most.
	again = 3
	// restarts from a page with some of its steps struck out again.
	restarts = 2
	// leastGain is how many minutes a step must bring to stand on a page.
	leastGain = 0.05
)

// PlanPage finds a page of few steps that is cheap to follow and seldom wrong, under the
// noise that the population has. It alternates two things until neither helps: for a
// list of tests, where each answer leads best (conclude, go to a later step, or leave it
// open), by sweeps forward over what comes to each step and backward over what it costs
// from there; and the list itself, by putting in, taking out and moving one test. That
// is policy iteration (Howard 1960) within local search. Answers are taken as on a
// machine that nothing was done to; at the end the page is followed on the population,
// and where each answer leads is settled by what was met there.
//
// The error is the context's. One goroutine at a time may use a population.
func (pop *Population) PlanPage(ctx context.Context, spec PageSpec) (*Procedure, *Evaluation, error) {
	s, err := pop.search(ctx, spec)
	if err != nil {
		return nil, nil, err
	}
	best, err := s.grow(ctx, s.fixed)
	if err != nil {
		return nil, nil, err
	}
	r := rand.New(rand.NewPCG(spec.Seed, 0x7a6e))
	for range restarts {
		if len(best.list) <= len(s.fixed)+3 {
			break
		}
		list := slices.Clone(best.list)
		for range 3 {
			k := len(s.fixed) + r.IntN(len(list)-len(s.fixed))
			list = slices.Delete(list, k, k+1)
		}
		other, err := s.grow(ctx, list)
		if err != nil {
			return nil, nil, err
		}
		if other.cost < best.cost-1e-9 {
			best = other
		}
	}
	page, e, err := s.settle(ctx, best)
	// Looked for again, with each answer as likely as it was met on the way.
	for range again {
		if err != nil {
			return nil, nil, err
		}
		next, err := s.grow(ctx, best.list)
		if err != nil {
			return nil, nil, err
		}
		other, f, err := s.settle(ctx, next)
		if err != nil {
			return nil, nil, err
		}
		if s.worth(f) >= s.worth(e) {
			break
		}
		best, page, e = next, other, f
	}
	if err == nil && spec.WrongCosts == 0 {
		page, e, err = s.asGood(ctx, best, page, e)
	}
	if err == nil && spec.Progress != nil {
		spec.Progress(1)
	}
	return page, e, err
}

// listOf is a school's page as a list of tests, its first moves those that are kept.
func (s *search) listOf(p *Procedure) []int {
	out := slices.Clone(s.fixed)
	for _, st := range p.Steps {
		i := slices.IndexFunc(s.tests, func(c candidateTest) bool { return c.step.Test == st.Test })
		if i >= 0 && !slices.Contains(out, i) && len(out) < s.spec.Steps {
			out = append(out, i)
		}
	}
	return out
}

// goal is what the schools' pages come to on a population: the least that one is wrong,
// the most that one is right at the part, and at the part or its reach; and a share of
// the minutes of the cheapest.
type goal struct{ wrong, part, isolated, minutes float64 }

// lacks is by how much a page is worse than that, as a share of all machines.
func (g goal) lacks(e *Evaluation) (wrong, right float64) {
	const even = 1e-9
	wrong = max(e.wrong()-g.wrong-even, 0)
	return wrong, max(g.part-e.Totals.Levels[AtPart]-even, 0) + max(g.isolated-e.isolated()-even, 0)
}

// asGood goes on from a page with wrong ends or open ones made dearer until it is as good
// as the schools, and cheaper where it is better than it needs to be, and slow. Where
// that cannot be had, it gives the one that lacks least; of those that lack as little,
// the quickest.
func (s *search) asGood(ctx context.Context, best scored, page *Procedure, e *Evaluation) (*Procedure, *Evaluation, error) {
	g := goal{wrong: math.Inf(1), minutes: math.Inf(1)}
	var lists [][]int // of the schools
	for _, p := range Schools().Expand() {
		if p.Complaint != s.spec.Complaint || !slices.Contains(p.Families, s.pop.family) {
			continue
		}
		school, err := s.pop.Evaluate(ctx, &p)
		if err != nil {
			return nil, nil, err
		}
		lists = append(lists, s.listOf(p.For(s.pop.family, s.pop.sheet)))
		g = goal{min(g.wrong, school.wrong()), max(g.part, school.Totals.Levels[AtPart]), max(g.isolated, school.isolated()),
			min(g.minutes, muchQuicker*school.Totals.ExpectedMinutes)}
	}
	if math.IsInf(g.wrong, 1) {
		return page, e, nil
	}
	last := e
	wrong, right := g.lacks(e)
	least := usualWrong*wrong + usualOpen*right
	for range rounds {
		if wrong+right == 0 {
			if last.Totals.ExpectedMinutes <= g.minutes {
				break
			}
			s.wrong, s.open = s.wrong/cheaper, s.open/cheaper
		}
		if wrong > 0 {
			s.wrong *= dearer
		}
		if right > 0 {
			s.open *= dearer
		}
		// From where it stands, or from a school's tests, whichever is cheaper at these prices.
		from := s.score(best.list)
		for _, list := range lists {
			if other := s.score(list); other.cost < from.cost {
				from = other
			}
		}
		var err error
		if best, err = s.grow(ctx, from.list); err != nil {
			return nil, nil, err
		}
		other, f, err := s.settle(ctx, best)
		if err != nil {
			return nil, nil, err
		}
		last = f
		wrong, right = g.lacks(f)
		if lack := usualWrong*wrong + usualOpen*right; lack < least || (lack == least && f.Totals.ExpectedMinutes < e.Totals.ExpectedMinutes) {
			page, e, least = other, f, lack
		}
	}
	return page, e, nil
}

// search is what the local search works on.
type search struct {
	pop  *Population
	spec PageSpec
	// wrong and open are what such ends cost, minutes.
	wrong, open float64
	tests       []candidateTest
	// weight and fault of each machine that stands for its neighbours; a fault is its
	// place in faults, of which the first is none.
	weight []float64
	fault  []int
	faults []namedFault
	which  []int // of the population's specimens
	fixed  []int
	access *sequencing.Access
	worked float64
}

// namedFault is a fault with what decides how right a conclusion of it is.
type namedFault struct{ id, reach, lateral string }

// share is how likely a machine gives an answer. Nearly all machines give one or two.
type share struct {
	machine int
	p       float64
}

// candidateTest is a test as a step, with an outcome for everything that it can say,
// and how likely each is on each machine.
type candidateTest struct {
	step    Step
	minutes float64
	chance  [][]share // by outcome, last none of them
}

// scored is a list of tests with where each answer leads.
type scored struct {
	list []int
	cost float64
	lead [][]lead // by step and outcome, the last is none that fits
}

// lead is what follows an answer: another step, or an end.
type lead struct {
	to     int   // place of a step; the number of steps is the end of the page
	faults []int // what is concluded, or nil
}

func (pop *Population) search(ctx context.Context, spec PageSpec) (*search, error) {
	spec.Steps = min(cmp.Or(spec.Steps, 12), MaxPageSteps)
	s := &search{pop: pop, spec: spec, wrong: cmp.Or(spec.WrongCosts, usualWrong), open: usualOpen, faults: []namedFault{{}}}
	for i := range pop.specimens {
		sp := &pop.specimens[i]
		s.weight, s.fault, s.which = append(s.weight, sp.Weight), append(s.fault, s.known(sp.Fault.ID)), append(s.which, i)
	}
	all := pop.cat.TestsOf(pop.family, pop.sheet)
	var tests []*catalogue.Test
	for i := range all {
		t := &all[i]
		c := candidateTest{step: everyAnswer(t, pop)}
		if len(c.step.Outcomes) < 3 { // it says nothing that could be told apart
			continue
		}
		c.minutes = c.step.minutes(t)
		s.tests, tests = append(s.tests, c), append(tests, t)
	}
	s.access = diagnosis.AccessTo(pop.cat, pop.family, tests)
	for k := range s.tests {
		c := &s.tests[k]
		rows := make([][]float64, len(s.which))
		err := parallel.For(ctx, len(s.which), func(i int) {
			rows[i] = make([]float64, len(c.step.Outcomes)+1)
			for _, e := range pop.try(pop.specimens[s.which[i]].root, &c.step, c.step.key()) {
				for o, p := range c.step.match(tests[k], pop.sheet, e.told) {
					rows[i][o] += e.p * p
				}
			}
		})
		if err != nil {
			return nil, err
		}
		c.chance = byOutcome(rows)
	}
	for _, p := range Schools().Expand() {
		if spec.School == "" || p.School != spec.School || p.Complaint != spec.Complaint || !slices.Contains(p.Families, pop.family) {
			continue
		}
		page := p.For(pop.family, pop.sheet)
		for _, st := range page.Steps[:min(FirstMoves, len(page.Steps))] {
			if i := slices.IndexFunc(s.tests, func(c candidateTest) bool { return c.step.Test == st.Test }); i >= 0 {
				s.fixed = append(s.fixed, i)
			}
		}
	}
	return s, nil
}

// byOutcome turns chances by machine and outcome over.
func byOutcome(rows [][]float64) [][]share {
	out := make([][]share, len(rows[0]))
	for h, row := range rows {
		for o, p := range row {
			if p > leastWay {
				out[o] = append(out[o], share{h, p})
			}
		}
	}
	return out
}

// known gives the place of a fault, and notes it where it is new.
func (s *search) known(id string) int {
	i := slices.IndexFunc(s.faults, func(f namedFault) bool { return f.id == id })
	if i < 0 {
		cat := catalogue.Standard()
		reach := cat.Fault(id).Reach
		i, s.faults = len(s.faults), append(s.faults, namedFault{id, reach, cat.Reach(reach).Lateral})
	}
	return i
}

// everyAnswer is a test as a step with an outcome for each thing that it can say: what
// the other parts of the reading show first, then the first part, then all else.
func everyAnswer(t *catalogue.Test, pop *Population) Step {
	s := Step{ID: t.ID, Test: t.ID, Precautions: catalogue.Standard().PrecautionsOf(t)}
	side := func(part string) {
		d, ok := (&Outcome{Part: part}).side(t)
		if !ok {
			return
		}
		words := d.words
		if d.number {
			if _, judged := pop.sheet[d.figure]; !judged {
				return
			}
			words = []string{Below, Within, Above, OverLimit}
		}
		for _, w := range words {
			s.Outcomes = append(s.Outcomes, Outcome{Part: part, When: []string{w}, Then: Next})
		}
	}
	for i := range t.Parts {
		if i > 0 {
			side(t.Parts[i].ID)
		}
	}
	side("")
	s.Outcomes = append(s.Outcomes, Outcome{When: []string{Otherwise}, Then: Next})
	if len(s.Outcomes) > MaxOutcomes+1 {
		s.Outcomes = nil
	}
	return s
}

// grow puts tests into a list, takes them out and moves them for as long as that helps.
func (s *search) grow(ctx context.Context, list []int) (scored, error) {
	best := s.score(list)
	for round := 0; ; round++ {
		var tries [][]int
		from := len(s.fixed)
		if len(best.list) < s.spec.Steps {
			for c := range s.tests {
				if slices.Contains(best.list, c) {
					continue
				}
				for k := from; k <= len(best.list); k++ {
					tries = append(tries, slices.Insert(slices.Clone(best.list), k, c))
				}
			}
		}
		growing := len(tries) > 0
		for k := from; k < len(best.list); k++ {
			without := slices.Delete(slices.Clone(best.list), k, k+1)
			tries = append(tries, without)
			for j := from; j <= len(without); j++ {
				if j != k {
					tries = append(tries, slices.Insert(slices.Clone(without), j, best.list[k]))
				}
			}
			if !growing { // a full page: another test in the place of one
				for c := range s.tests {
					if !slices.Contains(best.list, c) {
						tries = append(tries, slices.Insert(slices.Clone(without), k, c))
					}
				}
			}
		}
		if err := parallel.Pause(ctx); err != nil {
			return best, err
		}
		found := make([]scored, len(tries))
		if err := parallel.For(ctx, len(tries), func(i int) { found[i] = s.score(tries[i]) }); err != nil {
			return best, err
		}
		next := best
		for _, f := range found { // in order, so that ties go the same way each time
			if f.cost+leastGain*float64(len(f.list)) < next.cost+leastGain*float64(len(next.list))-1e-9 {
				next = f
			}
		}
		if s.spec.Progress != nil {
			s.worked += (1 - s.worked) / (12 * (restarts + 1))
			s.spec.Progress(s.worked)
		}
		if slices.Equal(next.list, best.list) || round > 60 {
			return best, nil
		}
		best = next
	}
}

// sweeps is how often a list is gone through forward and backward at most.
const sweeps = 3

// score finds where each answer of a list leads best, and what the whole costs in
// minutes, by machines that nothing was done to.
func (s *search) score(list []int) scored {
	out := scored{list: list, lead: make([][]lead, len(list))}
	chance := make([][][]share, len(list))
	for k, c := range list {
		chance[k] = s.tests[c].chance
	}
	out.cost = s.sweep(list, chance, out.lead)
	return out
}

// sweep does the work of score on chances by step and outcome.
func (s *search) sweep(list []int, chance [][][]share, leads [][]lead) float64 {
	n, machines := len(list), len(s.weight)
	for k, c := range list {
		leads[k] = slices.Repeat([]lead{{to: k + 1}}, len(s.tests[c].step.Outcomes)+1)
	}
	cost := math.Inf(1)
	comes, togo := make([][]float64, n+1), make([][]float64, n+1)
	for k := range comes {
		comes[k], togo[k] = make([]float64, machines), make([]float64, machines)
	}
	for h, f := range s.fault {
		if f != 0 {
			togo[n][h] = s.open
		}
	}
	own := make([]float64, n)
	off := uint64(0)
	for k, c := range list {
		var covers float64
		covers, off = s.access.Minutes(c, off)
		own[k] = s.tests[c].minutes + covers
	}
	byFault := make([]float64, len(s.faults))
	for range sweeps {
		for k := range comes {
			clear(comes[k])
		}
		copy(comes[0], s.weight)
		for k := range n {
			for o, l := range leads[k] {
				if l.faults != nil {
					continue
				}
				for _, c := range chance[k][o] {
					comes[l.to][c.machine] += comes[k][c.machine] * c.p
				}
			}
		}
		for k := n - 1; k >= 0; k-- {
			for h := range togo[k] {
				togo[k][h] = own[k]
			}
			for o := range leads[k] {
				if len(chance[k][o]) == 0 {
					continue
				}
				l := s.best(chance[k][o], comes[k], togo, k, byFault)
				leads[k][o] = l
				for _, c := range chance[k][o] {
					if l.faults != nil {
						togo[k][c.machine] += c.p * s.endCosts(l.faults, s.fault[c.machine])
					} else {
						togo[k][c.machine] += c.p * togo[l.to][c.machine]
					}
				}
			}
		}
		now := 0.0
		for h, w := range s.weight {
			now += w * togo[0][h]
		}
		if now >= cost-1e-9 {
			break
		}
		cost = now
	}
	return cost
}

// best finds what is best done with the machines that give an answer at step k. byFault
// is room to work in.
func (s *search) best(answer []share, comes []float64, togo [][]float64, k int, byFault []float64) lead {
	clear(byFault)
	all := 0.0
	for _, c := range answer {
		m := comes[c.machine] * c.p
		byFault[s.fault[c.machine]] += m
		all += m
	}
	if all < 1e-12 { // nothing comes: it leads on
		return lead{to: k + 1}
	}
	var out lead
	least := math.Inf(1)
	for to := k + 1; to < len(togo); to++ {
		sum := 0.0
		for _, c := range answer {
			sum += comes[c.machine] * c.p * togo[to][c.machine]
		}
		if sum < least-1e-12 {
			least, out = sum, lead{to: to}
		}
	}
	for _, set := range s.sets(byFault) {
		sum := 0.0
		for f, m := range byFault {
			if m > 0 {
				sum += m * s.endCosts(set, f)
			}
		}
		if sum < least-1e-12 {
			least, out = sum, lead{faults: set}
		}
	}
	return out
}

// sets are the conclusions worth a thought: the likeliest fault, the likeliest few of
// its reach, and the likeliest few.
func (s *search) sets(byFault []float64) [][]int {
	var top []int // the likeliest, in order
	for f := 1; f < len(byFault); f++ {
		if byFault[f] <= 0 || (len(top) == mostConcluded && byFault[f] <= byFault[top[len(top)-1]]) {
			continue
		}
		at := slices.IndexFunc(top, func(g int) bool { return byFault[f] > byFault[g] })
		if at < 0 {
			at = len(top)
		}
		top = slices.Insert(top, at, f)
		top = top[:min(len(top), mostConcluded)]
	}
	if len(top) == 0 {
		return nil
	}
	out := [][]int{top[:1]}
	reach := []int{top[0]}
	for f := 1; f < len(byFault) && len(reach) < mostConcluded; f++ {
		if f != top[0] && byFault[f] > 0 && s.faults[f].reach == s.faults[top[0]].reach {
			reach = append(reach, f)
		}
	}
	if len(reach) > 1 {
		out = append(out, reach)
	}
	for n := 2; n <= len(top); n++ {
		out = append(out, top[:n])
	}
	return out
}

// endCosts is what a conclusion is worth in minutes for a fault, by how right it is: the
// levels of an outcome.
func (s *search) endCosts(set []int, fault int) float64 {
	if fault == 0 {
		return s.wrong
	}
	in := slices.Contains(set, fault)
	if in && len(set) == 1 {
		return 0
	}
	f, first := &s.faults[fault], &s.faults[set[0]]
	sameReach, sameLateral := true, true
	for _, g := range set {
		sameReach = sameReach && s.faults[g].reach == first.reach
		sameLateral = sameLateral && s.faults[g].lateral == first.lateral
	}
	switch {
	case sameReach && first.reach == f.reach:
		return s.open * 0.1 * float64(max(len(set)-1, 1))
	case in:
		return s.open / 2
	}
	return s.wrong
}

// settle writes a list out as a procedure, follows it on the population, and settles
// where each answer leads by what was met at each step; the cheaper of these is given.
func (s *search) settle(ctx context.Context, best scored) (*Procedure, *Evaluation, error) {
	page := s.write(best.list, best.lead)
	e, err := s.pop.Evaluate(ctx, page)
	if err != nil {
		return nil, nil, err
	}
	for range 3 {
		plan := s.pop.plan(s.write(best.list, nil))
		rows := make([][][]float64, len(best.list))
		for k := range rows {
			rows[k] = make([][]float64, len(s.which))
		}
		// With every answer leading on as it does now, but written out one by one.
		for k := range plan.Steps {
			for o := range plan.Steps[k].Outcomes {
				plan.Steps[k].Outcomes[o] = s.outcome(&plan.Steps[k].Outcomes[o], plan.Procedure, best.lead[k][o])
			}
		}
		if err := parallel.For(ctx, len(s.which), func(i int) {
			w := plan.follow(&s.pop.specimens[s.which[i]])
			for k := range rows {
				sum := 0.0
				for _, m := range w.outcomes[k] {
					sum += m
				}
				rows[k][i] = make([]float64, len(w.outcomes[k]))
				for o, m := range w.outcomes[k] {
					if sum > leastWay {
						rows[k][i][o] = m / sum
					}
				}
				if sum > leastWay {
					continue
				}
				for o, answer := range s.tests[best.list[k]].chance { // not come to: as on a fresh machine
					for _, c := range answer {
						if c.machine == i {
							rows[k][i][o] = c.p
						}
					}
				}
			}
		}); err != nil {
			return nil, nil, err
		}
		chance := make([][][]share, len(rows))
		for k := range rows {
			chance[k] = byOutcome(rows[k])
		}
		for k, c := range best.list {
			s.tests[c].chance = chance[k]
		}
		leads := make([][]lead, len(best.list))
		s.sweep(best.list, chance, leads)
		other := s.write(best.list, leads)
		f, err := s.pop.Evaluate(ctx, other)
		if err != nil {
			return nil, nil, err
		}
		if s.worth(f) >= s.worth(e) {
			break
		}
		page, e, best.lead = other, f, leads
	}
	return page, e, nil
}

// worth is what an evaluated page costs in minutes, its ends with it.
func (s *search) worth(e *Evaluation) float64 {
	t := e.Totals
	return t.ExpectedMinutes + s.wrong*(t.Levels[Wrong]+t.Levels[WrongPart]) +
		s.open*(t.Levels[DeadEnd]+t.Levels[Undetected]+t.Levels[Referred]+(t.Levels[AtLateral]+t.Levels[AtGroup])/2)
}

// outcome is an outcome that leads where it is said.
func (s *search) outcome(o *Outcome, p *Procedure, l lead) Outcome {
	out := Outcome{Part: o.Part, When: o.When}
	switch {
	case l.faults != nil:
		out.Then = Conclude
		for _, f := range l.faults {
			out.Faults = append(out.Faults, s.faults[f].id)
		}
	case l.to < len(p.Steps):
		out.Then, out.Step = Goto, p.Steps[l.to].ID
	default:
		out.Then, out.Why = Stop, notOnThisPage
	}
	return out
}

// notOnThisPage is why a planned page stops without a name.
const notOnThisPage = "Nothing on this page tells more. Say what you have found, and ask."

// write makes a procedure of a list. Answers that lead alike stand together; what most
// of the first part's lead to is "otherwise". Without leads every answer stands alone
// and goes on.
func (s *search) write(list []int, leads [][]lead) *Procedure {
	p := &Procedure{ID: "planned-page", Title: "Planned page", Revision: 1, Families: []string{s.pop.family}, Complaint: s.spec.Complaint}
	for _, c := range list {
		st := s.tests[c].step
		st.Outcomes = slices.Clone(st.Outcomes)
		p.Steps = append(p.Steps, st)
	}
	if leads != nil {
		for k := range p.Steps {
			p.Steps[k].Outcomes = s.together(p, k, leads[k])
		}
		s.cautions(p)
	}
	for _, q := range Schools().Expand() {
		if q.Complaint == s.spec.Complaint && slices.Contains(q.Families, s.pop.family) && p.Proof == nil {
			p.Proof = q.Proof
		}
	}
	if p.Proof == nil {
		p.Proof = &Proof{Test: "start-attempt"}
	}
	return p
}

// together puts the answers of step k that lead alike into one outcome each.
func (s *search) together(p *Procedure, k int, leads []lead) []Outcome {
	was := p.Steps[k].Outcomes
	same := func(a, b lead) bool { return a.to == b.to && slices.Equal(a.faults, b.faults) }
	// Where most words of the first part lead is the way of all that is not named.
	rest, most := leads[len(was)-1], 0
	for i := range was {
		n := 0
		for j := range was {
			if was[j].Part == "" && same(leads[i], leads[j]) {
				n++
			}
		}
		if was[i].Part == "" && n > most && leads[i].faults == nil {
			rest, most = leads[i], n
		}
	}
	var out []Outcome
	for i := range was[:len(was)-1] {
		if same(leads[i], rest) {
			continue
		}
		o := s.outcome(&was[i], p, leads[i])
		at := slices.IndexFunc(out, func(x Outcome) bool {
			return x.Part == o.Part && x.Then == o.Then && x.Step == o.Step && slices.Equal(x.Faults, o.Faults)
		})
		if at >= 0 {
			out[at].When = append(slices.Clone(out[at].When), o.When...)
			continue
		}
		out = append(out, o)
	}
	other := s.outcome(&was[len(was)-1], p, rest)
	for i, o := range append(out, other) {
		if o.Then == Goto && k+1 < len(p.Steps) && o.Step == p.Steps[k+1].ID {
			o.Then, o.Step = Next, ""
		}
		if i < len(out) {
			out[i] = o
		} else {
			other = o
		}
	}
	return append(out, other)
}

// cautions leaves out precautions that every way to a step has taken already.
func (s *search) cautions(p *Procedure) {
	taken := make([]map[string]bool, len(p.Steps)) // on every way, before the step
	for k := range p.Steps {
		before := taken[k]
		if before == nil {
			before = map[string]bool{}
		}
		st := &p.Steps[k]
		st.Precautions = slices.DeleteFunc(slices.Clone(st.Precautions), func(id string) bool { return before[id] })
		after := map[string]bool{}
		for id := range before {
			after[id] = true
		}
		for _, id := range st.Precautions {
			after[id] = true
		}
		for i := range st.Outcomes {
			to := p.After(k, &st.Outcomes[i])
			if to <= k || to >= len(p.Steps) {
				continue
			}
			if taken[to] == nil {
				taken[to] = after
				continue
			}
			both := map[string]bool{}
			for id := range after {
				if taken[to][id] {
					both[id] = true
				}
			}
			taken[to] = both
		}
	}
}
