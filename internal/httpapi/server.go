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
	"path"
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

	"zanjero/internal/store"
)

// maxBody is the most a request may carry, bytes.
const maxBody = 256 << 10

// Options of a server.
type Options struct {
	Store *store.Store
	// Web is the built web application.
	Web fs.FS
	// Loopback: demo sign-ins are allowed, since only this machine can reach it.
	Loopback bool
	// TLS: it is reached over TLS, so cookies are Secure.
	TLS     bool
	Hashing Hashing
}

// Server implements the generated interface. It keeps nothing in memory that
// another instance could need; ledgers are cached, and made anew from the
// events when they are missing.
type Server struct {
	store     *store.Store
	sessions  *scs.SessionManager
	sessionDB *postgresstore.PostgresStore
	secret    []byte
	dummyHash string
	loopback  bool
	ledgers   ledgerCache
	cards     sync.Map // *card by job id
}

// New makes the handler for everything under /. Close it when done.
func New(ctx context.Context, o Options) (*Server, http.Handler, error) {
	secret, err := o.Store.Secret(ctx, "attempt-seed")
	if err != nil {
		return nil, nil, err
	}
	s := &Server{store: o.Store, secret: secret, loopback: o.Loopback, dummyHash: o.Hashing.HashPassword(uuid.NewString())}
	s.sessionDB = postgresstore.New(o.Store.SQL())
	s.sessions = scs.New()
	s.sessions.Store = s.sessionDB
	// A long working day. An idle limit would write to the database at every
	// request.
	s.sessions.Lifetime = 14 * time.Hour
	s.sessions.Cookie.Name = "zanjero"
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	s.sessions.Cookie.Secure = o.TLS
	s.sessions.HashTokenInStore = true
	s.sessions.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, err error) { writeRefusal(w, asRefusal(err)) }

	spec, err := GetSpec()
	if err != nil {
		return nil, nil, err
	}
	api, pages := router(), router()
	api.Use(echo.WrapMiddleware(s.sessions.LoadAndSave), echo.WrapMiddleware(remember), echo.WrapMiddleware(
		nethttpmiddleware.OapiRequestValidatorWithOptions(spec, &nethttpmiddleware.Options{
			Options:              openapi3filter.Options{AuthenticationFunc: openapi3filter.NoopAuthenticationFunc},
			DoNotValidateServers: true,
			ErrorHandlerWithOpts: func(_ context.Context, err error, w http.ResponseWriter, _ *http.Request, _ nethttpmiddleware.ErrorHandlerOpts) {
				writeRefusal(w, invalid(err))
			},
		})))
	RegisterHandlers(api, NewStrictHandler(s, []StrictMiddlewareFunc{s.enforce}))
	pages.GET("/*", echo.WrapHandler(files(o.Web)), middleware.Gzip())
	mux := http.NewServeMux()
	mux.Handle("/api/", api)
	mux.Handle("/", pages)
	return s, secure(limit(mux)), nil
}

// router is an Echo that answers every error in the one form.
func router() *echo.Echo {
	e := echo.New()
	e.HTTPErrorHandler = func(c *echo.Context, err error) {
		if r, _ := echo.UnwrapResponse(c.Response()); r == nil || !r.Committed {
			writeRefusal(c.Response(), asRefusal(err))
		}
	}
	e.Use(middleware.Recover())
	return e
}

// Close stops what runs in the background.
func (s *Server) Close() { s.sessionDB.StopCleanup() }

// Seed is an attempt's own: from the server's secret, so that nobody can work
// it out from an id.
func (s *Server) Seed(attempt uuid.UUID) int64 {
	mac := hmac.New(sha256.New, s.secret)
	mac.Write(attempt[:])
	return int64(binary.BigEndian.Uint64(mac.Sum(nil)) >> 1)
}

// remember puts the caller's address where the handlers find it.
func remember(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host, _, err := net.SplitHostPort(r.RemoteAddr)
		if err != nil {
			host = r.RemoteAddr
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), addressKey{}, host)))
	})
}

// limit bounds what a request may send.
func limit(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.ContentLength > maxBody {
			writeRefusal(w, asRefusal(&http.MaxBytesError{Limit: maxBody}))
			return
		}
		r.Body = http.MaxBytesReader(w, r.Body, maxBody)
		next.ServeHTTP(w, r)
	})
}

// secure refuses requests from other origins and sets the headers that keep
// foreign script out (OWASP ASVS level 2, V14.4).
func secure(next http.Handler) http.Handler {
	origin := http.NewCrossOriginProtection()
	origin.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeRefusal(w, refuse(http.StatusForbidden, "this request comes from another site", "use the application's own page"))
	}))
	inner := origin.Handler(next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		inner.ServeHTTP(w, r)
	})
}

// files serves the built application: hashed assets for good, everything else
// as the one page that routes for itself.
func files(web fs.FS) http.Handler {
	server := http.FileServerFS(web)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		if strings.HasPrefix(name, "assets/") {
			if _, err := fs.Stat(web, name); err != nil {
				http.NotFound(w, r)
				return
			}
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
			server.ServeHTTP(w, r)
			return
		}
		w.Header().Set("Cache-Control", "no-cache")
		if f, err := fs.Stat(web, name); name != "" && err == nil && !f.IsDir() {
			server.ServeHTTP(w, r)
			return
		}
		http.ServeFileFS(w, r, web, "index.html")
	})
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
		return refuse(http.StatusNotFound, "there is nothing at this address", "check the address")
	}
	at, problem := where(re)
	out := refuse(http.StatusBadRequest, problem, "send what the interface describes: numbers without quotes and with a point, and no members it does not name")
	out.Error_.Path = &at
	return out
}

// Serve answers until the context ends, then lets requests in hand finish.
func Serve(ctx context.Context, l net.Listener, h http.Handler) error {
	srv := &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 30 * time.Second, IdleTimeout: 2 * time.Minute,
		ErrorLog: slog.NewLogLogger(slog.Default().Handler(), slog.LevelWarn)}
	done := make(chan error, 1)
	go func() { done <- srv.Serve(l) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
		end, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		defer cancel()
		return srv.Shutdown(end)
	}
}
