package main

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"syscall"
	"testing"

	"github.com/google/uuid"
	_ "github.com/jackc/pgx/v5/stdlib"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/demo"
	"zanjero/internal/cluster"
	"zanjero/internal/password"
	"zanjero/internal/store"
	"zanjero/internal/yard"
)

// sums is every table of a database with a sum over all that stands in it.
func sums(t *testing.T, address string) map[string]string {
	db, err := sql.Open("pgx", address)
	require.NoError(t, err)
	defer db.Close()
	rows, err := db.Query("SELECT table_name FROM information_schema.tables WHERE table_schema = 'public' AND table_type = 'BASE TABLE'")
	require.NoError(t, err)
	out := map[string]string{}
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		out[name] = ""
	}
	require.NoError(t, rows.Err())
	for name := range out {
		var sum string
		require.NoError(t, db.QueryRow(`SELECT count(*) || ' ' || coalesce(md5(string_agg(t::text, E'\n' ORDER BY t::text)), '') FROM "`+name+`" t`).Scan(&sum))
		out[name] = sum
	}
	return out
}

// A yard is backed up, its server is killed, and the backup is restored on a new one: every
// table is as it was. A backup that was cut short is refused, and leaves nothing behind.
func TestEveryTableComesBack(t *testing.T) {
	ctx := context.Background()
	start := func() *cluster.Cluster {
		dir, err := os.MkdirTemp("/var/tmp", "zanjero-cmd-")
		require.NoError(t, err)
		t.Cleanup(func() { os.RemoveAll(dir) })
		require.NoError(t, os.Chmod(dir, 0o755))
		c, err := cluster.Start(ctx, cluster.Options{Dir: filepath.Join(dir, "pg"), Throwaway: true})
		require.NoError(t, err)
		t.Cleanup(func() { _ = c.Stop() })
		return c
	}
	one := start()
	st, err := store.Open(ctx, one.URL)
	require.NoError(t, err)
	y, err := yard.Parse(demo.Yard)
	require.NoError(t, err)
	y.Library, err = yard.ParseLibrary(demo.Scenarios)
	require.NoError(t, err)
	_, err = yard.Load(ctx, st, y, password.Cost{MemoryKiB: 64, Passes: 1}, func(uuid.UUID) int64 { return 7 })
	require.NoError(t, err)
	require.NoError(t, st.Close())
	before := sums(t, one.URL)
	require.Greater(t, len(before), 25)

	file := filepath.Join(t.TempDir(), "yard.backup")
	t.Setenv("ZANJERO_DATABASE_URL", one.URL)
	code, _, errs := run(t, z, "", "backup", file)
	require.Equal(t, 0, code, errs)
	pid, err := one.PID()
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))

	two := start()
	t.Setenv("ZANJERO_DATABASE_URL", two.URL)
	whole, err := os.ReadFile(file)
	require.NoError(t, err)
	short := file + ".short"
	require.NoError(t, os.WriteFile(short, whole[:len(whole)/2], 0o600))
	code, _, errs = run(t, z, "", "restore", short)
	assert.NotEqual(t, 0, code)
	assert.NotEmpty(t, errs)
	assert.Empty(t, sums(t, two.URL))
	code, _, errs = run(t, z, "", "restore", file)
	require.Equal(t, 0, code, errs)
	assert.Equal(t, before, sums(t, two.URL))
}
