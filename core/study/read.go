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

// head is the first line of a file of readings.
var head = []string{"person", "engine", "value"}

// Read reads a study from CSV: person,engine,value, a line for each reading. It fails with a
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
	rows.FieldsPerRecord, rows.TrimLeadingSpace = len(head), true
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
			for i, h := range head {
				if strings.TrimSpace(strings.ToLower(row[i])) != h {
					return nil, problem.New(at(line), "study.no-head")
				}
			}
			continue
		}
		v, err := strconv.ParseFloat(strings.TrimSpace(row[2]), 64)
		if err != nil {
			return nil, problem.New(at(line), "study.not-a-number", "text", row[2])
		}
		out = append(out, Reading{strings.TrimSpace(row[0]), strings.TrimSpace(row[1]), v})
	}
}

func at(line int) string { return "line " + strconv.Itoa(line) }
