package yard

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat"

	"zanjero/core/authoring"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/demo"
)

// judged is the demo library from the easiest to the hardest job, as it was put down by
// judgement before any difficulty was worked out, with the reason for each place.
var judged = []struct{ title, because string }{
	{"Nothing in the tank", "one glance, and everybody looks there first"},
	{"The tap", "one glance at two controls"},
	{"Left in STOP", "the same glance, but everybody has missed it once"},
	{"A rope with nothing on it", "it is in the hand before anything is tested"},
	{"It goes on turning", "the complaint names the part; one watch proves it"},
	{"Somebody moved in", "the first cover that comes off shows it"},
	{"A good deed", "few things smoke blue, and the dipstick says which"},
	{"The new plug", "the owner points at it; one gauge"},
	{"Runs away", "few things race; all are in sight at the governor"},
	{"A puddle under it", "a handful of places can drip; which one takes a test"},
	{"It will not, and it is right", "no spark leads to coil and switch, and the oil is looked at late"},
	{"It hit the marker stone", "the kick and the stone say what it is, but proof lies under the flywheel"},
	{"Knocked off its clip", "no spark: half a dozen parts of one path, this one early on it"},
	{"Only with the choke on", "the classic: lean at the jets, with tank, line and joint to be ruled out"},
	{"It goes on without being asked", "rare, but hardly anything else does it; the mark on the plug decides"},
	{"Last year's can", "weak and uneven has a long list; fuel is looked at early, but looks alike"},
	{"Soot", "no power under load: air in, air out or fuel; and a plug that is not quite right"},
	{"Halfway down the row", "takes a quarter of an hour to show, and opening the line hides it"},
	{"A spark, but what a spark", "a spark is seen, so the whole path is written off"},
	{"Fifty pounds", "a low reading that is right for this engine, and a fault beside it"},
	{"An honest end", "two ways to burn oil, and compression that has to be read twice"},
	{"Bubbles", "dies in minutes like everything that starves; the air is hard to see"},
	{"Cuts out", "needs a hot engine, and is whole again when it has cooled"},
	{"Only when it is hot", "as the one before, and a cold engine passes every test"},
	{"It cannot breathe", "fades like fuel, and takes a long run to show"},
	{"Lean, but why", "false air, jets or screws all hunt alike; and a torn filter beside it"},
	{"Air from where nobody looks", "false air with carburettor and joints sound; only pressure finds the seal"},
	{"One was not enough", "the first fault hides the second"},
	{"Two ways to starve", "two faults that starve it in their own time"},
	{"Three at once", "three faults, each enough to take its power, and a red herring"},
}

// The levels of the demo library spread over all five, and the computed difficulty ranks
// them as judgement does.
func TestComputedDifficultyAgreesWithJudgement(t *testing.T) {
	if testing.Short() {
		t.Skip("works out the whole library")
	}
	lib, err := ParseLibrary(demo.Scenarios)
	require.NoError(t, err)
	file, err := Parse(demo.Yard)
	require.NoError(t, err)
	require.Len(t, lib.Scenarios, len(judged))
	var hand, computed []float64
	answers := map[string]*diagnosis.Answers{} // by machine
	levels := map[int]int{}
	for place, j := range judged {
		s := lib.Find(j.title)
		require.NotNil(t, s, j.title)
		m := file.Machine(s.MachineCode)
		require.NotNil(t, m, s.MachineCode)
		sc := s.Scenario.On(m.Family, catalogue.Standard().Complete(m.Family, m.Sheet))
		require.Empty(t, sc.Check(), j.title)
		if answers[m.Code] == nil {
			answers[m.Code], err = authoring.Answers(t.Context(), sc)
			require.NoError(t, err)
		}
		c, err := authoring.Check(t.Context(), sc, answers[m.Code])
		require.NoError(t, err)
		assert.Empty(t, c.Problems, j.title)
		assert.True(t, c.Complaint.True, "%s: %.2f", j.title, c.Complaint.Share)
		assert.True(t, c.Solvable.True, "%s: reaches %.2f", j.title, c.Solvable.Reaches)
		t.Logf("%2d %-28s level %d, score %.2f", place+1, j.title, c.Difficulty.Level, c.Difficulty.Score)
		assert.Equal(t, s.Level, c.Difficulty.Level, "%s: the file says another level", j.title)
		assert.InDelta(t, s.Minutes, c.Solvable.Minutes, 0.5, "%s: the file says other minutes", j.title)
		levels[c.Difficulty.Level]++
		hand, computed = append(hand, float64(place)), append(computed, c.Difficulty.Score)
	}
	for level := 1; level <= 5; level++ {
		assert.GreaterOrEqual(t, levels[level], 3, "level %d: %v", level, levels)
	}
	rho := spearman(hand, computed)
	t.Logf("Spearman's rho %.3f", rho)
	assert.GreaterOrEqual(t, rho, 0.8)
}

// spearman is the correlation of ranks (Spearman 1904), ties at their mean rank.
func spearman(a, b []float64) float64 { return stat.Correlation(ranks(a), ranks(b), nil) }

func ranks(x []float64) []float64 {
	out := make([]float64, len(x))
	for i, v := range x {
		less, same := 0, 0
		for _, w := range x {
			if w < v {
				less++
			} else if w == v {
				same++
			}
		}
		out[i] = float64(less) + float64(same+1)/2
	}
	return out
}
