package httpapi

import (
	"context"

	"zanjero/core/machine"
)

// GetHeard gives what was heard of a run of an attempt, beat by beat.
func (s *Server) GetHeard(ctx context.Context, req GetHeardRequestObject) (GetHeardResponseObject, error) {
	now, err := s.ledger(ctx, attempt(ctx))
	if err != nil {
		return nil, err
	}
	for _, line := range now.l.Lines() {
		if line.Seq == req.Seq && line.Obs != nil && line.Obs.Heard != nil {
			return GetHeard200JSONResponse(heard(line.Obs.Heard)), nil
		}
	}
	return nil, errNotFound
}

// heard is a run in the form in which a page plays it.
func heard(h *machine.Heard) Heard {
	beats, seconds := h.Score()
	out := Heard{Seconds: seconds, ToneHz: h.ToneHz, TwoStroke: h.TwoStroke, Beats: make([]Beat, len(beats))}
	for i, b := range beats {
		out.Beats[i] = Beat{At: b.At, Loud: b.Loud, Kind: BeatKind(b.Kind)}
	}
	return out
}
