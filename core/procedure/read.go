package procedure

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
)

// MaxPackBytes is the largest pack that is read.
const MaxPackBytes = 4 << 20

// Read reads a pack. Whatever is wrong with its form comes back as a
// *catalogue.Problem; what is wrong with its procedures is for Check to say. A pack
// of a later version is refused.
func Read(r io.Reader) (*Pack, error) {
	raw, err := io.ReadAll(io.LimitReader(r, MaxPackBytes+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > MaxPackBytes {
		return nil, &problem.Problem{Path: "", Problem: "the pack is over 4 MiB", Mend: "split it"}
	}
	var head struct {
		Format  string `json:"format"`
		Version int    `json:"version"`
	}
	if err := json.Unmarshal(raw, &head); err != nil {
		return nil, badJSON(raw, err)
	}
	if head.Format != Format {
		return nil, &problem.Problem{Path: "format", Problem: fmt.Sprintf("this is no pack: its format is %q", head.Format), Mend: fmt.Sprintf("write %q", Format)}
	}
	if head.Version < 1 || head.Version > Version {
		return nil, &problem.Problem{Path: "version", Problem: fmt.Sprintf("it is of version %d, and this program knows up to %d", head.Version, Version), Mend: "open it with a newer program, or have it written for this one"}
	}
	var p Pack
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	if err := d.Decode(&p); err != nil {
		return nil, badJSON(raw, err)
	}
	if len(p.Procedures) == 0 {
		return nil, &problem.Problem{Path: "procedures", Problem: "there is no procedure in it", Mend: "add one"}
	}
	if len(p.Procedures) > 200 {
		return nil, &problem.Problem{Path: "procedures", Problem: fmt.Sprintf("%d procedures are too many", len(p.Procedures)), Mend: "keep to 200, in several packs"}
	}
	return &p, nil
}

// badJSON says where JSON cannot be read.
func badJSON(raw []byte, err error) *problem.Problem {
	at := func(offset int64) string {
		line := 1 + bytes.Count(raw[:min(int(offset), len(raw))], []byte("\n"))
		return fmt.Sprintf("line %d", line)
	}
	switch e := err.(type) {
	case *json.SyntaxError:
		return &problem.Problem{Path: at(e.Offset), Problem: e.Error(), Mend: "mend the JSON there"}
	case *json.UnmarshalTypeError:
		return &problem.Problem{Path: e.Field, Problem: fmt.Sprintf("a %s stands where a %s belongs (%s)", e.Value, e.Type, at(e.Offset)), Mend: "see api/pack.schema.json"}
	}
	return &problem.Problem{Path: "", Problem: err.Error(), Mend: "see api/pack.schema.json"}
}

// Check looks every procedure of a pack over on every family that it is written
// for, with the catalogue's sheets. Paths begin with the procedure's.
func (p *Pack) Check() []Finding {
	var out []Finding
	seen := map[string]bool{}
	cat := catalogue.Standard()
	for i, proc := range p.Expand() {
		path := fmt.Sprintf("procedures[%d].", i)
		add := func(at, what, mend string) {
			out = append(out, Finding{problem.Problem{Path: path + at, Problem: what, Mend: mend}, true})
		}
		if proc.ID == "" || seen[proc.ID] {
			add("id", fmt.Sprintf("the id %q is missing or stands twice", proc.ID), "give each procedure an id of its own")
		}
		seen[proc.ID] = true
		if len(proc.Families) == 0 {
			add("families", "no engine family is named", "name the families that it is for")
		}
		told := map[problem.Problem]bool{}
		for _, family := range proc.Families {
			var sheet catalogue.Sheet
			if f := cat.Family(family); f != nil {
				sheet = f.Sheet
			}
			for _, f := range proc.Check(family, sheet) {
				f.Path = path + "(" + family + ")." + f.Path
				if !told[f.Problem] {
					told[f.Problem] = true
					out = append(out, f)
				}
			}
		}
	}
	return out
}
