package diagnosis

import (
	"maps"
	"slices"
)

// HittingSets gives the minimal hitting sets, of some members at most, of some
// conflicts: the smallest explanations, of which each shares a member with every
// conflict and no part is one already. The shorter come first, then by name. A
// conflict without members can be hit by nothing. Source: Reiter 1987.
func HittingSets(conflicts [][]string, most int) [][]string {
	var out [][]string
	hits := func(s []string) bool {
		for _, c := range conflicts {
			if !slices.ContainsFunc(c, func(id string) bool { return slices.Contains(s, id) }) {
				return false
			}
		}
		return true
	}
	covered := func(s []string) bool {
		return slices.ContainsFunc(out, func(o []string) bool {
			return !slices.ContainsFunc(o, func(id string) bool { return !slices.Contains(s, id) })
		})
	}
	// Breadth first over the first conflict that is not hit, as in Reiter's tree;
	// a node that holds an answer already found is closed.
	level := map[string][]string{"": {}}
	for len(level) > 0 {
		next := map[string][]string{}
		for _, key := range slices.Sorted(maps.Keys(level)) {
			s := level[key]
			if covered(s) {
				continue
			}
			if hits(s) {
				out = append(out, s)
				continue
			}
			if len(s) == most {
				continue
			}
			for _, c := range conflicts {
				if slices.ContainsFunc(c, func(id string) bool { return slices.Contains(s, id) }) {
					continue
				}
				for _, id := range c {
					more := append(slices.Clone(s), id)
					slices.Sort(more)
					name := ""
					for _, x := range more {
						name += x + "\x00"
					}
					next[name] = more
				}
				break
			}
		}
		level = next
	}
	return out
}
