package procedure

import (
	"context"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/diagnosis"
)

// What comes to a step goes on from it or ends there, for every fault, on every page,
// and with its steps in any order: the widths add up.
func TestFlowAddsUp(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for _, family := range []string{"f4-bowl", "t2-diaphragm"} {
		pop := population(t, family, noStart)
		for _, id := range []string{"look-first", "dose-first"} {
			p := school(t, id).For(family, pop.sheet)
			for range 3 {
				e := evaluated(t, pop, p)
				for _, f := range e.Hypotheses {
					into, out := make([]float64, len(p.Steps)+1), make([]float64, len(p.Steps))
					came := 0.0
					for _, l := range f.Links {
						into[l.To] += l.P
						if l.From < 0 {
							came += l.P
						} else {
							out[l.From] += l.P
						}
					}
					for _, end := range f.Ends {
						if end.Step != "" {
							out[slices.IndexFunc(p.Steps, func(s Step) bool { return s.ID == end.Step })] += end.P
						}
					}
					assert.InDelta(t, 1, came, 1e-9, "%s on %s: %s", f.Fault, family, id)
					for k := range out {
						require.InDelta(t, into[k], out[k], 1e-9, "%s at %s of %s on %s", f.Fault, p.Steps[k].ID, id, family)
					}
				}
				ended := 0.0
				for k, r := range e.Flow() {
					leaves := 0.0
					for _, m := range r.Ends {
						leaves += m
						ended += m
					}
					for _, m := range r.To {
						leaves += m
					}
					require.InDelta(t, r.Comes, leaves, 1e-9, "row %d", k)
				}
				assert.InDelta(t, 1, ended, 1e-9)
				for k, s := range e.Steps {
					sum := 0.0
					for _, m := range s.Outcomes {
						sum += m
					}
					assert.InDelta(t, s.Reached, sum, 1e-9)
					assert.Len(t, s.Outcomes, len(p.Steps[k].Outcomes)+1)
				}
				for { // another order that can be followed
					r.Shuffle(len(p.Steps), func(i, k int) { p.Steps[i], p.Steps[k] = p.Steps[k], p.Steps[i] })
					if !slices.ContainsFunc(p.Check(family, pop.sheet), func(f Remark) bool { return f.Serious }) {
						break
					}
				}
			}
		}
	}
}

// Sound machines read within the sheet's band, those with the fault that the step finds
// beside it; every share is one of all that is met. A step behind another sees only what
// comes past it.
func TestSeen(t *testing.T) {
	seen := func(pop *Population, p *Procedure, i int) []Seen {
		out, err := pop.Seen(context.Background(), p, i)
		require.NoError(t, err)
		for _, s := range out {
			sound, come := s.SoundOver, s.ComeOver
			for b := range s.Sound {
				sound += s.Sound[b]
				come += s.Come[b]
			}
			for _, w := range s.Words {
				sound += w.Sound
				come += w.Come
			}
			assert.InDelta(t, 1, sound, 1e-6)
			assert.InDelta(t, 1, come, 1e-6)
		}
		return out
	}
	pop := population(t, "f4-bowl", diagnosis.Claim{})
	gauge := Step{ID: "dry", Test: "compression-dry", Outcomes: []Outcome{to(Next, Otherwise)}}
	s := seen(pop, small(switches, gauge), 1)[0]
	within := func(shares []float64) (sum float64) {
		width := (s.Most - s.Least) / Bins
		for b, share := range shares {
			if mid := s.Least + (float64(b)+0.5)*width; mid > *s.Low && mid < *s.High {
				sum += share
			}
		}
		return sum
	}
	assert.Greater(t, within(s.Sound), 0.85)
	assert.Less(t, within(s.Come), within(s.Sound))
	stop := func(i int, p *Procedure) float64 {
		for _, w := range seen(pop, p, i)[0].Words {
			if w.Word == "stop" {
				return w.Come
			}
		}
		return -1
	}
	assert.Greater(t, stop(0, small(switches, fuelLook)), 0.005)
	again := switches
	again.ID = "again"
	assert.Zero(t, stop(1, small(switches, again)), "what was turned out does not come again")
	leak := seen(pop, small(Step{ID: "leak", Test: "leak-down", Outcomes: []Outcome{to(Next, Otherwise)}}), 0)
	assert.Equal(t, []string{"", "hiss"}, []string{leak[0].Part, leak[1].Part})
}
