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
	"zanjero/core/procedure"
	"zanjero/internal/interop"
	"zanjero/internal/store"
)

// ListProcedures lists what instructors build.
func (s *Server) ListProcedures(ctx context.Context, _ ListProceduresRequestObject) (ListProceduresResponseObject, error) {
	ps, err := s.store.Papers(ctx, store.PaperProcedure)
	if err != nil {
		return nil, err
	}
	out := ListProcedures200JSONResponse{}
	for _, p := range ps {
		out = append(out, procedureLine(p))
	}
	return out, nil
}

func procedureLine(p store.Paper) ProcedureLine {
	out := ProcedureLine{Id: p.ID, Title: p.Title, Owner: p.Owner.DisplayName, MachineId: p.MachineID, MachineName: p.Machine.Name, Family: p.Machine.Family,
		Complaint: p.Complaint, Changes: p.Changes, ChangedAt: p.ChangedAt, Archived: p.Archived, GivenOut: []RevisionLine{}}
	for _, r := range p.Revisions {
		out.GivenOut = append(out.GivenOut, RevisionLine{Revision: r.Revision, GivenAt: r.GivenAt})
	}
	return out
}

// procedureFile reads one as it now stands.
func (s *Server) procedureFile(ctx context.Context, id uuid.UUID) (ProcedureFile, error) {
	p, err := s.store.Paper(ctx, store.PaperProcedure, id)
	if err != nil {
		return ProcedureFile{}, err
	}
	draft, err := draftIn(p.Draft)
	return ProcedureFile{Line: procedureLine(p), Draft: draft}, err
}

func draftIn(raw []byte) (p procedure.Procedure, err error) {
	if err = json.Unmarshal(raw, &p); err != nil {
		return p, fmt.Errorf("procedure: %w", err)
	}
	p.Steps = list(p.Steps)
	return p, nil
}

// GetProcedure gives one with its draft.
func (s *Server) GetProcedure(ctx context.Context, req GetProcedureRequestObject) (GetProcedureResponseObject, error) {
	f, err := s.procedureFile(ctx, req.Procedure)
	return GetProcedure200JSONResponse(f), err
}

// drafted makes a row of a draft. It is kept as it was typed, right or wrong; only what
// lists show must be there.
func (s *Server) drafted(ctx context.Context, id, machine uuid.UUID, p procedure.Procedure) (store.Paper, error) {
	m, err := s.store.Machine(ctx, machine)
	if errors.Is(err, store.ErrNotFound) {
		return store.Paper{}, refuseAll([]problem.Problem{*problem.New("machine_id", "http.machine-not-in-yard")})
	}
	if err != nil {
		return store.Paper{}, err
	}
	return drafted(id, m, p)
}

func drafted(id uuid.UUID, m store.Machine, p procedure.Procedure) (store.Paper, error) {
	p.Families = []string{m.Family}
	raw, err := json.Marshal(p)
	return store.Paper{ID: id, Kind: store.PaperProcedure, MachineID: m.ID, Title: strings.TrimSpace(p.Title), Complaint: p.Complaint, Draft: raw, Changes: 1}, err
}

// AddProcedure keeps a new one: an empty page, a school's, a copy or a planned order,
// as the desk made it.
func (s *Server) AddProcedure(ctx context.Context, req AddProcedureRequestObject) (AddProcedureResponseObject, error) {
	p, err := s.drafted(ctx, req.Body.Id, req.Body.MachineId, req.Body.Draft)
	if err != nil {
		return nil, err
	}
	p.OwnerID = whoIs(ctx).ID
	if err := s.store.AddPapers(ctx, &p); err != nil {
		return nil, err
	}
	f, err := s.procedureFile(ctx, p.ID)
	return AddProcedure201JSONResponse(f), err
}

// movedOn is what stands there now, for who has come second.
func (s *Server) movedOn(ctx context.Context, id uuid.UUID) (ProcedureMoved, error) {
	f, err := s.procedureFile(ctx, id)
	r := refuse(http.StatusConflict, "http.procedure-changed-since-you-opened").body()
	return ProcedureMoved{Code: r.Code, Problem: r.Problem, Mend: r.Mend, Now: f}, err
}

// SaveProcedure keeps a draft, if nobody else has kept one since it was read.
func (s *Server) SaveProcedure(ctx context.Context, req SaveProcedureRequestObject) (SaveProcedureResponseObject, error) {
	p, err := s.drafted(ctx, req.Procedure, req.Body.MachineId, req.Body.Draft)
	if err != nil {
		return nil, err
	}
	p.Changes = req.Body.Changes
	err = s.store.SavePaper(ctx, &p, whoIs(ctx).ID)
	if errors.Is(err, store.ErrStale) {
		now, err := s.movedOn(ctx, req.Procedure)
		return SaveProcedure409JSONResponse(now), err
	}
	if err != nil {
		return nil, err
	}
	f, err := s.procedureFile(ctx, req.Procedure)
	return SaveProcedure200JSONResponse(f), err
}

// GiveOutProcedure makes the draft a revision that never changes. What cannot be
// followed is not given out.
func (s *Server) GiveOutProcedure(ctx context.Context, req GiveOutProcedureRequestObject) (GiveOutProcedureResponseObject, error) {
	p, err := s.store.Paper(ctx, store.PaperProcedure, req.Procedure)
	if err != nil {
		return nil, err
	}
	draft, err := draftIn(p.Draft)
	if err != nil {
		return nil, err
	}
	sheet, err := sheetOf(p.Machine)
	if err != nil {
		return nil, err
	}
	if bad := serious(draft.Check(p.Machine.Family, sheet)); len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	err = s.store.GiveOut(ctx, p.ID, req.Body.Changes, whoIs(ctx).ID, func(revision int) ([]byte, error) {
		out := *draft.For(p.Machine.Family, sheet)
		out.ID, out.Revision = p.ID.String(), revision
		return json.Marshal(out)
	})
	if errors.Is(err, store.ErrStale) {
		now, err := s.movedOn(ctx, p.ID)
		return GiveOutProcedure409JSONResponse(now), err
	}
	if err != nil {
		return nil, err
	}
	f, err := s.procedureFile(ctx, p.ID)
	return GiveOutProcedure201JSONResponse(f), err
}

// serious are the remarks that keep a procedure from being followed.
func serious(all []procedure.Remark) (out []problem.Problem) {
	for _, r := range all {
		if r.Serious {
			out = append(out, r.Problem)
		}
	}
	return out
}

// GetRevision gives what was given out.
func (s *Server) GetRevision(ctx context.Context, req GetRevisionRequestObject) (GetRevisionResponseObject, error) {
	r, err := s.store.Revision(ctx, req.Procedure, req.Revision)
	if err != nil {
		return nil, err
	}
	p, err := draftIn(r.Body)
	return GetRevision200JSONResponse(p), err
}

// ArchiveProcedure puts one away or fetches it back.
func (s *Server) ArchiveProcedure(ctx context.Context, req ArchiveProcedureRequestObject) (ArchiveProcedureResponseObject, error) {
	return ArchiveProcedure204Response{}, s.store.Archive(ctx, store.PaperProcedure, req.Procedure, req.Body.Archived)
}

// ExportProcedure gives a draft as a pack of one procedure. What cannot be followed
// cannot be sent to others either.
func (s *Server) ExportProcedure(ctx context.Context, req ExportProcedureRequestObject) (ExportProcedureResponseObject, error) {
	p, err := s.store.Paper(ctx, store.PaperProcedure, req.Procedure)
	if err != nil {
		return nil, err
	}
	draft, err := draftIn(p.Draft)
	if err != nil {
		return nil, err
	}
	draft.ID, draft.Families = p.ID.String(), []string{p.Machine.Family}
	draft.Revision = 1 + len(p.Revisions)
	raw, err := json.Marshal(procedure.Pack{Format: procedure.Format, Version: procedure.Version, Name: draft.Title, Procedures: []procedure.Procedure{draft}})
	if err != nil {
		return nil, err
	}
	report, err := interop.ValidatePack(bytes.NewReader(raw))
	if err != nil {
		return nil, err
	}
	if bad := serious(report.Findings); len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	out := ExportProcedure200JSONResponse{}
	return out, json.Unmarshal(raw, &out)
}

// ImportPack makes a draft of every procedure of a pack, or of none: it is checked
// whole first. Nothing that is there already is touched.
func (s *Server) ImportPack(ctx context.Context, req ImportPackRequestObject) (ImportPackResponseObject, error) {
	machines, err := s.store.Machines(ctx)
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(req.Body)
	if err != nil {
		return nil, err
	}
	report, err := interop.ValidatePack(bytes.NewReader(raw))
	if err != nil {
		return nil, err
	}
	if bad := serious(report.Findings); len(bad) > 0 {
		return nil, refuseAll(bad[:min(len(bad), 50)])
	}
	pack, err := procedure.Read(bytes.NewReader(raw))
	if err != nil {
		return nil, err
	}
	rows := []*store.Paper{}
	for i, p := range pack.Expand() {
		m := machineFor(&p, machines, req.Params.Machine)
		if m == nil {
			return nil, refuseAll([]problem.Problem{*problem.New(fmt.Sprintf("procedures[%d].families", i), "http.no-machine-of-family", "families", p.Families)})
		}
		sheet, err := sheetOf(*m)
		if err != nil {
			return nil, err
		}
		row, err := drafted(uuid.New(), *m, *p.For(m.Family, sheet))
		if err != nil {
			return nil, err
		}
		row.OwnerID = whoIs(ctx).ID
		rows = append(rows, &row)
	}
	if err := s.store.AddPapers(ctx, rows...); err != nil {
		return nil, err
	}
	out := ImportPack201JSONResponse{}
	for _, r := range rows {
		f, err := s.procedureFile(ctx, r.ID)
		if err != nil {
			return nil, err
		}
		out = append(out, f.Line)
	}
	return out, nil
}

// machineFor is the machine that a procedure is looked at on: the wanted one where it is
// written for that, else the first of the yard that it is written for, or nil.
func machineFor(p *procedure.Procedure, machines []store.Machine, wanted uuid.UUID) *store.Machine {
	var out *store.Machine
	for i := range machines {
		m := &machines[i]
		if slices.Contains(p.Families, m.Family) && (out == nil || m.ID == wanted) {
			out = m
		}
	}
	return out
}

// ListSchools gives the pages of the five schools for a complaint.
func (s *Server) ListSchools(_ context.Context, req ListSchoolsRequestObject) (ListSchoolsResponseObject, error) {
	fam := catalogue.Standard().Family(req.Params.Family)
	if fam == nil {
		return nil, errNotFound
	}
	out := ListSchools200JSONResponse{}
	for _, p := range procedure.Schools().Expand() {
		if p.Complaint == req.Params.Complaint && slices.Contains(p.Families, fam.ID) {
			out = append(out, *p.For(fam.ID, fam.Sheet))
		}
	}
	return out, nil
}
