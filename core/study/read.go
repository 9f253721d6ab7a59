package study

import (
	"encoding/csv"
	"errors"
	"io"
	"strconv"
	"strings"

	"zanjero/core/problem"
)

// mostBytes is how large a file of readings may be.
const mostBytes = 1 << 20

// head is the first line of a file of readings; its last column may be left out.
var head = []string{"person", "engine", "value", "gauge"}

// Read reads a study from CSV: person,engine,value and, if it is known, gauge, a line for
// each reading. It fails with a
// *problem.Problem that has the line, and with the reader's own errors.
func Read(in io.Reader) ([]Reading, error) {
	raw, err := io.ReadAll(io.LimitReader(in, mostBytes+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > mostBytes {
		return nil, problem.New("", "study.file-too-large", "most", mostBytes>>20)
	}
	rows := csv.NewReader(strings.NewReader(strings.TrimPrefix(string(raw), "\ufeff")))
	rows.FieldsPerRecord, rows.TrimLeadingSpace = 0, true // as many as the first line has
	var out []Reading
	for first := true; ; first = false {
		row, err := rows.Read()
		if errors.Is(err, io.EOF) {
			if first {
				return nil, problem.New("line 1", "study.no-head")
			}
			return out, nil
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			return nil, problem.New(at(bad.Line), "study.bad-line")
		}
		line, _ := rows.FieldPos(0)
		if first {
			for i, h := range row {
				if i >= len(head) || strings.TrimSpace(strings.ToLower(h)) != head[i] {
					return nil, problem.New(at(line), "study.no-head")
				}
			}
			if len(row) < len(head)-1 {
				return nil, problem.New(at(line), "study.bad-line")
			}
			continue
		}
		v, err := strconv.ParseFloat(strings.TrimSpace(row[2]), 64)
		if err != nil {
			return nil, problem.New(at(line), "study.not-a-number", "text", row[2])
		}
		r := Reading{Person: strings.TrimSpace(row[0]), Engine: strings.TrimSpace(row[1]), Value: v}
		if len(row) == len(head) {
			r.Gauge = strings.TrimSpace(row[3])
		}
		out = append(out, r)
	}
}

func at(line int) string { return "line " + strconv.Itoa(line) }
