package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

	"zanjero/core/analysis"
	"zanjero/core/assess"
	"zanjero/core/machine"
	"zanjero/internal/store"
)

// stillFor is how long somebody may do nothing before they are said to stand still, and
// mostGivings how many of a class's are shown.
const (
	stillFor    = 10 * time.Minute
	mostGivings = 40
)

// GetProgress says how far everybody of a class has come with what was given to it.
func (s *Server) GetProgress(ctx context.Context, req GetProgressRequestObject) (GetProgressResponseObject, error) {
	c, err := s.store.Class(ctx, req.Class)
	if err != nil {
		return nil, err
	}
	shown, err := s.classesOf(ctx, []store.Class{c})
	if err != nil {
		return nil, err
	}
	givings, giving, err := s.givingsOf(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := GetProgress200JSONResponse{Class: shown[0], Givings: givings, Cells: []ProgressCell{}}
	ids := slices.Collect(maps.Keys(giving))
	attempts, err := s.store.Attempts(ctx, store.Page{Jobs: ids})
	if err != nil {
		return nil, err
	}
	last, err := s.store.LastActs(ctx, ids)
	if err != nil {
		return nil, err
	}
	for _, a := range attempts {
		card, err := s.card(ctx, a.JobID)
		if err != nil {
			return nil, err
		}
		cell := ProgressCell{Giving: giving[a.JobID], Person: a.ApprenticeID, Attempt: a.ID, Minutes: a.Minutes, LimitMinutes: card.sc.LimitMinutes,
			Stands: stands(&a, card, last[a.ID], time.Now())}
		if a.State == store.StateHandedOver && !awaits(a, whoIs(ctx)) {
			cell.Mark, cell.Of, cell.Outcome = a.Mark, a.MarkOf, a.Outcome
		}
		out.Cells = append(out.Cells, cell)
	}
	return out, nil
}

// givingsOf lists what was given to a class, the latest first, with the act that each of its
// jobs was given in.
func (s *Server) givingsOf(ctx context.Context, class uuid.UUID) (out []Giving, acts map[uuid.UUID]uuid.UUID, err error) {
	jobs, err := s.store.ClassJobs(ctx, class, mostGivings)
	if err != nil {
		return nil, nil, err
	}
	out, acts = []Giving{}, map[uuid.UUID]uuid.UUID{}
	at := map[uuid.UUID]int{}
	for _, j := range jobs {
		act := j.ID
		if j.Giving != nil {
			act = *j.Giving
		}
		acts[j.ID] = act
		if i, there := at[act]; there {
			out[i].Variants++
			out[i].Number = min(out[i].Number, int(j.Number))
			continue
		}
		card, err := s.card(ctx, j.ID)
		if err != nil {
			return nil, nil, err
		}
		at[act] = len(out)
		out = append(out, Giving{Id: act, Number: int(j.Number), Words: card.sc.Words, MachineName: j.Machine.Name, MachineCode: j.Machine.Code,
			Variants: 1, OpensAt: j.OpensAt, ClosesAt: j.ClosesAt, DebriefAt: j.DebriefAt})
	}
	return out, acts, nil
}

// stands says how far an attempt has come; last is when something was done on it, zero for
// never.
func stands(a *store.Attempt, c *card, last, now time.Time) Stands {
	stuck := a.ModelVersion != machine.Version && (a.State == store.StateNew || a.State == store.StateInHand)
	closed := c.times.closes != nil && !now.Before(*c.times.closes)
	switch {
	case a.State == store.StateFrozen || stuck:
		return StandsStopped
	case a.State == store.StateHandedOver && a.Signed:
		return StandsDone
	case a.State == store.StateHandedOver:
		return StandsToReview
	case a.State == store.StateMarking:
		return StandsMarking
	case closed:
		return StandsMissed
	case a.State == store.StateNew:
		return StandsNotBegun
	case a.Minutes > c.sc.LimitMinutes:
		return StandsOver
	case now.Sub(last) > stillFor:
		return StandsStill
	}
	return StandsAtWork
}

// AnalyseClass says what a class gets wrong together, of everything that was given to it.
func (s *Server) AnalyseClass(ctx context.Context, req AnalyseClassRequestObject) (AnalyseClassResponseObject, error) {
	c, err := s.store.Class(ctx, req.Class)
	if err != nil {
		return nil, err
	}
	by, err := s.store.SensedIn(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := AnalyseClass200JSONResponse{Title: c.Title, Numbers: map[string]int{}, Sensed: sensed(by)}
	rows, acts, err := s.store.ClassAttempts(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	var all []analysis.Attempt
	for _, r := range rows {
		x := analysis.Attempt{Giving: r.Giving.String(), Outcome: r.Outcome, Assessment: &assess.Assessment{}}
		if r.Level != nil {
			x.Level = *r.Level
		}
		if err := json.Unmarshal(r.Assessment, x.Assessment); err != nil {
			return nil, fmt.Errorf("attempt %s: %w", r.ID, err)
		}
		if n, known := out.Numbers[x.Giving]; !known || int(r.Number) < n {
			out.Numbers[x.Giving] = int(r.Number)
		}
		done, err := actsOf(acts[r.ID])
		if err != nil {
			return nil, err
		}
		for _, d := range done {
			switch {
			case d.Kind == assess.ActSecond:
				x.Seconds = append(x.Seconds, d.Outcome)
			case d.Kind == assess.ActOutcome && len(x.Seconds) == 0: // the first marker's word
				x.Assessment.Outcome = d.Outcome
			}
		}
		all = append(all, x)
	}
	out.Analysis = analysis.Of(all)
	return out, nil
}
