package diagnosis

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Three at once are thought of only where two at once have come to matter, and
// are then found: each shown by two tests, for one look in fifty is a slip, and
// none explains another.
func TestThreeAtOnce(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	b := believed(t, `{"machine":"f4-bowl","events":[{"test":"look-switches","observed":"stop"},{"test":"spark-gap","observed":0},
		{"test":"spark-kill-off","observed":14.4},{"test":"key-look","observed":"sheared"},{"test":"tdc-magnet","observed":63},
		{"test":"jet-look","observed":"none"},{"test":"passage-trace","observed":"main-shut"}]}`)
	for _, f := range []string{"switch-off", "main-jet-blocked", "key-sheared"} {
		assert.Greater(t, b.Posterior[f], 0.9, f)
	}
	assert.Len(t, b.Credible[0].Faults, 3, "%v", b.Credible)
	one := believed(t, `{"machine":"f4-bowl","events":[{"test":"look-switches","observed":"stop"}]}`)
	assert.Len(t, one.Credible[0].Faults, 1)
	for _, set := range Triples("f4-bowl", job.Sheet, nil,
		Report{Sets: []Set{{[]string{"oil-low", "switch-off"}, 0.5}, {[]string{"oil-low", "rings-worn"}, 0.2}}}) {
		assert.Len(t, set, 3)
		assert.True(t, CanBeTogether(set), set)
	}
	assert.Empty(t, Triples("f4-bowl", job.Sheet, nil, Report{Sets: []Set{{[]string{"switch-off"}, 1}}}))
}

// Every point of a grid is interpolated between its corners, whose weights sum
// to one, and the points of an axis are weighed by the trapezium rule.
func TestGrid(t *testing.T) {
	two := func(float64) int { return 2 }
	g := grid{graded("a", "", evenly(5), two), there("b", ""), graded("c", "", evenly(3), two)}
	assert.Equal(t, 15, g.nodeCount())
	require.Equal(t, 45, g.points())
	total := 0.0
	for i := range g.points() {
		total += g.share(i)
		sum, at := 0.0, []float64{0, 0, 0}
		for _, c := range g.cornersOf(i, nil) {
			sum += c.weight
			for k, n := range g.nodeAt(c.node) {
				at[k] += c.weight * float64(n)
			}
		}
		assert.InDelta(t, 1, sum, 1e-12)
		assert.InDeltaSlice(t, []float64{float64(i/5) / 2, 0, float64(i%5) / 2}, at, 1e-12)
	}
	assert.InDelta(t, 1, total, 1e-12)
}

// Faults that the same work mends are merged; the likeliest work comes first.
func TestRepairGroups(t *testing.T) {
	r := Report{Sets: []Set{{[]string{"main-jet-blocked"}, 0.5}, {[]string{"pilot-jet-blocked"}, 0.3}, {[]string{"switch-off"}, 0.15}, {nil, 0.05}}}
	groups := RepairGroups("f4-bowl", r)
	require.NotEmpty(t, groups)
	assert.Equal(t, "jets", groups[0].Reach)
	assert.InDelta(t, 0.8, groups[0].P, 1e-9)
	assert.ElementsMatch(t, []string{"main-jet-blocked", "pilot-jet-blocked"}, groups[0].Faults)
	for i := 1; i < len(groups); i++ {
		assert.LessOrEqual(t, groups[i].P, groups[i-1].P)
	}
}
