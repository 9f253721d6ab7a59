package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Exam is a practical exam: people who rotate over engines.
type Exam struct {
	ID            uuid.UUID
	Title         string
	StartsAt      time.Time
	Minutes, Rest int             // of a turn, and from one to the next
	People        json.RawMessage `gorm:"type:jsonb"` // their ids, in the order of the plan
	ByID          uuid.UUID
	At            time.Time `gorm:"default:now()"`
	Engines       []ExamEngine
}

// ExamEngine is an engine of an exam by its card, and the job that all work on it.
type ExamEngine struct {
	ExamID uuid.UUID `gorm:"primaryKey"`
	Place  int       `gorm:"primaryKey"`
	BugID  uuid.UUID
	JobID  uuid.UUID
}

func byPlace(db *gorm.DB) *gorm.DB { return db.Order("place") }

// Exams lists them, the latest first.
func (s *Store) Exams(ctx context.Context) (es []Exam, err error) {
	return es, s.db.WithContext(ctx).Preload("Engines", byPlace).Order("starts_at DESC, id").Find(&es).Error
}

// Exam gives one with its engines, or ErrNotFound.
func (s *Store) Exam(ctx context.Context, id uuid.UUID) (e Exam, err error) {
	return e, s.db.WithContext(ctx).Preload("Engines", byPlace).First(&e, "id = ?", id).Error
}

// AddExam keeps an exam. The same id again, and an engine that is in another, are duplicates.
func (s *Store) AddExam(ctx context.Context, e *Exam) error {
	return s.Together(ctx, func(tx *Store) error {
		if err := tx.db.Omit("Engines").Create(e).Error; err != nil {
			return err
		}
		for i := range e.Engines {
			e.Engines[i].ExamID = e.ID
			if err := tx.db.Create(&e.Engines[i]).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// ExamBugOf is the card of the engine of an exam that a job is for; nil for another job.
func (s *Store) ExamBugOf(ctx context.Context, job uuid.UUID) (*uuid.UUID, error) {
	var row []ExamEngine
	err := s.db.WithContext(ctx).Find(&row, "job_id = ?", job).Error
	if err != nil || len(row) == 0 {
		return nil, err
	}
	return &row[0].BugID, nil
}

// ExamsOn are the exams that some jobs belong to, with their engines.
func (s *Store) ExamsOn(ctx context.Context, jobs []uuid.UUID) (es []Exam, err error) {
	in := s.db.Model(&ExamEngine{}).Select("exam_id").Where("job_id IN ?", jobs)
	return es, s.db.WithContext(ctx).Preload("Engines", byPlace).Find(&es, "id IN (?)", in).Error
}

// ExamOfBug is the exam that the engine of a card is in, nil for none.
func (s *Store) ExamOfBug(ctx context.Context, bug uuid.UUID) (*uuid.UUID, error) {
	var row []ExamEngine
	err := s.db.WithContext(ctx).Find(&row, "bug_id = ?", bug).Error
	if err != nil || len(row) == 0 {
		return nil, err
	}
	return &row[0].ExamID, nil
}
