package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"time"

	"github.com/google/uuid"

	"zanjero/core/assess"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// answerStep pads the answers of the bench, so that a long simulation does not
// tell by its time what was simulated.
const answerStep = 25 * time.Millisecond

func pad(began time.Time) {
	spent := time.Since(began)
	time.Sleep((answerStep - spent%answerStep) % answerStep)
}

// errModel: an attempt belongs to another model and cannot be gone on with.
func errModel(a store.Attempt) error {
	return refuse(http.StatusConflict, fmt.Sprintf("this job was begun on model %s and this is %s", a.ModelVersion, machine.Version),
		"ask your instructor to give it again; what was written down is kept")
}

// ledger gives an attempt's ledger after all its events, as a copy to work on.
func (s *Server) ledger(ctx context.Context, a store.Attempt) (*ledger.Ledger, error) {
	if a.ModelVersion != machine.Version {
		return nil, errModel(a)
	}
	l := s.ledgers.get(a.ID)
	if l == nil {
		c, err := s.card(ctx, a.JobID)
		if err != nil {
			return nil, err
		}
		if l, err = c.sc.Ledger(uint64(a.Seed)); err != nil {
			return nil, err
		}
	}
	if l.Seq() == a.Events {
		return l, nil
	}
	es, err := s.store.Events(ctx, a.ID, l.Seq())
	if err != nil {
		return nil, err
	}
	for _, e := range es {
		var ev ledger.Event
		if err := json.Unmarshal(e.Body, &ev); err != nil {
			return nil, fmt.Errorf("attempt %s event %d: %w", a.ID, e.Seq, err)
		}
		if p := l.Apply(ev); p != nil {
			return nil, fmt.Errorf("attempt %s event %d: %w", a.ID, e.Seq, p)
		}
	}
	s.ledgers.put(a.ID, l.Clone())
	return l, nil
}

// GetBench shows the bench as it stands.
func (s *Server) GetBench(ctx context.Context, req GetBenchRequestObject) (GetBenchResponseObject, error) {
	defer pad(time.Now())
	a, err := s.attempt(ctx, req.Attempt)
	if err != nil {
		return nil, err
	}
	b, err := s.benchOf(ctx, a)
	return GetBench200JSONResponse(b), err
}

func (s *Server) benchOf(ctx context.Context, a store.Attempt) (Bench, error) {
	l, err := s.ledger(ctx, a)
	if err != nil {
		return Bench{}, err
	}
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return Bench{}, err
	}
	return view(a, c, l)
}

// AddEvent does one act. The act is done on a copy first; only if the ledger
// still stands where the client saw it does it count.
func (s *Server) AddEvent(ctx context.Context, req AddEventRequestObject) (AddEventResponseObject, error) {
	defer pad(time.Now())
	a, err := s.attempt(ctx, req.Attempt)
	if err != nil {
		return nil, err
	}
	l, err := s.ledger(ctx, a)
	if err != nil {
		return nil, err
	}
	body, err := json.Marshal(req.Body.Event)
	if err != nil {
		return nil, err
	}
	e := store.Event{AttemptID: a.ID, Seq: req.Body.After, ClientID: req.Body.ClientId, Body: body}
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	done, next, err := s.apply(ctx, c.sc, l, &e, req.Body.Event)
	switch {
	case errors.Is(err, store.ErrMoved):
		b, err := s.benchNow(ctx, a.ID)
		if err != nil {
			return nil, err
		}
		return AddEvent409JSONResponse{Problem: "the bench has moved on since this page saw it", Mend: "look at it as it stands now, and do it again if it is still wanted", Bench: &b}, nil
	case err != nil:
		return nil, err
	case done:
		b, err := s.benchNow(ctx, a.ID)
		return AddEvent200JSONResponse(b), err
	}
	a.State = store.StateInHand
	b, err := view(a, c, next)
	s.ledgers.put(a.ID, next)
	return AddEvent200JSONResponse(b), err
}

// apply does an act on a ledger and keeps it, if the ledger ends where the
// client saw it end. A retry is found before anything is done: what was an act
// then could be refused now.
func (s *Server) apply(ctx context.Context, sc *scenario.Scenario, l *ledger.Ledger, e *store.Event, act ledger.Event) (done bool, next *ledger.Ledger, err error) {
	if l.Seq() != e.Seq {
		if done, err = s.store.Known(ctx, e); done || err != nil {
			return done, nil, err
		}
		return false, nil, store.ErrMoved
	}
	if p := sc.Allow(l, act); p != nil {
		return false, nil, p
	}
	steps := len(l.Lines())
	if p := l.Apply(act); p != nil {
		return false, nil, p
	}
	e.Observed = observed(l, steps)
	done, err = s.store.AppendEvent(ctx, e, l.Minutes())
	return done, l, err
}

// benchNow reads the bench afresh.
func (s *Server) benchNow(ctx context.Context, id uuid.UUID) (Bench, error) {
	a, err := s.store.AttemptRow(ctx, id)
	if err != nil {
		return Bench{}, err
	}
	return s.benchOf(ctx, a)
}

// observed is what an event showed, as it is kept with it.
func observed(l *ledger.Ledger, steps int) json.RawMessage {
	var seen any
	if len(l.Lines()) > steps && l.Lines()[len(l.Lines())-1].Obs != nil {
		seen = l.Lines()[len(l.Lines())-1].Obs
	} else if in := l.Instrument(); in != nil {
		seen = in
	} else {
		return nil
	}
	raw, err := json.Marshal(seen)
	if err != nil {
		return nil
	}
	return raw
}

// SaveDraft keeps an unfinished hand-over.
func (s *Server) SaveDraft(ctx context.Context, req SaveDraftRequestObject) (SaveDraftResponseObject, error) {
	raw, err := json.Marshal(req.Body)
	if err != nil {
		return nil, err
	}
	if err := s.store.SaveDraft(ctx, req.Attempt, raw); err != nil {
		return nil, err
	}
	return SaveDraft204Response{}, nil
}

// HandOver assesses an attempt and freezes it.
func (s *Server) HandOver(ctx context.Context, req HandOverRequestObject) (HandOverResponseObject, error) {
	a, err := s.attempt(ctx, req.Attempt)
	if err != nil {
		return nil, err
	}
	if a.State == store.StateHandedOver {
		return nil, errClosed
	}
	l, err := s.ledger(ctx, a)
	if err != nil {
		return nil, err
	}
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	if ps := req.Body.Check(c.sc.Family, l.Seq()); len(ps) > 0 {
		return nil, refuseAll(ps)
	}
	result, err := assess.Assess(ctx, c.sc, uint64(a.Seed), l.Events(), *req.Body)
	if err != nil {
		return nil, err
	}
	hand, err := json.Marshal(req.Body)
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(result)
	if err != nil {
		return nil, err
	}
	if err := s.store.HandOver(ctx, a.ID, l.Seq(), hand, raw); err != nil {
		if errors.Is(err, store.ErrMoved) {
			return nil, refuse(http.StatusConflict, "the bench has moved on in another window", "look at it as it stands now, then hand over")
		}
		return nil, err
	}
	s.ledgers.drop(a.ID)
	if a, err = s.store.Attempt(ctx, a.ID); err != nil {
		return nil, err
	}
	d, err := debriefOf(a)
	return HandOver201JSONResponse(d), err
}

// GetDebrief shows the assessment once the job is handed over, and nothing of
// it before.
func (s *Server) GetDebrief(ctx context.Context, req GetDebriefRequestObject) (GetDebriefResponseObject, error) {
	a, err := s.store.Attempt(ctx, req.Attempt)
	if err != nil {
		return nil, err
	}
	if a.State != store.StateHandedOver {
		return nil, refuse(http.StatusConflict, "this job is not handed over yet", "finish it at the bench; the debrief comes after")
	}
	d, err := debriefOf(a)
	return GetDebrief200JSONResponse(d), err
}

func debriefOf(a store.Attempt) (Debrief, error) {
	sc, err := scenarioIn(a.Job)
	if err != nil {
		return Debrief{}, err
	}
	out := Debrief{Attempt: a.ID, Apprentice: a.Apprentice.DisplayName, JobNumber: int(a.Job.Number), Family: sc.Family,
		MachineName: a.Job.Machine.Name, MachineCode: a.Job.Machine.Code, Words: sc.Words}
	if err := json.Unmarshal(a.Assessment, &out.Assessment); err != nil {
		return Debrief{}, fmt.Errorf("attempt %s: assessment: %w", a.ID, err)
	}
	return out, nil
}

func cardOf(a store.Attempt) (AttemptCard, error) {
	sc, err := scenarioIn(a.Job)
	if err != nil {
		return AttemptCard{}, err
	}
	card := AttemptCard{Id: a.ID, JobNumber: int(a.Job.Number), MachineName: a.Job.Machine.Name, MachineCode: a.Job.Machine.Code, Words: sc.Words,
		State: AttemptCardState(a.State), Minutes: math.Round(a.Minutes*10) / 10, LimitMinutes: sc.LimitMinutes, Apprentice: a.Apprentice.DisplayName}
	if a.State == store.StateHandedOver {
		var done assess.Assessment
		if err := json.Unmarshal(a.Assessment, &done); err != nil {
			return AttemptCard{}, err
		}
		mark, of := done.Total()
		card.Mark, card.Of, card.Class = &mark, &of, &done.Class
	}
	return card, nil
}
