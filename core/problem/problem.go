package problem

import (
	"fmt"
	"strconv"
)

// Problem says what is wrong in an input, where, and how to mend it.
type Problem struct {
	Path    string `json:"path"`
	Problem string `json:"problem"`
	Mend    string `json:"mend"`
}

func (p *Problem) Error() string { return p.Path + ": " + p.Problem + "; " + p.Mend }

// New makes one.
func New(path, what, mend string) *Problem {
	return &Problem{Path: path, Problem: what, Mend: mend}
}

// Show writes a value of an input as it stood there.
func Show(v any) string {
	if t, ok := v.(string); ok {
		return strconv.Quote(t)
	}
	return fmt.Sprint(v)
}
