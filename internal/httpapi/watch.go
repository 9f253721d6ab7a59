package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"github.com/google/uuid"

	"zanjero/internal/live"
	"zanjero/internal/store"
)

// How server-sent events are sent: what comes within gatherFor goes together, and it is
// looked whether one may still watch every checkEvery, which also tells the way between that
// the connection is alive. Nobody holds more than mostWatched.
const (
	gatherFor   = 50 * time.Millisecond
	checkEvery  = 5 * time.Second
	mostWatched = 12
)

// watching is how many streams each person holds.
type watching struct {
	mu sync.Mutex
	by map[uuid.UUID]int
}

// begin counts one more, and says whether that is allowed.
func (w *watching) begin(who uuid.UUID) bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.by[who] >= mostWatched {
		return false
	}
	w.by[who]++
	return true
}

func (w *watching) end(who uuid.UUID) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.by[who]--; w.by[who] == 0 {
		delete(w.by, who)
	}
}

// stream is an answer that goes on for as long as it is held open: the versions of what is
// watched, all of them at first and after a gap, then those that have changed. So whoever
// comes back after a lost connection sees what differs, whatever was missed, and what comes
// twice says nothing new.
type stream struct {
	s   *Server
	ctx context.Context
	who store.Person
	// wanted says which notices are of what is watched; versions gives those named, or all.
	wanted   func(live.Notice) bool
	versions func(ctx context.Context, only []uuid.UUID) (map[string]int64, error)
}

// WatchFloor tells of the benches of what was given to a class in one act.
func (s *Server) WatchFloor(ctx context.Context, req WatchFloorRequestObject) (WatchFloorResponseObject, error) {
	if _, err := s.store.Class(ctx, req.Class); err != nil {
		return nil, err
	}
	return &stream{s, ctx, whoIs(ctx), func(n live.Notice) bool { return n.Class == req.Class },
		func(ctx context.Context, only []uuid.UUID) (map[string]int64, error) {
			return s.store.Versions(ctx, req.Class, req.Params.Giving, only)
		}}, nil
}

// WatchBench tells of one bench: of all that changes there, and of what is said there and
// whether it is paused, apart, so that who works there need not ask after each act.
func (s *Server) WatchBench(ctx context.Context, _ WatchBenchRequestObject) (WatchBenchResponseObject, error) {
	id := attempt(ctx).ID
	return &stream{s, ctx, whoIs(ctx), func(n live.Notice) bool { return n.ID == id },
		func(ctx context.Context, _ []uuid.UUID) (map[string]int64, error) {
			bench, talk, err := s.store.VersionOf(ctx, id)
			return map[string]int64{"bench": bench, "talk": talk}, err
		}}, nil
}

var errTooManyWatched = refuse(http.StatusTooManyRequests, "http.too-many-watched")

// VisitWatchFloorResponse sends it.
func (x *stream) VisitWatchFloorResponse(w http.ResponseWriter) error { return x.send(w) }

// VisitWatchBenchResponse sends it.
func (x *stream) VisitWatchBenchResponse(w http.ResponseWriter) error { return x.send(w) }

func (x *stream) send(w http.ResponseWriter) error {
	if !x.s.watched.begin(x.who.ID) {
		writeRefusal(w, errTooManyWatched)
		return nil
	}
	defer x.s.watched.end(x.who.ID)
	feed := x.s.hub.Follow(x.wanted)
	defer feed.Close()
	// What changes from here on is told by the feed, what did before by the list.
	all, err := x.versions(x.ctx, nil)
	if err != nil {
		writeRefusal(w, asRefusal(err))
		return nil
	}
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("X-Accel-Buffering", "no") // a proxy must not hold it back
	out := sent{w, http.NewResponseController(w)}
	_ = out.control.SetReadDeadline(time.Time{}) // where the connection has one
	if out.event("all", all) != nil {
		return nil
	}
	check := time.NewTicker(checkEvery)
	defer check.Stop()
	for {
		select {
		case <-x.ctx.Done():
			return nil
		case <-x.s.hub.Ended():
			return nil
		case <-check.C:
			if !x.may() {
				_ = out.event("ended", struct{}{})
				return nil
			}
			if out.write(": here\n\n") != nil {
				return nil
			}
		case <-feed.Bell():
			time.Sleep(gatherFor)
			if !x.may() {
				_ = out.event("ended", struct{}{})
				return nil
			}
			if x.tell(&out, feed) != nil {
				return nil
			}
		}
	}
}

// tell sends what a feed has gathered.
func (x *stream) tell(out *sent, feed *live.Feed) error {
	notices, gap := feed.Fetch()
	kind, only := "all", []uuid.UUID(nil)
	if !gap {
		kind = "changed"
		for _, n := range notices {
			only = append(only, n.ID)
		}
	}
	versions, err := x.versions(x.ctx, only)
	if err != nil {
		if x.ctx.Err() == nil {
			slog.Warn("watching", "error", err)
		}
		return err // whoever watches connects again, and gets all
	}
	if len(versions) == 0 && !gap {
		return nil
	}
	return out.event(kind, versions)
}

// may says that who watches may still do so, by what the database has of the session now.
func (x *stream) may() bool {
	ctx, cancel := context.WithTimeout(context.Background(), checkEvery)
	defer cancel()
	fresh, err := x.s.sessions.Load(ctx, x.s.sessions.Token(x.ctx))
	if err != nil {
		return false
	}
	p, err := x.s.caller(fresh)
	return err == nil && p.ID == x.who.ID && p.Role == x.who.Role
}

// sent is where events go.
type sent struct {
	w       http.ResponseWriter
	control *http.ResponseController
}

func (o *sent) event(kind string, data any) error {
	raw, err := json.Marshal(data)
	if err != nil {
		return err
	}
	return o.write(fmt.Sprintf("event: %s\ndata: %s\n\n", kind, raw))
}

func (o *sent) write(text string) error {
	_ = o.control.SetWriteDeadline(time.Now().Add(lineWithin)) // where the connection has one
	if _, err := o.w.Write([]byte(text)); err != nil {
		return err
	}
	return o.control.Flush()
}
