package main

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/cluster"
	"zanjero/internal/password"
	"zanjero/internal/store"
)

// People are managed by command, beside a server or without one, and what they
// are comes back from a backup.
func TestPeopleAndBackup(t *testing.T) {
	dir, err := os.MkdirTemp("/var/tmp", "zanjero-cmd-")
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755))
	ctx := context.Background()
	c, err := cluster.Start(ctx, cluster.Options{Dir: filepath.Join(dir, "pg"), Throwaway: true})
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Stop() })
	t.Setenv("ZANJERO_DATABASE_URL", c.URL)
	ok := func(in string, args ...string) string {
		code, out, errs := run(t, z, in, args...)
		require.Equal(t, 0, code, "%v: %s", args, errs)
		return out + errs
	}
	refused := func(in, says string, args ...string) {
		code, _, errs := run(t, z, in, args...)
		assert.NotEqual(t, 0, code, "%v", args)
		assert.Contains(t, errs, says, "%v", args)
	}
	ok("ditch-and-gate-41\n", "person", "add", "vela", "--role", "instructor", "--display-name", "Vela")
	refused("ditch-and-gate-41\n", "vela", "person", "add", "vela")
	refused("short\n", "", "person", "add", "bruno")
	refused("ditch-and-gate-41\n", "role", "person", "add", "bruno", "--role", "boss")
	refused("", "nobody", "person", "disable", "nobody")
	assert.Contains(t, ok("", "person", "list"), "vela")

	st, err := store.Open(ctx, c.URL)
	require.NoError(t, err)
	person := func() store.Person {
		p, err := st.PersonByName(ctx, "vela")
		require.NoError(t, err)
		return p
	}
	before := person()
	assert.False(t, before.Demo)
	ok("another-ditch-77\n", "person", "password", "vela")
	after := person()
	assert.Greater(t, after.SessionEpoch, before.SessionEpoch, "with a new password the old sessions end")
	good, err := password.Check(ctx, after.PasswordHash, "another-ditch-77")
	require.NoError(t, err)
	assert.True(t, good)
	ok("", "person", "sign-out", "vela")
	assert.Greater(t, person().SessionEpoch, after.SessionEpoch)
	ok("", "person", "disable", "vela")
	assert.True(t, person().Disabled)

	file := filepath.Join(t.TempDir(), "yard.backup")
	ok("", "backup", file)
	refused("", file, "backup", file)
	refused("", "not empty", "restore", file)
	_, err = st.SQL().Exec("CREATE DATABASE other")
	require.NoError(t, err)
	st.Close()
	other := strings.Replace(c.URL, "/zanjero?", "/other?", 1)
	t.Setenv("ZANJERO_DATABASE_URL", other)
	refused("", "", "restore", file+".none")
	ok("", "restore", file)
	st, err = store.Open(ctx, other)
	require.NoError(t, err)
	defer st.Close()
	assert.True(t, person().Disabled, "as it was")
	ok("", "person", "enable", "vela")
	assert.False(t, person().Disabled)
}
