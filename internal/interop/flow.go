package interop

import (
	"cmp"
	"encoding/csv"
	"fmt"
	"html"
	"maps"
	"slices"
	"strconv"
	"strings"

	"zanjero/core/procedure"
)

// share is a share of all machines as so many of a hundred.
func share(v float64) string { return strconv.FormatFloat(100*v, 'f', 2, 64) }

// table writes rows as CSV (RFC 4180).
func table(rows [][]string) string {
	var b strings.Builder
	w := csv.NewWriter(&b)
	_ = w.WriteAll(rows) // a string takes all
	return b.String()
}

// steps are a procedure's tests by the id of their step, numbered as on the page.
func (pr Printer) steps(p *procedure.Procedure, e *procedure.Evaluation) []string {
	out := make([]string, len(e.Steps)+1)
	for k, s := range e.Steps {
		i := slices.IndexFunc(p.Steps, func(x procedure.Step) bool { return x.ID == s.ID })
		out[k] = fmt.Sprintf("%d %s", k+1, pr.title(p.Steps[i].Test))
	}
	out[len(e.Steps)] = pr.say("the-end")
	return out
}

// DitchCSV is what comes to each step of a procedure, ends there by kind, and goes on, of
// a hundred machines.
func (pr Printer) DitchCSV(p *procedure.Procedure, e *procedure.Evaluation) string {
	names := pr.steps(p, e)
	rows := [][]string{append([]string{"step", "comes"}, append(slices.Clone(procedure.Kinds), "goes_on", "goes_past")...)}
	for k, r := range e.Flow() {
		row := []string{names[k], share(r.Comes)}
		for _, kind := range procedure.Kinds {
			row = append(row, share(r.Ends[kind]))
		}
		var past []string
		for _, to := range slices.Sorted(maps.Keys(r.To)) {
			if to != k+1 {
				past = append(past, share(r.To[to])+" → "+names[to])
			}
		}
		rows = append(rows, append(row, share(r.To[k+1]), strings.Join(past, "; ")))
	}
	return table(rows)
}

// heatRow is a fault in all its modes.
type heatRow struct {
	fault              string
	prior              float64
	detected, isolated []float64
}

// heat gathers the rows of a heat table, the likeliest first.
func heat(e *procedure.Evaluation) []heatRow {
	var out []heatRow
	for _, h := range e.Hypotheses {
		if h.Fault == "" {
			continue
		}
		i := slices.IndexFunc(out, func(r heatRow) bool { return r.fault == h.Fault })
		if i < 0 {
			i = len(out)
			out = append(out, heatRow{fault: h.Fault, detected: make([]float64, len(e.Steps)), isolated: make([]float64, len(e.Steps))})
		}
		out[i].prior += h.Prior
		for k := range e.Steps {
			out[i].detected[k] += h.Prior * h.Detected[k]
			out[i].isolated[k] += h.Prior * h.Isolated[k]
		}
	}
	slices.SortStableFunc(out, func(a, b heatRow) int { return cmp.Compare(b.prior, a.prior) })
	return out
}

// of is a part of a whole; ways too unlikely to be followed can make it a trifle more.
func of(part, whole float64) float64 { return min(part/max(whole, 1e-12), 1) }

// HeatCSV is, for each fault and step, how many of a hundred machines with the fault are
// first noticed there, and how many rightly named.
func (pr Printer) HeatCSV(p *procedure.Procedure, e *procedure.Evaluation) string {
	head := []string{"fault", "of_100"}
	for _, n := range pr.steps(p, e)[:len(e.Steps)] {
		head = append(head, n+": noticed", n+": named")
	}
	rows := [][]string{head}
	for _, r := range heat(e) {
		row := []string{pr.name("fault", r.fault, "name"), share(r.prior)}
		for k := range e.Steps {
			row = append(row, share(of(r.detected[k], r.prior)), share(of(r.isolated[k], r.prior)))
		}
		rows = append(rows, row)
	}
	return table(rows)
}

// Sizes of the drawings, px.
const (
	rowTall  = 30.0
	allWide  = 140.0 // all machines
	bankAt   = 360.0
	poolAt   = 200.0
	cellWide = 26.0
)

// fills of the kinds: they are told apart in grey too, by their outlines.
var fills = map[string]string{
	procedure.KindRight: `fill="#1d7f8e"`, procedure.KindPath: `fill="#c98511" stroke="#6b4300" stroke-dasharray="2 2"`,
	procedure.KindWrong: `fill="#a8431f" stroke="#000"`, procedure.KindOpen: `fill="#e4d6bc" stroke="#6f7d75" stroke-dasharray="3 2"`,
}

func svg(wide, tall float64, title, body string) string {
	return fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %g %g" width="%g" height="%g" font-family="sans-serif" font-size="12">`+
		"<title>%s</title>\n%s</svg>\n", wide, tall, wide, tall, html.EscapeString(title), body)
}

func label(b *strings.Builder, x, y float64, anchor, text string) {
	fmt.Fprintf(b, `<text x="%g" y="%g" text-anchor="%s">%s</text>`+"\n", x, y, anchor, html.EscapeString(text))
}

// DitchSVG draws the ditch to scale: what comes from the top, what ends at each step to
// the left, what goes past some to the right.
func (pr Printer) DitchSVG(p *procedure.Procedure, e *procedure.Evaluation) string {
	var b strings.Builder
	rows, names := e.Flow(), pr.steps(p, e)
	for k, r := range rows {
		y, mid := float64(k)*rowTall, (float64(k)+0.5)*rowTall
		fmt.Fprintf(&b, `<rect x="%.2f" y="%g" width="%.2f" height="%g" fill="#1d7f8e"/>`+"\n", bankAt-allWide*r.Comes, y, allWide*r.Comes, rowTall/2)
		if on := r.To[k+1]; on > 0 {
			fmt.Fprintf(&b, `<rect x="%.2f" y="%g" width="%.2f" height="%g" fill="#1d7f8e"/>`+"\n", bankAt-allWide*on, mid, allWide*on, rowTall/2)
		}
		at, all := mid, 0.0
		for _, m := range r.Ends {
			all += m
		}
		at -= allWide * all / 2
		for _, kind := range procedure.Kinds {
			if m := r.Ends[kind]; m > 0 {
				fmt.Fprintf(&b, `<rect x="%g" y="%.2f" width="%.2f" height="%.2f" %s/>`+"\n", poolAt, at, bankAt-allWide*r.Comes-poolAt, max(allWide*m, 0.6), fills[kind])
				at += allWide * m
			}
		}
		if all >= 0.0005 {
			label(&b, poolAt-6, mid+4, "end", share(all))
		}
	}
	far := bankAt + 20
	for _, j := range jumps(rows) {
		wide := max(allWide*j.share, 0.6)
		y0, y1, x := (float64(j.from)+0.5)*rowTall+2+wide/2, (float64(j.to)+0.5)*rowTall-2-wide/2, bankAt+j.lane+wide/2
		bend := max(min(wide/2+6, (y1-y0)/2, j.lane+wide/2), 0.5)
		fmt.Fprintf(&b, `<path d="M%g %.2fH%.2fQ%.2f %.2f %.2f %.2fV%.2fQ%.2f %.2f %.2f %.2fH%g" fill="none" stroke="#57aeb4" stroke-width="%.2f"/>`+"\n",
			bankAt, y0, x-bend, x, y0, x, y0+bend, y1-bend, x, y1, x-bend, y1, bankAt, wide)
		far = max(far, x+wide/2)
	}
	for k := range rows {
		label(&b, far+10, (float64(k)+0.5)*rowTall+4, "start", names[k])
	}
	return svg(far+320, rowTall*float64(len(rows)), p.Title, b.String())
}

// jump is a way past some steps, with how far from the bank its lane begins.
type jump struct {
	from, to    int
	share, lane float64
}

// jumps lists the ways past steps, the shortest first, each in a lane outside those that
// it would cross.
func jumps(rows []procedure.FlowRow) (out []jump) {
	for k, r := range rows {
		for _, to := range slices.Sorted(maps.Keys(r.To)) {
			if m := r.To[to]; to > k+1 && m > 0 {
				out = append(out, jump{from: k, to: to, share: m})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b jump) int { return cmp.Compare(a.to-a.from, b.to-b.from) })
	for i := range out {
		out[i].lane = 8
		for _, o := range out[:i] {
			if o.from < out[i].to && out[i].from < o.to {
				out[i].lane = max(out[i].lane, o.lane+allWide*o.share+8)
			}
		}
	}
	return out
}

// HeatSVG draws the heat table: a cell as dark as the share that is named at its step,
// ringed where the fault is first noticed.
func (pr Printer) HeatSVG(p *procedure.Procedure, e *procedure.Evaluation) string {
	var b strings.Builder
	const left, top, tall = 250.0, 22.0, 18.0
	for k := range e.Steps {
		label(&b, left+cellWide*(float64(k)+0.5), 14, "middle", strconv.Itoa(k+1))
	}
	n := 0
	for _, r := range heat(e) {
		if r.prior < 0.0005 {
			continue
		}
		y := top + tall*float64(n)
		n++
		label(&b, left-48, y+13, "end", pr.name("fault", r.fault, "name"))
		label(&b, left-6, y+13, "end", share(r.prior))
		for k := range e.Steps {
			named, noticed := of(r.isolated[k], r.prior), of(r.detected[k], r.prior)
			if named < 0.005 && noticed < 0.05 {
				continue
			}
			ring := ""
			if noticed >= 0.05 {
				ring = ` stroke="#0f4a54" stroke-width="1.5"`
			}
			fmt.Fprintf(&b, `<rect x="%g" y="%g" width="%g" height="%g" fill="#1d7f8e" fill-opacity="%.3f"%s/>`+"\n",
				left+cellWide*float64(k)+1, y+1, cellWide-2, tall-2, named, ring)
		}
	}
	return svg(left+cellWide*float64(len(e.Steps))+10, top+tall*float64(n)+6, p.Title, b.String())
}
