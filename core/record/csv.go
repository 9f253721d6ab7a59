package record

import (
	"encoding/csv"
	"io"
	"strconv"
	"strings"
)

// WriteCSV writes a record as rows: one for each square and each attempt. Cells that a
// spreadsheet would run are made plain text.
func (r *Record) WriteCSV(w io.Writer) error {
	out := csv.NewWriter(w)
	num := func(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
	rows := [][]string{{"kind", "skill", "path", "score", "trend", "shown", "attempts", "job", "machine", "handed_over", "minutes", "mark", "of", "outcome",
		"signed", "tested"}}
	for _, q := range r.Squares {
		rows = append(rows, []string{"square", q.Skill, q.Lateral, num(round2(q.Score)), num(round2(q.Trend)), strconv.FormatBool(q.Shown),
			strconv.Itoa(len(q.Evidence)), "", "", "", "", "", "", "", "", ""})
	}
	for _, a := range r.Attempts {
		rows = append(rows, []string{"attempt", "", "", "", "", "", "", strconv.Itoa(a.Job), Plain(a.Machine), a.At, num(a.Minutes), num(a.Mark), num(a.Of),
			a.Outcome, strconv.FormatBool(a.Signed), strconv.FormatBool(!a.Untested)})
	}
	return out.WriteAll(rows)
}

// Plain is a cell that no spreadsheet runs: one that begins as a formula does has an
// apostrophe before it (OWASP, "CSV Injection").
func Plain(cell string) string {
	if cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) {
		return "'" + cell
	}
	return cell
}

func round2(x float64) float64 {
	s := strconv.FormatFloat(x, 'f', 2, 64)
	v, _ := strconv.ParseFloat(s, 64)
	return v
}
