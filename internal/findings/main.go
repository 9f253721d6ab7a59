// Command findings works out what the five schools cost on each machine of the
// demo yard, and how far beliefs can be trusted, and writes it down for
// docs/findings.md: tables as Markdown, plots as SVG. The planned pages take hours.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/procedure"
	"zanjero/demo"
	"zanjero/messages"
)

// engine is a machine of the demo yard.
type engine struct {
	Name   string          `json:"name"`
	Code   string          `json:"code"`
	Family string          `json:"family"`
	Sheet  catalogue.Sheet `json:"sheet"`
}

// trial is what was found for one machine and complaint.
type trial struct {
	Engine    engine
	Complaint string
	Rows      []procedure.Row
	Gap       float64
}

// complaints are those that the tables of the schools are made for.
var complaints = []string{"no-start", "weak", "dies-later"}

func main() {
	dir := flag.String("dir", "docs", "where the tables and plots go")
	jobs := flag.Int("jobs", 2000, "simulated jobs per family for the reliability diagram")
	only := flag.Bool("pages", false, "only the planned pages")
	fair := flag.Bool("fairness", false, "only what the marks make of simulated apprentices")
	flag.Parse()
	var yard struct {
		Machines []engine `json:"machines"`
	}
	check(json.Unmarshal(demo.Yard, &yard))
	write := func(name, text string) {
		check(os.WriteFile(filepath.Join(*dir, name), []byte(text), 0o644))
	}
	if *fair {
		write("findings-fairness.md", fairness(context.Background(), yard.Machines))
		return
	}
	record := filepath.Join(*dir, "findings-pages.csv")
	kept, err := readPages(record, yard.Machines)
	check(err)
	planned := pages(context.Background(), yard.Machines, kept, func(planned []pageTrial) {
		write("findings-pages.csv", csvPages(planned))
		write("findings-pages.md", pageTables(planned))
		write("pictures/frontiers.svg", frontiers(planned))
	})
	write("findings-pages.md", pageTables(planned))
	write("pictures/frontiers.svg", frontiers(planned))
	if *only {
		return
	}
	var all []trial
	for _, id := range complaints {
		claim := diagnosis.ComplaintBy(id).Claim
		for _, e := range yard.Machines {
			fmt.Fprintln(os.Stderr, id, e.Code)
			e.Sheet = catalogue.Standard().Complete(e.Family, e.Sheet)
			job := diagnosis.Job{Family: e.Family, Sheet: e.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
			pop, err := procedure.NewPopulation(context.Background(), job, claim)
			check(err)
			planned, err := procedure.Plan(context.Background(), job, claim)
			check(err)
			rows, err := pop.Beside(context.Background(), planned, id)
			check(err)
			all = append(all, trial{e, id, rows, planned.Bounds.Gap})
		}
	}
	var bins []diagnosis.ReliabilityBin
	for i, f := range catalogue.Standard().Families {
		fmt.Fprintln(os.Stderr, "reliability", f.ID)
		more, err := diagnosis.Reliability(context.Background(), diagnosis.Job{Family: f.ID, Sheet: f.Sheet, Ambient: machine.Ambient{TemperatureC: 20}},
			*jobs, uint64(i+1))
		check(err)
		bins = together(bins, more)
	}
	write("findings-tables.md", tables(all, bins))
	write("pictures/schools.svg", schools(all))
	write("pictures/reliability.svg", reliability(bins))
}

func check(err error) {
	if err != nil {
		fmt.Fprintln(os.Stderr, "findings:", err)
		os.Exit(1)
	}
}

// school is the name of a school by the id of its page for a complaint.
func school(page, complaint string) string { return strings.TrimSuffix(page, "-"+complaint) }

// together puts the bins of two families into one.
func together(a, b []diagnosis.ReliabilityBin) []diagnosis.ReliabilityBin {
	if a == nil {
		return b
	}
	for i := range a {
		n, m := float64(a[i].N), float64(b[i].N)
		if n+m > 0 {
			a[i].Given, a[i].Right = (n*a[i].Given+m*b[i].Given)/(n+m), (n*a[i].Right+m*b[i].Right)/(n+m)
		}
		a[i].N += b[i].N
	}
	return a
}

func tables(all []trial, bins []diagnosis.ReliabilityBin) string {
	var b strings.Builder
	b.WriteString("# Findings: the tables\n\nMade by `make findings`; what they say is in [findings](findings.md). Each cell: expected " +
		"minutes, then the shares isolated to the part or reach, concluded as a wrong part of the right path, and concluded on the " +
		"wrong path, in percent.\n")
	last := ""
	for _, c := range all {
		if c.Complaint != last {
			last = c.Complaint
			fmt.Fprintf(&b, "\n## %s\n\n| machine |", messages.In(messages.English).Name("complaint", last, "name"))
			for _, r := range c.Rows {
				fmt.Fprintf(&b, " %s |", school(r.Procedure, last))
			}
			b.WriteString(" plan at most above the best, without noise |\n|---|" + strings.Repeat("---|", len(c.Rows)+1) + "\n")
		}
		fmt.Fprintf(&b, "| %s %s |", c.Engine.Name, c.Engine.Code)
		for _, r := range c.Rows {
			fmt.Fprintf(&b, " %.0f · %.0f · %.0f · %.0f |", r.ExpectedMinutes, 100*r.Isolated, 100*r.WrongPart, 100*r.Wrong)
		}
		fmt.Fprintf(&b, " %.0f %% |\n", c.Gap)
	}
	b.WriteString("\n## Reliability of beliefs\n\n| given | there | times |\n|---|---|---|\n")
	for _, x := range bins {
		fmt.Fprintf(&b, "| %.3f | %.3f | %d |\n", x.Given, x.Right, x.N)
	}
	return b.String()
}
