package foresee

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/stat/distuv"

	"zanjero/core/catalogue"
	"zanjero/core/instrument"
)

// How likely a reading lies within two limits is the normal distribution's.
// Held against gonum's.
func TestBetweenIsNormal(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for _, test := range catalogue.Standard().Tests {
		if test.Kind != catalogue.KindNumber {
			continue
		}
		a := instrument.AccuracyOf(test.ID)
		for range 40 {
			v := a.Most * r.Float64()
			sigma := a.Spread(v)
			low := v + sigma*(8*r.Float64()-4)
			high := low + 3*sigma*r.Float64()
			n := distuv.Normal{Mu: v, Sigma: sigma}
			p := Prediction{Value: v}
			assert.InDelta(t, n.CDF(high)-n.CDF(low), p.Between(test.ID, low, high), 1e-9, test.ID)
		}
	}
}
