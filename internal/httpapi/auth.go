package httpapi

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/scs/postgresstore"
	"github.com/google/uuid"

	"zanjero/internal/password"
	"zanjero/internal/store"
)

// Throttle of sign-ins: so many tries within the window. The first is for a name
// from one address, which is what a person who mistypes uses up. The second is
// for a name from anywhere, and does not count for a browser that has signed in
// to it before: a stranger can use it up, and must not lock the owner out. The
// third is for an address, behind which a whole class may sit.
const (
	throttleWindow     = 15 * time.Minute
	throttlePerPair    = 5
	throttlePerName    = 50
	throttlePerAddress = 150
)

const (
	sessionPerson = "person"
	sessionEpoch  = "epoch"
)

// SignIn starts a session. Whether the name or the password was wrong is not
// told, and takes the same time. A try counts before the password is looked at,
// so that many at once count as many.
func (s *Server) SignIn(ctx context.Context, req SignInRequestObject) (SignInResponseObject, error) {
	name := strings.ToLower(strings.TrimSpace(req.Body.Name))
	from := originOf(ctx)
	pair, byName, byAddress := "pair:"+name+"\x1f"+from.address, "name:"+name, "address:"+from.address
	known := s.deviceKnows(ctx, name)
	if known { // and one behind the same address must not either
		pair = "device:" + name + "\x1f" + from.address
	}
	limits := []struct {
		subject string
		most    int
	}{{pair, throttlePerPair}, {byAddress, throttlePerAddress}}
	if !known {
		limits = append(limits, struct {
			subject string
			most    int
		}{byName, throttlePerName})
	}
	for _, l := range limits {
		tries, err := s.store.NoteSignIn(ctx, l.subject, throttleWindow)
		if err != nil {
			return nil, err
		}
		if tries > l.most {
			return nil, refuse(http.StatusTooManyRequests, "http.too-many-refused-sign-ins").later(int(throttleWindow.Seconds()))
		}
	}
	p, err := s.store.PersonByName(ctx, name)
	hash := p.PasswordHash
	switch {
	case errors.Is(err, store.ErrNotFound), err == nil && hash == "": // nobody, or nobody has a password yet
		hash = s.dummyHash
	case err != nil:
		return nil, err // nothing is known of the password
	}
	ok, failed := password.Check(ctx, hash, req.Body.Password)
	if failed != nil {
		return nil, failed
	}
	if !ok || err != nil || !p.Here() {
		return nil, refuse(http.StatusUnauthorized, "http.name-password-do-not-match")
	}
	if p.Demo && !from.local {
		return nil, refuse(http.StatusForbidden, "http.demo-sign-ins-are-local")
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, sessionPerson, p.ID.String())
	s.sessions.Put(ctx, sessionEpoch, p.SessionEpoch)
	if err := s.store.ForgetSignIns(ctx, pair, byName, byAddress); err != nil {
		return nil, err
	}
	return signedIn{personOf(p), s.device(name)}, nil
}

// signedIn is the answer to a sign-in, with the cookie by which the browser is
// known at the next.
type signedIn struct {
	person Person
	device *http.Cookie
}

// VisitSignInResponse writes it.
func (r signedIn) VisitSignInResponse(w http.ResponseWriter) error {
	http.SetCookie(w, r.device)
	return SignIn200JSONResponse(r.person).VisitSignInResponse(w)
}

// deviceCookie says that a browser has signed in to a name before. It lets
// nobody in.
const deviceCookie = "zanjero-device"

func (s *Server) deviceMark(name string) string {
	mac := hmac.New(sha256.New, s.secret)
	mac.Write([]byte("device\x1f" + name))
	return hex.EncodeToString(mac.Sum(nil))
}

func (s *Server) device(name string) *http.Cookie {
	return &http.Cookie{Name: deviceCookie, Value: s.deviceMark(name), Path: "/api/session", MaxAge: 180 * 24 * 3600, HttpOnly: true,
		Secure: s.options.TLS, SameSite: http.SameSiteStrictMode}
}

type cookiesKey struct{}

func (s *Server) deviceKnows(ctx context.Context, name string) bool {
	cookies, _ := ctx.Value(cookiesKey{}).([]*http.Cookie)
	for _, c := range cookies {
		if c.Name == deviceCookie && hmac.Equal([]byte(c.Value), []byte(s.deviceMark(name))) {
			return true
		}
	}
	return false
}

// SignOut ends the session everywhere it is kept.
func (s *Server) SignOut(ctx context.Context, _ SignOutRequestObject) (SignOutResponseObject, error) {
	if err := s.sessions.Destroy(ctx); err != nil {
		return nil, err
	}
	return SignOut204Response{}, nil
}

// Limits of a password (OWASP ASVS 2.1.1 and 2.1.2: at least 12 letters, at most 128 or more).
const leastPassword, mostPassword = 12, 200

// ChangePassword keeps one that somebody chose, and goes on with this session alone. A
// wrong old one counts as a refused sign-in.
func (s *Server) ChangePassword(ctx context.Context, req ChangePasswordRequestObject) (ChangePasswordResponseObject, error) {
	who := whoIs(ctx)
	pair := "change:" + who.ID.String()
	tries, err := s.store.NoteSignIn(ctx, pair, throttleWindow)
	if err != nil {
		return nil, err
	}
	if tries > throttlePerPair {
		return nil, refuse(http.StatusTooManyRequests, "http.too-many-refused-sign-ins").later(int(throttleWindow.Seconds()))
	}
	ok, err := password.Check(ctx, who.PasswordHash, req.Body.Old)
	switch n := len([]rune(req.Body.New)); {
	case err != nil:
		return nil, err
	case !ok:
		return nil, refuseAt("old", "http.old-password-wrong")
	case n < leastPassword:
		return nil, refuseAt("new", "person.short-password", "least", leastPassword)
	case n > mostPassword:
		return nil, refuseAt("new", "person.long-password", "most", mostPassword)
	case req.Body.New == req.Body.Old, strings.Contains(strings.ToLower(req.Body.New), who.Name):
		return nil, refuseAt("new", "http.password-as-before")
	}
	epoch, err := s.store.OwnPassword(ctx, who.ID, s.options.Hashing.Hash(req.Body.New))
	if err != nil {
		return nil, err
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, sessionEpoch, epoch)
	if err := s.store.ForgetSignIns(ctx, pair); err != nil {
		return nil, err
	}
	who.MustChange = false
	return ChangePassword200JSONResponse(personOf(who)), nil
}

// GetMe says who is signed in.
func (s *Server) GetMe(ctx context.Context, _ GetMeRequestObject) (GetMeResponseObject, error) {
	return GetMe200JSONResponse(personOf(whoIs(ctx))), nil
}

// caller finds who is signed in. A session that began before the person's
// present epoch, or is of somebody disabled, is none. A database that cannot be
// asked is an error of its own, and no sign-out.
func (s *Server) caller(ctx context.Context) (store.Person, error) {
	id, err := uuid.Parse(s.sessions.GetString(ctx, sessionPerson))
	if err != nil {
		return store.Person{}, errSignIn
	}
	p, err := s.store.Person(ctx, id)
	switch {
	case errors.Is(err, store.ErrNotFound):
		return store.Person{}, errSignIn
	case err != nil:
		return store.Person{}, err
	case !p.Here(), s.sessions.GetInt(ctx, sessionEpoch) != p.SessionEpoch:
		return store.Person{}, errSignIn
	}
	return p, nil
}

func personOf(p store.Person) Person {
	out := Person{Id: p.ID, Name: p.Name, DisplayName: p.DisplayName, Role: PersonRole(p.Role)}
	if p.MustChange {
		out.MustChange = &p.MustChange
	}
	out.Language = text(p.Language)
	return out
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

// sessionStore reads sessions together with those of other requests.
type sessionStore struct {
	*postgresstore.PostgresStore
	rows *store.Store
}

// FindCtx gives what a session keeps.
func (s sessionStore) FindCtx(ctx context.Context, token string) (data []byte, found bool, err error) {
	data, err = s.rows.Session(ctx, token)
	return data, data != nil, err
}
