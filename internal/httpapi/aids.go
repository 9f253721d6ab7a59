package httpapi

import (
	"context"

	"zanjero/core/aids"
	"zanjero/core/catalogue"
	"zanjero/core/problem"
	"zanjero/core/units"
)

// ListAids gives the sums of the workshop, the units, and the families whose
// tests have cards.
func (s *Server) ListAids(context.Context, ListAidsRequestObject) (ListAidsResponseObject, error) {
	out := ListAids200JSONResponse{Aids: aids.All(), Units: []string{}, Families: []Named{}}
	for _, u := range units.All() {
		out.Units = append(out.Units, string(u))
	}
	for _, f := range catalogue.Standard().Families {
		out.Families = append(out.Families, Named{f.ID, f.Name})
	}
	return out, nil
}

// ComputeAid does one sum.
func (s *Server) ComputeAid(_ context.Context, req ComputeAidRequestObject) (ComputeAidResponseObject, error) {
	a := aids.Find(req.Aid)
	if a == nil {
		return nil, errNotFound
	}
	out, p := a.Compute(*req.Body)
	if p != nil {
		return nil, p
	}
	return ComputeAid200JSONResponse(out), nil
}

// ConvertUnits reads a quantity as people type it and gives it in every unit
// that measures the same.
func (s *Server) ConvertUnits(_ context.Context, req ConvertUnitsRequestObject) (ConvertUnitsResponseObject, error) {
	v, err := units.ParseValue(req.Body.Reading)
	if err != nil {
		return nil, &problem.Problem{Path: "reading", Problem: err.Error(), Mend: "type a number, for example 6.82 or 2 1/4"}
	}
	out, p := aids.Convert(v, req.Body.Unit)
	if p != nil {
		return nil, p
	}
	return ConvertUnits200JSONResponse(out), nil
}
