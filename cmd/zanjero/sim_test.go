package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// z is the program, built once for all tests.
var z string

func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "zanjero-cmd-")
	if err != nil {
		panic(err)
	}
	z = filepath.Join(dir, "zanjero")
	if out, err := exec.Command("go", "build", "-o", z, ".").CombinedOutput(); err != nil {
		panic(string(out))
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

func run(t *testing.T, path, in string, args ...string) (code int, out, errs string) {
	cmd := exec.Command(path, args...)
	cmd.Stdin = strings.NewReader(in)
	var o, e bytes.Buffer
	cmd.Stdout, cmd.Stderr = &o, &e
	err := cmd.Run()
	var exit *exec.ExitError
	if errors.As(err, &exit) {
		return exit.ExitCode(), o.String(), e.String()
	}
	require.NoError(t, err)
	return 0, o.String(), e.String()
}

// The command line as somebody uses it: JSON in, JSON out, exit code 2 with a
// JSON error for bad input, in one line.
func TestCommandLine(t *testing.T) {
	code, out, _ := run(t, z, `{"machine":"f4-bowl","events":[{"test":"start-attempt"}]}`, "sim", "-")
	require.Equal(t, 0, code)
	var answer struct {
		ModelVersion string           `json:"model_version"`
		Observations []map[string]any `json:"observations"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &answer))
	assert.NotEmpty(t, answer.ModelVersion)
	assert.Len(t, answer.Observations, 1)

	file := filepath.Join(t.TempDir(), "in.json")
	require.NoError(t, os.WriteFile(file, []byte(`{"machine":"t2-diaphragm"}`), 0o600))
	code, _, _ = run(t, z, "", "sim", file)
	assert.Equal(t, 0, code)

	for _, what := range []string{"machines", "faults", "tests", "repairs"} {
		code, out, _ = run(t, z, "", "sim", "--list", what)
		require.Equal(t, 0, code)
		var list []map[string]any
		require.NoError(t, json.Unmarshal([]byte(out), &list))
		assert.NotEmpty(t, list, what)
	}
	for _, bad := range [][]string{{"sim", "-"}, {"sim", "/nonexistent"}, {"sim"}, {"sim", "--list", "moons"}} {
		code, out, errs := run(t, z, `{"machine":"steam"}`, bad...)
		assert.Equal(t, 2, code, bad)
		assert.Empty(t, out)
		var e struct {
			Error struct{ Path, Problem, Mend string } `json:"error"`
		}
		require.NoError(t, json.Unmarshal([]byte(errs), &e), errs)
		assert.NotEmpty(t, e.Error.Problem)
		assert.NotEmpty(t, e.Error.Mend)
		assert.Equal(t, 1, strings.Count(errs, "\n"))
	}
	code, out, _ = run(t, z, "", "version")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "model "+answer.ModelVersion)
	code, _, errs := run(t, z, "", "serve", "--addr", "nonsense")
	assert.Equal(t, 1, code)
	assert.Equal(t, 1, strings.Count(errs, "\n"), errs)
}

func TestBelieveCommand(t *testing.T) {
	code, out, errs := run(t, z, `{"machine":"f4-bowl","events":[{"test":"look-switches","observed":"stop"}]}`, "believe", "-")
	require.Equal(t, 0, code, errs)
	var b struct {
		Posterior map[string]float64 `json:"posterior"`
		NextBest  []any              `json:"next_best"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &b))
	assert.Greater(t, b.Posterior["switch-off"], 0.5)
	assert.NotEmpty(t, b.NextBest)
	code, _, errs = run(t, z, `{"machine":"f4-bowl","events":[{"test":"look-switches","observed":"sideways"}]}`, "believe", "-")
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "events[0].observed")
}

// A model's own matrix, planned on, end to end.
func TestPlanCommand(t *testing.T) {
	code, csv, errs := run(t, z, "", "plan", "matrix", "--machine", "f4-bowl")
	require.Equal(t, 0, code, errs)
	var plan, greedy struct {
		Expected float64 `json:"expected_cost"`
		Groups   [][]string
	}
	for how, into := range map[string]any{"rollout": &plan, "greedy": &greedy} {
		code, out, errs := run(t, z, csv, "plan", how, "-")
		require.Equal(t, 0, code, errs)
		require.NoError(t, json.Unmarshal([]byte(out), into))
	}
	assert.LessOrEqual(t, plan.Expected, greedy.Expected)
	assert.NotEmpty(t, plan.Groups)
	code, out, _ := run(t, z, csv, "plan", "posterior", "-", "look-switches=stop")
	require.Equal(t, 0, code)
	assert.Contains(t, out, `"switch-off": 1`)
	for _, bad := range [][]string{{"plan", "greedy"}, {"plan", "sequence", "-", "t9"}, {"plan", "matrix", "--machine", "x"},
		{"plan", "posterior", "-", "look-switches=sideways"}} {
		code, _, errs = run(t, z, csv, bad...)
		assert.Equal(t, 2, code, bad)
		assert.Contains(t, errs, `"mend"`, bad)
	}
}

// A school out of the program, checked, evaluated and printed again.
func TestProcedureCommand(t *testing.T) {
	code, pack, errs := run(t, z, "", "procedure", "schools")
	require.Equal(t, 0, code, errs)
	code, out, errs := run(t, z, pack, "pack", "validate", "-")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, `"valid": true`)
	code, out, errs = run(t, z, pack, "procedure", "evaluate", "-", "--machine", "f4-suction", "--procedure", "dose-first", "--complaint", "no-start")
	require.Equal(t, 0, code, errs)
	var e struct {
		Totals struct {
			Minutes float64 `json:"expected_minutes"`
		} `json:"totals"`
		Hypotheses []any `json:"hypotheses"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &e))
	assert.Greater(t, e.Totals.Minutes, 5.0)
	assert.Greater(t, len(e.Hypotheses), 60)
	for as, want := range map[string]string{"markdown": "# Dose first", "dot": "digraph", "mermaid": "flowchart", "ditch.csv": "step,comes,right",
		"heat.csv": "main jet blocked", "ditch.svg": "<svg", "heat.svg": "main jet blocked"} {
		code, out, errs = run(t, z, pack, "procedure", "export", "-", "--machine", "f4-bail", "--procedure", "dose-first", "--complaint", "no-start", "--as", as)
		require.Equal(t, 0, code, errs)
		assert.Contains(t, out, want)
	}
	// A page that is planned goes through the same checks and evaluation.
	code, page, errs := run(t, z, "", "procedure", "plan", "--machine", "f4-bowl", "--complaint", "no-start", "--steps", "3")
	require.Equal(t, 0, code, errs)
	code, out, errs = run(t, z, page, "pack", "validate", "-")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, `"valid": true`)
	code, _, errs = run(t, z, page, "procedure", "evaluate", "-", "--machine", "f4-bowl", "--complaint", "no-start")
	assert.Equal(t, 0, code, errs)
	code, out, errs = run(t, z, pack, "procedure", "compare", "-", "--machine", "t2-diaphragm", "--complaint", "weak")
	require.Equal(t, 0, code, errs)
	var c struct {
		Rows []struct {
			Procedure string
			Isolated  float64
		}
		Left []string `json:"left_out"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &c))
	assert.Len(t, c.Rows, 5)
	assert.Len(t, c.Left, 50)
	// With a yard's own figures they follow.
	own := filepath.Join(t.TempDir(), "own.json")
	minutes := func(figures string) float64 {
		require.NoError(t, os.WriteFile(own, []byte(figures), 0o600))
		code, out, errs := run(t, z, pack, "procedure", "compare", "-", "--machine", "t2-diaphragm", "--complaint", "weak", "--own", own)
		require.Equal(t, 0, code, errs)
		var c struct {
			Rows []struct {
				Minutes float64 `json:"expected_minutes"`
			}
		}
		require.NoError(t, json.Unmarshal([]byte(out), &c))
		return c.Rows[0].Minutes
	}
	assert.Greater(t, minutes(`{"covers": {"shroud": {"off": 60, "back": 60}}}`), minutes(`{}`)+5)
	require.NoError(t, os.WriteFile(own, []byte(`{"tests": {"lick-filter": 3}}`), 0o600))
	code, _, errs = run(t, z, pack, "procedure", "compare", "-", "--machine", "t2-diaphragm", "--own", own)
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "tests.lick-filter")
	broken := strings.Replace(pack, `"look-filter"`, `"lick-filter"`, 1)
	code, out, errs = run(t, z, broken, "pack", "validate", "-")
	assert.Equal(t, 2, code)
	assert.Contains(t, out, `"valid": false`)
	assert.Contains(t, errs, `"mend"`)
	for _, bad := range [][]string{{"procedure", "evaluate", "-", "--machine", "moon"}, {"procedure", "evaluate", "-", "--machine", "f4-bowl"},
		{"procedure", "evaluate", "-", "--machine", "f4-bowl", "--procedure", "dose-first", "--complaint", "grief"},
		{"procedure", "export", "-", "--machine", "f4-bowl", "--procedure", "dose-first", "--as", "stone"},
		{"procedure", "compare", "-", "--machine", "moon"},
		{"procedure", "plan", "--machine", "f4-bowl"}, {"procedure", "plan", "--machine", "f4-bowl", "--complaint", "no-start", "--steps", "40"},
		{"procedure", "plan", "--machine", "f4-bowl", "--complaint", "no-start", "--school", "moon"},
		{"procedure", "plan", "--machine", "f4-bowl", "--complaint", "no-start", "--wrong-costs", "-1"}} {
		code, _, errs = run(t, z, pack, bad...)
		assert.Equal(t, 2, code, bad)
		assert.Contains(t, errs, `"mend"`, bad)
	}
}

// A study as it is typed in a table: what it comes to, and where it has a hole.
func TestStudyCommand(t *testing.T) {
	rows := "person,engine,value\nann,one,60\nann,one,61\nann,two,80\nann,two,79\nbob,one,62\nbob,one,63\nbob,two,82\nbob,two,81\n"
	code, out, errs := run(t, z, rows, "study", "-")
	require.Equal(t, 0, code, errs)
	var r struct {
		Gauge struct{ Sigma, Low, High float64 }
		Each  []struct {
			ID   string
			Bias float64
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &r))
	assert.Positive(t, r.Gauge.Sigma)
	assert.Equal(t, "bob", r.Each[1].ID)
	assert.InDelta(t, 1, r.Each[1].Bias, 1e-9)
	code, _, errs = run(t, z, strings.TrimSuffix(rows, "bob,two,81\n"), "study", "-")
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "study.hole")
}
