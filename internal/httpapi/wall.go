package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"math"
	"net/http"
	"slices"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"zanjero/core/authoring"
	"zanjero/core/reading"
	"zanjero/core/scenario"
	"zanjero/core/wall"
	"zanjero/internal/live"
	"zanjero/internal/store"
)

type wallKey struct{}

// ownWall finds the wall of a route: of a class that somebody is in, or any for who teaches.
func ownWall(s *Server, ctx context.Context, who store.Person, c *echo.Context) (context.Context, error) {
	id, err := uuid.Parse(c.Param("wall"))
	if err != nil {
		return ctx, errNotFound
	}
	w, err := s.store.Wall(ctx, id)
	if err != nil {
		return ctx, err
	}
	return context.WithValue(ctx, wallKey{}, w), s.joins(ctx, who, w.ClassID)
}

// joins lets those of a class in, and who teaches; a class that is not one's own is not there.
func (s *Server) joins(ctx context.Context, who store.Person, class uuid.UUID) error {
	if who.Role != store.Apprentice {
		return nil
	}
	in, err := s.store.IsMember(ctx, class, who.ID)
	if err == nil && !in {
		err = errNotFound
	}
	return err
}

// wallOf is the one that the policy let through.
func wallOf(ctx context.Context) store.Wall { return ctx.Value(wallKey{}).(store.Wall) }

func wallScenario(w *store.Wall) (*scenario.Scenario, error) {
	var sc scenario.Scenario
	return &sc, json.Unmarshal(w.Scenario, &sc)
}

// ListWalls gives those that somebody may look at.
func (s *Server) ListWalls(ctx context.Context, _ ListWallsRequestObject) (ListWallsResponseObject, error) {
	who := whoIs(ctx)
	var member *uuid.UUID
	if who.Role == store.Apprentice {
		member = &who.ID
	}
	ws, err := s.store.Walls(ctx, member)
	if err != nil {
		return nil, err
	}
	out := ListWalls200JSONResponse{}
	for i := range ws {
		sc, err := wallScenario(&ws[i])
		if err != nil {
			return nil, err
		}
		out = append(out, WallCard{Id: ws[i].ID, ClassTitle: ws[i].Class.Title, Words: sc.Words})
	}
	return out, nil
}

// AddWall puts a scenario of the library before a class. What it stands on is kept with it,
// so that a change of the library changes no wall.
func (s *Server) AddWall(ctx context.Context, req AddWallRequestObject) (AddWallResponseObject, error) {
	if _, err := s.store.Class(ctx, req.Body.ClassId); err != nil {
		if errors.Is(err, store.ErrNotFound) {
			return nil, refuseAt("class_id", "http.no-such-class")
		}
		return nil, err
	}
	p, err := s.store.Paper(ctx, store.PaperScenario, req.Body.Scenario)
	if err != nil {
		if errors.Is(err, store.ErrNotFound) {
			return nil, refuseAt("scenario", "http.no-such-scenario")
		}
		return nil, err
	}
	own, _, err := s.ownFigures(ctx)
	if err != nil {
		return nil, err
	}
	sc, bad, err := shelvedScenario(&p, own)
	if err != nil {
		return nil, err
	}
	if sc != nil {
		bad = append(bad, sc.Check()...)
	}
	if sc != nil && len(bad) == 0 {
		claims, err := authoring.Claims(sc)
		if err != nil {
			return nil, err
		}
		bad = claims.Problems
	}
	if len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	raw, err := json.Marshal(sc)
	if err != nil {
		return nil, err
	}
	w := store.Wall{ID: req.Body.Id, ClassID: req.Body.ClassId, MadeBy: whoIs(ctx).ID, Scenario: raw, Seed: s.Seed(req.Body.Id)}
	if err := s.store.AddWall(ctx, &w); err != nil {
		return nil, err
	}
	out, err := s.wall(ctx, w.ID)
	return AddWall200JSONResponse(out), err
}

// GetWall shows one.
func (s *Server) GetWall(ctx context.Context, _ GetWallRequestObject) (GetWallResponseObject, error) {
	out, err := s.wall(ctx, wallOf(ctx).ID)
	return GetWall200JSONResponse(out), err
}

// wall is one as anybody of its class may see it: what the tests are worth once a vote is
// closed, and what is hidden once it was told.
func (s *Server) wall(ctx context.Context, id uuid.UUID) (Wall, error) {
	w, err := s.store.Wall(ctx, id)
	if err != nil {
		return Wall{}, err
	}
	sc, err := wallScenario(&w)
	if err != nil {
		return Wall{}, err
	}
	votes, err := s.store.WallVotes(ctx, id)
	if err != nil {
		return Wall{}, err
	}
	last := w.Last()
	mine, err := s.store.VoteOf(ctx, id, last.Round, whoIs(ctx).ID)
	if err != nil {
		return Wall{}, err
	}
	members, err := s.classesOf(ctx, []store.Class{w.Class})
	if err != nil {
		return Wall{}, err
	}
	out := Wall{Id: w.ID, ClassTitle: w.Class.Title, MachineName: sc.Name, MachineCode: sc.Code, Family: sc.Family, Words: sc.Words,
		History: historyOf(wordsOf(ctx), sc),
		Version: w.Version, Round: last.Round, Stands: WallStandsVoting, Voted: sumOf(votes[last.Round]), Mine: text(mine), Tests: []string{},
		Rounds: []WallRound{}, Board: map[string]string{}, Worths: []WallWorth{}}
	for _, m := range members[0].Members {
		if m.Role == store.Apprentice {
			out.Members++
		}
	}
	var made []string
	for i := range w.Rounds {
		r := &w.Rounds[i]
		if r.Test == nil {
			continue
		}
		made = append(made, *r.Test)
		x := WallRound{Test: *r.Test, Votes: votes[r.Round][*r.Test], AllVotes: sumOf(votes[r.Round])}
		worths, err := worthsOf(r, votes[r.Round])
		if err != nil {
			return Wall{}, err
		}
		if len(worths) > 0 {
			x.Best = worths[0].Test
		}
		board := map[string]string{} // anew, so that no mark of an earlier round stays
		if err := errors.Join(json.Unmarshal(r.Told, &x.Told), json.Unmarshal(r.Board, &board)); err != nil {
			return Wall{}, err
		}
		out.Rounds, out.Board, out.Minutes = append(out.Rounds, x), board, math.Round(*r.Minutes*10)/10
	}
	for _, t := range sc.Tests() {
		if sc.InKit(&t) && !slices.Contains(made, t.ID) && t.ID != reading.AskHistory {
			out.Tests = append(out.Tests, t.ID)
		}
	}
	if last.Worths != nil {
		out.Stands = WallStandsClosed
		if out.Worths, err = worthsOf(last, votes[last.Round]); err != nil {
			return Wall{}, err
		}
	}
	if w.ToldAt != nil {
		hidden := []LikelyFault{}
		for _, f := range sc.Faults {
			hidden = append(hidden, LikelyFault{Fault: f.ID, Percent: math.Round(100 * f.Severity)})
		}
		out.Stands, out.Hidden = WallStandsTold, &hidden
	}
	return out, nil
}

func sumOf(votes map[string]int) (n int) {
	for _, v := range votes {
		n += v
	}
	return n
}

// worthsOf are the tests of a round whose vote is closed with what they were worth and the
// votes for them.
func worthsOf(r *store.WallRound, votes map[string]int) ([]WallWorth, error) {
	out := []WallWorth{}
	if r.Worths == nil {
		return out, nil
	}
	var all []wall.Worth
	if err := json.Unmarshal(r.Worths, &all); err != nil {
		return nil, err
	}
	for _, x := range all {
		out = append(out, WallWorth{Test: x.Test, Votes: votes[x.Test], Share: math.Round(1000*x.Share) / 1000, Minutes: math.Round(x.Minutes*10) / 10})
	}
	return out, nil
}

// VoteAtWall keeps somebody's vote.
func (s *Server) VoteAtWall(ctx context.Context, req VoteAtWallRequestObject) (VoteAtWallResponseObject, error) {
	w, err := s.wall(ctx, wallOf(ctx).ID)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(w.Tests, req.Body.Test) {
		return nil, refuseAt("test", "wall.no-such-test", "test", req.Body.Test)
	}
	if err := s.store.Vote(ctx, w.Id, req.Body.Round, whoIs(ctx).ID, req.Body.Test); err != nil {
		return nil, err
	}
	return VoteAtWall204Response{}, nil
}

// StepWall does the next thing at a wall.
func (s *Server) StepWall(ctx context.Context, req StepWallRequestObject) (StepWallResponseObject, error) {
	w := wallOf(ctx)
	if w.Version != req.Body.Version {
		return nil, store.ErrStale
	}
	round := *w.Last()
	next, tell := false, req.Body.Step == Tell
	var err error
	switch {
	case tell:
		err = s.store.StepWall(ctx, w.ID, w.Version, nil, false, true)
	default:
		next, err = s.stepRound(ctx, &w, &round, req.Body)
		if err == nil {
			err = s.store.StepWall(ctx, w.ID, w.Version, &round, next, false)
		}
	}
	if err != nil {
		return nil, err
	}
	out, err := s.wall(ctx, w.ID)
	return StepWall200JSONResponse(out), err
}

// stepRound closes the vote of a round, or makes its test; then another round is next.
func (s *Server) stepRound(ctx context.Context, w *store.Wall, round *store.WallRound, do *StepWallJSONRequestBody) (next bool, err error) {
	sc, err := wallScenario(w)
	if err != nil {
		return false, err
	}
	made := []string{}
	for _, r := range w.Rounds {
		if r.Test != nil {
			made = append(made, *r.Test)
		}
	}
	return do.Step == Make, s.pool.Do(ctx, whoIs(ctx).ID.String(), func(ctx context.Context) error {
		answers, err := s.engineAnswers(ctx, sc)
		if err != nil {
			return err
		}
		on, err := wall.Open(ctx, sc, answers, uint64(w.Seed), made)
		if err != nil {
			return err
		}
		if round.Worths == nil {
			if round.Worths, err = json.Marshal(on.Worths()); err != nil {
				return err
			}
		}
		if do.Step != Make {
			return nil
		}
		if p := on.Take(deref(do.Test)); p != nil {
			return p
		}
		done := on.Done()[len(on.Done())-1]
		round.Test, round.Minutes = &done.Test, &done.Minutes
		told, err1 := json.Marshal(done.Told)
		board, err2 := json.Marshal(on.Board())
		round.Told, round.Board = told, board
		return errors.Join(err1, err2)
	})
}

// WatchWall tells of one wall and its votes.
func (s *Server) WatchWall(ctx context.Context, _ WatchWallRequestObject) (WatchWallResponseObject, error) {
	id := wallOf(ctx).ID
	return &stream{s, ctx, whoIs(ctx), func(n live.Notice) bool { return n.ID == id },
		func(ctx context.Context, _ []uuid.UUID) (map[string]int64, error) {
			wall, votes, err := s.store.WallVersions(ctx, id)
			return map[string]int64{"wall": wall, "votes": votes}, err
		}}, nil
}

// VisitWatchWallResponse sends it.
func (x *stream) VisitWatchWallResponse(w http.ResponseWriter) error { return x.send(w) }
