// Package password hashes passwords and checks them, with a bound on the memory
// that all sign-ins together can ask for.
package password

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"sync/atomic"

	"golang.org/x/crypto/argon2"
)

// ErrBusy: more passwords wait to be hashed than can be in a second or two; the
// same may be asked again.
var ErrBusy = errors.New("too many sign-ins at once")

// Cost of argon2id. The zero value is of no use.
type Cost struct{ MemoryKiB, Passes uint32 }

// Standard is the cost in production, OWASP's minimum (Password Storage Cheat
// Sheet: 19 MiB, two passes, one lane).
var Standard = Cost{19 << 10, 2}

// Two at a time bounds the memory that sign-ins can ask for; queue is how many
// may wait for their turn.
const (
	atOnce = 2
	queue  = 30
)

var (
	slots   = make(chan struct{}, atOnce)
	waiting atomic.Int64
)

// Hash gives a password in the usual PHC string. It waits for its turn as long
// as it takes, for it is called by whoever runs the server.
func (c Cost) Hash(password string) string {
	salt := make([]byte, 16)
	rand.Read(salt)
	slots <- struct{}{}
	defer func() { <-slots }()
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=1$%s$%s", argon2.Version, c.MemoryKiB, c.Passes,
		base64.RawStdEncoding.EncodeToString(salt), base64.RawStdEncoding.EncodeToString(c.key(password, salt)))
}

func (c Cost) key(password string, salt []byte) []byte {
	return argon2.IDKey([]byte(password), salt, c.Passes, c.MemoryKiB, 1, 32)
}

// Check compares in constant time; a hash that cannot be read matches nothing.
// It gives ErrBusy at once when too many wait, and the context's error if that
// ends while it waits; then nothing is known of the password.
func Check(ctx context.Context, hash, password string) (bool, error) {
	var version int
	var c Cost
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false, nil
	}
	if _, err := fmt.Sscanf(parts[2], "v=%d", &version); err != nil || version != argon2.Version {
		return false, nil
	}
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=1", &c.MemoryKiB, &c.Passes); err != nil {
		return false, nil
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	want, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil {
		return false, nil
	}
	if waiting.Add(1) > queue {
		waiting.Add(-1)
		return false, ErrBusy
	}
	defer waiting.Add(-1)
	select {
	case slots <- struct{}{}:
	case <-ctx.Done():
		return false, ctx.Err()
	}
	defer func() { <-slots }()
	return subtle.ConstantTimeCompare(c.key(password, salt), want) == 1, nil
}
