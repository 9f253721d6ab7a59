package httpapi

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/shop"
	"zanjero/internal/store"
)

type engineKey struct{}

type bugKey struct{}

// anEngine finds the machine of a route, real or not yet.
func anEngine(s *Server, ctx context.Context, _ store.Person, c *echo.Context) (context.Context, error) {
	id, err := uuid.Parse(c.Param("machine"))
	if err != nil {
		return ctx, errNotFound
	}
	m, err := s.store.Machine(ctx, id)
	return context.WithValue(ctx, engineKey{}, m), err
}

// aBug finds the card of a route.
func aBug(s *Server, ctx context.Context, _ store.Person, c *echo.Context) (context.Context, error) {
	id, err := uuid.Parse(c.Param("bug"))
	if err != nil {
		return ctx, errNotFound
	}
	b, err := s.store.Bug(ctx, id)
	return context.WithValue(ctx, bugKey{}, b), err
}

func routeMachine(ctx context.Context) store.Machine { return ctx.Value(engineKey{}).(store.Machine) }
func bugIn(ctx context.Context) store.Bug            { return ctx.Value(bugKey{}).(store.Bug) }

// cardOf reads a card as it is kept.
func cardOf(b *store.Bug) (*shop.Card, error) {
	c := &shop.Card{}
	if err := json.Unmarshal(b.Body, &c.Bug); err != nil {
		return nil, fmt.Errorf("bug %s: %w", b.ID, err)
	}
	for _, x := range b.Acts {
		var a shop.Act
		if err := json.Unmarshal(x.Body, &a); err != nil {
			return nil, fmt.Errorf("bug %s, act %d: %w", b.ID, x.Seq, err)
		}
		c.Acts = append(c.Acts, a)
	}
	return c, nil
}

// ListEngines gives the board of the real engines.
func (s *Server) ListEngines(ctx context.Context, _ ListEnginesRequestObject) (ListEnginesResponseObject, error) {
	es, err := s.store.Engines(ctx)
	if err != nil {
		return nil, err
	}
	open, err := s.store.OpenBugs(ctx)
	if err != nil {
		return nil, err
	}
	by := map[uuid.UUID]*store.Bug{}
	for i := range open {
		by[open[i].MachineID] = &open[i]
	}
	out := ListEngines200JSONResponse{}
	for i := range es {
		e, err := s.engineOf(ctx, &es[i], by[es[i].MachineID])
		if err != nil {
			return nil, err
		}
		out = append(out, e)
	}
	return out, nil
}

// engineOf is an engine with how it stands by its open card, nil for a fit one.
func (s *Server) engineOf(ctx context.Context, e *store.Engine, open *store.Bug) (Engine, error) {
	out := Engine{MachineId: e.MachineID, Name: e.Machine.Name, Code: e.Machine.Code, Family: e.Machine.Family,
		FamilyName: wordsOf(ctx).Name("family", e.Machine.Family, "name"), Serial: e.Serial, Note: e.Note, State: EngineStateFit}
	if open == nil {
		return out, nil
	}
	c, err := cardOf(open)
	if err != nil {
		return out, err
	}
	out.State, out.Done = EngineState(c.State()), &c.Bug.Done
	if open.JobID == nil {
		return out, nil
	}
	as, err := s.store.Attempts(ctx, store.Page{Jobs: []uuid.UUID{*open.JobID}})
	if a := holder(as); a != nil {
		handed := over(a)
		out.With, out.Handed = &a.Apprentice.DisplayName, &handed
	}
	if toSet(c, as) {
		out.Again = new(true)
	}
	return out, err
}

// toSet says that an engine of an exam is to be set again before whoever is next.
func toSet(c *shop.Card, as []store.Attempt) bool {
	gone := 0
	for i := range as {
		if over(&as[i]) {
			gone++
		}
	}
	out := c.State() == shop.Given || c.State() == shop.Again
	return out && len(as) > 1 && gone < len(as) && gone > c.SetAgain()
}

// over says that nothing more is done on an attempt.
func over(a *store.Attempt) bool { return a.State != store.StateNew && a.State != store.StateInHand }

// holder is the attempt of a job on an engine that it was given with. In an exam it is the one
// that is in hand, and nil where none is.
func holder(as []store.Attempt) *store.Attempt {
	for i := range as {
		if len(as) == 1 || as[i].State == store.StateInHand {
			return &as[i]
		}
	}
	return nil
}

// KeepEngine makes a machine of the yard a real engine, or changes what is said of it.
func (s *Server) KeepEngine(ctx context.Context, req KeepEngineRequestObject) (KeepEngineResponseObject, error) {
	serial := strings.TrimSpace(req.Body.Serial)
	if serial == "" {
		return nil, refuseAt("serial", "http.no-serial")
	}
	err := s.store.KeepEngine(ctx, &store.Engine{MachineID: routeMachine(ctx).ID, Serial: serial, Note: strings.TrimSpace(req.Body.Note)})
	if store.IsDuplicate(err) {
		return nil, refuseAt("serial", "http.serial-taken")
	}
	return KeepEngine204Response{}, err
}

// GetEngine gives one with its cards.
func (s *Server) GetEngine(ctx context.Context, _ GetEngineRequestObject) (GetEngineResponseObject, error) {
	out, err := s.engineFile(ctx, routeMachine(ctx).ID)
	return GetEngine200JSONResponse(out), err
}

func (s *Server) engineFile(ctx context.Context, id uuid.UUID) (EngineFile, error) {
	e, err := s.store.Engine(ctx, id)
	if err != nil {
		return EngineFile{}, err
	}
	bugs, err := s.store.BugsOf(ctx, id)
	if err != nil {
		return EngineFile{}, err
	}
	sheet, err := sheetOf(e.Machine)
	if err != nil {
		return EngineFile{}, err
	}
	var open *store.Bug
	out := EngineFile{Sheet: sheetLines(wordsOf(ctx), e.Machine.Family, sheet), Cards: []BugCard{}}
	for i := range bugs {
		if bugs[i].Open {
			open = &bugs[i]
		}
		card, err := s.bugCard(ctx, &bugs[i], e.Machine.Family, sheet)
		if err != nil {
			return EngineFile{}, err
		}
		out.Cards = append(out.Cards, card)
	}
	out.Engine, err = s.engineOf(ctx, &e, open)
	return out, err
}

// bugCard is a card with what the model makes of the engine, and what reads otherwise than
// before once the fault was taken out.
func (s *Server) bugCard(ctx context.Context, b *store.Bug, family string, sheet catalogue.Sheet) (BugCard, error) {
	c, err := cardOf(b)
	if err != nil {
		return BugCard{}, err
	}
	out := BugCard{Id: b.ID, Bug: c.Bug, Acts: []BugStep{}, Off: []shop.Off{}}
	for i, a := range c.Acts {
		row := &b.Acts[i]
		out.Acts = append(out.Acts, BugStep{Kind: a.Kind, By: row.By.DisplayName, At: row.At, Readings: list(a.Readings), Symptom: a.Symptom,
			Initials: text(a.Initials)})
		switch a.Kind {
		case shop.Seen:
			fit, err := heavily(ctx, s, []any{"fit", family, sheet, c.Bug.Fault, a.Readings}, func(ctx context.Context) (shop.Fitted, error) {
				return shop.Fit(ctx, family, sheet, c.Bug.Fault, a.Readings)
			})
			if err != nil {
				return BugCard{}, err
			}
			out.Fit = &fit
		case shop.Undone:
			out.Off = list(shop.Differ(family, sheet, c.Bug.Sound, a.Readings))
		}
	}
	if b.JobID != nil {
		as, err := s.store.Attempts(ctx, store.Page{Jobs: []uuid.UUID{*b.JobID}})
		if err != nil {
			return BugCard{}, err
		}
		if a := holder(as); a != nil {
			out.Attempt = &a.ID
		}
		if out.Exam, err = s.store.ExamOfBug(ctx, b.ID); err != nil {
			return BugCard{}, err
		}
	}
	return out, nil
}

// AddBug keeps the card of a fault that was put into an engine. One that is not fit takes no
// other.
func (s *Server) AddBug(ctx context.Context, req AddBugRequestObject) (AddBugResponseObject, error) {
	m := routeMachine(ctx)
	if _, err := s.store.Engine(ctx, m.ID); err != nil {
		return nil, err
	}
	sheet, err := sheetOf(m)
	if err != nil {
		return nil, err
	}
	if err := s.withGauges(ctx, req.Body.Bug.Sound); err != nil {
		return nil, err
	}
	if bad := req.Body.Bug.Check(m.Family, sheet); len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	body, err := json.Marshal(req.Body.Bug)
	if err != nil {
		return nil, err
	}
	first, err := json.Marshal(shop.Act{Kind: shop.Bugged})
	if err != nil {
		return nil, err
	}
	err = s.store.AddBug(ctx, &store.Bug{ID: req.Body.Id, MachineID: m.ID, Body: body, Open: true},
		store.BugAct{Kind: shop.Bugged, Body: first, ByID: whoIs(ctx).ID})
	if store.IsDuplicate(err) {
		if b, known := s.store.Bug(ctx, req.Body.Id); known != nil || b.MachineID != m.ID {
			return nil, refuse(http.StatusConflict, "http.engine-not-fit")
		}
		err = nil // the same once more
	}
	if err != nil {
		return nil, err
	}
	out, err := s.engineFile(ctx, m.ID)
	return AddBug200JSONResponse(out), err
}

// ActOnBug does the next step of a card; an engine is given out with its job in one.
func (s *Server) ActOnBug(ctx context.Context, req ActOnBugRequestObject) (ActOnBugResponseObject, error) {
	b, who, act := bugIn(ctx), whoIs(ctx), req.Body.Act
	e, err := s.store.Engine(ctx, b.MachineID)
	if err != nil {
		return nil, err
	}
	sheet, err := sheetOf(e.Machine)
	if err != nil {
		return nil, err
	}
	c, err := cardOf(&b)
	if err != nil {
		return nil, err
	}
	if len(b.Acts) != req.Body.After {
		return nil, refuse(http.StatusConflict, "http.card-moved-on")
	}
	if err := s.withGauges(ctx, act.Readings); err != nil {
		return nil, err
	}
	if p := c.Allow(act, e.Machine.Family, sheet, who.DisplayName); p != nil {
		return nil, p
	}
	if act.Kind == shop.Again {
		if in, err := s.store.ExamOfBug(ctx, b.ID); err != nil || in == nil {
			return nil, cmp.Or(err, error(refuseAt("kind", "shop.not-now", "state", "@shop.state."+c.State())))
		}
	}
	if (act.Kind == shop.Given) != (req.Body.Give != nil) {
		return nil, refuseAt("give", "http.give-to-whom")
	}
	var give func(tx *store.Store) (uuid.UUID, error)
	if g := req.Body.Give; g != nil {
		if give, err = s.giveEngine(ctx, &e, c, sheet, g); err != nil {
			return nil, err
		}
	}
	body, err := json.Marshal(act)
	if err != nil {
		return nil, err
	}
	err = s.store.ActOnBug(ctx, store.BugAct{BugID: b.ID, Seq: req.Body.After, Kind: act.Kind, Body: body, ByID: who.ID}, act.Kind == shop.Released, give)
	if errors.Is(err, store.ErrMoved) {
		return nil, refuse(http.StatusConflict, "http.card-moved-on")
	}
	if err != nil {
		return nil, err
	}
	out, err := s.engineFile(ctx, b.MachineID)
	return ActOnBug200JSONResponse(out), err
}

// giveEngine works out the job that an engine is given out with; what it gives keeps it.
func (s *Server) giveEngine(ctx context.Context, e *store.Engine, c *shop.Card, sheet catalogue.Sheet, g *GivenEngine,
) (func(tx *store.Store) (uuid.UUID, error), error) {
	j, err := s.jobOn(ctx, e, c, sheet, g)
	if err != nil {
		return nil, err
	}
	return func(tx *store.Store) (uuid.UUID, error) {
		if err := tx.AddJob(ctx, j); err != nil {
			return j.ID, err
		}
		return j.ID, given(tx.Give(ctx, j.ID, []uuid.UUID{g.Apprentice}, machine.Version, s.Seed))
	}, nil
}

// jobOn works out a job on an engine, with the fault as far gone as the model reads most
// nearly as the engine was read.
func (s *Server) jobOn(ctx context.Context, e *store.Engine, c *shop.Card, sheet catalogue.Sheet, g *GivenEngine) (*store.Job, error) {
	own, _, err := s.ownFigures(ctx)
	if err != nil {
		return nil, err
	}
	sc := c.Scenario(e.Machine.Family, sheet)
	fit, err := shop.Fit(ctx, e.Machine.Family, sheet, c.Bug.Fault, sc.Iron.Bugged)
	if err != nil {
		return nil, err
	}
	sc.Faults[0].Severity = fit.Severity
	sc.Name, sc.Code, sc.Own = e.Machine.Name, e.Machine.Code, own
	sc.LimitMinutes, sc.LimitMoney, sc.Mode = g.LimitMinutes, g.LimitMoney, string(g.Mode)
	if bad := sc.Check(); len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	raw, err := json.Marshal(sc)
	return &store.Job{ID: g.Job, MachineID: e.MachineID, SetBy: whoIs(ctx).ID, Scenario: raw}, err
}
