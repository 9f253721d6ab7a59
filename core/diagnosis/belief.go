package diagnosis

import (
	"math"
	"slices"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/parallel"
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

// grossError is the share of readings that are wrong for no reason modelled
// here, spread evenly over the instrument's range.
const grossError = 0.02

// ownerReliability is how often an owner's complaint is what the machine does.
const ownerReliability = 0.85

// unreliable is how often a complaint that is not so would still have been made
// in these words.
const unreliable = 0.3

// weighed is a hypothesis with its log-likelihood at each point of its grid.
type weighed struct {
	hypothesis
	loglik []float64
	last   map[string]repeatable // last number per test, for repeats
}

// repeatable is the last reading of a test on an unchanged machine.
type repeatable struct {
	key       string
	value     float64
	predicted []float64 // by point
}

// Belief is what the evidence so far makes of a population. It is not safe for
// use by several goroutines at once.
type Belief struct {
	view View
	hyps []weighed
}

// Start begins a belief at the priors.
func (p *Population) Start(v View) *Belief {
	b := &Belief{view: v}
	for i := range p.hyps {
		h := p.hyps[i]
		h.nodes = make([]*bench.Session, len(p.hyps[i].nodes))
		for k, n := range p.hyps[i].nodes {
			h.nodes[k] = n.Clone()
		}
		b.hyps = append(b.hyps, weighed{h, make([]float64, h.axes.points()), map[string]repeatable{}})
	}
	return b
}

// Claim is a complaint in a form the model can check: under this test, one of
// these words.
type Claim struct {
	Test  string         `json:"test"`
	Setup setup.Settings `json:"setup,omitempty"`
	Words []string       `json:"words"`
}

// Hear takes the owner's complaint in, once. It moves no machine.
func (b *Belief) Hear(c Claim) {
	if c.Test == "" {
		return
	}
	st := ledger.Line{Kind: ledger.EventTake, Test: c.Test, Setup: c.Setup}
	b.each(func(h *weighed) {
		h.weigh(st, false, func(_ int, at predictionAt) float64 {
			p := 0.0
			for _, w := range c.Words {
				p += at.word(w)
			}
			return ownerReliability*p + (1-ownerReliability)*unreliable
		}, true)
	})
}

// each runs f over the hypotheses, on all processors. They share nothing, so
// order and company make no difference.
func (b *Belief) each(f func(h *weighed)) { b.eachIndex(func(_ int, h *weighed) { f(h) }) }

func (b *Belief) eachIndex(f func(i int, h *weighed)) {
	parallel.For(len(b.hyps), func(i int) { f(i, &b.hyps[i]) })
}

// Observe takes one step of a ledger in: what was done happens to every
// hypothesis, and what was seen weighs it.
func (b *Belief) Observe(st ledger.Line) {
	if st.Kind == ledger.EventRepair {
		b.repair(st)
		return
	}
	like := b.likelihood(st)
	b.each(func(h *weighed) {
		if like == nil {
			for _, n := range h.nodes {
				foresee.Replay(n, st, b.view == AsIfValid, true)
			}
			return
		}
		h.weigh(st, b.view == AsIfValid, like(h), false)
	})
}

// repair lets work act under each hypothesis with its own chance of success:
// where it can fail, the hypothesis parts into one where it took and one where
// it did not.
func (b *Belief) repair(st ledger.Line) {
	r := catalogue.Standard().Repair(st.Repair, st.Reach)
	var failed []weighed
	for i := range b.hyps {
		h := &b.hyps[i]
		h.last = map[string]repeatable{}
		touches := slices.ContainsFunc(h.faults, func(f string) bool { return slices.Contains(r.Mends, f) })
		if touches && r.Success < 1 {
			alt := weighed{h.hypothesis, slices.Clone(h.loglik), map[string]repeatable{}}
			alt.nodes = make([]*bench.Session, len(h.nodes))
			for k, n := range h.nodes {
				alt.nodes[k] = n.Clone()
				foresee.Replay(alt.nodes[k], st, false, false)
			}
			alt.prior *= 1 - r.Success
			h.prior *= r.Success
			failed = append(failed, alt)
		}
		for _, n := range h.nodes {
			foresee.Replay(n, st, false, true)
		}
	}
	b.hyps = append(b.hyps, failed...)
}

// predictionAt is a prediction interpolated to one point of a grid.
type predictionAt struct {
	value, over, falter float64
	// touch is how likely a chafed wire touched, touched the value if it did.
	touch, touched float64
	corners        []*foresee.Prediction
	weights        []float64
}

func (p predictionAt) word(w string) float64 {
	sum := 0.0
	for i, c := range p.corners {
		sum += p.weights[i] * soften(c.Words, w)
	}
	return sum
}

// weigh replays a step on every node and lays a likelihood on every point.
// apart leaves the machines as they were.
func (h *weighed) weigh(st ledger.Line, asIfValid bool, like func(point int, at predictionAt) float64, apart bool) {
	h.predict(st, asIfValid, apart, func(i int, at predictionAt) {
		h.loglik[i] += math.Log(max(like(i, at), 1e-300))
	})
}

// predict replays a step on every node and hands what it would have told to
// every point of the grid. apart leaves the machines as they were.
func (h *weighed) predict(st ledger.Line, asIfValid, apart bool, each func(point int, at predictionAt)) {
	preds := make([]*foresee.Prediction, len(h.nodes))
	for i, n := range h.nodes {
		if apart {
			preds[i] = foresee.Line(n, st, asIfValid)
		} else {
			preds[i] = foresee.Replay(n, st, asIfValid, true)
		}
	}
	var corners []corner
	points := h.axes.points()
	// Room for what all points refer to, made once.
	beside, weights := make([]*foresee.Prediction, 0, 2*points), make([]float64, 0, 2*points)
	for i := range points {
		corners = h.axes.cornersOf(i, corners[:0])
		from := len(beside)
		for _, c := range corners {
			beside, weights = append(beside, preds[c.node]), append(weights, c.weight)
		}
		at := predictionAt{corners: beside[from:], weights: weights[from:]}
		finite := 0.0
		for _, c := range corners {
			p := preds[c.node]
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

// likelihood gives, for a step, the likelihood of what this view saw of it, or
// nil if it saw nothing.
func (b *Belief) likelihood(st ledger.Line) func(h *weighed) func(int, predictionAt) float64 {
	if st.Kind != ledger.EventTake || st.Obs == nil {
		return nil
	}
	t := catalogue.Standard().Test(st.Test)
	if t.Kind != catalogue.KindNumber {
		word := st.Obs.Word
		if b.view != Shown {
			if st.Entry == nil {
				return nil
			}
			word = &st.Entry.Word
		}
		falter := st.Obs.FalterAt
		return func(*weighed) func(int, predictionAt) float64 {
			return func(_ int, at predictionAt) float64 {
				p := (1-grossError)*at.word(*word) + grossError/float64(len(t.Words))
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
	return func(h *weighed) func(int, predictionAt) float64 {
		return h.number(st, value, over, atLeast, b.view)
	}
}

// number is the likelihood of a reading: normal around the prediction with the
// instrument's tolerance and the spread of builds, over the reading's step,
// with a share of gross errors. Repeats on an unchanged machine share their
// bias, so they are compared with each other; but not where a wire touches now
// and then.
func (h *weighed) number(st ledger.Line, value float64, over, atLeast bool, v View) func(int, predictionAt) float64 {
	acc := instrument.AccuracyOf(st.Test)
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
			p *= chance(at.value, at.value, acc.Spread(at.value))
		}
		if at.touch > 0 {
			p += at.touch * chance(at.touched, at.touched, acc.Spread(at.touched))
		}
		return (1-grossError)*p + grossError*acc.Step/acc.Max
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
