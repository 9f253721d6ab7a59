package analysis

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Fleiss, Levin and Paik, "Statistical Methods for Rates and Proportions", the example of two
// who sorted a hundred patients into three diagnoses (figures from memory): kappa 0.68 with a
// standard error of 0.087.
func TestKappaOfAPublishedExample(t *testing.T) {
	var pairs [][2]int
	for i, row := range [][]int{{75, 1, 4}, {5, 4, 1}, {0, 0, 10}} {
		for j, n := range row {
			for range n {
				pairs = append(pairs, [2]int{i, j})
			}
		}
	}
	k := KappaOf(pairs, 3)
	assert.InDelta(t, 0.676, k.Kappa, 0.0005)
	assert.InDelta(t, 0.087, k.Error, 0.001)
	assert.InDelta(t, 0.676-1.96*0.087, k.Low, 0.003)
	assert.Zero(t, KappaOf([][2]int{{0, 0}, {0, 0}}, 2).Kappa, "one category alone says nothing")
	assert.Equal(t, 1.0, KappaOf([][2]int{{0, 0}, {1, 1}, {1, 1}}, 2).Kappa)
	assert.Zero(t, KappaOf(nil, 2).N)
}
