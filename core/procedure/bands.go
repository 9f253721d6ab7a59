package procedure

import (
	"math"

	"zanjero/core/catalogue"
)

// spans are the stretches of a number's scale that an outcome covers, in the
// test's unit: the sheet's bands, and what From and To name.
func (o *Outcome) spans(t *catalogue.Test, sheet catalogue.Sheet) (out [][2]float64) {
	f, judged := sheet[t.Figure]
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

var negInf, posInf = math.Inf(-1), math.Inf(1)
