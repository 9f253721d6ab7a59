package record

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
)

// Standard is an outside training standard as a school types it in.
type Standard struct {
	Title string `json:"title"`
	Lines []Line `json:"lines"`
}

// Line is one of it, tied to the squares that show it.
type Line struct {
	Code string `json:"code"`
	Text string `json:"text"`
	Ties []Tie  `json:"ties"`
}

// Tie is a square; an empty lateral is every path that there is evidence of.
type Tie struct {
	Skill   string `json:"skill"`
	Lateral string `json:"lateral,omitempty"`
}

// Met is how a line stands.
type Met struct {
	Code  string `json:"code"`
	Text  string `json:"text"`
	Shown int    `json:"shown"` // squares that are shown
	Of    int    `json:"of"`    // squares that it is tied to
}

// Skills are the rows of a record, in the order of an assessment's sections.
var Skills = []string{"readings", "conclusion", "economy", "order", "safety", "proof"}

// Limits of a standard.
const (
	mostLines = 500
	mostText  = 500 // letters
)

// Stands says how a record stands to each line. A tie to every path asks for every path of
// the trade.
func (r *Record) Stands(s *Standard) []Met {
	out := []Met{}
	for _, l := range s.Lines {
		m := Met{Code: l.Code, Text: l.Text}
		for _, t := range l.Ties {
			for _, lat := range catalogue.Standard().Laterals {
				if t.Lateral != "" && t.Lateral != lat.ID {
					continue
				}
				m.Of++
				if slices.ContainsFunc(r.Squares, func(q Square) bool { return q.Skill == t.Skill && q.Lateral == lat.ID && q.Shown }) {
					m.Shown++
				}
			}
		}
		out = append(out, m)
	}
	return out
}

// Check says what is wrong with a standard, by line.
func (s *Standard) Check() (bad []problem.Problem) {
	say := func(i int, field, code string, pairs ...any) {
		bad = append(bad, *problem.New(fmt.Sprintf("lines[%d].%s", i, field), code, pairs...))
	}
	if len(s.Lines) > mostLines {
		return []problem.Problem{*problem.New("lines", "record.too-many-lines", "most", mostLines)}
	}
	seen := map[string]int{}
	for i, l := range s.Lines {
		if l.Code == "" {
			say(i, "code", "record.line-empty")
		}
		if before, twice := seen[l.Code]; twice && l.Code != "" {
			say(i, "code", "record.code-twice", "code", problem.Show(l.Code), "line", before+1)
		}
		seen[l.Code] = i
		if len([]rune(l.Text)) > mostText || len([]rune(l.Code)) > mostText {
			say(i, "text", "record.line-long", "most", mostText)
		}
		for k, t := range l.Ties {
			place := fmt.Sprintf("ties[%d]", k)
			if !slices.Contains(Skills, t.Skill) {
				say(i, place, "record.no-skill", "skill", problem.Show(t.Skill), "skills", Skills)
			}
			if t.Lateral != "" && !slices.ContainsFunc(catalogue.Standard().Laterals, func(x catalogue.Lateral) bool { return x.ID == t.Lateral }) {
				say(i, place, "record.no-path", "path", problem.Show(t.Lateral))
			}
		}
	}
	return bad
}

// ReadStandard reads lines from CSV with the columns code, text and skills; in the last,
// squares such as "readings/spark" by semicolons, "readings" alone for every path. What is
// wrong is said by line of the file.
func ReadStandard(raw []byte) (lines []Line, bad []problem.Problem) {
	r := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(raw, []byte("\xef\xbb\xbf"))))
	r.FieldsPerRecord = 3
	head := true
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		var at *csv.ParseError
		if errors.As(err, &at) {
			return nil, []problem.Problem{*problem.New(fmt.Sprintf("line %d", at.Line), "record.no-csv")}
		}
		if err != nil {
			return nil, []problem.Problem{*problem.In("", err)}
		}
		if head {
			if head = false; !slices.Equal(row, []string{"code", "text", "skills"}) {
				return nil, []problem.Problem{*problem.New("line 1", "record.no-head")}
			}
			continue
		}
		l := Line{Code: strings.TrimSpace(row[0]), Text: strings.TrimSpace(row[1]), Ties: []Tie{}}
		for _, t := range strings.Split(row[2], ";") {
			if skill, lateral, _ := strings.Cut(strings.TrimSpace(t), "/"); skill != "" {
				l.Ties = append(l.Ties, Tie{strings.TrimSpace(skill), strings.TrimSpace(lateral)})
			}
		}
		if lines = append(lines, l); len(lines) > mostLines {
			break
		}
	}
	return lines, (&Standard{Lines: lines}).Check()
}
