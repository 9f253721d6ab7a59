package cluster

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

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

// A server that dies comes up again at the same address with what it had, and one
// that was stopped stays so.
func TestDeadServerComesUpAgain(t *testing.T) {
	o, said := room(t)
	o.Throwaway = false // or a kill could cost what was written
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	c, err := Start(ctx, o)
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Stop() })
	db, err := sql.Open("pgx", c.URL)
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec("CREATE TABLE kept (n int); INSERT INTO kept VALUES (7)")
	require.NoError(t, err)
	pid, err := c.PID()
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
	require.Eventually(t, func() bool { _, alive := c.alive(); return !alive }, 10*time.Second, 10*time.Millisecond,
		"a process that has ended does not run, noted or not")
	go c.Watch(ctx)
	var n int
	require.Eventually(t, func() bool { return db.QueryRow("SELECT n FROM kept").Scan(&n) == nil }, 30*time.Second, 100*time.Millisecond)
	assert.Equal(t, 7, n)
	assert.Contains(t, strings.Join(*said, "\n"), "has died")
	require.NoError(t, c.Stop())
	assert.False(t, c.revive(ctx))
	_, alive := c.alive()
	assert.False(t, alive)
}

// A backup comes back whole into an empty database, and into no other.
func TestBackupComesBack(t *testing.T) {
	o, _ := room(t)
	ctx := context.Background()
	c, err := Start(ctx, o)
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Stop() })
	db, err := sql.Open("pgx", c.URL)
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec("CREATE TABLE kept (n int PRIMARY KEY, words text); INSERT INTO kept SELECT i, repeat('λ ', i) FROM generate_series(1, 200) i")
	require.NoError(t, err)
	_, err = db.Exec("CREATE DATABASE other")
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "backup")
	require.NoError(t, Dump(ctx, c.URL, file))
	to := strings.Replace(c.URL, "/zanjero?", "/other?", 1)
	empty, err := Empty(ctx, to)
	require.NoError(t, err)
	assert.True(t, empty)
	require.NoError(t, Restore(ctx, to, file))
	empty, err = Empty(ctx, to)
	require.NoError(t, err)
	assert.False(t, empty)
	other, err := sql.Open("pgx", to)
	require.NoError(t, err)
	defer other.Close()
	sum := func(db *sql.DB) (s string) {
		require.NoError(t, db.QueryRow("SELECT md5(string_agg(n || words, ',' ORDER BY n)) FROM kept").Scan(&s))
		return s
	}
	assert.Equal(t, sum(db), sum(other))
	require.Error(t, Restore(ctx, to, file), "not over what is there")
	assert.Equal(t, sum(db), sum(other), "and then nothing has changed")
	require.NoError(t, os.WriteFile(file, []byte("no backup"), 0o600))
	require.Error(t, Restore(ctx, to, file))
}

// A start that is given up while the server still replays what a crash left
// leaves no server behind, and the next start has everything.
func TestGivingUpDuringRecovery(t *testing.T) {
	o, _ := room(t)
	o.Throwaway = false // or a kill could cost what was written
	c, err := Start(context.Background(), o)
	require.NoError(t, err)
	db, err := sql.Open("pgx", c.URL)
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE kept AS SELECT n, repeat('x', 200) FROM generate_series(1, 400000) n")
	require.NoError(t, err)
	db.Close()
	pid, err := c.PID()
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
	require.Eventually(t, func() bool { _, alive := c.alive(); return !alive }, 10*time.Second, 10*time.Millisecond)
	require.NoError(t, c.lock.Close(), "as the end of its process would")

	ctx, giveUp := context.WithCancel(context.Background())
	begun := make(chan int)
	go func() {
		for {
			if again, err := c.PID(); err == nil && again != pid {
				giveUp()
				begun <- again
				return
			}
			time.Sleep(time.Millisecond)
		}
	}()
	_, err = Start(ctx, o)
	require.ErrorIs(t, err, context.Canceled)
	again := <-begun
	assert.Eventually(t, func() bool { return syscall.Kill(again, 0) != nil || ended(again) }, 10*time.Second, 10*time.Millisecond, "nothing is left running")
	c, err = Start(context.Background(), o)
	require.NoError(t, err)
	defer c.Stop()
	db, err = sql.Open("pgx", c.URL)
	require.NoError(t, err)
	defer db.Close()
	var n int
	require.NoError(t, db.QueryRow("SELECT count(*) FROM kept").Scan(&n))
	assert.Equal(t, 400000, n)
}

// ended says that a process is over and only not yet noted by its parent.
func ended(pid int) bool {
	stat, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	return err != nil || strings.Contains(string(stat), ") Z ")
}
