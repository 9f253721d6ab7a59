package analysis

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/assess"
)

func attempt(giving, truth, named, outcome string, minutes float64, seconds ...string) Attempt {
	a := &assess.Assessment{Truth: []assess.Truth{{ID: truth, Reach: truth}}, Outcome: outcome,
		Economy: assess.Economy{Minutes: minutes, ReferenceMinutes: 20, Ratio: minutes / 20}}
	if named != "" {
		a.Hand.Findings = []assess.Finding{{Reach: named, Filing: assess.Root}}
	}
	return Attempt{Giving: giving, Level: 2, Assessment: a, Outcome: outcome, Seconds: seconds}
}

// What a class confuses with what, and what that cost it; a job that hardly anybody gets
// right, and one that gives itself away.
func TestAnalysis(t *testing.T) {
	var all []Attempt
	for range 6 {
		all = append(all, attempt("hard", "jets", "coil", assess.NotYet, 50))
		all = append(all, attempt("leaky", "plug", "plug", assess.Competent, 10, assess.Competent))
	}
	all = append(all, attempt("hard", "coil", "jets", assess.NotYet, 30, assess.Competent), attempt("hard", "jets", "", assess.NotYet, 20))
	order := &all[0].Assessment.Order
	*order = []assess.Ordered{{Test: "start-attempt", Exempt: assess.ExemptBaseline, Regret: 9, Better: "spark-gap"},
		{Test: "compression-dry", Regret: 6, Better: "spark-gap"}, {Test: "jet-look", Regret: 4, Better: "spark-gap"}, {Test: "spark-gap"}}
	all[0].Assessment.Readings = []assess.Reading{{Test: "compression-dry", Missed: []string{"throttle-open"}}, {Test: "compression-dry"},
		{Test: "compression-dry", Part: "x", Missed: []string{"throttle-open"}}}
	a := Of(all)
	assert.Equal(t, 14, a.Attempts)
	assert.Contains(t, a.Confused, Confusion{"jets", "coil", 6, 300})
	assert.Contains(t, a.Confused, Confusion{"jets", "", 1, 20})
	assert.Contains(t, a.Confused, Confusion{"plug", "plug", 6, 0})
	assert.Equal(t, []Turn{{"compression-dry", "spark-gap", 1, 6}}, a.Turns, "the first alone")
	assert.Contains(t, a.Trust, Trust{"spark-gap", 3, 1})
	assert.Equal(t, []SetUp{{"compression-dry", "throttle-open", 1, 2}}, a.SetUps)
	require.Len(t, a.Jobs, 2)
	assert.Equal(t, Hard, a.Jobs[0].Looks)
	assert.Equal(t, Leaky, a.Jobs[1].Looks)
	assert.InDelta(t, 0.5, a.Jobs[1].Ratio, 1e-9)
	assert.Equal(t, Lesson{LessonApart, "coil", "jets", 7, 330}, a.Teach[0])
	assert.Equal(t, 7, a.Markers.N)
	rand.New(rand.NewPCG(2, 2)).Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	assert.Equal(t, a, Of(all), "the order does not matter")
	assert.Empty(t, Of(nil).Teach)
}
