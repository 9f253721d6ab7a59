package diagnosis

import (
	"context"
	"math"
	"slices"
	"sort"
	"strconv"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/reading"
)

// Weights turn what a test takes besides time into minutes, as an instructor
// sets them; zero leaves it out.
type Weights struct {
	// MinutesPerMoney is for what a test uses up, in the yard's money.
	MinutesPerMoney float64
	// MinutesPerHazard is for each hazard that a test brings.
	MinutesPerHazard float64
}

// Worth is what a test would tell next, and what it takes.
type Worth struct {
	Test    string  `json:"test"`
	Bits    float64 `json:"bits"`
	Minutes float64 `json:"minutes"`
	// Money is what it uses up, Hazards how many it brings; both weigh on
	// BitsPerMinute where weights are set.
	Money         float64         `json:"money"`
	Hazards       int             `json:"hazards"`
	BitsPerMinute float64         `json:"bits_per_minute"`
	Outcomes      []OutcomeChance `json:"outcomes"`
}

// OutcomeChance is one outcome: how likely it is, and how many bits it would
// leave to know.
type OutcomeChance struct {
	Outcome string  `json:"outcome"`
	P       float64 `json:"p"`
	Leaves  float64 `json:"leaves_bits"`
}

// negligible is the probability below which a hypothesis is not asked what a
// test would say.
const negligible = 1e-4

// faint is that for a single severity of one.
const faint = 1e-6

// numberBins is how finely a number is told apart when its worth is reckoned,
// at most; no finer than its instrument reads.
const numberBins = 40

// longMinutes is how long a run is taken to last that has no length of its own.
const longMinutes = 15

// Rank gives the worth of every test of the engine, or only of some by id, in
// its present state, set up as a master would: the most bits a minute first,
// then by id. Money and hazards count as minutes by their weights. What is told
// is counted over sets of faults, severity integrated. Source: Shannon's mutual
// information.
func (b *Belief) Rank(ctx context.Context, by Weights, only ...string) ([]Worth, error) {
	told, err := b.outcomes(ctx, only...)
	if err != nil {
		return nil, err
	}
	out := make([]Worth, 0, len(told.tests))
	for t, id := range told.tests {
		w := Worth{Test: id, Minutes: told.minutes[t], Money: told.money[t], Hazards: len(catalogue.Standard().Test(id).Hazards), Outcomes: []OutcomeChance{}}
		for o, name := range told.names[t] {
			total := 0.0
			for s, p := range told.prior {
				total += p * told.chance[t][s][o]
			}
			if total <= 1e-12 {
				continue
			}
			leaves := 0.0
			for s, p := range told.prior {
				joint := p * told.chance[t][s][o]
				if joint > 0 {
					w.Bits += joint * math.Log2(told.chance[t][s][o]/total)
					leaves -= joint / total * math.Log2(joint/total)
				}
			}
			w.Outcomes = append(w.Outcomes, OutcomeChance{name, total, leaves})
		}
		w.Bits = max(w.Bits, 0)
		w.BitsPerMinute = w.Bits / max(w.Minutes+by.MinutesPerMoney*w.Money+by.MinutesPerHazard*float64(w.Hazards), 0.1)
		sort.SliceStable(w.Outcomes, func(i, j int) bool { return w.Outcomes[i].P > w.Outcomes[j].P })
		out = append(out, w)
	}
	sort.SliceStable(out, func(i, j int) bool {
		if out[i].BitsPerMinute != out[j].BitsPerMinute {
			return out[i].BitsPerMinute > out[j].BitsPerMinute
		}
		return out[i].Test < out[j].Test
	})
	return out, nil
}

// ambiguous is the divergence, in bits at equal weights, below which a test
// does not tell two sets of faults apart.
const ambiguous = 0.05

// Ambiguity lists the sets of faults, of those that still count for something,
// that no test in the present state tells apart (Jensen–Shannon divergence).
func (b *Belief) Ambiguity(ctx context.Context) ([][]string, error) {
	told, err := b.outcomes(ctx)
	if err != nil {
		return nil, err
	}
	var kept []int
	for s, p := range told.prior {
		if p >= 0.005 {
			kept = append(kept, s)
		}
	}
	group := map[int]int{}
	for i, s := range kept {
		group[s] = s
		for _, r := range kept[:i] {
			apart := false
			for t := range told.tests {
				if divergence(told.chance[t][s], told.chance[t][r]) >= ambiguous {
					apart = true
					break
				}
			}
			if !apart {
				group[s] = group[r]
				break
			}
		}
	}
	members := map[int][]string{}
	for _, s := range kept {
		members[group[s]] = append(members[group[s]], told.sets[s])
	}
	out := [][]string{}
	for _, s := range kept {
		if g := members[s]; len(g) > 1 {
			out = append(out, g)
		}
	}
	return out, nil
}

// divergence is Jensen and Shannon's, in bits.
func divergence(a, b []float64) float64 {
	sum := 0.0
	for i := range a {
		m := (a[i] + b[i]) / 2
		if a[i] > 0 {
			sum += a[i] / 2 * math.Log2(a[i]/m)
		}
		if b[i] > 0 {
			sum += b[i] / 2 * math.Log2(b[i]/m)
		}
	}
	return sum
}

// outcomeTable is how likely each outcome of each test is under each set of
// faults.
type outcomeTable struct {
	sets    []string
	prior   []float64
	tests   []string
	minutes []float64
	money   []float64
	names   [][]string
	chance  [][][]float64 // by test, set and outcome
}

func (b *Belief) outcomes(ctx context.Context, only ...string) (*outcomeTable, error) {
	out := &outcomeTable{}
	weights := b.weights()
	place := map[string]int{}
	at := make([]int, len(b.hyps)) // the set of each hypothesis, or −1
	mass := make([]float64, len(b.hyps))
	for i := range b.hyps {
		for _, w := range weights[i] {
			mass[i] += w
		}
		if at[i] = -1; mass[i] < negligible {
			continue
		}
		key := strings.Join(b.hyps[i].faults, "+")
		s, ok := place[key]
		if !ok {
			s = len(out.sets)
			place[key] = s
			out.sets, out.prior = append(out.sets, key), append(out.prior, 0)
		}
		at[i] = s
		out.prior[s] += mass[i]
	}
	sum := 0.0
	for _, p := range out.prior {
		sum += p
	}
	for s := range out.prior {
		out.prior[s] /= sum
	}
	if len(out.sets) == 0 {
		return out, nil
	}
	first := b.hyps[slices.IndexFunc(at, func(s int) bool { return s >= 0 })].nodes[0]
	m := first.Machine()
	for _, t := range first.Catalogue().TestsOf(m.Family(), m.Sheet()) {
		if len(only) > 0 && !slices.Contains(only, t.ID) {
			continue
		}
		points := make([][]predictionAt, len(b.hyps))
		if err := b.eachIndex(ctx, func(i int, h *candidate) {
			if at[i] < 0 {
				return
			}
			points[i] = make([]predictionAt, h.axes.points())
			h.lookAhead(ledger.Line{Kind: ledger.EventTake, Test: t.ID, Master: true}, true,
				func(k int) bool { return weights[i][k] >= faint }, func(k int, p predictionAt) { points[i][k] = p })
		}); err != nil {
			return nil, err
		}
		names, chances := bins(&t, points)
		rows := make([][]float64, len(b.hyps))
		if err := b.eachIndex(ctx, func(i int, _ *candidate) {
			if at[i] < 0 {
				return
			}
			rows[i] = make([]float64, len(names))
			known := softened{} // points share the machines beside them
			for k := range points[i] {
				share := weights[i][k] / (out.prior[at[i]] * sum)
				said, asked := b.hyps[i].said[question(t.ID)]
				switch {
				case weights[i][k] < faint:
				case asked && points[i][k].fixed:
					same := sameWord(&t)
					again(names, said, share*same, rows[i])
					if same < 1 {
						chances(&points[i][k], share*(1-same), rows[i], known)
					}
				default:
					chances(&points[i][k], share, rows[i], known)
				}
			}
		}); err != nil {
			return nil, err
		}
		per := make([][]float64, len(out.sets))
		for s := range per {
			per[s] = make([]float64, len(names))
		}
		for i, row := range rows { // in order, so that sums come out the same
			for o, c := range row {
				per[at[i]][o] += c
			}
		}
		for s := range per { // rare words are left out of a look's chances
			all := 0.0
			for _, c := range per[s] {
				all += c
			}
			for o := range per[s] {
				per[s][o] /= all
			}
		}
		minutes := t.Minutes
		if t.Long {
			minutes = longMinutes
		}
		minutes += reading.HeatMinutes(m, &t) + first.AccessMinutes(&t)
		out.tests, out.minutes = append(out.tests, t.ID), append(out.minutes, minutes)
		out.money = append(out.money, first.AccessMoney(&t))
		out.names, out.chance = append(out.names, names), append(out.chance, per)
	}
	return out, nil
}

// again is the same answer as before, but for a slip.
func again(names []string, said string, share float64, out []float64) {
	same := func(name string) bool { return name == said || strings.HasPrefix(name, said+between) }
	alike := 0
	for _, name := range names {
		if same(name) {
			alike++
		}
	}
	for i, name := range names {
		if same(name) {
			out[i] += share * (1 - grossWord) / float64(alike)
		}
		out[i] += share * grossWord / float64(len(names))
	}
}

func number(v float64) string { return strconv.FormatFloat(v, 'g', 3, 64) }

// softened remembers what a competent eye would call what a machine shows.
type softened map[*foresee.Prediction][]float64

func (s softened) of(p *foresee.Prediction, names []string) []float64 {
	if q, ok := s[p]; ok {
		return q
	}
	q := make([]float64, len(names))
	for i, w := range names {
		q[i] = soften(p.Words, w)
	}
	s[p] = q
	return q
}

// bins are the outcomes that a test is told apart by, and what adds a share of
// how likely each is at a point: its words, or slices of its scale and
// over-limit.
func bins(t *catalogue.Test, points [][]predictionAt) (names []string, chances chance) {
	names, chances = firstPart(t, points)
	for i := range t.Parts {
		if p := &t.Parts[i]; i > 0 && !p.IsNumber() {
			names, chances = withPart(p, names, chances)
		}
	}
	return names, chances
}

// chance adds a share of how likely each outcome is at a point.
type chance func(p *predictionAt, share float64, out []float64, known softened)

// between stands between the parts in the name of an outcome.
const between = "; "

// withPart tells outcomes apart by a part that is met in a word too: given the
// machine, the parts say nothing of each other. Parts that are numbers are left out;
// they follow the first closely, and would make the outcomes too many.
func withPart(part *catalogue.Part, first []string, chances chance) ([]string, chance) {
	var names []string
	for _, name := range first {
		for _, w := range part.Words {
			names = append(names, name+between+w)
		}
	}
	n := len(part.Words)
	return names, func(p *predictionAt, share float64, out []float64, known softened) {
		whole, words := make([]float64, len(first)), make([]float64, n)
		chances(p, share, whole, known)
		for k, c := range p.corners {
			for w := range words {
				likely := 1 / float64(n) // where there is no such part to see
				if x := c.Parts[part.ID]; x != nil {
					likely = (1-grossWord)*known.of(x, part.Words)[w] + grossWord/float64(n)
				}
				words[w] += p.weights[k] * likely
			}
		}
		for i, q := range whole {
			for w, r := range words {
				out[i*n+w] += q * r
			}
		}
	}
}

// firstPart are the outcomes of the reading itself.
func firstPart(t *catalogue.Test, points [][]predictionAt) (names []string, chances chance) {
	if t.Kind != catalogue.KindNumber {
		names = t.Words
		return names, func(p *predictionAt, share float64, out []float64, known softened) {
			for k, c := range p.corners {
				for i, q := range known.of(c, names) {
					out[i] += share * (1 - grossWord) * p.weights[k] * q
				}
			}
			for i := range names {
				out[i] += share * grossWord / float64(len(names))
			}
		}
	}
	acc := instrument.AccuracyOf(t.ID)
	low, high := math.Inf(1), math.Inf(-1)
	see := func(v float64) { low, high = min(low, v-3*acc.Spread(v)), max(high, v+3*acc.Spread(v)) }
	for _, ps := range points {
		for i := range ps {
			if ps[i].corners == nil { // it counts for nothing
				continue
			}
			if ps[i].over < 1 {
				see(ps[i].value)
			}
			if ps[i].touch > 0 {
				see(ps[i].touched)
			}
		}
	}
	if low > high {
		low, high = 0, 1
	}
	width := max((high-low)/numberBins, acc.Spread(high)/2, acc.Step)
	n := max(1, int(math.Ceil((high-low)/width)))
	for i := range n {
		names = append(names, number(low+float64(i)*width)+"–"+number(low+float64(i+1)*width)+" "+t.Unit)
	}
	names = append(names, "over-limit")
	fill := func(out []float64, v, share float64) {
		if share <= 0 {
			return
		}
		sigma := acc.Spread(v) * math.Sqrt2
		below := 0.0
		// Slices further off than six standard deviations have nothing to add.
		first := min(max(int((v-6*sigma-low)/width), 0), n-1)
		for i := first; i < n && below < 1-1e-12; i++ {
			upTo := 1.0
			if i < n-1 {
				upTo = 0.5 * math.Erfc((v-(low+float64(i+1)*width))/sigma)
			}
			out[i] += share * (upTo - below)
			below = upTo
		}
	}
	return names, func(p *predictionAt, share float64, out []float64, _ softened) {
		fill(out, p.value, share*(1-grossError)*max(1-p.over-p.touch, 0))
		fill(out, p.touched, share*(1-grossError)*p.touch)
		out[n] += share * (1 - grossError) * p.over
		for i := range out {
			out[i] += share * grossError / float64(n+1)
		}
	}
}
