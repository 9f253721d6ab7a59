package authoring

import (
	"context"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
)

// jet is a blocked jet behind the classic complaint.
func jet() *scenario.Form {
	return &scenario.Form{Machine: "f4-bowl", Faults: []machine.FaultSpec{{ID: "main-jet-blocked", Severity: 0.6}}, Complaint: "only-on-choke",
		Words: "Goes only with the choke on.", LimitMinutes: 60, LimitMoney: 40}
}

func made(t *testing.T, f *scenario.Form) *scenario.Scenario {
	t.Helper()
	sc, bad := f.Scenario()
	require.Empty(t, bad)
	return sc
}

func checked(t *testing.T, f *scenario.Form) *Result {
	t.Helper()
	sc := made(t, f)
	a, err := Answers(t.Context(), sc)
	require.NoError(t, err)
	r, err := Check(t.Context(), sc, a)
	require.NoError(t, err)
	return r
}

func codes(ps []problem.Problem) (out []string) {
	for _, p := range ps {
		out = append(out, p.Path+" "+p.Code)
	}
	return out
}

func TestCheckTellsWhatAJobComesTo(t *testing.T) {
	r := checked(t, jet())
	assert.Empty(t, r.Problems)
	assert.True(t, r.Complaint.True && r.Solvable.True)
	assert.Greater(t, r.Solvable.Reaches, 0.9)
	last := r.Solvable.Path[len(r.Solvable.Path)-1]
	assert.True(t, last.Proof && last.Outcome == "runs-well", "%v", r.Solvable.Path)
	sum := 0.0
	for _, s := range r.Solvable.Path {
		sum += s.Minutes
	}
	assert.InDelta(t, r.Solvable.Minutes, sum, 15, "all but covers that go back")
	// Its nearest neighbour at the jets is told apart by the jet held to the light.
	i := slices.IndexFunc(r.Confused, func(c Confusion) bool { return slices.Equal(c.Faults, []string{"emulsion-blocked"}) })
	require.GreaterOrEqual(t, i, 0, "%v", r.Confused)
	assert.Contains(t, r.Confused[i].SeparatedBy, "jet-look")
	assert.Contains(t, r.Hazards, "carbon-monoxide")
}

// What a complaint says has to be so, and what is said in its place mends it.
func TestUntrueComplaintSaysWhatWouldBe(t *testing.T) {
	f := jet()
	f.Faults[0].Severity = 0.1
	sc := made(t, f)
	c, err := Claims(sc)
	require.NoError(t, err)
	require.Equal(t, []string{"complaint scenario.complaint-not-so-but-at"}, codes(c.Problems))
	sc.Faults[0].Severity = c.Problems[0].Params["percent"].(float64) / 100
	c, err = Claims(sc)
	require.NoError(t, err)
	assert.Empty(t, c.Problems)

	f = jet()
	f.Complaint = "stuck"
	c, err = Claims(made(t, f))
	require.NoError(t, err)
	require.Equal(t, []string{"complaint scenario.complaint-not-so-but-is"}, codes(c.Problems))
	assert.Contains(t, c.Problems[0].Params["complaint"], "only-on-choke")
}

// A distractor neither brings the complaint nor takes it away; and of several faults each
// has its part.
func TestDistractorLaws(t *testing.T) {
	with := func(change func(f *scenario.Form)) []string {
		f := jet()
		change(f)
		c, err := Claims(made(t, f))
		require.NoError(t, err)
		return codes(c.Problems)
	}
	assert.Empty(t, with(func(f *scenario.Form) {
		f.Distractors = []machine.FaultSpec{{ID: "plug-gap-wrong", Mode: "wide", Severity: 0.1}, {ID: "filter-torn", Severity: 0.4}}
	}))
	assert.Equal(t, []string{"distractors scenario.distractors-bring-it"}, with(func(f *scenario.Form) {
		f.Faults, f.Distractors = []machine.FaultSpec{{ID: "filter-torn", Severity: 0.4}}, f.Faults
	}))
	assert.Equal(t, []string{"distractors scenario.distractors-alone-bring-it"}, with(func(f *scenario.Form) {
		f.Faults = []machine.FaultSpec{{ID: "arrestor-clogged", Severity: 0.85}}
		f.Distractors = []machine.FaultSpec{{ID: "muffler-nest", Severity: 0.9}}
		f.Complaint = "weak"
	}))
	assert.Equal(t, []string{"faults[1] scenario.fault-has-no-part"}, with(func(f *scenario.Form) {
		f.Faults = append(f.Faults, machine.FaultSpec{ID: "filter-torn", Severity: 0.4})
	}))
	f := jet()
	f.Distractors = []machine.FaultSpec{{ID: "running-rich"}}
	f.Faults = []machine.FaultSpec{{ID: "valve-burnt", Severity: 1}}
	f.Distractors[0].ID = "valve-clearance-tight"
	_, bad := f.Scenario()
	assert.Contains(t, codes(bad), "distractors[0].id scenario.distractor-is-a-cause")
}

// Without the one instrument that tells it, a job cannot be solved; limits that no path
// keeps are named.
func TestKitAndLimits(t *testing.T) {
	f := &scenario.Form{Machine: "f4-bowl", Faults: []machine.FaultSpec{{ID: "fuel-ethanol-high", Severity: 1}}, Complaint: "hunts", Words: "-",
		LimitMinutes: 300, LimitMoney: 300, Kit: []string{"compression-dry", "spark-gap"}}
	less := checked(t, f)
	assert.False(t, less.Solvable.True, "%v", less.Solvable)
	assert.Contains(t, codes(less.Problems), "faults scenario.found-by-trying")
	f.Kit = append(f.Kit, "jar-fuel")
	more := checked(t, f)
	assert.True(t, more.Solvable.True)
	assert.True(t, slices.ContainsFunc(more.Solvable.Path, func(s Step) bool { return s.Test == "jar-fuel" }), "%v", more.Solvable.Path)

	f = jet()
	f.LimitMinutes, f.LimitMoney = 10, 0
	r := checked(t, f)
	assert.False(t, r.Solvable.True)
	assert.Equal(t, []string{"limit_minutes scenario.no-path-in-the-time", "limit_money scenario.no-path-for-the-money"}, codes(r.Problems))
}

// What a look finds is of the first level, and alone is enough.
func TestLevelOneIsFoundByALook(t *testing.T) {
	f := jet()
	f.Faults, f.Complaint = []machine.FaultSpec{{ID: "valve-shut"}}, "no-start"
	r := checked(t, f)
	assert.Equal(t, 1, r.Difficulty.Level)
	require.NotNil(t, r.Giveaway)
	assert.Equal(t, "look-switches", *r.Giveaway)
	assert.Greater(t, checked(t, jet()).Difficulty.Level, 1)
}

// Somebody competent finds what is said to be found: in at least 90 of 100 jobs with noise,
// within the limits. What is generated passes its own check on answers that were worked
// out anew, and the same seed gives the same.
func TestGeneratedJobsHold(t *testing.T) {
	if testing.Short() {
		t.Skip("works many jobs")
	}
	const runs, count = 100, 2
	for _, fam := range []string{"f4-bowl", "t2-diaphragm"} {
		like := &scenario.Scenario{Family: fam, Sheet: catalogue.Standard().Family(fam).Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
		a, err := Answers(t.Context(), like)
		require.NoError(t, err)
		found, err := Generate(t.Context(), like, a, Wanted{Count: count, Seed: 11})
		require.NoError(t, err)
		again, err := Generate(t.Context(), like, a, Wanted{Count: count, Seed: 11})
		require.NoError(t, err)
		assert.Equal(t, found, again)
		fresh, err := Answers(t.Context(), like)
		require.NoError(t, err)
		for _, x := range found {
			sc := made(t, &x.Form)
			r, err := Check(t.Context(), sc, fresh)
			require.NoError(t, err)
			assert.Equal(t, x.Result.Difficulty, r.Difficulty)
			assert.True(t, r.Solvable.True && r.Complaint.True && len(r.Problems) == 0, "%v: %v", x.Form, r.Problems)
			began, err := begin(t.Context(), sc, fresh)
			require.NoError(t, err)
			within := 0
			for i := range runs {
				w, err := Work(t.Context(), sc, began.Clone(), true, uint64(i+1))
				require.NoError(t, err)
				if w.Solved && w.Minutes <= sc.LimitMinutes && w.Money <= sc.LimitMoney {
					within++
				}
			}
			assert.GreaterOrEqual(t, within, runs*9/10, "%v %s", x.Form.Faults, x.Form.Complaint)
		}
	}
}

// Lessons bring the two sides that could be taken for each other.
func TestLessonsAndLevels(t *testing.T) {
	if testing.Short() {
		t.Skip("works many jobs")
	}
	like := &scenario.Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
	a, err := Answers(t.Context(), like)
	require.NoError(t, err)
	found, err := Generate(t.Context(), like, a, Wanted{Count: 3, Seed: 2, Lesson: [2]string{"cap-vent", "pickup-filter"}})
	require.NoError(t, err)
	for _, x := range found {
		reach := catalogue.Standard().Fault(x.Form.Faults[0].ID).Reach
		assert.Contains(t, []string{"cap-vent", "pickup-filter"}, reach)
	}
	for level := 1; level <= 5; level += 2 {
		found, err = Generate(t.Context(), like, a, Wanted{Count: 1, Seed: 5, Level: level})
		require.NoError(t, err)
		assert.Equal(t, level, found[0].Result.Difficulty.Level)
	}
	_, err = Generate(t.Context(), like, a, Wanted{Count: 40, Lesson: [2]string{"cap-vent", "seized"}})
	var p *problem.Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, "scenario.fewer-found", p.Code)
	for _, w := range []Wanted{{Lateral: "moon"}, {Level: 9}, {Lesson: [2]string{"moon", "jets"}}, {Complaint: "moon"},
		{Lateral: "fuel", Lesson: [2]string{"plug", "coil"}}} {
		_, err = Generate(t.Context(), like, a, w)
		require.ErrorAs(t, err, &p, "%v", w)
	}
	ended, end := context.WithCancel(t.Context())
	end()
	found, err = Generate(ended, like, a, Wanted{Count: 3})
	assert.Error(t, err)
	assert.Empty(t, found)
}

// A variant is as hard by every part, hides something else, and never shares its giveaway.
func TestVariantsAreEqual(t *testing.T) {
	if testing.Short() {
		t.Skip("works many jobs")
	}
	f := jet()
	f.History = []scenario.Statement{{Says: "stored-with-fuel", Is: scenario.TrueTold}}
	sc := made(t, f)
	a, err := Answers(t.Context(), sc)
	require.NoError(t, err)
	base, err := Check(t.Context(), sc, a)
	require.NoError(t, err)
	got, err := Variants(t.Context(), sc, a, 3, 1, nil)
	require.NoError(t, err)
	require.Len(t, got, 3)
	all := append([]*Result{base}, got[0].Result, got[1].Result, got[2].Result)
	for i, x := range got {
		assert.NotEqual(t, "main-jet-blocked", x.Form.Faults[0].ID)
		sc, bad := x.Form.Scenario()
		require.Empty(t, bad)
		assert.Equal(t, []string{"stored"}, sc.Heard(), "the same is told")
		r, err := Check(t.Context(), sc, a)
		require.NoError(t, err)
		assert.Equal(t, x.Result, r)
		for _, o := range all[:i+1] {
			assert.False(t, sameGiveaway(o, r))
		}
		assert.True(t, Equal(base, r))
	}
	again, err := Variants(t.Context(), sc, a, 3, 1, nil)
	require.NoError(t, err)
	assert.Equal(t, got, again)
}

// Symptom first: what is offered does it, at both ends of the severities offered.
func TestBringingDoesIt(t *testing.T) {
	like := made(t, jet())
	for _, complaint := range []string{"dies-in-quarter", "smokes-blue", "no-restart-hot"} {
		offers, err := Bringing(t.Context(), like, complaint)
		require.NoError(t, err)
		require.NotEmpty(t, offers, complaint)
		for _, o := range offers {
			for _, s := range []float64{o.From, o.To} {
				p, err := like.TruthOf(complaint, []machine.FaultSpec{{ID: o.Fault, Mode: o.Mode, Severity: s}})
				require.NoError(t, err)
				assert.GreaterOrEqual(t, p, isTrue, "%s: %v", complaint, o)
			}
		}
	}
}

// The standing is the belief on machines that nothing was done to.
func TestStandingIsTheBelief(t *testing.T) {
	sc := made(t, jet())
	pop, err := sc.Population(t.Context(), nil)
	require.NoError(t, err)
	a, err := pop.Answers(t.Context())
	require.NoError(t, err)
	b := pop.Start(diagnosis.AsIfValid)
	require.NoError(t, b.Complain(t.Context(), sc.Complaint().Claim))
	s, err := a.Begin(t.Context(), sc.Claim, nil, nil)
	require.NoError(t, err)
	report := b.Report()
	for id, p := range report.Fault {
		assert.InDelta(t, p, s.Any([]string{id}), 1e-3, id)
	}
	assert.InDelta(t, report.Bits, s.Bits(), 1e-3)
	rank, err := b.Rank(t.Context(), diagnosis.Weights{})
	require.NoError(t, err)
	worth := map[string]float64{}
	for _, w := range rank {
		worth[w.Test] = w.Bits
	}
	for _, w := range s.Rank(diagnosis.Weights{}, nil, func(string) bool { return true }) {
		assert.InDelta(t, worth[w.Test], w.Bits, 0.02+0.02*w.Bits, w.Test)
	}
}

// Whatever is read as a scenario can be checked, or says where it is wrong.
func FuzzReadForm(f *testing.F) {
	for _, s := range []string{`{"machine": "f4-bowl", "faults": [{"id": "seized"}], "complaint": "stuck", "words": "x", "limit_minutes": 60, "limit_money": 1}`,
		`{"machine": 1}`, `{"moon": 1}`, `[`, `{} {}`, `{"kit": ["moon"], "rubric": {"proof": -1}, "history": [{"says": "moon", "is": "so"}]}`,
		`{"machine": "t2-diaphragm", "fuel_ml": 1e9, "sheet": {"tank_ml": {"low": 1, "high": 1}}, ` +
			`"distractors": [{"id": "screw-rich"}], "faults": [{"id": "screw-lean"}]}`} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		form, err := scenario.ReadForm(strings.NewReader(s))
		if err != nil {
			var p *problem.Problem
			require.ErrorAs(t, err, &p)
			return
		}
		if sc, bad := form.Scenario(); len(bad) == 0 {
			_, err := Claims(sc)
			require.NoError(t, err)
		}
	})
}
