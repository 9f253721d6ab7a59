// Package httpapi serves the interface that api/openapi.yaml describes, and the
// web application beside it.
package httpapi

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/binary"
	"errors"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/postgresstore"
	"github.com/alexedwards/scs/v2"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/google/uuid"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"
	nethttpmiddleware "github.com/oapi-codegen/nethttp-middleware"

	"zanjero/internal/heavy"
	"zanjero/internal/live"
	"zanjero/internal/lrs"
	"zanjero/internal/password"
	"zanjero/internal/store"
)

// Options of a server.
type Options struct {
	Store *store.Store
	// Web is the built web application.
	Web fs.FS
	// Loopback: it listens on this machine's own address only, so demo sign-ins
	// are allowed to those who come from there.
	Loopback bool
	// TLS: it is reached over TLS, so cookies are Secure and bound to the host.
	TLS bool
	// Hosts are names that it may be reached by, beside addresses in figures and,
	// on loopback, localhost. A request for any other is refused, so that no
	// foreign name can be made to stand for it.
	Hosts []string
	// Proxies are the addresses of proxies whose word is taken for where a
	// request comes from; none where it is reached directly.
	Proxies []netip.Prefix
	// Home is the address that people reach it by, without a slash at the end: what is told to
	// others of people and jobs is named by it. The empty one stands for DefaultHome.
	Home string
	// Records is the record store that is told how marked attempts stand; the zero value is
	// none. TellEvery is how often it is looked whether there is something to tell, zero for
	// the usual.
	Records   lrs.Store
	TellEvery time.Duration
	// Hashing is the cost of passwords that it makes up; zero for the standard.
	Hashing password.Cost
	// Worked is what was worked out of engines before; nil for nothing.
	Worked *Worked
}

// DefaultHome is the address of a server that has not been told its own.
const DefaultHome = "http://localhost:8080"

// Server implements the generated interface. It keeps nothing in memory that
// another instance could need; what it caches is made anew when it is missing.
type Server struct {
	store     *store.Store
	sessions  *scs.SessionManager
	sessionDB *postgresstore.PostgresStore
	secret    []byte
	dummyHash string
	options   Options
	pool      *heavy.Pool
	kept      *kept
	marker    *marker
	teller    *teller
	hub       *live.Hub
	endHub    context.CancelFunc
	watched   watching
	routes    []string
	closing   sync.Once
}

// New makes the handler for everything under /. Close it when done.
func New(ctx context.Context, o Options) (*Server, http.Handler, error) {
	secret, err := o.Store.Secret(ctx, "attempt-seed")
	if err != nil {
		return nil, nil, err
	}
	if o.Hashing == (password.Cost{}) {
		o.Hashing = password.Standard
	}
	if o.Home == "" {
		o.Home = DefaultHome
	}
	s := &Server{store: o.Store, secret: secret, options: o, dummyHash: o.Hashing.Hash(uuid.NewString()), pool: heavy.NewPool(), kept: newKept(o.Worked),
		watched: watching{by: map[uuid.UUID]int{}}}
	s.startSessions(o)
	api, pages := s.router(), s.router()
	spec, err := GetSpec()
	if err != nil {
		return nil, nil, err
	}
	api.Use(echo.WrapMiddleware(strict), unchanged, echo.WrapMiddleware(s.sessions.LoadAndSave), s.whence, inLanguage, s.enforce, echo.WrapMiddleware(
		nethttpmiddleware.OapiRequestValidatorWithOptions(spec, &nethttpmiddleware.Options{
			Options:              openapi3filter.Options{AuthenticationFunc: openapi3filter.NoopAuthenticationFunc},
			DoNotValidateServers: true,
			ErrorHandlerWithOpts: func(_ context.Context, err error, w http.ResponseWriter, _ *http.Request, _ nethttpmiddleware.ErrorHandlerOpts) {
				writeRefusal(w, invalid(err))
			},
		})))
	RegisterHandlers(api, NewStrictHandler(s, nil))
	pages.Use(s.enforce)
	pages.GET("/*", echo.WrapHandler(files(o.Web)))
	for _, e := range []*echo.Echo{api, pages} {
		for _, r := range e.Router().Routes() {
			s.routes = append(s.routes, r.Method+" "+r.Path)
		}
	}
	if s.marker, err = startMarker(ctx, s); err != nil {
		s.sessionDB.StopCleanup()
		return nil, nil, err
	}
	s.libraryChanged(ctx)
	s.teller = startTeller(ctx, s)
	// Unlike what is in hand, streams end as soon as the context does: nothing else ends them.
	ctx, s.endHub = context.WithCancel(ctx)
	s.hub = live.Start(ctx, o.Store.SQL())
	mux := http.NewServeMux()
	mux.Handle("/api/", api)
	mux.Handle("/", pages)
	return s, s.secure(mux), nil
}

// startSessions keeps sessions in the database, where every instance finds them.
func (s *Server) startSessions(o Options) {
	s.sessionDB = postgresstore.New(o.Store.SQL())
	s.sessions = scs.New()
	s.sessions.Store = sessionStore{s.sessionDB, o.Store}
	// A long working day. An idle limit would write to the database at every
	// request.
	s.sessions.Lifetime = 14 * time.Hour
	s.sessions.Cookie.Name = "zanjero"
	if o.TLS {
		s.sessions.Cookie.Name = "__Host-zanjero" // no other host may set it
	}
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	s.sessions.Cookie.Secure = o.TLS
	s.sessions.HashTokenInStore = true
	s.sessions.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, err error) { writeRefusal(w, asRefusal(err)) }
}

// router is an Echo that answers every error in the one form, and knows where a
// request comes from.
func (s *Server) router() *echo.Echo {
	e := echo.New()
	e.HTTPErrorHandler = func(c *echo.Context, err error) {
		if r, _ := echo.UnwrapResponse(c.Response()); r == nil || !r.Committed {
			writeRefusal(c.Response(), asRefusal(err))
		}
	}
	e.IPExtractor = echo.ExtractIPDirect()
	if len(s.options.Proxies) > 0 {
		trust := []echo.TrustOption{echo.TrustLoopback(false), echo.TrustLinkLocal(false), echo.TrustPrivateNet(false)}
		for _, p := range s.options.Proxies {
			trust = append(trust, echo.TrustIPRange(&net.IPNet{IP: p.Addr().AsSlice(), Mask: net.CIDRMask(p.Bits(), p.Addr().BitLen())}))
		}
		e.IPExtractor = echo.ExtractIPFromXFFHeader(trust...)
	}
	// A bench with much on its ledger is some tens of KiB; a small answer, as that
	// to an act always is, is sooner sent as it is.
	e.Use(middleware.Recover(), middleware.GzipWithConfig(middleware.GzipConfig{Level: 4, MinLength: 1400, Skipper: func(c *echo.Context) bool {
		path := c.Request().URL.Path
		return isStream(c) || strings.HasSuffix(path, "/events") || strings.HasSuffix(path, "/planned-pages") // the second is told line by line
	}}))
	return e
}

// Routes lists every route there is, as "METHOD /path".
func (s *Server) Routes() []string { return s.routes }

// Close stops what runs in the background; marking that is in hand is finished.
// It may be called more than once.
func (s *Server) Close() {
	s.closing.Do(func() {
		s.endHub()
		<-s.hub.Ended()
		s.teller.stop()
		s.marker.stop()
		s.sessionDB.StopCleanup()
	})
}

// Seed is an attempt's own: from the server's secret, so that nobody can work
// it out from an id.
func (s *Server) Seed(attempt uuid.UUID) int64 {
	mac := hmac.New(sha256.New, s.secret)
	mac.Write(attempt[:])
	return int64(binary.BigEndian.Uint64(mac.Sum(nil)) >> 1)
}

// invalid says what the description of the interface refuses, and where.
func invalid(err error) *refusal {
	var re *openapi3filter.RequestError
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return asRefusal(tooLarge)
	}
	if !errors.As(err, &re) {
		slog.Debug("request refused", "error", err)
		return errAddress
	}
	at, detail := where(re)
	out := refuse(http.StatusBadRequest, "http.not-as-described", "detail", detail)
	out.problem.Path = at
	return out
}

// answerWithin is how long an answer may take, with the work behind it: a machine that is
// busy plans a page or an equal job in minutes.
const answerWithin = 2 * time.Minute

// limited is a server on which no client holds a connection for ever, whether it
// sends slowly, reads slowly or does neither.
func limited(h http.Handler) *http.Server {
	return &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: answerWithin,
		IdleTimeout: 2 * time.Minute, MaxHeaderBytes: maxHeader, ErrorLog: slog.NewLogLogger(slog.Default().Handler(), slog.LevelWarn)}
}

// Serve answers until the context ends, then lets requests in hand finish.
func Serve(ctx context.Context, l net.Listener, h http.Handler) error {
	srv := limited(h)
	done := make(chan error, 1)
	go func() { done <- srv.Serve(l) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
		end, cancel := context.WithTimeout(context.Background(), 20*time.Second)
		defer cancel()
		return srv.Shutdown(end)
	}
}
