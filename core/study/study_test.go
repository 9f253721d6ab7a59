package study_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/problem"
	"zanjero/core/study"
)

// The worked example of AIAG, Measurement Systems Analysis, 4th ed. (2010), chapter III,
// section B: three people, ten parts, three readings each (readings from memory; the sums of
// squares that come of them are those of its table).
var published = [3][3][10]float64{
	{{0.29, -0.56, 1.34, 0.47, -0.80, 0.02, 0.59, -0.31, 2.26, -1.36}, {0.41, -0.68, 1.17, 0.50, -0.92, -0.11, 0.75, -0.20, 1.99, -1.25},
		{0.64, -0.58, 1.27, 0.64, -0.84, -0.21, 0.66, -0.17, 2.01, -1.31}},
	{{0.08, -0.47, 1.19, 0.01, -0.56, -0.20, 0.47, -0.63, 1.80, -1.68}, {0.25, -1.22, 0.94, 1.03, -1.20, 0.22, 0.55, 0.08, 2.12, -1.62},
		{0.07, -0.68, 1.34, 0.20, -1.28, 0.06, 0.83, -0.34, 2.19, -1.50}},
	{{0.04, -1.38, 0.88, 0.14, -1.46, -0.29, 0.02, -0.46, 1.77, -1.49}, {-0.11, -1.13, 1.09, 0.20, -1.07, -0.67, 0.01, -0.56, 1.45, -1.77},
		{-0.15, -0.96, 0.67, 0.11, -1.45, -0.49, 0.21, -0.49, 1.87, -2.16}},
}

func TestPublishedStudy(t *testing.T) {
	var all []study.Reading
	for i := range published {
		for k := range published[i] {
			for j, v := range published[i][k] {
				all = append(all, study.Reading{Person: string(rune('A' + i)), Engine: fmt.Sprint(j), Value: v})
			}
		}
	}
	r, p := study.Analyse(all)
	require.Nil(t, p)
	near := func(want, got, within float64, what string) { assert.InDelta(t, want, got, within, what) }
	near(88.3619, r.ByEngine.SS, 5e-4, "parts")
	near(3.1673, r.ByPerson.SS, 5e-4, "people")
	near(0.3590, r.Between.SS, 5e-4, "people with parts")
	near(2.7589, r.Within.SS, 5e-4, "repeats")
	assert.Equal(t, [4]int{9, 2, 18, 60}, [4]int{r.ByEngine.DF, r.ByPerson.DF, r.Between.DF, r.Within.DF})
	near(0.434, r.Between.F, 1e-3, "F of people with parts")
	assert.True(t, r.Pooled)
	near(0.199933, r.Repeatability.Sigma, 5e-6, "repeatability")
	near(0.226838, r.Reproducibility.Sigma, 5e-6, "reproducibility")
	near(0.302373, r.Gauge.Sigma, 5e-6, "gauge")
	near(1.042327, r.Part.Sigma, 5e-6, "parts")
	near(0.279, r.Gauge.Share, 5e-4, "share of the gauge")
	assert.Equal(t, 4, r.Kinds)
	assert.Positive(t, r.Each[0].Z, "the first reads high")
	assert.Less(t, r.Each[2].Z, -3.0, "and the third low")
}

// made is a study of known spreads.
func made(r *rand.Rand, people, engines, repeats int, within, person, engine float64) (out []study.Reading) {
	bias := make([]float64, people)
	for i := range bias {
		bias[i] = person * r.NormFloat64()
	}
	for j := range engines {
		truth := 60 + engine*r.NormFloat64()
		for i := range people {
			for range repeats {
				out = append(out, study.Reading{Person: fmt.Sprint(i), Engine: fmt.Sprint(j), Value: truth + bias[i] + within*r.NormFloat64()})
			}
		}
	}
	return out
}

// The limits hold what was put in about as often as they say, and sums of squares add up to
// the whole; order and names change nothing, and another unit only the unit.
func TestKnownSpreadsLieInTheLimits(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	const studies = 120
	held := map[string]int{}
	for range studies {
		all := made(r, 5, 8, 3, 1, 2, 6)
		a, p := study.Analyse(all)
		require.Nil(t, p)
		for what, x := range map[string]struct {
			s    study.Spread
			true float64
		}{"repeatability": {a.Repeatability, 1}, "reproducibility": {a.Reproducibility, 2}, "gauge": {a.Gauge, math.Sqrt(5)}, "engines": {a.Part, 6}} {
			assert.True(t, x.s.Low <= x.s.Sigma*1.0001 && x.s.Sigma <= x.s.High*1.0001, "%s %+v", what, x.s)
			if x.s.Low <= x.true && x.true <= x.s.High {
				held[what]++
			}
		}
		total, m := 0.0, 0.0
		for _, x := range all {
			m += x.Value / float64(len(all))
		}
		for _, x := range all {
			total += (x.Value - m) * (x.Value - m)
		}
		assert.InDelta(t, total, a.ByEngine.SS+a.ByPerson.SS+a.Between.SS+a.Within.SS, 1e-6*total)

		other := slices.Clone(all)
		r.Shuffle(len(other), func(i, j int) { other[i], other[j] = other[j], other[i] })
		for i := range other {
			other[i].Value = 6.895*other[i].Value - 40
		}
		b, p := study.Analyse(other)
		require.Nil(t, p)
		assert.InDelta(t, 6.895*a.Gauge.Sigma, b.Gauge.Sigma, 1e-6)
		assert.InDelta(t, 6.895*a.Part.High, b.Part.High, 1e-6)
		assert.Equal(t, a.Kinds, b.Kinds)
	}
	for _, what := range []string{"repeatability", "reproducibility", "gauge", "engines"} {
		assert.GreaterOrEqual(t, held[what], studies*88/100, what)
	}
}

// A study with holes is refused with where the hole is; one without spread comes to none.
func TestStudiesThatCannotBe(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	whole := made(r, 3, 4, 2, 1, 1, 1)
	for code, all := range map[string][]study.Reading{
		"study.hole":       whole[1:],
		"study.too-few":    {{Person: "a", Engine: "x", Value: 1}, {Person: "a", Engine: "x", Value: 2}},
		"study.no-repeats": {{Person: "a", Engine: "x"}, {Person: "b", Engine: "x"}, {Person: "a", Engine: "y"}, {Person: "b", Engine: "y"}},
		"study.no-number":  append(slices.Clone(whole), study.Reading{Person: "0", Engine: "0", Value: math.NaN()}),
		"study.too-many":   slices.Repeat(whole, 300),
	} {
		_, p := study.Analyse(all)
		require.NotNil(t, p, code)
		assert.Equal(t, code, p.Code)
	}
	flat := slices.Clone(whole)
	for i := range flat {
		flat[i].Value = 7
	}
	a, p := study.Analyse(flat)
	require.Nil(t, p)
	assert.Zero(t, a.Gauge.Sigma+a.Part.Sigma+a.Total)
	assert.Zero(t, a.Kinds)
	// A gauge without any spread of its own.
	for i := range flat {
		flat[i].Value = float64(flat[i].Engine[0])
	}
	a, p = study.Analyse(flat)
	require.Nil(t, p)
	assert.Zero(t, a.Gauge.Sigma)
	assert.Zero(t, a.ByEngine.P)
	_, err := json.Marshal(a)
	assert.NoError(t, err)
}

// What is read from outside is a study, or refused with its place; nothing else.
func FuzzRead(f *testing.F) {
	f.Add("person,engine,value\nann,LP-2,61.5\n")
	f.Add("\ufeffPerson, Engine, Value\nann,\"LP,2\",x")
	f.Add("person,engine\n\"")
	f.Fuzz(func(t *testing.T, raw string) {
		all, err := study.Read(strings.NewReader(raw))
		var p *problem.Problem
		if err != nil && (!errors.As(err, &p) || all != nil) {
			t.Fatal(err)
		}
		if r, p := study.Analyse(all); err == nil && (r == nil) == (p == nil) {
			t.Fatal("neither worked out nor refused")
		}
	})
}

func TestReadRefusesWithTheLine(t *testing.T) {
	for raw, want := range map[string]string{
		"":                               "line 1: study.no-head",
		"person,engine\n":                "line 1: study.bad-line",
		"who,engine,value\n":             "line 1: study.no-head",
		"person,engine,value\na,b,1,5\n": "line 2: study.bad-line",
		"person,engine,value\na,b,x\n":   "line 2: study.not-a-number",
	} {
		_, err := study.Read(strings.NewReader(raw))
		var p *problem.Problem
		require.ErrorAs(t, err, &p, raw)
		assert.Equal(t, want, p.Path+": "+p.Code, raw)
	}
}

// Of gauges that are used in turn, the one that reads high is found by how much, whoever held
// it; an engine that is read less alike than the others is told; and where everybody has a
// gauge of their own, it is said that the two cannot be told apart.
func TestWhichGaugeAndWhichEngine(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	var in, own []study.Reading
	for i := range 3 {
		for j := range 6 {
			for k := range 4 {
				spread := 0.4
				if j == 2 {
					spread = 2.5
				}
				v := 60 + 4*float64(j) + float64(i) + spread*r.NormFloat64()
				x := study.Reading{Person: string(rune('a' + i)), Engine: string(rune('A' + j)), Value: v, Gauge: "SG-1"}
				if k%2 == 1 {
					x.Gauge, x.Value = "SG-2", x.Value+1.5
				}
				in = append(in, x)
				x.Gauge = "own " + x.Person
				own = append(own, x)
			}
		}
	}
	res, p := study.Analyse(in)
	require.Nil(t, p)
	require.Len(t, res.Gauges, 2)
	assert.False(t, res.Mixed)
	assert.InDelta(t, 1.5, res.Gauges[1].Bias-res.Gauges[0].Bias, 0.6)
	assert.Greater(t, res.Gauges[1].Z, 2.0)
	for j, e := range res.Hard {
		assert.Equal(t, j == 2, e.P < 0.01, "%s: %v", e.ID, e)
	}
	res, p = study.Analyse(own)
	require.Nil(t, p)
	assert.True(t, res.Mixed)
	assert.Len(t, res.Gauges, 3)
	in[4].Gauge = ""
	_, p = study.Analyse(in)
	require.NotNil(t, p)
	assert.Equal(t, "study.gauge-missing", p.Code)

	rs, err := study.Read(strings.NewReader("person,engine,value,gauge\na,A,1,SG-1\n"))
	require.NoError(t, err)
	assert.Equal(t, []study.Reading{{Person: "a", Engine: "A", Value: 1, Gauge: "SG-1"}}, rs)
	_, err = study.Read(strings.NewReader("person,engine,value,gauge\na,A,1\n"))
	assert.Error(t, err, "a cell short")
}
