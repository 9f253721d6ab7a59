package roster

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"zanjero/core/problem"
)

// Limits of what is read.
const (
	MostBytes = 32 << 20 // unpacked
	MostRows  = 100_000  // in all tables
	mostCell  = 1000     // letters
)

// Row is a row of a file: where it stood, its id, what it says, and whether it takes its
// record away. A plain list has rows of several tables on one line.
type Row struct {
	File   string
	Line   int
	ID     string
	Record Record
	Gone   bool
	wrong  []problem.Problem
}

// Input is what came in: rows by table, and which tables were there in full.
type Input struct {
	Rows map[string][]Row
	Full map[string]bool
	// Plain: it was a list, which makes nobody leave, and whose records are made here.
	Plain bool
}

// Edit is an input that somebody makes by hand: records added or changed here.
func Edit(rows map[string][]Row) *Input {
	return &Input{Rows: rows, Full: map[string]bool{}, Plain: true}
}

// Read reads a zip of CSV files in OneRoster 1.1's form, one such file, or a plain list of
// people, which it turns into records that go on from those of now. The problems are those
// of whole files; what is wrong with a row is said by Compare.
func Read(name string, raw []byte, now Roster) (*Input, []problem.Problem) {
	in := &Input{Rows: map[string][]Row{}, Full: map[string]bool{}}
	if len(raw) > MostBytes {
		return nil, []problem.Problem{*problem.New(name, "roster.too-large", "most", MostBytes>>20)}
	}
	var bad []problem.Problem
	if !bytes.HasPrefix(raw, []byte("PK")) {
		if p := in.file(name, raw, manifest{}, now); p != nil {
			bad = append(bad, *p)
		}
		return in, bad
	}
	files, err := unpack(raw)
	if err != nil {
		return nil, []problem.Problem{*problem.In(name, err)}
	}
	m := manifest{}
	if raw, ok := files["manifest.csv"]; ok {
		if m, err = readManifest(raw); err != nil {
			return nil, []problem.Problem{*problem.In("manifest.csv", err)}
		}
	}
	for _, t := range Tables {
		raw, there := files[t.Name+".csv"]
		if !there {
			if m[t.Name] == "bulk" || m[t.Name] == "delta" {
				bad = append(bad, *problem.New(t.Name+".csv", "roster.file-missing"))
			}
			continue
		}
		if m[t.Name] == "absent" {
			continue
		}
		if p := in.file(t.Name+".csv", raw, m, now); p != nil {
			bad = append(bad, *p)
		}
	}
	if len(in.Rows) == 0 && len(bad) == 0 {
		bad = append(bad, *problem.New(name, "roster.nothing-in-it"))
	}
	return in, bad
}

// manifest says by table whether its file is bulk, delta or absent.
type manifest map[string]string

func readManifest(raw []byte) (manifest, error) {
	rows, err := cells(raw)
	if err != nil {
		return nil, err
	}
	m := manifest{}
	for _, r := range rows {
		if len(r.cells) < 2 {
			continue
		}
		if t, ok := strings.CutPrefix(r.cells[0], "file."); ok {
			m[t] = r.cells[1]
		}
		if r.cells[0] == "oneroster.version" && r.cells[1] != "1.1" {
			return nil, problem.New("manifest.csv", "roster.other-version", "version", problem.Show(r.cells[1]))
		}
	}
	return m, nil
}

// unpack gives the files at the top of a zip, or in its one folder, by name.
func unpack(raw []byte) (map[string][]byte, error) {
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return nil, problem.New("", "roster.no-zip")
	}
	out, size := map[string][]byte{}, 0
	for _, f := range z.File {
		name := path.Base(f.Name)
		if f.FileInfo().IsDir() || !strings.HasSuffix(name, ".csv") || strings.Contains(f.Name, "__MACOSX") {
			continue
		}
		r, err := f.Open()
		if err != nil {
			return nil, problem.New("", "roster.no-zip")
		}
		all, err := io.ReadAll(io.LimitReader(r, int64(MostBytes-size)+1))
		_ = r.Close()
		if err != nil {
			return nil, problem.New("", "roster.no-zip")
		}
		if size += len(all); size > MostBytes {
			return nil, problem.New("", "roster.too-large", "most", MostBytes>>20)
		}
		out[name] = all
	}
	return out, nil
}

// line is a row of a CSV file as it was read.
type line struct {
	at    int // the line of the file, from 1
	cells []string
}

// cells reads CSV with whichever of comma, semicolon and tab parts its first line most, and
// with or without a byte order mark. Every cell loses the spaces around it.
func cells(raw []byte) (out []line, err error) {
	raw = bytes.TrimPrefix(raw, []byte("\xef\xbb\xbf"))
	if bytes.HasPrefix(raw, []byte("\xff\xfe")) || bytes.HasPrefix(raw, []byte("\xfe\xff")) || bytes.IndexByte(raw, 0) >= 0 {
		return nil, problem.New("", "roster.not-utf8")
	}
	first, _, _ := bytes.Cut(raw, []byte("\n"))
	r := csv.NewReader(bytes.NewReader(raw))
	r.FieldsPerRecord, r.LazyQuotes = -1, false
	r.Comma = ','
	for _, c := range []rune{';', '\t'} {
		if bytes.Count(first, []byte(string(c))) > bytes.Count(first, []byte(string(r.Comma))) {
			r.Comma = c
		}
	}
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		var at *csv.ParseError
		if errors.As(err, &at) {
			return nil, problem.New(fmt.Sprintf("line %d", at.Line), "roster.no-csv")
		}
		if err != nil {
			return nil, err
		}
		n, _ := r.FieldPos(0)
		for i := range row {
			if row[i] = strings.TrimSpace(row[i]); !validText(row[i]) {
				return nil, problem.New(fmt.Sprintf("line %d", n), "roster.not-utf8")
			}
		}
		if len(out) > MostRows {
			return nil, problem.New("", "roster.too-many-rows", "most", MostRows)
		}
		if slices.ContainsFunc(row, func(c string) bool { return c != "" }) {
			out = append(out, line{n, row})
		}
	}
}

// file reads one CSV file, whichever it is by its head.
func (in *Input) file(name string, raw []byte, m manifest, now Roster) *problem.Problem {
	rows, err := cells(raw)
	switch {
	case err != nil:
		p := problem.In("", err)
		var at *problem.Problem
		if errors.As(err, &at) && at.Path != "" {
			return at.At(name + ", ")
		}
		return p.At(name)
	case len(rows) == 0:
		return problem.New(name, "roster.nothing-in-it")
	}
	head := rows[0].cells
	if !slices.Contains(head, idColumn) {
		return in.plain(name, rows, now)
	}
	t := Named(strings.TrimSuffix(name, ".csv"))
	if t == nil {
		t = likeHead(head)
	}
	for _, c := range t.Columns {
		if c.Needed && !slices.Contains(head, c.Name) {
			return problem.New(name, "roster.column-missing", "column", c.Name, "table", t.Name)
		}
	}
	for _, h := range head {
		known := slices.ContainsFunc(t.Columns, func(c Column) bool { return c.Name == h })
		if !known && !strings.HasPrefix(h, ownColumns) {
			return problem.New(name, "roster.column-unknown", "column", problem.Show(h), "table", t.Name, "prefix", ownColumns)
		}
	}
	list := []Row{}
	delta := m[t.Name] == "delta"
	for _, l := range rows[1:] {
		r := Row{File: name, Line: l.at, Record: Record{}}
		if len(l.cells) > len(head) {
			r.wrong = append(r.wrong, *problem.New("", "roster.too-many-cells", "cells", len(l.cells), "columns", len(head)))
			l.cells = l.cells[:len(head)]
		}
		for i, c := range l.cells {
			switch head[i] {
			case idColumn:
				r.ID = c
			case statusColumn:
				delta = delta || (c != "" && m[t.Name] == "")
				if r.Gone = strings.EqualFold(c, "tobedeleted"); c != "" && !r.Gone && !strings.EqualFold(c, "active") {
					r.wrong = append(r.wrong, *problem.New(statusColumn, "roster.not-one-of", "value", problem.Show(c), "words", []string{"active", "tobedeleted"}))
				}
			case timeColumn, passwordColumn:
			default:
				if c != "" {
					r.Record[head[i]] = c
				}
			}
		}
		list = append(list, r)
	}
	in.Rows[t.Name], in.Full[t.Name] = list, !delta
	return nil
}

// likeHead is the table whose columns a head has the most of.
func likeHead(head []string) *Table {
	return slices.MaxFunc(Tables, func(a, b *Table) int { return a.shared(head) - b.shared(head) })
}

func (t *Table) shared(head []string) (n int) {
	for _, c := range t.Columns {
		if slices.Contains(head, c.Name) {
			n += 2
		} else if c.Needed {
			n--
		}
	}
	return n
}
