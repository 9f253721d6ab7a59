package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zanjero/core/roster"
)

// Class is who is taught together. It follows its record in the roster.
type Class struct {
	ID        uuid.UUID
	SourcedID string
	Title     string
	// Term are the titles of its terms; Starts and Ends are the first and the last day of
	// all of them.
	Term         string
	Starts, Ends time.Time
	HasLeft      bool
}

// Member is somebody in a class, by an enrolment.
type Member struct {
	ClassID, PersonID uuid.UUID
	SourcedID         string
	Role              string
}

// TableName is where they are.
func (Member) TableName() string { return "class_members" }

// rosterRecord is a record as it is kept.
type rosterRecord struct {
	Kind, ID     string
	Record       json.RawMessage `gorm:"type:jsonb"`
	HasLeft, Own bool
}

// TableName is where they are.
func (rosterRecord) TableName() string { return "roster_records" }

// RosterRoles are the roles here of those of a roster, and back.
var (
	rolesHere = map[string]string{roster.Student: Apprentice, roster.Teacher: Instructor, roster.Aide: Assessor, roster.Proctor: Assessor,
		roster.Administrator: Coordinator}
	rolesThere = map[string]string{Apprentice: roster.Student, Instructor: roster.Teacher, Assessor: roster.Proctor, Coordinator: roster.Administrator}
)

// RosterRole is the role of a roster for one of here.
func RosterRole(here string) string { return rolesThere[here] }

const rosterCounter = "roster"

// Roster gives the roster as it stands, with everybody in it who was added here by hand, and
// how often it was changed. Those have their own id in place of a school's.
func (s *Store) Roster(ctx context.Context) (r roster.Roster, changes int64, err error) {
	err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		r, changes, err = readRoster(tx)
		return err
	}, &sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true})
	return r, changes, err
}

func readRoster(tx *gorm.DB) (roster.Roster, int64, error) {
	var changes int64
	if err := tx.Raw("SELECT value FROM counters WHERE name = ?", rosterCounter).Scan(&changes).Error; err != nil {
		return nil, 0, err
	}
	var records []rosterRecord
	if err := tx.Find(&records).Error; err != nil {
		return nil, 0, err
	}
	r := roster.Roster{}.Clone()
	for _, x := range records {
		var rec roster.Record
		if err := json.Unmarshal(x.Record, &rec); err != nil {
			return nil, 0, err
		}
		r[x.Kind][x.ID] = roster.Kept{Record: rec, Left: x.HasLeft, Own: x.Own}
	}
	var own []Person
	if err := tx.Where("sourced_id IS NULL AND erased_at IS NULL").Find(&own).Error; err != nil {
		return nil, 0, err
	}
	if len(own) > 0 {
		id, rec := roster.OwnOrg()
		if _, there := r[roster.Orgs][id]; !there {
			r[roster.Orgs][id] = roster.Kept{Record: rec, Own: true}
		}
	}
	for i := range own {
		p := &own[i]
		r[roster.Users][p.ID.String()] = roster.Kept{Own: true, Left: p.LeftAt != nil, Record: roster.Person(p.DisplayName, p.Name, rolesThere[p.Role])}
	}
	return r, changes, nil
}

// batch is how many rows go into one statement.
const batch = 500

// TakeRoster takes in what a comparison says, with the roster as it stood at changes: all of
// it or nothing. It gives ErrStale where the roster has changed since, and asks that nothing
// of the comparison is wrong. told, unless it is nil, hears how far it is, 0 to 1.
func (s *Store) TakeRoster(ctx context.Context, changes int64, c *roster.Comparison, told func(done float64)) error {
	if told == nil {
		told = func(float64) {}
	}
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		moved := tx.Exec("UPDATE counters SET value = value + 1 WHERE name = ? AND value = ?", rosterCounter, changes)
		if moved.Error != nil {
			return moved.Error
		}
		if moved.RowsAffected == 0 {
			return ErrStale
		}
		t := taking{tx: tx, c: c, touched: map[string]map[string]bool{}}
		for _, ch := range c.Changes {
			if slices.Contains([]string{roster.Added, roster.Changed, roster.Back, roster.Leaves}, ch.Act) {
				if t.touched[ch.Table] == nil {
					t.touched[ch.Table] = map[string]bool{}
				}
				t.touched[ch.Table][ch.ID] = true
			}
		}
		for i, step := range []func() error{t.records, t.people, t.classes, t.members} {
			if err := step(); err != nil {
				return err
			}
			told(float64(i+1) / 4)
		}
		return nil
	})
}

// taking is a comparison as it is taken in.
type taking struct {
	tx      *gorm.DB
	c       *roster.Comparison
	touched map[string]map[string]bool // ids by table
	person  map[string]uuid.UUID       // by the school's id
}

func (t *taking) ids(table string) []string { return slices.Sorted(maps.Keys(t.touched[table])) }

func (t *taking) records() error {
	var rows []rosterRecord
	for _, table := range roster.Tables {
		for _, id := range t.ids(table.Name) {
			k := t.c.After[table.Name][id]
			raw, err := json.Marshal(k.Record)
			if err != nil {
				return err
			}
			rows = append(rows, rosterRecord{table.Name, id, raw, k.Left, k.Own})
		}
	}
	if len(rows) == 0 {
		return nil
	}
	return t.tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "kind"}, {Name: "id"}},
		DoUpdates: clause.AssignmentColumns([]string{"record", "has_left", "own"})}).CreateInBatches(rows, batch).Error
}

// people makes, changes, lets go and lets in again who is in the roster.
func (t *taking) people() error {
	var all []Person
	if err := t.tx.Find(&all).Error; err != nil {
		return err
	}
	t.person = map[string]uuid.UUID{}
	byID, named := map[string]*Person{}, map[string]*Person{}
	for i := range all {
		p := &all[i]
		id := p.ID.String()
		if p.SourcedID != nil {
			id = *p.SourcedID
		}
		byID[id], named[p.Name], t.person[id] = p, p, p.ID
	}
	var added []*Person
	var changed, renamed []*Person
	ids := t.ids(roster.Users)
	slices.SortStableFunc(ids, func(a, b string) int { // who leaves makes room
		return strings.Compare(fmt.Sprint(!t.c.After[roster.Users][a].Left), fmt.Sprint(!t.c.After[roster.Users][b].Left))
	})
	for _, id := range ids {
		k := t.c.After[roster.Users][id]
		p := byID[id]
		if p == nil {
			p = &Person{ID: uuid.New(), SessionEpoch: 1}
			added = append(added, p)
		} else {
			changed = append(changed, p)
		}
		was := p.Name
		if follow(p, id, &k); was != p.Name && was != "" {
			renamed = append(renamed, p)
		}
		t.person[id] = p.ID
		if other := named[p.Name]; other != nil && other.ID != p.ID && other.LeftAt != nil { // a name that is free again
			other.Name += "~" + other.ID.String()[:8]
			changed, renamed = append(changed, other), append(renamed, other)
		}
	}
	for _, p := range renamed { // names first move out of the way, then to where they go
		if err := t.tx.Model(&Person{}).Where("id = ?", p.ID).Update("name", gorm.Expr("name || '~' || id")).Error; err != nil {
			return err
		}
	}
	for _, p := range changed {
		if err := t.tx.Select("*").Updates(p).Error; err != nil {
			return err
		}
	}
	if len(added) == 0 {
		return nil
	}
	return t.tx.CreateInBatches(added, batch).Error
}

// follow makes somebody what a record says.
func follow(p *Person, id string, k *roster.Kept) {
	role := rolesHere[k.Record["role"]]
	disabled := k.Record["enabledUser"] == "false"
	left := p.LeftAt
	if k.Left && left == nil {
		now := time.Now()
		left = &now
	} else if !k.Left {
		left = nil
	}
	if p.Role != role || disabled != p.Disabled || (left == nil) != (p.LeftAt == nil) {
		p.SessionEpoch++ // sessions end that began with other rights
	}
	p.SourcedID, p.Role, p.Disabled, p.LeftAt = &id, role, disabled, left
	p.Name, p.DisplayName = strings.ToLower(k.Record["username"]), roster.Title(roster.Users, k.Record)
}

func (t *taking) classes() error {
	after := t.c.After
	touched := t.touched[roster.Classes]
	if touched == nil {
		touched = map[string]bool{}
	}
	if len(t.touched[roster.Terms]) > 0 { // a term that moves moves its classes
		for id := range after[roster.Classes] {
			touched[id] = true
		}
	}
	var rows []Class
	for _, id := range slices.Sorted(maps.Keys(touched)) {
		k := after[roster.Classes][id]
		term, starts, ends := after.TermsOf(k.Record)
		c := Class{ID: uuid.New(), SourcedID: id, Title: k.Record["title"], Term: term, HasLeft: k.Left}
		for _, d := range []struct {
			says string
			to   *time.Time
		}{{starts, &c.Starts}, {ends, &c.Ends}} {
			day, err := time.Parse(time.DateOnly, d.says)
			if err != nil {
				return err
			}
			*d.to = day
		}
		rows = append(rows, c)
	}
	if len(rows) == 0 {
		return nil
	}
	return t.tx.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "sourced_id"}},
		DoUpdates: clause.AssignmentColumns([]string{"title", "term", "starts", "ends", "has_left"})}).CreateInBatches(rows, batch).Error
}

func (t *taking) members() error {
	ids := t.ids(roster.Enrollments)
	if len(ids) == 0 {
		return nil
	}
	var classes []Class
	if err := t.tx.Find(&classes).Error; err != nil {
		return err
	}
	class := map[string]uuid.UUID{}
	for _, c := range classes {
		class[c.SourcedID] = c.ID
	}
	for part := range slices.Chunk(ids, 10*batch) {
		if err := t.tx.Delete(&Member{}, "sourced_id IN ?", part).Error; err != nil {
			return err
		}
	}
	var rows []Member
	for _, id := range ids {
		k := t.c.After[roster.Enrollments][id]
		if k.Left {
			continue
		}
		m := Member{class[k.Record["classSourcedId"]], t.person[k.Record["userSourcedId"]], id, rolesHere[k.Record["role"]]}
		if m.ClassID == uuid.Nil || m.PersonID == uuid.Nil {
			return errors.New("an enrolment of somebody or something that is not kept: " + id)
		}
		rows = append(rows, m)
	}
	if len(rows) == 0 {
		return nil
	}
	return t.tx.CreateInBatches(rows, batch).Error
}

// Classes lists those that are held, by title; of one person where who is not nil.
func (s *Store) Classes(ctx context.Context, who *uuid.UUID) (cs []Class, err error) {
	q := s.db.WithContext(ctx).Where("NOT has_left").Order("ends DESC, title, id")
	if who != nil {
		q = q.Where("id IN (SELECT class_id FROM class_members WHERE person_id = ?)", *who)
	}
	return cs, q.Find(&cs).Error
}

// Members lists who is in the classes that are held.
func (s *Store) Members(ctx context.Context) (ms []Member, err error) {
	return ms, s.db.WithContext(ctx).Where("class_id IN (SELECT id FROM classes WHERE NOT has_left)").Order("sourced_id").Find(&ms).Error
}

// NewPasswords gives people passwords that are to be changed at the first sign-in, and ends
// their sessions.
func (s *Store) NewPasswords(ctx context.Context, hashes map[uuid.UUID]string) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		for id, hash := range hashes {
			if err := (&Store{db: tx, sql: s.sql}).changePerson(ctx, id, map[string]any{"password_hash": hash, "must_change": true,
				"session_epoch": gorm.Expr("session_epoch + 1")}); err != nil {
				return err
			}
		}
		return nil
	})
}

// OwnPassword keeps the password that somebody chose, and gives the epoch that their next
// session has: all before it end.
func (s *Store) OwnPassword(ctx context.Context, id uuid.UUID, hash string) (epoch int, err error) {
	row := s.db.WithContext(ctx).Raw(`UPDATE people SET password_hash = ?, must_change = false, session_epoch = session_epoch + 1 WHERE id = ?
		RETURNING session_epoch`, hash, id)
	return epoch, row.Scan(&epoch).Error
}

// PersonBySource gives somebody by the school's id, or ErrNotFound.
func (s *Store) PersonBySource(ctx context.Context, id string) (p Person, err error) {
	return p, s.db.WithContext(ctx).First(&p, "sourced_id = ?", id).Error
}

// Class gives a class, or ErrNotFound.
func (s *Store) Class(ctx context.Context, id uuid.UUID) (c Class, err error) {
	return c, s.db.WithContext(ctx).First(&c, "id = ?", id).Error
}

// ClassBySource gives a class by the school's id, or ErrNotFound.
func (s *Store) ClassBySource(ctx context.Context, id string) (c Class, err error) {
	return c, s.db.WithContext(ctx).First(&c, "sourced_id = ?", id).Error
}

// ClassJobs lists what was given to a class, the latest first, of so many acts at most.
func (s *Store) ClassJobs(ctx context.Context, class uuid.UUID, acts int) (js []Job, err error) {
	return js, s.db.WithContext(ctx).Omit("Scenario").Joins("Machine", s.db.Omit("Sheet")).Where(`jobs.class_id = ? AND coalesce(jobs.giving, jobs.id) IN (
		SELECT coalesce(giving, id) FROM jobs WHERE class_id = ? GROUP BY 1 ORDER BY max(number) DESC LIMIT ?)`, class, class, acts).
		Order("jobs.number DESC").Find(&js).Error
}

// LastActs gives when something was last done on the attempts of jobs, by attempt.
func (s *Store) LastActs(ctx context.Context, jobs []uuid.UUID) (map[uuid.UUID]time.Time, error) {
	var rows []struct {
		ID uuid.UUID
		At time.Time
	}
	err := s.db.WithContext(ctx).Raw(`SELECT a.id, e.at FROM attempts a JOIN LATERAL (
		SELECT at FROM events WHERE attempt_id = a.id ORDER BY seq DESC LIMIT 1) e ON true WHERE a.job_id IN ?`, append(jobs, uuid.Nil)).Scan(&rows).Error
	out := map[uuid.UUID]time.Time{}
	for _, r := range rows {
		out[r.ID] = r.At
	}
	return out, err
}
