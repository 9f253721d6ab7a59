package httpapi

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"
	"golang.org/x/crypto/argon2"

	"zanjero/internal/store"
)

// Hashing is the cost of argon2id. DefaultHashing is OWASP's minimum (Password
// Storage Cheat Sheet: 19 MiB, two passes, one lane).
type Hashing struct{ MemoryKiB, Passes uint32 }

// DefaultHashing is the cost in production.
var DefaultHashing = Hashing{19 << 10, 2}

// hashing two at a time bounds the memory that sign-ins can ask for.
var hashingSlots = make(chan struct{}, 2)

// HashPassword hashes with argon2id into the usual PHC string.
func (h Hashing) HashPassword(password string) string {
	salt := make([]byte, 16)
	rand.Read(salt)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=1$%s$%s", argon2.Version, h.MemoryKiB, h.Passes,
		base64.RawStdEncoding.EncodeToString(salt), base64.RawStdEncoding.EncodeToString(h.key(password, salt)))
}

func (h Hashing) key(password string, salt []byte) []byte {
	hashingSlots <- struct{}{}
	defer func() { <-hashingSlots }()
	return argon2.IDKey([]byte(password), salt, h.Passes, h.MemoryKiB, 1, 32)
}

// checkPassword compares in constant time; a hash that cannot be read matches
// nothing.
func checkPassword(hash, password string) bool {
	var version int
	var h Hashing
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	if _, err := fmt.Sscanf(parts[2], "v=%d", &version); err != nil || version != argon2.Version {
		return false
	}
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=1", &h.MemoryKiB, &h.Passes); err != nil {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	want, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil {
		return false
	}
	return subtle.ConstantTimeCompare(h.key(password, salt), want) == 1
}

// Throttle of sign-ins: so many refusals within the window, for a name and for
// an address.
const (
	throttleWindow     = 15 * time.Minute
	throttlePerName    = 5
	throttlePerAddress = 25
)

const sessionPerson = "person"

type addressKey struct{}

// SignIn starts a session. Whether the name or the password was wrong is not
// told, and takes the same time.
func (s *Server) SignIn(ctx context.Context, req SignInRequestObject) (SignInResponseObject, error) {
	name := strings.ToLower(strings.TrimSpace(req.Body.Name))
	address, _ := ctx.Value(addressKey{}).(string)
	byName, byAddress := "name:"+name, "address:"+address
	for subject, most := range map[string]int64{byName: throttlePerName, byAddress: throttlePerAddress} {
		n, err := s.store.FailedSignIns(ctx, subject, throttleWindow)
		if err != nil {
			return nil, err
		}
		if n >= most {
			return nil, refuse(http.StatusTooManyRequests, "too many refused sign-ins", "wait a quarter of an hour, or ask your instructor")
		}
	}
	p, err := s.store.PersonByName(ctx, name)
	hash := p.PasswordHash
	if err != nil {
		hash = s.dummyHash
	}
	if ok := checkPassword(hash, req.Body.Password); !ok || err != nil {
		if err := s.store.NoteFailedSignIn(ctx, byName, byAddress); err != nil {
			return nil, err
		}
		return nil, refuse(http.StatusUnauthorized, "name and password do not match", "check both; capitals count in the password")
	}
	if p.Demo && !s.loopback {
		return nil, refuse(http.StatusForbidden, "demo sign-ins work only on this machine's own address", "serve on 127.0.0.1, or make real accounts")
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, sessionPerson, p.ID.String())
	if err := s.store.ForgetFailedSignIns(ctx, byName); err != nil {
		return nil, err
	}
	return SignIn200JSONResponse(personOf(p)), nil
}

// SignOut ends the session everywhere it is kept.
func (s *Server) SignOut(ctx context.Context, _ SignOutRequestObject) (SignOutResponseObject, error) {
	if err := s.sessions.Destroy(ctx); err != nil {
		return nil, err
	}
	return SignOut204Response{}, nil
}

// GetMe says who is signed in.
func (s *Server) GetMe(ctx context.Context, _ GetMeRequestObject) (GetMeResponseObject, error) {
	return GetMe200JSONResponse(personOf(whoIs(ctx))), nil
}

// caller finds who is signed in.
func (s *Server) caller(ctx context.Context) (store.Person, error) {
	id, err := uuid.Parse(s.sessions.GetString(ctx, sessionPerson))
	if err != nil {
		return store.Person{}, errSignIn
	}
	p, err := s.store.Person(ctx, id)
	if err != nil {
		return store.Person{}, errSignIn
	}
	return p, nil
}

func personOf(p store.Person) Person {
	return Person{Id: p.ID, Name: p.Name, DisplayName: p.DisplayName, Role: PersonRole(p.Role)}
}

// Loopback says whether an address to listen on is this machine's own.
func Loopback(addr string) bool {
	host, _, err := net.SplitHostPort(addr)
	if err != nil {
		return false
	}
	ip := net.ParseIP(host)
	return host == "localhost" || (ip != nil && ip.IsLoopback())
}
