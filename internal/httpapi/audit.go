package httpapi

import (
	"bytes"
	"cmp"
	"context"
	"encoding/csv"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"zanjero/core/record"
	"zanjero/internal/store"
)

// Sizes of an audit's page and file.
const (
	auditPage = 100
	auditFile = 100_000
)

// done are the answers to what was done.
var done = []int{http.StatusOK, http.StatusCreated, http.StatusNoContent}

// audit keeps that somebody did something, once it was done; what is one's own is looked at
// without that. That it cannot be kept is logged, and stops nothing that is done already.
func (s *Server) audit(c *echo.Context, who store.Person, act string) {
	ctx := context.WithoutCancel(c.Request().Context())
	if r, err := echo.UnwrapResponse(c.Response()); err != nil || !slices.Contains(done, r.Status) {
		return
	}
	if a, is := ctx.Value(attemptKey{}).(store.Attempt); is && a.ApprenticeID == who.ID {
		return
	}
	if p, is := ctx.Value(recordKey{}).(store.Person); is && p.ID == who.ID {
		return
	}
	about := cmp.Or(c.Param("person"), c.Param("attempt"), c.Param("class"), c.Param("job"), c.Param("machine"), c.Param("bug"))
	if err := s.store.Audit(ctx, who.ID, act, about); err != nil {
		slog.Error("an act could not be kept in the audit", "act", act, "about", about, "error", err)
	}
}

// audited is the audit with the names of whom and what it speaks of.
func (s *Server) audited(ctx context.Context, before int64, limit int) ([]AuditLine, error) {
	as, err := s.store.Audited(ctx, before, limit)
	if err != nil {
		return nil, err
	}
	ids := []uuid.UUID{uuid.Nil}
	for _, a := range as {
		ids = append(ids, a.ByID)
		if id, err := uuid.Parse(a.About); err == nil {
			ids = append(ids, id)
		}
	}
	names, err := s.store.Called(ctx, ids)
	out := []AuditLine{}
	for _, a := range as {
		out = append(out, AuditLine{Id: a.ID, At: a.At, By: names[a.ByID.String()], Act: a.Act, About: names[a.About]})
	}
	return out, err
}

// ListAudit lists who looked at and changed what, the latest first.
func (s *Server) ListAudit(ctx context.Context, req ListAuditRequestObject) (ListAuditResponseObject, error) {
	var before int64
	if req.Params.Before != nil {
		before = *req.Params.Before
	}
	out, err := s.audited(ctx, before, auditPage)
	return ListAudit200JSONResponse(out), err
}

// ExportAudit gives all of it as CSV.
func (s *Server) ExportAudit(ctx context.Context, _ ExportAuditRequestObject) (ExportAuditResponseObject, error) {
	all, err := s.audited(ctx, 0, auditFile)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"id", "at", "by", "act", "about"}}
	for _, a := range all {
		rows = append(rows, []string{strconv.FormatInt(a.Id, 10), a.At.UTC().Format(time.RFC3339), record.Plain(a.By), a.Act, record.Plain(a.About)})
	}
	var b bytes.Buffer
	if err := csv.NewWriter(&b).WriteAll(rows); err != nil {
		return nil, err
	}
	return ExportAudit200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}
