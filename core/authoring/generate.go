package authoring

import (
	"cmp"
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/parallel"
	"zanjero/core/problem"
	"zanjero/core/scenario"
)

// Wanted says what scenarios are looked for on an engine. The zero value is content with
// any.
type Wanted struct {
	// Lateral is the path that the faults lie on.
	Lateral string
	// Level of difficulty, 0 for any.
	Level int
	// Lesson names two faults or reaches, one of which is at fault: they could be taken for
	// each other at the start, and are told apart at the end.
	Lesson [2]string
	// Complaint is what is complained of.
	Complaint string
	// Count is how many, 0 for one.
	Count int
	// Seed: the same gives the same scenarios.
	Seed uint64
	// Kit is what is on the bench, nil for everything.
	Kit []string
	// Words puts a complaint into an owner's words.
	Words func(complaint string) string
	// Progress is told how many were found and tried, now and then; nil for nobody.
	Progress func(found, tried int)
}

// Found is a scenario with what it comes to.
type Found struct {
	Form   scenario.Form `json:"scenario"`
	Result *Result       `json:"result"`
}

const (
	// mostTried is how many are tried before it is given up.
	mostTried = 600
	// atOnce is how many are tried beside each other; it is no matter of how many processors
	// there are, so that the same seed gives the same.
	atOnce = 8
	// together are the chances of a second fault and of a distractor where the level asks
	// for hard ones.
	secondFault, aDistractor = 0.35, 0.35
)

// Generate looks for scenarios on the engine of the answers, with a sheet and a day as the
// given scenario's, each of which passes Check. It gives those that it has found when the
// context ends, or after a while, with a *problem.Problem that says how many are lacking.
func Generate(ctx context.Context, like *scenario.Scenario, a *diagnosis.Answers, w Wanted) ([]Found, error) {
	g := generator{like: like, a: a, w: w, r: rand.New(rand.NewPCG(w.Seed, 0x6e6e))}
	if err := g.ready(); err != nil {
		return nil, err
	}
	want, tried := max(w.Count, 1), 0
	var out []Found
	for tried < mostTried && len(out) < want {
		batch := make([]scenario.Form, atOnce)
		for i := range batch {
			batch[i] = g.draw()
		}
		checked := make([]*Found, atOnce)
		err := parallel.For(ctx, atOnce, func(i int) { checked[i] = g.check(ctx, batch[i]) })
		if err != nil {
			return out, lacking(out, want)
		}
		for _, f := range checked {
			if f != nil && len(out) < want && !slices.ContainsFunc(out, func(o Found) bool { return alike(&o.Form, &f.Form) }) {
				out = append(out, *f)
			}
		}
		if tried += atOnce; w.Progress != nil {
			w.Progress(len(out), tried)
		}
	}
	if len(out) < want {
		return out, lacking(out, want)
	}
	return out, nil
}

func lacking(out []Found, want int) error {
	return problem.New("count", "scenario.fewer-found", "found", len(out), "want", want)
}

// alike says that two scenarios hide the same faults behind the same complaint.
func alike(a, b *scenario.Form) bool {
	return a.Complaint == b.Complaint && keyOf(ids(a.Faults)) == keyOf(ids(b.Faults))
}

func ids(faults []machine.FaultSpec) (out []string) {
	for _, f := range faults {
		out = append(out, f.ID)
	}
	slices.Sort(out)
	return out
}

type generator struct {
	like   *scenario.Scenario
	a      *diagnosis.Answers
	w      Wanted
	r      *rand.Rand
	faults []catalogue.Fault // that may be at fault
	all    []catalogue.Fault
	lesson [2][]string
}

// ready finds the faults that are in question, or says what there is not.
func (g *generator) ready() error {
	cat := g.like.Figures()
	g.all = cat.FaultsOf(g.like.Family, g.like.Sheet)
	switch {
	case g.w.Lateral != "" && !slices.ContainsFunc(cat.Laterals, func(l catalogue.Lateral) bool { return l.ID == g.w.Lateral }):
		return problem.New("lateral", "scenario.no-lateral", "id", g.w.Lateral)
	case g.w.Level < 0 || g.w.Level > len(levels)+2:
		return problem.New("level", "scenario.no-level", "level", g.w.Level, "most", len(levels)+2)
	case g.w.Complaint != "" && diagnosis.ComplaintBy(g.w.Complaint) == nil:
		return problem.New("complaint", "scenario.complaint-comes-no-known-symptom")
	}
	for i, id := range g.w.Lesson {
		if id == "" {
			continue
		}
		if g.lesson[i] = faultsAt(g.all, id); len(g.lesson[i]) == 0 {
			return problem.New("lesson", "scenario.no-lesson-at", "id", id)
		}
	}
	for _, f := range g.all {
		onPath := g.w.Lateral == "" || cat.Reach(f.Reach).Lateral == g.w.Lateral
		inLesson := g.w.Lesson == [2]string{} || slices.Contains(g.lesson[0], f.ID) || slices.Contains(g.lesson[1], f.ID)
		if onPath && inLesson {
			g.faults = append(g.faults, f)
		}
	}
	if len(g.faults) == 0 {
		return problem.New("lateral", "scenario.nothing-in-question")
	}
	return nil
}

// faultsAt are the faults that an id names: itself, or all of a reach.
func faultsAt(all []catalogue.Fault, id string) (out []string) {
	for _, f := range all {
		if f.ID == id || f.Reach == id {
			out = append(out, f.ID)
		}
	}
	return out
}

// severityGrid is how finely severities are drawn.
const severityGrid = 20

// spec draws a fault's mode, severity and cause.
func (g *generator) spec(f *catalogue.Fault) machine.FaultSpec {
	out := machine.FaultSpec{ID: f.ID}
	if len(f.Modes) > 0 {
		out.Mode = f.Modes[g.r.IntN(len(f.Modes))]
	}
	if f.Graded {
		// The worse ones are the commoner, as they are in life.
		out.Severity = math.Ceil(severityGrid*(1-math.Pow(g.r.Float64(), 1.5)*0.8)) / severityGrid
	}
	if len(f.Causes) > 0 {
		out.Cause = f.Causes[g.r.IntN(len(f.Causes))]
	}
	return out
}

// draw makes a scenario up; its complaint is chosen when its machine is there.
func (g *generator) draw() scenario.Form {
	f := scenario.Form{Machine: g.like.Family, Complaint: g.w.Complaint, Kit: g.w.Kit, Seed: g.r.Uint64() >> 11}
	f.Faults = []machine.FaultSpec{g.spec(&g.faults[g.r.IntN(len(g.faults))])}
	hard := g.w.Level == 0 || g.w.Level >= 4
	if more := g.r.Float64(); hard && more < secondFault {
		f.Faults = append(f.Faults, g.spec(&g.all[g.r.IntN(len(g.all))]))
	} else if hard && more < secondFault+aDistractor {
		f.Distractors = append(f.Distractors, g.spec(&g.all[g.r.IntN(len(g.all))]))
	}
	for i, x := range append(slices.Clone(f.Faults), f.Distractors...) {
		if st := catalogue.Standard().Statement(x.Cause); st != nil && i == 0 {
			switch told := g.r.Float64(); {
			case told < 0.5:
				f.History = []scenario.Statement{{Says: st.ID, Is: scenario.TrueTold}}
			case told < 0.75:
				f.History = []scenario.Statement{{Says: st.ID, Is: scenario.Omitted}}
			}
		}
	}
	return f
}

// on makes a scenario of a form on the engine that is asked about.
func (g *generator) on(f *scenario.Form) *scenario.Scenario {
	s := f.On(g.like.Family, g.like.Sheet)
	s.Ambient, s.FuelML, s.Own = g.like.Ambient, g.like.FuelML, g.like.Own
	return s
}

// check gives a scenario with what it comes to, or nil where it is not what is wanted.
func (g *generator) check(ctx context.Context, f scenario.Form) *Found {
	f.Words, f.LimitMinutes, f.LimitMoney = "-", mostMinutes, mostMoney // settled below
	sc := g.on(&f)
	if f.Complaint == "" {
		sc.Claim = "no-start"
		if len(sc.Check()) > 0 {
			return nil
		}
		able, err := Symptoms(sc)
		if err != nil || len(able) == 0 {
			return nil
		}
		f.Complaint = able[f.Seed%uint64(len(able))]
		sc.Claim = f.Complaint
	}
	if len(sc.Check()) > 0 {
		return nil
	}
	claims, err := Claims(sc)
	if err != nil || len(claims.Problems) > 0 {
		return nil
	}
	if !g.teaches(ctx, sc) {
		return nil
	}
	t, err := try(ctx, sc, g.a)
	if err != nil || len(t.out.Problems) > 0 || !t.out.Solvable.True || (g.w.Level > 0 && t.out.Difficulty.Level != g.w.Level) {
		return nil
	}
	// Whether it is found often enough takes longest, and comes last, within the limits that
	// it is given.
	f.LimitMinutes, f.LimitMoney = roomFor(t.out)
	sc.LimitMinutes, sc.LimitMoney = f.LimitMinutes, f.LimitMoney
	if err := t.inNoise(ctx); err != nil || !t.out.Solvable.True {
		return nil
	}
	t.confusions()
	f.Words = "-"
	if g.w.Words != nil {
		f.Words = g.w.Words(f.Complaint)
	}
	if g.like.Ambient != (machine.Ambient{TemperatureC: 20}) {
		f.Ambient = &g.like.Ambient
	}
	f.FuelML = g.like.FuelML
	return &Found{f, t.out}
}

// mostMinutes and mostMoney are the widest limits that a job can have.
const mostMinutes, mostMoney = 600, 10000

// roomFor are limits that leave a learner room: twice what somebody competent takes, in
// quarters of an hour, and half as much money again.
func roomFor(r *Result) (minutes, money float64) {
	minutes = min(max(30, math.Ceil(2*r.Solvable.Minutes/15)*15), mostMinutes)
	return minutes, math.Ceil((1.5*r.Solvable.Money+15)/5) * 5
}

// lessonStarts is how likely the other side of a lesson must be once the complaint is
// heard, beside the side that is at fault; lessonLeast what either must hold of all that
// it could be.
const (
	lessonStarts = 0.1
	lessonLeast  = 0.03
)

// teaches says that the two sides of a lesson could be taken for each other at the start.
// That they are told apart in the end is part of being solvable.
func (g *generator) teaches(ctx context.Context, sc *scenario.Scenario) bool {
	if g.w.Lesson == [2]string{} {
		return true
	}
	side := 0
	if !slices.ContainsFunc(sc.Faults, func(f machine.FaultSpec) bool { return slices.Contains(g.lesson[0], f.ID) }) {
		side = 1
	}
	began, err := begin(ctx, sc, g.a)
	if err != nil {
		return false
	}
	mine, other := began.Any(g.lesson[side]), began.Any(g.lesson[1-side])
	return min(mine, other) >= lessonLeast && other >= lessonStarts*mine && mine >= lessonStarts*other
}

// Offer is a fault, with the severities at which it does what is complained of.
type Offer struct {
	Fault string  `json:"fault"`
	Mode  string  `json:"mode,omitempty"`
	From  float64 `json:"from"`
	To    float64 `json:"to"`
}

// Bringing lists what of an engine's faults brings a complaint, each alone, with the
// severities at which it does; the commonest first.
func Bringing(ctx context.Context, like *scenario.Scenario, complaint string) ([]Offer, error) {
	type mode struct {
		f *catalogue.Fault
		m string
	}
	all := like.Figures().FaultsOf(like.Family, like.Sheet)
	var modes []mode
	for i := range all {
		if len(all[i].Modes) == 0 {
			modes = append(modes, mode{&all[i], ""})
		}
		for _, m := range all[i].Modes {
			modes = append(modes, mode{&all[i], m})
		}
	}
	at := make([]*Offer, len(modes))
	errs := make([]error, len(modes))
	err := parallel.For(ctx, len(modes), func(i int) {
		x := modes[i]
		for k := 1; k <= severityGrid; k++ {
			s := float64(k) / severityGrid
			if !x.f.Graded {
				s, k = 1, severityGrid
			}
			p, err := like.TruthOf(complaint, []machine.FaultSpec{{ID: x.f.ID, Mode: x.m, Severity: s}})
			if err != nil {
				errs[i] = err
				return
			}
			if p < isTrue {
				continue
			}
			if at[i] == nil {
				at[i] = &Offer{Fault: x.f.ID, Mode: x.m, From: s}
			}
			at[i].To = s
		}
	})
	for _, e := range errs {
		err = cmp.Or(err, e)
	}
	if err != nil {
		return nil, err
	}
	rate := map[string]float64{}
	for i := range all {
		rate[all[i].ID] = all[i].Rate(like.Family)
	}
	out := []Offer{}
	for _, o := range at {
		if o != nil {
			out = append(out, *o)
		}
	}
	slices.SortStableFunc(out, func(a, b Offer) int { return -cmpFloat(rate[a.Fault], rate[b.Fault]) })
	return out, nil
}
