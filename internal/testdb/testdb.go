// Package testdb starts a throw-away PostgreSQL for a package's tests and gives
// each test a database of its own.
package testdb

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"zanjero/internal/cluster"
	"zanjero/internal/store"
)

var url string

// Main runs a package's tests with a cluster of their own; call it from TestMain.
func Main(m *testing.M) {
	os.Exit(run(m))
}

func run(m *testing.M) int {
	dir, err := os.MkdirTemp("/var/tmp", "zanjero-test-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	_ = os.Chmod(dir, 0o755) // the server's account must be able to pass
	c, err := cluster.Start(context.Background(), cluster.Options{Dir: filepath.Join(dir, "pg"), Throwaway: true})
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer c.Stop()
	url = c.URL
	return m.Run()
}

// Open gives a test an empty database with the present schema.
func Open(t *testing.T) *store.Store {
	ctx := context.Background()
	admin, err := store.Open(ctx, url)
	require.NoError(t, err)
	defer admin.Close()
	name := "t" + strings.ReplaceAll(uuid.NewString(), "-", "")
	_, err = admin.SQL().Exec("CREATE DATABASE " + name)
	require.NoError(t, err)
	st, err := store.Open(ctx, strings.Replace(url, "/zanjero?", "/"+name+"?", 1))
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	return st
}
