package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"io"
	"net"
	"slices"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
	"gorm.io/gorm"
)

// ErrNotFound: there is no such row. No other error means that.
var ErrNotFound = gorm.ErrRecordNotFound

// IsDuplicate says that a row with that key is already there.
func IsDuplicate(err error) bool { return errors.Is(err, gorm.ErrDuplicatedKey) }

// IsUnavailable says that the database could not be asked just now: it is down,
// starting, stopping, full or too slow. The same may be asked again later, and
// nothing has been learned of what was asked for.
func IsUnavailable(err error) bool {
	var pg *pgconn.PgError
	if errors.As(err, &pg) {
		// Classes of SQLSTATE: 08 connection, 53 resources, 57 operator
		// intervention (shutdown, crash, cannot connect now, cancelled by a
		// time-out), 58 system; 40001, 40P01 and 55P03 are conflicts that pass.
		// Source: PostgreSQL documentation, appendix A.
		return slices.Contains([]string{"08", "53", "57", "58"}, pg.Code[:2]) || slices.Contains([]string{"40001", "40P01", "55P03", "25006"}, pg.Code)
	}
	var connect *pgconn.ConnectError
	var network net.Error
	return errors.As(err, &connect) || errors.As(err, &network) || pgconn.Timeout(err) ||
		errors.Is(err, driver.ErrBadConn) || errors.Is(err, sql.ErrConnDone) || errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, io.EOF) ||
		errors.Is(err, context.DeadlineExceeded) || strings.Contains(err.Error(), "conn closed")
}
