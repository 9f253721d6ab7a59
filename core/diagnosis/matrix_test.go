package diagnosis

import (
	"bytes"
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/sequencing"
)

// The model's own matrix of every family is read back as it was written, tells
// most faults from each other, and can be planned on.
func TestMatrixOfEveryFamily(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		m, err := Matrix(context.Background(), fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20})
		require.NoError(t, err)
		var b bytes.Buffer
		require.NoError(t, m.Write(&b))
		back, err := sequencing.Read(&b)
		require.NoError(t, err, fam.ID)
		assert.Equal(t, m.Cells, back.Cells)
		assert.Equal(t, "healthy", m.Faults[0])
		assert.Greater(t, float64(len(m.Groups())), 0.8*float64(len(m.Faults)), "%s: most are told apart", fam.ID)
		plan, err := sequencing.Rollout(t.Context(), back)
		require.NoError(t, err)
		greedy, err := sequencing.Greedy(t.Context(), back)
		require.NoError(t, err)
		assert.LessOrEqual(t, plan.ExpectedCost, greedy.ExpectedCost+1e-9)
		assert.Less(t, plan.ExpectedCost, 40.0, "minutes, on %s", fam.ID)
	}
}
