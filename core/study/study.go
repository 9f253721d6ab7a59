// Package study works out how far readings can be trusted: several people measure the same
// engines several times, and an analysis of variance tells the spread of the engines from that
// of the people and of the gauge.
package study

import (
	"cmp"
	"maps"
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat/distuv"

	"zanjero/core/problem"
)

// Reading is one of a study. Person and Engine are ids, Value is in the unit of the test.
type Reading struct {
	Person string  `json:"person"`
	Engine string  `json:"engine"`
	Value  float64 `json:"value"`
	// Gauge that it was read with, by its code; empty where a study does not say.
	Gauge string `json:"gauge,omitempty"`
}

// Row is a source of spread in the analysis of variance.
type Row struct {
	// SS is the sum of squares, DF its degrees of freedom, MS their ratio.
	SS float64 `json:"ss"`
	DF int     `json:"df"`
	MS float64 `json:"ms"`
	// F is its ratio to the row that it is tested against, P how likely one as large is by
	// chance alone. F is math.MaxFloat64 where the other has no spread at all. Both are 0 for
	// the last row, which nothing is left to test.
	F float64 `json:"f"`
	P float64 `json:"p"`
}

// Spread is a standard deviation in the unit of the readings, with the limits that hold it in
// 95 of 100 studies.
type Spread struct {
	Sigma float64 `json:"sigma"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
	// Share of the whole spread, 0 to 1, as standard deviations are compared: shares do not
	// add up to one.
	Share float64 `json:"share"`
}

// Whose is how one person reads: their mean against that of all, in standard deviations of
// such a mean where people did not differ, and the spread of their own repeats.
type Whose struct {
	ID            string  `json:"id"`
	Bias          float64 `json:"bias"`
	Z             float64 `json:"z"`
	Repeatability float64 `json:"repeatability"`
}

// Result is what a study comes to.
type Result struct {
	// People and Engines in the order of their ids, and how often each read each.
	People  []string `json:"people"`
	Engines []string `json:"engines"`
	Repeats int      `json:"repeats"`
	Mean    float64  `json:"mean"`
	// The analysis of variance. Between is people with engines: that somebody reads one engine
	// otherwise than the rest. Where it is no larger than chance (Pooled), it is taken together
	// with the repeats.
	ByEngine Row  `json:"by_engine"`
	ByPerson Row  `json:"by_person"`
	Between  Row  `json:"between"`
	Within   Row  `json:"within"`
	Pooled   bool `json:"pooled"`
	// Repeatability is of one person with one engine, Reproducibility between people, Gauge
	// both together, and Part between engines.
	Repeatability   Spread `json:"repeatability"`
	Reproducibility Spread `json:"reproducibility"`
	Gauge           Spread `json:"gauge"`
	Part            Spread `json:"part"`
	// Total spread of one reading of any engine by anybody.
	Total float64 `json:"total"`
	// Kinds is how many kinds of engine the readings can tell apart, rounded down: 1.41 times
	// the spread of the engines over that of the gauge.
	Kinds int     `json:"kinds"`
	Each  []Whose `json:"each"`
	// Hard is how alike each engine is read, in the order of Engines.
	Hard []Engine `json:"hard"`
	// Gauges are held against each other where a study says what was read with which; nil
	// where it does not. Mixed: nobody read one engine with two of them, so that a gauge cannot
	// be told from whoever held it.
	Gauges []Whose `json:"gauges,omitempty"`
	Mixed  bool    `json:"mixed,omitempty"`
}

// Engine is how one engine was read.
type Engine struct {
	ID            string  `json:"id"`
	Mean          float64 `json:"mean"`
	Repeatability float64 `json:"repeatability"`
	// P is how likely repeats on it lie as far apart by chance, against those on the others.
	P float64 `json:"p"`
}

const (
	// poolAbove is the chance from which people-with-engines counts as nothing of its own
	// (AIAG, Measurement Systems Analysis, 4th ed. 2010, appendix A).
	poolAbove = 0.25
	// draws is how often the limits are drawn, and inLimits the share that they hold.
	draws    = 20_000
	inLimits = 0.95
	// Sizes of a study that is worked out at all.
	leastOf, mostReadings = 2, 5000
)

// Analyse works out a study in which everybody reads every engine equally often, two times or
// more. It fails with a *problem.Problem that names what is missing.
//
// The model is the crossed random one with two factors. Variances and pooling are those of
// AIAG, Measurement Systems Analysis, 4th ed. (2010), appendix A; the limits are generalized
// confidence intervals (Weerahandi, J. Am. Stat. Assoc. 88, 1993; for gauge studies Burdick,
// Borror & Montgomery 2005), drawn with a seed of their own, so that the same study gives the
// same.
func Analyse(readings []Reading) (*Result, *problem.Problem) {
	cells, r, p := arrange(readings)
	if p != nil {
		return nil, p
	}
	people, engines, n := len(r.People), len(r.Engines), r.Repeats
	byPerson, byEngine := make([]float64, people), make([]float64, engines)
	within := make([]float64, people) // squares of everybody's own repeats
	cell := make([][]float64, people)
	for i := range cells {
		cell[i] = make([]float64, engines)
		for j, values := range cells[i] {
			m := mean(values)
			cell[i][j] = m
			byPerson[i] += m / float64(engines)
			byEngine[j] += m / float64(people)
			for _, v := range values {
				within[i] += sq(v - m)
			}
		}
	}
	r.Mean = mean(byPerson)
	for i := range people {
		r.ByPerson.SS += float64(engines*n) * sq(byPerson[i]-r.Mean)
		r.Within.SS += within[i]
		for j := range engines {
			r.Between.SS += float64(n) * sq(cell[i][j]-byPerson[i]-byEngine[j]+r.Mean)
		}
	}
	for j := range engines {
		r.ByEngine.SS += float64(people*n) * sq(byEngine[j]-r.Mean)
	}
	r.ByEngine.DF, r.ByPerson.DF = engines-1, people-1
	r.Between.DF, r.Within.DF = (engines-1)*(people-1), engines*people*(n-1)
	for _, x := range []*Row{&r.ByEngine, &r.ByPerson, &r.Between, &r.Within} {
		x.MS = x.SS / float64(x.DF)
	}
	r.Between.test(&r.Within)
	r.Pooled = r.Between.P > poolAbove
	against := &r.Between
	if r.Pooled {
		pooled := r.error()
		against = &pooled
	}
	r.ByEngine.test(against)
	r.ByPerson.test(against)
	r.spreads()
	for i, id := range r.People {
		w := Whose{ID: id, Bias: byPerson[i] - r.Mean, Repeatability: math.Sqrt(within[i] / float64(engines*(n-1)))}
		if se := math.Sqrt(against.MS / float64(engines*n) * float64(people-1) / float64(people)); se > 0 {
			w.Z = w.Bias / se
		}
		r.Each = append(r.Each, w)
	}
	r.hard(cells, byEngine)
	if p := r.gauges(readings, cell); p != nil {
		return nil, p
	}
	return r, nil
}

// hard works out how alike each engine is read: the variance of its repeats against that of
// the repeats on the others, by the F distribution.
func (r *Result) hard(cells [][][]float64, means []float64) {
	df := float64(len(r.People) * (r.Repeats - 1))
	rest := df * float64(len(r.Engines)-1)
	for j, id := range r.Engines {
		own := 0.0
		for i := range cells {
			m := mean(cells[i][j])
			for _, v := range cells[i][j] {
				own += sq(v - m)
			}
		}
		e := Engine{ID: id, Mean: means[j], Repeatability: math.Sqrt(own / df), P: 1}
		if others := (r.Within.SS - own) / rest; others > 0 {
			e.P = distuv.F{D1: df, D2: rest}.Survival(own / df / others)
		} else if own > 0 {
			e.P = 0
		}
		r.Hard = append(r.Hard, e)
	}
}

// gauges holds the gauges of a study against each other: how far the readings of each lie
// from the mean of the same person at the same engine, which is all of its difference where
// each is used equally often there. Where nobody used two at one engine, it is from the mean
// of the engine.
func (r *Result) gauges(readings []Reading, cell [][]float64) *problem.Problem {
	by, at := map[string][]float64{}, map[[2]int]string{}
	r.Mixed = true
	for k, x := range readings {
		if (x.Gauge == "") != (readings[0].Gauge == "") {
			return problem.New("readings", "study.gauge-missing", "line", k+2)
		}
		i, _ := slices.BinarySearch(r.People, x.Person)
		j, _ := slices.BinarySearch(r.Engines, x.Engine)
		if was, seen := at[[2]int{i, j}]; seen && was != x.Gauge {
			r.Mixed = false
		}
		at[[2]int{i, j}] = x.Gauge
	}
	if readings[0].Gauge == "" {
		r.Mixed = false
		return nil
	}
	for _, x := range readings {
		i, _ := slices.BinarySearch(r.People, x.Person)
		j, _ := slices.BinarySearch(r.Engines, x.Engine)
		from := cell[i][j]
		if r.Mixed {
			from = 0
			for i := range cell {
				from += cell[i][j] / float64(len(cell))
			}
		}
		by[x.Gauge] = append(by[x.Gauge], x.Value-from)
	}
	left, n := 0.0, 0
	for _, away := range by {
		for _, d := range away {
			left += sq(d - mean(away))
		}
		n += len(away)
	}
	for _, id := range slices.Sorted(maps.Keys(by)) {
		away := by[id]
		w := Whose{ID: id, Bias: mean(away)}
		for _, d := range away {
			w.Repeatability += sq(d - w.Bias)
		}
		w.Repeatability = math.Sqrt(w.Repeatability / math.Max(1, float64(len(away)-1)))
		if spread := left / math.Max(1, float64(n-len(by))); spread > 0 {
			w.Z = w.Bias / math.Sqrt(spread/float64(len(away)))
		}
		r.Gauges = append(r.Gauges, w)
	}
	return nil
}

// arrange puts readings into cells by person and engine.
func arrange(readings []Reading) (cells [][][]float64, r *Result, p *problem.Problem) {
	if len(readings) > mostReadings {
		return nil, nil, problem.New("readings", "study.too-many", "count", len(readings), "most", mostReadings)
	}
	by := map[[2]string][]float64{}
	people, engines := map[string]bool{}, map[string]bool{}
	for _, x := range readings {
		if math.IsNaN(x.Value) || math.IsInf(x.Value, 0) {
			return nil, nil, problem.New("readings", "study.no-number", "person", x.Person, "engine", x.Engine)
		}
		people[x.Person], engines[x.Engine] = true, true
		k := [2]string{x.Person, x.Engine}
		by[k] = append(by[k], x.Value)
	}
	r = &Result{People: slices.Sorted(maps.Keys(people)), Engines: slices.Sorted(maps.Keys(engines))}
	if len(r.People) < leastOf || len(r.Engines) < leastOf {
		return nil, nil, problem.New("readings", "study.too-few", "people", len(r.People), "engines", len(r.Engines), "least", leastOf)
	}
	for _, values := range by {
		r.Repeats = max(r.Repeats, len(values))
	}
	if r.Repeats < leastOf {
		return nil, nil, problem.New("readings", "study.no-repeats", "least", leastOf)
	}
	for _, person := range r.People {
		var row [][]float64
		for _, engine := range r.Engines {
			values := by[[2]string{person, engine}]
			if len(values) != r.Repeats {
				return nil, nil, problem.New("readings", "study.hole", "person", person, "engine", engine, "count", len(values), "want", r.Repeats)
			}
			row = append(row, values)
		}
		cells = append(cells, row)
	}
	return cells, r, nil
}

// test holds a row against another by the F distribution.
func (x *Row) test(against *Row) {
	switch {
	case against.MS > 0:
		x.F = x.MS / against.MS
		x.P = distuv.F{D1: float64(x.DF), D2: float64(against.DF)}.Survival(x.F)
	case x.MS > 0: // no spread to hide behind
		x.F, x.P = math.MaxFloat64, 0
	default:
		x.F, x.P = 0, 1
	}
}

// error is the repeats together with what people do with engines.
func (r *Result) error() Row {
	e := Row{SS: r.Within.SS + r.Between.SS, DF: r.Within.DF + r.Between.DF}
	e.MS = e.SS / float64(e.DF)
	return e
}

// variances are those of repeats, people, people with engines and engines.
type variances struct{ within, person, between, engine float64 }

// variances come of mean squares by what each is expected to be; none is below nothing.
func (r *Result) variances(engine, person, between, within float64) (v variances) {
	people, engines, n := float64(len(r.People)), float64(len(r.Engines)), float64(r.Repeats)
	v.within = within
	against := within
	if !r.Pooled {
		v.between = max(between-within, 0) / n
		against = between
	}
	v.person = max(person-against, 0) / (engines * n)
	v.engine = max(engine-against, 0) / (people * n)
	return v
}

func (r *Result) spreads() {
	within := r.Within
	if r.Pooled {
		within = r.error()
	}
	of := func(v variances) [5]float64 {
		reproducibility := v.person + v.between
		gauge := v.within + reproducibility
		return [5]float64{v.within, reproducibility, gauge, v.engine, gauge + v.engine}
	}
	at := of(r.variances(r.ByEngine.MS, r.ByPerson.MS, r.Between.MS, within.MS))
	// What the mean squares could as well have been: each is its expectation times a chi
	// square over its degrees of freedom.
	src := rand.New(rand.NewPCG(1, 2026))
	could := func(x *Row) float64 { return x.SS / max(distuv.ChiSquared{K: float64(x.DF), Src: src}.Rand(), 1e-300) }
	var drawn [4][]float64
	for range draws {
		v := of(r.variances(could(&r.ByEngine), could(&r.ByPerson), could(&r.Between), could(&within)))
		for i := range drawn {
			drawn[i] = append(drawn[i], v[i])
		}
	}
	r.Total = math.Sqrt(at[4])
	for i, s := range []*Spread{&r.Repeatability, &r.Reproducibility, &r.Gauge, &r.Part} {
		slices.SortFunc(drawn[i], cmp.Compare)
		tail := int((1 - inLimits) / 2 * draws)
		*s = Spread{Sigma: math.Sqrt(at[i]), Low: math.Sqrt(drawn[i][tail]), High: math.Sqrt(drawn[i][draws-1-tail])}
		if r.Total > 0 {
			s.Share = s.Sigma / r.Total
		}
	}
	if r.Gauge.Sigma > 0 {
		r.Kinds = int(math.Sqrt2 * r.Part.Sigma / r.Gauge.Sigma)
	}
}

func mean(xs []float64) (m float64) {
	for _, x := range xs {
		m += x / float64(len(xs))
	}
	return m
}

func sq(x float64) float64 { return x * x }
