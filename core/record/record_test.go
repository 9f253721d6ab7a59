package record

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/assess"
)

func attempt(day int, practice bool, score float64) Attempt {
	return Attempt{ID: fmt.Sprint("a", day), Job: day, Machine: "=Lift pump", At: fmt.Sprintf("2026-11-%02dT08:00:00Z", day), Minutes: 20, Mark: 70, Of: 100,
		Outcome: assess.Competent, Practice: practice, Skills: []assess.Skill{{Skill: "readings", Lateral: "spark", Score: score}}}
}

// A square is the mean of the latest few; it is shown by three that were not practice, and
// every attempt behind it is named. The order in which they come does not matter.
func TestSquares(t *testing.T) {
	scores := []float64{0.2, 0.3, 0.4, 0.8, 0.7, 0.9}
	var all []Attempt
	for i, s := range scores {
		all = append(all, attempt(i+1, false, s))
	}
	r := Of(all)
	require.Len(t, r.Squares, 1)
	q := r.Squares[0]
	assert.InDelta(t, (0.3+0.4+0.8+0.7+0.9)/5, q.Score, 1e-9)
	assert.InDelta(t, 0.8-0.3, q.Trend, 1e-9)
	assert.True(t, q.Shown)
	assert.Len(t, q.Evidence, 6)
	assert.Equal(t, 120.0, r.Minutes)
	assert.Equal(t, "a6", r.Attempts[0].ID)
	rand.New(rand.NewPCG(1, 1)).Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	assert.Equal(t, r, Of(all))
	for i := range all {
		all[i].Practice = true
	}
	assert.False(t, Of(all).Squares[0].Shown, "practice shows nothing")
	assert.False(t, Of([]Attempt{attempt(1, false, 1), attempt(2, false, 1)}).Squares[0].Shown, "twice is not yet")
	var b bytes.Buffer
	require.NoError(t, r.WriteCSV(&b))
	assert.Contains(t, b.String(), "'=Lift pump")
}

func TestStandards(t *testing.T) {
	lines, bad := ReadStandard([]byte("\xef\xbb\xbfcode,text,skills\nE1,\"Reads a spark, rightly\",readings/spark\nE2,Reads all,readings; safety/fuel\n"))
	require.Empty(t, bad)
	r := Of([]Attempt{attempt(1, false, 1), attempt(2, false, 1), attempt(3, false, 1)})
	assert.Equal(t, []Met{{"E1", "Reads a spark, rightly", 1, 1}, {"E2", "Reads all", 1, 5}}, r.Stands(&Standard{Lines: lines}))
	for raw, code := range map[string]string{
		"a,b,c\n":                          "record.no-head",
		"code,text,skills\nE1,x\n":         "record.no-csv",
		"code,text,skills\n,x,\n":          "record.line-empty",
		"code,text,skills\nE1,x,\nE1,y,\n": "record.code-twice",
		"code,text,skills\nE1,x,singing\n": "record.no-skill",
		"code,text,skills\nE1,x,order/sea": "record.no-path",
	} {
		_, bad := ReadStandard([]byte(raw))
		require.NotEmpty(t, bad, raw)
		assert.Equal(t, code, bad[0].Code)
	}
}

func FuzzReadStandard(f *testing.F) {
	f.Add([]byte("code,text,skills\nE1,x,order/spark\n"))
	f.Fuzz(func(t *testing.T, raw []byte) {
		if lines, bad := ReadStandard(raw); len(bad) == 0 {
			(&Record{}).Stands(&Standard{Lines: lines})
		}
	})
}

// Parts that were fitted until it ran pass nothing and show nothing of finding faults, and
// an outside store is told so; readings, safety and proof are shown all the same.
func TestUntestedIsNoFinding(t *testing.T) {
	var all []Attempt
	for i := range 4 {
		a := attempt(i+1, false, 0.9)
		a.Untested = i > 0
		a.Skills = append(a.Skills, assess.Skill{Skill: "order", Lateral: "spark", Score: 1})
		all = append(all, a)
	}
	r := Of(all)
	assert.Equal(t, 1, r.Competent)
	for _, q := range r.Squares {
		assert.Equal(t, q.Skill == "readings", q.Shown, q.Skill)
	}
	w := Whose{Home: "https://yard.example", Language: "en", Passed: "passed", Failed: "failed"}
	assert.True(t, w.Statement(all[0]).Result.Success)
	assert.False(t, w.Statement(all[1]).Result.Success)
}
