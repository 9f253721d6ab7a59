package sequencing

import (
	"container/heap"
	"math"
	"slices"
)

// bound is a proven lower bound on the expected cost, times the mass, of
// telling the groups of a set apart: the largest of three.
func (p *instance) bound(s set) float64 {
	if p.done(s) {
		return 0
	}
	return max(p.entropyBound(s), p.huffmanBound(s), p.coverBound(s))
}

// entropyBound: all tests together must bring the entropy of what is to be
// known, and each fault passes a test at most once. On a mass M a test brings at
// most f(M) bits, f being the entropy, times M, of the most even parting of such
// a mass that its outcomes have room for; entropy times mass is concave, so
// several uses bring no more than one on their sum. The least Σ c·M with
// Σ f(M) ≥ H is bounded from below by its Lagrangian at any price of a bit.
// Sources: Shannon 1948; weak duality.
func (p *instance) entropyBound(s set) float64 {
	whole, bits := p.mass(s), 0.0
	for _, w := range p.classes(s) {
		if w > 0 {
			bits += w * math.Log2(whole/w)
		}
	}
	var rooms []room
	dearest := 0.0
	for t, c := range p.m.Costs {
		if r := p.room(s, t); len(r.masses) > 1 {
			rooms = append(rooms, r)
			dearest = max(dearest, c)
		}
	}
	dual := func(price float64) float64 {
		sum := price * bits
		for i := range rooms {
			sum += rooms[i].least(price)
		}
		return sum
	}
	// The Lagrangian is concave in the price: golden section on its logarithm.
	low, high := math.Log(1e-6+dearest*1e-4), math.Log(1e-6+dearest*64)
	const golden = 0.6180339887498949
	x, y := high-golden*(high-low), low+golden*(high-low)
	fx, fy := dual(math.Exp(x)), dual(math.Exp(y))
	for range 22 {
		if fx < fy {
			low, x, fx = x, y, fy
			y = low + golden*(high-low)
			fy = dual(math.Exp(y))
		} else {
			high, y, fy = y, x, fx
			x = high - golden*(high-low)
			fx = dual(math.Exp(x))
		}
	}
	return max(fx, fy, 0)
}

// room is what a test's outcomes hold of a set: masses, ascending, and the
// test's cost.
type room struct {
	cost   float64
	masses []float64
}

func (p *instance) room(s set, t int) room {
	var mass [maxArity + 1]float64
	n := 0
	for _, g := range s {
		o := int(p.outcome[t][g])
		mass[o] += p.weight[g]
		n = max(n, o+1)
	}
	r := room{cost: p.m.Costs[t]}
	for _, w := range mass[:n] {
		if w > 0 {
			r.masses = append(r.masses, w)
		}
	}
	slices.Sort(r.masses)
	return r
}

// least is the least of c·M − price·f(M) over the masses that a test can be
// used on: outcomes are filled evenly to a level, up to their room, for as long
// as a bit is worth its price. f′(M) is log₂(M/level).
func (r *room) least(price float64) float64 {
	ratio := math.Exp2(r.cost / price) // M/level where a bit just pays
	k := len(r.masses)
	if ratio >= float64(k) {
		return 0
	}
	full, level := 0.0, math.Inf(1)
	for j, w := range r.masses { // outcomes up to j have no room left
		full += w
		growing := float64(k - j - 1)
		if ratio <= growing {
			continue
		}
		if at := full / (ratio - growing); at >= w && (j+1 == k || at <= r.masses[j+1]) {
			level = at
			break
		}
	}
	mass := 0.0
	for _, w := range r.masses {
		mass += min(w, level)
	}
	bits := 0.0
	for _, w := range r.masses {
		m := min(w, level)
		bits += m * math.Log2(mass/m)
	}
	return min(r.cost*mass-price*bits, 0)
}

// huffmanBound: no tree whose nodes have at most d branches has a shorter
// expected path than Huffman's; each step costs at least the cheapest test.
// Source: Huffman 1952, d-ary.
func (p *instance) huffmanBound(s set) float64 {
	d, cheapest := 0, math.Inf(1)
	for t, c := range p.m.Costs {
		if k := len(p.split(s, t)); k > 1 {
			d, cheapest = max(d, k), min(cheapest, c)
		}
	}
	if d == 0 {
		return 0
	}
	return cheapest * Huffman(p.classes(s), d)
}

// classes are the weights of a set by what is to be known. To know the class is
// no dearer than to know the group, and a class that is known by several leaves
// could be known by the nearest of them, so that bounds on the classes hold.
func (p *instance) classes(s set) []float64 {
	var ids []int
	var out []float64
	for _, g := range s {
		i := slices.Index(ids, p.class[g])
		if i < 0 {
			i = len(ids)
			ids, out = append(ids, p.class[g]), append(out, 0)
		}
		out[i] += p.weight[g]
	}
	return out
}

// coverBound: whoever knows a group has paid for tests that part it from every
// other one, a set cover; a feasible price for each pair bounds it from below
// (linear programming duality).
func (p *instance) coverBound(s set) float64 {
	total := 0.0
	costs := p.m.Costs
	covered := make([]float64, len(costs))
	price := make([]float64, len(costs)) // of parting one pair by a test
	for _, f := range s {
		of := p.byGroup[f]
		clear(covered)
		for _, g := range s {
			if p.class[g] == p.class[f] {
				continue
			}
			for t, o := range p.byGroup[g] {
				if o != of[t] {
					covered[t]++
				}
			}
		}
		for t, c := range costs {
			price[t] = c / max(covered[t], 1)
		}
		sum, dearest := 0.0, 0.0
		for _, g := range s {
			if p.class[g] == p.class[f] {
				continue
			}
			share, least := math.Inf(1), math.Inf(1)
			for t, o := range p.byGroup[g] {
				if o != of[t] {
					share, least = min(share, price[t]), min(least, costs[t])
				}
			}
			sum += share
			dearest = max(dearest, least)
		}
		total += p.weight[f] * max(sum, dearest)
	}
	return total
}

// Huffman gives the expected length of the best code over d symbols for some
// weights, times their sum. Source: Huffman 1952.
func Huffman(weights []float64, d int) float64 {
	h := &floats{}
	*h = append(*h, weights...)
	for d > 2 && (len(*h)-1)%(d-1) != 0 {
		*h = append(*h, 0) // so that every node but none is full
	}
	heap.Init(h)
	total := 0.0
	for len(*h) > 1 {
		sum := 0.0
		for range min(d, len(*h)) {
			sum += heap.Pop(h).(float64)
		}
		total += sum
		heap.Push(h, sum)
	}
	return total
}

type floats []float64

func (f floats) Len() int           { return len(f) }
func (f floats) Less(i, j int) bool { return f[i] < f[j] }
func (f floats) Swap(i, j int)      { f[i], f[j] = f[j], f[i] }
func (f *floats) Push(x any)        { *f = append(*f, x.(float64)) }
func (f *floats) Pop() any {
	old := *f
	x := old[len(old)-1]
	*f = old[:len(old)-1]
	return x
}
