package store_test

import (
	"context"
	"encoding/json"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/store"
	"zanjero/internal/testdb"
)

func TestMain(m *testing.M) { testdb.Main(m) }

var ctx = context.Background()

// attempt makes a person, a machine, a job and an attempt.
func attempt(t *testing.T, s *store.Store) store.Attempt {
	p := store.Person{ID: uuid.New(), Name: uuid.NewString(), DisplayName: "A", Role: store.Apprentice, PasswordHash: "x"}
	require.NoError(t, s.AddPerson(ctx, &p))
	m := store.Machine{ID: uuid.New(), Name: "Pump", Code: uuid.NewString(), Family: "f4-bowl", Sheet: json.RawMessage(`{}`)}
	require.NoError(t, s.AddMachine(ctx, &m))
	j := store.Job{ID: uuid.New(), MachineID: m.ID, SetBy: p.ID, Scenario: json.RawMessage(`{"words":"x"}`)}
	require.NoError(t, s.AddJob(ctx, &j))
	assert.Positive(t, j.Number)
	a := store.Attempt{ID: uuid.New(), JobID: j.ID, ApprenticeID: p.ID, Seed: 7, ModelVersion: "1", State: store.StateNew}
	require.NoError(t, s.AddAttempt(ctx, &a))
	return a
}

func event(a store.Attempt, seq int, body string) *store.Event {
	return &store.Event{AttemptID: a.ID, Seq: seq, ClientID: uuid.New(), Body: json.RawMessage(body)}
}

// Events take their places once, in order, and a retry is not another.
func TestEventsTakeTheirPlaceOnce(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	first := event(a, 0, `{"kind":"wait","minutes":5}`)
	done, err := s.AppendEvent(ctx, first, 5)
	require.NoError(t, err)
	assert.False(t, done)
	// The same again, with the keys in another order.
	again := *first
	again.Body = json.RawMessage(`{"minutes":5, "kind":"wait"}`)
	done, err = s.AppendEvent(ctx, &again, 5)
	require.NoError(t, err)
	assert.True(t, done)
	other := *first
	other.Body = json.RawMessage(`{"kind":"wait","minutes":6}`)
	_, err = s.AppendEvent(ctx, &other, 5)
	assert.ErrorIs(t, err, store.ErrReused)
	_, err = s.AppendEvent(ctx, event(a, 0, `{}`), 5)
	assert.ErrorIs(t, err, store.ErrMoved)
	_, err = s.AppendEvent(ctx, event(a, 9, `{}`), 5)
	assert.ErrorIs(t, err, store.ErrMoved, "no gap is left")

	var wg sync.WaitGroup
	var mu sync.Mutex
	won := 0
	for range 16 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			if _, err := s.AppendEvent(ctx, event(a, 1, `{}`), 6); err == nil {
				mu.Lock()
				won++
				mu.Unlock()
			}
		}()
	}
	wg.Wait()
	assert.Equal(t, 1, won)
	es, err := s.Events(ctx, a.ID, 0)
	require.NoError(t, err)
	assert.Len(t, es, 2)
	row, err := s.AttemptRow(ctx, a.ID)
	require.NoError(t, err)
	assert.Equal(t, 2, row.Events)
	assert.Equal(t, 6.0, row.Minutes)
	assert.Equal(t, store.StateInHand, row.State)
}

// The database itself keeps events from being changed or removed.
func TestEventsAreAppendOnly(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	_, err := s.AppendEvent(ctx, event(a, 0, `{}`), 1)
	require.NoError(t, err)
	for _, sql := range []string{"UPDATE events SET body = '{}'", "DELETE FROM events"} {
		_, err := s.SQL().Exec(sql)
		assert.ErrorContains(t, err, "append-only")
	}
}

// A hand-over freezes: no draft, no event and no second one after it.
func TestHandOverFreezes(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	require.NoError(t, s.SaveDraft(ctx, a.ID, json.RawMessage(`{"note":"half"}`)))
	_, err := s.AppendEvent(ctx, event(a, 0, `{}`), 1)
	require.NoError(t, err)
	assert.ErrorIs(t, s.HandOver(ctx, a.ID, 0, json.RawMessage(`{}`), json.RawMessage(`{}`)), store.ErrMoved, "judged before the last event")
	require.NoError(t, s.HandOver(ctx, a.ID, 1, json.RawMessage(`{"note":"done"}`), json.RawMessage(`{"class":"proven"}`)))
	assert.ErrorIs(t, s.HandOver(ctx, a.ID, 1, json.RawMessage(`{}`), json.RawMessage(`{}`)), store.ErrClosed)
	assert.ErrorIs(t, s.SaveDraft(ctx, a.ID, json.RawMessage(`{}`)), store.ErrClosed)
	_, err = s.AppendEvent(ctx, event(a, 1, `{}`), 2)
	assert.ErrorIs(t, err, store.ErrClosed)
	got, err := s.Attempt(ctx, a.ID)
	require.NoError(t, err)
	assert.JSONEq(t, `{"class":"proven"}`, string(got.Assessment))
	assert.JSONEq(t, `{"note":"done"}`, string(got.Draft))
	assert.Equal(t, "Pump", got.Job.Machine.Name)
	assert.NotNil(t, got.HandedAt)
}

func TestOneAttemptForEachJobAndApprentice(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	twice := store.Attempt{ID: uuid.New(), JobID: a.JobID, ApprenticeID: a.ApprenticeID, ModelVersion: "1", State: store.StateNew}
	assert.True(t, store.IsDuplicate(s.AddAttempt(ctx, &twice)))
	as, err := s.Attempts(ctx, a.ApprenticeID)
	require.NoError(t, err)
	assert.Len(t, as, 1)
	as, err = s.Attempts(ctx, uuid.New())
	require.NoError(t, err)
	assert.Empty(t, as)
	_, err = s.Attempt(ctx, uuid.New())
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// A secret is made once and is the same for every server on the database.
func TestSecretIsMadeOnce(t *testing.T) {
	s := testdb.Open(t)
	a, err := s.Secret(ctx, "x")
	require.NoError(t, err)
	b, err := s.Secret(ctx, "x")
	require.NoError(t, err)
	c, err := s.Secret(ctx, "y")
	require.NoError(t, err)
	assert.Equal(t, a, b)
	assert.NotEqual(t, a, c)
	assert.Len(t, a, 32)
}

func TestFailedSignInsAreCountedAndForgotten(t *testing.T) {
	s := testdb.Open(t)
	for range 3 {
		require.NoError(t, s.NoteFailedSignIn(ctx, "name:a", "address:1"))
	}
	n, err := s.FailedSignIns(ctx, "name:a", time.Hour)
	require.NoError(t, err)
	assert.EqualValues(t, 3, n)
	require.NoError(t, s.ForgetFailedSignIns(ctx, "name:a"))
	n, _ = s.FailedSignIns(ctx, "name:a", time.Hour)
	assert.Zero(t, n)
	n, _ = s.FailedSignIns(ctx, "address:1", time.Hour)
	assert.EqualValues(t, 3, n)
}

// What goes together goes together: an error takes all of it back.
func TestTogether(t *testing.T) {
	s := testdb.Open(t)
	err := s.Together(ctx, func(tx *store.Store) error {
		p := store.Person{ID: uuid.New(), Name: "half", DisplayName: "H", Role: store.Apprentice, PasswordHash: "x"}
		if err := tx.AddPerson(ctx, &p); err != nil {
			return err
		}
		return assert.AnError
	})
	assert.ErrorIs(t, err, assert.AnError)
	empty, err := s.Empty(ctx)
	require.NoError(t, err)
	assert.True(t, empty)
}
