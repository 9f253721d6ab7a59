package diagnosis

// grid is the severities of a hypothesis laid out: an axis for each of its
// faults, nodes at which machines are replayed, and points at which they are
// weighed, both row-major.
type grid []axis

// points is how many there are.
func (g grid) points() int {
	n := 1
	for _, a := range g {
		n *= len(a.points)
	}
	return n
}

// nodeCount is how many machines are replayed.
func (g grid) nodeCount() int {
	n := 1
	for _, a := range g {
		n *= len(a.at)
	}
	return n
}

// nodeAt gives, for a node, its place on each axis.
func (g grid) nodeAt(node int) []int {
	out := make([]int, len(g))
	for k := len(g) - 1; k >= 0; k-- {
		n := len(g[k].at)
		out[k], node = node%n, node/n
	}
	return out
}

// share is the weight of a point.
func (g grid) share(point int) float64 {
	w := 1.0
	for k := len(g) - 1; k >= 0; k-- {
		n := len(g[k].points)
		w *= g[k].points[point%n].weight
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
		n := len(g[k].points)
		at := g[k].points[point%n]
		point /= n
		for i := range out {
			switch out[i].node += at.node * stride; at.share {
			case 0:
			case 1:
				out[i].node += stride
			default:
				out = append(out, corner{out[i].node + stride, out[i].weight * at.share})
				out[i].weight *= 1 - at.share
			}
		}
		stride *= len(g[k].at)
	}
	return out
}
