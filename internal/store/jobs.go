package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// AddJob keeps a job and gives it the next number. A job of that id that is
// there already stays as it is, and the error is ErrReused where it is another;
// so the same request may be sent again. The job comes back with its machine.
func (s *Store) AddJob(ctx context.Context, j *Job) error {
	err := s.Together(ctx, func(tx *Store) error {
		var number int64
		err := tx.db.Raw(`INSERT INTO counters AS c (name, value) VALUES ('job', 1)
			ON CONFLICT (name) DO UPDATE SET value = c.value + 1 RETURNING value`).Scan(&number).Error
		if err != nil {
			return err
		}
		row := *j
		row.Number = number
		return tx.db.Omit("Machine").Create(&row).Error
	})
	if err != nil && !IsDuplicate(err) {
		return err
	}
	want := *j
	if err := s.db.WithContext(ctx).Preload("Machine").First(j, "id = ?", want.ID).Error; err != nil {
		return err
	}
	if err != nil && (j.MachineID != want.MachineID || j.SetBy != want.SetBy || !sameJSON(j.Scenario, want.Scenario)) {
		return ErrReused
	}
	return nil
}

// Job gives one by id with its machine, or ErrNotFound.
func (s *Store) Job(ctx context.Context, id uuid.UUID) (j Job, err error) {
	return j, s.db.WithContext(ctx).Preload("Machine").First(&j, "id = ?", id).Error
}

// DebriefAt is from when the debriefs of a job are read, nil for at once, or ErrNotFound.
func (s *Store) DebriefAt(ctx context.Context, job uuid.UUID) (*time.Time, error) {
	var j Job
	err := s.db.WithContext(ctx).Select("debrief_at").First(&j, "id = ?", job).Error
	return j.DebriefAt, err
}

// MoveDebriefs sets from when the debriefs are read of all jobs that were given in one act,
// to a class or in an exam, or of one job; ErrNotFound where there are none.
func (s *Store) MoveDebriefs(ctx context.Context, given uuid.UUID, at time.Time) error {
	q := s.db.WithContext(ctx).Model(&Job{}).
		Where("id = @of OR giving = @of OR id IN (SELECT job_id FROM exam_engines WHERE exam_id = @of)", sql.Named("of", given)).
		Update("debrief_at", at)
	if q.Error == nil && q.RowsAffected == 0 {
		return ErrNotFound
	}
	return q.Error
}

// Jobs lists at most so many with their machines, the newest first, from below
// a number; zero begins at the newest. First jobs are left out.
func (s *Store) Jobs(ctx context.Context, below int64, limit int) (js []Job, err error) {
	q := s.db.WithContext(ctx).Preload("Machine",
		func(tx *gorm.DB) *gorm.DB { return tx.Select("id", "name", "code", "family") }).Where("NOT first").Order("number DESC").Limit(limit)
	if below > 0 {
		q = q.Where("number < ?", below)
	}
	return js, q.Find(&js).Error
}

// Page of attempts to list: those of an apprentice or of some jobs, or all;
// from before a time and id, where they are given.
type Page struct {
	Apprentice uuid.UUID
	Jobs       []uuid.UUID
	Before     time.Time
	BeforeID   uuid.UUID
	// Limit is the most that are listed; zero for all, which is for those of a
	// few jobs.
	Limit int
}

// Attempts lists a page, the newest first, with job number, machine name and
// apprentice, and without drafts and assessments. Closed ones are left out, and
// first jobs but for those of the one asked for, who sees none before it opens.
func (s *Store) Attempts(ctx context.Context, p Page) (as []Attempt, err error) {
	q := s.db.WithContext(ctx).Omit("Draft", "Assessment").Joins("Apprentice").
		Joins("Job", s.db.Omit("Scenario")).Joins("Job.Machine", s.db.Omit("Sheet")).
		Where("attempts.state <> ?", StateClosed).Order("attempts.created_at DESC, attempts.id DESC")
	if p.Apprentice != uuid.Nil {
		q = q.Where("attempts.apprentice_id = ?", p.Apprentice).Where(`"Job".opens_at IS NULL OR "Job".opens_at <= now()`)
	} else {
		q = q.Where(`NOT "Job".first`)
	}
	if p.Jobs != nil {
		q = q.Where("attempts.job_id IN ?", p.Jobs)
	}
	if !p.Before.IsZero() {
		q = q.Where("(attempts.created_at, attempts.id) < (?, ?)", p.Before, p.BeforeID)
	}
	if p.Limit > 0 {
		q = q.Limit(p.Limit)
	}
	return as, q.Find(&as).Error
}

// Give puts a job into the hands of some apprentices, in one transaction: those
// who have it already keep what they have, so it may be asked for again. seed
// and version are of a new attempt. It fails with ErrNotFound when one of them
// is no apprentice, and then gives it to nobody.
func (s *Store) Give(ctx context.Context, job uuid.UUID, to []uuid.UUID, version string, seed func(uuid.UUID) int64) error {
	return s.Together(ctx, func(tx *Store) error {
		var known int64
		err := tx.db.Model(&Person{}).Where("id IN ? AND role = ? AND NOT disabled AND left_at IS NULL", to, Apprentice).Count(&known).Error
		if err != nil {
			return err
		}
		if int(known) != len(to) {
			return ErrNotFound
		}
		for _, id := range to {
			if err := tx.give(job, id, version, seed); err != nil {
				return err
			}
		}
		return nil
	})
}

func (s *Store) give(job, to uuid.UUID, version string, seed func(uuid.UUID) int64) error {
	a := Attempt{ID: uuid.New(), JobID: job, ApprenticeID: to, ModelVersion: version, State: StateNew}
	a.Seed = seed(a.ID)
	return s.db.Clauses(clause.OnConflict{DoNothing: true}).Omit("Job", "Apprentice").Create(&a).Error
}

// TakeFirst gives the one who sets a first job an attempt at it that can be worked on:
// the one that is open, or a new one with a seed and version in place of one that is
// over. Any role may take one.
func (s *Store) TakeFirst(ctx context.Context, j *Job, version string, seed func(uuid.UUID) int64) (a Attempt, err error) {
	j.First = true
	return a, s.Together(ctx, func(tx *Store) error {
		// The same machine may have another sheet by now; who has begun keeps theirs.
		if err := tx.AddJob(ctx, j); err != nil && !IsReused(err) {
			return err
		}
		of := tx.db.Model(&Attempt{}).Where("job_id = ? AND apprentice_id = ? AND state IN ?", j.ID, j.SetBy, []string{StateHandedOver, StateFrozen})
		if err := of.Update("state", StateClosed).Error; err != nil {
			return err
		}
		if err := tx.give(j.ID, j.SetBy, version, seed); err != nil {
			return err
		}
		return tx.db.Omit("Draft", "Assessment").First(&a, "job_id = ? AND apprentice_id = ? AND state <> ?", j.ID, j.SetBy, StateClosed).Error
	})
}

// Renew puts an attempt away and gives its job to the same apprentice anew, in
// one transaction. What was put away stays to be read. It fails with ErrClosed
// on one that was put away before.
func (s *Store) Renew(ctx context.Context, id uuid.UUID, version string, seed func(uuid.UUID) int64) error {
	return s.Together(ctx, func(tx *Store) error {
		var a Attempt
		if err := tx.db.Clauses(clause.Locking{Strength: "UPDATE"}).Select("id", "job_id", "apprentice_id", "state").First(&a, "id = ?", id).Error; err != nil {
			return err
		}
		if a.State == StateClosed {
			return ErrClosed
		}
		if err := tx.db.Model(&Attempt{}).Where("id = ?", id).Update("state", StateClosed).Error; err != nil {
			return err
		}
		return tx.give(a.JobID, a.ApprenticeID, version, seed)
	})
}

// Freeze keeps anything more from being done with an attempt, and why: the
// JSON of a problem. One that is marked already stays as it is.
func (s *Store) Freeze(ctx context.Context, id uuid.UUID, why []byte) error {
	return s.db.WithContext(ctx).Model(&Attempt{}).Where("id = ? AND state IN ?", id, []string{StateNew, StateInHand, StateMarking}).
		Updates(map[string]any{"state": StateFrozen, "frozen": why}).Error
}

// IsReused says that an id stands for something else.
func IsReused(err error) bool { return errors.Is(err, ErrReused) }
