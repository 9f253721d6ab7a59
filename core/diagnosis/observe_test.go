package diagnosis

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
)

// Hypotheses that count for nothing take lines in later, and it comes to the
// same as if they had at once: over the families, with work between tests and
// with words that contradict all that came before.
func TestWhatIsPostponedComesToTheSame(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	behind, caughtUp := 0, 0
	for n, fam := range catalogue.Standard().Families {
		r := rand.New(rand.NewPCG(uint64(n), 12))
		tests, repairs := catalogue.Standard().TestsOf(fam.ID, fam.Sheet), catalogue.Standard().AllRepairs()
		hidden := catalogue.Standard().FaultsOf(fam.ID, fam.Sheet)
		s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{{ID: hidden[r.IntN(len(hidden))].ID, Severity: 0.9}},
			bench.Options{Technique: bench.AsSet, Noise: true, Seed: uint64(n), FuelML: -1})
		require.NoError(t, err)
		l := ledger.New(s)
		for range 4 {
			ledgertest.Work(t, l, "start-attempt", tests[r.IntN(len(tests))].ID, tests[r.IntN(len(tests))].ID)
			rep := repairs[r.IntN(len(repairs))]
			_ = l.Apply(ledger.Event{Kind: ledger.EventRepair, Repair: rep.Act, Reach: rep.Reach})
		}
		p, err := NewPopulation(t.Context(), Job{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}, nil)
		require.NoError(t, err)
		later, atOnce := p.Start(AsIfValid), p.Start(AsIfValid)
		atOnce.eager = true
		for k, line := range l.Lines() {
			if line.Test == "start-attempt" && line.Entry != nil && k > len(l.Lines())/2 {
				other := *line.Entry
				other.Word = []string{"no-fire", "runs-well"}[r.IntN(2)]
				line.Entry = &other
			}
			lag := lagging(later)
			observe(t, later, line)
			observe(t, atOnce, line)
			behind, caughtUp = behind+lagging(later), caughtUp+max(lag-lagging(later), 0)
			was, is := atOnce.Report(), later.Report()
			for f, want := range was.Fault {
				require.InDelta(t, want, is.Fault[f], 1e-4, "%s, line %d, %s", fam.ID, k, f)
			}
			require.InDelta(t, was.Bits, is.Bits, 1e-2)
		}
	}
	assert.Positive(t, behind, "something was postponed")
	assert.Positive(t, caughtUp, "and something caught up")
}

// lagging is how many states have lines to take in.
func lagging(b *Belief) (n int) {
	for i := range b.hyps {
		if b.hyps[i].taken < len(b.lines) {
			n++
		}
	}
	return n
}
