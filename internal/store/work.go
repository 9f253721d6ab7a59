package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
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

// Attempt gives one by id with job, machine and apprentice, or ErrNotFound.
func (s *Store) Attempt(ctx context.Context, id uuid.UUID) (a Attempt, err error) {
	return a, s.db.WithContext(ctx).Joins("Job").Joins("Job.Machine").Joins("Apprentice").First(&a, "attempts.id = ?", id).Error
}

// Events lists an attempt's events in order, from the given number of events
// already known.
func (s *Store) Events(ctx context.Context, attempt uuid.UUID, from int) (es []Event, err error) {
	return es, s.db.WithContext(ctx).Where("attempt_id = ? AND seq >= ?", attempt, from).Order("seq").Find(&es).Error
}

// Errors of AppendEvent and of what else works on an attempt.
var (
	// ErrMoved: the ledger has gone on since the client last saw it.
	ErrMoved = errors.New("the ledger has moved on")
	// ErrReused: the client id stands for another event.
	ErrReused = errors.New("the client id belongs to another event")
	// ErrClosed: the attempt is handed over, or put away.
	ErrClosed = errors.New("the attempt is handed over")
	// ErrFull: there are as many as there may be.
	ErrFull = errors.New("there is no room for more")
	// ErrFrozen: the attempt could not be replayed, and nothing more is done
	// with it.
	ErrFrozen = errors.New("the attempt is frozen")
)

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
	if err := s.db.WithContext(ctx).Select("id", "state", "paused_at").First(&a, "id = ?", e.AttemptID).Error; err != nil {
		return false, err
	}
	if err := a.shut(); err != nil {
		return false, err
	}
	if a.PausedAt != nil {
		return false, ErrPaused
	}
	return false, ErrMoved
}

// open are the states in which an attempt is worked on.
var open = []string{StateNew, StateInHand}

// shut is why nothing more can be done with an attempt, or nil.
func (a *Attempt) shut() error {
	switch a.State {
	case StateNew, StateInHand:
		return nil
	case StateFrozen:
		return ErrFrozen
	}
	return ErrClosed
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
	r := s.db.WithContext(ctx).Model(&Attempt{}).Where("id = ? AND state IN ?", attempt, open).Update("draft", draft)
	if r.Error == nil && r.RowsAffected == 0 {
		return ErrClosed
	}
	return r.Error
}

// HandOver takes an attempt out of the apprentice's hands, with the given number
// of events, and has it marked: queue puts the work into the same transaction,
// so that neither is there without the other. It fails with ErrMoved if there
// are more events, and with ErrClosed if it was handed over before.
func (s *Store) HandOver(ctx context.Context, attempt uuid.UUID, events int, hand json.RawMessage, queue func(tx *sql.Tx) error) error {
	return s.Together(ctx, func(tx *Store) error {
		r := tx.db.Model(&Attempt{}).Where("id = ? AND events = ? AND state IN ? AND paused_at IS NULL", attempt, events, open).
			Updates(map[string]any{"state": StateMarking, "draft": hand, "handed_at": time.Now()})
		if r.Error != nil {
			return r.Error
		}
		if r.RowsAffected > 0 {
			return queue(tx.Tx())
		}
		var a Attempt
		if err := tx.db.Select("id", "state", "paused_at").First(&a, "id = ?", attempt).Error; err != nil {
			return err
		}
		if err := a.shut(); err != nil {
			return err
		}
		if a.PausedAt != nil {
			return ErrPaused
		}
		return ErrMoved
	})
}

// Marked keeps the assessment of an attempt that is being marked, and what lists
// show of it. One that is not being marked, because somebody else was quicker,
// stays as it is.
func (s *Store) Marked(ctx context.Context, attempt uuid.UUID, assessment json.RawMessage, st Standing, doubt float64) error {
	return s.db.WithContext(ctx).Model(&Attempt{}).Where("id = ? AND state = ?", attempt, StateMarking).
		Updates(map[string]any{"state": StateHandedOver, "assessment": assessment, "class": st.Class, "mark": st.Mark, "mark_of": st.Of,
			"outcome": st.Outcome, "untested": st.Untested, "doubt": doubt}).Error
}
