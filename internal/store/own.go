package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// OwnFigures are the yard's own minutes and base rates, as JSON. With none kept yet,
// Changes is zero and Figures empty.
type OwnFigures struct {
	TheOne    bool `gorm:"primaryKey"`
	Figures   []byte
	Changes   int
	ChangedBy uuid.UUID
	ChangedAt time.Time
}

// OwnFigures gives them as they stand.
func (s *Store) OwnFigures(ctx context.Context) (OwnFigures, error) {
	var all []OwnFigures
	if err := s.db.WithContext(ctx).Find(&all).Error; err != nil || len(all) == 0 {
		return OwnFigures{}, err
	}
	return all[0], nil
}

// SaveOwnFigures keeps figures that were read at o.Changes, and gives ErrStale where
// somebody else has kept others since.
func (s *Store) SaveOwnFigures(ctx context.Context, o OwnFigures) error {
	at := o.Changes
	o.TheOne, o.Changes, o.ChangedAt = true, at+1, time.Now()
	done := s.db.WithContext(ctx).Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "the_one"}},
		DoUpdates: clause.AssignmentColumns([]string{"figures", "changes", "changed_by", "changed_at"}),
		Where:     clause.Where{Exprs: []clause.Expression{clause.Eq{Column: "own_figures.changes", Value: at}}}}).Create(&o)
	if done.Error != nil {
		return done.Error
	}
	if done.RowsAffected == 0 {
		return ErrStale
	}
	return nil
}

// HiddenIn is a fault that was hidden in a finished job.
type HiddenIn struct {
	Family, Fault string
	Jobs          int
}

// FinishedFaults counts what was hidden in the jobs that somebody has handed over, by family.
// First jobs, resits, trials and what was taken to practise are left out.
func (s *Store) FinishedFaults(ctx context.Context) (out []HiddenIn, err error) {
	return out, s.db.WithContext(ctx).Raw(`SELECT j.scenario ->> 'family' AS family, f ->> 'id' AS fault, count(*) AS jobs
		FROM jobs j, jsonb_array_elements(j.scenario -> 'faults') f
		WHERE NOT j.first AND NOT j.practice AND j.resit_of IS NULL AND coalesce(j.scenario ->> 'trial', '') <> 'true'
			AND EXISTS (SELECT 1 FROM attempts a WHERE a.job_id = j.id AND a.state = ?)
		GROUP BY 1, 2`, StateHandedOver).Scan(&out).Error
}
