package httpapi

import (
	"bytes"
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"zanjero/core/assess"
	"zanjero/core/record"
	"zanjero/internal/store"
	"zanjero/messages"
)

type recordKey struct{}

// ownRecord finds the person of a route whose record is asked for: an apprentice's own, or
// anybody's for who teaches, marks or keeps records.
func ownRecord(s *Server, ctx context.Context, who store.Person, c *echo.Context) (context.Context, error) {
	id, err := uuid.Parse(c.Param("person"))
	if err != nil || (who.Role == store.Apprentice && id != who.ID) {
		return ctx, errNotFound
	}
	p, err := s.store.Person(ctx, id)
	if err != nil {
		return ctx, err
	}
	return context.WithValue(ctx, recordKey{}, p), nil
}

// recordOf makes the record of a route's person, for whoever asks: what is held back from
// them is not in it.
func (s *Server) recordOf(ctx context.Context) (p store.Person, r record.Record, err error) {
	p, _ = ctx.Value(recordKey{}).(store.Person)
	who := whoIs(ctx)
	marked, acts, err := s.store.MarkedOf(ctx, p.ID)
	if err != nil {
		return p, r, err
	}
	var all []record.Attempt
	for _, a := range marked {
		if heldBack(a.Job.DebriefAt, who) || awaits(a, who) {
			continue
		}
		x, err := recorded(a, acts[a.ID])
		if err != nil {
			return p, r, err
		}
		all = append(all, x)
	}
	return p, record.Of(all), nil
}

// recorded is a marked attempt as a record has it.
func recorded(a store.Attempt, acts []store.ReviewAct) (x record.Attempt, err error) {
	sc, err := scenarioIn(a.Job)
	if err != nil {
		return x, err
	}
	now, err := reviewed(a, sc, acts)
	if err != nil {
		return x, err
	}
	mark, of := now.Total()
	x = record.Attempt{ID: a.ID.String(), Job: int(a.Job.Number), Machine: a.Job.Machine.Name + " " + a.Job.Machine.Code, Minutes: a.Minutes,
		Mark: mark, Of: of, Outcome: now.Outcome, Class: now.Class, Signed: now.Signed, Practice: a.Job.Practice, Untested: now.Untested,
		Skills: now.Skills}
	if a.HandedAt != nil {
		x.At = a.HandedAt.UTC().Format(time.RFC3339)
	}
	for _, act := range acts {
		if act.Kind == assess.ActComment {
			var said assess.Act
			if err := json.Unmarshal(act.Body, &said); err != nil {
				return x, err
			}
			x.Comments = append(x.Comments, said.Text)
		}
	}
	return x, nil
}

// whose are the statements of somebody.
func (s *Server) whose(p store.Person) record.Whose {
	w := english
	return record.Whose{Home: s.options.Home, Person: p.ID.String(), Name: p.DisplayName, Language: messages.English, Passed: w.Text("told.passed", nil),
		Failed: w.Text("told.failed", nil), Voided: w.Text("told.voided", nil), Job: w.Text("told.job", nil)}
}

// ExportStatements gives a record as xAPI statements.
func (s *Server) ExportStatements(ctx context.Context, _ ExportStatementsRequestObject) (ExportStatementsResponseObject, error) {
	p, r, err := s.recordOf(ctx)
	if err != nil {
		return nil, err
	}
	out := ExportStatements200JSONResponse{}
	for _, a := range r.Attempts {
		out = append(out, s.whose(p).Statement(a))
	}
	return out, nil
}

// GetRecordStore says how far a record store has been told.
func (s *Server) GetRecordStore(ctx context.Context, _ GetRecordStoreRequestObject) (GetRecordStoreResponseObject, error) {
	t, err := s.store.Telling(ctx)
	out := GetRecordStore200JSONResponse{Set: s.options.Records.Set(), Told: t.Told, Waiting: t.Waiting, Refused: t.Refused}
	if away := s.teller.away.Load(); away != nil {
		out.Away = away
	}
	return out, err
}

// GetRecord gives what somebody has shown.
func (s *Server) GetRecord(ctx context.Context, _ GetRecordRequestObject) (GetRecordResponseObject, error) {
	p, r, err := s.recordOf(ctx)
	if err != nil {
		return nil, err
	}
	standard, _, err := s.standard(ctx)
	if err != nil {
		return nil, err
	}
	classes, err := s.store.Classes(ctx, &p.ID)
	if err != nil {
		return nil, err
	}
	out := GetRecord200JSONResponse{Person: personOf(p), Classes: []string{}, Record: r, Standard: standard.Title, Stands: r.Stands(&standard),
		Observed: []Observed{}}
	signed, err := s.store.ObservedOf(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	for i := range signed {
		x := &signed[i]
		out.Observed = append(out.Observed, Observed{Kind: ObservedKind(x.Kind), Item: x.Item, By: &x.By.DisplayName, Initials: &x.Initials, At: &x.At,
			Attempt: &x.AttemptID})
	}
	for _, c := range classes {
		out.Classes = append(out.Classes, c.Title)
	}
	by, err := s.store.SensedBy(ctx, p.ID)
	out.Sensed = sensed(by)
	return out, err
}

// ExportRecord gives it as CSV.
func (s *Server) ExportRecord(ctx context.Context, _ ExportRecordRequestObject) (ExportRecordResponseObject, error) {
	_, r, err := s.recordOf(ctx)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := r.WriteCSV(&b); err != nil {
		return nil, err
	}
	return ExportRecord200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

func (s *Server) standard(ctx context.Context) (x record.Standard, changes int, err error) {
	kept, err := s.store.Standard(ctx)
	if err == nil && kept.Changes > 0 {
		err = json.Unmarshal(kept.Body, &x)
	}
	if x.Lines == nil {
		x.Lines = []record.Line{}
	}
	return x, kept.Changes, err
}

// GetStandard gives the outside training standard of the yard.
func (s *Server) GetStandard(ctx context.Context, _ GetStandardRequestObject) (GetStandardResponseObject, error) {
	x, changes, err := s.standard(ctx)
	return GetStandard200JSONResponse{Title: x.Title, Lines: x.Lines, Changes: changes}, err
}

// PutStandard keeps another.
func (s *Server) PutStandard(ctx context.Context, req PutStandardRequestObject) (PutStandardResponseObject, error) {
	x := record.Standard{Title: req.Body.Title, Lines: list(req.Body.Lines)}
	if bad := x.Check(); len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	raw, err := json.Marshal(x)
	if err != nil {
		return nil, err
	}
	if err := s.store.SaveStandard(ctx, store.Standard{Body: raw, Changes: req.Body.Changes, ChangedBy: whoIs(ctx).ID}); err != nil {
		return nil, err
	}
	return PutStandard200JSONResponse{Title: x.Title, Lines: x.Lines, Changes: req.Body.Changes + 1}, nil
}

// ReadStandard reads lines from CSV, and keeps nothing.
func (s *Server) ReadStandard(_ context.Context, req ReadStandardRequestObject) (ReadStandardResponseObject, error) {
	lines, bad := record.ReadStandard(req.Body.File)
	if len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	return ReadStandard200JSONResponse(list(lines)), nil
}
