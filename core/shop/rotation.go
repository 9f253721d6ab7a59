package shop

import "zanjero/core/problem"

// Limits of a rotation.
const (
	MostEngines = 12
	MostPeople  = 48
)

// Free is where nobody is at an engine in a round.
const Free = -1

// Rotate plans who is at which engine in which round: rounds by engines, each a person from
// 0 or Free. Everybody is at every engine once, and rests between two turns while the other
// groups have theirs, so that an engine can be set again and what was done be written down.
//
// Within a group the plan is a Latin square. With an even number of engines it is one that is
// balanced for what goes over from one turn to the next: every engine comes after every other
// equally often (Williams, E. J. (1949), Experimental designs balanced for the estimation of
// residual effects of treatments, Australian Journal of Scientific Research A 2, 149–168; the
// order of its first row from memory). With an odd number it goes round.
func Rotate(people, engines int) ([][]int, *problem.Problem) {
	if engines < 1 || engines > MostEngines {
		return nil, problem.New("engines", "shop.exam-engines", "most", MostEngines)
	}
	if people < 1 || people > MostPeople {
		return nil, problem.New("people", "shop.exam-people", "most", MostPeople)
	}
	first := make([]int, engines)
	for t := range first {
		switch {
		case engines%2 == 1:
			first[t] = t
		case t%2 == 1:
			first[t] = (t + 1) / 2
		default:
			first[t] = (engines - t/2) % engines
		}
	}
	groups := (people + engines - 1) / engines
	rounds := make([][]int, groups*engines)
	for r := range rounds {
		turn, group := r/groups, r%groups
		rounds[r] = make([]int, engines)
		for e := range rounds[r] {
			rounds[r][e] = Free
		}
		for i := range engines {
			if person := group*engines + i; person < people {
				rounds[r][(first[turn]+i)%engines] = person
			}
		}
	}
	return rounds, nil
}
