package store_test

import (
	"encoding/json"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/store"
	"zanjero/internal/testdb"
)

// An engine has one open card, whatever is sent; of two who go on with it at once one is
// told, and what was done stays as it was done.
func TestCardsOfEngines(t *testing.T) {
	s := testdb.Open(t)
	a := attempt(t, s)
	job, err := s.Job(ctx, a.JobID)
	require.NoError(t, err)
	who, machine := a.ApprenticeID, job.MachineID
	require.NoError(t, s.KeepEngine(ctx, &store.Engine{MachineID: machine, Serial: uuid.NewString()}))
	body := json.RawMessage(`{}`)
	b := store.Bug{ID: uuid.New(), MachineID: machine, Body: body, Open: true}
	act := func(seq int) store.BugAct {
		return store.BugAct{BugID: b.ID, Seq: seq, Kind: "x", Body: body, ByID: who}
	}
	require.NoError(t, s.AddBug(ctx, &b, act(0)))
	other := store.Bug{ID: uuid.New(), MachineID: machine, Body: body, Open: true}
	assert.True(t, store.IsDuplicate(s.AddBug(ctx, &other, act(0))))
	require.NoError(t, s.ActOnBug(ctx, act(1), false, nil))
	assert.ErrorIs(t, s.ActOnBug(ctx, act(1), false, nil), store.ErrMoved)
	assert.ErrorIs(t, s.ActOnBug(ctx, act(2), false, func(*store.Store) (uuid.UUID, error) { return a.JobID, store.ErrNotFound }), store.ErrNotFound)
	kept, err := s.Bug(ctx, b.ID)
	require.NoError(t, err)
	assert.Len(t, kept.Acts, 2, "what failed is not kept")
	_, err = s.SQL().Exec(`UPDATE bug_acts SET kind = 'y'`)
	assert.Error(t, err)
	require.NoError(t, s.ActOnBug(ctx, act(2), true, nil))
	require.NoError(t, s.AddBug(ctx, &other, act(0)), "fit again")
}
