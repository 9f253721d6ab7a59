package httpapi

import (
	"time"

	"zanjero/internal/store"
)

// times are those of a job: from when it is seen, from when nothing more is done on it, and
// from when its debriefs are read; nil for at once, never and at once. They never change.
type times struct{ opens, closes, debrief *time.Time }

// unopened says that a job is not yet there for an apprentice.
func (t times) unopened(who store.Person) bool {
	return who.Role == store.Apprentice && t.opens != nil && time.Now().Before(*t.opens)
}

// closed says that nothing more is done on it. What was done can still be handed over.
func (t times) closed() bool { return t.closes != nil && !time.Now().Before(*t.closes) }

// heldBack says that its debrief, and all that would tell it, is not yet for an apprentice.
func (t times) heldBack(who store.Person) bool {
	return who.Role == store.Apprentice && t.debrief != nil && time.Now().Before(*t.debrief)
}
