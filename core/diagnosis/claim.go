package diagnosis

import (
	"context"
	"encoding/json"
	"math"
	"slices"
	"sync"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/foresee"
	"zanjero/core/parallel"
	"zanjero/core/setup"
)

// Claim is a complaint in a form that the model can check: what an owner met who did
// this with the machine, and knows how to start it. All that it names has to be so. The
// zero value claims nothing. It is not changed once it is made.
type Claim struct {
	// Test is what was done, Setup how where that matters. Done again, it shows whether the
	// complaint is gone.
	Test  string         `json:"test"`
	Setup setup.Settings `json:"setup,omitempty"`
	// Words are those of the test of which one was met; none for whatever it was.
	Words []string `json:"words,omitempty"`
	// Smoke, and what happened as it was stopped, of which one was met.
	Smoke []string `json:"smoke,omitempty"`
	Stop  []string `json:"stop,omitempty"`
	// Pulls is how many it took at least; 0 for any number.
	Pulls int `json:"pulls,omitempty"`
	// Falters is from when to when it first let go, minutes; zero for whenever.
	Falters *Span `json:"falters,omitempty"`
	// Beyond is how a number lay by the machine's sheet, "below" or "above".
	Beyond string `json:"beyond,omitempty"`
	// And is what was so besides, on the machine as it came.
	And []Claim `json:"and,omitempty"`
	// Then is what was met next, after the machine had stood for Rest minutes.
	Then *Claim  `json:"then,omitempty"`
	Rest float64 `json:"rest,omitempty"`
}

// Span is a stretch of minutes.
type Span struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// watchError is by how much an owner's minutes are out, as a logarithm: a quarter, by
// ear and watch (common practice).
const watchError = 0.25

// chance is how likely minutes that are so are told as lying in the span.
func (s Span) chance(minutes float64) float64 {
	if minutes <= 0 {
		return 0
	}
	upTo := func(edge float64) float64 {
		if edge <= 0 {
			return 0
		}
		return 0.5 * math.Erfc(math.Log(minutes/edge)/(watchError*math.Sqrt2))
	}
	return upTo(s.To) - upTo(s.From)
}

// impossible is the chance below which what comes next is not tried.
const impossible = 1e-6

// Of is how likely a machine does what is claimed, 0 to 1, in the hands of somebody who
// knows it. The session is to be a master's, and is left as it is. A machine that has no
// such test does not.
func (c *Claim) Of(s *bench.Session) float64 {
	t := s.TestOf(c.Test)
	if t == nil {
		return 0
	}
	sum := 0.0
	for _, o := range foresee.Test(s, c.Test, c.Setup, false) {
		p := o.P * c.fits(s, t, o.Seen)
		if c.Then != nil && p > impossible {
			if c.Rest > 0 {
				o.After.Wait(c.Rest)
			}
			p *= c.Then.Of(o.After)
		}
		sum += p
	}
	for i := range c.And {
		if sum <= impossible {
			return 0
		}
		sum *= c.And[i].Of(s)
	}
	return min(sum, 1)
}

// fits is how likely what a test shows is told as claimed.
func (c *Claim) fits(s *bench.Session, t *catalogue.Test, seen *foresee.Prediction) float64 {
	p := 1.0
	if len(c.Words) > 0 {
		p = 0
		for _, w := range seen.Words {
			if slices.Contains(c.Words, w.Word) {
				p += w.P
			}
		}
	}
	met := func(asked []string, is string) bool { return len(asked) == 0 || slices.Contains(asked, is) }
	if !met(c.Smoke, seen.Beside.Smoke) || !met(c.Stop, seen.Beside.Stop) || seen.Beside.Pulls < c.Pulls {
		return 0
	}
	if c.Falters != nil {
		p *= c.Falters.chance(seen.FalterAt)
	}
	if f, ok := s.Machine().Sheet()[t.Figure]; c.Beyond != "" {
		switch {
		case !ok || seen.OverLimit() > 0:
			return 0
		case c.Beyond == "above":
			p *= seen.Between(t.ID, f.High, math.Inf(1))
		default:
			p *= seen.Between(t.ID, math.Inf(-1), f.Low)
		}
	}
	return p
}

// ownerReliability is how often an owner's complaint is what the machine does (common
// practice; size chosen by us).
const ownerReliability = 0.85

// complained is how likely an owner complains of what a machine does with a chance. One
// who errs says what owners say, as often as they do.
func complained(does, common float64) float64 {
	return ownerReliability*does + (1-ownerReliability)*common
}

// A complaint is never so rare or so common among owners who err that it tells all or
// nothing.
const leastCommon, mostCommon = 0.005, 0.5

// commonness is how common complaints are among the machines of a population, worked out
// once for each. It may be used from any goroutine.
type commonness struct {
	mu sync.Mutex
	by map[string]float64 // by claim, as JSON
}

// common is how common what is claimed is among the population's machines with single
// faults.
func (p *Population) common(ctx context.Context, c *Claim) (float64, error) {
	raw, err := json.Marshal(c)
	if err != nil {
		return 0, err
	}
	p.commons.mu.Lock()
	known, ok := p.commons.by[string(raw)]
	p.commons.mu.Unlock()
	if ok {
		return known, nil
	}
	shares, weights := make([]float64, len(p.base)), make([]float64, len(p.base))
	err = parallel.For(ctx, len(p.base), func(i int) {
		h := &p.base[i]
		for k, n := range h.nodes {
			w := 1.0
			if len(h.axes) == 1 {
				w = h.axes[0].nodeWeight(k)
			}
			weights[i] += w
			shares[i] += w * c.Of(n.AsMaster())
		}
	})
	if err != nil {
		return 0, err
	}
	sum, all := 0.0, 0.0
	for i := range p.base {
		sum += p.base[i].prior * shares[i] / weights[i]
		all += p.base[i].prior
	}
	share := min(max(sum/all, leastCommon), mostCommon)
	p.commons.mu.Lock()
	p.commons.by[string(raw)] = share
	p.commons.mu.Unlock()
	return share, nil
}
