package httpapi

import (
	"context"
	"strings"

	"zanjero/core/study"
)

// AnalyseStudy works out how far readings can be trusted. Nothing of it is kept.
func (s *Server) AnalyseStudy(ctx context.Context, req AnalyseStudyRequestObject) (AnalyseStudyResponseObject, error) {
	readings, err := study.Read(strings.NewReader(req.Body.File))
	if err != nil {
		return nil, err
	}
	result, err := heavily(ctx, s, []any{"study", readings}, func(context.Context) (*study.Result, error) {
		r, p := study.Analyse(readings)
		if p != nil {
			return nil, p
		}
		return r, nil
	})
	if err != nil {
		return nil, err
	}
	return AnalyseStudy200JSONResponse{Readings: readings, Result: *result}, nil
}
