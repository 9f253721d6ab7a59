package diagnosis

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
)

// What the quick look gives is as good as the best of all tests, over the
// families and as evidence comes in.
func TestBestIsAsGoodAsTheBest(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	for _, fam := range catalogue.Standard().Families {
		p, err := NewPopulation(t.Context(), Job{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}, nil)
		require.NoError(t, err)
		b := p.Start(AsIfValid)
		require.NoError(t, b.Complain(t.Context(), Claim{Test: "start-attempt", Words: []string{"no-fire", "fires-and-dies"}}))
		for step := range 2 {
			all := ranked(t, b, Weights{})
			best, err := b.Best(t.Context(), Weights{}, 4)
			require.NoError(t, err)
			require.Len(t, best, 4)
			for i := range best {
				assert.InEpsilon(t, all[i].BitsPerMinute, best[i].BitsPerMinute, 0.05, "%s after %d: %s instead of %s", fam.ID, step, best[i].Test, all[i].Test)
			}
			observe(t, b, comesOut(all[0])) // and then it comes out as is likeliest
		}
	}
}

// comesOut is a test written down as it most likely comes out.
func comesOut(w Worth) ledger.Line {
	of := catalogue.Standard().Test(w.Test)
	line := ledger.Line{Kind: ledger.EventTake, Test: w.Test, Obs: &bench.Observation{Kind: of.Kind, Word: &w.Outcomes[0].Outcome}}
	line.Entry = &ledger.Entry{Word: w.Outcomes[0].Outcome}
	if of.Kind == catalogue.KindNumber {
		value, _ := strconv.ParseFloat(strings.Split(w.Outcomes[0].Outcome, "–")[0], 64)
		line.Obs.Value, line.Entry = &value, &ledger.Entry{Typed: number(value) + " " + of.Unit, Value: value, Unit: of.Unit}
	}
	return line
}
