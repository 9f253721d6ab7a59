package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// ReviewAct is something that a person did to an assessment; the database refuses to
// change it.
type ReviewAct struct {
	AttemptID uuid.UUID `gorm:"primaryKey"`
	Seq       int       `gorm:"primaryKey"`
	ByID      uuid.UUID
	By        Person
	At        time.Time `gorm:"default:now()"`
	Kind      string
	Body      json.RawMessage `gorm:"type:jsonb"`
}

// Standing is what lists show of a marked attempt.
type Standing struct {
	Outcome, Class string
	Mark, Of       float64
	// Untested: no test that could tell anything was made, and no person says that it counts
	// all the same.
	Untested         bool
	Signed, Appealed bool
	// Awaits is who is to mark second, nil for nobody.
	Awaits *uuid.UUID
}

// ReviewActs lists what was done to the assessment of an attempt, in order, with who did it.
func (s *Store) ReviewActs(ctx context.Context, attempt uuid.UUID) (as []ReviewAct, err error) {
	return as, s.db.WithContext(ctx).Joins("By").Order("seq").Find(&as, "attempt_id = ?", attempt).Error
}

// Review keeps an act that comes after so many others, and what the attempt comes to with
// it. Where somebody else was quicker it is ErrMoved, and nothing is kept. now is told the
// acts before, and gives what to keep; its error keeps nothing either.
func (s *Store) Review(ctx context.Context, attempt uuid.UUID, after int, now func(tx *Store, before []ReviewAct) (ReviewAct, Standing, error)) error {
	return s.Together(ctx, func(tx *Store) error {
		var a Attempt
		if err := tx.db.Clauses(clause.Locking{Strength: "UPDATE"}).Select("id").First(&a, "id = ?", attempt).Error; err != nil {
			return err
		}
		before, err := tx.ReviewActs(ctx, attempt)
		if err != nil {
			return err
		}
		if len(before) != after {
			return ErrMoved
		}
		act, st, err := now(tx, before)
		if err != nil {
			return err
		}
		act.AttemptID, act.Seq = attempt, after
		if err := tx.db.Omit("By").Create(&act).Error; err != nil {
			return err
		}
		return tx.db.Model(&Attempt{}).Where("id = ?", attempt).Updates(map[string]any{"outcome": st.Outcome, "class": st.Class, "mark": st.Mark,
			"mark_of": st.Of, "untested": st.Untested, "signed": st.Signed, "appealed": st.Appealed, "awaits": st.Awaits}).Error
	})
}

// ToReview lists at most so many marked attempts for whoever marks: those with an appeal
// first, then those not signed off by how much they are in doubt, then the signed ones.
// First jobs and what was taken to practise are left out.
func (s *Store) ToReview(ctx context.Context, limit int) (as []Attempt, err error) {
	return as, s.db.WithContext(ctx).Omit("Draft", "Assessment").Joins("Apprentice").
		Joins("Job", s.db.Omit("Scenario")).Joins("Job.Machine", s.db.Omit("Sheet")).
		Where(`attempts.state = ? AND NOT "Job".first AND NOT "Job".practice`, StateHandedOver).
		Order("attempts.appealed DESC, attempts.signed, attempts.doubt DESC NULLS LAST, attempts.handed_at DESC, attempts.id").Limit(limit).Find(&as).Error
}

// Markers lists those who may mark, by name.
func (s *Store) Markers(ctx context.Context) (ps []Person, err error) {
	return ps, s.db.WithContext(ctx).Where("role IN ? AND NOT disabled AND left_at IS NULL", []string{Instructor, Assessor}).Order("display_name").Find(&ps).Error
}

// GiveNew keeps a job that somebody was not given before and puts it into their hands.
func (s *Store) GiveNew(ctx context.Context, j *Job, to uuid.UUID, version string, seed func(uuid.UUID) int64) (a Attempt, err error) {
	return a, s.Together(ctx, func(tx *Store) error {
		if err := tx.AddJob(ctx, j); err != nil {
			return err
		}
		if err := tx.give(j.ID, to, version, seed); err != nil {
			return err
		}
		return tx.db.Omit("Draft", "Assessment").First(&a, "job_id = ? AND apprentice_id = ? AND state <> ?", j.ID, to, StateClosed).Error
	})
}
