package diagnosis

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/machine"
)

// Between two nodes that stand apart an engine starts as it does at both of them, or
// at one where the change lies hard by: no severity is believed for signs of two. The
// weights of the points are those of the density.
func TestNodesLieWhereStartsChange(t *testing.T) {
	cat := catalogue.Standard()
	for _, fam := range cat.Families {
		j := Job{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
		for _, fault := range []string{"filter-clogged", "main-jet-blocked", "rings-worn", "key-sheared"} {
			a, err := j.single(fault, "")
			require.NoError(t, err)
			word := func(u float64) string {
				s, err := j.session([]machine.FaultSpec{{ID: fault, Severity: shareSeverity(u)}})
				require.NoError(t, err)
				return foresee.Start(s)
			}
			assert.IsIncreasing(t, a.at, fault)
			assert.LessOrEqual(t, len(a.at), 24, "%s on %s", fault, fam.ID)
			for k := range len(a.at) - 1 {
				low, high := a.at[k], a.at[k+1]
				if high-low > 1.5/finest {
					assert.Equal(t, word(low), word(high), "%s on %s from %v to %v", fault, fam.ID, low, high)
				}
				if high-low > 0.2 { // looked at more closely than it was laid out
					assert.Equal(t, word(low), word((low+high)/2), "%s on %s from %v to %v", fault, fam.ID, low, high)
				}
			}
			sum, nodes := 0.0, 0.0
			for _, p := range a.points {
				sum += p.weight
			}
			for k := range a.at {
				nodes += a.nodeWeight(k)
			}
			assert.InDelta(t, 1, sum, 1e-9, fault)
			assert.InDelta(t, 1, nodes, 1e-9, fault)
		}
	}
}
