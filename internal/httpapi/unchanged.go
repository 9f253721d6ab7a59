package httpapi

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"
)

// unchanged answers a GET with 304 and nothing more where the client has that
// answer already, by its ETag (RFC 9110, 8.8.3 and 13.1.2). It holds an answer
// back until it is whole; the answers of this interface are some hundred KiB at
// most.
func unchanged(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if c.Request().Method != http.MethodGet || isStream(c) {
			return next(c)
		}
		w := c.Response()
		held := &heldAnswer{ResponseWriter: w, status: http.StatusOK}
		c.SetResponse(held)
		err := next(c)
		c.SetResponse(w)
		if err != nil {
			return err // it is written as every error is
		}
		if held.status == http.StatusOK {
			sum := sha256.Sum256(held.body.Bytes())
			tag := `W/"` + base64.RawURLEncoding.EncodeToString(sum[:18]) + `"`
			w.Header().Set("ETag", tag)
			if has(c.Request().Header.Get("If-None-Match"), tag) {
				w.Header().Del("Content-Type")
				w.WriteHeader(http.StatusNotModified)
				return nil
			}
		}
		w.WriteHeader(held.status)
		_, err = w.Write(held.body.Bytes())
		return err
	}
}

// isStream says that an answer is sent as it comes, and ends when whoever asked hangs up.
func isStream(c *echo.Context) bool { return strings.HasSuffix(c.Request().URL.Path, "/changes") }

func has(tags, tag string) bool {
	for t := range strings.SplitSeq(tags, ",") {
		if strings.TrimSpace(t) == tag {
			return true
		}
	}
	return false
}

// heldAnswer keeps an answer until it is whole.
type heldAnswer struct {
	http.ResponseWriter
	status int
	body   bytes.Buffer
}

func (h *heldAnswer) WriteHeader(status int)      { h.status = status }
func (h *heldAnswer) Write(p []byte) (int, error) { return h.body.Write(p) }
func (h *heldAnswer) Unwrap() http.ResponseWriter { return h.ResponseWriter }
