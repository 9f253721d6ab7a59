package yard

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"zanjero/core/assess"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/core/shop"
	"zanjero/internal/store"
)

// ExamFormat is the version of the exam file that this loader reads.
const ExamFormat = "zanjero-exam-1"

// Exam is a practical exam of a yard as it stands in a file, begun some time ago.
type Exam struct {
	Format       string       `json:"format"`
	Note         string       `json:"note"`
	Title        string       `json:"title"`
	BegunMinutes int          `json:"begun_minutes"` // ago
	Minutes      int          `json:"minutes"`
	Rest         int          `json:"rest"`
	LimitMoney   float64      `json:"limit_money"`
	People       []string     `json:"people"` // by sign-in name
	Instruments  []ExamGauge  `json:"instruments"`
	Engines      []ExamEngine `json:"engines"`
	// Queue has an attempt that was handed over marked; nil leaves it unmarked.
	Queue func(ctx context.Context, tx *sql.Tx, attempt uuid.UUID) error `json:"-"`
}

// ExamGauge is an instrument of the shop.
type ExamGauge struct {
	Code      string             `json:"code"`
	Name      string             `json:"name"`
	CheckedOn string             `json:"checked_on"`
	DueOn     string             `json:"due_on"`
	Reads     map[string]float64 `json:"reads"`
}

// ExamEngine is a real engine with its fault, and the turns on it that are over.
type ExamEngine struct {
	MachineCode string               `json:"machine_code"`
	Serial      string               `json:"serial"`
	Note        string               `json:"note"`
	Bug         shop.Bug             `json:"bug"`
	Bugged      []ledger.HandReading `json:"bugged"`
	Turns       []ExamTurn           `json:"turns"`
}

// ExamTurn is what somebody did on an engine.
type ExamTurn struct {
	Person string          `json:"person"`
	Skills []string        `json:"skills"` // of the hand, that were seen
	Events []ledger.Event  `json:"events"`
	Hand   assess.HandOver `json:"hand_over"`
}

// ParseExam reads an exam file and says what is wrong with it.
func ParseExam(raw []byte) (*Exam, error) {
	var e Exam
	if err := json.Unmarshal(raw, &e); err != nil {
		return nil, fmt.Errorf("exam file: %w", err)
	}
	if e.Format != ExamFormat {
		return nil, fmt.Errorf("exam file: format %q is not %q; it was written by another version", e.Format, ExamFormat)
	}
	return &e, nil
}

// examiner loads an exam.
type examiner struct {
	st       *store.Store
	of       *Exam
	by       uuid.UUID
	initials string
	people   map[string]uuid.UUID
	starts   time.Time
	seed     func(uuid.UUID) int64
}

// debriefsAfter is how long after its beginning the debriefs of an exam are read.
const debriefsAfter = 7 * 24 * time.Hour

func (x *examiner) load(ctx context.Context, machines map[string]store.Machine) error {
	for _, g := range x.of.Instruments {
		if err := x.instrument(ctx, &g); err != nil {
			return fmt.Errorf("instrument %s: %w", g.Code, err)
		}
	}
	var ids []uuid.UUID
	for _, name := range x.of.People {
		id, known := x.people[name]
		if !known {
			return fmt.Errorf("nobody of the file is called %q", name)
		}
		ids = append(ids, id)
	}
	people, err := json.Marshal(ids)
	if err != nil {
		return err
	}
	e := store.Exam{ID: uuid.New(), Title: x.of.Title, StartsAt: x.starts, Minutes: x.of.Minutes, Rest: x.of.Rest, People: people, ByID: x.by}
	for place := range x.of.Engines {
		row, err := x.engine(ctx, &x.of.Engines[place], machines, ids)
		if err != nil {
			return fmt.Errorf("engine %s: %w", x.of.Engines[place].MachineCode, err)
		}
		row.Place = place
		e.Engines = append(e.Engines, row)
	}
	return x.st.AddExam(ctx, &e)
}

func (x *examiner) instrument(ctx context.Context, g *ExamGauge) error {
	i := shop.Instrument{Code: g.Code, Name: g.Name, CheckedOn: g.CheckedOn, DueOn: g.DueOn, Reads: g.Reads}
	if bad := i.Check(); len(bad) > 0 {
		return &bad[0]
	}
	reads, err := json.Marshal(g.Reads)
	if err != nil {
		return err
	}
	row := store.Instrument{ID: uuid.New(), Code: g.Code, Name: g.Name, Reads: reads}
	if row.CheckedOn, err = time.Parse(time.DateOnly, g.CheckedOn); err != nil {
		return err
	}
	if row.DueOn, err = time.Parse(time.DateOnly, g.DueOn); err != nil {
		return err
	}
	return x.st.KeepInstrument(ctx, &row)
}

// engine puts an engine up with its card, gives it out and keeps the turns that are over.
func (x *examiner) engine(ctx context.Context, e *ExamEngine, machines map[string]store.Machine, people []uuid.UUID) (row store.ExamEngine, err error) {
	m := machines[e.MachineCode]
	var sheet catalogue.Sheet
	if err := json.Unmarshal(m.Sheet, &sheet); err != nil {
		return row, err
	}
	if bad := e.Bug.Check(m.Family, sheet); len(bad) > 0 {
		return row, &bad[0]
	}
	if err := x.st.KeepEngine(ctx, &store.Engine{MachineID: m.ID, Serial: e.Serial, Note: e.Note}); err != nil {
		return row, err
	}
	body, err := json.Marshal(e.Bug)
	if err != nil {
		return row, err
	}
	bug := store.Bug{ID: uuid.New(), MachineID: m.ID, Body: body, Open: true}
	card := &shop.Card{Bug: e.Bug}
	act := func(a shop.Act, give func(tx *store.Store) (uuid.UUID, error)) error {
		raw, err := json.Marshal(a)
		if err != nil {
			return err
		}
		next := store.BugAct{BugID: bug.ID, Seq: len(card.Acts), Kind: a.Kind, Body: raw, ByID: x.by}
		card.Acts = append(card.Acts, a)
		if a.Kind == shop.Bugged {
			return x.st.AddBug(ctx, &bug, next)
		}
		return x.st.ActOnBug(ctx, next, false, give)
	}
	if err := act(shop.Act{Kind: shop.Bugged}, nil); err != nil {
		return row, err
	}
	if err := act(shop.Act{Kind: shop.Seen, Symptom: true, Readings: e.Bugged}, nil); err != nil {
		return row, err
	}
	sc := card.Scenario(m.Family, sheet)
	sc.Name, sc.Code, sc.LimitMinutes, sc.LimitMoney, sc.Mode = m.Name, m.Code, float64(x.of.Minutes), x.of.LimitMoney, scenario.ModeExam
	if bad := sc.Check(); len(bad) > 0 {
		return row, &bad[0]
	}
	raw, err := json.Marshal(sc)
	if err != nil {
		return row, err
	}
	debriefs := x.starts.Add(debriefsAfter)
	j := store.Job{ID: uuid.New(), MachineID: m.ID, SetBy: x.by, Scenario: raw, OpensAt: &x.starts, DebriefAt: &debriefs}
	err = act(shop.Act{Kind: shop.Given}, func(tx *store.Store) (uuid.UUID, error) {
		if err := tx.AddJob(ctx, &j); err != nil {
			return j.ID, err
		}
		return j.ID, tx.Give(ctx, j.ID, people, machine.Version, x.seed)
	})
	if err != nil {
		return row, err
	}
	for i := range e.Turns {
		if err := x.turn(ctx, sc, j.ID, &e.Turns[i]); err != nil {
			return row, fmt.Errorf("turn of %s: %w", e.Turns[i].Person, err)
		}
		if err := act(shop.Act{Kind: shop.Again, Symptom: true, Readings: e.Bugged}, nil); err != nil {
			return row, err
		}
	}
	return store.ExamEngine{BugID: bug.ID, JobID: j.ID}, nil
}

// turn keeps what somebody did on an engine, signed as it was seen, and hands it over.
func (x *examiner) turn(ctx context.Context, sc *scenario.Scenario, job uuid.UUID, t *ExamTurn) error {
	all, err := x.st.Attempts(ctx, store.Page{Jobs: []uuid.UUID{job}})
	if err != nil {
		return err
	}
	var a *store.Attempt
	for i := range all {
		if all[i].ApprenticeID == x.people[t.Person] {
			a = &all[i]
		}
	}
	if a == nil {
		return fmt.Errorf("it was not given to them")
	}
	signed := map[string][]string{shop.ObservedHold: shop.Holds, shop.ObservedSkill: t.Skills}
	for kind, items := range signed {
		for _, item := range items {
			o := store.Observed{AttemptID: a.ID, Kind: kind, Item: item, Initials: x.initials, ByID: x.by}
			if err := x.st.Observe(ctx, &o); err != nil {
				return err
			}
		}
	}
	l, err := sc.Ledger(uint64(a.Seed))
	if err != nil {
		return err
	}
	for seq, e := range t.Events {
		if p := l.Apply(e); p != nil {
			return p
		}
		body, err := json.Marshal(e)
		if err != nil {
			return err
		}
		shown, err := json.Marshal(l.Shown())
		if err != nil {
			return err
		}
		row := store.Event{AttemptID: a.ID, Seq: seq, ClientID: uuid.New(), Body: body, Observed: shown}
		if _, err := x.st.AppendAlone(ctx, &row, store.After{Minutes: l.Minutes()}); err != nil {
			return err
		}
	}
	hand, err := json.Marshal(t.Hand)
	if err != nil {
		return err
	}
	return x.st.HandOver(ctx, a.ID, len(t.Events), hand, func(tx *sql.Tx) error {
		if x.of.Queue == nil {
			return nil
		}
		return x.of.Queue(ctx, tx, a.ID)
	})
}
