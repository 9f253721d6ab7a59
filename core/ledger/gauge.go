package ledger

import (
	"math"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/problem"
	"zanjero/core/units"
)

// Gauge is the instrument that a reading of a real engine was made with, as a register had
// it at that moment. It is not changed once it is in an event.
type Gauge struct {
	ID string `json:"id"`
	// High is how much it reads too high, by its last check, in the unit of the test; less
	// than 0 for too low, 0 for right or not known.
	High float64 `json:"high,omitempty"`
	// Overdue: its next check was due before it was read.
	Overdue bool `json:"overdue,omitempty"`
}

// OverdueWidens is how many times as wide a reading is taken to spread whose gauge is
// overdue for its check. The size is chosen by us: nobody knows how far it has drifted.
const OverdueWidens = 2.0

// maxGauge is the most letters of a gauge's name.
const maxGauge = 40

// check refuses a gauge that cannot have read a test.
func (g *Gauge) check(t *catalogue.Test) *problem.Problem {
	switch {
	case g == nil:
		return nil
	case strings.TrimSpace(g.ID) == "" || len(g.ID) > maxGauge:
		return problem.New("gauge", "ledger.gauge-without-name", "most", maxGauge)
	case t.Kind != catalogue.KindNumber:
		return problem.New("gauge", "ledger.gauge-reads-numbers", "test", t.ID)
	case !(math.Abs(g.High) <= instrument.AccuracyOf(t.ID).Most):
		return problem.New("gauge", "ledger.gauge-error-cannot-be", "error", g.High)
	}
	return nil
}

// Right takes what a gauge reads too high out of a value of a test, in the test's unit. It
// goes no lower than the instrument reads. A nil gauge leaves it as it is.
func (g *Gauge) Right(test string, v float64) float64 {
	if g == nil || g.High == 0 {
		return v
	}
	return max(v-g.High, instrument.AccuracyOf(test).Least)
}

// Widens is how many times as wide a reading with it spreads: 1, or OverdueWidens.
func (g *Gauge) Widens() float64 {
	if g != nil && g.Overdue {
		return OverdueWidens
	}
	return 1
}

// with notes what an entry was read with, and takes its error out.
func (en *Entry) with(g *Gauge, t *catalogue.Test) {
	if en.Gauge = g; g == nil || g.High == 0 || en.Over {
		return
	}
	v, ok := en.In(t.Unit)
	if !ok {
		return
	}
	if back, err := units.Convert(g.Right(t.ID, v), units.Unit(t.Unit), units.Unit(en.Unit)); err == nil {
		en.Value = back
	}
}
