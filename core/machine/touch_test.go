package machine

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/stat/distuv"
)

// A chafed wire touches as often as a normal shake goes beyond where it touches.
// Held against gonum's normal and binomial distributions.
func TestTouchChanceIsNormal(t *testing.T) {
	for _, s := range []float64{0.15, 0.3, 0.45, 0.6} {
		m := bowl(t, day, FaultSpec{ID: "kill-wire-earthed", Severity: s})
		p := distuv.UnitNormal.Survival(m.touchesFrom())
		assert.InDelta(t, p, m.TouchChance(), 1e-12)
		const n = 4000
		touched := 0.0
		for i := range n {
			// One shake from each of n equal shares of the distribution.
			m.Jolt(Draws{Shake: distuv.UnitNormal.Quantile((float64(i) + 0.5) / n)})
			if m.s.Earthed {
				touched++
			}
		}
		b := distuv.Binomial{N: n, P: p}
		assert.InDelta(t, b.Mean(), touched, b.StdDev(), "%g", s)
	}
}
