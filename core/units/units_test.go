package units

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Source: NIST SP 811 (2008), appendix B; ISO 2533:1975; IEC 60028.
func TestPublishedFigures(t *testing.T) {
	conv := func(v float64, from, to Unit) float64 {
		got, err := Convert(v, from, to)
		require.NoError(t, err)
		return got
	}
	assert.InDelta(t, 6.894757, conv(1, PSI, KPa), 1e-6)
	assert.InDelta(t, 25.4, conv(1, Inch, MM), 1e-9)
	assert.InDelta(t, 1.355818, conv(1, PoundFoot, NewtonMetre), 1e-6)
	assert.InDelta(t, 3.785412, conv(1, USGallon, Litre), 1e-6)
	assert.InDelta(t, 212, conv(100, Celsius, Fahrenheit), 1e-9)
	assert.InDelta(t, 101.325, StandardPressureKPa(0), 1e-3)
	assert.InDelta(t, 84.56, StandardPressureKPa(1500), 0.01)
	assert.InDelta(t, 70.12, StandardPressureKPa(3000), 0.015)
	assert.InDelta(t, 0.99, CopperResistance(0.80, 80), 0.005)
}

func TestConvertRefusesOtherQuantities(t *testing.T) {
	_, err := Convert(1, PSI, MM)
	assert.ErrorContains(t, err, "units.measure-different-things")
	_, err = Convert(1, "furlong", MM)
	assert.ErrorContains(t, err, "furlong")
}

func TestParseReading(t *testing.T) {
	for _, c := range []struct {
		in   string
		want float64
		unit Unit
	}{
		{"62", 62, ""}, {"62 psi", 62, PSI}, {"0,7mm", 0.7, MM}, {"6.82 kohm", 6.82, KOhm}, {"6,82kΩ", 6.82, KOhm},
		{"1/2", 0.5, ""}, {"2 1/4", 2.25, ""}, {"0,700", 0.7, ""}, {"-1.5 kPa", -1.5, KPa}, {"24 ml/min", 24, MLPerMin}, {"6.8 k\u2126", 6.8, KOhm},
	} {
		v, u, err := ParseReading(c.in)
		if assert.NoError(t, err, c.in) {
			assert.InDelta(t, c.want, v, 1e-12, c.in)
			assert.Equal(t, c.unit, u, c.in)
		}
	}
	for _, bad := range []string{"", "sixty", "1,234", "1.2.3", "1,2,3", "1/0", "62 parsec", "1e9", "0x1F", "inf", "1 2", "1/2 3", "1 2 3"} {
		_, _, err := ParseReading(bad)
		assert.Error(t, err, bad)
	}
}

func FuzzParseReading(f *testing.F) {
	for _, s := range []string{"62 psi", "0,7", "2 1/4", "1,234", "//", "-", "Ω"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		v, _, err := ParseReading(s)
		if err == nil && (math.IsNaN(v) || math.IsInf(v, 0)) {
			t.Fatalf("%q read as %v", s, v)
		}
	})
}

func TestConversionsRoundTrip(t *testing.T) {
	for from := range scales {
		for _, to := range Alike(from) {
			there, err := Convert(12.5, from, to)
			require.NoError(t, err)
			back, err := Convert(there, to, from)
			require.NoError(t, err)
			assert.InDelta(t, 12.5, back, 1e-9, "%s to %s", from, to)
		}
	}
}
