package yard

import (
	"encoding/json"
	"fmt"

	"zanjero/core/scenario"
)

// LibraryFormat is the version of the library file that this loader reads.
const LibraryFormat = "zanjero-library-1"

// Library is the scenarios of a yard as they stand in a file.
type Library struct {
	Format    string    `json:"format"`
	Note      string    `json:"note"`
	Scenarios []Shelved `json:"scenarios"`
}

// Shelved is a scenario on a machine of the yard, by code.
type Shelved struct {
	MachineCode string        `json:"machine_code"`
	Scenario    scenario.Form `json:"scenario"`
}

// ParseLibrary reads a library file and says what is wrong with it.
func ParseLibrary(raw []byte) (*Library, error) {
	var l Library
	if err := json.Unmarshal(raw, &l); err != nil {
		return nil, fmt.Errorf("library file: %w", err)
	}
	if l.Format != LibraryFormat {
		return nil, fmt.Errorf("library file: format %q is not %q; it was written by another version", l.Format, LibraryFormat)
	}
	return &l, nil
}

// Find gives a scenario by its title, or nil.
func (l *Library) Find(title string) *Shelved {
	for i := range l.Scenarios {
		if l.Scenarios[i].Scenario.Title == title {
			return &l.Scenarios[i]
		}
	}
	return nil
}

// Machine gives a machine by its code, or nil.
func (f *File) Machine(code string) *Machine {
	for i := range f.Machines {
		if f.Machines[i].Code == code {
			return &f.Machines[i]
		}
	}
	return nil
}
