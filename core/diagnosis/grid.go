package diagnosis

// grid is the severities of a hypothesis laid out: an axis for each of its
// faults, nodes at which machines are replayed, and points at which they are
// weighed, both row-major.
type grid []axis

// points is how many there are.
func (g grid) points() int {
	n := 1
	for _, a := range g {
		n *= a.points()
	}
	return n
}

// nodeCount is how many machines are replayed.
func (g grid) nodeCount() int {
	n := 1
	for _, a := range g {
		n *= a.nodeCount()
	}
	return n
}

// nodeAt gives, for a node, its place on each axis.
func (g grid) nodeAt(node int) []int {
	out := make([]int, len(g))
	for k := len(g) - 1; k >= 0; k-- {
		n := g[k].nodeCount()
		out[k], node = node%n, node/n
	}
	return out
}

// share is the weight of a point: the ends of each axis count half (trapezium
// rule).
func (g grid) share(point int) float64 {
	w := 1.0
	for k := len(g) - 1; k >= 0; k-- {
		n := g[k].points()
		w *= edge(point%n, n)
		point /= n
	}
	return w
}

// corner is a node beside a point, and its weight when the point's value is
// interpolated.
type corner struct {
	node   int
	weight float64
}

// cornersOf appends the corners of the cell that a point lies in, without those
// of no weight.
func (g grid) cornersOf(point int, out []corner) []corner {
	out = append(out, corner{0, 1})
	stride := 1
	for k := len(g) - 1; k >= 0; k-- {
		n := g[k].points()
		low, share := g[k].at(point % n)
		point /= n
		for i := range out {
			if out[i].node += low * stride; share > 0 {
				out = append(out, corner{out[i].node + stride, out[i].weight * share})
				out[i].weight *= 1 - share
			}
		}
		stride *= g[k].nodeCount()
	}
	return out
}

func edge(i, n int) float64 {
	if n > 1 && (i == 0 || i == n-1) {
		return 0.5
	}
	return 1
}
