package httpapi_test

import (
	"encoding/json"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// Two who look at one bench read it each in their own language, also what an act changes of
// it; a language that is not here is English. What somebody has chosen is kept with them.
func TestEachReadsInTheirOwnLanguage(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "main-jet-blocked", 0.7, "ann")
	in := func(u *user, language, method, path string, body any) []byte {
		raw, err := json.Marshal(body)
		require.NoError(t, err)
		req, err := http.NewRequest(method, s.url+path, strings.NewReader(string(raw)))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Accept-Language", language)
		res, err := u.c.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		out, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		require.Equal(t, 200, res.StatusCode, string(out))
		return out
	}
	path := "/api/attempts/" + a
	act := func(after int, event map[string]any) map[string]any {
		return map[string]any{"client_id": uuid.NewString(), "after": after, "event": event}
	}
	look := func(u *user, language string) httpapi.Bench {
		return decode[httpapi.Bench](t, in(u, language, "GET", path, nil))
	}
	in(ann, "es", "POST", path+"/events", act(0, map[string]any{"kind": "take", "test": "look-fuel"}))
	assert.Equal(t, "Mira el combustible", look(ann, "es-MX,es;q=0.9").Ledger[0].Title)
	assert.Equal(t, "Look at the fuel", look(inst, "en").Ledger[0].Title)
	assert.Equal(t, "Look at the fuel", look(inst, "xx, *;q=0.1").Ledger[0].Title)
	change := in(ann, "es", "POST", path+"/events", act(1, map[string]any{"kind": "take", "test": "look-oil"}))
	assert.Contains(t, string(change), "Mira el aceite", "what changed, though somebody looked in English between")
	assert.Contains(t, string(change), "Mira el combustible")
	assert.NotContains(t, string(change), "Look at")

	code, _ := ann.call("PUT", "/api/me/language", map[string]any{"language": "es"})
	assert.Equal(t, 204, code)
	_, raw := s.as("ann").get("/api/me")
	assert.Equal(t, "es", *decode[httpapi.Person](t, raw).Language)
	code, _ = ann.call("PUT", "/api/me/language", map[string]any{"language": "xx"})
	assert.Equal(t, 400, code)
}
