package diagnosis

import (
	"testing"

	"github.com/stretchr/testify/assert"
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
