package diagnosis

import (
	"context"
	"slices"
	"strings"
	"sync"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/ledger"
	"zanjero/core/parallel"
	"zanjero/core/sequencing"
)

// Answers are what every test of an engine would say of every machine of a population as
// it came, worked out once: whoever asks about many scenarios on one engine asks these.
// What tests do to a machine is not in them. They may be used from any goroutine, and
// grow by the sets of faults that are asked for.
type Answers struct {
	pop   *Population
	asked []answered
	// access has covers by test, in the order of asked.
	access *sequencing.Access

	mu     sync.Mutex
	rows   map[string]*rowsOf    // by set of faults, its ids joined
	claims map[string]*claimRows // by claim
}

// answered is a test as it is asked.
type answered struct {
	test    catalogue.Test
	minutes float64
	names   []string
	chances chance
}

// rowsOf are the points of one hypothesis, or of several that have the same faults.
type rowsOf struct {
	faults []string
	points []point
	// likely is by test, then outcome, then point.
	likely [][][]float32
	hyps   []hypothesis
}

// point is one severity of a set of faults: its prior, with the hypothesis and the point
// of its grid that it is.
type point struct {
	prior      float64
	severities []float64 // by fault of the set
	hyp, at    int
}

// claimRows is how likely a claim is at each node of each hypothesis of a set.
type claimRows struct {
	claim *Claim
	rows  map[string][][]float64
}

// Answers works them out for the population's single faults and a sound machine. The
// error is the context's.
func (p *Population) Answers(ctx context.Context) (*Answers, error) {
	a := &Answers{pop: p, rows: map[string]*rowsOf{}, claims: map[string]*claimRows{}}
	cat := p.job.Figures()
	tests := cat.TestsOf(p.family, p.sheet)
	b := p.Start(AsIfValid)
	var all []*catalogue.Test
	for i := range tests {
		minutes := tests[i].Minutes
		if tests[i].Long {
			minutes = longMinutes
		}
		a.asked = append(a.asked, answered{test: tests[i], minutes: minutes})
		all = append(all, &tests[i])
	}
	a.access = AccessTo(cat, p.family, all)
	told := make([][][]predictionAt, len(tests)) // by test, hypothesis and point
	for t := range tests {
		told[t] = make([][]predictionAt, len(b.hyps))
	}
	err := b.eachIndex(ctx, func(i int, h *candidate) {
		for t := range tests {
			told[t][i] = h.asIfMade(&tests[t])
		}
	})
	if err != nil {
		return nil, err
	}
	for t := range tests {
		a.asked[t].names, a.asked[t].chances = bins(&tests[t], told[t])
	}
	groups := map[string][]int{}
	for i := range p.hyps {
		key := strings.Join(p.hyps[i].faults, "+")
		groups[key] = append(groups[key], i)
	}
	for key, of := range groups {
		r := &rowsOf{}
		at := make([][][]predictionAt, len(tests))
		for _, i := range of {
			r.hyps = append(r.hyps, p.hyps[i])
			for t := range tests {
				at[t] = append(at[t], told[t][i])
			}
		}
		a.lay(r, at)
		a.rows[key] = r
	}
	return a, nil
}

// asIfMade is what a test would tell at each point, made as a master would.
func (h *candidate) asIfMade(t *catalogue.Test) []predictionAt {
	out := make([]predictionAt, h.axes.points())
	h.lookAhead(ledger.Line{Kind: ledger.EventTake, Test: t.ID, Master: true}, true, nil, func(k int, p predictionAt) { out[k] = p })
	return out
}

// lay fills the rows of a set from what was told of its hypotheses, by test.
func (a *Answers) lay(r *rowsOf, told [][][]predictionAt) {
	for i := range r.hyps {
		h := &r.hyps[i]
		r.faults = h.faults
		all := 0.0
		for k := range h.axes.points() {
			all += h.axes.share(k)
		}
		for k := range h.axes.points() {
			pt := point{prior: h.prior * h.axes.share(k) / all, hyp: i, at: k, severities: make([]float64, len(h.axes))}
			rest := k
			for x := len(h.axes) - 1; x >= 0; x-- {
				ax := h.axes[x]
				pt.severities[x] = 1
				if ax.graded {
					pt.severities[x] = ax.points[rest%len(ax.points)].severity
				}
				rest /= len(ax.points)
			}
			r.points = append(r.points, pt)
		}
	}
	r.likely = make([][][]float32, len(a.asked))
	for t := range a.asked {
		q := &a.asked[t]
		r.likely[t] = make([][]float32, len(q.names))
		for o := range q.names {
			r.likely[t][o] = make([]float32, len(r.points))
		}
		row, known := make([]float64, len(q.names)), softened{}
		for k, pt := range r.points {
			clear(row)
			q.chances(&told[t][pt.hyp][pt.at], 1, row, known)
			sum := 0.0
			for _, c := range row {
				sum += c
			}
			for o, c := range row {
				r.likely[t][o][k] = float32(c / sum)
			}
		}
	}
}

// of gives the rows of some sets of faults, worked out where they are not there yet.
func (a *Answers) of(ctx context.Context, sets [][]string) ([]*rowsOf, error) {
	out := make([]*rowsOf, len(sets))
	var lacks []int
	a.mu.Lock()
	for i, set := range sets {
		if out[i] = a.rows[strings.Join(set, "+")]; out[i] == nil {
			lacks = append(lacks, i)
		}
	}
	a.mu.Unlock()
	if len(lacks) == 0 {
		return out, nil
	}
	var ask [][]string
	for _, i := range lacks {
		ask = append(ask, sets[i])
	}
	pop, err := a.pop.Only(ctx, ask)
	if err != nil {
		return nil, err
	}
	b := pop.Start(AsIfValid)
	err = parallel.For(ctx, len(ask), func(n int) {
		r := &rowsOf{hyps: []hypothesis{pop.hyps[n]}}
		told := make([][][]predictionAt, len(a.asked))
		for t := range a.asked {
			told[t] = [][]predictionAt{b.hyps[n].asIfMade(&a.asked[t].test)}
		}
		a.lay(r, told)
		out[lacks[n]] = r
	})
	if err != nil {
		return nil, err
	}
	a.mu.Lock()
	for _, i := range lacks {
		a.rows[strings.Join(sets[i], "+")] = out[i]
	}
	a.mu.Unlock()
	return out, nil
}

// claimed is how likely a claim is at each point of some rows.
func (a *Answers) claimed(ctx context.Context, id string, c *Claim, rows []*rowsOf) ([][]float64, error) {
	a.mu.Lock()
	known := a.claims[id]
	if known == nil {
		known = &claimRows{claim: c, rows: map[string][][]float64{}}
		a.claims[id] = known
	}
	nodes := make([][][]float64, len(rows)) // by row, hypothesis and node
	var lacks []int
	for i, r := range rows {
		if nodes[i] = known.rows[strings.Join(r.faults, "+")]; nodes[i] == nil {
			lacks = append(lacks, i)
		}
	}
	a.mu.Unlock()
	err := parallel.For(ctx, len(lacks), func(n int) {
		r := rows[lacks[n]]
		out := make([][]float64, len(r.hyps))
		for i := range r.hyps {
			for _, s := range r.hyps[i].nodes {
				out[i] = append(out[i], c.Of(s.AsMaster()))
			}
		}
		nodes[lacks[n]] = out
	})
	if err != nil {
		return nil, err
	}
	a.mu.Lock()
	for _, i := range lacks {
		known.rows[strings.Join(rows[i].faults, "+")] = nodes[i]
	}
	a.mu.Unlock()
	out := make([][]float64, len(rows))
	var corners []corner
	for i, r := range rows {
		out[i] = make([]float64, len(r.points))
		for k, pt := range r.points {
			corners = r.hyps[pt.hyp].axes.cornersOf(pt.at, corners[:0])
			for _, x := range corners {
				out[i][k] += x.weight * nodes[i][pt.hyp][x.node]
			}
		}
	}
	return out, nil
}

// Bytes is about how much memory they hold.
func (a *Answers) Bytes() (sum int64) {
	a.mu.Lock()
	defer a.mu.Unlock()
	for _, r := range a.rows {
		outcomes := 0
		for t := range a.asked {
			outcomes += len(a.asked[t].names)
		}
		sum += int64(len(r.points)) * int64(4*outcomes+64)
		for i := range r.hyps {
			sum += int64(len(r.hyps[i].nodes)) * bench.SessionBytes
		}
	}
	return sum
}

// Tests lists the ids of the tests, in the order in which they are asked.
func (a *Answers) Tests() []string {
	out := make([]string, len(a.asked))
	for t := range a.asked {
		out[t] = a.asked[t].test.ID
	}
	return out
}

// Population is the one that they are of.
func (a *Answers) Population() *Population { return a.pop }

// test is the place of a test, −1 for one that there is not.
func (a *Answers) test(id string) int {
	return slices.IndexFunc(a.asked, func(q answered) bool { return q.test.ID == id })
}

// outcome is the place of the outcome that an observation is, among those of a test.
func (a *Answers) outcome(t int, o *bench.Observation) int {
	q := &a.asked[t]
	row := make([]float64, len(q.names))
	q.chances(&predictionAt{corners: []*foresee.Prediction{told(o)}, weights: []float64{1}, value: deref(o.Value), over: over(o)}, 1, row, softened{})
	best := 0
	for k, c := range row {
		if c > row[best] {
			best = k
		}
	}
	return best
}

// told is an observation as a prediction that is sure of it.
func told(o *bench.Observation) *foresee.Prediction {
	p := &foresee.Prediction{Value: deref(o.Value), Over: o.Over(), Parts: map[string]*foresee.Prediction{}}
	if o.Word != nil {
		p.Words = []foresee.Chance{{Word: *o.Word, P: 1}}
	}
	for id, x := range o.Parts {
		if x.Word != nil {
			p.Parts[id] = &foresee.Prediction{Words: []foresee.Chance{{Word: *x.Word, P: 1}}}
		}
	}
	return p
}

func over(o *bench.Observation) float64 {
	if o.Over() {
		return 1
	}
	return 0
}

func deref(v *float64) float64 {
	if v == nil {
		return 0
	}
	return *v
}
