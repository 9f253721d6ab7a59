package httpapi

import (
	"bytes"
	"cmp"
	"context"
	"net/http"
	"slices"

	"zanjero/core/problem"
	"zanjero/core/roster"
)

// shownRows is how many rows of a comparison are sent.
const shownRows = 500

// compared is a file as it was read and compared.
type compared struct {
	*roster.Comparison
	changes int64 // of the roster that it was compared with
}

// compare reads a file and compares it with the roster. It fails with what is wrong with
// the file as a whole.
func (s *Server) compare(ctx context.Context, f *RosterFile) (c compared, err error) {
	now, changes, err := s.store.Roster(ctx)
	if err != nil {
		return c, err
	}
	var bad []problem.Problem
	err = s.pool.Do(ctx, whoIs(ctx).ID.String(), func(context.Context) error {
		var in *roster.Input
		if in, bad = roster.Read(f.Name, f.File, now); len(bad) == 0 {
			c = compared{roster.Compare(now, in), changes}
		}
		return nil
	})
	if err == nil && len(bad) > 0 {
		err = refuseAll(bad)
	}
	return c, err
}

// CompareRoster says what would become of everybody, and changes nothing.
func (s *Server) CompareRoster(ctx context.Context, req CompareRosterRequestObject) (CompareRosterResponseObject, error) {
	c, err := s.compare(ctx, req.Body)
	if err != nil {
		return nil, err
	}
	rank := func(ch roster.Change) int {
		switch {
		case len(ch.Wrong) > 0:
			return 0
		case len(ch.Notes) > 0:
			return 1
		case ch.Act == roster.Leaves:
			return 2
		case ch.Act == roster.Same:
			return 4
		}
		return 3
	}
	rows := slices.Clone(c.Changes)
	slices.SortStableFunc(rows, func(a, b roster.Change) int { return cmp.Compare(rank(a), rank(b)) })
	shown := rows[:min(shownRows, len(rows))]
	return CompareRoster200JSONResponse{Fingerprint: c.Fingerprint(), Ok: c.OK(), Counts: c.Counts, Rows: list(shown), More: len(rows) - len(shown)}, nil
}

// TakeRoster takes in what a comparison showed, all of it or nothing.
func (s *Server) TakeRoster(ctx context.Context, req TakeRosterRequestObject) (TakeRosterResponseObject, error) {
	c, err := s.compare(ctx, req.Body)
	if err != nil {
		return nil, err
	}
	if !c.OK() {
		return nil, refuse(http.StatusUnprocessableEntity, "roster.rows-are-wrong", "n", c.Counts[roster.Wrong])
	}
	if req.Body.Fingerprint == nil || *req.Body.Fingerprint != c.Fingerprint() {
		return nil, refuse(http.StatusConflict, "roster.not-what-was-shown")
	}
	return &takingIn{ctx: ctx, s: s, c: c}, nil
}

// takingIn is the answer while a roster is taken in.
type takingIn struct {
	ctx context.Context
	s   *Server
	c   compared
}

// takenLine is one line of it.
type takenLine struct {
	Done   float64        `json:"done,omitempty"`
	Counts map[string]int `json:"counts,omitempty"`
	Error  *Error         `json:"error,omitempty"`
}

// VisitTakeRosterResponse does the work and writes the answer.
func (t *takingIn) VisitTakeRosterResponse(w http.ResponseWriter) error {
	out := &lines{w: w}
	out.say(takenLine{Done: 0.01})
	err := t.s.store.TakeRoster(t.ctx, t.c.changes, t.c.Comparison, func(done float64) { out.say(takenLine{Done: done}) })
	if err != nil {
		said := asRefusal(err).body()
		out.say(takenLine{Error: &said})
		return nil
	}
	out.say(takenLine{Counts: t.c.Counts})
	return nil
}

// ExportRoster gives everybody who is here and every class that is held.
func (s *Server) ExportRoster(ctx context.Context, _ ExportRosterRequestObject) (ExportRosterResponseObject, error) {
	now, _, err := s.store.Roster(ctx)
	if err != nil {
		return nil, err
	}
	raw, err := roster.Write(now)
	return ExportRoster200ApplicationzipResponse{Body: bytes.NewReader(raw), ContentLength: int64(len(raw))}, err
}
