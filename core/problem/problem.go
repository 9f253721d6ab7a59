// Package problem says what is wrong with an input: where, by a stable code and
// parameters. The words for a code stand in the message files, one for each
// language; the core has none.
package problem

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Problem is one thing that is wrong with an input. It is not changed once it
// is made.
type Problem struct {
	// Path is where it stands, such as "events[3].test"; "" for the whole input.
	Path string `json:"path"`
	// Code says what is wrong, such as "ledger.no-test-machine". Codes do not
	// change; the message files have a "what" and a "mend" for each.
	Code string `json:"code"`
	// Params fill the words in: strings, numbers, or lists of strings.
	Params Params `json:"params,omitempty"`
}

// Params are what a message is filled in with, by name.
type Params map[string]any

// New makes a problem with parameters as pairs of name and value. It panics on
// a name without a value, or one that is no string, which is a slip of whoever
// calls it.
func New(path, code string, pairs ...any) *Problem {
	return &Problem{Path: path, Code: code, Params: Pairs(pairs...)}
}

// Pairs makes parameters of pairs of name and value, as New does; nil of none.
func Pairs(pairs ...any) Params {
	if len(pairs) == 0 {
		return nil
	}
	p := Params{}
	for i := 0; i < len(pairs); i += 2 {
		p[pairs[i].(string)] = pairs[i+1]
	}
	return p
}

// At gives the same problem with a place before its path.
func (p *Problem) At(prefix string) *Problem {
	q := *p
	q.Path = prefix + p.Path
	return &q
}

// In gives what an error says is wrong, at a path: the problem that it is, or
// else one whose detail is the error's own text, for what no code stands for.
func In(path string, err error) *Problem {
	var p *Problem
	if errors.As(err, &p) {
		q := *p
		q.Path = path
		return &q
	}
	return New(path, "input.unreadable", "detail", err.Error())
}

// Error is for logs and tests: place, code and parameters, without words.
func (p *Problem) Error() string {
	var out strings.Builder
	fmt.Fprintf(&out, "%s: %s", p.Path, p.Code)
	names := make([]string, 0, len(p.Params))
	for n := range p.Params {
		names = append(names, n)
	}
	slices.Sort(names)
	for _, n := range names {
		fmt.Fprintf(&out, " %s=%v", n, p.Params[n])
	}
	return out.String()
}

// Show writes a value of an input as it stood there.
func Show(v any) string {
	if t, ok := v.(string); ok {
		return strconv.Quote(t)
	}
	return fmt.Sprint(v)
}
