package httpapi

import (
	"context"
	"time"

	"zanjero/internal/store"
)

// times are those of a job that never change: from when it is seen, and from when nothing
// more is done on it; nil for at once and never.
type times struct{ opens, closes *time.Time }

// unopened says that a job is not yet there for an apprentice.
func (t times) unopened(who store.Person) bool {
	return who.Role == store.Apprentice && t.opens != nil && time.Now().Before(*t.opens)
}

// closed says that nothing more is done on it. What was done can still be handed over.
func (t times) closed() bool { return t.closes != nil && !time.Now().Before(*t.closes) }

// heldBack says that a debrief that is read from a time on, and all that would tell it, is
// not yet for somebody; nil is for at once. That time can be moved, so it is never kept.
func heldBack(debrief *time.Time, who store.Person) bool {
	return who.Role == store.Apprentice && debrief != nil && time.Now().Before(*debrief)
}

// MoveDebriefs sets from when the debriefs of what was given in one act are read.
func (s *Server) MoveDebriefs(ctx context.Context, req MoveDebriefsRequestObject) (MoveDebriefsResponseObject, error) {
	err := s.store.MoveDebriefs(ctx, req.Given, req.Body.At)
	return MoveDebriefs204Response{}, err
}
