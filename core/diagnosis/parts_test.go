package diagnosis

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/machine"
)

// Each part is believed by itself: where it hisses says which of the leaks it is,
// whatever the share, and a part that is left out tells nothing.
func TestPartsAreBelieved(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	after := func(observed string) map[string]float64 {
		return believed(t, `{"machine":"f4-bowl","events":[{"test":"compression-dry","observed":35},{"test":"leak-down","observed":`+observed+`}]}`).Posterior
	}
	rings := func(p map[string]float64) float64 { return p["rings-worn"] + p["bore-scored"] }
	assert.Greater(t, rings(after(`{"leak":81,"hiss":"oil-filler"}`)), 0.95)
	assert.Greater(t, after(`{"leak":81,"hiss":"joint"}`)["head-gasket-leaks"], 0.6)
	assert.Greater(t, after(`{"hiss":"joint"}`)["head-gasket-leaks"], 0.9)
	plain, first := after(`81`), after(`{"leak":81}`)
	for id, p := range plain {
		assert.InDelta(t, p, first[id], 1e-9, id)
	}
	low := believed(t, `{"machine":"t2-diaphragm","events":[{"test":"screw-count","observed":{"low":"0.6 turns"}}]}`)
	assert.Greater(t, low.Posterior["screw-lean"], 0.8, "the other screw")
	sunk := believed(t, `{"machine":"f4-bowl","events":[{"test":"float-check","observed":{"height":13.5,"float":"sloshes"}}]}`)
	assert.Greater(t, sunk.Posterior["float-sunk"], 0.25, "one look in fifty is a slip")
}

// What a test is worth counts what its other parts would tell: a leak-down tells
// rings from valve and gasket by where it hisses, whatever the share that leaks.
func TestWorthCountsParts(t *testing.T) {
	sheet := catalogue.Standard().Family("f4-bowl").Sheet
	s, err := bench.NewSession("f4-bowl", sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{{ID: "head-gasket-leaks", Severity: 0.6}},
		bench.Options{Technique: bench.Ideal, FuelML: -1})
	require.NoError(t, err)
	b := population(t).Start(AsIfValid)
	require.NoError(t, b.Observe(t.Context(), asSeen(s.Test("compression-dry", nil), nil)))
	rank, err := b.Rank(t.Context(), Weights{}, "leak-down", "compression-wet")
	require.NoError(t, err)
	by := map[string]Worth{}
	sum := 0.0
	for _, w := range rank {
		by[w.Test] = w
	}
	for _, o := range by["leak-down"].Outcomes {
		sum += o.P
	}
	assert.InDelta(t, 1, sum, 1e-6)
	assert.Greater(t, by["leak-down"].Bits, by["compression-wet"].Bits+0.3)
	assert.Contains(t, by["leak-down"].Outcomes[0].Outcome, "; ")
}
