package main

import (
	"context"
	"encoding/json"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/cluster"
	"zanjero/internal/httpapi"
	"zanjero/internal/store"
	"zanjero/web"
)

// Two yards of one installation see nothing of each other: neither people, nor sessions, nor
// what is backed up.
func TestYardsSeeNothingOfEachOther(t *testing.T) {
	dir, err := os.MkdirTemp("/var/tmp", "zanjero-yards-")
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755))
	c, err := cluster.Start(context.Background(), cluster.Options{Dir: filepath.Join(dir, "pg"), Throwaway: true})
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Stop() })
	t.Setenv("ZANJERO_DATABASE_URL", c.URL)
	for _, args := range [][]string{{"vela"}, {"bruno", "--yard", "south"}} {
		code, _, errs := run(t, z, "ditch-and-gate-41\n", append([]string{"person", "add", "--role", "coordinator"}, args...)...)
		require.Equal(t, 0, code, errs)
	}
	code, _, errs := run(t, z, "", "person", "list", "--yard", "South Yard")
	assert.NotEqual(t, 0, code)
	assert.Contains(t, errs, "a yard cannot be called")

	st, err := store.Open(t.Context(), c.URL)
	require.NoError(t, err)
	defer st.Close()
	o := serveOptions{addr: "127.0.0.1:0", yards: []string{"south"}}
	srv, first, err := httpapi.New(t.Context(), httpapi.Options{Store: st, Web: web.Dist(), Loopback: true})
	require.NoError(t, err)
	defer srv.Close()
	handler, stop, err := beside(t.Context(), o, c.URL, nil, first)
	require.NoError(t, err)
	defer stop()
	served := httptest.NewServer(handler)
	defer served.Close()
	address := strings.TrimPrefix(served.URL, "http://")
	ask := func(c *http.Client, method, host, path, body string) (int, string) {
		req, err := http.NewRequest(method, "http://"+address+path, strings.NewReader(body))
		require.NoError(t, err)
		req.Host = host
		if body != "" {
			req.Header.Set("Content-Type", "application/json")
		}
		r, err := c.Do(req)
		require.NoError(t, err)
		defer r.Body.Close()
		var raw json.RawMessage
		_ = json.NewDecoder(r.Body).Decode(&raw)
		return r.StatusCode, string(raw)
	}
	client := func() *http.Client { jar, _ := cookiejar.New(nil); return &http.Client{Jar: jar} }
	const vela, bruno = `{"name":"vela","password":"ditch-and-gate-41"}`, `{"name":"bruno","password":"ditch-and-gate-41"}`
	for _, x := range []struct {
		host, body string
		status     int
	}{{"localhost", vela, 200}, {"localhost", bruno, 401}, {"south.localhost", bruno, 200}, {"south.localhost", vela, 401}, {"north.localhost", vela, 421}} {
		status, said := ask(client(), "POST", x.host, "/api/session", x.body)
		assert.Equal(t, x.status, status, "%s %s: %s", x.host, x.body, said)
	}
	u := client()
	ask(u, "POST", "localhost", "/api/session", vela)
	_, people := ask(u, "GET", "localhost", "/api/people", "")
	assert.Contains(t, people, "vela")
	assert.NotContains(t, people, "bruno")
	// The same cookie says nothing in the other yard, whoever carries it there.
	status, _ := ask(u, "GET", "south.localhost", "/api/people", "")
	assert.Equal(t, 401, status)
	// What is backed up of one is one's own.
	file := filepath.Join(t.TempDir(), "south.backup")
	code, _, errs = run(t, z, "", "backup", file, "--yard", "south")
	require.Equal(t, 0, code, errs)
	code, _, errs = run(t, z, "", "restore", file, "--yard", "copy")
	require.Equal(t, 0, code, errs)
	code, list, _ := run(t, z, "", "person", "list", "--yard", "copy")
	require.Equal(t, 0, code)
	assert.Contains(t, list, "bruno")
	assert.NotContains(t, list, "vela")
}
