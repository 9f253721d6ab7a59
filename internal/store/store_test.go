package store_test

import (
	"context"
	"database/sql"
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
	require.NoError(t, s.Give(ctx, j.ID, []uuid.UUID{p.ID}, "1", func(uuid.UUID) int64 { return 7 }))
	as, err := s.Attempts(ctx, store.Page{Jobs: []uuid.UUID{j.ID}})
	require.NoError(t, err)
	require.Len(t, as, 1)
	a, err := s.AttemptRow(ctx, as[0].ID)
	require.NoError(t, err)
	return a
}

// none queues nothing.
func none(*sql.Tx) error { return nil }

func event(a store.Attempt, seq int, body string) *store.Event {
	return &store.Event{AttemptID: a.ID, Seq: seq, ClientID: uuid.New(), Body: json.RawMessage(body)}
}

// Events take their places once, in order, and a retry is not another.
func TestEventsTakeTheirPlaceOnce(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	first := event(a, 0, `{"kind":"wait","minutes":5}`)
	done, err := s.AppendEvent(ctx, first, store.After{Minutes: 5})
	require.NoError(t, err)
	assert.False(t, done)
	// The same again, with the keys in another order.
	again := *first
	again.Body = json.RawMessage(`{"minutes":5, "kind":"wait"}`)
	done, err = s.AppendEvent(ctx, &again, store.After{Minutes: 5})
	require.NoError(t, err)
	assert.True(t, done)
	other := *first
	other.Body = json.RawMessage(`{"kind":"wait","minutes":6}`)
	_, err = s.AppendEvent(ctx, &other, store.After{Minutes: 5})
	assert.ErrorIs(t, err, store.ErrReused)
	_, err = s.AppendEvent(ctx, event(a, 0, `{}`), store.After{Minutes: 5})
	assert.ErrorIs(t, err, store.ErrMoved)
	_, err = s.AppendEvent(ctx, event(a, 9, `{}`), store.After{Minutes: 5})
	assert.ErrorIs(t, err, store.ErrMoved, "no gap is left")

	var wg sync.WaitGroup
	var mu sync.Mutex
	won := 0
	for range 16 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			if _, err := s.AppendEvent(ctx, event(a, 1, `{}`), store.After{Minutes: 6}); err == nil {
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

// Events that come at once share transactions, and what is wrong with one of
// them, or who holds its attempt, is nothing to the others.
func TestEventsAtOnceAreTheirOwn(t *testing.T) {
	s := testdb.Open(t)
	var as []store.Attempt
	for range 12 {
		as = append(as, attempt(t, s))
	}
	first := make([]*store.Event, len(as))
	for i, a := range as {
		first[i] = event(a, 0, `{"kind":"wait"}`)
		_, err := s.AppendEvent(ctx, first[i], store.After{Minutes: 1})
		require.NoError(t, err)
	}
	require.NoError(t, s.Freeze(ctx, as[4].ID, []byte(`{}`)))
	held, err := s.SQL().BeginTx(ctx, nil)
	require.NoError(t, err)
	_, err = held.Exec("SELECT id FROM attempts WHERE id = $1 FOR UPDATE", as[5].ID)
	require.NoError(t, err)
	let := make(chan error, 1)
	var once sync.Once
	errs, dones := make([]error, len(as)), make([]bool, len(as))
	var wg sync.WaitGroup
	for i, a := range as {
		e := event(a, 1, `{"n":"\u00fc"}`)
		switch i {
		case 0:
			e.Seq = 0
		case 1:
			e = first[1]
		case 2:
			e.ClientID = first[2].ClientID
		case 3:
			e.Body = json.RawMessage(`{"n":"\u0000"}`) // which no jsonb holds
		}
		wg.Add(1)
		go func() {
			defer wg.Done()
			dones[i], errs[i] = s.AppendEvent(ctx, e, store.After{Minutes: 2})
			if i > 5 { // the holder lets go only when others have been served
				once.Do(func() { let <- held.Rollback() })
			}
		}()
	}
	wg.Wait()
	require.NoError(t, <-let)
	want := map[int]error{0: store.ErrMoved, 2: store.ErrReused, 4: store.ErrFrozen}
	for i, a := range as {
		row, err := s.AttemptRow(ctx, a.ID)
		require.NoError(t, err)
		assert.Equal(t, i == 1, dones[i], i)
		switch {
		case i == 3:
			assert.Error(t, errs[i])
		case want[i] != nil:
			assert.ErrorIs(t, errs[i], want[i], i)
		default:
			assert.NoError(t, errs[i], i)
		}
		added := i >= 5
		assert.Equal(t, added, row.Events == 2, i)
	}
}

// The database itself keeps events from being changed or removed.
func TestEventsAreAppendOnly(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	_, err := s.AppendEvent(ctx, event(a, 0, `{}`), store.After{Minutes: 1})
	require.NoError(t, err)
	for _, sql := range []string{"UPDATE events SET body = '{}'", "DELETE FROM events"} {
		_, err := s.SQL().Exec(sql)
		assert.ErrorContains(t, err, "append-only")
	}
}

// A hand-over takes the attempt out of the apprentice's hands: no draft, no event
// and no second one after it; it is marked once.
func TestHandOver(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	require.NoError(t, s.SaveDraft(ctx, a.ID, json.RawMessage(`{"note":"half"}`)))
	_, err := s.AppendEvent(ctx, event(a, 0, `{}`), store.After{Minutes: 1})
	require.NoError(t, err)
	assert.ErrorIs(t, s.HandOver(ctx, a.ID, 0, json.RawMessage(`{}`), none), store.ErrMoved, "judged before the last event")
	assert.ErrorIs(t, s.HandOver(ctx, a.ID, 1, json.RawMessage(`{}`), func(*sql.Tx) error { return assert.AnError }), assert.AnError)
	row, _ := s.AttemptRow(ctx, a.ID)
	assert.Equal(t, store.StateInHand, row.State, "what is not queued is not handed over")
	require.NoError(t, s.HandOver(ctx, a.ID, 1, json.RawMessage(`{"note":"done"}`), none))
	assert.ErrorIs(t, s.HandOver(ctx, a.ID, 1, json.RawMessage(`{}`), none), store.ErrClosed)
	assert.ErrorIs(t, s.SaveDraft(ctx, a.ID, json.RawMessage(`{}`)), store.ErrClosed)
	_, err = s.AppendEvent(ctx, event(a, 1, `{}`), store.After{Minutes: 2})
	assert.ErrorIs(t, err, store.ErrClosed)
	require.NoError(t, s.Marked(ctx, a.ID, json.RawMessage(`{"class":"proven"}`), store.Standing{Class: "proven", Mark: 60, Of: 65}, 0))
	require.NoError(t, s.Marked(ctx, a.ID, json.RawMessage(`{"class":"guessed"}`), store.Standing{Class: "guessed", Mark: 1, Of: 65}, 0),
		"whoever comes later changes nothing")
	got, err := s.Attempt(ctx, a.ID)
	require.NoError(t, err)
	assert.JSONEq(t, `{"class":"proven"}`, string(got.Assessment))
	assert.JSONEq(t, `{"note":"done"}`, string(got.Draft))
	assert.Equal(t, "Pump", got.Job.Machine.Name)
	assert.NotNil(t, got.HandedAt)
	assert.Equal(t, 60.0, *got.Mark)
	require.NoError(t, s.Freeze(ctx, a.ID, []byte(`{}`)))
	row, _ = s.AttemptRow(ctx, a.ID)
	assert.Equal(t, store.StateHandedOver, row.State, "what is marked is not frozen")
}

// A job is given once to each, in one transaction; one that is frozen is put away
// and given anew, and what was put away stays.
func TestGivingAndRenewing(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	seed := func(uuid.UUID) int64 { return 8 }
	require.NoError(t, s.Give(ctx, a.JobID, []uuid.UUID{a.ApprenticeID}, "2", seed))
	as, err := s.Attempts(ctx, store.Page{Apprentice: a.ApprenticeID, Limit: 9})
	require.NoError(t, err)
	require.Len(t, as, 1)
	assert.Equal(t, "1", as[0].ModelVersion, "whoever has it keeps what they have")
	assert.ErrorIs(t, s.Give(ctx, a.JobID, []uuid.UUID{a.ApprenticeID, uuid.New()}, "2", seed), store.ErrNotFound)
	_, err = s.AppendEvent(ctx, event(a, 0, `{"kind":"wait"}`), store.After{Minutes: 1})
	require.NoError(t, err)
	require.NoError(t, s.Freeze(ctx, a.ID, []byte(`{"code":"x"}`)))
	_, err = s.AppendEvent(ctx, event(a, 1, `{}`), store.After{Minutes: 2})
	assert.ErrorIs(t, err, store.ErrFrozen)
	require.NoError(t, s.Renew(ctx, a.ID, "2", seed))
	assert.ErrorIs(t, s.Renew(ctx, a.ID, "2", seed), store.ErrClosed)
	as, err = s.Attempts(ctx, store.Page{Apprentice: a.ApprenticeID, Limit: 9})
	require.NoError(t, err)
	require.Len(t, as, 1, "what was put away is not listed")
	assert.Equal(t, "2", as[0].ModelVersion)
	es, err := s.Events(ctx, a.ID, 0)
	require.NoError(t, err)
	assert.Len(t, es, 1, "and stays to be read")
	_, err = s.Attempt(ctx, uuid.New())
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// Jobs are numbered without gaps, though many are set at once and some fail; the
// same one sent again is not another.
func TestJobNumbers(t *testing.T) {
	s := testdb.Open(t)
	first := attempt(t, s)
	job, err := s.Job(ctx, first.JobID)
	require.NoError(t, err)
	var wg sync.WaitGroup
	for range 8 {
		wg.Go(func() {
			j := store.Job{ID: uuid.New(), MachineID: job.MachineID, SetBy: job.SetBy, Scenario: json.RawMessage(`{}`)}
			assert.NoError(t, s.AddJob(ctx, &j))
			again := store.Job{ID: j.ID, MachineID: j.MachineID, SetBy: j.SetBy, Scenario: json.RawMessage(`{ }`)}
			assert.NoError(t, s.AddJob(ctx, &again))
			assert.Equal(t, j.Number, again.Number)
			other := store.Job{ID: j.ID, MachineID: j.MachineID, SetBy: j.SetBy, Scenario: json.RawMessage(`{"words":"other"}`)}
			assert.ErrorIs(t, s.AddJob(ctx, &other), store.ErrReused)
			assert.Error(t, s.AddJob(ctx, &store.Job{ID: uuid.New(), MachineID: uuid.New(), SetBy: job.SetBy, Scenario: json.RawMessage(`{}`)}))
		})
	}
	wg.Wait()
	js, err := s.Jobs(ctx, 0, 100)
	require.NoError(t, err)
	for i, j := range js {
		assert.EqualValues(t, 9-i, j.Number)
	}
	js, err = s.Jobs(ctx, 5, 2)
	require.NoError(t, err)
	require.Len(t, js, 2)
	assert.EqualValues(t, 4, js[0].Number)
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

// Tries to sign in are counted one after the other, however many come at once.
func TestSignInsAreCountedInParallel(t *testing.T) {
	s := testdb.Open(t)
	var wg sync.WaitGroup
	seen := make([]bool, 41)
	var mu sync.Mutex
	for range 40 {
		wg.Go(func() {
			n, err := s.NoteSignIn(ctx, "name:a", time.Hour)
			assert.NoError(t, err)
			mu.Lock()
			defer mu.Unlock()
			assert.False(t, seen[n], "%d was counted twice", n)
			seen[n] = true
		})
	}
	wg.Wait()
	_, err := s.NoteSignIn(ctx, "address:1", time.Hour)
	require.NoError(t, err)
	require.NoError(t, s.ForgetSignIns(ctx, "name:a", "address:1"))
	for _, subject := range []string{"name:a", "address:1"} {
		n, err := s.NoteSignIn(ctx, subject, time.Hour)
		require.NoError(t, err)
		assert.Equal(t, 1, n, subject)
	}
	time.Sleep(10 * time.Millisecond)
	n, err := s.NoteSignIn(ctx, "name:a", time.Millisecond)
	require.NoError(t, err)
	assert.Equal(t, 1, n, "the window has passed")
	require.NoError(t, s.SweepSignIns(ctx, 0))
}

// A database that is down, ends, or takes too long is told apart from a row that
// is not there.
func TestUnavailable(t *testing.T) {
	s := testdb.Open(t)
	_, err := s.Person(ctx, uuid.New())
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.False(t, store.IsUnavailable(err))
	short, cancel := context.WithTimeout(ctx, 20*time.Millisecond)
	defer cancel()
	_, err = s.SQL().ExecContext(short, "SELECT pg_sleep(5)")
	assert.True(t, store.IsUnavailable(err), "%v", err)
	_, err = s.SQL().Exec("SELECT pg_terminate_backend(pg_backend_pid())")
	assert.True(t, store.IsUnavailable(err), "%v", err)
	_, err = s.SQL().Exec("SET statement_timeout = 10; SELECT pg_sleep(5)")
	assert.True(t, store.IsUnavailable(err), "%v", err)
	_, err = s.SQL().Exec("SELECT 1/0")
	assert.False(t, store.IsUnavailable(err), "%v", err)
	nowhere, err := store.Open(ctx, "postgres://x:y@127.0.0.1:1/z?sslmode=disable")
	assert.Nil(t, nowhere)
	assert.True(t, store.IsUnavailable(err), "%v", err)
}

// Several programs may open an empty database at once; one of them migrates. A
// schema from a newer program is refused.
func TestOpeningAtOnce(t *testing.T) {
	url := testdb.Bare(t)
	var wg sync.WaitGroup
	for range 6 {
		wg.Go(func() {
			s, err := store.Open(ctx, url)
			if assert.NoError(t, err) {
				defer s.Close()
				_, err = s.Secret(ctx, "x")
				assert.NoError(t, err)
			}
		})
	}
	wg.Wait()
	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	_, err = s.SQL().Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (99999, true)")
	require.NoError(t, err)
	s.Close()
	_, err = store.Open(ctx, url)
	assert.ErrorContains(t, err, "use the newer program")
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
