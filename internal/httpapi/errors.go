package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"zanjero/core/problem"
	"zanjero/internal/heavy"
	"zanjero/internal/password"
	"zanjero/internal/store"
	"zanjero/messages"
)

// english are the words beside every code, for whoever has no message file.
var english = messages.In(messages.English)

// refusal is an answer that says no: what is wrong, where, and how to mend it.
type refusal struct {
	status int
	// retry is after how many seconds the same may be asked again, 0 for never.
	retry   int
	problem problem.Problem
	all     []problem.Problem
}

func (r *refusal) Error() string { return r.problem.Error() }

// refuse refuses for a reason by its code, with parameters as pairs.
func refuse(status int, code string, pairs ...any) *refusal {
	return &refusal{status: status, problem: *problem.New("", code, pairs...)}
}

// refuseAll refuses for a list of problems; the first stands for all.
func refuseAll(ps []problem.Problem) *refusal {
	return &refusal{status: http.StatusUnprocessableEntity, problem: ps[0], all: ps}
}

// refuseAt refuses what stands at a place of the body.
func refuseAt(path, code string, pairs ...any) *refusal {
	return &refusal{status: http.StatusUnprocessableEntity, problem: *problem.New(path, code, pairs...)}
}

// later gives a refusal that is over after some seconds.
func (r *refusal) later(seconds int) *refusal {
	c := *r
	c.retry = seconds
	return &c
}

// body is the refusal as it is sent.
func (r *refusal) body() Error {
	out := Error{Code: r.problem.Code}
	out.Problem, out.Mend = english.Problem(r.problem)
	if r.problem.Path != "" {
		out.Path = &r.problem.Path
	}
	if r.problem.Params != nil {
		out.Params = &r.problem.Params
	}
	if r.all != nil {
		out.All = &r.all
	}
	return out
}

var (
	errSignIn         = refuse(http.StatusUnauthorized, "http.sign-in")
	errChangePassword = refuse(http.StatusForbidden, "http.change-password-first")
	errRole           = refuse(http.StatusForbidden, "http.role")
	errNotFound       = refuse(http.StatusNotFound, "http.not-found")
	errAddress        = refuse(http.StatusNotFound, "http.nothing-at-address")
	errClosed         = refuse(http.StatusConflict, "http.closed")
	errFrozen         = refuse(http.StatusConflict, "http.frozen")
	errPaused         = refuse(http.StatusConflict, "http.bench-paused")
	errReused         = refuse(http.StatusConflict, "http.act-was-sent-before-with-other-content")
	errUnavailable    = refuse(http.StatusServiceUnavailable, "http.database-unavailable").later(2)
	errBusy           = refuse(http.StatusServiceUnavailable, "http.busy").later(2)
	errInside         = refuse(http.StatusInternalServerError, "http.server-could-not-do")
)

// asRefusal turns any error into an answer. What went wrong inside is logged
// and never told. Only ErrNotFound is not found: a database that could not be
// asked has said nothing.
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
	case errors.Is(err, store.ErrFrozen):
		return errFrozen
	case errors.Is(err, store.ErrPaused):
		return errPaused
	case errors.Is(err, store.ErrVoteOver):
		return refuse(http.StatusConflict, "wall.vote-over")
	case errors.Is(err, store.ErrReused):
		return errReused
	case errors.Is(err, store.ErrStale):
		return refuse(http.StatusConflict, "http.changed-by-others")
	case errors.Is(err, heavy.ErrBusy), errors.Is(err, password.ErrBusy):
		return errBusy
	case errors.As(err, &tooLarge):
		return refuse(http.StatusRequestEntityTooLarge, "http.request-over-kib", "max_body", tooLarge.Limit>>10)
	case errors.Is(err, context.Canceled): // who asked has gone away, and nobody failed
		return errUnavailable
	case store.IsUnavailable(err):
		slog.Warn("the database could not be asked", "error", err)
		return errUnavailable
	case errors.As(err, &he) && he.StatusCode() < 500:
		if he.StatusCode() == http.StatusNotFound {
			return errAddress
		}
		return refuse(he.StatusCode(), "http.request-refused", "detail", strings.ToLower(http.StatusText(he.StatusCode())))
	}
	slog.Error("request failed", "error", err)
	return errInside
}

func writeRefusal(w http.ResponseWriter, r *refusal) {
	w.Header().Set("Content-Type", "application/json")
	if r.retry > 0 {
		w.Header().Set("Retry-After", strconv.Itoa(r.retry))
	}
	w.WriteHeader(r.status)
	_ = json.NewEncoder(w).Encode(r.body())
}
