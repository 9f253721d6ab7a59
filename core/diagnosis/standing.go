package diagnosis

import (
	"context"
	"math"
	"slices"
	"sort"
	"strings"

	"zanjero/core/bench"
	"zanjero/core/machine"
	"zanjero/core/reading"
)

// Standing is what is believed of an engine by its answers, as somebody works on it: the
// same belief as Belief, on machines that nothing but repairs was done to. It costs a
// small part of that. One goroutine at a time may use it.
type Standing struct {
	a    *Answers
	rows []*rowsOf
	// w are weights by row and point; their sum is one.
	w [][]float64
}

// Begin gives what is believed once an owner has complained, with the id of the
// complaint, and told some words of how it came about; over single faults, a sound
// machine, and some sets of two or three. The error is the context's, or a set that
// cannot be.
func (a *Answers) Begin(ctx context.Context, complaint string, heard []string, sets [][]string) (*Standing, error) {
	var all [][]string
	for i := range a.pop.hyps {
		key := a.pop.hyps[i].faults
		if !slices.ContainsFunc(all, func(o []string) bool { return slices.Equal(o, key) }) {
			all = append(all, key)
		}
	}
	rows, err := a.of(ctx, append(all, sets...))
	if err != nil {
		return nil, err
	}
	s := &Standing{a: a, rows: rows, w: make([][]float64, len(rows))}
	for r, x := range rows {
		s.w[r] = make([]float64, len(x.points))
		for k, pt := range x.points {
			s.w[r][k] = pt.prior
		}
	}
	if c := ComplaintBy(complaint); c != nil {
		told, err := a.claimed(ctx, c.ID, &c.Claim, rows)
		if err != nil {
			return nil, err
		}
		common, err := a.pop.common(ctx, &c.Claim)
		if err != nil {
			return nil, err
		}
		for r := range s.w {
			for k := range s.w[r] {
				s.w[r][k] *= complained(told[r][k], common)
			}
		}
	}
	if t := a.test(reading.AskHistory); t >= 0 {
		for _, word := range heard {
			s.weigh(t, slices.Index(a.asked[t].names, word))
		}
	}
	s.scale()
	return s, nil
}

// Still takes in that the machine, as it is now, does what was complained of, or that it no
// longer does, as somebody met who knows how to try it. The error is the context's.
func (s *Standing) Still(ctx context.Context, complaint string, does bool) error {
	c := ComplaintBy(complaint)
	if c == nil {
		return nil
	}
	told, err := s.a.claimed(ctx, c.ID, &c.Claim, s.rows)
	if err != nil {
		return err
	}
	for r := range s.w {
		for k := range s.w[r] {
			p := told[r][k]
			if !does {
				p = 1 - p
			}
			s.w[r][k] *= (1-grossWord)*p + grossWord/2
		}
	}
	s.scale()
	return nil
}

// weigh takes an outcome of a test in.
func (s *Standing) weigh(t, o int) {
	if o < 0 {
		return
	}
	for r, x := range s.rows {
		for k := range s.w[r] {
			s.w[r][k] *= float64(x.likely[t][o][k])
		}
	}
}

// scale brings the weights to a sum of one.
func (s *Standing) scale() {
	sum := 0.0
	for r := range s.w {
		for _, w := range s.w[r] {
			sum += w
		}
	}
	for r := range s.w {
		for k := range s.w[r] {
			s.w[r][k] /= sum
		}
	}
}

// Clone gives an independent copy.
func (s *Standing) Clone() *Standing {
	c := &Standing{a: s.a, rows: s.rows, w: make([][]float64, len(s.w))}
	for r := range s.w {
		c.w[r] = slices.Clone(s.w[r])
	}
	return c
}

// Take takes in what a test has shown. It gives the outcome's name.
func (s *Standing) Take(test string, o *bench.Observation) string {
	t := s.a.test(test)
	if t < 0 {
		return ""
	}
	k := s.a.outcome(t, o)
	s.weigh(t, k)
	s.scale()
	return s.a.asked[t].names[k]
}

// mass is what is laid on each row.
func (s *Standing) mass() []float64 {
	out := make([]float64, len(s.rows))
	for r := range s.w {
		for _, w := range s.w[r] {
			out[r] += w
		}
	}
	return out
}

// Bits is the entropy over sets of faults.
func (s *Standing) Bits() float64 { return bitsOf(s.mass()) }

func bitsOf(p []float64) (bits float64) {
	for _, x := range p {
		if x > 0 {
			bits -= x * math.Log2(x)
		}
	}
	return bits
}

// Any is how likely any of some faults is in the machine.
func (s *Standing) Any(faults []string) (p float64) {
	for r, m := range s.mass() {
		if slices.ContainsFunc(s.rows[r].faults, func(f string) bool { return slices.Contains(faults, f) }) {
			p += m
		}
	}
	return p
}

// Sets are all sets of faults with some probability, likeliest first.
func (s *Standing) Sets() []Set {
	var out []Set
	for r, m := range s.mass() {
		if m > 0 {
			out = append(out, Set{s.rows[r].faults, m})
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].P > out[j].P })
	return out
}

// Credible are the fewest sets that hold 95 %.
func (s *Standing) Credible() []Set {
	all, held := s.Sets(), 0.0
	for i := range all {
		if held += all[i].P; held >= 0.95 {
			return all[:i+1]
		}
	}
	return all
}

// uncountedPoint is the weight of a point that moves no worth.
const uncountedPoint = 1e-7

// Rank gives the worth of the tests that are allowed, on an engine of which some covers
// are off: the most bits a minute first, then by id. Money and hazards count as in
// Belief.Rank.
func (s *Standing) Rank(by Weights, off []string, allowed func(test string) bool) []Worth {
	mass := s.mass()
	type live struct {
		row    int
		points []int
	}
	var alive []live
	for r, m := range mass {
		if m < negligible {
			continue
		}
		l := live{row: r}
		for k, w := range s.w[r] {
			if w > uncountedPoint {
				l.points = append(l.points, k)
			}
		}
		alive = append(alive, l)
	}
	sum := 0.0
	for _, l := range alive {
		sum += mass[l.row]
	}
	covers, bits := s.a.pop.job.Figures().Family(s.a.pop.family).Covers, uint64(0)
	for c, id := range covers {
		if slices.Contains(off, id) {
			bits |= 1 << c
		}
	}
	var out []Worth
	joint := make([]float64, len(alive))
	for t := range s.a.asked {
		q := &s.a.asked[t]
		if !allowed(q.test.ID) {
			continue
		}
		access, after := s.a.access.Minutes(t, bits)
		w := Worth{Test: q.test.ID, Minutes: q.minutes + access, Hazards: len(q.test.Hazards)}
		for c, id := range covers {
			if after&^bits&(1<<c) != 0 {
				w.Money += s.a.pop.job.Figures().Cover(id).Money
			}
		}
		for o := range q.names {
			total := 0.0
			for i, l := range alive {
				likely, weights, x := s.rows[l.row].likely[t][o], s.w[l.row], 0.0
				for _, k := range l.points {
					x += weights[k] * float64(likely[k])
				}
				joint[i] = x / sum
				total += joint[i]
			}
			for i, l := range alive {
				if joint[i] > 0 {
					w.Bits += joint[i] * math.Log2(joint[i]/total/(mass[l.row]/sum))
				}
			}
		}
		w.Bits = max(w.Bits, 0)
		w.BitsPerMinute = w.Bits / max(w.Minutes+by.MinutesPerMoney*w.Money+by.MinutesPerHazard*float64(w.Hazards), 0.1)
		out = append(out, w)
	}
	sort.SliceStable(out, func(i, j int) bool {
		if out[i].BitsPerMinute != out[j].BitsPerMinute {
			return out[i].BitsPerMinute > out[j].BitsPerMinute
		}
		return out[i].Test < out[j].Test
	})
	return out
}

// Outlook gives, for each outcome of a test, how likely it is and what would then be
// believed of the sets of faults, as Sets does but in no order.
func (s *Standing) Outlook(test string) (chance []float64, then [][]Set) {
	t := s.a.test(test)
	if t < 0 {
		return nil, nil
	}
	mass := s.mass()
	for o := range s.a.asked[t].names {
		var sets []Set
		sum := 0.0
		for r, m := range mass {
			if m < negligible {
				continue
			}
			x := 0.0
			for k, w := range s.w[r] {
				x += w * float64(s.rows[r].likely[t][o][k])
			}
			sets = append(sets, Set{s.rows[r].faults, x})
			sum += x
		}
		for i := range sets {
			sets[i].P /= max(sum, 1e-300)
		}
		chance, then = append(chance, sum), append(then, sets)
	}
	return chance, then
}

// After is how likely each of some groups of faults would be if a test showed an outcome
// of its own, by the outcome that a machine most likely shows.
func (s *Standing) After(test string, o *bench.Observation, faults []string) float64 {
	c := s.Clone()
	c.Take(test, o)
	return c.Any(faults)
}

// Apart is how well a test tells what is believed of one set of faults from another, in
// bits at equal weights (Jensen–Shannon); 0 where either is not thought of.
func (s *Standing) Apart(test string, a, b []string) float64 {
	t := s.a.test(test)
	p, q := s.shows(t, a), s.shows(t, b)
	if t < 0 || p == nil || q == nil {
		return 0
	}
	return divergence(p, q)
}

// shows is how likely each outcome of a test is on a set of faults, as believed.
func (s *Standing) shows(t int, faults []string) []float64 {
	for r, x := range s.rows {
		if strings.Join(x.faults, "+") != strings.Join(faults, "+") || t < 0 {
			continue
		}
		out, sum := make([]float64, len(s.a.asked[t].names)), 0.0
		for k, w := range s.w[r] {
			if w <= 0 {
				continue
			}
			sum += w
			for o := range out {
				out[o] += w * float64(x.likely[t][o][k])
			}
		}
		if sum <= 0 {
			return nil
		}
		for o := range out {
			out[o] /= sum
		}
		return out
	}
	return nil
}

// Repaired takes in that work was done which mends some faults with a chance: what was
// believed of sets with one of them goes to the set without it, at the same severities.
func (s *Standing) Repaired(mends []string, success float64) {
	moved := make([][]float64, len(s.rows))
	for r := range moved {
		moved[r] = make([]float64, len(s.w[r]))
	}
	for r, x := range s.rows {
		left := slices.DeleteFunc(slices.Clone(x.faults), func(f string) bool { return slices.Contains(mends, f) })
		if len(left) == len(x.faults) {
			continue
		}
		to := slices.IndexFunc(s.rows, func(o *rowsOf) bool { return slices.Equal(o.faults, left) })
		for k, w := range s.w[r] {
			if w <= 0 || to < 0 {
				continue
			}
			var at []float64
			for i, f := range x.faults {
				if slices.Contains(left, f) {
					at = append(at, x.points[k].severities[i])
				}
			}
			moved[to][s.rows[to].nearest(at)] += success * w
			s.w[r][k] = (1 - success) * w
		}
	}
	for r := range moved {
		for k, w := range moved[r] {
			s.w[r][k] += w
		}
	}
	s.scale()
}

// nearest is the point whose severities lie nearest.
func (r *rowsOf) nearest(severities []float64) (best int) {
	least := math.Inf(1)
	for k, pt := range r.points {
		off := 0.0
		for i := range severities {
			off += sq(pt.severities[i] - severities[i])
		}
		if off < least {
			best, least = k, off
		}
	}
	return best
}

// Typical is a set of faults as bad as it most likely is, each in its likeliest way; nil
// where it is not thought of.
func (s *Standing) Typical(faults []string) []machine.FaultSpec {
	for r, x := range s.rows {
		if !slices.Equal(x.faults, faults) || len(x.points) == 0 {
			continue
		}
		best := 0
		for k, w := range s.w[r] {
			if w > s.w[r][best] {
				best = k
			}
		}
		pt, out := x.points[best], []machine.FaultSpec{}
		for i, id := range x.faults {
			out = append(out, machine.FaultSpec{ID: id, Mode: x.hyps[pt.hyp].axes[i].mode, Severity: pt.severities[i]})
		}
		return out
	}
	return nil
}
