package procedure

import (
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/foresee"
)

// side is what of a reading an outcome speaks of: the reading itself, or one of the
// others of a reading that has several.
type side struct {
	id, unit, figure, like string
	number                 bool
	words                  []string
}

// side gives it, or false where the test has no such part. The test is the one of the
// family, as TestFor gives it.
func (o *Outcome) side(t *catalogue.Test) (side, bool) {
	if o.Part == "" || (len(t.Parts) > 0 && o.Part == t.Parts[0].ID) {
		return side{"", t.Unit, t.Figure, t.ID, t.Kind == catalogue.KindNumber, t.Words}, true
	}
	p := t.Part(o.Part)
	if p == nil {
		return side{}, false
	}
	return side{p.ID, p.Unit, p.Figure, t.AccuracyLike(p), p.IsNumber(), p.Words}, true
}

// of is what is foreseen of that side, nil where nothing is.
func (d *side) of(told *foresee.Prediction) *foresee.Prediction {
	if d.id == "" {
		return told
	}
	return told.Parts[d.id]
}

// spans are the stretches of a number's scale that an outcome covers, in the
// side's unit: the sheet's bands, and what From and To name.
func (o *Outcome) spans(d *side, sheet catalogue.Sheet) (out [][2]float64) {
	f, judged := sheet[d.figure]
	for _, w := range o.When {
		switch {
		case !judged:
		case w == Below:
			out = append(out, [2]float64{math.Inf(-1), f.Low})
		case w == Within:
			out = append(out, [2]float64{f.Low, f.High})
		case w == Above:
			out = append(out, [2]float64{f.High, math.Inf(1)})
		}
	}
	if o.From != nil || o.To != nil {
		span := [2]float64{math.Inf(-1), math.Inf(1)}
		if o.From != nil {
			span[0] = *o.From
		}
		if o.To != nil {
			span[1] = *o.To
		}
		out = append(out, span)
	}
	return out
}

// match gives, for a foreseen test, how likely each outcome of a step is, and
// last how likely none of them fits. Outcomes of one side exclude each other; of
// outcomes of several sides the first that fits is taken, and given the machine one
// side says nothing of another.
func (s *Step) match(t *catalogue.Test, sheet catalogue.Sheet, told *foresee.Prediction) []float64 {
	out := make([]float64, len(s.Outcomes)+1)
	at, rest := len(s.Outcomes), 1.0
	var sides []string
	var taken []float64 // of each side, by outcomes before
	for i := range s.Outcomes {
		o := &s.Outcomes[i]
		if slices.Contains(o.When, Otherwise) {
			at = i
			continue
		}
		d, ok := o.side(t)
		if !ok {
			continue
		}
		k := slices.Index(sides, d.id)
		if k < 0 {
			k = len(sides)
			sides, taken = append(sides, d.id), append(taken, 0)
		}
		p := min(o.chance(&d, sheet, d.of(told)), 1-taken[k])
		taken[k] += p
		for other, before := range taken {
			if other != k {
				p *= 1 - before
			}
		}
		out[i] += p
		rest -= p
	}
	out[at] += max(rest, 0)
	return out
}

// chance is how likely a side says what the outcome names.
func (o *Outcome) chance(d *side, sheet catalogue.Sheet, told *foresee.Prediction) (p float64) {
	if told == nil {
		return 0
	}
	if !d.number {
		for _, w := range told.Words {
			if slices.Contains(o.When, w.Word) {
				p += w.P
			}
		}
		return p
	}
	for _, span := range o.spans(d, sheet) {
		p += told.Between(d.like, span[0], span[1])
	}
	if slices.Contains(o.When, OverLimit) {
		p += told.OverLimit()
	}
	return p
}

var negInf, posInf = math.Inf(-1), math.Inf(1)
