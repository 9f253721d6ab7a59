package store_test

import (
	"database/sql"
	"encoding/json"
	"os"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/assess"
	"zanjero/internal/store"
	"zanjero/internal/testdb"
)

// A database of the third version with people, jobs, acts and a debrief in it is
// brought up to date whole: numbers go on, marks stand in their columns, the old
// debrief is readable, what was begun is still there to be closed, and nobody is
// locked out.
func TestUpgradeWithDataInIt(t *testing.T) {
	url := testdb.Bare(t)
	db, err := sql.Open("pgx", url)
	require.NoError(t, err)
	require.NoError(t, store.MigrateTo(ctx, db, 3))
	old, err := os.ReadFile("../../core/assess/testdata/form-0.json")
	require.NoError(t, err)
	boss, ann, machine, job, begun, done := uuid.New(), uuid.New(), uuid.New(), uuid.New(), uuid.New(), uuid.New()
	second := uuid.New()
	for _, c := range []struct {
		command string
		args    []any
	}{
		{"INSERT INTO people (id, name, display_name, role, password_hash, demo) VALUES ($1, 'boss', 'B', 'instructor', 'h', true), ($2, 'ann', " +
			"'A', 'apprentice', 'h', false)", []any{boss, ann}},
		{"INSERT INTO sign_in_failures (subject) VALUES ('name:ann')", nil},
		{"INSERT INTO machines (id, name, code, family, duty, sheet, revision) VALUES ($1, 'Pump', 'P', 'f4-bowl', 'd', '{}', 3)", []any{machine}},
		{"INSERT INTO jobs (id, machine_id, set_by, scenario) VALUES ($1, $2, $3, '{\"words\":\"x\"}'), ($4, $2, $3, '{}')", []any{job, machine, boss, second}},
		{"INSERT INTO attempts (id, job_id, apprentice_id, seed, model_version, state, minutes, events) VALUES ($1, $2, $3, 7, '2026.2', 'in-hand', 4, 1)",
			[]any{begun, job, ann}},
		{"INSERT INTO events (attempt_id, seq, client_id, body, observed) VALUES ($1, 0, $2, '{\"kind\":\"wait\",\"minutes\":4}', NULL)", []any{begun, uuid.New()}},
		{"INSERT INTO attempts (id, job_id, apprentice_id, seed, model_version, state, minutes, assessment, handed_at) VALUES ($1, $2, $3, 7, " +
			"'2026.3', 'handed-over', 22, $4, now())", []any{done, second, ann, string(old)}},
	} {
		_, err := db.Exec(c.command, c.args...)
		require.NoError(t, err, c.command)
	}
	require.NoError(t, db.Close())

	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	p, err := s.PersonByName(ctx, "ann")
	require.NoError(t, err)
	assert.False(t, p.Disabled)
	assert.Equal(t, 1, p.SessionEpoch)
	as, err := s.Attempts(ctx, store.Page{Apprentice: ann, Limit: 9})
	require.NoError(t, err)
	require.Len(t, as, 2)
	marked, err := s.Attempt(ctx, done)
	require.NoError(t, err)
	a, err := assess.Read(marked.Assessment)
	require.NoError(t, err)
	mark, of := a.Total()
	assert.InDelta(t, mark, *marked.Mark, 0.06)
	assert.Equal(t, of, *marked.MarkOf)
	assert.Equal(t, assess.Proven, *marked.Class)
	es, err := s.Events(ctx, begun, 0)
	require.NoError(t, err)
	assert.Len(t, es, 1)
	_, err = s.SQL().Exec("DELETE FROM events")
	assert.ErrorContains(t, err, "append-only", "still")
	require.NoError(t, s.Freeze(ctx, begun, []byte(`{"code":"attempt.outdated"}`)))
	require.NoError(t, s.Renew(ctx, begun, "2026.4", func(uuid.UUID) int64 { return 1 }))
	j := store.Job{ID: uuid.New(), MachineID: machine, SetBy: boss, Scenario: json.RawMessage(`{}`)}
	require.NoError(t, s.AddJob(ctx, &j))
	assert.EqualValues(t, 3, j.Number, "numbers go on")
	n, err := s.NoteSignIn(ctx, "name:ann", 1e12)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
}
