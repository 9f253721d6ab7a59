package authoring

import (
	"cmp"
	"context"
	"errors"
	"math"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/parallel"
	"zanjero/core/problem"
	"zanjero/core/reading"
	"zanjero/core/scenario"
)

// Result is what a scenario comes to.
type Result struct {
	// Problems keep it from being given out.
	Problems   []problem.Problem `json:"problems"`
	Complaint  Truth             `json:"complaint"`
	Solvable   Solvable          `json:"solvable"`
	Difficulty Difficulty        `json:"difficulty"`
	Confused   []Confusion       `json:"confused_with"`
	// Giveaway is the one test, of those that are thought of first, that alone is enough;
	// nil for none.
	Giveaway *string  `json:"giveaway"`
	Hazards  []string `json:"hazards"`
	Proof    Proof    `json:"proof"`
}

// Truth is how likely the machine does what is complained of.
type Truth struct {
	True  bool    `json:"true"`
	Share float64 `json:"share"`
}

// Solvable is how somebody competent would get on with what is on the bench.
type Solvable struct {
	True bool `json:"true"`
	// Often is the share of jobs with noise, each with other readings and attempts, in which
	// they find it within the limits.
	Often float64 `json:"often"`
	// Reaches is how surely the truth, or what the same work mends, is known in the end.
	Reaches float64 `json:"reaches"`
	// Minutes and Money from the complaint to the proof, covers and precautions among them.
	Minutes float64 `json:"minutes"`
	Money   float64 `json:"money"`
	// Tests is how many are made before the last work, TestMinutes what these take.
	Tests       int     `json:"tests"`
	TestMinutes float64 `json:"test_minutes"`
	Path        []Step  `json:"path"`
}

// Confusion is something else that it could be, and what tells the two apart, best first.
type Confusion struct {
	Faults      []string `json:"faults"`
	SeparatedBy []string `json:"separated_by"`
}

// Proof is the test that shows the complaint gone, and how long it takes.
type Proof struct {
	Test    string  `json:"test"`
	Minutes float64 `json:"minutes"`
}

// isTrue is from when a complaint counts as true of a machine.
const isTrue = 0.5

// Answers works out the answers of a scenario's engine, for whoever asks about several on
// one engine. The error is the context's, or a machine that cannot be.
func Answers(ctx context.Context, sc *scenario.Scenario) (*diagnosis.Answers, error) {
	pop, err := sc.Population(ctx, nil)
	if err != nil {
		return nil, err
	}
	return pop.Answers(ctx)
}

// Check works out all of what a scenario comes to, with the answers of its engine. What
// its form already refuses is not to be asked. The error is the context's.
func Check(ctx context.Context, sc *scenario.Scenario, a *diagnosis.Answers) (*Result, error) {
	t, err := try(ctx, sc, a)
	if err != nil {
		return nil, err
	}
	if err := t.inNoise(ctx); err != nil {
		return nil, err
	}
	t.confusions()
	return t.out, nil
}

// trial is a scenario that is being checked.
type trial struct {
	sc    *scenario.Scenario
	began *diagnosis.Standing // what is believed once the complaint is heard
	w     *Worked
	out   *Result
	// policy is shared by all who work it.
	policy *policy
}

// try asks the machine about the complaint, has somebody competent work the job once
// without noise, and works the difficulty out.
func try(ctx context.Context, sc *scenario.Scenario, a *diagnosis.Answers) (*trial, error) {
	claims, err := Claims(sc)
	if err != nil {
		return nil, err
	}
	t := &trial{sc: sc, policy: newPolicy(), out: &Result{Problems: claims.Problems, Complaint: claims.Complaint, Proof: claims.Proof,
		Confused: []Confusion{}, Hazards: []string{}}}
	if t.began, err = begin(ctx, sc, a); err != nil {
		return nil, err
	}
	return t, t.work(ctx)
}

func (t *trial) work(ctx context.Context) (err error) {
	sc, out := t.sc, t.out
	if t.w, err = work(ctx, sc, t.began.Clone(), false, 0, t.policy); err != nil {
		return err
	}
	w := t.w
	out.Solvable = Solvable{True: w.Solved && w.Reaches >= sure && w.Minutes <= sc.LimitMinutes && w.Money <= sc.LimitMoney,
		Reaches: round(w.Reaches, 1e-4), Minutes: round(w.Minutes, 0.1), Money: round(w.Money, 0.01), Path: w.Path}
	for _, st := range w.Path {
		def := catalogue.Standard().Test(st.Test)
		if def == nil {
			continue
		}
		if !st.Proof {
			out.Solvable.Tests++
			out.Solvable.TestMinutes = round(out.Solvable.TestMinutes+st.Minutes, 0.1)
		}
		for _, h := range def.Hazards {
			if !slices.Contains(out.Hazards, h) {
				out.Hazards = append(out.Hazards, h)
			}
		}
	}
	out.Problems = append(out.Problems, limits(sc, w)...)
	if out.Difficulty, err = difficulty(sc, t.began, w); err != nil {
		return err
	}
	id, looked, err := giveaway(sc, t.began)
	if err != nil {
		return err
	}
	if id != "" {
		out.Giveaway = &id
	}
	out.Difficulty.Score, out.Difficulty.Level = grade(&out.Difficulty, out.Solvable.TestMinutes, looked)
	return nil
}

// inNoise asks whether what can be solved is solved often enough.
func (t *trial) inNoise(ctx context.Context) (err error) {
	s := &t.out.Solvable
	if !s.True {
		return nil
	}
	if s.Often, err = t.often(ctx); err == nil && s.Often < oftenEnough {
		s.True = false
		t.out.Problems = append(t.out.Problems, *problem.New("faults", "scenario.not-found-often", "percent", math.Round(100*s.Often)))
	}
	return err
}

// round brings a figure to a step that is a power of ten, 0.1 or less.
func round(x, to float64) float64 { n := math.Round(1 / to); return math.Round(x*n) / n }

// noisyJobs are tried, and oftenEnough is the share of them that must be solved: what is
// called solvable is to be solved in nine of ten.
const (
	noisyJobs   = 20
	oftenEnough = 0.95
)

// often is the share of jobs with noise that are solved within the limits.
func (t *trial) often(ctx context.Context) (float64, error) {
	sc := t.sc
	within := make([]float64, noisyJobs)
	errs := make([]error, noisyJobs)
	err := parallel.For(ctx, noisyJobs, func(i int) {
		w, err := work(ctx, sc, t.began.Clone(), true, uint64(i+1), t.policy)
		if errs[i] = err; err == nil && w.Solved && w.Minutes <= sc.LimitMinutes && w.Money <= sc.LimitMoney {
			within[i] = 1.0 / noisyJobs
		}
	})
	sum := 0.0
	for _, x := range within {
		sum += x
	}
	return round(sum, 1e-4), errors.Join(append(errs, err)...)
}

// begin is what is believed once the complaint is heard: over single faults, and over the
// sets that are made of what is in the machine and what else could be.
func begin(ctx context.Context, sc *scenario.Scenario, a *diagnosis.Answers) (*diagnosis.Standing, error) {
	singles, err := a.Begin(ctx, sc.Claim, sc.Heard(), nil)
	if err != nil || len(sc.Faults)+len(sc.Distractors) < 2 {
		return singles, err
	}
	return a.Begin(ctx, sc.Claim, sc.Heard(), setsOf(sc, singles))
}

// alsoThought is how many other faults sets are made with.
const alsoThought = 3

// setsOf are the sets of two and three that somebody could think of: of everything in the
// machine with everything in it, and with what is likeliest by the complaint.
func setsOf(sc *scenario.Scenario, s *diagnosis.Standing) (out [][]string) {
	var in, all []string
	for _, f := range sc.Inside() {
		in = append(in, f.ID)
	}
	all = slices.Clone(in)
	for _, x := range s.Sets() {
		if len(x.Faults) == 1 && !slices.Contains(all, x.Faults[0]) && len(all) < len(in)+alsoThought {
			all = append(all, x.Faults[0])
		}
	}
	order := sc.Figures().FaultsOf(sc.Family, sc.Sheet)
	rank := func(id string) int {
		return slices.IndexFunc(order, func(f catalogue.Fault) bool { return f.ID == id })
	}
	add := func(set ...string) {
		slices.SortFunc(set, func(a, b string) int { return cmp.Compare(rank(a), rank(b)) })
		known := slices.ContainsFunc(out, func(o []string) bool { return slices.Equal(o, set) })
		if !known && diagnosis.CanBeTogether(set) {
			out = append(out, set)
		}
	}
	for i, a := range in {
		for _, b := range all {
			if a != b {
				add(a, b)
			}
		}
		for j, b := range in[:i] {
			for _, c := range in[:j] {
				add(a, b, c)
			}
		}
	}
	return out
}

// limits says which limit the path does not keep, or that there is none.
func limits(sc *scenario.Scenario, w *Worked) (out []problem.Problem) {
	switch {
	case !w.Solved:
		out = append(out, *problem.New("faults", "scenario.not-found", "percent", math.Round(100*w.Reaches)))
		return out
	case w.Reaches < sure:
		out = append(out, *problem.New("faults", "scenario.found-by-trying", "percent", math.Round(100*w.Reaches)))
	}
	if w.Minutes > sc.LimitMinutes {
		out = append(out, *problem.New("limit_minutes", "scenario.no-path-in-the-time", "minutes", math.Ceil(w.Minutes), "limit", sc.LimitMinutes))
	}
	if w.Money > sc.LimitMoney {
		out = append(out, *problem.New("limit_money", "scenario.no-path-for-the-money", "money", math.Ceil(w.Money), "limit", sc.LimitMoney))
	}
	return out
}

// mostConfused is how many other explanations are named, and apart what a test must tell
// of two, in bits, to part them.
const (
	mostConfused   = 5
	mostSeparators = 3
	apart          = 0.5
)

// confusions are the sets that were thought of on the way and are not the truth, the
// likeliest first, each with the tests that part it from the truth for the least minutes.
func (t *trial) confusions() {
	truth := ids(t.sc.Faults)
	others := slices.DeleteFunc(slices.Clone(t.w.Thought), func(s diagnosis.Set) bool {
		return len(s.Faults) == 0 || slices.ContainsFunc(s.Faults, func(f string) bool { return slices.Contains(truth, f) })
	})
	slices.SortStableFunc(others, func(a, b diagnosis.Set) int {
		return cmp.Or(cmp.Compare(b.P, a.P), cmp.Compare(keyOf(a.Faults), keyOf(b.Faults)))
	})
	for _, o := range others[:min(len(others), mostConfused)] {
		t.out.Confused = append(t.out.Confused, Confusion{o.Faults, separators(t.sc, t.began, truth[:1], o.Faults)})
	}
}

// separators are the tests that part two sets of faults, the cheapest first.
func separators(sc *scenario.Scenario, s *diagnosis.Standing, a, b []string) []string {
	type by struct {
		test    string
		minutes float64
	}
	var all []by
	for _, x := range s.Rank(diagnosis.Weights{}, nil, func(id string) bool {
		return sc.InKit(catalogue.Standard().Test(id)) && id != reading.AskHistory
	}) {
		if s.Apart(x.Test, a, b) >= apart {
			all = append(all, by{x.Test, x.Minutes})
		}
	}
	slices.SortStableFunc(all, func(a, b by) int { return cmp.Or(cmp.Compare(a.minutes, b.minutes), cmp.Compare(a.test, b.test)) })
	out := []string{}
	for _, x := range all[:min(len(all), mostSeparators)] {
		out = append(out, x.test)
	}
	return out
}

// firstMinutes is how long a test takes at most that is thought of first.
const firstMinutes = 1

// giveaway is the first test, of those that take no instrument and no cover off and little
// time, that alone makes the truth nine tenths sure; "" for none. looked says that it is
// not even a test, but a look or a feel, or that the complaint alone is enough.
func giveaway(sc *scenario.Scenario, began *diagnosis.Standing) (id string, looked bool, err error) {
	if len(sc.Faults) > 1 {
		return "", false, nil
	}
	same := sameWork(sc, sc.Faults[0].ID)
	if began.Any(same) >= sure { // it is told with the complaint
		return sc.Complaint().Claim.Test, true, nil
	}
	least := math.Inf(1)
	for _, t := range sc.Tests() {
		if t.Instrument != "" || len(t.Access) > 0 || t.Minutes > firstMinutes || t.Long || t.ID == reading.AskHistory {
			continue
		}
		ses, err := sc.Master(false, 0)
		if err != nil {
			return "", false, err
		}
		o := ses.Test(t.ID, nil)
		if began.After(t.ID, &o, same) >= sure && t.Minutes < least {
			id, least, looked = t.ID, t.Minutes, t.Kind == catalogue.KindLook || t.Kind == catalogue.KindFeel
		}
	}
	return id, looked, nil
}

// sameWork are the faults that are mended by the cheapest proper work that mends one.
func sameWork(sc *scenario.Scenario, fault string) []string {
	var best *catalogue.Repair
	all := properRepairs(sc)
	for i := range all {
		r := &all[i]
		if slices.Contains(r.Mends, fault) && (best == nil || r.Cost+r.Minutes < best.Cost+best.Minutes) {
			best = r
		}
	}
	if best == nil {
		return []string{fault}
	}
	return best.Mends
}

// master is the machine as somebody would have it who sets every test up rightly.
func master(sc *scenario.Scenario) (*bench.Session, error) { return sc.Master(false, 0) }
