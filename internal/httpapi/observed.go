package httpapi

import (
	"context"
	"net/http"
	"slices"

	"github.com/google/uuid"

	"zanjero/core/ledger"
	"zanjero/core/problem"
	"zanjero/core/shop"
	"zanjero/internal/store"
)

// GetObserved lists hold points and skills of the hand at a real engine; elsewhere there are
// none.
func (s *Server) GetObserved(ctx context.Context, _ GetObservedRequestObject) (GetObservedResponseObject, error) {
	a := attempt(ctx)
	c, err := s.card(ctx, a.JobID)
	if err != nil || c.sc.Iron == nil {
		return GetObserved200JSONResponse{}, err
	}
	all, err := s.observed(ctx, a, c)
	return GetObserved200JSONResponse(all), err
}

// observed are all that can be at this engine, with who has seen them.
func (s *Server) observed(ctx context.Context, a store.Attempt, c *card) (out []Observed, err error) {
	seen, err := s.store.ObservedAt(ctx, a.ID)
	if err != nil {
		return nil, err
	}
	for _, of := range []struct {
		kind  ObservedKind
		items []string
	}{{shop.ObservedHold, shop.HoldsOf(slices.Contains(c.has, "bar"))}, {shop.ObservedSkill, shop.Skills}} {
		for _, item := range of.items {
			o := Observed{Kind: of.kind, Item: item}
			for i := range seen {
				if x := &seen[i]; x.Kind == string(of.kind) && x.Item == item {
					o.By, o.Initials, o.At = &x.By.DisplayName, &x.Initials, &x.At
				}
			}
			out = append(out, o)
		}
	}
	return out, nil
}

// holds puts the hold points of a real engine to its bench.
func (s *Server) holds(ctx context.Context, a store.Attempt, c *card, b *Bench) error {
	if c.sc.Iron == nil {
		return nil
	}
	all, err := s.observed(ctx, a, c)
	if err != nil {
		return err
	}
	holds := slices.DeleteFunc(all, func(o Observed) bool { return o.Kind != shop.ObservedHold })
	b.Holds = &holds
	return nil
}

// waits refuses an act at a real engine whose hold point nobody has signed.
func (s *Server) waits(ctx context.Context, a store.Attempt, c *card, e ledger.Event) error {
	if c.sc.Iron == nil {
		return nil
	}
	if err := s.turn(ctx, a); err != nil {
		return err
	}
	return s.unsigned(ctx, a, shop.HoldBefore(e))
}

// turn refuses to begin on an engine of an exam that another has, or that was not set again
// after another. Who teaches types paper sheets in whenever they come.
func (s *Server) turn(ctx context.Context, a store.Attempt) error {
	if a.State != store.StateNew || whoIs(ctx).Role == store.Instructor {
		return nil
	}
	id, err := s.store.ExamBugOf(ctx, a.JobID)
	if err != nil || id == nil {
		return err
	}
	all, err := s.store.Attempts(ctx, store.Page{Jobs: []uuid.UUID{a.JobID}})
	if err != nil {
		return err
	}
	gone := 0
	for i := range all {
		if all[i].State == store.StateInHand {
			return refuse(http.StatusConflict, "http.engine-with-another")
		}
		if over(&all[i]) {
			gone++
		}
	}
	b, err := s.store.Bug(ctx, *id)
	if err != nil {
		return err
	}
	c, err := cardOf(&b)
	if err != nil {
		return err
	}
	if !c.Open() || gone > c.SetAgain() {
		return refuse(http.StatusConflict, "http.engine-not-set-again")
	}
	return nil
}

// unsigned refuses what comes after a hold point that nobody has signed.
func (s *Server) unsigned(ctx context.Context, a store.Attempt, hold string) error {
	if hold == "" {
		return nil
	}
	seen, err := s.store.ObservedAt(ctx, a.ID)
	if err != nil {
		return err
	}
	for _, x := range seen {
		if x.Kind == shop.ObservedHold && x.Item == hold {
			return nil
		}
	}
	return refuse(http.StatusConflict, "http.hold-not-signed", "hold", "@shop.hold."+hold)
}

// Observe keeps a hold point that was passed, or a skill that was seen, with initials.
func (s *Server) Observe(ctx context.Context, req ObserveRequestObject) (ObserveResponseObject, error) {
	a, who, o := attempt(ctx), whoIs(ctx), req.Body
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	if c.sc.Iron == nil || !shop.Observable(string(o.Kind), o.Item) {
		return nil, errNotFound
	}
	if !shop.IsInitials(o.Initials, who.DisplayName) {
		return nil, problem.New("initials", "shop.not-your-initials", "initials", problem.Show(o.Initials))
	}
	err = s.store.Observe(ctx, &store.Observed{AttemptID: a.ID, Kind: string(o.Kind), Item: o.Item, Initials: o.Initials, ByID: who.ID})
	return Observe204Response{}, err
}
