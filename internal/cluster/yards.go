package cluster

import (
	"context"
	"fmt"
	"net/url"
	"regexp"
	"strings"

	"github.com/jackc/pgx/v5"
)

// yardName is what a yard beside the first may be called: it is part of the name of its
// database and of the address that it is reached by.
var yardName = regexp.MustCompile(`^[a-z][a-z0-9-]{0,29}$`)

// YardName says that a yard may be called so.
func YardName(name string) bool { return yardName.MatchString(name) }

// Beside gives the address of a yard's own database on the server of another, which is made
// where it is not there yet. The name is one that YardName allows.
func Beside(ctx context.Context, address, yard string) (string, error) {
	u, err := url.Parse(address)
	if err != nil {
		return "", err
	}
	first := strings.TrimPrefix(u.Path, "/")
	name := first + "_" + strings.ReplaceAll(yard, "-", "_")
	db, err := pgx.Connect(ctx, address)
	if err != nil {
		return "", err
	}
	defer db.Close(context.WithoutCancel(ctx))
	// Two who begin at once make it once.
	if _, err := db.Exec(ctx, "SELECT pg_advisory_lock(hashtext($1))", name); err != nil {
		return "", err
	}
	var there bool
	if err := db.QueryRow(ctx, "SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)", name).Scan(&there); err != nil {
		return "", err
	}
	if !there {
		if _, err := db.Exec(ctx, "CREATE DATABASE "+pgx.Identifier{name}.Sanitize()); err != nil {
			return "", fmt.Errorf("making the database of yard %s failed: %w", yard, err)
		}
	}
	u.Path = "/" + name
	return u.String(), nil
}
