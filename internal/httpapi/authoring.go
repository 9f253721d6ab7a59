package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"time"

	"zanjero/core/authoring"
	"zanjero/core/diagnosis"
	"zanjero/core/problem"
	"zanjero/core/scenario"
)

// putOnBench is a scenario as it was sent, with what is wrong with its form.
func (s *Server) putOnBench(ctx context.Context, spec JobSpec) (*scenario.Scenario, []problem.Problem, error) {
	sc, err := s.scenarioOf(ctx, spec)
	if err != nil {
		return nil, nil, err
	}
	return sc, sc.Check(), nil
}

// CheckScenario tells an author what a scenario comes to. It is the slower half of what is
// told while one is written; the quicker one is PreviewJob.
func (s *Server) CheckScenario(ctx context.Context, req CheckScenarioRequestObject) (CheckScenarioResponseObject, error) {
	sc, bad, err := s.putOnBench(ctx, *req.Body)
	if err != nil {
		return nil, err
	}
	if hinders(bad) {
		return nil, refuseAll(bad)
	}
	out, err := s.workOut(ctx, sc)
	if err != nil {
		return nil, err
	}
	out.Problems = append(list(bad), out.Problems...)
	return CheckScenario200JSONResponse(*out), nil
}

// OffersFor gives, symptom first, what of the machine's faults brings a complaint.
func (s *Server) OffersFor(ctx context.Context, req OffersForRequestObject) (OffersForResponseObject, error) {
	sc, _, err := s.putOnBench(ctx, *req.Body)
	if err != nil {
		return nil, err
	}
	if diagnosis.ComplaintBy(sc.Claim) == nil {
		return nil, refuseAll([]problem.Problem{*problem.New("claim", "scenario.complaint-comes-no-known-symptom")})
	}
	out, err := heavily(ctx, s, []any{"offers", sc.Family, sc.Sheet, sc.Ambient, sc.FuelML, sc.Claim, sc.Own},
		func(ctx context.Context) ([]authoring.Offer, error) { return authoring.Bringing(ctx, sc, sc.Claim) })
	return OffersFor200JSONResponse(list(out)), err
}

// GenerateScenarios looks for scenarios, by what they are to teach, or as hard as the one
// given. It says on the way how far it is, and gives what it has found when it ends.
func (s *Server) GenerateScenarios(ctx context.Context, req GenerateScenariosRequestObject) (GenerateScenariosResponseObject, error) {
	sc, bad, err := s.putOnBench(ctx, req.Body.Like)
	if err != nil {
		return nil, err
	}
	if deref(req.Body.Equal) && len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	said := wordsOf(ctx)
	w := authoring.Wanted{Lateral: deref(req.Body.Lateral), Level: deref(req.Body.Level), Complaint: deref(req.Body.Complaint), Count: req.Body.Count,
		Seed: uint64(deref(req.Body.Seed)), Kit: sc.Kit, Words: func(complaint string) string { return said.Name("complaint", complaint, "said") }}
	if l := deref(req.Body.Lesson); len(l) == 2 {
		w.Lesson = [2]string{l[0], l[1]}
	}
	return &generating{ctx: ctx, s: s, sc: sc, w: w, equal: deref(req.Body.Equal)}, nil
}

// generating is the answer while it is being worked out.
type generating struct {
	ctx   context.Context
	s     *Server
	sc    *scenario.Scenario
	w     authoring.Wanted
	equal bool
}

// generatedLine is one line of it.
type generatedLine struct {
	Found     int               `json:"found"`
	Tried     int               `json:"tried"`
	Scenarios []authoring.Found `json:"scenarios,omitempty"`
	Error     *Error            `json:"error,omitempty"`
}

// VisitGenerateScenariosResponse does the work and writes the answer.
func (g *generating) VisitGenerateScenariosResponse(w http.ResponseWriter) error {
	out := &lines{w: w}
	var found []authoring.Found
	err := g.s.pool.Do(g.ctx, whoIs(g.ctx).ID.String(), func(ctx context.Context) error {
		out.say(generatedLine{})
		a, err := g.s.engineAnswers(ctx, g.sc)
		if err != nil {
			return err
		}
		g.w.Progress = func(found, tried int) { out.say(generatedLine{Found: found, Tried: tried}) }
		if g.equal {
			found, err = authoring.Variants(ctx, g.sc, a, g.w.Count, g.w.Seed, g.w.Progress)
			return err
		}
		found, err = authoring.Generate(ctx, g.sc, a, g.w)
		return err
	})
	line := generatedLine{Found: len(found), Scenarios: found}
	var p *problem.Problem
	switch {
	case err != nil && !out.begun:
		writeRefusal(w, asRefusal(err))
		return nil
	case errors.As(err, &p):
		said := refuseAll([]problem.Problem{*p}).body()
		line.Error = &said
	case err != nil:
		said := asRefusal(err).body()
		line.Error = &said
	}
	out.say(line)
	return nil
}

// lines are an answer of JSON a line at a time, for work that takes long. Only what goes
// wrong before the first can still have a status of its own.
type lines struct {
	w     http.ResponseWriter
	begun bool
}

func (l *lines) say(line any) {
	control := http.NewResponseController(l.w)
	if !l.begun {
		l.w.Header().Set("Content-Type", "application/x-ndjson")
		l.begun = true
	}
	_ = control.SetWriteDeadline(time.Now().Add(lineWithin)) // where the connection has one
	_ = json.NewEncoder(l.w).Encode(line)
	_ = control.Flush()
}
