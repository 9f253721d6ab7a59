// Package testdb starts a throw-away PostgreSQL for a package's tests and gives
// each test a database of its own.
package testdb

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/google/uuid"
	_ "github.com/jackc/pgx/v5/stdlib"
	"github.com/stretchr/testify/require"

	"zanjero/internal/cluster"
	"zanjero/internal/store"
)

var (
	server *cluster.Cluster
	// template is a database with the present schema, which others are copied
	// from.
	template string
)

// Main runs a package's tests with a cluster of their own; call it from TestMain. What is
// to be held against all of them is asked after they have passed.
func Main(m *testing.M, after ...func() error) {
	code := run(m)
	for _, ask := range after {
		if err := ask(); code == 0 && err != nil {
			fmt.Fprintln(os.Stderr, "FAIL:", err)
			code = 1
		}
	}
	os.Exit(code)
}

func run(m *testing.M) int {
	dir, err := os.MkdirTemp("/var/tmp", "zanjero-test-")
	if err == nil {
		defer os.RemoveAll(dir)
		_ = os.Chmod(dir, 0o755) // the server's account must be able to pass
		server, err = cluster.Start(context.Background(), cluster.Options{Dir: filepath.Join(dir, "pg"), Throwaway: true})
	}
	if err == nil {
		defer server.Stop()
		template, err = create("")
	}
	if err == nil {
		var st *store.Store
		if st, err = store.Open(context.Background(), address(template)); err == nil {
			st.Close()
		}
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	return m.Run()
}

// Server is the cluster that the tests run on.
func Server() *cluster.Cluster { return server }

func address(name string) string { return strings.Replace(server.URL, "/zanjero?", "/"+name+"?", 1) }

// create makes a database: a copy of the template, or an empty one for "".
func create(from string) (string, error) {
	db, err := sql.Open("pgx", server.URL)
	if err != nil {
		return "", err
	}
	defer db.Close()
	name := "t" + strings.ReplaceAll(uuid.NewString(), "-", "")
	command := "CREATE DATABASE " + name
	if from != "" {
		command += " TEMPLATE " + from
	}
	_, err = db.Exec(command)
	return name, err
}

// Open gives a test an empty database with the present schema.
func Open(t *testing.T) *store.Store {
	st, err := store.Open(context.Background(), URL(t))
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	return st
}

// URL gives a test the address of an empty database with the present schema.
func URL(t *testing.T) string {
	name, err := create(template)
	require.NoError(t, err)
	return address(name)
}

// Bare gives a test the address of a database with nothing in it.
func Bare(t *testing.T) string {
	name, err := create("")
	require.NoError(t, err)
	return address(name)
}
