// Package interop reads what comes from outside in the project's open formats.
package interop

import (
	"bytes"
	"fmt"
	"io"
	"strings"
	"sync"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"
	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"zanjero/api"
	"zanjero/core/problem"
	"zanjero/core/procedure"
)

// Report is what a pack comes to when it is checked whole.
type Report struct {
	Valid      bool               `json:"valid"`
	Name       string             `json:"name"`
	Procedures []string           `json:"procedures"`
	Findings   []procedure.Remark `json:"findings"`
}

var packSchema = sync.OnceValue(func() *jsonschema.Schema {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(api.PackSchema))
	if err != nil {
		panic(err) // the package's own test rules it out
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("pack.json", doc); err != nil {
		panic(err)
	}
	return c.MustCompile("pack.json")
})

// ValidatePack checks a pack against its schema, and then its procedures on
// every family that they are for. A pack that cannot be read at all, or is of a
// later version, comes back as a *catalogue.Problem; everything else as findings.
func ValidatePack(r io.Reader) (*Report, error) {
	raw, err := io.ReadAll(io.LimitReader(r, procedure.MaxPackBytes+1))
	if err != nil {
		return nil, err
	}
	out := &Report{Procedures: []string{}, Findings: []procedure.Remark{}}
	if len(raw) <= procedure.MaxPackBytes {
		if doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw)); err == nil {
			if e, ok := packSchema().Validate(doc).(*jsonschema.ValidationError); ok {
				leaves(e, &out.Findings)
			}
		}
	}
	pack, err := procedure.Read(bytes.NewReader(raw))
	if err != nil {
		if p, ok := err.(*problem.Problem); ok && len(out.Findings) > 0 && p.Path != "format" && p.Path != "version" {
			return out, nil // the schema has said it better
		}
		return nil, err
	}
	out.Name = pack.Name
	for _, p := range pack.Procedures {
		out.Procedures = append(out.Procedures, p.ID)
	}
	if len(out.Findings) == 0 {
		out.Findings = append(out.Findings, pack.Check()...)
	}
	out.Valid = true
	for _, f := range out.Findings {
		out.Valid = out.Valid && !f.Serious
	}
	return out, nil
}

var english = message.NewPrinter(language.English)

// leaves gathers the innermost causes of a schema error.
func leaves(e *jsonschema.ValidationError, out *[]procedure.Remark) {
	for _, c := range e.Causes {
		leaves(c, out)
	}
	if len(e.Causes) > 0 {
		return
	}
	p := problem.New(path(e.InstanceLocation), "interop.not-of-the-schema", "detail", e.ErrorKind.LocalizedString(english))
	switch k := e.ErrorKind.(type) {
	case *kind.AdditionalProperties:
		p = problem.New(p.Path, "interop.unknown-members", "members", k.Properties)
	case *kind.Required:
		p = problem.New(p.Path, "interop.missing-members", "members", k.Missing)
	}
	*out = append(*out, procedure.Remark{Problem: *p, Serious: true})
}

// path turns a JSON pointer into the paths of the rest of the program.
func path(pointer []string) string {
	var b strings.Builder
	for _, p := range pointer {
		switch {
		case strings.Trim(p, "0123456789") == "":
			fmt.Fprintf(&b, "[%s]", p)
		case b.Len() > 0:
			b.WriteString("." + p)
		default:
			b.WriteString(p)
		}
	}
	return b.String()
}
