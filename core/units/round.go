package units

import "math"

// Round gives the multiple of step nearest to x, without the tail that
// dividing by a decimal step would leave.
func Round(x, step float64) float64 {
	// Dividing by the inverse keeps 61.8 from becoming 61.800000000000004.
	return math.Round(x/step) / (1 / step)
}
