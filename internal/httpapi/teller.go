package httpapi

import (
	"context"
	"errors"
	"log/slog"
	"net/http"
	"sync/atomic"
	"time"

	"github.com/google/uuid"

	"zanjero/core/record"
	"zanjero/internal/lrs"
	"zanjero/internal/store"
)

// How a record store is told: so many attempts at a time, looked for so often, and when it
// is away after longer and longer, up to tellLongest.
const (
	tellAtOnce  = 50
	tellEvery   = 5 * time.Second
	tellLongest = 5 * time.Minute
)

// A teller tells a record store how marked attempts stand. What is still to be told follows
// from the attempts themselves, so nothing is lost however it ends; a statement has the same
// id whoever sends it and however often, so nothing is told twice.
type teller struct {
	s    *Server
	quit context.CancelFunc
	done chan struct{}
	// away is why the store could not be told when it was last tried, nil where it could.
	away atomic.Pointer[string]
}

func startTeller(ctx context.Context, s *Server) *teller {
	ctx, quit := context.WithCancel(context.WithoutCancel(ctx))
	t := &teller{s: s, quit: quit, done: make(chan struct{})}
	go t.run(ctx)
	return t
}

func (t *teller) stop() {
	t.quit()
	<-t.done
}

func (t *teller) run(ctx context.Context) {
	defer close(t.done)
	if !t.s.options.Records.Set() {
		return
	}
	every := t.s.options.TellEvery
	if every == 0 {
		every = tellEvery
	}
	for wait := every; ; {
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
		if err := t.some(ctx); err != nil {
			if ctx.Err() == nil {
				why := err.Error()
				t.away.Store(&why)
				slog.Warn("the record store could not be told; it is tried again", "after", wait, "error", err)
			}
			wait = min(2*wait, tellLongest)
			continue
		}
		t.away.Store(nil)
		wait = every
	}
}

// some tells of some attempts. The error is that the store, or the database, is away.
func (t *teller) some(ctx context.Context) error {
	as, acts, stands, err := t.s.store.Untold(ctx, tellAtOnce)
	if err != nil {
		return err
	}
	for _, a := range as {
		x, err := recorded(a, acts[a.ID])
		if err != nil {
			return err
		}
		if err := t.tell(ctx, &a, t.s.whose(a.Apprentice), x, stands[a.ID]); err != nil {
			return err
		}
	}
	return nil
}

// tell has a statement kept, and the one before it taken back. That one is taken back last:
// a store that is away between the two has one too many for a while, and none too few.
func (t *teller) tell(ctx context.Context, a *store.Attempt, w record.Whose, x record.Attempt, stands string) error {
	to := t.s.options.Records
	now := w.Statement(x)
	err := to.Put(ctx, now.ID, now)
	if before := a.ToldBy; err == nil && before != nil && before.String() != now.ID {
		void := w.Void(before.String(), time.Now().UTC().Format(time.RFC3339))
		err = to.Put(ctx, void.ID, void)
		var no *lrs.Refused
		if errors.As(err, &no) && no.Status == http.StatusConflict { // it was taken back before, at another moment
			err = nil
		}
	}
	var no *lrs.Refused
	switch {
	case errors.As(err, &no):
		slog.Warn("the record store refused a statement", "attempt", a.ID, "error", err)
		return t.s.store.Told(ctx, a.ID, stands, nil, no.Error())
	case err != nil:
		return err
	}
	by := uuid.MustParse(now.ID)
	return t.s.store.Told(ctx, a.ID, stands, &by, "")
}
