package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"zanjero/core/problem"
	"zanjero/internal/store"
)

// refusal is an answer that says no: what is wrong, where, and how to mend it.
type refusal struct {
	status int
	Error_ Error
}

func (r *refusal) Error() string { return r.Error_.Problem }

func refuse(status int, problem, mend string) *refusal {
	return &refusal{status, Error{Problem: problem, Mend: mend}}
}

// refuseAll refuses for a list of problems; the first stands for all.
func refuseAll(ps []problem.Problem) *refusal {
	first := ps[0]
	return &refusal{http.StatusUnprocessableEntity, Error{Path: &first.Path, Problem: first.Problem, Mend: first.Mend, All: &ps}}
}

var (
	errSignIn   = refuse(http.StatusUnauthorized, "you are not signed in", "sign in; what you typed is kept on this device")
	errRole     = refuse(http.StatusForbidden, "this is not for your role", "sign in as somebody whose work it is")
	errNotFound = refuse(http.StatusNotFound, "there is nothing here, or it is not yours", "go back to your jobs")
	errClosed   = refuse(http.StatusConflict, "this job is handed over", "read its debrief")
)

// asRefusal turns any error into an answer. What went wrong inside is logged
// and never told.
func asRefusal(err error) *refusal {
	var r *refusal
	var p *problem.Problem
	var tooLarge *http.MaxBytesError
	var he echo.HTTPStatusCoder
	switch {
	case errors.As(err, &r):
		return r
	case errors.As(err, &p):
		return refuseAll([]problem.Problem{*p})
	case errors.Is(err, store.ErrNotFound):
		return errNotFound
	case errors.Is(err, store.ErrClosed):
		return errClosed
	case errors.Is(err, store.ErrReused):
		return refuse(http.StatusConflict, "this act was sent before with other content", "reload the page and do it again")
	case errors.As(err, &tooLarge):
		return refuse(http.StatusRequestEntityTooLarge, fmt.Sprintf("the request is over %d KiB", maxBody>>10), "send less at once")
	case errors.As(err, &he) && he.StatusCode() < 500:
		problem := strings.ToLower(http.StatusText(he.StatusCode()))
		if m := (*echo.HTTPError)(nil); errors.As(err, &m) && m.Message != "" {
			problem = m.Message
		}
		return refuse(he.StatusCode(), problem, "check the address and what was sent")
	}
	if !errors.Is(err, context.Canceled) { // who asked has gone away, and nobody failed
		slog.Error("request failed", "error", err)
	}
	return refuse(http.StatusInternalServerError, "the server could not do this", "try again; if it goes on, tell whoever runs the server")
}

func writeRefusal(w http.ResponseWriter, r *refusal) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(r.status)
	_ = json.NewEncoder(w).Encode(r.Error_)
}
