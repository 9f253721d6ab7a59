// Package sequencing orders tests: given what each fault would make each test
// say, it finds in which order to make them so that the fault is known at the
// least expected cost. The problem and its names are the test sequencing
// problem's (Pattipati & Alexandridis 1990).
package sequencing

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"zanjero/core/problem"
)

// Matrix is a diagnostic matrix: one fault at a time, outcomes independent
// given the fault.
type Matrix struct {
	Faults []string
	Priors []float64 // weights; they need not sum to one
	Tests  []string
	Costs  []float64 // minutes
	// Cells are outcome labels by fault and test; where a test is noisy, Fail
	// holds the probability of "fail" instead.
	Cells [][]string
	Fail  [][]float64
	Noisy []bool
	// Class, where it is given, names what is to be known of each fault: rows of
	// one class need not be told apart.
	Class []string
	// Access, where it is given, is what tests share: the cost of a test is then
	// its own, and what is opened stays open.
	Access *Access
}

// Access is covers that tests need off or on. A cover that is off stays off
// until a test needs it on. At most 64 covers.
type Access struct {
	Open, Close []float64 // minutes, by cover
	Off, On     []uint64  // by test, a bit for each cover
}

// Minutes that a test's covers take with some of them off, and what is off
// afterwards.
func (a *Access) Minutes(t int, off uint64) (cost float64, after uint64) {
	for c := range a.Open {
		bit := uint64(1) << c
		switch {
		case a.Off[t]&bit != 0 && off&bit == 0:
			cost += a.Open[c]
			off |= bit
		case a.On[t]&bit != 0 && off&bit != 0:
			cost += a.Close[c]
			off &^= bit
		}
	}
	return cost, off
}

// Limits on a matrix from outside.
const (
	MaxFaults = 2000
	MaxTests  = 500
)

// Problem says what is wrong in an input, where, and how to mend it.

func at(line int, column string) string {
	if column == "" {
		return fmt.Sprintf("line %d", line)
	}
	return fmt.Sprintf("line %d, column %s", line, column)
}

// Read reads a matrix from CSV: a first row `fault,prior,<test ids>`, a second
// `cost,,<minutes>`, then a row for each fault. A column in which some cell is a
// decimal strictly between 0 and 1 is noisy, and all its cells are then
// probabilities of "fail". Whatever is wrong comes back as a *Problem.
func Read(r io.Reader) (*Matrix, error) {
	c := csv.NewReader(r)
	c.FieldsPerRecord, c.TrimLeadingSpace = -1, true
	var rows [][]string
	var lines []int
	for {
		rec, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var p *csv.ParseError
			if errors.As(err, &p) {
				return nil, problem.New(at(p.Line, ""), "sequencing.line-unreadable", "detail", p.Err.Error())
			}
			return nil, err
		}
		line, _ := c.FieldPos(0)
		rows, lines = append(rows, rec), append(lines, line)
		if len(rec) > MaxTests+2 || len(rows) > MaxFaults+2 {
			return nil, problem.New(at(line, ""), "sequencing.matrix-over-faults-or-tests", "most_faults", MaxFaults, "most_tests", MaxTests)
		}
	}
	if len(rows) < 3 {
		return nil, problem.New(at(len(rows)+1, ""), "sequencing.no-fault")
	}
	head := trim(rows[0])
	if len(head) < 3 || head[0] != "fault" || head[1] != "prior" {
		return nil, problem.New(at(lines[0], ""), "sequencing.head-not-fault-prior-test-ids")
	}
	for i, row := range rows[1:] {
		if len(row) != len(head) {
			return nil, problem.New(at(lines[i+1], ""), "sequencing.row-too-short-or-long", "cells", len(row), "want", len(head))
		}
	}
	m := &Matrix{Tests: head[2:], Noisy: make([]bool, len(head)-2)}
	for i, id := range m.Tests {
		if id == "" || slices.Index(m.Tests, id) != i {
			return nil, problem.New(at(lines[0], strconv.Itoa(i+3)), "sequencing.names-no-test-or-names-one-twice", "id", id)
		}
	}
	costs := trim(rows[1])
	if costs[0] != "cost" {
		return nil, problem.New(at(lines[1], ""), "sequencing.second-row-does-not-begin-with-cost")
	}
	for i, text := range costs[2:] {
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || !(v >= 0) || math.IsInf(v, 0) {
			return nil, problem.New(at(lines[1], m.Tests[i]), "sequencing.no-cost", "text", text)
		}
		m.Costs = append(m.Costs, v)
	}
	sum := 0.0
	for i, raw := range rows[2:] {
		row, line := trim(raw), lines[i+2]
		if row[0] == "" || slices.Contains(m.Faults, row[0]) {
			return nil, problem.New(at(line, "fault"), "sequencing.names-no-fault-or-names-one-twice", "text", row[0])
		}
		p, err := strconv.ParseFloat(row[1], 64)
		if err != nil || !(p >= 0) || math.IsInf(p, 0) {
			return nil, problem.New(at(line, "prior"), "sequencing.no-weight", "text", row[1])
		}
		sum += p
		m.Faults, m.Priors, m.Cells = append(m.Faults, row[0]), append(m.Priors, p), append(m.Cells, row[2:])
	}
	if !(sum > 0) || math.IsInf(sum, 0) {
		return nil, problem.New("column prior", "sequencing.priors-sum-nothing-can-be-shared-out")
	}
	return m, m.findNoise(lines)
}

// findNoise turns the cells of noisy columns into probabilities.
func (m *Matrix) findNoise(lines []int) error {
	m.Fail = make([][]float64, len(m.Faults))
	for i := range m.Fail {
		m.Fail[i] = make([]float64, len(m.Tests))
	}
	for t := range m.Tests {
		for i := range m.Faults {
			if v, err := strconv.ParseFloat(m.Cells[i][t], 64); err == nil && v > 0 && v < 1 {
				m.Noisy[t] = true
			}
		}
		for i := range m.Faults {
			text := m.Cells[i][t]
			if !m.Noisy[t] {
				if text == "" {
					return problem.New(at(lines[i+2], m.Tests[t]), "sequencing.nothing-says-what-test-would-show")
				}
				continue
			}
			switch v, err := strconv.ParseFloat(text, 64); {
			case text == "fail":
				m.Fail[i][t] = 1
			case text == "pass":
			case err != nil || v < 0 || v > 1:
				return problem.New(at(lines[i+2], m.Tests[t]), "sequencing.no-probability-another-cell-column-one", "text", text)
			default:
				m.Fail[i][t] = v
			}
		}
	}
	return nil
}

func trim(row []string) []string {
	out := make([]string, len(row))
	for i, c := range row {
		out[i] = strings.TrimSpace(c)
	}
	return out
}

// Write writes it as Read reads it.
func (m *Matrix) Write(w io.Writer) error {
	c := csv.NewWriter(w)
	rows := [][]string{append([]string{"fault", "prior"}, m.Tests...), {"cost", ""}}
	for _, v := range m.Costs {
		rows[1] = append(rows[1], number(v))
	}
	for i, f := range m.Faults {
		row := []string{f, number(m.Priors[i])}
		for t := range m.Tests {
			if m.Noisy != nil && m.Noisy[t] {
				row = append(row, number(m.Fail[i][t]))
			} else {
				row = append(row, m.Cells[i][t])
			}
		}
		rows = append(rows, row)
	}
	if err := c.WriteAll(rows); err != nil {
		return err
	}
	return c.Error()
}

func number(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }

// Test gives the place of a test, or −1.
func (m *Matrix) Test(id string) int { return slices.Index(m.Tests, id) }

// Groups are the ambiguity groups: rows alike over all tests, in order.
func (m *Matrix) Groups() [][]int {
	var out [][]int
	seen := map[string]int{}
	for i := range m.Faults {
		key := ""
		for t := range m.Tests {
			if m.Noisy[t] {
				key += number(m.Fail[i][t]) + "\x00"
			} else {
				key += m.Cells[i][t] + "\x00"
			}
		}
		g, ok := seen[key]
		if !ok {
			g = len(out)
			seen[key] = g
			out = append(out, nil)
		}
		out[g] = append(out[g], i)
	}
	return out
}
