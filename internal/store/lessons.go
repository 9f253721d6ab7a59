package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// Lesson is two machines that a class senses.
type Lesson struct {
	ID      uuid.UUID
	ClassID uuid.UUID
	Class   Class
	MadeBy  uuid.UUID
	Sense   string
	Body    json.RawMessage `gorm:"type:jsonb"`
	// ToldAt is when it was told which is right, which ends it; nil before.
	CreatedAt time.Time
	ToldAt    *time.Time
	// Version counts all changes but answers, Answers how often somebody has answered.
	Version, Answers int64
}

// Sensed is how often somebody, or a class, was right by a sense, of so many lessons that are
// over.
type Sensed struct {
	Sense     string
	Right, Of int
}

// AddLesson begins one. The same id once more changes nothing.
func (s *Store) AddLesson(ctx context.Context, l *Lesson) error {
	return s.db.WithContext(ctx).Clauses(clause.OnConflict{DoNothing: true}).Omit("Class").Create(l).Error
}

// Lesson gives one with its class, or ErrNotFound.
func (s *Store) Lesson(ctx context.Context, id uuid.UUID) (l Lesson, err error) {
	return l, s.db.WithContext(ctx).Joins("Class").First(&l, "lessons.id = ?", id).Error
}

// Lessons lists those that are not over, the latest first: of the classes that somebody is
// in, or all where nobody is named.
func (s *Store) Lessons(ctx context.Context, member *uuid.UUID) (ls []Lesson, err error) {
	q := s.db.WithContext(ctx).Joins("Class").Where("lessons.told_at IS NULL").Order("lessons.created_at DESC")
	if member != nil {
		q = q.Where("lessons.class_id IN (SELECT class_id FROM class_members WHERE person_id = ?)", *member)
	}
	return ls, q.Find(&ls).Error
}

// Answer keeps somebody's answer in place of the one before; it gives ErrVoteOver where it is
// told already.
func (s *Store) Answer(ctx context.Context, lesson, person uuid.UUID, side int) error {
	return s.Together(ctx, func(tx *Store) error {
		open := tx.db.Exec("UPDATE lessons SET answers = answers + 1 WHERE id = ? AND told_at IS NULL", lesson)
		if open.Error != nil {
			return open.Error
		}
		if open.RowsAffected == 0 {
			return ErrVoteOver
		}
		return tx.db.Exec(`INSERT INTO lesson_answers (lesson_id, person_id, side) VALUES (?, ?, ?)
			ON CONFLICT (lesson_id, person_id) DO UPDATE SET side = excluded.side`, lesson, person, side).Error
	})
}

// TellLesson ends a lesson. Once more changes nothing.
func (s *Store) TellLesson(ctx context.Context, lesson uuid.UUID) error {
	return s.db.WithContext(ctx).Model(&Lesson{}).Where("id = ? AND told_at IS NULL", lesson).
		Updates(map[string]any{"told_at": time.Now(), "version": 1}).Error
}

// AnswersTo are how many have chosen each side of a lesson, and which somebody has; −1 for
// none.
func (s *Store) AnswersTo(ctx context.Context, lesson, person uuid.UUID) (chose [2]int, mine int, err error) {
	var rows []struct {
		PersonID uuid.UUID
		Side     int
	}
	err = s.db.WithContext(ctx).Raw("SELECT person_id, side FROM lesson_answers WHERE lesson_id = ?", lesson).Scan(&rows).Error
	mine = -1
	for _, r := range rows {
		chose[r.Side]++
		if r.PersonID == person {
			mine = r.Side
		}
	}
	return chose, mine, err
}

// LessonVersions are how often a lesson and its answers have changed.
func (s *Store) LessonVersions(ctx context.Context, id uuid.UUID) (lesson, answers int64, err error) {
	var l Lesson
	err = s.db.WithContext(ctx).Select("version", "answers").First(&l, "id = ?", id).Error
	return l.Version, l.Answers, err
}

// SensedBy is how often somebody was right, by sense.
func (s *Store) SensedBy(ctx context.Context, person uuid.UUID) ([]Sensed, error) {
	return s.sensed(ctx, "a.person_id = ?", person)
}

// SensedIn is how often those of a class were right in its lessons, by sense.
func (s *Store) SensedIn(ctx context.Context, class uuid.UUID) ([]Sensed, error) {
	return s.sensed(ctx, "l.class_id = ?", class)
}

func (s *Store) sensed(ctx context.Context, where string, id uuid.UUID) (out []Sensed, err error) {
	return out, s.db.WithContext(ctx).Raw(`SELECT l.sense, count(*) AS of, count(*) FILTER (WHERE a.side = (l.body ->> 'right')::int) AS "right"
		FROM lesson_answers a JOIN lessons l ON l.id = a.lesson_id WHERE l.told_at IS NOT NULL AND `+where+` GROUP BY l.sense ORDER BY l.sense`, id).
		Scan(&out).Error
}
