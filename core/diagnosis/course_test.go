package diagnosis

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
)

// What a course makes of a way of writing things down does not hang, by one bit, on which
// other ways go with it; and it is what a belief of that view makes of it alone.
func TestWaysDoNotHangOnEachOther(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	for n, fam := range catalogue.Standard().Families {
		r := rand.New(rand.NewPCG(uint64(n), 21))
		tests, repairs := catalogue.Standard().TestsOf(fam.ID, fam.Sheet), catalogue.Standard().AllRepairs()
		hidden := catalogue.Standard().FaultsOf(fam.ID, fam.Sheet)
		s, err := bench.NewSession(fam.ID, fam.Sheet, machine.Ambient{TemperatureC: 20}, []machine.FaultSpec{{ID: hidden[r.IntN(len(hidden))].ID, Severity: 0.9}},
			bench.Options{Technique: bench.AsSet, Noise: true, Seed: uint64(n), FuelML: -1})
		require.NoError(t, err)
		l := ledger.New(s)
		for range 2 {
			ledgertest.Work(t, l, "start-attempt", tests[r.IntN(len(tests))].ID, tests[r.IntN(len(tests))].ID)
			rep := repairs[r.IntN(len(repairs))]
			_ = l.Apply(ledger.Event{Kind: ledger.EventRepair, Repair: rep.Act, Reach: rep.Reach})
		}
		right := l.Lines()
		ways := [][]ledger.Line{right, miswritten(right, r), miswritten(right, r), miswritten(right, r)}
		p, err := NewPopulation(t.Context(), Job{Family: fam.ID, Sheet: fam.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}, nil)
		require.NoError(t, err)
		all, few := followed(t, p, ways), followed(t, p, [][]ledger.Line{right, ways[3]})
		require.Equal(t, all.Recorded(3), few.Recorded(1), fam.ID)
		require.Equal(t, all.AsIfValid(3), few.AsIfValid(1), fam.ID)
		require.Equal(t, all.Shown(), few.Shown(), fam.ID)
		for v, of := range map[View]func(int) Tally{Recorded: all.Recorded, AsIfValid: all.AsIfValid} {
			alone := p.Start(v)
			alone.eager = true
			for _, line := range ways[0] {
				observe(t, alone, line)
			}
			want, got := alone.Report(), Together(of(0))
			for f, x := range want.Fault {
				require.InDelta(t, x, got.Fault[f], 1e-6, "%s, %s", fam.ID, f)
			}
		}
	}
}

func followed(t *testing.T, p *Population, ways [][]ledger.Line) *Course {
	c, err := p.Follow(len(ways), func(*Belief) error { return nil })
	require.NoError(t, err)
	for i := range ways[0] {
		var lines []ledger.Line
		for _, w := range ways {
			lines = append(lines, w[i])
		}
		require.NoError(t, c.Observe(t.Context(), lines))
	}
	return c
}

// miswritten writes some of the words and numbers down otherwise.
func miswritten(lines []ledger.Line, r *rand.Rand) (out []ledger.Line) {
	for _, line := range lines {
		if line.Entry != nil && r.IntN(2) == 0 {
			other, test := *line.Entry, catalogue.Standard().Test(line.Test)
			if other.Word != "" {
				other.Word = test.Words[r.IntN(len(test.Words))]
			}
			other.Value *= 2
			line.Entry = &other
		}
		out = append(out, line)
	}
	return out
}
