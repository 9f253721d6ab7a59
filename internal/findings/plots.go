package main

import (
	"fmt"
	"strings"

	"zanjero/core/diagnosis"
	"zanjero/messages"
)

// Colours of the plots: the application's own, by day.
const (
	paper = "#FFFBF3"
	ink   = "#20302E"
	muted = "#61706A"
	grid  = "#E4D6BC"
	deep  = "#0F4A54"
)

// marks by school: a shape each, so that the plot reads in grey too.
var marks = []struct{ name, colour, shape string }{
	{"look-first", "#1D7F8E", "circle"}, {"spark-first", "#C98511", "square"}, {"dose-first", "#A8431F", "diamond"},
	{"pull-first", "#61706A", "triangle"}, {"fuel-spark-compression", "#0F4A54", "cross"}, {"planned", "#20302E", "ring"},
}

func mark(shape, colour string, x, y float64) string {
	switch shape {
	case "square":
		return fmt.Sprintf(`<rect x="%.1f" y="%.1f" width="11" height="11" fill="%s"/>`, x-5.5, y-5.5, colour)
	case "diamond":
		return fmt.Sprintf(`<path d="M%.1f %.1fl7 7l-7 7l-7-7z" fill="%s"/>`, x, y-7, colour)
	case "triangle":
		return fmt.Sprintf(`<path d="M%.1f %.1fl7 12h-14z" fill="%s"/>`, x, y-7, colour)
	case "cross":
		return fmt.Sprintf(`<path d="M%.1f %.1fl10 10m0-10l-10 10" stroke="%s" stroke-width="3"/>`, x-5, y-5, colour)
	case "ring":
		return fmt.Sprintf(`<circle cx="%.1f" cy="%.1f" r="5" fill="none" stroke="%s" stroke-width="2.5"/>`, x, y, colour)
	}
	return fmt.Sprintf(`<circle cx="%.1f" cy="%.1f" r="6" fill="%s"/>`, x, y, colour)
}

func text(b *strings.Builder, x, y float64, size int, anchor, colour, format string, a ...any) {
	fmt.Fprintf(b, `<text x="%.1f" y="%.1f" font-size="%d" text-anchor="%s" fill="%s">%s</text>`+"\n", x, y, size, anchor, colour, fmt.Sprintf(format, a...))
}

func begin(b *strings.Builder, w, h int, title string) {
	fmt.Fprintf(b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" width="%d" height="%d" font-family="sans-serif" `+
		`role="img" aria-label="%s">`+"\n", w, h, w, h, title)
	fmt.Fprintf(b, `<rect width="%d" height="%d" fill="%s"/>`+"\n", w, h, paper)
}

// schools draws, for each complaint and machine, the expected minutes of every
// school, and beside it the share that each concludes wrongly.
func schools(all []trial) string {
	const left, row, width, right, wide = 170.0, 26.0, 560.0, 790.0, 200.0
	var b strings.Builder
	height := 96 + int(row)*len(all) + 3*44
	begin(&b, 1040, height, "What the five schools and the planned order cost on each machine, and how often they are wrong")
	x := left
	for _, m := range marks {
		b.WriteString(mark(m.shape, m.colour, x, 24) + "\n")
		text(&b, x+12, 29, 13, "start", ink, "%s", m.name)
		x += 40 + 7.2*float64(len(m.name))
	}
	most, wrongest := 0.0, 0.0
	for _, c := range all {
		for _, r := range c.Rows {
			most, wrongest = max(most, r.ExpectedMinutes), max(wrongest, r.WrongPart+r.Wrong)
		}
	}
	text(&b, left, 62, 13, "start", muted, "expected minutes")
	text(&b, right, 62, 13, "start", muted, "concluded wrongly, %%")
	y, last := 70.0, ""
	for _, c := range all {
		if c.Complaint != last {
			last = c.Complaint
			y += 30
			text(&b, 16, y, 15, "start", deep, "%s", messages.In(messages.English).Name("complaint", last, "name"))
			y += 14
		}
		y += row
		text(&b, left-14, y-4, 13, "end", ink, "%s %s", c.Engine.Name, c.Engine.Code)
		fmt.Fprintf(&b, `<path d="M%.1f %.1fH%.1fM%.1f %.1fH%.1f" stroke="%s"/>`+"\n", left, y-8, left+width, right, y-8, right+wide, grid)
		for i, r := range c.Rows {
			m := marks[i]
			b.WriteString(mark(m.shape, m.colour, left+width*r.ExpectedMinutes/most, y-8) +
				mark(m.shape, m.colour, right+wide*(r.WrongPart+r.Wrong)/wrongest, y-8) + "\n")
		}
	}
	y += 24
	for v := 0.0; v <= most; v += 20 {
		text(&b, left+width*v/most, y, 12, "middle", muted, "%.0f", v)
	}
	for v := 0.0; v <= wrongest; v += 0.1 {
		text(&b, right+wide*v/wrongest, y, 12, "middle", muted, "%.0f", 100*v)
	}
	b.WriteString("</svg>\n")
	return b.String()
}

// reliability draws what was believed against how often it was so.
func reliability(bins []diagnosis.ReliabilityBin) string {
	const left, top, side = 70.0, 30.0, 420.0
	var b strings.Builder
	begin(&b, 560, 520, "Reliability diagram: probability given to a fault against how often the fault was there")
	for i := 0; i <= 10; i += 2 {
		v := float64(i) / 10
		fmt.Fprintf(&b, `<path d="M%.1f %.1fH%.1fM%.1f %.1fV%.1f" stroke="%s"/>`+"\n", left, top+side*(1-v), left+side, left+side*v, top, top+side, grid)
		text(&b, left-10, top+side*(1-v)+4, 12, "end", muted, "%d %%", 10*i)
		text(&b, left+side*v, top+side+20, 12, "middle", muted, "%d %%", 10*i)
	}
	fmt.Fprintf(&b, `<path d="M%.1f %.1fL%.1f %.1f" stroke="%s" stroke-dasharray="6 5"/>`+"\n", left, top+side, left+side, top, muted)
	path := ""
	for _, x := range bins {
		if x.N == 0 {
			continue
		}
		op := "L"
		if path == "" {
			op = "M"
		}
		px, py := left+side*x.Given, top+side*(1-x.Right)
		path += fmt.Sprintf("%s%.1f %.1f", op, px, py)
		b.WriteString(mark("circle", marks[0].colour, px, py) + "\n")
		if x.Given > 0.15 {
			text(&b, px+10, py+16, 11, "start", muted, "%d", x.N)
		}
	}
	fmt.Fprintf(&b, `<path d="%s" fill="none" stroke="%s" stroke-width="2"/>`+"\n", path, marks[0].colour)
	text(&b, left+side/2, top+side+44, 13, "middle", ink, "believed of a fault (figures: how many times)")
	fmt.Fprintf(&b, `<text x="20" y="%.1f" font-size="13" fill="%s" text-anchor="middle" transform="rotate(-90 20 %.1f)">the fault was `+
		`there</text>`+"\n", top+side/2, ink, top+side/2)
	b.WriteString("</svg>\n")
	return b.String()
}
