package httpapi

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"

	"github.com/google/uuid"

	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// firstFamily is the engine that a first job is best taken on: every part of it can
// be seen.
const firstFamily = "f4-bowl"

// TakeFirstJob lays the first job out for whoever asks, on a machine of the yard.
func (s *Server) TakeFirstJob(ctx context.Context, _ TakeFirstJobRequestObject) (TakeFirstJobResponseObject, error) {
	ms, err := s.store.Machines(ctx)
	if err != nil {
		return nil, err
	}
	if len(ms) == 0 {
		return nil, refuse(http.StatusConflict, "http.no-machine-in-yard")
	}
	m := ms[max(0, slices.IndexFunc(ms, func(m store.Machine) bool { return m.Family == firstFamily }))]
	sheet, err := sheetOf(m)
	if err != nil {
		return nil, err
	}
	sc := scenario.First(m.Name, m.Code, m.Family, sheet, wordsOf(ctx).Text("first.words", nil), wordsOf(ctx).Text("first.history", nil))
	raw, err := json.Marshal(sc)
	if err != nil {
		return nil, err
	}
	who := whoIs(ctx)
	// One a person: the id is made of theirs.
	job := store.Job{ID: uuid.NewSHA1(who.ID, []byte("first-job")), MachineID: m.ID, SetBy: who.ID, Scenario: raw}
	a, err := s.store.TakeFirst(ctx, &job, machine.Version, s.Seed)
	return TakeFirstJob200JSONResponse{Attempt: a.ID}, err
}
