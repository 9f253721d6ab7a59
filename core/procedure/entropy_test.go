package procedure

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/stat"
)

// Entropy in bits, times the mass, is gonum's in nats over ln 2.
func TestEntropy(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for range 200 {
		masses, sum := make([]float64, 1+r.IntN(30)), 0.0
		for i := range masses {
			if r.IntN(5) > 0 {
				masses[i] = r.ExpFloat64()
			}
			sum += masses[i]
		}
		p := make([]float64, len(masses))
		for i, m := range masses {
			p[i] = m / max(sum, 1e-300)
		}
		assert.InDelta(t, sum*stat.Entropy(p)/math.Ln2, entropy(masses), 1e-9*max(sum, 1))
	}
	assert.Zero(t, entropy(nil))
}
