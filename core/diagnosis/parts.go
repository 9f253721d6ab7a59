package diagnosis

import (
	"math"

	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
)

// otherParts is how likely each of the other parts was that was written down of a
// reading, given what a point predicts. A view from what was shown takes what was
// shown of those parts.
func (b *Belief) otherParts(t *catalogue.Test, st ledger.Line) (out []func(at predictionAt) float64) {
	if st.Entry == nil {
		return nil
	}
	for i := range t.Parts {
		p := &t.Parts[i]
		e, written := st.Entry.Parts[p.ID]
		if !written || i == 0 {
			continue
		}
		if seen, ok := st.Obs.Parts[p.ID]; ok && b.view == Shown {
			e = ledger.Entry{Unit: seen.Unit, Over: seen.Over}
			if seen.Value != nil {
				e.Value = *seen.Value
			}
			if seen.Word != nil {
				e.Word = *seen.Word
			}
		}
		if !p.IsNumber() {
			out = append(out, wordPart(p, e.Word))
			continue
		}
		if value, ok := e.In(p.Unit); ok || e.Over {
			out = append(out, numberPart(t, p, value, e.Over))
		}
	}
	return out
}

func wordPart(p *catalogue.Part, word string) func(at predictionAt) float64 {
	return func(at predictionAt) float64 {
		sum := 0.0
		for k, c := range at.corners {
			if x := c.Parts[p.ID]; x != nil {
				sum += at.weights[k] * soften(x.Words, word)
			}
		}
		return (1-grossWord)*sum + grossWord/float64(len(p.Words))
	}
}

func numberPart(t *catalogue.Test, p *catalogue.Part, value float64, over bool) func(at predictionAt) float64 {
	acc := instrument.AccuracyOf(t.AccuracyLike(p))
	return func(at predictionAt) float64 {
		expect, finite, beyond := 0.0, 0.0, 0.0
		for k, c := range at.corners {
			switch x := c.Parts[p.ID]; {
			case x == nil:
			case x.Over:
				beyond += at.weights[k]
			default:
				expect += at.weights[k] * x.Value
				finite += at.weights[k]
			}
		}
		if over {
			return (1-grossError)*beyond + grossError/2
		}
		likely := 0.0
		if finite > 0 {
			expect /= finite
			sigma := acc.Spread(expect)
			z := (value - expect) / sigma
			likely = finite * math.Exp(-z*z/2) / (sigma * math.Sqrt(2*math.Pi)) * acc.Step
		}
		return (1-grossError)*likely + grossError*acc.Step/acc.Most
	}
}
