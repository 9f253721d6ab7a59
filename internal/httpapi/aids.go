package httpapi

import (
	"context"

	"zanjero/core/aids"
	"zanjero/core/catalogue"
	"zanjero/core/problem"
	"zanjero/core/units"
	"zanjero/messages"
)

// ListAids gives the sums of the workshop, the units, and the families whose
// tests have cards.
func (s *Server) ListAids(ctx context.Context, _ ListAidsRequestObject) (ListAidsResponseObject, error) {
	w := wordsOf(ctx)
	out := ListAids200JSONResponse{Aids: []Aid{}, Units: []string{}, Families: []Named{}}
	for _, a := range aids.All() {
		told := Aid{Id: a.ID, Name: w.Name("aid", a.ID, "name"), Formula: w.Name("aid", a.ID, "formula"), Source: w.Name("aid", a.ID, "source"),
			Limits: w.Name("aid", a.ID, "limits"), Inputs: []AidInput{}}
		for _, in := range a.Inputs {
			told.Inputs = append(told.Inputs, AidInput{Id: in.ID, Name: w.Name("aid", a.ID, "in-"+in.ID), Unit: unitName(w, in.Unit), Start: in.Start,
				Low: in.Low, High: in.High})
		}
		if a.Table != nil {
			told.Table = &AidTable{Heads: []string{}, Rows: a.Table.Rows}
			for _, h := range a.Table.Heads {
				told.Table.Heads = append(told.Table.Heads, w.Name("aid", "column", h))
			}
		}
		out.Aids = append(out.Aids, told)
	}
	for _, u := range units.All() {
		out.Units = append(out.Units, string(u))
	}
	for _, f := range catalogue.Standard().Families {
		out.Families = append(out.Families, Named{f.ID, w.Name("family", f.ID, "name")})
	}
	return out, nil
}

// ComputeAid does one sum.
func (s *Server) ComputeAid(ctx context.Context, req ComputeAidRequestObject) (ComputeAidResponseObject, error) {
	a := aids.Find(req.Aid)
	if a == nil {
		return nil, errNotFound
	}
	out, p := a.Compute(*req.Body)
	if p != nil {
		return nil, p
	}
	return ComputeAid200JSONResponse(resultsOf(wordsOf(ctx), req.Aid, out)), nil
}

// ConvertUnits reads a quantity as people type it and gives it in every unit
// that measures the same.
func (s *Server) ConvertUnits(ctx context.Context, req ConvertUnitsRequestObject) (ConvertUnitsResponseObject, error) {
	v, err := units.ParseValue(req.Body.Reading)
	if err != nil {
		return nil, problem.In("reading", err)
	}
	out, p := aids.Convert(v, req.Body.Unit)
	if p != nil {
		return nil, p
	}
	return ConvertUnits200JSONResponse(resultsOf(wordsOf(ctx), "", out)), nil
}

// resultsOf puts words to what an aid comes to.
func resultsOf(w *messages.Words, aid string, rs []aids.Result) []AidResult {
	out := []AidResult{}
	for _, r := range rs {
		told := AidResult{Name: w.Name("aid", aid, "out-"+r.ID), Value: r.Value, Unit: unitName(w, r.Unit)}
		if r.Says != "" {
			told.Says = text(w.Name("aid", "says", r.Says))
		}
		out = append(out, told)
	}
	return out
}

// unitName is a unit as it is written; a few of the aids' are words.
func unitName(w *messages.Words, unit string) string {
	if name := w.Name("aid", "unit", unit); name != "" {
		return name
	}
	return unit
}
