// Package yard loads a training yard into an empty database.
package yard

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/roster"
	"zanjero/core/scenario"
	"zanjero/internal/password"
	"zanjero/internal/store"
)

// Format is the version of the file that this loader reads.
const Format = "zanjero-yard-1"

// File is a yard as it stands in a file.
type File struct {
	Format   string    `json:"format"`
	Name     string    `json:"name"`
	Note     string    `json:"note"`
	People   []Person  `json:"people"`
	Classes  []Class   `json:"classes"`
	Machines []Machine `json:"machines"`
	Jobs     []Job     `json:"jobs"`
	// Library comes in a file of its own; nil for none.
	Library *Library `json:"-"`
	// Exam too, nil for none.
	Exam *Exam `json:"-"`
}

// Person is a sign-in of the demo.
type Person struct {
	Name        string `json:"name"`
	DisplayName string `json:"display_name"`
	Role        string `json:"role"`
	Password    string `json:"password"`
}

// Class is people of the file, by sign-in name, who are taught together.
type Class struct {
	Title   string   `json:"title"`
	Term    string   `json:"term"`
	Starts  string   `json:"starts"`
	Ends    string   `json:"ends"`
	Members []string `json:"members"`
}

// Machine is an engine of the yard. What its sheet leaves out is as on its
// family's.
type Machine struct {
	Name   string          `json:"name"`
	Code   string          `json:"code"`
	Family string          `json:"family"`
	Duty   string          `json:"duty"`
	Sheet  catalogue.Sheet `json:"sheet"`
}

// Job is a scenario on a machine of the file, by code, and who has it.
type Job struct {
	Machine      string              `json:"machine"`
	Faults       []machine.FaultSpec `json:"faults"`
	Words        string              `json:"words"`
	History      string              `json:"history"`
	Claim        string              `json:"claim"`
	LimitMinutes float64             `json:"limit_minutes"`
	LimitMoney   float64             `json:"limit_money"`
	GivenTo      []string            `json:"given_to"`
}

// Parse reads a yard file and says what is wrong with it.
func Parse(raw []byte) (*File, error) {
	var f File
	if err := json.Unmarshal(raw, &f); err != nil {
		return nil, fmt.Errorf("yard file: %w", err)
	}
	if f.Format != Format {
		return nil, fmt.Errorf("yard file: format %q is not %q; it was written by another version", f.Format, Format)
	}
	return &f, nil
}

// Load puts a yard into a database that has no people yet; otherwise it leaves
// everything as it is and says so. Of several programs that load into one
// database at once, one does. seed gives an attempt its own.
func Load(ctx context.Context, st *store.Store, f *File, h password.Cost, seed func(uuid.UUID) int64) (loaded bool, err error) {
	err = store.Alone(ctx, st.SQL(), func() error {
		fresh, err := st.Empty(ctx)
		if err != nil || !fresh {
			return err
		}
		loaded = true
		return st.Together(ctx, func(tx *store.Store) error { return load(ctx, tx, f, h, seed) })
	})
	return loaded && err == nil, err
}

func load(ctx context.Context, st *store.Store, f *File, h password.Cost, seed func(uuid.UUID) int64) error {
	people, machines := map[string]uuid.UUID{}, map[string]store.Machine{}
	var instructor uuid.UUID
	initials := ""
	for _, p := range f.People {
		row := store.Person{ID: uuid.New(), Name: p.Name, DisplayName: p.DisplayName, Role: p.Role, PasswordHash: h.Hash(p.Password), Demo: true}
		if err := st.AddPerson(ctx, &row); err != nil {
			return fmt.Errorf("person %s: %w", p.Name, err)
		}
		people[p.Name] = row.ID
		if p.Role == store.Instructor {
			instructor = row.ID
			for _, part := range strings.Fields(p.DisplayName) {
				initials += part[:1]
			}
		}
	}
	for _, c := range f.Classes {
		if err := loadClass(ctx, st, &c, people); err != nil {
			return fmt.Errorf("class %q: %w", c.Title, err)
		}
	}
	for _, m := range f.Machines {
		cat := catalogue.Standard()
		if cat.Family(m.Family) == nil {
			return fmt.Errorf("machine %s: unknown family %q", m.Code, m.Family)
		}
		sheet := cat.Complete(m.Family, m.Sheet)
		if ps := cat.CheckSheet(m.Family, sheet); len(ps) > 0 {
			return fmt.Errorf("machine %s: %w", m.Code, &ps[0])
		}
		raw, err := json.Marshal(sheet)
		if err != nil {
			return err
		}
		row := store.Machine{ID: uuid.New(), Name: m.Name, Code: m.Code, Family: m.Family, Duty: m.Duty, Sheet: raw}
		if err := st.AddMachine(ctx, &row); err != nil {
			return fmt.Errorf("machine %s: %w", m.Code, err)
		}
		machines[m.Code] = row
	}
	for i, j := range f.Jobs {
		if err := loadJob(ctx, st, j, machines[j.Machine], instructor, people, seed); err != nil {
			return fmt.Errorf("job %d: %w", i, err)
		}
	}
	if f.Library != nil {
		for _, s := range f.Library.Scenarios {
			if err := shelve(ctx, st, s, machines[s.MachineCode], instructor); err != nil {
				return fmt.Errorf("scenario %q: %w", s.Scenario.Title, err)
			}
		}
	}
	if f.Exam == nil {
		return nil
	}
	x := examiner{st: st, of: f.Exam, by: instructor, initials: initials, people: people, seed: seed,
		starts: time.Now().Add(-time.Duration(f.Exam.BegunMinutes) * time.Minute).Truncate(5 * time.Minute)}
	if err := x.load(ctx, machines); err != nil {
		return fmt.Errorf("exam: %w", err)
	}
	return nil
}

func loadClass(ctx context.Context, st *store.Store, c *Class, people map[string]uuid.UUID) error {
	now, changes, err := st.Roster(ctx)
	if err != nil {
		return err
	}
	to := roster.ClassByHand{ID: uuid.NewString(), Title: c.Title, Term: c.Term, Starts: c.Starts, Ends: c.Ends, Held: true}
	for _, name := range c.Members {
		who, known := people[name]
		if !known {
			return fmt.Errorf("nobody of the file is called %q", name)
		}
		to.Members = append(to.Members, who.String())
	}
	compared := roster.Compare(now, roster.EditClass(now, to))
	for _, ch := range compared.Changes {
		if len(ch.Wrong) > 0 {
			return &ch.Wrong[0]
		}
	}
	return st.TakeRoster(ctx, changes, compared, nil)
}

func loadJob(ctx context.Context, st *store.Store, j Job, m store.Machine, by uuid.UUID, people map[string]uuid.UUID, seed func(uuid.UUID) int64) error {
	sc := scenario.Scenario{Name: m.Name, Code: m.Code, Family: m.Family, Ambient: machine.Ambient{TemperatureC: 20}, Faults: j.Faults, Words: j.Words,
		History: j.History,
		Claim:   j.Claim, LimitMinutes: j.LimitMinutes, LimitMoney: j.LimitMoney}
	if err := json.Unmarshal(m.Sheet, &sc.Sheet); err != nil {
		return fmt.Errorf("machine %q: %w", j.Machine, err)
	}
	if ps := sc.Check(); len(ps) > 0 {
		return &ps[0]
	}
	raw, err := json.Marshal(sc)
	if err != nil {
		return err
	}
	row := store.Job{ID: uuid.New(), MachineID: m.ID, SetBy: by, Scenario: raw}
	if err := st.AddJob(ctx, &row); err != nil {
		return err
	}
	var to []uuid.UUID
	for _, name := range j.GivenTo {
		to = append(to, people[name])
	}
	if to == nil {
		return nil
	}
	return st.Give(ctx, row.ID, to, machine.Version, seed)
}
