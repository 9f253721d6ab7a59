package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
	"zanjero/core/study"
	"zanjero/internal/store"
)

// ownFigures are the yard's own minutes and base rates, nil where it has none.
func (s *Server) ownFigures(ctx context.Context) (*catalogue.Own, store.OwnFigures, error) {
	row, err := s.store.OwnFigures(ctx)
	if err != nil || row.Changes == 0 {
		return nil, row, err
	}
	own := &catalogue.Own{}
	if err := json.Unmarshal(row.Figures, own); err != nil {
		return nil, row, fmt.Errorf("own figures: %w", err)
	}
	return own, row, nil
}

// GetOwnFigures gives them beside the catalogue's.
func (s *Server) GetOwnFigures(ctx context.Context, _ GetOwnFiguresRequestObject) (GetOwnFiguresResponseObject, error) {
	f, err := s.ownFile(ctx)
	return GetOwnFigures200JSONResponse(f), err
}

func (s *Server) ownFile(ctx context.Context) (OwnFile, error) {
	own, row, err := s.ownFigures(ctx)
	if own == nil {
		own = &catalogue.Own{}
	}
	return OwnFile{Changes: row.Changes, Figures: *own, Catalogue: *catalogue.Standard().AsOwn()}, err
}

// SaveOwnFigures keeps them. What is tried from now on goes by them; what was given out
// and what was marked stays as it is.
func (s *Server) SaveOwnFigures(ctx context.Context, req SaveOwnFiguresRequestObject) (SaveOwnFiguresResponseObject, error) {
	var p *problem.Problem
	if err := catalogue.Standard().CheckOwn(&req.Body.Figures); errors.As(err, &p) {
		return nil, refuseAll([]problem.Problem{*p.At("figures.")})
	} else if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(req.Body.Figures)
	if err != nil {
		return nil, err
	}
	err = s.store.SaveOwnFigures(ctx, store.OwnFigures{Figures: raw, Changes: req.Body.Changes, ChangedBy: whoIs(ctx).ID})
	if errors.Is(err, store.ErrStale) {
		return nil, refuse(409, "http.own-figures-changed-since-you-opened")
	}
	if err != nil {
		return nil, err
	}
	s.libraryChanged(ctx)
	f, err := s.ownFile(ctx)
	return SaveOwnFigures200JSONResponse(f), err
}

// GetOwnRates counts how often faults came in the jobs that were finished here, beside the
// catalogue's rates, with the limits of what is known by that.
func (s *Server) GetOwnRates(ctx context.Context, _ GetOwnRatesRequestObject) (GetOwnRatesResponseObject, error) {
	seen, err := s.store.FinishedFaults(ctx)
	if err != nil {
		return nil, err
	}
	given := catalogue.Standard().AsOwn()
	all, by := map[string]int{}, map[string]map[string]int{}
	out := GetOwnRates200JSONResponse{FamilyRates: map[string]RatesSeen{}}
	for _, x := range seen {
		if by[x.Family] == nil {
			by[x.Family] = map[string]int{}
		}
		all[x.Fault] += x.Jobs
		by[x.Family][x.Fault] += x.Jobs
		out.Jobs += x.Jobs
	}
	out.Rates = study.Rates(given.Rates, all)
	for family, rates := range given.FamilyRates {
		out.FamilyRates[family] = study.Rates(rates, by[family])
	}
	return out, nil
}
