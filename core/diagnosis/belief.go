package diagnosis

import (
	"context"
	"maps"
	"math"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/parallel"
	"zanjero/core/reading"
	"zanjero/core/setup"
)

// View says which evidence a belief is formed from.
type View int

// The three beliefs that are kept. Shown against Recorded is misreading;
// Recorded against AsIfValid is a set-up error carried into reasoning.
const (
	Shown     View = iota // what the instruments showed, with the set-up as it was
	Recorded              // what was written down, with the set-up as it was
	AsIfValid             // what was written down, taken as if the set-up had been right
)

// grossError is the share of numbers that are wrong for no reason modelled here,
// spread evenly over the instrument's range; grossWord that of words, spread over
// the words of the test: a needle is misread sooner than a run is misnamed (common
// practice; sizes chosen by us).
const (
	grossError = 0.02
	grossWord  = 0.005
)

// candidate is a hypothesis with its log-likelihood at each point of its grid,
// in one of the states that work can have left it in.
type candidate struct {
	hypothesis
	// origin is its place in the population, mended which of its faults work has
	// taken away, a bit each in their order.
	origin int
	mended uint
	loglik []float64
	// runs are those last made on its machines, by node; nil if none are kept.
	runs []foresee.Run
	last map[string]repeatable // last number per test, for repeats
	// said is the word last written down of a look or a feel, asked what the
	// machines would have shown at it: where they still would, asking again brings
	// the same answer.
	said  map[string]string
	asked map[string][]*foresee.Prediction
	// taken is how many of the belief's lines it has taken in.
	taken int
}

// repeatable is the last reading of a test on an unchanged machine.
type repeatable struct {
	key       string
	value     float64
	predicted []float64 // by point
}

// Belief is what the evidence so far makes of a population. It is not safe for
// use by several goroutines at once. Once one of its methods has failed, because
// a context ended, it has taken in only part of a step and is of no more use.
//
// It holds at most 2ⁿ states of a hypothesis of n faults, whatever is done: the
// ways in which work took or did not are put together where the same faults are
// left.
type Belief struct {
	view View
	pop  *Population
	hyps []candidate
	// lines are what has been observed. A hypothesis that counts for nothing takes
	// them in later, if it ever comes to count.
	lines []ledger.Line
	// eager: every hypothesis takes every line in at once.
	eager bool
	// beside are beliefs from other views on the same machines: they hold weights
	// alone, and take in what this one does.
	beside []*Belief
}

// Start begins a belief at the priors. The population is not changed by it, so
// many beliefs may be started at once.
func (p *Population) Start(v View) *Belief {
	b := &Belief{view: v, pop: p}
	for i := range p.hyps {
		h := p.hyps[i]
		h.nodes = cloneAll(p.hyps[i].nodes)
		b.hyps = append(b.hyps, candidate{hypothesis: h, origin: i, loglik: make([]float64, h.axes.points()), last: map[string]repeatable{},
			said: map[string]string{}, asked: map[string][]*foresee.Prediction{}})
	}
	return b
}

// run is where the run last made on a node is kept, nil for nowhere.
func (h *candidate) run(node int) *foresee.Run {
	if h.runs == nil {
		return nil
	}
	return &h.runs[node]
}

// Clone gives an independent copy of it, without what stands beside it.
func (b *Belief) Clone() *Belief {
	c := &Belief{view: b.view, pop: b.pop, hyps: slices.Clone(b.hyps), lines: slices.Clip(b.lines), eager: b.eager}
	for i := range c.hyps {
		h := &c.hyps[i]
		h.nodes, h.loglik, h.last, h.runs = cloneAll(h.nodes), slices.Clone(h.loglik), maps.Clone(h.last), nil
		h.said, h.asked = maps.Clone(h.said), maps.Clone(h.asked)
	}
	return c
}

func cloneAll(nodes []*bench.Session) []*bench.Session {
	out := make([]*bench.Session, len(nodes))
	for k, n := range nodes {
		out[k] = n.Clone()
	}
	return out
}

// Complain takes the owner's complaint in, once, before anything is observed. It
// moves no machine. The error
// is the context's.
func (b *Belief) Complain(ctx context.Context, c Claim) error {
	if c.Test == "" {
		return nil
	}
	erring, err := b.pop.common(ctx, &c)
	if err != nil {
		return err
	}
	return b.eachIndex(ctx, func(_ int, h *candidate) {
		at := make([]float64, len(h.nodes))
		for k, n := range h.nodes {
			at[k] = c.Of(n.AsMaster())
		}
		h.told(at, func(p float64) float64 { return complained(p, erring) })
	})
}

// Hear takes in what an owner tells of how it came about, a word of the test that asks
// for it. Asked again, the owner tells the same. The error is the context's.
func (b *Belief) Hear(ctx context.Context, word string) error {
	st := ledger.Line{Kind: ledger.EventTake, Test: reading.AskHistory, Master: true}
	return b.eachIndex(ctx, func(_ int, h *candidate) {
		t := h.test(st)
		preds, at := make([]*foresee.Prediction, len(h.nodes)), make([]float64, len(h.nodes))
		for k, n := range h.nodes {
			preds[k] = foresee.Line(n, st, t, true)
			for _, c := range preds[k].Words {
				if c.Word == word {
					at[k] = c.P
				}
			}
		}
		h.told(at, func(p float64) float64 { return (1-grossWord)*p + grossWord/float64(len(t.Words)) })
		h.said[reading.AskHistory], h.asked[reading.AskHistory] = word, preds
	})
}

// told weighs the points of a hypothesis by what was told, from how likely that is at
// each of its nodes.
func (h *candidate) told(at []float64, likely func(p float64) float64) {
	var corners []corner
	for point := range h.axes.points() {
		corners = h.axes.cornersOf(point, corners[:0])
		p := 0.0
		for _, c := range corners {
			p += c.weight * at[c.node]
		}
		h.loglik[point] += math.Log(max(likely(p), 1e-300))
	}
}

// eachIndex runs f over the hypotheses, on the processors that the context allows.
// They share nothing, so order and company make no difference.
func (b *Belief) eachIndex(ctx context.Context, f func(i int, h *candidate)) error {
	return parallel.For(ctx, len(b.hyps), func(i int) { f(i, &b.hyps[i]) })
}

// predictionAt is a prediction interpolated to one point of a grid.
type predictionAt struct {
	value, over, falter float64
	// touch is how likely a chafed wire touched, touched the value if it did.
	touch, touched float64
	corners        []*foresee.Prediction
	weights        []float64
	// fixed: the machines here show what they showed when they were last asked.
	fixed bool
}

func (p predictionAt) word(w string) float64 {
	sum := 0.0
	for i, c := range p.corners {
		sum += p.weights[i] * soften(c.Words, w)
	}
	return sum
}

// test is a line's test as these machines have it, nil where it has none.
func (h *candidate) test(st ledger.Line) *catalogue.Test {
	if st.Kind != ledger.EventTake {
		return nil
	}
	return h.nodes[0].TestOf(st.Test)
}

// predict replays a step on every node and hands what it would have told to
// every point of the grid. It gives back what each node would have told.
func (h *candidate) predict(st ledger.Line, asIfValid bool, each func(point int, at predictionAt)) []*foresee.Prediction {
	preds, t := make([]*foresee.Prediction, len(h.nodes)), h.test(st)
	for i, n := range h.nodes {
		preds[i] = foresee.Replay(n, st, t, asIfValid, h.run(i))
	}
	h.spread(st, preds, nil, each)
	return preds
}

// lookAhead is predict, but leaves the machines as they were. Of the points, it does
// only those that counts, where it is not nil, says.
func (h *candidate) lookAhead(st ledger.Line, asIfValid bool, counts func(point int) bool, each func(point int, at predictionAt)) {
	preds, t := make([]*foresee.Prediction, len(h.nodes)), h.test(st)
	beside := make([]bool, len(h.nodes))
	var corners []corner
	for k := range h.axes.points() {
		if counts == nil || counts(k) {
			corners = h.axes.cornersOf(k, corners[:0])
			for _, c := range corners {
				beside[c.node] = true
			}
		}
	}
	for i, n := range h.nodes {
		if beside[i] {
			preds[i] = foresee.Line(n, st, t, asIfValid)
		}
	}
	h.spread(st, preds, counts, each)
}

// spread hands what the nodes tell to the points between them.
func (h *candidate) spread(st ledger.Line, preds []*foresee.Prediction, counts func(point int) bool, each func(point int, at predictionAt)) {
	fixed := make([]bool, len(preds))
	if before := h.asked[question(st.Test)]; before != nil {
		for i := range preds {
			fixed[i] = preds[i] != nil && sameAnswer(question(st.Test) == "run", preds[i].Words, before[i].Words)
		}
	}
	var corners []corner
	points := h.axes.points()
	// Room for what all points refer to, made once.
	beside, weights := make([]*foresee.Prediction, 0, 2*points), make([]float64, 0, 2*points)
	for i := range points {
		if counts != nil && !counts(i) {
			continue
		}
		corners = h.axes.cornersOf(i, corners[:0])
		from := len(beside)
		for _, c := range corners {
			beside, weights = append(beside, preds[c.node]), append(weights, c.weight)
		}
		at := predictionAt{corners: beside[from:], weights: weights[from:]}
		finite := 0.0
		at.fixed = true
		for _, c := range corners {
			p := preds[c.node]
			at.fixed = at.fixed && fixed[c.node]
			if p.Over {
				at.over += c.weight * (1 - p.Touch)
			} else {
				at.value += c.weight * p.Value
				finite += c.weight
			}
			at.falter += c.weight * p.FalterAt
			at.touch += c.weight * p.Touch
			at.touched += c.weight * p.Touch * p.Touched
		}
		if finite > 0 {
			at.value /= finite
		}
		if at.touch > 0 {
			at.touched /= at.touch
		}
		each(i, at)
	}
}

// likeness is how likely it was that a step showed what it did, at each point of
// a state's grid.
type likeness func(h *candidate) func(point int, at predictionAt) float64

// likelihood gives, for a step, the likelihood of what this view saw of it, or
// nil if it saw nothing.
func (b *Belief) likelihood(st ledger.Line) likeness {
	if st.Kind != ledger.EventTake || st.Obs == nil || (st.Vague && b.view != AsIfValid) {
		return nil
	}
	t := catalogue.Standard().Test(st.Test)
	first := b.firstPart(t, st)
	parts := b.otherParts(t, st)
	switch {
	case len(parts) == 0:
		return first
	case first == nil:
		first = func(*candidate) func(int, predictionAt) float64 { return func(int, predictionAt) float64 { return 1 } }
	}
	return func(h *candidate) func(int, predictionAt) float64 {
		lay := first(h)
		return func(point int, at predictionAt) float64 {
			p := lay(point, at)
			for _, part := range parts { // each is read by itself
				p *= part(at)
			}
			return p
		}
	}
}

// firstPart is the likelihood of what a test's own fields say, or nil.
func (b *Belief) firstPart(t *catalogue.Test, st ledger.Line) likeness {
	if st.Entry != nil && st.Entry.Left {
		return nil
	}
	if t.Kind != catalogue.KindNumber {
		word := st.Obs.Word
		if b.view != Shown {
			if st.Entry == nil {
				return nil
			}
			word = &st.Entry.Word
		}
		falter := st.Obs.FalterAt
		return func(h *candidate) func(int, predictionAt) float64 {
			before, said := h.said[question(t.ID)]
			return func(_ int, at predictionAt) float64 {
				p := at.word(*word)
				if said && at.fixed { // the answer belongs to the machine, not to the asking
					again := 0.0
					if *word == before {
						again = 1
					}
					p += sameWord(t) * (again - p)
				}
				p = (1-grossWord)*p + grossWord/float64(len(t.Words))
				if falter > 0 && at.falter > 0 {
					// Minutes to the first falter, by ear and watch: within a quarter.
					z := math.Log(falter/at.falter) / 0.25
					p *= (1-grossError)*math.Exp(-z*z/2) + grossError
				}
				return p
			}
		}
	}
	value, over, atLeast := 0.0, st.Obs.Over(), st.Obs.AtLeast
	if st.Obs.Value != nil {
		value = *st.Obs.Value
	}
	if b.view != Shown {
		if st.Entry == nil {
			return nil
		}
		v, ok := st.Entry.In(t.Unit)
		if over = st.Entry.Over; !over && !ok {
			return nil // a unit of something else tells nothing
		}
		value = v
	}
	if b.view == AsIfValid {
		atLeast = false
	}
	return func(h *candidate) func(int, predictionAt) float64 {
		return h.number(st, value, over, atLeast, b.view)
	}
}

// gauge is what a view's figure of a real engine was read with; nil for one that no register
// knows, and at a bench.
func gauge(st ledger.Line, v View) *ledger.Gauge {
	switch {
	case v == Shown && st.Held != nil && st.Held.Known:
		return st.Held.Gauge
	case st.Entry != nil:
		return st.Entry.Gauge
	}
	return nil
}

// number is the likelihood of a reading: normal around the prediction with the
// instrument's tolerance and the spread of builds, over the reading's step,
// with a share of gross errors. Repeats on an unchanged machine share their
// bias, so they are compared with each other; but not where a wire touches now
// and then.
func (h *candidate) number(st ledger.Line, value float64, over, atLeast bool, v View) func(int, predictionAt) float64 {
	acc, widens := instrument.AccuracyOf(st.Test), gauge(st, v).Widens()
	key := ""
	if v != AsIfValid {
		key = setupKey(st.Setup)
	}
	before, repeated := h.last[st.Test]
	repeated = repeated && before.key == key && !over
	predicted := make([]float64, h.axes.points())
	if !over {
		h.last[st.Test] = repeatable{key, value, predicted}
	}
	return func(i int, at predictionAt) float64 {
		predicted[i] = at.value
		if over {
			return (1-grossError)*at.over + grossError/2
		}
		chance := func(exact, expect, sigma float64) float64 {
			z := (value - expect) / sigma
			switch {
			case atLeast:
				return 0.5 * math.Erfc(z/math.Sqrt2)
			case value == 0 && exact == 0:
				return 1
			}
			return math.Exp(-z*z/2) / (sigma * math.Sqrt(2*math.Pi)) * acc.Step
		}
		p := max(1-at.touch-at.over, 0)
		if repeated && at.touch == 0 {
			p *= chance(at.value, before.value+at.value-before.predicted[i], math.Sqrt2*math.Sqrt(sq(at.value*acc.Repeat)+sq(acc.Floor)+sq(acc.Step)/12))
		} else {
			p *= chance(at.value, at.value, acc.Spread(at.value)*widens)
		}
		if at.touch > 0 {
			p += at.touch * chance(at.touched, at.touched, acc.Spread(at.touched))
		}
		return (1-grossError)*p + grossError*acc.Step/acc.Most
	}
}

func setupKey(s setup.Settings) string {
	keys := make([]string, 0, len(s))
	for k := range s {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	out := ""
	for _, k := range keys {
		if k != "pulls" { // a few pulls more make no other measurement
			out += k + "=" + toText(s[k]) + ";"
		}
	}
	return out
}

func sq(x float64) float64 { return x * x }
