package sequencing

import (
	"container/heap"
	"math"
)

// bound is a proven lower bound on the expected cost, times the mass, of
// telling the groups of a set apart: the largest of three.
func (p *problem) bound(s set) float64 {
	if len(s) < 2 {
		return 0
	}
	return max(p.entropyBound(s), p.huffmanBound(s), p.coverBound(s))
}

// entropyBound: a test of cost c with k outcomes brings at most log₂ k bits, so
// the expected cost is at least the entropy over the best rate of any test.
// Source: Shannon 1948.
func (p *problem) entropyBound(s set) float64 {
	rate := 0.0
	for t, c := range p.m.Costs {
		if k := len(p.split(s, t)); k > 1 {
			if c == 0 {
				return 0
			}
			rate = max(rate, math.Log2(float64(k))/c)
		}
	}
	if rate == 0 {
		return 0
	}
	whole, bits := p.mass(s), 0.0
	for _, g := range s {
		if w := p.weight[g]; w > 0 {
			bits += w * math.Log2(whole/w)
		}
	}
	return bits / rate
}

// huffmanBound: no tree whose nodes have at most d branches has a shorter
// expected path than Huffman's; each step costs at least the cheapest test.
// Source: Huffman 1952, d-ary.
func (p *problem) huffmanBound(s set) float64 {
	d, cheapest := 0, math.Inf(1)
	for t, c := range p.m.Costs {
		if k := len(p.split(s, t)); k > 1 {
			d, cheapest = max(d, k), min(cheapest, c)
		}
	}
	if d == 0 {
		return 0
	}
	weights := make([]float64, len(s))
	for i, g := range s {
		weights[i] = p.weight[g]
	}
	return cheapest * Huffman(weights, d)
}

// coverBound: whoever knows a group has paid for tests that part it from every
// other one, a set cover; a feasible price for each pair bounds it from below
// (linear programming duality).
func (p *problem) coverBound(s set) float64 {
	total := 0.0
	covered := make([]float64, len(p.m.Costs))
	price := make([]float64, len(s))
	for _, f := range s {
		for t, row := range p.outcome {
			covered[t] = 0
			for _, g := range s {
				if row[g] != row[f] {
					covered[t]++
				}
			}
		}
		sum, dearest := 0.0, 0.0
		for i, g := range s {
			price[i] = 0
			if g == f {
				continue
			}
			share, least := math.Inf(1), math.Inf(1)
			for t, row := range p.outcome {
				if row[g] != row[f] {
					share, least = min(share, p.m.Costs[t]/covered[t]), min(least, p.m.Costs[t])
				}
			}
			sum += share
			dearest = max(dearest, least)
		}
		total += p.weight[f] * max(sum, dearest)
	}
	return total
}

// lifted is the bound after some exact Bellman steps.
func (p *problem) lifted(s set, steps int) float64 {
	low := p.bound(s)
	if steps == 0 || len(s) < 2 {
		return low
	}
	best := math.Inf(1)
	for _, t := range p.order {
		parts := p.split(s, t)
		if parts == nil {
			continue
		}
		cost := p.m.Costs[t] * p.mass(s)
		for _, part := range parts {
			if cost += p.lifted(part, steps-1); cost >= best {
				break
			}
		}
		best = min(best, cost)
	}
	if math.IsInf(best, 1) {
		return low
	}
	return max(low, best)
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
