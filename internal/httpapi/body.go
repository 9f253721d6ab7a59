package httpapi

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"regexp"
	"unicode/utf8"

	"zanjero/core/procedure"
	"zanjero/internal/photo"
)

// Limits of what a request may send.
const (
	// maxBody is the most a body may carry, maxEvent one that holds an act, bytes.
	maxBody  = 256 << 10
	maxEvent = 4 << 10
	// maxDepth is how deep JSON may be nested.
	maxDepth = 20
	// maxHeader is the most that the head of a request may carry.
	maxHeader = 16 << 10
)

// largeBodies are the paths that take bodies as large as what is sent there may be; a file
// of a roster comes as base64.
var largeBodies = map[string]int64{"/api/packs": procedure.MaxPackBytes, "/api/roster": maxRoster, "/api/roster/comparison": maxRoster}

// ofPhotos are the paths that take a photo, and maxPhotoBody is room for one as base64.
var ofPhotos = regexp.MustCompile(`^/api/attempts/[^/]+/photos$`)

const maxPhotoBody = photo.MaxBytes*4/3 + 4<<10

// maxRoster is room for 100 000 people and more.
const maxRoster = 24 << 20

// strict lets a body through only if it is one JSON value, of limited size and
// depth, in UTF-8, and without the character NUL, which no text in the database
// can hold.
func strict(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Body == nil || r.Body == http.NoBody || r.ContentLength == 0 {
			next.ServeHTTP(w, r)
			return
		}
		if r.Header.Get("Content-Encoding") != "" {
			writeRefusal(w, refuse(http.StatusUnsupportedMediaType, "http.encoded-body"))
			return
		}
		most := int64(maxBody)
		if large, is := largeBodies[r.URL.Path]; is {
			most = large
		}
		if ofPhotos.MatchString(r.URL.Path) {
			most = maxPhotoBody
		}
		raw, err := io.ReadAll(http.MaxBytesReader(w, r.Body, most))
		var tooLarge *http.MaxBytesError
		switch {
		case errors.As(err, &tooLarge):
			writeRefusal(w, asRefusal(tooLarge))
			return
		case err != nil:
			writeRefusal(w, refuse(http.StatusBadRequest, "http.body-cut-short"))
			return
		}
		if why := oneValue(raw); why != nil {
			writeRefusal(w, why)
			return
		}
		r.Body = io.NopCloser(bytes.NewReader(raw))
		r.ContentLength = int64(len(raw))
		next.ServeHTTP(w, r)
	})
}

// oneValue says what keeps a text from being one JSON value, or nothing.
func oneValue(raw []byte) *refusal {
	if !utf8.Valid(raw) {
		return refuse(http.StatusBadRequest, "http.not-utf8")
	}
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.UseNumber()
	depth := 0
	for first := true; first || depth > 0; first = false {
		tok, err := dec.Token()
		if err != nil {
			return refuse(http.StatusBadRequest, "http.not-json", "detail", err.Error())
		}
		switch t := tok.(type) {
		case json.Delim:
			if t == '{' || t == '[' {
				depth++
			} else {
				depth--
			}
			if depth > maxDepth {
				return refuse(http.StatusBadRequest, "http.too-deep", "most", maxDepth)
			}
		case json.Number:
			if _, err := t.Float64(); err != nil {
				return refuse(http.StatusBadRequest, "http.number-too-large", "number", short(t.String()))
			}
		case string:
			if bytes.IndexByte([]byte(t), 0) >= 0 {
				return refuse(http.StatusBadRequest, "http.nul")
			}
		}
	}
	if _, err := dec.Token(); err != io.EOF {
		return refuse(http.StatusBadRequest, "http.more-than-one-value")
	}
	return nil
}

// short keeps a text that is given back to whoever sent it to a few letters.
func short(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}
