package catalogue

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

// NewProblem makes one.
func NewProblem(path, what, mend string) *Problem {
	return &Problem{Path: path, Problem: what, Mend: mend}
}

// ShowValue writes a value of an input as it stood there.
func ShowValue(v any) string {
	if t, ok := v.(string); ok {
		return strconv.Quote(t)
	}
	return fmt.Sprint(v)
}
