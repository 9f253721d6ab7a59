package store

import (
	"context"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// hot is what every request reads and every act writes, asked for many at once.
type hot struct {
	people   gatherer[uuid.UUID, *Person]
	attempts gatherer[uuid.UUID, *Attempt]
	sessions gatherer[string, []byte]
	events   gatherer[appending, bool]
}

// appending is an event on its way, and how its attempt stands with it.
type appending struct {
	event *Event
	after After
}

// After is how an attempt stands after an event: the minutes spent, and what the floor shows
// of it, as JSON.
type After struct {
	Minutes float64
	Glance  json.RawMessage
}

func (s *Store) heat() {
	s.hot = &hot{}
	s.hot.people.ask = func(ctx context.Context, ids []uuid.UUID) ([]*Person, error) {
		var rows []Person
		err := s.db.WithContext(ctx).Find(&rows, "id = ANY(?::uuid[])", array[uuid.UUID](ids)).Error
		return inOrder(rows, ids, func(p *Person) uuid.UUID { return p.ID }), err
	}
	s.hot.attempts.ask = func(ctx context.Context, ids []uuid.UUID) ([]*Attempt, error) {
		var rows []Attempt
		err := s.db.WithContext(ctx).Omit("Assessment").Find(&rows, "id = ANY(?::uuid[])", array[uuid.UUID](ids)).Error
		return inOrder(rows, ids, func(a *Attempt) uuid.UUID { return a.ID }), err
	}
	s.hot.sessions.ask = s.sessionData
	s.hot.events.ask = s.appendAll
}

// array is a parameter of one statement for any number of values, where IN would
// make another statement of each number.
type array[V any] []V

// Value writes it as PostgreSQL reads arrays, every value in quotes.
func (a array[V]) Value() (driver.Value, error) {
	quoted := make([]string, len(a))
	for i, v := range a {
		quoted[i] = `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`).Replace(fmt.Sprint(v)) + `"`
	}
	return "{" + strings.Join(quoted, ",") + "}", nil
}

// inOrder puts rows into the order of what was asked for, nil for what is not
// there. Two who asked for the same share the row, which nobody changes.
func inOrder[K comparable, V any](rows []V, keys []K, key func(*V) K) []*V {
	by := make(map[K]*V, len(rows))
	for i := range rows {
		by[key(&rows[i])] = &rows[i]
	}
	out := make([]*V, len(keys))
	for i, k := range keys {
		out[i] = by[k]
	}
	return out
}

// found is a copy of a row, or ErrNotFound for none.
func found[V any](row *V, err error) (V, error) {
	if err == nil && row == nil {
		err = ErrNotFound
	}
	if err != nil {
		var none V
		return none, err
	}
	return *row, nil
}

// Person gives somebody by id, or ErrNotFound. It reads outside any transaction.
func (s *Store) Person(ctx context.Context, id uuid.UUID) (Person, error) {
	return found(s.hot.people.Do(ctx, id))
}

// AttemptRow gives an attempt by id without what hangs on it, or ErrNotFound:
// the quick look that every act takes. It reads outside any transaction. The
// JSON in it may be shared and is not to be changed.
func (s *Store) AttemptRow(ctx context.Context, id uuid.UUID) (Attempt, error) {
	return found(s.hot.attempts.Do(ctx, id))
}

// Session gives what is kept for the token of a session that has not run out;
// nil for none.
func (s *Store) Session(ctx context.Context, token string) ([]byte, error) {
	return s.hot.sessions.Do(ctx, token)
}

func (s *Store) sessionData(ctx context.Context, tokens []string) ([][]byte, error) {
	type row struct {
		Token string
		Data  []byte
	}
	var rows []row
	err := s.db.WithContext(ctx).Raw("SELECT token, data FROM sessions WHERE token = ANY(?::text[]) AND current_timestamp < expiry",
		array[string](tokens)).Scan(&rows).Error
	out := make([][]byte, len(tokens))
	for i, r := range inOrder(rows, tokens, func(r *row) string { return r.Token }) {
		if r != nil {
			out[i] = r.Data
		}
	}
	return out, err
}

// AppendEvent adds an event to an attempt at its place, with how the attempt stands
// then. The event's Seq is where the client believes the ledger
// ends: if it ends elsewhere, nothing is done and the error is ErrMoved. done is
// true if the very same event was there already. The event is there for good
// when AppendEvent returns; events that come at once may share a transaction.
// When the context ends first, the event may be there all the same.
func (s *Store) AppendEvent(ctx context.Context, e *Event, after After) (done bool, err error) {
	added, err := s.hot.events.Do(ctx, appending{e, after})
	if err == nil && added {
		return false, nil
	}
	if ctx.Err() != nil {
		return false, ctx.Err()
	}
	// It had no place, somebody holds the attempt, or another's event spoilt the
	// transaction: alone, it says why.
	return s.AppendAlone(ctx, e, after)
}

// appendAll adds events in one statement, each where its attempt still ends
// there, and says which of them it added. An attempt that somebody holds is
// passed over, so that nobody waits for another's.
func (s *Store) appendAll(ctx context.Context, events []appending) ([]bool, error) {
	type row struct {
		Attempt  uuid.UUID       `json:"attempt"`
		Seq      int             `json:"seq"`
		Client   uuid.UUID       `json:"client"`
		Body     json.RawMessage `json:"body"`
		Observed json.RawMessage `json:"observed"`
		Minutes  float64         `json:"minutes"`
		Glance   json.RawMessage `json:"glance,omitempty"`
	}
	rows := make([]row, 0, len(events))
	place := make(map[uuid.UUID]int, len(events))
	for i, a := range events {
		e := a.event
		if _, twice := place[e.AttemptID]; twice {
			continue // only one of them can have the place
		}
		place[e.AttemptID] = i
		rows = append(rows, row{e.AttemptID, e.Seq, e.ClientID, e.Body, e.Observed, a.after.Minutes, a.after.Glance})
	}
	raw, err := json.Marshal(rows)
	if err != nil {
		return nil, err
	}
	var added []uuid.UUID
	err = s.db.WithContext(ctx).Raw(`WITH new AS (
			SELECT * FROM jsonb_to_recordset(?::jsonb)
				AS n (attempt uuid, seq int, client uuid, body jsonb, observed jsonb, minutes float8, glance jsonb)
		), free AS (
			SELECT a.id FROM attempts a JOIN new n ON a.id = n.attempt
			WHERE a.events = n.seq AND a.state IN ? AND a.paused_at IS NULL FOR UPDATE OF a SKIP LOCKED
		), moved AS (
			UPDATE attempts a SET events = n.seq + 1, state = ?, minutes = n.minutes, glance = n.glance
			FROM new n JOIN free f ON f.id = n.attempt WHERE a.id = f.id RETURNING a.id
		)
		INSERT INTO events (attempt_id, seq, client_id, body, observed)
		SELECT n.attempt, n.seq, n.client, n.body, n.observed FROM new n JOIN moved m ON m.id = n.attempt
		RETURNING attempt_id`, string(raw), open, StateInHand).Scan(&added).Error
	out := make([]bool, len(events))
	for _, id := range added {
		out[place[id]] = true
	}
	return out, err
}

// AppendAlone is AppendEvent in a transaction of its own, and waits for whoever
// holds the attempt.
func (s *Store) AppendAlone(ctx context.Context, e *Event, after After) (done bool, err error) {
	err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		// Moving the count on takes the place; only one of several can.
		r := tx.Model(&Attempt{}).Where("id = ? AND events = ? AND state IN ? AND paused_at IS NULL", e.AttemptID, e.Seq, open).
			Updates(map[string]any{"events": e.Seq + 1, "state": StateInHand, "minutes": after.Minutes, "glance": after.Glance})
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
