package cluster

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	_ "github.com/jackc/pgx/v5/stdlib"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func room(t *testing.T) (Options, *[]string) {
	dir, err := os.MkdirTemp("/var/tmp", "zanjero-test-")
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755))
	var said []string
	return Options{Dir: filepath.Join(dir, "pg"), Throwaway: true, Say: func(f string, a ...any) { said = append(said, fmt.Sprintf(f, a...)) }}, &said
}

// One life of a cluster: made over a half-made one, kept over a restart, a
// stale pid file taken away, a second server kept out.
func TestLifeOfACluster(t *testing.T) {
	o, said := room(t)
	ctx := context.Background()
	require.NoError(t, os.MkdirAll(filepath.Join(o.Dir, "data.new", "base"), 0o700))
	c, err := Start(ctx, o)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(*said, "\n"), "half-made")
	db, err := sql.Open("pgx", c.URL)
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE kept (n int); INSERT INTO kept VALUES (7)")
	require.NoError(t, err)
	db.Close()

	_, err = Start(ctx, o)
	require.ErrorContains(t, err, "already being served by process")

	require.NoError(t, c.Stop())
	require.NoError(t, os.WriteFile(filepath.Join(c.dir, "data", "postmaster.pid"), []byte("1\n/x\n0\n5\n"), 0o600))
	c, err = Start(ctx, o)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(*said, "\n"), "stale pid file")
	db, err = sql.Open("pgx", c.URL)
	require.NoError(t, err)
	var n int
	require.NoError(t, db.QueryRow("SELECT n FROM kept").Scan(&n))
	assert.Equal(t, 7, n)
	db.Close()
	require.NoError(t, c.Stop())

	require.NoError(t, os.WriteFile(filepath.Join(c.dir, "data", "PG_VERSION"), []byte("9\n"), 0o600))
	_, err = Start(ctx, o)
	require.ErrorContains(t, err, "install postgresql-9")
	require.NoError(t, os.Remove(filepath.Join(c.dir, "data", "PG_VERSION")))
	_, err = Start(ctx, o)
	require.ErrorContains(t, err, "move it away")
}

func TestNoServerInstalled(t *testing.T) {
	o, _ := room(t)
	o.binaries = "/nonexistent/*/bin"
	_, err := Start(context.Background(), o)
	require.ErrorContains(t, err, "install the package postgresql")
}
