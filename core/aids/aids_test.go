package aids

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func result(t *testing.T, id string, values map[string]float64) []Result {
	out, p := Find(id).Compute(values)
	require.Nil(t, p)
	return out
}

// Against the published figures that each aid names.
func TestPublishedFigures(t *testing.T) {
	// Boyle: a litre that grows by 15 ml falls by 1.50 kPa.
	assert.InDelta(t, 1.50, result(t, "tank-vacuum", map[string]float64{"head": 1000, "drawn": 15})[0].Value, 0.005)
	// ρgh: 200 mm of petrol are 1.46 kPa.
	assert.InDelta(t, 1.46, result(t, "head", map[string]float64{"mm": 200})[0].Value, 0.005)
	// IEC 60028: 0.99 Ω at 80 °C are 0.80 Ω at 20 °C.
	assert.InDelta(t, 0.80, result(t, "coil-temperature", map[string]float64{"ohm": 0.99, "c": 80})[0].Value, 0.003)
	// ISO 2533: 84.56 kPa at 1500 m, so a gauge reads the more at sea level.
	height := result(t, "compression-altitude", map[string]float64{"psi": 62, "from": 1500, "to": 0})
	assert.InDelta(t, 84.56, height[1].Value, 0.02)
	assert.InDelta(t, 62*101.325/84.56, height[0].Value, 0.05)
	// The needle-gap table, read backwards.
	assert.InDelta(t, 20, result(t, "spark-gap", map[string]float64{"mm": 17.5})[0].Value, 0.05)
	// Arithmetic.
	assert.InDelta(t, 125, result(t, "premix", map[string]float64{"fuel": 5, "ratio": 40})[0].Value, 1e-9)
	assert.InDelta(t, 40, result(t, "premix-ratio", map[string]float64{"fuel": 5, "oil": 125})[0].Value, 1e-9)
	assert.InDelta(t, 7.5, result(t, "leak-down", map[string]float64{"supply": 80, "held": 74})[0].Value, 1e-9)
	// A plug asks for more under pressure than in the air.
	gap := result(t, "plug-gap", nil)
	assert.Greater(t, gap[0].Value, gap[1].Value)
}

// Every aid names its formula, source and limits, is finite over its range, and
// refuses what is outside it.
func TestEveryAid(t *testing.T) {
	for _, a := range All() {
		for _, end := range []func(Input) float64{func(i Input) float64 { return i.Low }, func(i Input) float64 { return i.High },
			func(i Input) float64 { return i.Start }} {
			values := map[string]float64{}
			for _, in := range a.Inputs {
				values[in.ID] = end(in)
			}
			for _, r := range result(t, a.ID, values) {
				assert.False(t, math.IsNaN(r.Value) || math.IsInf(r.Value, 0), "%s: %s", a.ID, r.ID)
			}
		}
		_, p := a.Compute(map[string]float64{a.Inputs[0].ID: a.Inputs[0].High + 1})
		require.NotNil(t, p, a.ID)
		assert.Equal(t, a.Inputs[0].ID, p.Path)
		_, p = a.Compute(map[string]float64{"wheels": 4})
		require.NotNil(t, p)
	}
}

// What a table says is what the sum says.
func TestTablesAgree(t *testing.T) {
	for _, r := range Find("spark-gap").Table.Rows {
		assert.InDelta(t, r[0], result(t, "spark-gap", map[string]float64{"mm": r[1]})[0].Value, 0.02)
	}
	plug := Find("plug-gap").Table.Rows[2]
	assert.InDelta(t, plug[2], result(t, "plug-gap", map[string]float64{"gap": plug[0], "psi": 60, "c": 200})[0].Value, 0.06)
}

func TestConvert(t *testing.T) {
	out, p := Convert(1, "psi")
	require.Nil(t, p)
	require.Len(t, out, 3)
	for _, r := range out {
		if r.Unit == "kPa" {
			assert.InDelta(t, 6.894757, r.Value, 1e-6)
		}
	}
	_, p = Convert(1, "cubit")
	require.NotNil(t, p)
}
