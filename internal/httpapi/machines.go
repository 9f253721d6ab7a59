package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"

	"github.com/google/uuid"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/core/units"
	"zanjero/internal/store"
	"zanjero/messages"
)

// ListMachines gives the yard with each sheet beside the model's healthy
// readings.
func (s *Server) ListMachines(ctx context.Context, _ ListMachinesRequestObject) (ListMachinesResponseObject, error) {
	ms, err := s.store.Machines(ctx)
	if err != nil {
		return nil, err
	}
	out := ListMachines200JSONResponse{}
	for _, m := range ms {
		line, err := s.machineOf(ctx, m)
		if err != nil {
			return nil, err
		}
		out = append(out, line)
	}
	return out, nil
}

func (s *Server) machineOf(ctx context.Context, m store.Machine) (Machine, error) {
	cat := catalogue.Standard()
	sheet, err := sheetOf(m)
	if err != nil {
		return Machine{}, err
	}
	w := wordsOf(ctx)
	out := Machine{Id: m.ID, Revision: m.Revision, Name: m.Name, Code: m.Code, Family: m.Family, FamilyName: w.Name("family", m.Family, "name"),
		Duty:  m.Duty,
		Sheet: sheetLines(w, m.Family, sheet), Lacks: []string{}}
	can := cat.FaultsOf(m.Family, sheet)
	for _, f := range cat.FaultsOf(m.Family, nil) {
		if !slices.ContainsFunc(can, func(c catalogue.Fault) bool { return c.ID == f.ID }) {
			out.Lacks = append(out.Lacks, f.ID)
		}
	}
	out.Healthy, err = s.healthy(ctx, m.Family, sheet)
	return out, err
}

func sheetOf(m store.Machine) (sheet catalogue.Sheet, err error) {
	if err = json.Unmarshal(m.Sheet, &sheet); err != nil {
		return nil, fmt.Errorf("machine %s: sheet: %w", m.Code, err)
	}
	return catalogue.Standard().Complete(m.Family, sheet), nil
}

// sheetLines lists a sheet in the order of the family's form.
func sheetLines(w *messages.Words, family string, sheet catalogue.Sheet) []SheetLine {
	out := []SheetLine{}
	for _, k := range catalogue.Standard().FiguresOf(family) {
		if f, ok := sheet[k.ID]; ok {
			out = append(out, SheetLine{Id: k.ID, Name: w.Name("figure", k.ID, "name"), Figure: f})
		}
	}
	return out
}

// healthy holds what the model reads on a sound machine against its sheet.
func (s *Server) healthy(ctx context.Context, family string, sheet catalogue.Sheet) ([]HealthyLine, error) {
	w := wordsOf(ctx)
	return heavily(ctx, s, []any{"healthy", w.Language, family, sheet}, func(ctx context.Context) ([]HealthyLine, error) {
		rows, err := (&scenario.Scenario{Family: family, Sheet: sheet, Ambient: machine.Ambient{TemperatureC: 20}}).Healthy(ctx)
		out := []HealthyLine{}
		for _, r := range rows {
			out = append(out, HealthyLine{Test: r.Test, Title: w.Name("test", r.Test, "title"), Figure: r.Figure, Reads: toldText(w, r.Reads),
				Sheet: text(r.Sheet.String()), Agrees: r.Agrees})
		}
		return out, err
	})
}

// toldText puts what a test showed into words.
func toldText(w *messages.Words, t scenario.Told) string {
	key, isWord := strings.CutPrefix(t.String(), "@")
	if !isWord {
		return w.Number(key)
	}
	said := w.Text(key, nil)
	if t.FalterMin > 0 {
		said += " " + w.Text("line.at-minutes", problem.Pairs("minutes", t.FalterMin))
	}
	return said
}

// GetSheetForm tells what stands on a family's sheet.
func (s *Server) GetSheetForm(ctx context.Context, req GetSheetFormRequestObject) (GetSheetFormResponseObject, error) {
	cat := catalogue.Standard()
	fam := cat.Family(req.Family)
	if fam == nil {
		return nil, errNotFound
	}
	w := wordsOf(ctx)
	out := GetSheetForm200JSONResponse{Family: fam.ID, FamilyName: w.Name("family", fam.ID, "name"), Families: []Named{}, Kinds: []FigureKind{},
		Own: sheetLines(w, fam.ID, fam.Sheet)}
	for _, f := range cat.Families {
		out.Families = append(out.Families, Named{f.ID, w.Name("family", f.ID, "name")})
	}
	for _, k := range cat.FiguresOf(fam.ID) {
		kind := FigureKind{Id: k.ID, Name: w.Name("figure", k.ID, "name"), Group: k.Group, Units: []string{}, Words: list(fam.Variants[k.ID]),
			Least: k.Least, Most: k.Most, Note: text(w.Name("figure", k.ID, "note"))}
		if k.Unit != "" {
			for _, u := range units.Alike(units.Unit(k.Unit)) {
				kind.Units = append(kind.Units, string(u))
			}
		}
		out.Kinds = append(out.Kinds, kind)
	}
	return out, nil
}

// CheckSheet says what is wrong with a sheet that is being written, and once
// nothing is, what a sound machine of it reads.
func (s *Server) CheckSheet(ctx context.Context, req CheckSheetRequestObject) (CheckSheetResponseObject, error) {
	if catalogue.Standard().Family(req.Family) == nil {
		return nil, errNotFound
	}
	sheet, problems := readSheet(req.Family, *req.Body)
	out := CheckSheet200JSONResponse{Problems: list(problems), Healthy: []HealthyLine{}}
	if len(problems) > 0 {
		return out, nil
	}
	var err error
	out.Healthy, err = s.healthy(ctx, req.Family, sheet)
	return out, err
}

// readSheet makes a sheet of typed entries, each in whatever unit it was typed.
func readSheet(family string, entries []SheetEntry) (catalogue.Sheet, []problem.Problem) {
	cat := catalogue.Standard()
	sheet, bad := catalogue.Sheet{}, []problem.Problem{}
	for _, e := range entries {
		f := catalogue.Figure{Source: strings.TrimSpace(e.Source), Word: deref(e.Word)}
		if k := cat.Figure(e.Id); k != nil && k.Words == nil {
			var err error
			if f, err = readFigure(k, e); err != nil {
				bad = append(bad, *problem.In(e.Id, err))
				continue
			}
		}
		if _, twice := sheet[e.Id]; twice {
			bad = append(bad, *problem.New(e.Id, "http.stands-twice"))
		}
		sheet[e.Id] = f
	}
	for _, p := range cat.CheckSheet(family, sheet) {
		if !slices.ContainsFunc(bad, func(b problem.Problem) bool { return b.Path == p.Path }) {
			bad = append(bad, p)
		}
	}
	return sheet, bad
}

// readFigure reads a typed band and gives it in the figure's own unit, to four
// figures. An empty high end is a single figure.
func readFigure(k *catalogue.FigureKind, e SheetEntry) (f catalogue.Figure, err error) {
	f = catalogue.Figure{Unit: k.Unit, Source: strings.TrimSpace(e.Source)}
	unit := units.Unit(k.Unit)
	if u := deref(e.Unit); u != "" {
		unit = units.Unit(u)
	}
	for _, end := range []struct {
		typed *string
		into  *float64
	}{{e.Low, &f.Low}, {e.High, &f.High}} {
		typed := strings.TrimSpace(deref(end.typed))
		if typed == "" && end.into == &f.High {
			f.High = f.Low
			continue
		}
		v, err := units.ParseValue(typed)
		if err != nil {
			return f, err
		}
		if v, err = units.Convert(v, unit, units.Unit(k.Unit)); err != nil {
			return f, err
		}
		if unit != units.Unit(k.Unit) {
			v = fourFigures(v)
		}
		*end.into = v
	}
	return f, nil
}

func fourFigures(v float64) float64 {
	if v == 0 || math.IsInf(v, 0) || math.IsNaN(v) {
		return v
	}
	step := math.Pow(10, math.Floor(math.Log10(math.Abs(v)))-3)
	return math.Round(math.Round(v/step)*step*1e9) / 1e9
}

// deref is what a member says, or nothing where it was left out.
func deref[T any](v *T) T {
	if v == nil {
		var none T
		return none
	}
	return *v
}

// machineIn makes a machine of what was sent, or lists all that is wrong.
func machineIn(spec MachineSpec) (store.Machine, error) {
	var bad []problem.Problem
	m := store.Machine{Name: strings.TrimSpace(spec.Name), Code: strings.TrimSpace(spec.Code), Family: spec.Family, Duty: strings.TrimSpace(spec.Duty)}
	for _, t := range []struct {
		path, value string
		most        int
	}{{"name", m.Name, 40}, {"code", m.Code, 12}, {"duty", m.Duty, 160}} {
		if t.value == "" || len([]rune(t.value)) > t.most {
			bad = append(bad, *problem.New(t.path, "http.empty-or-too-long", "most", t.most))
		}
	}
	if catalogue.Standard().Family(spec.Family) == nil {
		bad = append(bad, *problem.New("family", "http.no-engine-family", "family", spec.Family))
		return m, refuseAll(bad)
	}
	sheet, wrong := readSheet(spec.Family, spec.Sheet)
	if bad = append(bad, wrong...); len(bad) > 0 {
		return m, refuseAll(bad)
	}
	raw, err := json.Marshal(sheet)
	m.Sheet = raw
	return m, err
}

// keptMachine turns what the database says of a machine into an answer.
func keptMachine(err error, code string) error {
	switch {
	case store.IsDuplicate(err):
		return refuseAll([]problem.Problem{*problem.New("code", "http.another-machine-yard-code", "code", code)})
	case err == store.ErrStale:
		return refuse(http.StatusConflict, "http.somebody-else-changed-sheet-since-you-opened")
	}
	return err
}

// AddMachine puts a new machine into the yard.
func (s *Server) AddMachine(ctx context.Context, req AddMachineRequestObject) (AddMachineResponseObject, error) {
	m, err := machineIn(*req.Body)
	if err != nil {
		return nil, err
	}
	m.ID, m.Revision = uuid.New(), 1
	if err := keptMachine(s.store.AddMachine(ctx, &m), m.Code); err != nil {
		return nil, err
	}
	out, err := s.machineOf(ctx, m)
	return AddMachine201JSONResponse(out), err
}

// ChangeMachine changes a machine's name, code, duty and sheet. Jobs that are
// set already keep the sheet they were set with.
func (s *Server) ChangeMachine(ctx context.Context, req ChangeMachineRequestObject) (ChangeMachineResponseObject, error) {
	was, err := s.store.Machine(ctx, req.Machine)
	if err != nil {
		return nil, err
	}
	m, err := machineIn(*req.Body)
	if err != nil {
		return nil, err
	}
	if m.Family != was.Family {
		return nil, refuseAll([]problem.Problem{*problem.New("family", "http.machine-keeps-its-family")})
	}
	m.ID = was.ID
	if req.Body.Revision != nil {
		m.Revision = int(*req.Body.Revision)
	}
	if err := keptMachine(s.store.ChangeMachine(ctx, &m), m.Code); err != nil {
		return nil, err
	}
	s.libraryChanged(ctx)
	out, err := s.machineOf(ctx, m)
	return ChangeMachine200JSONResponse(out), err
}
