package main

import (
	"context"
	"fmt"
	"math"
	"os"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/machine"
	"zanjero/core/procedure"
	"zanjero/messages"
)

// pageTrial is what planned pages came to for one machine and complaint.
type pageTrial struct {
	Engine    engine
	Complaint string
	// Cheapest school by minutes, LeastWrong by what it names wrongly, MostRight by what
	// it names at the part or its reach; all 0 where no school has a page for it.
	Cheapest, LeastWrong, MostRight float64
	// Pages by their most steps, the last of MaxPageSteps and as good as the schools.
	Pages []frontier
	// Limit is what a belief takes to be wrong as seldom as the last page, minutes; 0
	// where it never is.
	Limit float64
}

// frontier is a page of so many steps at most.
type frontier struct {
	Steps                    int
	Minutes, Wrong, Isolated float64
}

// schooled says that a school has a page for it.
func (t *pageTrial) schooled() bool { return t.Cheapest > 0 }

func (t *pageTrial) last() frontier { return t.Pages[len(t.Pages)-1] }

// keeps says that the last page is as good as the schools in so many of their minutes.
func (t *pageTrial) keeps() (minutes, wrong, right bool) {
	l := t.last()
	const even = 5e-4 // half a machine in a thousand
	return l.Minutes <= 0.75*t.Cheapest, l.Wrong <= t.LeastWrong+even, l.Isolated >= t.MostRight-even
}

// steps that pages are planned with; those before the last at the usual prices.
var pageSteps = []int{4, 8, procedure.MaxPageSteps}

// usualPrice is what a wrong end is taken to cost, in minutes, where no school says how
// seldom one is to be wrong.
const usualPrice = 360

// surely are the shares at which a belief stops, and how many machines it is tried on.
var surely = []float64{0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 0.98}

const believed = 2000

// pages plans pages for every machine of the yard and every complaint that it can have, but
// those that kept has already.
// Each is handed to told as it is there, since it takes a while.
func pages(ctx context.Context, yard []engine, kept []pageTrial, told func([]pageTrial)) (out []pageTrial) {
	all := slices.Clone(diagnosis.Complaints)
	slices.SortStableFunc(all, func(a, b diagnosis.Complaint) int { return place(a.ID) - place(b.ID) })
	for _, c := range all {
		for _, e := range yard {
			if i := slices.IndexFunc(kept, func(t pageTrial) bool { return t.Complaint == c.ID && t.Engine.Code == e.Code }); i >= 0 {
				out = append(out, kept[i])
				continue
			}
			if t, ok := pagesOf(ctx, e, c); ok {
				out = append(out, t)
				l := t.last()
				fmt.Fprintf(os.Stderr, "pages %s %s: %.1f of %.1f min, wrong %.3f (%.3f), right %.3f (%.3f), by belief %.1f\n",
					c.ID, e.Code, l.Minutes, t.Cheapest, l.Wrong, t.LeastWrong, l.Isolated, t.MostRight, t.Limit)
				told(out)
			}
		}
	}
	return out
}

// place is where a complaint stands: those of the schools' tables first.
func place(complaint string) int {
	if i := slices.Index(complaints, complaint); i >= 0 {
		return i
	}
	return len(complaints)
}

func pagesOf(ctx context.Context, e engine, c diagnosis.Complaint) (pageTrial, bool) {
	e.Sheet = catalogue.Standard().Complete(e.Family, e.Sheet)
	job := diagnosis.Job{Family: e.Family, Sheet: e.Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
	t := pageTrial{Engine: e, Complaint: c.ID, Cheapest: math.Inf(1), LeastWrong: 1}
	pop, err := procedure.NewPopulation(ctx, job, c.Claim)
	if err != nil { // nothing makes it do that
		return t, false
	}
	for _, p := range procedure.Schools().Expand() {
		if p.Complaint != c.ID || !slices.Contains(p.Families, e.Family) {
			continue
		}
		school, err := pop.Evaluate(ctx, &p)
		check(err)
		r := school.Row()
		t.Cheapest, t.LeastWrong, t.MostRight = min(t.Cheapest, r.ExpectedMinutes), min(t.LeastWrong, r.Wrong+r.WrongPart), max(t.MostRight, r.Isolated)
	}
	if math.IsInf(t.Cheapest, 1) {
		t.Cheapest, t.LeastWrong, t.MostRight = 0, 0, 0
	}
	for _, n := range pageSteps {
		spec := procedure.PageSpec{Steps: n, Complaint: c.ID}
		if n < procedure.MaxPageSteps || !t.schooled() {
			spec.WrongCosts = usualPrice
		}
		_, ev, err := pop.PlanPage(ctx, spec)
		check(err)
		r := ev.Row()
		t.Pages = append(t.Pages, frontier{n, r.ExpectedMinutes, r.Wrong + r.WrongPart, r.Isolated})
	}
	var before procedure.Limit
	for i, q := range surely {
		l, err := pop.ByBelief(ctx, q, believed, 1)
		check(err)
		if l.Wrong <= t.last().Wrong {
			t.Limit = l.Minutes
			if i > 0 && before.Wrong > l.Wrong { // between the two
				t.Limit += (before.Minutes - l.Minutes) * (t.last().Wrong - l.Wrong) / (before.Wrong - l.Wrong)
			}
			break
		}
		before = l
	}
	return t, true
}

// pageTables writes the pages out, a table for each complaint.
func pageTables(all []pageTrial) string {
	var b strings.Builder
	b.WriteString("# Findings: planned pages\n\nMade by `make findings`. Minutes · wrong · right at the part or its reach, the last two in percent, " +
		"for pages of at most so many steps; " +
		"beside them the cheapest school, the least that one is wrong and the most that one is right, and the minutes that a belief takes to be wrong as " +
		"seldom as the longest page. Where no school has a page, the longest is planned at the usual price of a wrong end. " +
		"A star: three quarters of the cheapest school's minutes, wrong no more often than any school, and right no less.\n")
	last := ""
	kept, held := 0, 0
	for i := range all {
		t := &all[i]
		if t.Complaint != last {
			last = t.Complaint
			fmt.Fprintf(&b, "\n## %s, planned\n\n| machine |", messages.In(messages.English).Name("complaint", last, "name"))
			for _, n := range pageSteps {
				fmt.Fprintf(&b, " %d steps |", n)
			}
			b.WriteString(" schools | by belief | |\n|---|" + strings.Repeat("---|", len(pageSteps)+3) + "\n")
		}
		fmt.Fprintf(&b, "| %s %s |", t.Engine.Name, t.Engine.Code)
		for _, f := range t.Pages {
			fmt.Fprintf(&b, " %.1f · %.1f · %.0f |", f.Minutes, 100*f.Wrong, 100*f.Isolated)
		}
		star, schools := "", "–"
		if t.schooled() {
			held++
			schools = fmt.Sprintf("%.1f · %.1f · %.0f", t.Cheapest, 100*t.LeastWrong, 100*t.MostRight)
			if m, w, r := t.keeps(); m && w && r {
				star = "★"
				kept++
			}
		}
		belief := "–"
		if t.Limit > 0 {
			belief = fmt.Sprintf("%.1f", t.Limit)
		}
		fmt.Fprintf(&b, " %s | %s | %s |\n", schools, belief, star)
	}
	fmt.Fprintf(&b, "\nA star at %d of the %d that a school has a page for; %d in all.\n", kept, held, len(all))
	return b.String()
}

// frontiers draws, for each machine and complaint, minutes against wrong ends by the number
// of steps, and the cheapest and the most careful school as one point.
func frontiers(all []pageTrial) string {
	const w, h, cols = 210.0, 132.0, 6
	rows := (len(all) + cols - 1) / cols
	var b strings.Builder
	begin(&b, int(w)*cols+20, rows*int(h)+46, "Planned pages: minutes against wrong ends, by the number of steps")
	text(&b, 14, 22, 15, "start", ink,
		"Planned pages: minutes (across) against wrong ends in percent (up), for 4, 8 and 14 steps; "+
			"square: the schools' best of each; triangle: by belief")
	for i := range all {
		t := &all[i]
		x0, y0 := 10+w*float64(i%cols), 40+h*float64(i/cols)
		far, high := max(t.Cheapest, t.Limit), t.LeastWrong
		for _, f := range t.Pages {
			far, high = max(far, f.Minutes), max(high, f.Wrong)
		}
		far, high = far*1.15, max(high*1.2, 0.01)
		at := func(minutes, wrong float64) (float64, float64) {
			return x0 + 34 + (w-56)*minutes/far, y0 + 100 - 72*wrong/high
		}
		text(&b, x0+34, y0+14, 12, "start", ink, "%s, %s", t.Engine.Code, t.Complaint)
		fmt.Fprintf(&b, `<path d="M%.1f %.1fV%.1fH%.1f" fill="none" stroke="%s"/>`+"\n", x0+34, y0+22, y0+100, x0+w-14, muted)
		text(&b, x0+30, y0+32, 11, "end", muted, "%.0f", 100*high)
		text(&b, x0+30, y0+102, 11, "end", muted, "0")
		text(&b, x0+w-14, y0+114, 11, "end", muted, "%.0f min", far)
		var path strings.Builder
		for k, f := range t.Pages {
			x, y := at(f.Minutes, f.Wrong)
			fmt.Fprintf(&path, "%c%.1f %.1f", "ML"[min(k, 1)], x, y)
		}
		fmt.Fprintf(&b, `<path d="%s" fill="none" stroke="%s" stroke-width="1.5"/>`+"\n", path.String(), deep)
		for _, f := range t.Pages {
			x, y := at(f.Minutes, f.Wrong)
			b.WriteString(mark("circle", deep, x, y))
			text(&b, x+8, y-4, 11, "start", ink, "%d", f.Steps)
		}
		if t.schooled() {
			x, y := at(t.Cheapest, t.LeastWrong)
			b.WriteString(mark("square", "#C98511", x, y) + "\n")
		}
		if t.Limit > 0 {
			x, y := at(t.Limit, t.last().Wrong)
			b.WriteString(mark("triangle", muted, x, y) + "\n")
		}
	}
	b.WriteString("</svg>\n")
	return b.String()
}
