package ledger_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
)

// deep writes values out with everything that they point at, so that they can
// be compared later with what has become of them.
func deep(vs ...any) string {
	var out strings.Builder
	for _, v := range vs {
		if line, ok := v.(ledger.Line); ok && line.Obs != nil {
			fmt.Fprint(&out, line.Obs.FalterAt, line.Obs.AtMin) // which JSON leaves out
		}
		raw, err := json.Marshal(v)
		if err != nil {
			panic(err)
		}
		out.Write(raw)
	}
	return out.String()
}

// bench of some family with up to two random faults.
func randomLedger(t testing.TB, r *rand.Rand) *ledger.Ledger {
	cat := catalogue.Standard()
	fam := &cat.Families[r.IntN(len(cat.Families))]
	sheet := cat.Complete(fam.ID, nil)
	for id, words := range fam.Variants {
		sheet[id] = catalogue.Figure{Word: words[r.IntN(len(words))], Source: "random"}
	}
	var specs []machine.FaultSpec
	for range r.IntN(3) {
		all := cat.FaultsOf(fam.ID, sheet)
		f := machine.FaultSpec{ID: all[r.IntN(len(all))].ID, Severity: r.Float64()}
		if machine.CheckTogether("", append(slices.Clone(specs), f)) == nil && !slices.ContainsFunc(specs, func(o machine.FaultSpec) bool { return o.ID == f.ID }) {
			specs = append(specs, f)
		}
	}
	s, err := bench.NewSession(fam.ID, sheet, machine.Ambient{TemperatureC: 20}, specs,
		bench.Options{Technique: bench.AsSet, Noise: true, Seed: r.Uint64(), FuelML: -1})
	require.NoError(t, err)
	return ledger.New(s)
}

// standing is everything that can be told of a ledger from outside.
func standing(l *ledger.Ledger) string {
	return deep(l.Lines(), l.Marks(), l.Events(), l.Seen, l.Instrument(), l.Machine().State(), l.Machine().Faults(), l.Minutes(), l.Money(), l.Open(),
		l.Taken(), l.Fitted(), l.Seq())
}

// witness is one ledger with deep copies of all its lines as they first stood.
type witness struct {
	l       *ledger.Ledger
	lines   []string
	entries []string
}

// Random acts of every kind on a ledger and on clones of it, with every
// instrument in hand: a line never changes once it is taken, but for what is
// written down of the last; a refused act leaves nothing behind; no clone
// learns of what is done on another.
func TestEvidenceNeverChanges(t *testing.T) {
	t.Parallel()
	inHand, kinds := map[string]bool{}, map[string]bool{}
	for seed := range uint64(110) {
		r := rand.New(rand.NewPCG(seed, 4))
		ws := []*witness{{l: randomLedger(t, r)}}
		for range 60 {
			if len(ws) < 4 && r.IntN(8) == 0 {
				from := ws[r.IntN(len(ws))]
				ws = append(ws, &witness{from.l.Clone(), slices.Clone(from.lines), slices.Clone(from.entries)})
			}
			at := r.IntN(len(ws))
			w := ws[at]
			e := ledgertest.Random(r, w.l)
			inHand[w.l.InHand()], kinds[e.Kind] = true, true
			others := make([]string, len(ws))
			for i, o := range ws {
				others[i] = standing(o.l)
			}
			p := w.l.Apply(e)
			clear(e.Setup) // what the caller does with its event is its own affair
			for i, o := range ws {
				if i != at || p != nil {
					require.Equal(t, others[i], standing(o.l), "seed %d: %+v on ledger %d changed ledger %d", seed, e, at, i)
				}
			}
			if p != nil {
				continue
			}
			written := 0
			for i, line := range w.l.Lines() {
				entry := deep(line.Entry)
				line.Entry = nil
				if i == len(w.lines) {
					w.lines, w.entries = append(w.lines, deep(line)), append(w.entries, entry)
					continue
				}
				require.Equal(t, w.lines[i], deep(line), "seed %d: %+v changed line %d", seed, e, i)
				if w.entries[i] != entry {
					w.entries[i] = entry
					written++
				}
			}
			if e.Kind == ledger.EventEntry {
				require.LessOrEqual(t, written, 1, "seed %d: %+v", seed, e)
			} else {
				require.Zero(t, written, "seed %d: %+v wrote something down", seed, e)
			}
		}
	}
	for _, test := range catalogue.Standard().Tests {
		if test.Kind == catalogue.KindNumber {
			assert.True(t, inHand[test.ID], "%s was never in hand", test.ID)
		}
	}
	for _, k := range []string{ledger.EventControl, ledger.EventTake, ledger.EventAct, ledger.EventEntry, ledger.EventMark, ledger.EventCover,
		ledger.EventRepair, ledger.EventWait, ledger.EventDo} {
		assert.True(t, kinds[k], "no %s was tried", k)
	}
}

// A refused act leaves nothing behind that shows later either: after it, the
// same acts come to the same.
func TestRefusalsLeaveNoTrace(t *testing.T) {
	t.Parallel()
	for seed := range uint64(40) {
		r := rand.New(rand.NewPCG(seed, 5))
		l := randomLedger(t, r)
		clean := l.Clone()
		for range 50 {
			e := ledgertest.Random(r, l)
			if p := l.Apply(e); p == nil {
				require.Nil(t, clean.Apply(e))
			}
			require.Equal(t, standing(clean), standing(l), "seed %d after %+v", seed, e)
		}
	}
}

// A reading stays as it was taken when the instrument is set right afterwards.
func TestSettingRightAfterwardsChangesNoReading(t *testing.T) {
	l := ledgerOf(t, "f4-bowl")
	do(t, l, ledger.Event{Kind: ledger.EventTake, Test: "compression-dry"}, act("pull", nil), act("pull", nil),
		ledger.Event{Kind: ledger.EventEntry, Reading: "40", Unit: "psi", Judged: "below"})
	was := deep(l.Lines())
	do(t, l, act("let-off", nil), act("zero", nil), act("pull", nil))
	assert.Equal(t, was, deep(l.Lines()))
	assert.NotContains(t, l.Lines()[0].Setup, "purged")
	assert.NotEqual(t, true, l.Lines()[0].Setup["zeroed"])
}

// Many may look at a bench while it is acted on: the race detector sees to it
// that they share nothing that is written.
func TestBenchIsReadWhileItIsActedOn(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(6, 6))
	for range 12 {
		l := randomLedger(t, r)
		for range 25 {
			l.Apply(ledgertest.Random(r, l))
		}
		var wg sync.WaitGroup
		for range 4 {
			wg.Go(func() {
				for range 20 {
					standing(l)
					l.NotReady()
					l.Board()
					l.Clone()
				}
			})
		}
		for k := range uint64(3) {
			c := l.Clone()
			wg.Go(func() {
				r := rand.New(rand.NewPCG(k, 7))
				for range 30 {
					c.Apply(ledgertest.Random(r, c))
					standing(c)
				}
			})
		}
		wg.Wait()
	}
}
