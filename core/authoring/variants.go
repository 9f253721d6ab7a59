package authoring

import (
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

// Variants looks for scenarios that are as hard as a given one by every part of their
// difficulty, and hide something else: on its own engine, behind the same complaint and
// with the same told, so that they begin alike. None shares its giveaway, or that of
// another. The same seed gives the same; progress is told how far it is, nil for nobody. Where there are too few it gives those that there
// are, with a *problem.Problem; other errors are the context's.
func Variants(ctx context.Context, sc *scenario.Scenario, a *diagnosis.Answers, count int, seed uint64, progress func(found, tried int)) ([]Found, error) {
	base, err := Check(ctx, sc, a)
	if err != nil {
		return nil, err
	}
	if len(base.Problems) > 0 {
		return nil, &base.Problems[0]
	}
	tries, err := others(ctx, sc)
	if err != nil {
		return nil, err
	}
	r := rand.New(rand.NewPCG(seed, 0xa71a))
	r.Shuffle(len(tries), func(i, j int) { tries[i], tries[j] = tries[j], tries[i] })
	var out []Found
	for from := 0; from < len(tries) && len(out) < count; from += atOnce {
		batch := tries[from:min(from+atOnce, len(tries))]
		checked := make([]*Found, len(batch))
		err := parallel.For(ctx, len(batch), func(i int) {
			s := *sc
			s.Faults, s.Told = batch[i], sameTold(sc, batch[i])
			s.LimitMinutes, s.LimitMoney = mostMinutes, mostMoney // settled below
			if len(s.Check()) > 0 {
				return
			}
			t, err := try(ctx, &s, a)
			if err != nil || len(t.out.Problems) > 0 || !Equal(base, t.out) {
				return
			}
			s.LimitMinutes, s.LimitMoney = sameRoom(sc, base, t.out)
			if err := t.inNoise(ctx); err == nil && t.out.Solvable.True {
				t.confusions()
				checked[i] = &Found{scenario.FormOf(&s), t.out}
			}
		})
		if err != nil {
			return out, err
		}
		for _, f := range checked {
			if f == nil || len(out) >= count || slices.ContainsFunc(out, func(o Found) bool { return alike(&o.Form, &f.Form) || sameGiveaway(o.Result, f.Result) }) {
				continue
			}
			out = append(out, *f)
		}
		if progress != nil {
			progress(len(out), from+len(batch))
		}
	}
	if len(out) < count {
		return out, problem.New("count", "scenario.fewer-equal", "found", len(out), "want", count)
	}
	return out, nil
}

// sameRoom are limits that leave as much room as the given ones do: where the work takes
// longer or costs more, they are as much wider.
func sameRoom(sc *scenario.Scenario, base, r *Result) (minutes, money float64) {
	const step = 5
	minutes = math.Ceil(sc.LimitMinutes*r.Solvable.Minutes/base.Solvable.Minutes/step) * step
	money = sc.LimitMoney + math.Ceil((r.Solvable.Money-base.Solvable.Money)/step)*step
	return min(max(minutes, sc.LimitMinutes), mostMinutes), max(money, sc.LimitMoney)
}

// others are what else could be hidden so that the complaint is as true: another fault in
// the place of the first, at several severities, with whatever else was hidden.
func others(ctx context.Context, sc *scenario.Scenario) (out [][]machine.FaultSpec, err error) {
	offers, err := Bringing(ctx, sc, sc.Claim)
	if err != nil {
		return nil, err
	}
	for _, o := range offers {
		if slices.ContainsFunc(sc.Inside(), func(f machine.FaultSpec) bool { return f.ID == o.Fault }) {
			continue
		}
		def := catalogue.Standard().Fault(o.Fault)
		severities := []float64{1}
		if def.Graded {
			severities = nil
			for k := range 5 {
				severities = append(severities, math.Round((o.From+(o.To-o.From)*float64(k)/4)*severityGrid)/severityGrid)
			}
		}
		for _, s := range slices.Compact(severities) {
			f := machine.FaultSpec{ID: o.Fault, Mode: o.Mode, Severity: s}
			if len(def.Causes) > 0 {
				f.Cause = def.Causes[0]
			}
			out = append(out, append([]machine.FaultSpec{f}, sc.Faults[1:]...))
		}
	}
	return out, nil
}

// sameTold tells the same of another machine: what was true of the one may mislead here.
func sameTold(sc *scenario.Scenario, faults []machine.FaultSpec) []scenario.Statement {
	other := *sc
	other.Faults = faults
	ses, err := other.Master(false, 0)
	if err != nil {
		return sc.Told
	}
	life := ses.Machine().History()
	out := slices.Clone(sc.Told)
	for i, t := range out {
		st := catalogue.Standard().Statement(t.Says)
		switch {
		case st == nil || !st.Cause:
		case life[st.ID] > 0 && t.Is == scenario.Misleading:
			out[i].Is = scenario.TrueTold
		case life[st.ID] == 0 && t.Is == scenario.TrueTold:
			out[i].Is = scenario.Misleading
		}
	}
	return slices.DeleteFunc(out, func(t scenario.Statement) bool { // nothing is kept back that is not so
		st := catalogue.Standard().Statement(t.Says)
		return t.Is == scenario.Omitted && st != nil && st.Cause && life[st.ID] == 0
	})
}

// equalShare is how far a part of the difficulty of equal scenarios may be apart.
const equalShare = 0.15

// Equal says that two scenarios are as hard by every part of their difficulty: figures
// within fifteen in a hundred, what is counted within one or fifteen in a hundred, and the
// same level; and that neither gives the other away.
func Equal(a, b *Result) bool {
	near := func(x, y, least float64) bool { return math.Abs(x-y) <= max(equalShare*max(x, y), least) }
	count := func(x, y int) bool { return near(float64(x), float64(y), 1) }
	p, q := &a.Difficulty, &b.Difficulty
	return p.Level == q.Level && near(p.Bits, q.Bits, 0) && near(p.BestBitsPerMinute, q.BestBitsPerMinute, 0) && count(p.Explanations, q.Explanations) &&
		count(len(p.Traps), len(q.Traps)) && count(len(p.TimeEffects), len(q.TimeEffects)) && p.Faults == q.Faults && p.Distractors == q.Distractors &&
		!sameGiveaway(a, b)
}

func sameGiveaway(a, b *Result) bool {
	return a.Giveaway != nil && b.Giveaway != nil && *a.Giveaway == *b.Giveaway
}
