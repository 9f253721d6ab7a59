package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// Standard is the outside training standard of the yard, as JSON. With none kept yet,
// Changes is zero and Body empty.
type Standard struct {
	TheOne    bool   `gorm:"primaryKey"`
	Body      []byte `gorm:"type:jsonb"`
	Changes   int
	ChangedBy uuid.UUID
	ChangedAt time.Time
}

// TableName is where it is.
func (Standard) TableName() string { return "standard" }

// Standard gives it as it stands.
func (s *Store) Standard(ctx context.Context) (Standard, error) {
	var all []Standard
	if err := s.db.WithContext(ctx).Find(&all).Error; err != nil || len(all) == 0 {
		return Standard{}, err
	}
	return all[0], nil
}

// SaveStandard keeps one that was read at x.Changes, and gives ErrStale where somebody else
// has kept another since.
func (s *Store) SaveStandard(ctx context.Context, x Standard) error {
	at := x.Changes
	x.TheOne, x.Changes, x.ChangedAt = true, at+1, time.Now()
	if at > 0 {
		done := s.db.WithContext(ctx).Model(&Standard{}).Where("changes = ?", at).Select("body", "changes", "changed_by", "changed_at").Updates(&x)
		if done.Error == nil && done.RowsAffected == 0 {
			return ErrStale
		}
		return done.Error
	}
	done := s.db.WithContext(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&x)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrStale
	}
	return done.Error
}

// MarkedOf lists somebody's marked attempts with their assessments, the oldest first, and what
// people did to them, by attempt. First jobs are left out.
func (s *Store) MarkedOf(ctx context.Context, who uuid.UUID) (as []Attempt, acts map[uuid.UUID][]ReviewAct, err error) {
	err = s.db.WithContext(ctx).Omit("Draft").Joins("Job").Joins("Job.Machine", s.db.Omit("Sheet")).
		Where(`attempts.apprentice_id = ? AND attempts.state = ? AND NOT "Job".first`, who, StateHandedOver).
		Order("attempts.handed_at, attempts.id").Find(&as).Error
	if err != nil {
		return nil, nil, err
	}
	var all []ReviewAct
	err = s.db.WithContext(ctx).Joins("By").Order("review_acts.attempt_id, review_acts.seq").
		Find(&all, "review_acts.attempt_id IN (SELECT id FROM attempts WHERE apprentice_id = ?)", who).Error
	acts = map[uuid.UUID][]ReviewAct{}
	for _, a := range all {
		acts[a.AttemptID] = append(acts[a.AttemptID], a)
	}
	return as, acts, err
}
