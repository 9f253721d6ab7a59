package yard

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/internal/store"
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
	// Level and Minutes are what it was worked out to come to.
	Level   int     `json:"level"`
	Minutes float64 `json:"minutes"`
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

// shelve keeps a scenario in the library of a yard.
func shelve(ctx context.Context, st *store.Store, s Shelved, m store.Machine, by uuid.UUID) error {
	f := s.Scenario
	f.Machine = m.Family
	raw, err := json.Marshal(f)
	if err != nil {
		return err
	}
	p := &store.Paper{ID: uuid.New(), Kind: store.PaperScenario, OwnerID: by, MachineID: m.ID, Title: f.Title, Complaint: f.Complaint,
		Draft: raw, Changes: 1, Level: &s.Level, Minutes: &s.Minutes}
	first := (&store.Paper{Machine: m, Changes: 1}).GoesBy(machine.Version, 0)
	p.WorkedFor = &first
	return st.AddPapers(ctx, p)
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
