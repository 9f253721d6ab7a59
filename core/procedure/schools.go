package procedure

import (
	_ "embed"
	"encoding/json"
)

//go:embed schools.json
var schools []byte

// Schools gives the five ways of teaching that ship with the program, as a page for
// each complaint. The pack is the caller's own copy.
func Schools() *Pack {
	var p Pack
	if err := json.Unmarshal(schools, &p); err != nil {
		panic(err) // the package's own test rules it out
	}
	return &p
}

// SchoolsJSON is that pack as it is written.
func SchoolsJSON() string { return string(schools) }
