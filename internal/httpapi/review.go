package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"

	"github.com/google/uuid"

	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/internal/store"
)

// mostReviews is how many marked attempts are listed for whoever marks.
const mostReviews = 200

// standingOf is what lists show of an assessment.
func standingOf(a *assess.Assessment) store.Standing {
	mark, of := a.Total()
	return store.Standing{Outcome: a.Outcome, Class: a.Class, Mark: mark, Of: of, Untested: a.Untested}
}

// debrief is the assessment of a route's attempt as it stands, with what people have said of
// it, for whoever asks.
func (s *Server) debrief(ctx context.Context) (Debrief, error) {
	a, sc, err := s.closed(ctx)
	if err != nil {
		return Debrief{}, err
	}
	acts, err := s.store.ReviewActs(ctx, a.ID)
	if err != nil {
		return Debrief{}, err
	}
	now, err := reviewed(a, sc, acts)
	if err != nil {
		return Debrief{}, err
	}
	d := Debrief{Attempt: a.ID, Apprentice: a.Apprentice.DisplayName, JobNumber: int(a.Job.Number), Family: sc.Family,
		MachineName: a.Job.Machine.Name, MachineCode: a.Job.Machine.Code, Words: sc.Words, Assessment: *now.Assessment}
	if d.Review, err = s.reviewNow(ctx, a, now, acts); err != nil {
		return Debrief{}, err
	}
	if d.Review.Blind {
		d.Assessment = *now.Assessment.Blind()
	} else if p, any := now.Practise(); any {
		d.Practise = &Practise{Skill: p.Skill, Lateral: p.Lateral}
	}
	return d, nil
}

// closed is the attempt of a route, which is marked, with its job; others are refused.
func (s *Server) closed(ctx context.Context) (a store.Attempt, sc *scenario.Scenario, err error) {
	if a, err = s.store.Attempt(ctx, attempt(ctx).ID); err != nil {
		return a, nil, err
	}
	if a.State != store.StateHandedOver {
		return a, nil, refuse(http.StatusConflict, "http.job-not-handed-over-yet")
	}
	sc, err = scenarioIn(a.Job)
	return a, sc, err
}

// reviewed is what an assessment that was kept and the acts on it come to.
func reviewed(a store.Attempt, sc *scenario.Scenario, acts []store.ReviewAct) (*assess.Reviewed, error) {
	result, err := assess.Read(a.Assessment)
	if err != nil {
		return nil, fmt.Errorf("attempt %s: %w", a.ID, err)
	}
	done, err := actsOf(acts)
	return assess.Review(result, done, sc.Weights().Threshold), err
}

func actsOf(acts []store.ReviewAct) (out []assess.Done, err error) {
	for _, r := range acts {
		d := assess.Done{By: r.ByID.String()}
		if err := json.Unmarshal(r.Body, &d.Act); err != nil {
			return nil, fmt.Errorf("review act %d of %s: %w", r.Seq, r.AttemptID, err)
		}
		out = append(out, d)
	}
	return out, nil
}

// markersOnly are acts that are between those who mark.
var markersOnly = []string{assess.ActAskSecond, assess.ActSecond, assess.ActAnew}

// reviewNow is what may be seen of a review by whoever asks.
func (s *Server) reviewNow(ctx context.Context, a store.Attempt, now *assess.Reviewed, acts []store.ReviewAct) (ReviewNow, error) {
	who := whoIs(ctx)
	apprentice := who.Role == store.Apprentice
	out := ReviewNow{After: len(acts), Acts: []ReviewAct{}, Changed: now.Changed, OutcomeSet: now.OutcomeSet, Signed: now.Signed, Appealed: now.Appealed,
		AppealOpen: now.AppealOpen, Seconds: []assess.Second{}, May: []string{}, Blind: now.Awaited == who.ID.String()}
	other := a.ModelVersion != machine.Version
	out.OfAnotherModel = &other
	names := map[string]string{}
	if !apprentice {
		ps, err := s.store.Markers(ctx)
		if err != nil {
			return out, err
		}
		for _, p := range ps {
			names[p.ID.String()] = p.DisplayName
		}
		if now.Awaited != "" {
			name := names[now.Awaited]
			out.Awaited = &name
		}
	}
	for _, kind := range []string{assess.ActLine, assess.ActOutcome, assess.ActComment, assess.ActSignOff, assess.ActAskSecond, assess.ActSecond,
		assess.ActAppeal} {
		if mayAct(now, kind, who) {
			out.May = append(out.May, kind)
		}
	}
	if out.Blind {
		out.Changed, out.OutcomeSet = []assess.Changed{}, false
		return out, nil
	}
	for _, r := range acts {
		if apprentice && slices.Contains(markersOnly, r.Kind) {
			continue
		}
		act, err := reviewAct(r, names)
		if err != nil {
			return out, err
		}
		out.Acts = append(out.Acts, act)
	}
	if !apprentice {
		for _, x := range now.Seconds {
			x.By = names[x.By]
			out.Seconds = append(out.Seconds, x)
		}
	}
	return out, nil
}

// mayAct says whether somebody may do an act of a kind now, whatever it would say.
func mayAct(now *assess.Reviewed, kind string, who store.Person) bool {
	apprentice := who.Role == store.Apprentice
	awaited := now.Awaited == who.ID.String()
	switch kind {
	case assess.ActAppeal:
		return apprentice && !now.Appealed
	case assess.ActSecond:
		return awaited
	case assess.ActLine, assess.ActOutcome, assess.ActSignOff:
		return !apprentice && !awaited && !now.Signed
	case assess.ActAskSecond:
		return !apprentice && now.Awaited == ""
	}
	return !apprentice && !awaited
}

func reviewAct(r store.ReviewAct, names map[string]string) (ReviewAct, error) {
	out := ReviewAct{Seq: r.Seq, Kind: r.Kind, By: r.By.DisplayName, At: r.At}
	var a assess.Act
	if err := json.Unmarshal(r.Body, &a); err != nil {
		return out, fmt.Errorf("review act %d of %s: %w", r.Seq, r.AttemptID, err)
	}
	if a.Text != "" {
		out.Text = &a.Text
	}
	switch a.Kind {
	case assess.ActLine:
		out.Section, out.Line, out.Marks = &a.Section, &a.Line, &a.Marks
	case assess.ActOutcome:
		out.Outcome = &a.Outcome
	case assess.ActComment:
		out.Place = &a.Seq
	case assess.ActAskSecond:
		name := names[a.Who]
		out.Who = &name
	case assess.ActResit:
		if id, err := uuid.Parse(a.Attempt); err == nil {
			out.Attempt = &id
		}
	case assess.ActAnew:
		other, err := assess.Read(a.Assessment)
		if err != nil {
			return out, err
		}
		mark, of := other.Total()
		out.Mark, out.Of, out.Outcome = &mark, &of, &other.Outcome
	}
	return out, nil
}

// Review does something to an assessment.
func (s *Server) Review(ctx context.Context, req ReviewRequestObject) (ReviewResponseObject, error) {
	b := req.Body
	act := assess.Act{Kind: string(b.Kind), Section: deref(b.Section), Line: deref(b.Line), Marks: deref(b.Marks), Outcome: deref(b.Outcome),
		Sections: deref(b.Sections), Text: deref(b.Text), Seq: -1}
	if b.Place != nil {
		act.Seq = *b.Place
	}
	if b.Who != nil {
		act.Who = b.Who.String()
		ps, err := s.store.Markers(ctx)
		if err != nil {
			return nil, err
		}
		if !slices.ContainsFunc(ps, func(p store.Person) bool { return p.ID == *b.Who }) {
			return nil, refuseAll([]problem.Problem{*problem.New("who", "review.not-a-marker")})
		}
	}
	if err := s.act(ctx, b.After, func(*store.Store) (assess.Act, error) { return act, nil }); err != nil {
		return nil, err
	}
	d, err := s.debrief(ctx)
	return Review200JSONResponse(d), err
}

// act keeps an act on the attempt of a route, after so many others, if it may be done.
func (s *Server) act(ctx context.Context, after int, make func(tx *store.Store) (assess.Act, error)) error {
	who := whoIs(ctx)
	a, sc, err := s.closed(ctx)
	if err != nil {
		return err
	}
	err = s.store.Review(ctx, a.ID, after, func(tx *store.Store, before []store.ReviewAct) (out store.ReviewAct, st store.Standing, err error) {
		now, err := reviewed(a, sc, before)
		if err != nil {
			return out, st, err
		}
		d := assess.Done{By: who.ID.String()}
		if d.Act, err = make(tx); err != nil {
			return out, st, err
		}
		if p := now.Check(&d, who.Role == store.Apprentice, len(before), a.Events); p != nil {
			return out, st, refuseAll([]problem.Problem{*p})
		}
		raw, err := json.Marshal(d.Act)
		if err != nil {
			return out, st, err
		}
		out = store.ReviewAct{ByID: who.ID, Kind: d.Kind, Body: raw}
		if now, err = reviewed(a, sc, append(before, out)); err != nil {
			return out, st, err
		}
		st = standingOf(now.Assessment)
		st.Signed, st.Appealed = now.Signed, now.AppealOpen
		if id, err := uuid.Parse(now.Awaited); err == nil {
			st.Awaits = &id
		}
		return out, st, nil
	})
	if errors.Is(err, store.ErrMoved) {
		return refuse(http.StatusConflict, "http.review-moved-on")
	}
	return err
}

// MarkAnew judges an attempt again by today's model and marking, and keeps what it comes to
// beside what was said before. Where the model would have shown something else, nothing can
// be judged by it.
func (s *Server) MarkAnew(ctx context.Context, req MarkAnewRequestObject) (MarkAnewResponseObject, error) {
	a, sc, err := s.closed(ctx)
	if err != nil {
		return nil, err
	}
	events, err := s.recorded(ctx, a.ID)
	if err != nil {
		return nil, err
	}
	result, err := assess.Read(a.Assessment)
	if err != nil {
		return nil, err
	}
	var raw []byte
	err = s.pool.Do(ctx, whoIs(ctx).ID.String(), func(ctx context.Context) error {
		l, err := sc.Ledger(uint64(a.Seed))
		if err != nil {
			return err
		}
		var differs *ledger.Difference
		if err := l.Replay(events); errors.As(err, &differs) {
			return refuse(http.StatusConflict, "http.cannot-mark-anew", "seq", differs.Seq)
		} else if err != nil {
			return err
		}
		answers, refer, err := s.reference(ctx, sc)
		if err != nil {
			return err
		}
		anew, err := assess.Assess(ctx, assess.Input{Scenario: sc, Seed: uint64(a.Seed), Events: l.Events(), Hand: result.Hand, Answers: answers,
			Reference: refer})
		if err != nil {
			return err
		}
		raw, err = json.Marshal(anew)
		return err
	})
	if err != nil {
		return nil, err
	}
	if err := s.act(ctx, req.Body.After, func(*store.Store) (assess.Act, error) {
		return assess.Act{Kind: assess.ActAnew, Seq: -1, Assessment: raw}, nil
	}); err != nil {
		return nil, err
	}
	d, err := s.debrief(ctx)
	return MarkAnew200JSONResponse(d), err
}

// recorded are the events of an attempt with what each showed.
func (s *Server) recorded(ctx context.Context, id uuid.UUID) ([]ledger.Recorded, error) {
	es, err := s.store.Events(ctx, id, 0)
	if err != nil {
		return nil, err
	}
	out := make([]ledger.Recorded, len(es))
	for i, e := range es {
		if err := json.Unmarshal(e.Body, &out[i].Event); err != nil {
			return nil, fmt.Errorf("attempt %s, event %d: %w", id, e.Seq, err)
		}
		out[i].Shown = e.Observed
	}
	return out, nil
}

// GiveResit gives the apprentice an equal job.
func (s *Server) GiveResit(ctx context.Context, req GiveResitRequestObject) (GiveResitResponseObject, error) {
	a, sc, err := s.closed(ctx)
	if err != nil {
		return nil, err
	}
	var other *scenario.Scenario
	err = s.pool.Do(ctx, whoIs(ctx).ID.String(), func(ctx context.Context) error {
		answers, err := s.engineAnswers(ctx, sc)
		if err != nil {
			return err
		}
		found, err := authoring.Variants(ctx, sc, answers, 1, uint64(a.Seed), nil)
		if len(found) == 0 {
			return err
		}
		f := &found[0].Form
		other = f.On(sc.Family, sc.Sheet)
		return nil
	})
	if err != nil {
		return nil, err
	}
	if other == nil {
		return nil, refuse(http.StatusConflict, "http.no-equal-job")
	}
	// What is not of its difficulty stays as it was.
	other.Name, other.Code, other.Own, other.Page, other.PageInExam = sc.Name, sc.Code, sc.Own, sc.Page, sc.PageInExam
	raw, err := json.Marshal(other)
	if err != nil {
		return nil, err
	}
	job := store.Job{ID: uuid.New(), MachineID: a.Job.MachineID, SetBy: whoIs(ctx).ID, Scenario: raw, ResitOf: &a.ID}
	err = s.act(ctx, req.Body.After, func(tx *store.Store) (assess.Act, error) {
		given, err := tx.GiveNew(ctx, &job, a.ApprenticeID, machine.Version, s.Seed)
		return assess.Act{Kind: assess.ActResit, Seq: -1, Attempt: given.ID.String()}, err
	})
	if err != nil {
		return nil, err
	}
	d, err := s.debrief(ctx)
	return GiveResit200JSONResponse(d), err
}

// TakePractice gives whoever has the attempt a job of the library that practises what was
// lost most: on that path, of about the same level, and not one that they have had.
func (s *Server) TakePractice(ctx context.Context, _ TakePracticeRequestObject) (TakePracticeResponseObject, error) {
	who := whoIs(ctx)
	d, err := s.debrief(ctx)
	if err != nil {
		return nil, err
	}
	if d.Practise == nil {
		return nil, refuse(http.StatusConflict, "http.nothing-to-practise")
	}
	p, err := s.practice(ctx, who.ID, attempt(ctx).JobID, d.Practise.Lateral)
	if err != nil {
		return nil, err
	}
	own, _, err := s.ownFigures(ctx)
	if err != nil {
		return nil, err
	}
	sc, bad, err := shelvedScenario(p, own)
	if err != nil {
		return nil, err
	}
	if len(bad) > 0 {
		return nil, refuseAll(bad)
	}
	raw, err := json.Marshal(sc)
	if err != nil {
		return nil, err
	}
	job := store.Job{ID: uuid.NewSHA1(who.ID, []byte(attempt(ctx).ID.String())), MachineID: p.MachineID, SetBy: p.OwnerID, Scenario: raw, PaperID: &p.ID,
		Practice: true}
	given, err := s.store.GiveNew(ctx, &job, who.ID, machine.Version, s.Seed)
	if store.IsReused(err) { // it was taken before, and the scenario has changed since
		err = refuse(http.StatusConflict, "http.practice-taken-before")
	}
	return TakePractice200JSONResponse{Attempt: given.ID}, err
}

// practice chooses a scenario of the library for somebody.
func (s *Server) practice(ctx context.Context, who, job uuid.UUID, lateral string) (*store.Paper, error) {
	had, err := s.store.Attempts(ctx, store.Page{Apprentice: who})
	if err != nil {
		return nil, err
	}
	ps, err := s.store.Papers(ctx, store.PaperScenario)
	if err != nil {
		return nil, err
	}
	level := 2 // where nothing says how hard it was
	for _, a := range had {
		for i := range ps {
			if a.JobID == job && a.Job.PaperID != nil && *a.Job.PaperID == ps[i].ID && ps[i].Level != nil {
				level = *ps[i].Level
			}
		}
	}
	var best *store.Paper
	least := math.Inf(1)
	for i := range ps {
		p := &ps[i]
		known := slices.ContainsFunc(had, func(a store.Attempt) bool {
			return a.JobID != uuid.NewSHA1(who, []byte(attempt(ctx).ID.String())) && a.Job.PaperID != nil && *a.Job.PaperID == p.ID
		})
		if p.Archived || p.Level == nil || known {
			continue
		}
		line, err := scenarioLine(*p)
		if err != nil || !slices.Contains(line.Laterals, lateral) {
			continue
		}
		if off := math.Abs(float64(*p.Level - level)); off < least {
			best, least = p, off
		}
	}
	if best == nil {
		return nil, refuse(http.StatusConflict, "http.nothing-like-it-in-the-library")
	}
	full, err := s.store.Paper(ctx, store.PaperScenario, best.ID)
	return &full, err
}

// ExportAttempt writes a closed attempt in the open form.
func (s *Server) ExportAttempt(ctx context.Context, _ ExportAttemptRequestObject) (ExportAttemptResponseObject, error) {
	a, sc, err := s.closed(ctx)
	if err != nil {
		return nil, err
	}
	result, err := assess.Read(a.Assessment)
	if err != nil {
		return nil, err
	}
	recorded, err := s.recorded(ctx, a.ID)
	if err != nil {
		return nil, err
	}
	events := make([]ledger.Event, len(recorded))
	for i, r := range recorded {
		events[i] = r.Event
	}
	form, err := assess.FormOf(sc, uint64(a.Seed), events, &result.Hand)
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(form)
	return exported(raw), err
}

// exported is written as it stands: a seed is longer than what JavaScript and a decoder
// without types keep of a number.
type exported []byte

// VisitExportAttemptResponse writes it.
func (e exported) VisitExportAttemptResponse(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", "application/json")
	_, err := w.Write(e)
	return err
}

// ListReviews gives marked attempts, the most doubtful first.
func (s *Server) ListReviews(ctx context.Context, _ ListReviewsRequestObject) (ListReviewsResponseObject, error) {
	as, err := s.store.ToReview(ctx, mostReviews)
	if err != nil {
		return nil, err
	}
	out := ListReviews200JSONResponse{}
	who := whoIs(ctx)
	for _, a := range as {
		card, err := s.attemptCard(ctx, a)
		if err != nil {
			return nil, err
		}
		line := ReviewCard{Attempt: card, Signed: a.Signed, Appealed: a.Appealed, Yours: awaits(a, who), Outcome: deref(a.Outcome), Doubt: deref(a.Doubt)}
		if line.Yours {
			line.Outcome, line.Doubt = "", 0
		}
		out = append(out, line)
	}
	return out, nil
}

// awaits says that somebody is to mark an attempt second, and sees no marks until then.
func awaits(a store.Attempt, who store.Person) bool { return a.Awaits != nil && *a.Awaits == who.ID }

// ListMarkers gives those who may mark.
func (s *Server) ListMarkers(ctx context.Context, _ ListMarkersRequestObject) (ListMarkersResponseObject, error) {
	ps, err := s.store.Markers(ctx)
	out := ListMarkers200JSONResponse{}
	for _, p := range ps {
		out = append(out, personOf(p))
	}
	return out, err
}
