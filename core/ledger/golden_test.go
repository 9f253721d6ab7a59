package ledger_test

import (
	"encoding/json"
	"errors"
	"flag"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/ledger/ledgertest"
	"zanjero/core/machine"
)

var update = flag.Bool("update", false, "write the golden replays of a new version of the model")

// golden is an attempt as it was recorded on a version of the model.
type golden struct {
	Version string              `json:"model_version"`
	Family  string              `json:"family"`
	Sheet   catalogue.Sheet     `json:"sheet"` // the words of its variant
	Faults  []machine.FaultSpec `json:"faults"`
	Seed    uint64              `json:"seed"`
	Events  []recorded          `json:"events"`
}

type recorded struct {
	Event ledger.Event    `json:"event"`
	Shown json.RawMessage `json:"shown"`
}

const goldenEach = 12 // attempts of a family

func (g *golden) start(t *testing.T) *ledger.Ledger {
	cat := catalogue.Standard()
	s, err := bench.NewSession(g.Family, cat.Complete(g.Family, g.Sheet), machine.Ambient{TemperatureC: 20}, g.Faults,
		bench.Options{Technique: bench.AsSet, Noise: true, Seed: g.Seed, FuelML: -1})
	require.NoError(t, err)
	return ledger.New(s)
}

// record works a bench: a competent tester first, then anything at all.
func record(t *testing.T, family string, n int) golden {
	r := rand.New(rand.NewPCG(uint64(n), 8))
	cat := catalogue.Standard()
	fam := cat.Family(family)
	g := golden{Version: machine.Version, Family: family, Sheet: catalogue.Sheet{}, Seed: r.Uint64()}
	for id, words := range fam.Variants {
		g.Sheet[id] = catalogue.Figure{Word: words[n%len(words)], Source: "golden"}
	}
	sheet := cat.Complete(family, g.Sheet)
	faults, tests := cat.FaultsOf(family, sheet), cat.TestsOf(family, sheet)
	g.Faults = []machine.FaultSpec{{ID: faults[r.IntN(len(faults))].ID, Severity: 0.3 + 0.7*r.Float64()}}
	l := g.start(t)
	before := l.Clone()
	ledgertest.Work(t, l, "start-attempt", tests[r.IntN(len(tests))].ID, tests[r.IntN(len(tests))].ID)
	events := l.Events()
	l = before
	keep := func(e ledger.Event) {
		if l.Apply(e) == nil {
			shown, err := json.Marshal(l.Shown())
			require.NoError(t, err)
			g.Events = append(g.Events, recorded{e, shown})
		}
	}
	for _, e := range events {
		keep(e)
	}
	for range 12 {
		keep(ledgertest.Random(r, l))
	}
	return g
}

// Attempts that were recorded on this version of the model replay to what they
// showed. Where they do not, the model has changed: give machine.Version a new
// name, say in docs/model.md what changed, and record anew with
// go test ./core/ledger -run Golden -update. Attempts begun on the old version
// are then closed and given anew.
func TestGoldenReplays(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		path := filepath.Join("testdata", "golden", fam.ID+".json")
		var all []golden
		raw, err := os.ReadFile(path)
		if err == nil {
			require.NoError(t, json.Unmarshal(raw, &all))
		}
		if *update {
			if len(all) > 0 && all[0].Version == machine.Version {
				require.Empty(t, differing(t, all), "the model changed and its version did not: change machine.Version first")
			}
			all = nil
			for n := range goldenEach {
				all = append(all, record(t, fam.ID, n))
			}
			raw, err := json.MarshalIndent(all, "", " ")
			require.NoError(t, err)
			require.NoError(t, os.WriteFile(path, append(raw, '\n'), 0o644))
			continue
		}
		require.Len(t, all, goldenEach, "%s: no golden replays", fam.ID)
		require.Equal(t, machine.Version, all[0].Version, "a new version of the model wants its own golden replays: record them with -update")
		assert.Empty(t, differing(t, all), "%s: the model came to something else under the same version", fam.ID)
	}
}

func differing(t *testing.T, all []golden) (out []string) {
	for _, g := range all {
		if err := g.replay(t); err != nil {
			out = append(out, err.Error())
		}
	}
	return out
}

func (g *golden) replay(t *testing.T) error {
	var rs []ledger.Recorded
	for _, r := range g.Events {
		rs = append(rs, ledger.Recorded{Event: r.Event, Shown: r.Shown})
	}
	return g.start(t).Replay(rs)
}

// A replay that shows something else stops at the event, whatever was damaged:
// the machine, what was shown, or the event itself.
func TestReplayTellsDifferences(t *testing.T) {
	g := record(t, "f4-bowl", 3)
	require.NoError(t, g.replay(t))
	var d *ledger.Difference
	other := g
	other.Seed++
	require.True(t, errors.As(other.replay(t), &d), "another specimen")
	other = g
	other.Faults = []machine.FaultSpec{{ID: "seized", Severity: 1}}
	require.True(t, errors.As(other.replay(t), &d), "another machine")
	for i := range g.Events {
		other = g
		other.Events = append([]recorded{}, g.Events...)
		other.Events[i].Shown = json.RawMessage(`{"minutes":1e9}`)
		require.True(t, errors.As(other.replay(t), &d), "event %d", i)
		assert.Equal(t, i, d.Seq)
	}
	other.Events[2] = recorded{Event: ledger.Event{Kind: ledger.EventTake, Test: "no-such-test"}, Shown: g.Events[2].Shown}
	require.True(t, errors.As(other.replay(t), &d))
	assert.NotNil(t, d.Refused)
	other.Events[2].Shown = json.RawMessage(`{`)
	assert.Error(t, other.replay(t), "no JSON")
}
