package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"zanjero/core/assess"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/internal/store"
)

// glance is what the floor shows of an attempt beside its state. It is kept with every act,
// so that thirty benches are read without replaying one.
type glance struct {
	Marks map[string]string `json:"marks"`
	Money float64           `json:"money"`
	Last  *FloorAct         `json:"last,omitempty"`
	// Unsafe is the last test that was made without a precaution.
	Unsafe *UnsafeAct `json:"unsafe,omitempty"`
}

func glanceOf(cat *catalogue.Catalogue, l *ledger.Ledger) glance {
	g := glance{Marks: l.Board(), Money: l.Money()}
	for _, line := range slices.Backward(l.Lines()) {
		if g.Last == nil {
			g.Last = actOf(&line)
		}
		if line.Obs == nil || len(line.Obs.Skipped) == 0 {
			continue
		}
		u := UnsafeAct{Seq: line.Seq, Test: line.Test, Precautions: line.Obs.Skipped}
		for _, p := range u.Precautions {
			h := cat.HazardOf(cat.Test(line.Test), p)
			u.Critical = u.Critical || h == nil || h.Critical
		}
		g.Unsafe = &u
		break
	}
	return g
}

// actOf tells an act in codes; nil for what is none, such as a control that was moved.
func actOf(line *ledger.Line) *FloorAct {
	switch line.Kind {
	case ledger.EventTake, ledger.EventRepair, ledger.EventWait, ledger.EventDo, ledger.EventCover:
	default:
		return nil
	}
	a := &FloorAct{Kind: line.Kind, Test: text(line.Test), Repair: text(line.Repair), Reach: text(line.Reach), Action: text(line.Do), Cover: text(line.Cover)}
	if e := line.Entry; e != nil && !e.Left {
		a.Word = text(e.Word)
		if e.Over {
			a.Word = text(ledger.OverLimit)
		}
		if typed := strings.TrimSpace(e.Typed); e.Word == "" && !e.Over {
			a.Reading, a.Unit = text(strings.TrimSpace(strings.TrimSuffix(typed, e.Unit))), text(e.Unit)
		}
	}
	return a
}

// GetFloor shows the benches of what was given to a class in one act.
func (s *Server) GetFloor(ctx context.Context, req GetFloorRequestObject) (GetFloorResponseObject, error) {
	c, err := s.store.Class(ctx, req.Class)
	if err != nil {
		return nil, err
	}
	givings, _, err := s.givingsOf(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := GetFloor200JSONResponse{Title: c.Title, Givings: givings, Benches: []FloorBench{}}
	if len(givings) == 0 {
		return out, nil
	}
	giving := givings[0].Id
	if req.Params.Giving != nil {
		giving = *req.Params.Giving
	}
	if !slices.ContainsFunc(givings, func(g Giving) bool { return g.Id == giving }) {
		return nil, errNotFound
	}
	out.Giving = &giving
	var only []uuid.UUID
	if req.Params.Attempt != nil {
		only = *req.Params.Attempt
	}
	rows, err := s.store.Floor(ctx, c.ID, giving, only)
	if err != nil {
		return nil, err
	}
	for i := range rows {
		b, err := s.floorBench(ctx, &rows[i])
		if err != nil {
			return nil, err
		}
		out.Benches = append(out.Benches, b)
	}
	return out, nil
}

func (s *Server) floorBench(ctx context.Context, r *store.FloorRow) (FloorBench, error) {
	card, err := s.card(ctx, r.JobID)
	if err != nil {
		return FloorBench{}, err
	}
	g := glance{Marks: map[string]string{}}
	if len(r.Glance) > 0 {
		if err := json.Unmarshal(r.Glance, &g); err != nil {
			return FloorBench{}, fmt.Errorf("attempt %s: glance: %w", r.ID, err)
		}
	}
	a := store.Attempt{ID: r.ID, State: r.State, ModelVersion: r.ModelVersion, Signed: r.Signed, Minutes: r.Minutes, Awaits: r.Awaits}
	b := FloorBench{Attempt: r.ID, Person: r.ApprenticeID, DisplayName: r.DisplayName,
		Family: card.sc.Family, MachineName: card.sc.Name, MachineCode: card.sc.Code, Stands: stands(&a, card, deref(r.LastAt), time.Now()), Version: r.Version,
		Minutes: math.Round(r.Minutes*10) / 10, LimitMinutes: card.sc.LimitMinutes,
		Money: g.Money, Paused: r.PausedAt != nil, Marks: g.Marks, Last: g.Last, LastAt: r.LastAt}
	// Whoever gave a hint since has seen it.
	if g.Unsafe != nil && (r.HintSeq == nil || g.Unsafe.Seq >= *r.HintSeq) {
		b.Unsafe = g.Unsafe
	}
	if deref(r.Question) {
		b.Asks = r.Words
	}
	if r.State == store.StateHandedOver && !awaits(a, whoIs(ctx)) {
		b.Mark, b.Of, b.Outcome = r.Mark, r.MarkOf, r.Outcome
	}
	return b, nil
}

// PauseFloor stops every bench of a giving, or lets them go on.
func (s *Server) PauseFloor(ctx context.Context, req PauseFloorRequestObject) (PauseFloorResponseObject, error) {
	if _, err := s.store.Class(ctx, req.Class); err != nil {
		return nil, err
	}
	if err := s.store.PauseAll(ctx, req.Class, req.Body.Giving, req.Body.Paused); err != nil {
		return nil, err
	}
	return PauseFloor204Response{}, nil
}

// PauseBench stops one bench, or lets it go on.
func (s *Server) PauseBench(ctx context.Context, req PauseBenchRequestObject) (PauseBenchResponseObject, error) {
	if err := s.store.Pause(ctx, attempt(ctx).ID, req.Body.Paused); err != nil {
		return nil, err
	}
	return PauseBench204Response{}, nil
}

// GetHints gives what was said at a bench.
func (s *Server) GetHints(ctx context.Context, _ GetHintsRequestObject) (GetHintsResponseObject, error) {
	t, err := s.talk(ctx, attempt(ctx).ID)
	return GetHints200JSONResponse(t), err
}

func (s *Server) talk(ctx context.Context, id uuid.UUID) (BenchTalk, error) {
	a, err := s.store.AttemptRow(ctx, id)
	if err != nil {
		return BenchTalk{}, err
	}
	hs, err := s.store.Hints(ctx, id)
	if err != nil {
		return BenchTalk{}, err
	}
	j, err := s.store.Job(ctx, a.JobID)
	if err != nil {
		return BenchTalk{}, err
	}
	out := BenchTalk{Paused: a.PausedAt != nil, Watched: j.ClassID != nil}
	// Not nil, so that it is written as an empty list.
	raw, err := json.Marshal(make([]struct{}, len(hs)))
	if err == nil {
		err = json.Unmarshal(raw, &out.Hints)
	}
	for i, h := range hs {
		x := &out.Hints[i]
		x.Id, x.Question, x.By, x.At, x.Seq, x.Words = h.ID, h.Question, h.By.DisplayName, h.At, h.Seq, h.Words
	}
	return out, err
}

// AddHint says something at a bench: a hint of who teaches, or a question of who works there,
// which is answered on the floor.
func (s *Server) AddHint(ctx context.Context, req AddHintRequestObject) (AddHintResponseObject, error) {
	a, who := attempt(ctx), whoIs(ctx)
	words := strings.TrimSpace(req.Body.Words)
	if words == "" {
		return nil, refuseAt("words", "http.nothing-said")
	}
	if a.State != store.StateNew && a.State != store.StateInHand {
		return nil, errClosed
	}
	h := store.Hint{ID: req.Body.Id, AttemptID: a.ID, ByID: who.ID, Words: words, Question: a.ApprenticeID == who.ID}
	if err := s.store.AddHint(ctx, &h); err != nil {
		return nil, err
	}
	t, err := s.talk(ctx, a.ID)
	return AddHint200JSONResponse(t), err
}

// lastActs is how much of a ledger is shown beside a floor.
const lastActs = 6

// GetStanding says what the readings of a bench show so far.
func (s *Server) GetStanding(ctx context.Context, _ GetStandingRequestObject) (GetStandingResponseObject, error) {
	a := attempt(ctx)
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	now, err := s.ledger(ctx, a)
	if err != nil {
		return nil, err
	}
	var st *assess.Now
	err = s.pool.Do(ctx, whoIs(ctx).ID.String(), func(ctx context.Context) error {
		answers, err := s.engineAnswers(ctx, c.sc)
		if err == nil {
			st, err = assess.Glance(ctx, c.sc, answers, now.l)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	out := GetStanding200JSONResponse{Board: st.Board, Likely: []LikelyFault{}, Hidden: []LikelyFault{}, Acts: []StandingAct{}}
	for _, x := range st.Likely {
		out.Likely = append(out.Likely, LikelyFault{Fault: x.Fault, Percent: math.Round(100 * x.P)})
	}
	for _, f := range c.sc.Faults {
		out.Hidden = append(out.Hidden, LikelyFault{Fault: f.ID, Percent: math.Round(100 * f.Severity)})
	}
	for _, line := range slices.Backward(now.l.Lines()) {
		act := actOf(&line)
		if act == nil || len(out.Acts) == lastActs {
			continue
		}
		x := StandingAct{AtMin: math.Round(line.AtMin*10) / 10, Act: *act, Valid: line.Obs == nil || line.Obs.Valid}
		if line.Obs != nil && line.Entry != nil && !line.Entry.Left {
			x.Right = new(assess.ReadRight(c.sc.Figures(), &line))
		}
		out.Acts = append(out.Acts, x)
	}
	return out, nil
}
