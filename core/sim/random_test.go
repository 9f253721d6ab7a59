package sim

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
	"zanjero/core/setup"
)

// life writes a random machine of a random variant, with random faults and
// things done to it, as an input of the command line.
func life(r *rand.Rand, seed int) string {
	cat := catalogue.Standard()
	fam := &cat.Families[r.IntN(len(cat.Families))]
	own := map[string]any{}
	sheet := cat.Complete(fam.ID, nil)
	for id, words := range fam.Variants {
		w := words[r.IntN(len(words))]
		own[id] = map[string]any{"word": w}
		sheet[id] = catalogue.Figure{Word: w, Source: "random"}
	}
	faults, tests := cat.FaultsOf(fam.ID, sheet), cat.TestsOf(fam.ID, sheet)
	specs := []machine.FaultSpec{}
	for range r.IntN(4) {
		f := faults[r.IntN(len(faults))]
		s := machine.FaultSpec{ID: f.ID, Severity: r.Float64()}
		if len(f.Modes) > 0 {
			s.Mode = f.Modes[r.IntN(len(f.Modes))]
		}
		if !slices.ContainsFunc(specs, func(o machine.FaultSpec) bool { return o.ID == s.ID }) && machine.CheckTogether("", append(slices.Clone(specs), s)) == nil {
			specs = append(specs, s)
		}
	}
	var events []map[string]any
	for len(events) < 5 {
		switch r.IntN(9) {
		case 0:
			events = append(events, map[string]any{"wait_min": r.IntN(90)})
		case 1:
			reaches := cat.ReachesOf(fam.ID)
			act, reach := cat.Repairs.Acts[r.IntN(len(cat.Repairs.Acts))], reaches[r.IntN(len(reaches))].ID
			if act.Improvised() {
				reach = act.Reach
			}
			if catalogue.CheckRepair("", act.ID, reach, fam) == nil {
				events = append(events, map[string]any{"repair": act.ID, "reach": reach})
			}
		case 2:
			id := setup.ControlIDs(fam, sheet)[r.IntN(len(setup.ControlIDs(fam, sheet)))]
			events = append(events, map[string]any{"control": map[string]any{id: ledgertest.Any(r, setup.ControlSpecs[id])}})
		case 3:
			acts := cat.ActionsOf(fam.ID)
			events = append(events, map[string]any{"act": acts[r.IntN(len(acts))].ID})
		case 4:
			events = append(events, map[string]any{"cover": fam.Covers[r.IntN(len(fam.Covers))], "off": r.IntN(2) == 0})
		default:
			e := map[string]any{"test": tests[r.IntN(len(tests))].ID}
			ids := sortedSpecs(setup.InstrumentSpecs)
			for range r.IntN(3) {
				id := ids[r.IntN(len(ids))]
				e[id] = ledgertest.Any(r, setup.InstrumentSpecs[id])
			}
			events = append(events, e)
		}
	}
	raw, _ := json.Marshal(map[string]any{"machine": fam.ID, "sheet": own, "seed": seed, "technique": []string{"ideal", "as-set"}[seed%2],
		"faults": specs, "events": events,
		"ambient": map[string]any{"temperature_c": -20 + 60*r.Float64(), "altitude_m": 3500 * r.Float64()}})
	return string(raw)
}

func sortedSpecs(m map[string]setup.Spec) []string {
	var ids []string
	for id := range m {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	return ids
}

// Over ten thousand random machines and lives nothing is NaN, no pressure is
// negative, nothing lies outside its instrument, every word is one of the
// test's own, and replay gives the same.
func TestRandomMachinesAndLives(t *testing.T) {
	if testing.Short() {
		t.Skip("long: it runs without the race detector")
	}
	cat := catalogue.Standard()
	const shards, each = 10, 1000
	for shard := range shards {
		t.Run("", func(t *testing.T) {
			t.Parallel()
			r := rand.New(rand.NewPCG(11, uint64(shard)))
			for i := range each {
				in := life(r, shard*each+i)
				run := func() string {
					out, err := Simulate(strings.NewReader(in))
					require.NoError(t, err, in)
					for _, o := range out.Observations {
						if o.Value != nil {
							acc := instrument.AccuracyOf(o.Test)
							require.True(t, *o.Value >= acc.Least && *o.Value <= acc.Most, "%s reads %g: %s", o.Test, *o.Value, in)
						}
						if o.Word != nil {
							require.Contains(t, cat.Test(o.Test).Words, *o.Word, "%s: %s", o.Test, in)
						}
					}
					st := out.State
					for _, x := range []float64{st.FuelML, st.BowlML, st.TankVacuumKPa, st.SpiltML, st.Minutes, st.Money} {
						require.GreaterOrEqual(t, x, 0.0, in)
					}
					require.Less(t, st.TankVacuumKPa, 101.4, in)
					b, err := json.Marshal(out) // which refuses NaN
					require.NoError(t, err, in)
					return string(b)
				}
				first := run()
				if i%10 == 0 {
					require.Equal(t, first, run(), in)
				}
			}
		})
	}
}
