package diagnosis

import (
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Source: Reiter 1987. The full adder's two conflicts, and the seven sets of the
// example of the tree (from memory; the second is held against brute force too).
func TestHittingSets(t *testing.T) {
	assert.Equal(t, [][]string{{"A1"}, {"M1"}, {"A2", "M2"}, {"M2", "M3"}}, HittingSets([][]string{{"A1", "M1", "M2"}, {"A1", "A2", "M1", "M3"}}, 9))
	tree := [][]string{{"2", "4", "5"}, {"1", "2", "3"}, {"1", "3", "5"}, {"2", "4", "6"}, {"2", "4"}, {"2", "3", "5"}, {"1", "6"}}
	got := HittingSets(tree, 9)
	assert.Equal(t, bruteHits(tree, []string{"1", "2", "3", "4", "5", "6"}), joined(got))
	assert.Contains(t, joined(got), "1 2")
	assert.Equal(t, [][]string{{}}, HittingSets(nil, 9), "nothing to explain needs no fault")
	assert.Equal(t, [][]string{{"A1"}, {"M1"}}, HittingSets([][]string{{"A1", "M1", "M2"}, {"A1", "A2", "M1", "M3"}}, 1))
	assert.Empty(t, HittingSets([][]string{{"a"}, {}}, 9))
}

func joined(sets [][]string) []string {
	out := []string{}
	for _, s := range sets {
		out = append(out, strings.Join(s, " "))
	}
	slices.Sort(out)
	return out
}

// bruteHits tries every subset.
func bruteHits(conflicts [][]string, all []string) []string {
	var found [][]string
	for mask := range 1 << len(all) {
		var s []string
		for i, id := range all {
			if mask>>i&1 == 1 {
				s = append(s, id)
			}
		}
		hit := !slices.ContainsFunc(conflicts, func(c []string) bool {
			return !slices.ContainsFunc(c, func(id string) bool { return slices.Contains(s, id) })
		})
		if hit {
			found = append(found, s)
		}
	}
	minimal := slices.DeleteFunc(slices.Clone(found), func(s []string) bool {
		return slices.ContainsFunc(found, func(o []string) bool {
			return len(o) < len(s) && !slices.ContainsFunc(o, func(id string) bool { return !slices.Contains(s, id) })
		})
	})
	return joined(minimal)
}

func TestHittingSetsAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 1))
	all := []string{"0", "1", "2", "3", "4", "5", "6"}
	for range 200 {
		var conflicts [][]string
		for range 1 + r.IntN(6) {
			var c []string
			for i := range 7 {
				if r.IntN(3) == 0 {
					c = append(c, strconv.Itoa(i))
				}
			}
			if len(c) > 0 {
				conflicts = append(conflicts, c)
			}
		}
		require.Equal(t, bruteHits(conflicts, all), joined(HittingSets(conflicts, 9)), "%v", conflicts)
	}
}
