package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Machines lists the yard, by name.
func (s *Store) Machines(ctx context.Context) (ms []Machine, err error) {
	return ms, s.db.WithContext(ctx).Order("name").Find(&ms).Error
}

// Machine gives one by id, or ErrNotFound.
func (s *Store) Machine(ctx context.Context, id uuid.UUID) (m Machine, err error) {
	return m, s.db.WithContext(ctx).First(&m, "id = ?", id).Error
}

// AddMachine adds one to the yard.
func (s *Store) AddMachine(ctx context.Context, m *Machine) error {
	return s.db.WithContext(ctx).Create(m).Error
}

// ErrStale: somebody else has changed it since it was read.
var ErrStale = errors.New("it has been changed meanwhile")

// ChangeMachine keeps a changed machine whose revision is still the one it was
// read with, and moves that on; otherwise it gives ErrStale.
func (s *Store) ChangeMachine(ctx context.Context, m *Machine) error {
	done := s.db.WithContext(ctx).Model(&Machine{}).Where("id = ? AND revision = ?", m.ID, m.Revision).
		Updates(map[string]any{"name": m.Name, "code": m.Code, "duty": m.Duty, "sheet": m.Sheet, "revision": m.Revision + 1})
	if done.Error != nil {
		return done.Error
	}
	if done.RowsAffected == 0 {
		return ErrStale
	}
	m.Revision++
	return nil
}

// AddJob keeps a job, and reads back its number.
func (s *Store) AddJob(ctx context.Context, j *Job) error {
	if err := s.db.WithContext(ctx).Omit("Machine").Create(j).Error; err != nil {
		return err
	}
	return s.db.WithContext(ctx).Preload("Machine").First(j, "id = ?", j.ID).Error
}

// Job gives one by id with its machine, or ErrNotFound.
func (s *Store) Job(ctx context.Context, id uuid.UUID) (j Job, err error) {
	return j, s.db.WithContext(ctx).Preload("Machine").First(&j, "id = ?", id).Error
}

// Jobs lists all, newest first.
func (s *Store) Jobs(ctx context.Context) (js []Job, err error) {
	return js, s.db.WithContext(ctx).Preload("Machine").Order("number DESC").Find(&js).Error
}

// AddAttempt keeps a new attempt.
func (s *Store) AddAttempt(ctx context.Context, a *Attempt) error {
	return s.db.WithContext(ctx).Omit("Job", "Apprentice").Create(a).Error
}

// Attempt gives one by id with job, machine and apprentice, or ErrNotFound.
func (s *Store) Attempt(ctx context.Context, id uuid.UUID) (a Attempt, err error) {
	return a, s.db.WithContext(ctx).Joins("Job").Joins("Job.Machine").Joins("Apprentice").First(&a, "attempts.id = ?", id).Error
}

// AttemptRow gives an attempt by id without what hangs on it: the quick look
// that every act takes.
func (s *Store) AttemptRow(ctx context.Context, id uuid.UUID) (a Attempt, err error) {
	return a, s.db.WithContext(ctx).Omit("Assessment").First(&a, "id = ?", id).Error
}

// Attempts lists those of an apprentice, or all for the zero id; newest first.
func (s *Store) Attempts(ctx context.Context, apprentice uuid.UUID) (as []Attempt, err error) {
	q := s.db.WithContext(ctx).Joins("Job").Joins("Job.Machine").Joins("Apprentice").Order("attempts.created_at DESC")
	if apprentice != uuid.Nil {
		q = q.Where("attempts.apprentice_id = ?", apprentice)
	}
	return as, q.Find(&as).Error
}

// Events lists an attempt's events in order, from the given number of events
// already known.
func (s *Store) Events(ctx context.Context, attempt uuid.UUID, from int) (es []Event, err error) {
	return es, s.db.WithContext(ctx).Where("attempt_id = ? AND seq >= ?", attempt, from).Order("seq").Find(&es).Error
}

// Errors of AppendEvent.
var (
	// ErrMoved: the ledger has gone on since the client last saw it.
	ErrMoved = errors.New("the ledger has moved on")
	// ErrReused: the client id stands for another event.
	ErrReused = errors.New("the client id belongs to another event")
	// ErrClosed: the attempt is handed over.
	ErrClosed = errors.New("the attempt is handed over")
)

// AppendEvent adds an event to an attempt at its place, with how many minutes
// have then been spent, in one transaction. The event's Seq is where the client
// believes the ledger ends: if it ends elsewhere, nothing is done and the error
// is ErrMoved. done is true if the very same event was there already.
func (s *Store) AppendEvent(ctx context.Context, e *Event, minutes float64) (done bool, err error) {
	err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		// Moving the count on takes the place; only one of several can.
		r := tx.Model(&Attempt{}).Where("id = ? AND events = ? AND state <> ?", e.AttemptID, e.Seq, StateHandedOver).
			Updates(map[string]any{"events": e.Seq + 1, "state": StateInHand, "minutes": minutes})
		if r.Error != nil {
			return r.Error
		}
		if r.RowsAffected == 0 {
			return ErrMoved
		}
		return tx.Create(e).Error
	})
	if errors.Is(err, ErrMoved) || IsDuplicate(err) {
		return s.whyNot(ctx, e)
	}
	return false, err
}

// whyNot says why an event could not take its place: it was there before, its
// id stands for another, the attempt is closed, or the ledger has moved on.
func (s *Store) whyNot(ctx context.Context, e *Event) (done bool, err error) {
	var same []Event
	if err := s.db.WithContext(ctx).Where("attempt_id = ? AND client_id = ?", e.AttemptID, e.ClientID).Find(&same).Error; err != nil {
		return false, err
	}
	if len(same) > 0 {
		if !sameJSON(same[0].Body, e.Body) {
			return false, ErrReused
		}
		return true, nil
	}
	var a Attempt
	if err := s.db.WithContext(ctx).Select("id", "state").First(&a, "id = ?", e.AttemptID).Error; err != nil {
		return false, err
	}
	if a.State == StateHandedOver {
		return false, ErrClosed
	}
	return false, ErrMoved
}

// Known says whether an event with this client id is there already: done if
// it is the very same, ErrReused if it is another.
func (s *Store) Known(ctx context.Context, e *Event) (done bool, err error) {
	done, err = s.whyNot(ctx, e)
	if errors.Is(err, ErrMoved) {
		return false, nil
	}
	return done, err
}

// sameJSON compares two JSON texts by value: the database may reorder keys.
func sameJSON(a, b []byte) bool {
	var x, y any
	if json.Unmarshal(a, &x) != nil || json.Unmarshal(b, &y) != nil {
		return false
	}
	p, _ := json.Marshal(x)
	q, _ := json.Marshal(y)
	return string(p) == string(q)
}

// SaveDraft keeps an unfinished hand-over. It fails with ErrClosed once the
// attempt is handed over.
func (s *Store) SaveDraft(ctx context.Context, attempt uuid.UUID, draft json.RawMessage) error {
	r := s.db.WithContext(ctx).Model(&Attempt{}).Where("id = ? AND state <> ?", attempt, StateHandedOver).Update("draft", draft)
	if r.Error == nil && r.RowsAffected == 0 {
		return ErrClosed
	}
	return r.Error
}

// HandOver freezes an attempt with its assessment, made from the given number
// of events. It fails with ErrMoved if there are more, and with ErrClosed if it
// was handed over before.
func (s *Store) HandOver(ctx context.Context, attempt uuid.UUID, events int, hand, assessment json.RawMessage) error {
	now := time.Now()
	r := s.db.WithContext(ctx).Model(&Attempt{}).Where("id = ? AND events = ? AND state <> ?", attempt, events, StateHandedOver).
		Updates(map[string]any{"state": StateHandedOver, "draft": hand, "assessment": assessment, "handed_at": &now})
	if r.Error != nil || r.RowsAffected > 0 {
		return r.Error
	}
	var a Attempt
	if err := s.db.WithContext(ctx).Select("id", "state").First(&a, "id = ?", attempt).Error; err != nil {
		return err
	}
	if a.State == StateHandedOver {
		return ErrClosed
	}
	return ErrMoved
}
