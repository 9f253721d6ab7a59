package machine

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
)

// Whether an attempt would fire is told without cranking where no pull could: it
// says the same as cranking, for any fault, severity, chance, choke and heat.
func TestFiresAsItCranks(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 11))
	cat := catalogue.Standard()
	fired, early := 0, 0
	for range 6000 {
		fam := &cat.Families[r.IntN(len(cat.Families))]
		var faults []FaultSpec
		for range r.IntN(3) {
			if f := &cat.Faults[r.IntN(len(cat.Faults))]; HasLaw(f.ID) {
				faults = append(faults, FaultSpec{ID: f.ID, Severity: r.Float64()})
			}
		}
		m, err := New(fam.ID, fam.Sheet, Build{}, Ambient{TemperatureC: -10 + 50*r.Float64()}, faults)
		require.NoError(t, err)
		m.SetControls(Controls{BarHeld: true})
		if r.IntN(2) == 0 {
			m.Attempt(Attempt{Choke: 1, Throttle: 0.3, Pulls: 6}, Draws{})
		}
		m.Rest(1 + r.Float64()*40)
		a := Attempt{Choke: float64(r.IntN(3)) / 2, Throttle: r.Float64(), Pulls: 1 + r.IntN(12), Slow: r.IntN(5) == 0}
		if r.IntN(6) == 0 {
			a.DoseML = 10 * r.Float64()
		}
		d := Draws{Threshold: r.NormFloat64(), Shake: r.NormFloat64(), Slug: r.Float64()}
		for i := range d.Pull {
			d.Pull[i] = r.NormFloat64()
		}
		soon, whole := m.Clone(), m.Clone()
		fires := soon.Fires(a, d)
		_, really := whole.crank(a, d)
		if really = really && m.turns(); really {
			fired++
		} else if soon.s.SinceAttemptMin > 0 {
			early++
		}
		assert.Equal(t, really, fires, "%s %v %+v", fam.ID, faults, a)
	}
	assert.Greater(t, fired, 1000)
	assert.Greater(t, early, 1000, "told without cranking")
}
