package httpapi_test

import (
	"io"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A list that has not changed is not sent again; one that has is, and somebody
// else's is never taken for one's own.
func TestUnchangedIsNotSentAgain(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	s.job(inst, "rings-worn", 0.6, "ann")
	ask := func(u *user, path, tag string) (status, size int, now string) {
		req, err := http.NewRequest("GET", s.url+path, nil)
		require.NoError(t, err)
		req.Header.Set("If-None-Match", tag)
		res, err := u.c.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		raw, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return res.StatusCode, len(raw), res.Header.Get("ETag")
	}
	for u, path := range map[*user]string{inst: "/api/jobs", ann: "/api/attempts"} {
		status, size, tag := ask(u, path, "")
		assert.Equal(t, 200, status)
		assert.NotZero(t, size)
		status, size, same := ask(u, path, `"other", `+tag)
		assert.Equal(t, []any{304, 0, tag}, []any{status, size, same}, path)
		s.job(inst, "rings-worn", 0.7, "ann")
		status, _, other := ask(u, path, tag)
		assert.Equal(t, 200, status, "%s has changed", path)
		assert.NotEqual(t, tag, other)
	}
	_, _, tag := ask(ann, "/api/attempts", "")
	status, _, _ := ask(bob, "/api/attempts", tag)
	assert.Equal(t, 200, status)
	status, _, _ = ask(s.anyone(), "/api/attempts", tag)
	assert.Equal(t, 401, status)
}
