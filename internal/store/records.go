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

// standsSQL is how an attempt stands, as one text.
const standsSQL = `concat_ws('|', attempts.outcome, attempts.mark, attempts.mark_of, attempts.signed)`

// untold are marked attempts that stand otherwise than a record store was told, and whose
// debrief is released.
const untold = `attempts.state = ? AND attempts.told IS DISTINCT FROM ` + standsSQL + `
	AND NOT "Job".first AND ("Job".debrief_at IS NULL OR "Job".debrief_at <= now())`

// Untold lists some attempts that a record store is still to be told of, with their
// assessments and what people did to them; Stands of each is how it stands now.
func (s *Store) Untold(ctx context.Context, limit int) (as []Attempt, acts map[uuid.UUID][]ReviewAct, stands map[uuid.UUID]string, err error) {
	q := s.db.WithContext(ctx).Omit("Draft").Joins("Apprentice").Joins("Job").Joins("Job.Machine", s.db.Omit("Sheet"))
	if err = q.Where(untold, StateHandedOver).Order("attempts.handed_at, attempts.id").Limit(limit).Find(&as).Error; err != nil || len(as) == 0 {
		return nil, nil, nil, err
	}
	ids := []uuid.UUID{}
	for _, a := range as {
		ids = append(ids, a.ID)
	}
	var now []struct {
		ID     uuid.UUID
		Stands string
	}
	if err = s.db.WithContext(ctx).Raw("SELECT id, "+standsSQL+" AS stands FROM attempts WHERE id IN ?", ids).Scan(&now).Error; err != nil {
		return nil, nil, nil, err
	}
	stands, acts = map[uuid.UUID]string{}, map[uuid.UUID][]ReviewAct{}
	for _, n := range now {
		stands[n.ID] = n.Stands
	}
	var all []ReviewAct
	err = s.db.WithContext(ctx).Order("attempt_id, seq").Find(&all, "attempt_id IN ?", ids).Error
	for _, a := range all {
		acts[a.AttemptID] = append(acts[a.AttemptID], a)
	}
	return as, acts, stands, err
}

// Told keeps that a record store was told how an attempt stands, by which statement; no is
// what it said where it refused.
func (s *Store) Told(ctx context.Context, attempt uuid.UUID, stands string, by *uuid.UUID, no string) error {
	to := map[string]any{"told": stands, "told_no": nil}
	if no != "" {
		to["told_no"] = no
	} else {
		to["told_by"] = by
	}
	return s.db.WithContext(ctx).Model(&Attempt{}).Where("id = ?", attempt).Updates(to).Error
}

// Telling counts attempts that a record store knows, is still to be told of, and refused.
type Telling struct{ Told, Waiting, Refused int }

// Telling counts them.
func (s *Store) Telling(ctx context.Context) (t Telling, err error) {
	return t, s.db.WithContext(ctx).Raw(`SELECT count(*) FILTER (WHERE told_by IS NOT NULL) AS told,
		count(*) FILTER (WHERE `+untold+`) AS waiting, count(*) FILTER (WHERE told_no IS NOT NULL) AS refused
		FROM attempts JOIN jobs "Job" ON "Job".id = attempts.job_id`, StateHandedOver).Scan(&t).Error
}

// Audited is that somebody looked at or changed something of others.
type Audited struct {
	ID    int64
	At    time.Time
	ByID  uuid.UUID
	Act   string
	About string
}

// TableName is where they are.
func (Audited) TableName() string { return "audit" }

// Audit keeps that something was done; the database refuses to change it.
func (s *Store) Audit(ctx context.Context, by uuid.UUID, act, about string) error {
	return s.db.WithContext(ctx).Exec("INSERT INTO audit (by_id, act, about) VALUES (?, ?, ?)", by, act, about).Error
}

// Audited lists at most so many acts before one, the latest first; before is 0 for the
// latest of all.
func (s *Store) Audited(ctx context.Context, before int64, limit int) (as []Audited, err error) {
	q := s.db.WithContext(ctx).Order("id DESC").Limit(limit)
	if before > 0 {
		q = q.Where("id < ?", before)
	}
	return as, q.Find(&as).Error
}

// Called names what acts were about: people and, by their job and apprentice, attempts.
func (s *Store) Called(ctx context.Context, ids []uuid.UUID) (map[string]string, error) {
	var rows []struct{ ID, Name string }
	err := s.db.WithContext(ctx).Raw(`SELECT id::text, display_name AS name FROM people WHERE id IN ?
		UNION ALL SELECT a.id::text, p.display_name || ', ' || j.number FROM attempts a JOIN people p ON p.id = a.apprentice_id JOIN jobs j ON j.id = a.job_id
			WHERE a.id IN ?
		UNION ALL SELECT id::text, title FROM classes WHERE id IN ?
		UNION ALL SELECT id::text, title FROM papers WHERE id IN ?
		UNION ALL SELECT id::text, name || ' ' || code FROM machines WHERE id IN ?`, ids, ids, ids, ids, ids).Scan(&rows).Error
	out := map[string]string{}
	for _, r := range rows {
		out[r.ID] = r.Name
	}
	return out, err
}

// ClassAttempt is a marked attempt of what was given to a class, without the points,
// standings and sections of its assessment.
type ClassAttempt struct {
	ID         uuid.UUID
	Giving     uuid.UUID
	Number     int64 // of the job
	Level      *int  // of the scenario that it was given out from
	Outcome    string
	Assessment []byte
}

// ClassAttempts lists them, with what people did to them by attempt.
func (s *Store) ClassAttempts(ctx context.Context, class uuid.UUID) (as []ClassAttempt, acts map[uuid.UUID][]ReviewAct, err error) {
	const of = `FROM attempts a JOIN jobs j ON j.id = a.job_id LEFT JOIN papers p ON p.id = j.paper_id WHERE j.class_id = ? AND a.state = ?`
	err = s.db.WithContext(ctx).Raw(`SELECT a.id, coalesce(j.giving, j.id) AS giving, j.number, p.level, coalesce(a.outcome, '') AS outcome,
		a.assessment - '{points,standings,sections,skills,verdict,against}'::text[] AS assessment `+of+` ORDER BY a.id`, class, StateHandedOver).Scan(&as).Error
	if err != nil {
		return nil, nil, err
	}
	var all []ReviewAct
	err = s.db.WithContext(ctx).Where("attempt_id IN (SELECT a.id "+of+")", class, StateHandedOver).Order("attempt_id, seq").Find(&all).Error
	acts = map[uuid.UUID][]ReviewAct{}
	for _, a := range all {
		acts[a.AttemptID] = append(acts[a.AttemptID], a)
	}
	return as, acts, err
}
