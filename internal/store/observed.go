package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// Observed is what somebody who teaches has seen at a real engine.
type Observed struct {
	AttemptID uuid.UUID `gorm:"primaryKey"`
	Kind      string    `gorm:"primaryKey"`
	Item      string    `gorm:"primaryKey"`
	Initials  string
	ByID      uuid.UUID
	By        Person
	At        time.Time `gorm:"default:now()"`
}

// TableName is one thing, however many there are.
func (Observed) TableName() string { return "observed" }

// Observe keeps what was seen, and whoever is at the bench is told. What was seen before
// stays as it was.
func (s *Store) Observe(ctx context.Context, o *Observed) error {
	return s.Together(ctx, func(tx *Store) error {
		kept := tx.db.Omit("By").Clauses(clause.OnConflict{DoNothing: true}).Create(o)
		if kept.Error != nil || kept.RowsAffected == 0 {
			return kept.Error
		}
		return tx.db.Exec("UPDATE attempts SET hinted = hinted + 1 WHERE id = ?", o.AttemptID).Error
	})
}

// ObservedAt lists what was seen at an attempt, in the order in which it was seen.
func (s *Store) ObservedAt(ctx context.Context, attempt uuid.UUID) (os []Observed, err error) {
	return os, s.db.WithContext(ctx).Joins("By").Order("observed.at").Find(&os, "attempt_id = ?", attempt).Error
}

// ObservedOf lists what was seen of somebody's work, the latest first.
func (s *Store) ObservedOf(ctx context.Context, who uuid.UUID) (os []Observed, err error) {
	return os, s.db.WithContext(ctx).Joins("By").Order("observed.at DESC").
		Find(&os, "attempt_id IN (SELECT id FROM attempts WHERE apprentice_id = ?)", who).Error
}
