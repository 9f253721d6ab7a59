package units

import "math"

// SeaLevelKPa is standard sea-level pressure, kPa absolute (ISO 2533:1975).
const SeaLevelKPa = 101.325

// StandardPressureKPa gives the pressure of the standard atmosphere in kPa
// absolute at an altitude in metres within the troposphere (−500 to 11 000 m;
// outside it is held at the nearest end). Source: ISO 2533:1975, the same as
// the US Standard Atmosphere 1976 here: p = p0·(1 − L·h/T0)^(g·M/(R·L)).
func StandardPressureKPa(altitudeM float64) float64 {
	h := min(max(altitudeM, -500), 11000)
	return SeaLevelKPa * math.Pow(1-0.0065*h/288.15, 5.255877)
}

// CopperResistance gives a winding's resistance at a temperature in °C from
// its resistance at 20 °C, in the unit it is given in. Source: IEC 60028,
// annealed copper, 0.00393 per kelvin at 20 °C.
func CopperResistance(at20, temperatureC float64) float64 {
	return at20 * (1 + 0.00393*(temperatureC-20))
}
