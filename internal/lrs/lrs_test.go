package lrs_test

import (
	"encoding/json"
	"errors"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/assess"
	"zanjero/core/record"
	"zanjero/internal/lrs"
)

var who = record.Whose{Home: "https://yard.example", Person: "7", Name: "Ann", Language: "en", Passed: "passed",
	Failed: "failed", Voided: "took back", Job: "Job"}

func attempt(outcome string) record.Attempt {
	return record.Attempt{ID: "0b0a7a44-57a3-4f2c-8a3e-2d7c3f1f2a10", Job: 3, Machine: "Lift pump LP-2", At: "2026-11-27T08:00:00Z",
		Minutes: 61.25, Mark: 75.7, Of: 100,
		Outcome: outcome, Skills: []assess.Skill{{Skill: "readings", Lateral: "spark", Score: 0.7}}}
}

// A statement is kept once however often it is sent, and stays what it is; one that takes it
// back does. What breaks a rule of the specification is refused.
func TestStandInKeepsToTheRules(t *testing.T) {
	store := &lrs.StandIn{Key: "k", Secret: "s"}
	srv := httptest.NewServer(store)
	defer srv.Close()
	to := lrs.Store{URL: srv.URL, Key: "k", Secret: "s"}
	s := who.Statement(attempt(assess.NotYet))
	assert.Equal(t, "PT61M15S", s.Result.Duration)
	for range 3 {
		require.NoError(t, to.Put(t.Context(), s.ID, s))
	}
	assert.Len(t, store.Statements(), 1)
	other := s
	other.Timestamp = "2026-11-28T08:00:00Z"
	var no *lrs.Refused
	require.ErrorAs(t, to.Put(t.Context(), s.ID, other), &no)
	assert.Equal(t, 409, no.Status)
	require.NoError(t, to.Put(t.Context(), who.Void(s.ID, other.Timestamp).ID, who.Void(s.ID, other.Timestamp)))
	assert.True(t, store.Voided(s.ID))
	err := lrs.Store{URL: srv.URL, Key: "k", Secret: "wrong"}.Put(t.Context(), s.ID, s)
	assert.False(t, errors.As(err, &no), "a wrong key can be mended: %v", err)
	assert.Error(t, err)

	good, _ := json.Marshal(who.Statement(attempt(assess.Competent)))
	id := who.Statement(attempt(assess.Competent)).ID
	_, err = lrs.Check(good, id)
	require.NoError(t, err)
	for from, to := range map[string]string{
		`"scaled":0.757`: `"scaled":1.2`, `"raw":75.7`: `"raw":175.7`, "PT61M15S": "61 min",
		`"verb":{"id":"http://adlnet.gov/expapi/verbs/passed"`: `"verb":{"id":"passed"`,
		`"timestamp":"2026-11-27T08:00:00Z"`:                   `"timestamp":"yesterday"`,
		`"objectType":"Agent"`:                                 `"objectType":"Person"`, `"en":"passed"`: `"":"passed"`,
		`"registration":"0b0a7a44`: `"registration":"x`, `"completion":true`: `"completion":null`, `"platform"`: `"plateform"`,
		`"homePage":"https://yard.example"`: `"homePage":"yard"`,
	} {
		require.Contains(t, string(good), from)
		_, err := lrs.Check([]byte(strings.Replace(string(good), from, to, 1)), id)
		assert.Error(t, err, to)
	}
}

func FuzzCheck(f *testing.F) {
	raw, _ := json.Marshal(who.Statement(attempt(assess.Competent)))
	f.Add(raw)
	f.Fuzz(func(_ *testing.T, raw []byte) { _, _ = lrs.Check(raw, "0b0a7a44-57a3-4f2c-8a3e-2d7c3f1f2a10") })
}
