package main

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"os"
	"slices"
	"strings"

	"zanjero/core/apprentice"
	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/parallel"
	"zanjero/core/scenario"
	"zanjero/demo"
)

// Sizes of the study: apprentices of each kind, and of those how many meet other noise how
// often. A mark so near to the threshold may fall to either side.
const (
	ofEachKind = 100
	again      = 24
	otherNoise = 10
	nearIt     = 5.0
)

// shelf is a scenario of the demo library with what is kept for marking it.
type shelf struct {
	title   string
	sc      *scenario.Scenario
	answers *diagnosis.Answers
	refer   *authoring.Reference
}

// library lays out the demo library, one set of answers for each engine.
func library(ctx context.Context, yard []engine) (out []shelf) {
	var lib struct {
		Scenarios []struct {
			MachineCode string        `json:"machine_code"`
			Scenario    scenario.Form `json:"scenario"`
		} `json:"scenarios"`
	}
	check(json.Unmarshal(demo.Scenarios, &lib))
	known := map[string]*diagnosis.Answers{}
	for _, s := range lib.Scenarios {
		i := slices.IndexFunc(yard, func(e engine) bool { return e.Code == s.MachineCode })
		s.Scenario.Machine, s.Scenario.Sheet = yard[i].Family, yard[i].Sheet
		sc, bad := s.Scenario.Scenario()
		if len(bad) > 0 {
			check(fmt.Errorf("%s: %w", s.Scenario.Title, &bad[0]))
		}
		sc.Sheet = catalogue.Standard().Complete(sc.Family, sc.Sheet)
		fuel := -1.0
		if sc.FuelML != nil {
			fuel = *sc.FuelML
		}
		key := fmt.Sprint(s.MachineCode, sc.Ambient, fuel)
		if known[key] == nil {
			a, err := authoring.Answers(ctx, sc)
			check(err)
			known[key] = a
		}
		refer, err := authoring.Refer(ctx, sc, known[key])
		check(err)
		out = append(out, shelf{s.Scenario.Title, sc, known[key], refer})
	}
	return out
}

// tried is one attempt of a simulated apprentice.
type tried struct {
	title string
	a     *assess.Assessment
	mark  float64
}

func (s *shelf) try(ctx context.Context, k apprentice.Kind, slips, noise uint64) tried {
	in, err := apprentice.Work(ctx, s.sc, s.answers, k, slips, noise)
	check(err)
	in.Reference = s.refer
	a, err := assess.Assess(ctx, *in)
	check(err)
	mark, of := a.Total()
	return tried{s.title, a, 100 * mark / of}
}

// thrown tells of parts throwers by whether a test was still to be made before a part; and,
// of the jobs that they are called competent on, whether somebody competent makes a test
// there once the complaint was seen.
func thrown(ctx context.Context, shelves []shelf, some []tried) string {
	var n, passed [2]int
	var on, tests []string
	for i, x := range some {
		k := min(len(x.a.Economy.Unfounded), 1)
		n[k]++
		if x.a.Outcome != assess.Competent {
			continue
		}
		passed[k]++
		title := "*" + x.title + "*"
		if !slices.Contains(on, title) {
			if on = append(on, title); shelves[i%len(shelves)].testsFirst(ctx) {
				tests = append(tests, title)
			}
		}
	}
	slices.Sort(on)
	also := "none"
	if len(tests) > 0 {
		also = strings.Join(tests, ", ")
	}
	return fmt.Sprintf("Of the parts throwers, %d fitted a part while a test was still worth making: %d of them are called competent. "+
		"The other %d had the fault told by the complaint and the run that shows it, or by parts that a test would not have been cheaper than: %d of them, on %s. "+
		"Of these jobs, those on which somebody competent makes a test between that run and the work: %s.\n",
		n[1], passed[1], n[0], passed[0], strings.Join(on, ", "), also)
}

// testsFirst says that somebody competent who has seen the complaint makes a test before any
// work.
func (s *shelf) testsFirst(ctx context.Context) bool {
	st, err := authoring.Begin(ctx, s.sc, s.answers)
	check(err)
	ses, err := s.sc.Master(false, 1)
	check(err)
	claim := s.sc.Complaint().Claim
	o := ses.Test(claim.Test, claim.Setup)
	st.Take(claim.Test, &o)
	w, err := authoring.Work(ctx, s.sc, st, false, 1)
	check(err)
	return len(w.Path) > 0 && w.Path[0].Test != "" && w.Path[0].Test != claim.Test
}

// fairness tries the marks on simulated apprentices of known worth.
func fairness(ctx context.Context, yard []engine) string {
	shelves := library(ctx, yard)
	var b strings.Builder
	fmt.Fprintf(&b, "# Findings: what the marks make of apprentices of known worth\n\nMade by `make fairness`: %d simulated apprentices of each of %d kinds "+
		"(core/apprentice), each on one of the %d jobs of the demo library, with the noise of instruments, attempts and work. Marks are of a hundred, "+
		"the threshold is 60.\n\n", ofEachKind, len(apprentice.Kinds), len(shelves))
	b.WriteString("| kind | mean mark | middle eight tenths | competent, % | counted, % | readings | conclusion | economy | order | safety | proof |\n" +
		"|---|---:|---|---:|---:|---:|---:|---:|---:|---:|---:|\n")
	all := map[string][]tried{}
	for _, k := range apprentice.Kinds {
		some := make([]tried, ofEachKind)
		check(parallel.For(ctx, ofEachKind, func(i int) { some[i] = shelves[i%len(shelves)].try(ctx, k, uint64(i+1), uint64(i+1)) }))
		all[k.ID] = some
		marks, sections, passed, counted := []float64{}, map[string]float64{}, 0, 0
		for _, x := range some {
			marks = append(marks, x.mark)
			if x.a.Outcome == assess.Competent {
				if passed++; !x.a.Untested {
					counted++
				}
			}
			for _, s := range x.a.Sections {
				sections[s.ID] += s.Mark / s.Of / ofEachKind
			}
		}
		slices.Sort(marks)
		fmt.Fprintf(&b, "| %s | %.0f | %.0f to %.0f | %d | %d |", k.ID, mean(marks), marks[len(marks)/10], marks[len(marks)*9/10], passed*100/ofEachKind,
			counted*100/ofEachKind)
		for _, id := range sectionIDs {
			fmt.Fprintf(&b, " %.0f |", 100*sections[id])
		}
		b.WriteString("\n")
		fmt.Fprintln(os.Stderr, "fairness", k.ID, passed)
	}
	b.WriteString("\nSections are in percent of what they give. Counted are those who are competent and have made a test that could tell something: only they " +
		"pass in a record.\n\n" + thrown(ctx, shelves, all["parts-thrower"]) +
		"\n## What carries the outcome\n\n| against | times in a hundred |\n|---|---:|\n")
	against, n := map[string]int{}, 0
	for _, k := range apprentice.Kinds {
		for _, x := range all[k.ID] {
			n++
			for _, r := range x.a.Against {
				against[r.Code]++
			}
		}
	}
	for _, code := range slices.SortedFunc(maps.Keys(against), func(a, b string) int { return against[b] - against[a] }) {
		fmt.Fprintf(&b, "| %s | %d |\n", strings.TrimPrefix(code, "outcome."), against[code]*100/n)
	}
	b.WriteString("\nMean share of each section, of those called competent and of the others:\n\n" +
		"| section | competent | not yet | apart |\n|---|---:|---:|---:|\n")
	for _, id := range sectionIDs {
		var in, out []float64
		for _, k := range apprentice.Kinds {
			for _, x := range all[k.ID] {
				for _, s := range x.a.Sections {
					if s.ID == id && x.a.Outcome == assess.Competent {
						in = append(in, 100*s.Mark/s.Of)
					} else if s.ID == id {
						out = append(out, 100*s.Mark/s.Of)
					}
				}
			}
		}
		fmt.Fprintf(&b, "| %s | %.0f | %.0f | %.0f |\n", id, mean(in), mean(out), mean(in)-mean(out))
	}
	b.WriteString("\n" + stability(ctx, shelves))
	return b.String()
}

var sectionIDs = []string{"readings", "conclusion", "economy", "order", "safety", "proof"}

// stability lets the same person meet other noise: the same slips, other instruments.
func stability(ctx context.Context, shelves []shelf) string {
	var b strings.Builder
	fmt.Fprintf(&b, "## The same apprentice, other noise\n\n%d of each kind on %d other seeds of noise each, with the same slips. Same outcome as most of their "+
		"own, in percent; and of those whose mean mark is %.0f marks or more from the threshold.\n\n"+
		"| kind | same outcome | away from the threshold |\n|---|---:|---:|\n",
		again, otherNoise, nearIt)
	sum, away := [2]float64{}, [2]float64{}
	for _, k := range apprentice.Kinds {
		same, far := [2]float64{}, [2]float64{}
		for i := range again {
			passed, marks := 0, make([]float64, otherNoise)
			got := make([]tried, otherNoise)
			check(parallel.For(ctx, otherNoise, func(j int) {
				got[j] = shelves[i%len(shelves)].try(ctx, k, uint64(i+1), uint64(1000*(i+1)+j))
			}))
			for j, x := range got {
				marks[j] = x.mark
				if x.a.Outcome == assess.Competent {
					passed++
				}
			}
			most := float64(max(passed, otherNoise-passed))
			same[0], same[1] = same[0]+most, same[1]+otherNoise
			if math.Abs(mean(marks)-60) >= nearIt {
				far[0], far[1] = far[0]+most, far[1]+otherNoise
			}
		}
		fmt.Fprintf(&b, "| %s | %.0f | %.0f |\n", k.ID, 100*same[0]/same[1], 100*far[0]/max(far[1], 1))
		sum[0], sum[1], away[0], away[1] = sum[0]+same[0], sum[1]+same[1], away[0]+far[0], away[1]+far[1]
		fmt.Fprintln(os.Stderr, "stability", k.ID)
	}
	fmt.Fprintf(&b, "| all | %.0f | %.0f |\n", 100*sum[0]/sum[1], 100*away[0]/away[1])
	return b.String()
}

func mean(xs []float64) float64 {
	sum := 0.0
	for _, x := range xs {
		sum += x
	}
	return sum / max(float64(len(xs)), 1)
}
