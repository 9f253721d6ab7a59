package assess

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/authoring"
	"zanjero/core/diagnosis"
	"zanjero/core/scenario"
)

// examined is an attempt with what an examiner says of it.
type examined struct {
	Name, Why string
	Expect    struct {
		Outcome, Class string
		ProofWhy       *string `json:"proof_why"`
		Invalid        []int
	}
	Attempt json.RawMessage
}

func examiner(t *testing.T) (all []examined) {
	raw, err := os.ReadFile("testdata/examiner.json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(raw, &all))
	return all
}

// kappa is Cohen's agreement of two judges beyond chance, 1 for nothing but agreement.
// Source: Cohen 1960.
func kappa(a, b []string) float64 {
	n := float64(len(a))
	same, chance := 0.0, 0.0
	x, y := map[string]float64{}, map[string]float64{}
	for i := range a {
		x[a[i]]++
		y[b[i]]++
		if a[i] == b[i] {
			same++
		}
	}
	for k := range x {
		chance += x[k] / n * y[k] / n
	}
	if chance == 1 {
		return 1
	}
	return (same/n - chance) / (1 - chance)
}

// The marks agree with an examiner who put theirs down before.
func TestAgreesWithAnExaminer(t *testing.T) {
	if testing.Short() {
		t.Skip("thirty attempts take a while")
	}
	theirs, ours := map[string][]string{}, map[string][]string{}
	for _, e := range examiner(t) {
		add := func(what, their, our string) {
			theirs[what], ours[what] = append(theirs[what], their), append(ours[what], our)
			if their != our {
				t.Logf("%s: %s is %s to the examiner, and %s here", e.Name, what, their, our)
			}
		}
		in, err := ReadAttempt(bytes.NewReader(e.Attempt))
		require.NoError(t, err, e.Name)
		in.Answers = answersOf(t, in.Scenario)
		a, err := Assess(t.Context(), *in)
		require.NoError(t, err, e.Name)
		mark, of := a.Total()
		t.Logf("%-36s %5.1f of %g %s %s p %.3f %v", e.Name, mark, of, a.Outcome, a.Class, a.P, reasonCodes(a.Against))
		add("outcome", e.Expect.Outcome, a.Outcome)
		add("class", e.Expect.Class, a.Class)
		add("proof", orRight(e.Expect.ProofWhy), orRight(orNull(a.Proof.Why)))
		for _, r := range a.Readings {
			add("validity", fmt.Sprint(!slices.Contains(e.Expect.Invalid, r.TakenAt)), fmt.Sprint(r.Valid))
		}
	}
	for what := range theirs {
		k := kappa(theirs[what], ours[what])
		t.Logf("%s: κ %.3f of %d", what, k, len(theirs[what]))
		least := 0.85
		if what == "class" {
			least = 0.7 // docs/assessment.md goes through the five that differ
		}
		assert.GreaterOrEqual(t, k, least, what)
	}
}

// answersOf keeps the answers of an engine for all tests.
func answersOf(t *testing.T, sc *scenario.Scenario) *diagnosis.Answers {
	key := fmt.Sprint(sc.Family, sc.Ambient, sc.FuelML, sc.Own)
	if a, ok := kept.Load(key); ok {
		return a.(*diagnosis.Answers)
	}
	a, err := authoring.Answers(t.Context(), sc)
	require.NoError(t, err)
	kept.Store(key, a)
	return a
}

var kept sync.Map

func orRight(why *string) string {
	if why == nil {
		return "right"
	}
	return *why
}

func reasonCodes(rs []Reason) (out []string) {
	for _, r := range rs {
		out = append(out, r.Code)
	}
	return out
}
