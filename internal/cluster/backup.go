package cluster

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver of Empty
)

// Dump writes all that is in a database to a file, in PostgreSQL's own form,
// as it stands at one moment; others may go on meanwhile.
func Dump(ctx context.Context, address, file string) error {
	return client(ctx, address, "pg_dump", "--format=custom", "--no-owner", "--no-privileges", "--file", file)
}

// Restore puts a dump into an empty database, in one transaction.
func Restore(ctx context.Context, address, file string) error {
	u, err := url.Parse(address)
	if err != nil {
		return err
	}
	return client(ctx, address, "pg_restore", "--single-transaction", "--exit-on-error", "--no-owner", "--no-privileges", "--dbname", u.Path[1:], file)
}

// Empty says that nothing is in a database yet.
func Empty(ctx context.Context, address string) (bool, error) {
	db, err := sql.Open("pgx", address)
	if err != nil {
		return false, err
	}
	defer db.Close()
	var n int
	err = db.QueryRowContext(ctx, "SELECT count(*) FROM information_schema.tables WHERE table_schema = 'public'").Scan(&n)
	return n == 0, err
}

// client runs one of PostgreSQL's own programs on a database, with the address
// in its environment, where other people's lists of processes do not show it.
func client(ctx context.Context, address, program string, args ...string) error {
	u, err := url.Parse(address)
	if err != nil {
		return errors.New("the database's address cannot be read")
	}
	path := newest("/usr/lib/postgresql/*/bin/" + program)
	if path == "" {
		if path, err = exec.LookPath(program); err != nil {
			return fmt.Errorf("%s is not installed; install the package postgresql-client", program)
		}
	}
	cmd := exec.CommandContext(ctx, path, args...)
	password, _ := u.User.Password()
	port := u.Port()
	if port == "" {
		port = "5432"
	}
	cmd.Env = append(os.Environ(), "PGHOST="+u.Hostname(), "PGPORT="+port, "PGUSER="+u.User.Username(), "PGPASSWORD="+password, "PGDATABASE="+u.Path[1:],
		"PGSSLMODE="+u.Query().Get("sslmode"))
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("%s: %w: %s", program, err, lastLine(out))
	}
	return nil
}

// newest is the last of what a pattern finds, by name.
func newest(pattern string) string {
	found, _ := filepath.Glob(pattern)
	if len(found) == 0 {
		return ""
	}
	return slices.Max(found)
}
