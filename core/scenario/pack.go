package scenario

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"

	"zanjero/core/problem"
)

// The form of packs of scenarios (api/scenarios.schema.json).
const (
	PackFormat   = "zanjero.scenarios"
	PackVersion  = 1
	MaxPackBytes = 4 << 20
	maxInPack    = 200
)

// Pack is scenarios as they are carried from one yard to another.
type Pack struct {
	Format    string `json:"format"`
	Version   int    `json:"version"`
	Name      string `json:"name,omitempty"`
	Scenarios []Form `json:"scenarios"`
}

// ReadPack reads a pack whole, or says all that is wrong with it, with its place; then no
// pack comes back.
func ReadPack(r io.Reader) (*Pack, []problem.Problem, error) {
	raw, err := io.ReadAll(io.LimitReader(r, MaxPackBytes+1))
	if err != nil {
		return nil, nil, err
	}
	one := func(p *problem.Problem) (*Pack, []problem.Problem, error) { return nil, []problem.Problem{*p}, nil }
	if len(raw) > MaxPackBytes {
		return one(problem.New("", "scenario.form-too-long", "most", MaxPackBytes))
	}
	// What it is comes first: a pack of a later version may have members that are not
	// known here.
	var head struct {
		Format  string `json:"format"`
		Version int    `json:"version"`
	}
	if err := json.Unmarshal(raw, &head); err != nil {
		return one(asProblem(notRead(err)))
	}
	switch {
	case head.Format != PackFormat:
		return one(problem.New("format", "scenario.not-a-pack", "format", head.Format, "want", PackFormat))
	case head.Version != PackVersion:
		return one(problem.New("version", "scenario.pack-of-another-version", "version", head.Version, "want", PackVersion))
	}
	var p Pack
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	if err := d.Decode(&p); err != nil {
		return one(asProblem(notRead(err)))
	}
	if n := len(p.Scenarios); n == 0 || n > maxInPack {
		return one(problem.New("scenarios", "scenario.pack-holds", "count", n, "most", maxInPack))
	}
	var out []problem.Problem
	for i := range p.Scenarios {
		_, bad := p.Scenarios[i].Scenario()
		for _, b := range bad {
			out = append(out, *b.At(fmt.Sprintf("scenarios[%d].", i)))
		}
	}
	if len(out) > 0 {
		return nil, out, nil
	}
	return &p, nil, nil
}

// asProblem is what notRead gives, which is always one.
func asProblem(err error) *problem.Problem {
	p, _ := err.(*problem.Problem)
	return p
}
