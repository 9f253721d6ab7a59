// Package analysis is what a class gets wrong together: what it takes for what, where it
// turns off the way, which tests it does not trust, which set-ups go wrong, which jobs are
// too hard or give themselves away, how far markers agree, and what to teach next.
package analysis

import (
	"cmp"
	"maps"
	"slices"

	"zanjero/core/assess"
	"zanjero/core/catalogue"
)

// Attempt is a marked attempt of somebody of the class.
type Attempt struct {
	// Giving is the act by which it was given, Level how hard its scenario was worked out to
	// be, 0 where that is not known.
	Giving string
	Level  int
	// Assessment as people left it; its points and standings are not asked for.
	Assessment *assess.Assessment
	Outcome    string
	// Seconds are the outcomes that second markers gave, First the one before them.
	Seconds []string
}

// Analysis is what all of them come to.
type Analysis struct {
	Attempts int `json:"attempts"`
	// Confused is how often what was in one reach was taken for another, the commonest first;
	// right ones are where the two are the same, and an empty Named is nothing named.
	Confused []Confusion `json:"confused"`
	Turns    []Turn      `json:"turns"`
	Trust    []Trust     `json:"trust"`
	SetUps   []SetUp     `json:"set_ups"`
	Jobs     []Job       `json:"jobs"`
	Markers  Kappa       `json:"markers"`
	// Teach is what cost the class the most minutes, the dearest first.
	Teach []Lesson `json:"teach"`
}

// Confusion is a cell of the matrix of true against named.
type Confusion struct {
	True  string `json:"true"`
	Named string `json:"named"`
	Times int    `json:"times"`
	// Minutes are those that such attempts cost, together: all of them where it was taken for
	// another, those beyond somebody competent where it was not.
	Minutes float64 `json:"minutes"`
}

// Turn is the first test that cost an attempt minutes of order, and what would have been
// better then.
type Turn struct {
	Test   string `json:"test"`
	Better string `json:"better"`
	Times  int    `json:"times"`
	// Minutes of regret, together.
	Minutes float64 `json:"minutes"`
}

// Trust is how often a test was made when it was the best one.
type Trust struct {
	Test  string `json:"test"`
	Best  int    `json:"best"`
	Taken int    `json:"taken"`
}

// SetUp is how often a condition of a test was missed.
type SetUp struct {
	Test      string `json:"test"`
	Condition string `json:"condition"`
	Missed    int    `json:"missed"`
	Made      int    `json:"made"` // how often the test was made
}

// Job is how hard something that was given turned out to be.
type Job struct {
	Giving    string  `json:"giving"`
	Attempts  int     `json:"attempts"`
	Level     int     `json:"level"` // as it was worked out, 1 to 5; 0 where it is not known
	Competent int     `json:"competent"`
	Ratio     float64 `json:"ratio"` // mean minutes to those of somebody competent
	// Looks is how it looks: Fair, Hard or Leaky.
	Looks string `json:"looks"`
}

// How a job looks. Hard: under three in ten are competent. Leaky: over nine in ten are, in
// fewer minutes than somebody competent, so that something tells it. Of fewer than five
// attempts nothing is said. Sizes chosen by us.
const (
	Fair  = "fair"
	Hard  = "hard"
	Leaky = "leaky"

	leastTold = 5
)

// Lesson is one thing that could be taught.
type Lesson struct {
	// Kind is LessonApart (two reaches), LessonOrder (two tests) or LessonSetUp (a condition of
	// a test); A and B are which.
	Kind    string  `json:"kind"`
	A       string  `json:"a"`
	B       string  `json:"b"`
	Times   int     `json:"times"`
	Minutes float64 `json:"minutes"`
}

// Kinds of lesson.
const (
	LessonApart = "apart"
	LessonOrder = "order"
	LessonSetUp = "set-up"
)

// How much is listed.
const (
	mostTurns, mostLessons = 8, 6
	costly                 = 2.0 // minutes from which a test is a wrong turn
)

// Of works attempts out; their order does not matter.
func Of(attempts []Attempt) Analysis {
	g := gathering{confused: map[[2]string]*Confusion{}, turns: map[[2]string]*Turn{}, trust: map[string]*Trust{}, setUps: map[[2]string]*SetUp{},
		made: map[string]int{}, jobs: map[string]*Job{}, cat: catalogue.Standard()}
	for i := range attempts {
		g.take(&attempts[i])
	}
	out := Analysis{Attempts: len(attempts), Markers: KappaOf(g.pairs, 2)}
	out.Confused = sorted(g.confused, func(c *Confusion) (float64, string) { return float64(c.Times), c.True + c.Named })
	out.Turns = first(sorted(g.turns, func(t *Turn) (float64, string) { return t.Minutes, t.Test + t.Better }), mostTurns)
	out.Trust = sorted(g.trust, func(t *Trust) (float64, string) { return float64(t.Best - t.Taken), t.Test })
	out.SetUps = sorted(g.setUps, func(s *SetUp) (float64, string) { return float64(s.Missed), s.Test + s.Condition })
	for i := range out.SetUps {
		out.SetUps[i].Made = g.made[out.SetUps[i].Test]
	}
	out.Jobs = sorted(g.jobs, func(j *Job) (float64, string) { return 0, j.Giving })
	for i := range out.Jobs {
		out.Jobs[i].look()
	}
	out.Teach = first(g.lessons(out.Turns, out.SetUps), mostLessons)
	return out
}

// gathering is what is counted while attempts go by.
type gathering struct {
	confused map[[2]string]*Confusion
	turns    map[[2]string]*Turn
	trust    map[string]*Trust
	setUps   map[[2]string]*SetUp
	made     map[string]int
	jobs     map[string]*Job
	pairs    [][2]int
	cat      *catalogue.Catalogue
}

// at gives what is counted under a key, made where it is not there yet.
func at[K comparable, V any](m map[K]*V, k K, fresh V) *V {
	if m[k] == nil {
		m[k] = &fresh
	}
	return m[k]
}

func (g *gathering) take(x *Attempt) {
	a := x.Assessment
	beyond := max(0, a.Economy.Minutes-a.Economy.ReferenceMinutes)
	for _, t := range a.Truth {
		named := g.named(a, t)
		c := at(g.confused, [2]string{t.Reach, named}, Confusion{True: t.Reach, Named: named})
		c.Times++
		cost := a.Economy.Minutes
		if named == t.Reach {
			cost = beyond
		}
		c.Minutes += cost / float64(len(a.Truth))
	}
	turned := false
	for _, o := range a.Order {
		if o.Exempt != "" {
			continue
		}
		best := o.Test
		if o.Better != "" && o.Regret > 0 {
			best = o.Better
		}
		at(g.trust, best, Trust{Test: best}).Best++
		if best == o.Test {
			g.trust[best].Taken++
		}
		if !turned && o.Regret >= costly && o.Better != "" {
			turned = true
			t := at(g.turns, [2]string{o.Test, o.Better}, Turn{Test: o.Test, Better: o.Better})
			t.Times++
			t.Minutes += o.Regret
		}
	}
	for _, r := range a.Readings {
		if r.Part != "" {
			continue
		}
		g.made[r.Test]++
		for _, m := range r.Missed {
			at(g.setUps, [2]string{r.Test, m}, SetUp{Test: r.Test, Condition: m}).Missed++
		}
	}
	j := at(g.jobs, x.Giving, Job{Giving: x.Giving, Level: x.Level})
	j.Attempts++
	j.Ratio += a.Economy.Ratio // a mean in the end
	if x.Outcome == assess.Competent {
		j.Competent++
	}
	for _, s := range x.Seconds {
		g.pairs = append(g.pairs, [2]int{category(a.Outcome), category(s)})
	}
}

func category(outcome string) int {
	if outcome == assess.Competent {
		return 1
	}
	return 0
}

// named is the reach that a hidden fault was taken for: its own where that was named at all.
func (g *gathering) named(a *assess.Assessment, t assess.Truth) string {
	other := ""
	for _, f := range a.Hand.Findings {
		if f.Filing != assess.Root && f.Filing != assess.Contributing {
			continue
		}
		if f.Reach == t.Reach {
			return f.Reach
		}
		if other == "" && !slices.ContainsFunc(a.Truth, func(x assess.Truth) bool { return x.Reach == f.Reach }) {
			other = f.Reach
		}
	}
	return other
}

func (j *Job) look() {
	j.Ratio /= float64(j.Attempts)
	share := float64(j.Competent) / float64(j.Attempts)
	switch j.Looks = Fair; {
	case j.Attempts < leastTold:
	case share < 0.3:
		j.Looks = Hard
	case share > 0.9 && j.Ratio < 1:
		j.Looks = Leaky
	}
}

// lessons puts what went wrong in the order of the minutes that it cost. A set-up that was
// missed costs the test made again.
func (g *gathering) lessons(turns []Turn, setUps []SetUp) []Lesson {
	apart := map[[2]string]*Lesson{}
	for _, c := range g.confused {
		if c.True == c.Named || c.Named == "" {
			continue
		}
		// One lesson tells two reaches apart, whichever was taken for the other.
		a, b := min(c.True, c.Named), max(c.True, c.Named)
		l := at(apart, [2]string{a, b}, Lesson{Kind: LessonApart, A: a, B: b})
		l.Times += c.Times
		l.Minutes += c.Minutes
	}
	all := sorted(apart, func(l *Lesson) (float64, string) { return l.Minutes, l.A + l.B })
	for _, t := range turns {
		all = append(all, Lesson{LessonOrder, t.Test, t.Better, t.Times, t.Minutes})
	}
	for _, s := range setUps {
		if t := g.cat.Test(s.Test); t != nil {
			all = append(all, Lesson{LessonSetUp, s.Test, s.Condition, s.Missed, float64(s.Missed) * t.Minutes})
		}
	}
	slices.SortStableFunc(all, func(a, b Lesson) int { return cmp.Compare(b.Minutes, a.Minutes) })
	return all
}

// sorted lists what was counted, the most first, and by name where it is as much.
func sorted[K comparable, V any](m map[K]*V, by func(*V) (float64, string)) []V {
	out := []V{}
	for v := range maps.Values(m) {
		out = append(out, *v)
	}
	slices.SortFunc(out, func(a, b V) int {
		x, p := by(&a)
		y, q := by(&b)
		return cmp.Or(cmp.Compare(y, x), cmp.Compare(p, q))
	})
	return out
}

func first[T any](all []T, n int) []T { return all[:min(n, len(all))] }
