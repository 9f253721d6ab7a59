package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Engine is a machine of the yard that stands there in iron.
type Engine struct {
	MachineID uuid.UUID `gorm:"primaryKey"`
	Machine   Machine
	Serial    string
	Note      string
}

// Bug is the card of a fault that was put into an engine.
type Bug struct {
	ID        uuid.UUID
	MachineID uuid.UUID
	Body      json.RawMessage `gorm:"type:jsonb"`
	// Open until the engine is released; JobID is what it was given out with, nil before.
	Open  bool `gorm:"default:true"`
	JobID *uuid.UUID
	Acts  []BugAct
}

// BugAct is a step of a card; the database refuses to change it.
type BugAct struct {
	BugID uuid.UUID `gorm:"primaryKey"`
	Seq   int       `gorm:"primaryKey"`
	Kind  string
	Body  json.RawMessage `gorm:"type:jsonb"`
	ByID  uuid.UUID
	By    Person
	At    time.Time `gorm:"default:now()"`
}

func withActs(db *gorm.DB) *gorm.DB {
	return db.Preload("Acts", func(db *gorm.DB) *gorm.DB { return db.Joins("By").Order("seq") })
}

// Engines lists the real ones with their machines, by code.
func (s *Store) Engines(ctx context.Context) (es []Engine, err error) {
	return es, s.db.WithContext(ctx).Joins("Machine").Order(`"Machine".code`).Find(&es).Error
}

// Engine gives the one that a machine is, or ErrNotFound.
func (s *Store) Engine(ctx context.Context, machine uuid.UUID) (e Engine, err error) {
	return e, s.db.WithContext(ctx).Joins("Machine").First(&e, "machine_id = ?", machine).Error
}

// KeepEngine keeps what is said of a real engine. A serial number that another has is a
// duplicate.
func (s *Store) KeepEngine(ctx context.Context, e *Engine) error {
	return s.db.WithContext(ctx).Omit("Machine").
		Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "machine_id"}}, DoUpdates: clause.AssignmentColumns([]string{"serial", "note"})}).Create(e).Error
}

// OpenBugs lists the cards of engines that are not fit, with their acts.
func (s *Store) OpenBugs(ctx context.Context) (bs []Bug, err error) {
	return bs, withActs(s.db.WithContext(ctx)).Find(&bs, "open").Error
}

// BugsOf lists the cards of an engine, the latest first, with their acts.
func (s *Store) BugsOf(ctx context.Context, machine uuid.UUID) (bs []Bug, err error) {
	latest := "open DESC, (SELECT max(at) FROM bug_acts WHERE bug_id = bugs.id) DESC"
	return bs, withActs(s.db.WithContext(ctx)).Order(latest).Find(&bs, "machine_id = ?", machine).Error
}

// Bug gives a card with its acts, or ErrNotFound.
func (s *Store) Bug(ctx context.Context, id uuid.UUID) (b Bug, err error) {
	return b, withActs(s.db.WithContext(ctx)).First(&b, "id = ?", id).Error
}

// AddBug keeps a card with its first act. An engine that has an open card already is a
// duplicate, and so is the same id.
func (s *Store) AddBug(ctx context.Context, b *Bug, first BugAct) error {
	return s.Together(ctx, func(tx *Store) error {
		if err := tx.db.Omit("Acts").Create(b).Error; err != nil {
			return err
		}
		first.BugID = b.ID
		return tx.db.Omit("By").Create(&first).Error
	})
}

// ActOnBug keeps an act that comes after so many others; where somebody else was quicker it
// is ErrMoved, and nothing is kept. With a job, the engine is given out by it, in one.
func (s *Store) ActOnBug(ctx context.Context, act BugAct, released bool, give func(tx *Store) (uuid.UUID, error)) error {
	return s.Together(ctx, func(tx *Store) error {
		var b Bug
		if err := tx.db.Clauses(clause.Locking{Strength: "UPDATE"}).First(&b, "id = ?", act.BugID).Error; err != nil {
			return err
		}
		var n int64
		if err := tx.db.Model(&BugAct{}).Where("bug_id = ?", b.ID).Count(&n).Error; err != nil {
			return err
		}
		if int(n) != act.Seq {
			return ErrMoved
		}
		if err := tx.db.Omit("By").Create(&act).Error; err != nil {
			return err
		}
		to := map[string]any{"open": !released}
		if give != nil {
			job, err := give(tx)
			if err != nil {
				return err
			}
			to["job_id"] = job
		}
		return tx.db.Model(&Bug{}).Where("id = ?", b.ID).Updates(to).Error
	})
}
