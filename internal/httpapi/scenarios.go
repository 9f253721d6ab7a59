package httpapi

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/google/uuid"

	"zanjero/core/catalogue"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// ListScenarios is the library, with what each came to when it was given.
func (s *Server) ListScenarios(ctx context.Context, _ ListScenariosRequestObject) (ListScenariosResponseObject, error) {
	ps, err := s.store.Papers(ctx, store.PaperScenario)
	if err != nil {
		return nil, err
	}
	own, err := s.store.OwnFigures(ctx)
	if err != nil {
		return nil, err
	}
	came, err := s.store.CameTo(ctx)
	if err != nil {
		return nil, err
	}
	out := ListScenarios200JSONResponse{}
	for _, p := range ps {
		line, err := scenarioLine(p)
		if err != nil {
			return nil, err
		}
		line.WorkingOut = !p.Archived && outOfDate(&p, own)
		for _, c := range came {
			if c.PaperID == p.ID {
				line.Given, line.Marked, line.Share, line.Took = c.Given, c.Marked, c.Share, c.Took
			}
		}
		out = append(out, line)
	}
	return out, nil
}

func scenarioLine(p store.Paper) (ScenarioLine, error) {
	f, err := formIn(p.Draft)
	if err != nil {
		return ScenarioLine{}, err
	}
	out := ScenarioLine{Id: p.ID, Title: p.Title, Owner: p.Owner.DisplayName, MachineId: p.MachineID, MachineName: p.Machine.Name, MachineCode: p.Machine.Code,
		Family: p.Machine.Family, Complaint: p.Complaint, Laterals: []string{}, Level: p.Level, Minutes: p.Minutes, Changes: p.Changes, ChangedAt: p.ChangedAt,
		Archived: p.Archived, Revisions: len(p.Revisions)}
	cat := catalogue.Standard()
	for _, x := range f.Faults {
		def := cat.Fault(x.ID)
		if def == nil {
			continue
		}
		if l := cat.Reach(def.Reach).Lateral; !slices.Contains(out.Laterals, l) {
			out.Laterals = append(out.Laterals, l)
		}
	}
	return out, nil
}

func formIn(raw []byte) (f scenario.Form, err error) {
	if err = json.Unmarshal(raw, &f); err != nil {
		return f, fmt.Errorf("scenario: %w", err)
	}
	f.Faults = list(f.Faults)
	return f, nil
}

func (s *Server) scenarioFile(ctx context.Context, id uuid.UUID) (out ScenarioFile, err error) {
	p, err := s.store.Paper(ctx, store.PaperScenario, id)
	if err != nil {
		return out, err
	}
	if out.Line, err = scenarioLine(p); err != nil {
		return out, err
	}
	out.Draft, err = formIn(p.Draft)
	return out, err
}

// GetScenario gives one with its draft.
func (s *Server) GetScenario(ctx context.Context, req GetScenarioRequestObject) (GetScenarioResponseObject, error) {
	f, err := s.scenarioFile(ctx, req.Scenario)
	return GetScenario200JSONResponse(f), err
}

// shelved makes a row of a draft. It is kept as it was typed, right or wrong; its machine is
// the yard's, and its sheet is that machine's own.
func (s *Server) shelved(ctx context.Context, id, machine uuid.UUID, f scenario.Form) (store.Paper, error) {
	m, err := s.store.Machine(ctx, machine)
	if errors.Is(err, store.ErrNotFound) {
		return store.Paper{}, refuseAll([]problem.Problem{*problem.New("machine_id", "http.machine-not-in-yard")})
	}
	if err != nil {
		return store.Paper{}, err
	}
	return shelvedOn(id, m, f)
}

func shelvedOn(id uuid.UUID, m store.Machine, f scenario.Form) (store.Paper, error) {
	f.Machine, f.Sheet = m.Family, nil
	raw, err := json.Marshal(f)
	return store.Paper{ID: id, Kind: store.PaperScenario, MachineID: m.ID, Title: strings.TrimSpace(f.Title), Complaint: f.Complaint, Draft: raw,
		Changes: 1}, err
}

// AddScenario keeps a new one.
func (s *Server) AddScenario(ctx context.Context, req AddScenarioRequestObject) (AddScenarioResponseObject, error) {
	p, err := s.shelved(ctx, req.Body.Id, req.Body.MachineId, req.Body.Draft)
	if err != nil {
		return nil, err
	}
	p.OwnerID = whoIs(ctx).ID
	if err := s.store.AddPapers(ctx, &p); err != nil {
		return nil, err
	}
	s.libraryChanged(ctx)
	f, err := s.scenarioFile(ctx, p.ID)
	return AddScenario201JSONResponse(f), err
}

// SaveScenario keeps a draft, if nobody else has kept one since it was read.
func (s *Server) SaveScenario(ctx context.Context, req SaveScenarioRequestObject) (SaveScenarioResponseObject, error) {
	p, err := s.shelved(ctx, req.Scenario, req.Body.MachineId, req.Body.Draft)
	if err != nil {
		return nil, err
	}
	p.Changes = req.Body.Changes
	err = s.store.SavePaper(ctx, &p, whoIs(ctx).ID)
	if errors.Is(err, store.ErrStale) {
		now, err := s.scenarioFile(ctx, req.Scenario)
		r := refuse(http.StatusConflict, "http.scenario-changed-since-you-opened").body()
		return SaveScenario409JSONResponse{Code: r.Code, Problem: r.Problem, Mend: r.Mend, Now: now}, err
	}
	if err != nil {
		return nil, err
	}
	s.libraryChanged(ctx)
	f, err := s.scenarioFile(ctx, req.Scenario)
	return SaveScenario200JSONResponse(f), err
}

// ArchiveScenario puts one away or fetches it back.
func (s *Server) ArchiveScenario(ctx context.Context, req ArchiveScenarioRequestObject) (ArchiveScenarioResponseObject, error) {
	if err := s.store.Archive(ctx, store.PaperScenario, req.Scenario, req.Body.Archived); err != nil {
		return nil, err
	}
	s.libraryChanged(ctx)
	return ArchiveScenario204Response{}, nil
}

// ExportScenarios gives some as a pack, each with its machine's own sheet. What cannot be
// given out by its form cannot be sent to others either.
func (s *Server) ExportScenarios(ctx context.Context, req ExportScenariosRequestObject) (ExportScenariosResponseObject, error) {
	pack := scenario.Pack{Format: scenario.PackFormat, Version: scenario.PackVersion}
	for i, id := range req.Params.Id {
		p, err := s.store.Paper(ctx, store.PaperScenario, id)
		if err != nil {
			return nil, err
		}
		f, err := formIn(p.Draft)
		if err != nil {
			return nil, err
		}
		if err := json.Unmarshal(p.Machine.Sheet, &f.Sheet); err != nil {
			return nil, fmt.Errorf("machine %s: sheet: %w", p.Machine.Code, err)
		}
		if _, bad := f.Scenario(); len(bad) > 0 {
			return nil, refuseAll([]problem.Problem{*bad[0].At(fmt.Sprintf("scenarios[%d].", i))})
		}
		pack.Scenarios = append(pack.Scenarios, f)
	}
	raw, err := json.Marshal(pack)
	if err != nil {
		return nil, err
	}
	out := ExportScenarios200JSONResponse{}
	return out, json.Unmarshal(raw, &out)
}

// ImportScenarios makes a draft of every scenario of a pack, or of none. Nothing that is
// there already is touched.
func (s *Server) ImportScenarios(ctx context.Context, req ImportScenariosRequestObject) (ImportScenariosResponseObject, error) {
	raw, err := json.Marshal(req.Body)
	if err != nil {
		return nil, err
	}
	pack, bad, err := scenario.ReadPack(bytes.NewReader(raw))
	if err != nil {
		return nil, err
	}
	if len(bad) > 0 {
		return nil, refuseAll(bad[:min(len(bad), 50)])
	}
	machines, err := s.store.Machines(ctx)
	if err != nil {
		return nil, err
	}
	var rows []*store.Paper
	for i, f := range pack.Scenarios {
		// The yard's first of that family: a pack brings no machines with it.
		at := slices.IndexFunc(machines, func(m store.Machine) bool { return m.Family == f.Machine })
		if at < 0 {
			return nil, refuseAll([]problem.Problem{*problem.New(fmt.Sprintf("scenarios[%d].machine", i), "http.no-machine-of-family",
				"families", []string{f.Machine})})
		}
		row, err := shelvedOn(uuid.New(), machines[at], f)
		if err != nil {
			return nil, err
		}
		row.OwnerID = whoIs(ctx).ID
		rows = append(rows, &row)
	}
	if err := s.store.AddPapers(ctx, rows...); err != nil {
		return nil, err
	}
	s.libraryChanged(ctx)
	out := ImportScenarios201JSONResponse{}
	for _, r := range rows {
		f, err := s.scenarioFile(ctx, r.ID)
		if err != nil {
			return nil, err
		}
		out = append(out, f.Line)
	}
	return out, nil
}
