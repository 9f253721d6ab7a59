package diagnosis

import (
	"math"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/foresee"
	"zanjero/core/machine"
)

// Nodes of severity at which machines are replayed, and the points between two
// nodes at which readings are interpolated. The nodes of a fault that is alone lie
// where the engine's behaviour changes, beside these; with two graded faults there
// are few, evenly.
const (
	singleNodes, singlePoints = 5, 32 // points from one end to the other
	finest                    = 64    // changes are found to one part in so many
	pairNodes, pairBetween    = 5, 2
	tripleNodes               = 3
)

// severityAt turns a share u of the prior density, 0 to 1, into a severity.
// Severities near 1 are the commoner: a slight fault brings nobody to a shop.
func severityAt(u float64) float64 { return 1 - math.Pow(1-u, 1.5) }

// leastShare is where the lowest node stands, just above nothing, so that it is
// still this fault.
const leastShare = 0.03

// axis is one fault of a hypothesis with its severity laid out. A fault that is
// there or not has one node and one point. It is not changed once it is made.
type axis struct {
	fault, mode string
	graded      bool
	// at are the nodes as shares of the prior density, from low to high.
	at     []float64
	points []place
}

// place is a point of an axis: the node below it, the share of the node above, its
// weight by the trapezium rule, and its severity.
type place struct {
	node          int
	share, weight float64
	severity      float64
}

// there is the axis of a fault that is there or not.
func there(fault, mode string) axis {
	return axis{fault: fault, mode: mode, at: []float64{1}, points: []place{{weight: 1}}}
}

// graded lays an axis out on nodes, with so many points between two of them.
func graded(fault, mode string, at []float64, between func(gap float64) int) axis {
	a := axis{fault: fault, mode: mode, graded: true, at: at}
	var xs []float64
	for k := range len(at) - 1 {
		n := between(at[k+1] - at[k])
		for i := range n {
			share := float64(i) / float64(n)
			a.points = append(a.points, place{node: k, share: share})
			xs = append(xs, at[k]+share*(at[k+1]-at[k]))
		}
	}
	last := len(at) - 1
	a.points = append(a.points, place{node: last - 1, share: 1})
	xs = append(xs, at[last])
	for i := range xs {
		x := &a.points[i]
		x.weight = (xs[min(i+1, len(xs)-1)] - xs[max(i-1, 0)]) / 2
		low := a.severity(x.node)
		x.severity = low + x.share*(a.severity(x.node+1)-low)
	}
	return a
}

// evenly are nodes at equal distances.
func evenly(n int) []float64 {
	out := make([]float64, n)
	for k := range out {
		out[k] = float64(k) / float64(n-1)
	}
	return out
}

// severity is that of a node; 1 for a fault that is there or not.
func (a axis) severity(node int) float64 {
	if !a.graded {
		return 1
	}
	return shareSeverity(a.at[node])
}

func shareSeverity(u float64) float64 { return severityAt(leastShare + (1-leastShare)*u) }

// nodeWeight is the share of the density that a node alone stands for.
func (a axis) nodeWeight(node int) float64 {
	if !a.graded {
		return 1
	}
	return (a.at[min(node+1, len(a.at)-1)] - a.at[max(node-1, 0)]) / 2
}

// single is the axis of a fault that is alone. Its nodes lie evenly, and in pairs on
// both sides of each severity at which a start goes otherwise: between them a
// machine starts as at one node, so that none is believed for signs of two.
func (j *Job) single(fault, mode string) (axis, error) {
	starts := map[int]string{}
	word := func(i int) (string, error) {
		if w, known := starts[i]; known {
			return w, nil
		}
		spec := machine.FaultSpec{ID: fault, Mode: mode, Severity: shareSeverity(float64(i) / finest)}
		s, err := j.session([]machine.FaultSpec{spec})
		if err != nil {
			return "", err
		}
		starts[i] = foresee.Start(s)
		return starts[i], nil
	}
	var at []float64
	var between func(low, high int) error
	between = func(low, high int) error {
		a, err := word(low)
		if err != nil {
			return err
		}
		b, err := word(high)
		switch {
		case err != nil || a == b:
			return err
		case high-low == 1:
			at = append(at, float64(low)/finest, float64(high)/finest)
			return nil
		}
		if err := between(low, (low+high)/2); err != nil {
			return err
		}
		return between((low+high)/2, high)
	}
	at = append(at, evenly(singleNodes)...)
	const coarse = finest / 8
	for i := 0; i < finest; i += coarse {
		if err := between(i, i+coarse); err != nil {
			return axis{}, err
		}
	}
	slices.Sort(at)
	return graded(fault, mode, slices.Compact(at), func(gap float64) int { return max(1, int(math.Round(gap*singlePoints))) }), nil
}

// session lays a machine of this job on a bench that is used as the ledger says.
func (j *Job) session(specs []machine.FaultSpec) (*bench.Session, error) {
	fuel := -1.0
	if j.FuelML > 0 {
		fuel = j.FuelML
	}
	s, err := bench.NewSession(j.Family, j.Sheet, j.Ambient, specs, bench.Options{Technique: bench.AsSet, FuelML: fuel, Catalogue: j.Catalogue})
	if err == nil && j.Found != nil {
		s.Control(j.Found)
	}
	return s, err
}
