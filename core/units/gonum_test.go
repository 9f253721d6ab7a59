package units

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/unit"
	"gonum.org/v1/gonum/unit/constant"
)

// Conversions are held against quantities of gonum's with their dimensions, made
// of the exact definitions of pound, inch and gallon (international yard and
// pound agreement 1959; US gallon of 231 cubic inches). Our factors have seven
// figures, as NIST SP 811 prints them.
func TestConversionsAgainstGonum(t *testing.T) {
	pound := func() *unit.Unit { return unit.Mass(0.45359237).Unit().Mul(constant.StandardGravity) }
	inch := func() *unit.Unit { return unit.Length(0.0254).Unit() }
	cubed := func(u *unit.Unit) *unit.Unit { return unit.New(1, unit.Dimensions{}).Mul(u).Mul(u).Mul(u) }
	si := func(q unit.Uniter, like unit.Uniter) float64 {
		require.True(t, unit.DimensionsMatch(q, like), "%v is not of the kind of %v", q, like)
		return q.Unit().Value()
	}
	squareInch := unit.New(1, unit.Dimensions{}).Mul(inch()).Mul(inch())
	foot := unit.New(12, unit.Dimensions{}).Mul(inch())
	for _, c := range []struct {
		of   Unit
		in   Unit
		want float64
	}{
		{PSI, KPa, si(pound().Div(squareInch), unit.Pressure(1)) / 1e3},
		{Bar, KPa, si(unit.Pressure(1e5), unit.Pressure(1)) / 1e3},
		{Inch, MM, si(inch(), unit.Length(1)) * 1e3},
		{PoundFoot, NewtonMetre, si(pound().Mul(foot), unit.Torque(1))},
		{USGallon, ML, si(cubed(inch()), unit.Volume(1)) * 231 * 1e6},
		{LitrePerHour, MLPerMin, si(unit.Volume(1e-3), unit.Volume(1)) * 1e6 / 60},
		{KOhm, Ohm, si(unit.Resistance(unit.Kilo), unit.Resistance(1))},
		{MOhm, Ohm, si(unit.Resistance(unit.Mega), unit.Resistance(1))},
	} {
		got, err := Convert(1, c.of, c.in)
		require.NoError(t, err)
		assert.InEpsilon(t, c.want, got, 2e-7, "%s in %s", c.of, c.in)
	}
	for _, f := range []float64{-40, 32, 98.6, 212} {
		got, err := Convert(f, Fahrenheit, Celsius)
		require.NoError(t, err)
		k := unit.Temperature((f + 459.67) * 5 / 9)
		assert.InDelta(t, float64(k)-273.15, got, 1e-9)
	}
}
