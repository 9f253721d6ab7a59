package procedure

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"strconv"

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
		return nil, problem.New("", "procedure.pack-over-4-mib")
	}
	var head struct {
		Format  string `json:"format"`
		Version int    `json:"version"`
	}
	if err := json.Unmarshal(raw, &head); err != nil {
		return nil, badJSON(raw, err)
	}
	if head.Format != Format {
		return nil, problem.New("format", "procedure.no-pack-its-format", "format", head.Format, "known", Format)
	}
	if head.Version < 1 || head.Version > Version {
		return nil, problem.New("version", "procedure.version-program-knows-up", "version", head.Version, "known", Version)
	}
	var p Pack
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	if err := d.Decode(&p); err != nil {
		return nil, badJSON(raw, err)
	}
	if len(p.Procedures) == 0 {
		return nil, problem.New("procedures", "procedure.no-procedure")
	}
	if len(p.Procedures) > 200 {
		return nil, problem.New("procedures", "procedure.procedures-too-many", "count", len(p.Procedures))
	}
	return &p, nil
}

// badJSON says where JSON cannot be read.
func badJSON(raw []byte, err error) *problem.Problem {
	at := func(offset int64) int {
		return 1 + bytes.Count(raw[:min(int(offset), len(raw))], []byte("\n"))
	}
	switch e := err.(type) {
	case *json.SyntaxError:
		return problem.New("line "+strconv.Itoa(at(e.Offset)), "procedure.not-json", "detail", e.Error())
	case *json.UnmarshalTypeError:
		return problem.New(e.Field, "procedure.stands-where-belongs", "value", e.Value, "type", e.Type.String(), "line", at(e.Offset))
	}
	return problem.New("", "procedure.not-of-the-schema", "detail", err.Error())
}

// Check looks every procedure of a pack over on every family that it is written
// for, with the catalogue's sheets. Paths begin with the procedure's.
func (p *Pack) Check() []Remark {
	var out []Remark
	seen := map[string]bool{}
	cat := catalogue.Standard()
	for i, proc := range p.Expand() {
		path := fmt.Sprintf("procedures[%d].", i)
		add := func(at, code string, pairs ...any) {
			out = append(out, Remark{*problem.New(path+at, code, pairs...), true})
		}
		if proc.ID == "" || seen[proc.ID] {
			add("id", "procedure.id-missing-or-stands-twice", "id", proc.ID)
		}
		seen[proc.ID] = true
		if len(proc.Families) == 0 {
			add("families", "procedure.no-engine-family-named")
		}
		told := map[string]bool{}
		for _, family := range proc.Families {
			var sheet catalogue.Sheet
			if f := cat.Family(family); f != nil {
				sheet = f.Sheet
			}
			for _, f := range proc.Check(family, sheet) {
				f.Path = path + "(" + family + ")." + f.Path
				if key := f.Problem.Error(); !told[key] {
					told[key] = true
					out = append(out, f)
				}
			}
		}
	}
	return out
}
