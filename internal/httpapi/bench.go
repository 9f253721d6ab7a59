package httpapi

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"reflect"
	"strings"
	"time"

	"zanjero/core/ledger"
	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// The answers of the bench are padded, so that a long simulation does not tell by
// its time what was simulated: an act, which is simulated within a few, in short
// steps; what may replay a whole ledger in long ones.
const (
	actStep    = 10 * time.Millisecond
	replayStep = 25 * time.Millisecond
)

func pad(began time.Time, step time.Duration) {
	spent := time.Since(began)
	time.Sleep((step - spent%step) % step)
}

// GetBench shows the bench as it stands.
func (s *Server) GetBench(ctx context.Context, _ GetBenchRequestObject) (GetBenchResponseObject, error) {
	defer pad(time.Now(), replayStep)
	b, _, err := s.benchOf(ctx, attempt(ctx))
	return GetBench200JSONResponse(b), err
}

// benchOf gives the bench of an attempt, and remembers what was sent of it.
func (s *Server) benchOf(ctx context.Context, a store.Attempt) (Bench, map[string]json.RawMessage, error) {
	now, err := s.ledger(ctx, a)
	if err != nil {
		return Bench{}, nil, err
	}
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return Bench{}, nil, err
	}
	w := wordsOf(ctx)
	b, err := view(w, a, c, now.l)
	if err == nil {
		err = s.holds(ctx, a, c, &b)
	}
	if err != nil {
		return Bench{}, nil, err
	}
	parts, err := partsOf(b, c.fixed[w.Language])
	if err == nil {
		s.keep(a.ID, &benchNow{now.l, parts, w.Language})
	}
	return b, parts, err
}

// partsOf writes the members of a bench one by one, those apart that are left out
// when they are empty; those that are fixed are taken as they are.
func partsOf(b Bench, fixed map[string]json.RawMessage) (map[string]json.RawMessage, error) {
	v := reflect.ValueOf(b)
	parts := make(map[string]json.RawMessage, v.NumField())
	for i := range v.NumField() {
		name, options, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
		if strings.Contains(options, "omitempty") && v.Field(i).IsZero() {
			continue
		}
		if raw, there := fixed[name]; there {
			parts[name] = raw
			continue
		}
		raw, err := json.Marshal(v.Field(i).Interface())
		if err != nil {
			return nil, err
		}
		parts[name] = raw
	}
	return parts, nil
}

// Change is what is other than before of a bench, by member; null for what is
// gone.
type Change map[string]json.RawMessage

// changeOf is what takes one bench to another. The place in the ledger is always
// there.
func changeOf(was, now map[string]json.RawMessage) Change {
	out := Change{"seq": now["seq"]}
	for k, v := range now {
		if !bytes.Equal(was[k], v) {
			out[k] = v
		}
	}
	for k := range was {
		if _, there := now[k]; !there {
			out[k] = json.RawMessage("null")
		}
	}
	return out
}

// AddEvent does one act. The act is done on a copy first; only if the ledger
// still stands where the client saw it does it count. The answer is what it
// changed of the bench that the client has.
func (s *Server) AddEvent(ctx context.Context, req AddEventRequestObject) (AddEventResponseObject, error) {
	defer pad(time.Now(), actStep)
	a := attempt(ctx)
	now, err := s.ledger(ctx, a)
	if err != nil {
		return nil, err
	}
	if err := s.withGauge(ctx, &req.Body.Event); err != nil {
		return nil, err
	}
	body, err := json.Marshal(req.Body.Event)
	if err != nil {
		return nil, err
	}
	if len(body) > maxEvent {
		return nil, refuse(http.StatusRequestEntityTooLarge, "http.act-too-large", "most", maxEvent>>10)
	}
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	if c.times.closed() {
		return nil, refuse(http.StatusConflict, "http.job-has-closed")
	}
	if a.PausedAt != nil {
		return nil, errPaused
	}
	if err := s.waits(ctx, a, c, req.Body.Event); err != nil {
		return nil, err
	}
	w, sent := wordsOf(ctx), now.sent
	if sent == nil || now.language != w.Language { // nobody has looked at it here yet
		if _, sent, err = s.benchOf(ctx, a); err != nil {
			return nil, err
		}
	}
	e := store.Event{AttemptID: a.ID, Seq: int(req.Body.After), ClientID: req.Body.ClientId, Body: body}
	next := now.l.Clone()
	done, err := s.apply(ctx, c.sc, next, &e, req.Body.Event)
	switch {
	case errors.Is(err, store.ErrMoved):
		return s.moved(ctx, a)
	case err != nil:
		return nil, err
	case done: // as the first time: all of the bench, for what the client has of it is not known
		if a, err = s.store.AttemptRow(ctx, a.ID); err != nil {
			return nil, err
		}
		_, parts, err := s.benchOf(ctx, a)
		return AddEvent200JSONResponse(changeOf(nil, parts)), err
	}
	a.State, a.Events = store.StateInHand, next.Seq()
	b, err := view(w, a, c, next)
	if err == nil {
		err = s.holds(ctx, a, c, &b)
	}
	if err != nil {
		return nil, err
	}
	parts, err := partsOf(b, c.fixed[w.Language])
	if err != nil {
		return nil, err
	}
	s.keep(a.ID, &benchNow{next, parts, w.Language})
	return AddEvent200JSONResponse(changeOf(sent, parts)), nil
}

// moved says that the bench has gone on without the client, and shows it.
func (s *Server) moved(ctx context.Context, a store.Attempt) (AddEventResponseObject, error) {
	a, err := s.store.AttemptRow(ctx, a.ID)
	if err != nil {
		return nil, err
	}
	b, _, err := s.benchOf(ctx, a)
	if err != nil {
		return nil, err
	}
	body := refuse(http.StatusConflict, "http.bench-moved-on").body()
	return AddEvent409JSONResponse{Code: body.Code, Problem: body.Problem, Mend: body.Mend, Bench: &b}, nil
}

// apply does an act on a ledger and keeps it with what it showed, if the ledger
// ends where the client saw it end. A retry is found before anything is done:
// what was an act then could be refused now.
func (s *Server) apply(ctx context.Context, sc *scenario.Scenario, l *ledger.Ledger, e *store.Event, act ledger.Event) (done bool, err error) {
	if l.Seq() != e.Seq {
		if done, err = s.store.Known(ctx, e); done || err != nil {
			return done, err
		}
		return false, store.ErrMoved
	}
	if p := sc.Allow(l, act); p != nil {
		return false, p
	}
	if p := l.Apply(act); p != nil {
		return false, p
	}
	if e.Observed, err = json.Marshal(l.Shown()); err != nil {
		return false, err
	}
	glance, err := json.Marshal(glanceOf(sc.Figures(), l))
	if err != nil {
		return false, err
	}
	return s.store.AppendEvent(ctx, e, store.After{Minutes: l.Minutes(), Glance: glance})
}

// SaveDraft keeps an unfinished hand-over.
func (s *Server) SaveDraft(ctx context.Context, req SaveDraftRequestObject) (SaveDraftResponseObject, error) {
	raw, err := json.Marshal(req.Body)
	if err != nil {
		return nil, err
	}
	if err := s.store.SaveDraft(ctx, attempt(ctx).ID, raw); err != nil {
		return nil, err
	}
	return SaveDraft204Response{}, nil
}
