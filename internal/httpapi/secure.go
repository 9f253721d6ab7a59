package httpapi

import (
	"context"
	"io/fs"
	"net"
	"net/http"
	"path"
	"slices"
	"strings"

	"github.com/labstack/echo/v5"
)

// secure refuses foreign names and origins, and sets the headers that keep
// foreign script out (OWASP ASVS level 2, V14.4).
func (s *Server) secure(next http.Handler) http.Handler {
	origin := http.NewCrossOriginProtection()
	origin.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeRefusal(w, refuse(http.StatusForbidden, "http.request-comes-from-another-site"))
	}))
	inner := origin.Handler(next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy",
			"default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "+
				"object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		if s.options.TLS {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		if !s.knows(r.Host) {
			writeRefusal(w, refuse(http.StatusMisdirectedRequest, "http.unknown-host", "host", short(r.Host)))
			return
		}
		inner.ServeHTTP(w, r)
	})
}

// knows says that the server may be reached by a name: an address in figures,
// localhost on loopback, or one of the names that it was given. A page of
// another name that was made to lead here is none of them.
func (s *Server) knows(host string) bool {
	name := bare(host)
	return net.ParseIP(name) != nil || (s.options.Loopback && name == "localhost") || slices.Contains(s.options.Hosts, name)
}

// bare is a host without its port, brackets and capitals.
func bare(host string) string {
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	return strings.ToLower(strings.Trim(host, "[]"))
}

// origin of a request: where it comes from, and whether that is this machine
// itself, with nobody between.
type origin struct {
	address string
	local   bool
}

type originKey struct{}

// whence puts where a request comes from, and its cookies, where the handlers
// find them.
func (s *Server) whence(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		name := bare(r.Host)
		ip := net.ParseIP(name)
		local := s.options.Loopback && len(s.options.Proxies) == 0 && !s.options.TLS && (name == "localhost" || (ip != nil && ip.IsLoopback()))
		for _, h := range []string{"Forwarded", "X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "X-Real-Ip", "Via"} {
			local = local && r.Header.Get(h) == "" // somebody stands between
		}
		ctx := context.WithValue(r.Context(), originKey{}, origin{c.RealIP(), local})
		c.SetRequest(r.WithContext(context.WithValue(ctx, cookiesKey{}, r.Cookies())))
		return next(c)
	}
}

func originOf(ctx context.Context) origin {
	o, _ := ctx.Value(originKey{}).(origin)
	return o
}

// files serves the built application: hashed assets for good, everything else
// as the one page that routes for itself. What begins with a dot is nobody's.
func files(web fs.FS) http.Handler {
	server := http.FileServerFS(web)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		hidden := strings.HasPrefix(name, ".") || strings.Contains(name, "/.")
		if strings.HasPrefix(name, "assets/") {
			if f, err := fs.Stat(web, name); err != nil || f.IsDir() || hidden {
				http.NotFound(w, r)
				return
			}
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
			server.ServeHTTP(w, r)
			return
		}
		w.Header().Set("Cache-Control", "no-cache")
		if f, err := fs.Stat(web, name); name != "" && err == nil && !f.IsDir() && !hidden {
			server.ServeHTTP(w, r)
			return
		}
		http.ServeFileFS(w, r, web, "index.html")
	})
}
