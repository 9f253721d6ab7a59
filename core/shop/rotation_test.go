package shop

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Everybody is at every engine once, nobody at two at a time, and with an even number of
// engines each comes after each other equally often in a full group.
func TestRotate(t *testing.T) {
	for engines := 1; engines <= MostEngines; engines++ {
		for people := 1; people <= 2*engines+1; people++ {
			rounds, p := Rotate(people, engines)
			require.Nil(t, p)
			turns := map[[2]int]int{}
			last := map[int]int{}
			after := map[[2]int]int{}
			for _, row := range rounds {
				at := map[int]bool{}
				require.Len(t, row, engines)
				for e, person := range row {
					if person == Free {
						continue
					}
					require.False(t, at[person], "%d people, %d engines: at two at once", people, engines)
					at[person] = true
					turns[[2]int{person, e}]++
					if was, before := last[person]; before && person < engines { // the first group is full
						after[[2]int{was, e}]++
					}
					last[person] = e
				}
			}
			assert.Len(t, turns, people*engines)
			for at, n := range turns {
				assert.Equal(t, 1, n, "%v", at)
			}
			if engines%2 == 0 && people >= engines {
				assert.Len(t, after, engines*(engines-1), "%d engines: each after each other", engines)
				for pair, n := range after {
					assert.Equal(t, 1, n, "%d engines: %v", engines, pair)
				}
			}
		}
	}
	// Eight over four: eight rounds, a rest after each turn.
	rounds, _ := Rotate(8, 4)
	assert.Len(t, rounds, 8)
	for r := 1; r < len(rounds); r++ {
		for _, person := range rounds[r] {
			assert.NotContains(t, rounds[r-1], person)
		}
	}
	for _, bad := range [][2]int{{0, 4}, {8, 0}, {8, MostEngines + 1}, {MostPeople + 1, 4}} {
		_, p := Rotate(bad[0], bad[1])
		assert.NotNil(t, p)
	}
}
