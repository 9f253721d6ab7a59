package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"zanjero/core/bench"
	"zanjero/core/catalogue"
	"zanjero/core/ledger"
	"zanjero/core/lesson"
	"zanjero/core/machine"
	"zanjero/internal/live"
	"zanjero/internal/store"
)

type lessonKey struct{}

// ownLesson finds the lesson of a route: of a class that somebody is in, or any for who teaches.
func ownLesson(s *Server, ctx context.Context, who store.Person, c *echo.Context) (context.Context, error) {
	id, err := uuid.Parse(c.Param("lesson"))
	if err != nil {
		return ctx, errNotFound
	}
	l, err := s.store.Lesson(ctx, id)
	if err != nil {
		return ctx, err
	}
	return context.WithValue(ctx, lessonKey{}, l.ID), s.joins(ctx, who, l.ClassID)
}

// lessonOf is the id of the one that the policy let through.
func lessonOf(ctx context.Context) uuid.UUID { return ctx.Value(lessonKey{}).(uuid.UUID) }

// ListLessons gives those that somebody may answer in, or that are on for who teaches.
func (s *Server) ListLessons(ctx context.Context, _ ListLessonsRequestObject) (ListLessonsResponseObject, error) {
	who := whoIs(ctx)
	var member *uuid.UUID
	if who.Role == store.Apprentice {
		member = &who.ID
	}
	ls, err := s.store.Lessons(ctx, member)
	out := ListLessons200JSONResponse{}
	for i := range ls {
		out = append(out, LessonCard{Id: ls[i].ID, ClassTitle: ls[i].Class.Title, Sense: Sense(ls[i].Sense)})
	}
	return out, err
}

// AddLesson puts two machines before a class. Which of them is on which side is drawn from
// the lesson's id.
func (s *Server) AddLesson(ctx context.Context, req AddLessonRequestObject) (AddLessonResponseObject, error) {
	b := req.Body
	if _, err := s.store.Class(ctx, b.ClassId); err != nil {
		if errors.Is(err, store.ErrNotFound) {
			return nil, refuseAt("class_id", "http.no-such-class")
		}
		return nil, err
	}
	m, err := s.store.Machine(ctx, b.MachineId)
	if err != nil {
		if errors.Is(err, store.ErrNotFound) {
			return nil, refuseAt("machine_id", "http.machine-not-in-yard")
		}
		return nil, err
	}
	sheet, err := sheetOf(m)
	if err != nil {
		return nil, err
	}
	l := lesson.Lesson{Family: m.Family, Sheet: sheet, Test: b.Test, Right: int(s.Seed(b.Id) & 1),
		Asked: machine.FaultSpec{ID: b.Asked.Id, Severity: b.Asked.Severity}}
	if b.Beside != nil {
		l.Beside = &machine.FaultSpec{ID: b.Beside.Id, Severity: b.Beside.Severity}
	}
	if _, p := l.Show(); p != nil {
		return nil, p
	}
	raw, err := json.Marshal(l)
	if err != nil {
		return nil, err
	}
	sense := lesson.Sense(catalogue.Standard().Test(l.Test))
	if err := s.store.AddLesson(ctx, &store.Lesson{ID: b.Id, ClassID: b.ClassId, MadeBy: whoIs(ctx).ID, Sense: sense, Body: raw}); err != nil {
		return nil, err
	}
	out, err := s.lesson(ctx, b.Id)
	return AddLesson200JSONResponse(out), err
}

// GetLesson shows one.
func (s *Server) GetLesson(ctx context.Context, _ GetLessonRequestObject) (GetLessonResponseObject, error) {
	out, err := s.lesson(ctx, lessonOf(ctx))
	return GetLesson200JSONResponse(out), err
}

// lesson is one as anybody of its class may see it: which is right only once it was told.
func (s *Server) lesson(ctx context.Context, id uuid.UUID) (Lesson, error) {
	row, err := s.store.Lesson(ctx, id)
	if err != nil {
		return Lesson{}, err
	}
	var l lesson.Lesson
	if err := json.Unmarshal(row.Body, &l); err != nil {
		return Lesson{}, err
	}
	sides, p := l.Show()
	if p != nil {
		return Lesson{}, p
	}
	chose, mine, err := s.store.AnswersTo(ctx, id, whoIs(ctx).ID)
	if err != nil {
		return Lesson{}, err
	}
	members, err := s.classesOf(ctx, []store.Class{row.Class})
	if err != nil {
		return Lesson{}, err
	}
	out := Lesson{Id: id, ClassTitle: row.Class.Title, Sense: Sense(row.Sense), Test: l.Test, Family: l.Family, Asked: l.Asked.ID, Answered: chose[0] + chose[1],
		Sides: []LessonSide{sideOf(ctx, l.Test, &sides[0]), sideOf(ctx, l.Test, &sides[1])}}
	for _, m := range members[0].Members {
		if m.Role == store.Apprentice {
			out.Members++
		}
	}
	if mine >= 0 {
		out.Mine = &mine
	}
	if row.ToldAt != nil {
		share := chose[:]
		out.Right, out.Chose = &l.Right, &share
		if l.Beside != nil {
			out.Beside = &l.Beside.ID
		}
	}
	return out, nil
}

// sideOf is what is sensed of one machine, and no more than that: what is heard has no words.
func sideOf(ctx context.Context, test string, o *bench.Observation) LessonSide {
	if o.Heard != nil {
		h := heard(o.Heard)
		return LessonSide{Heard: &h}
	}
	return LessonSide{Look: lookOf(wordsOf(ctx), catalogue.Standard(), &ledger.Line{Test: test, Obs: o})}
}

// AnswerLesson keeps somebody's answer.
func (s *Server) AnswerLesson(ctx context.Context, req AnswerLessonRequestObject) (AnswerLessonResponseObject, error) {
	err := s.store.Answer(ctx, lessonOf(ctx), whoIs(ctx).ID, req.Body.Side)
	return AnswerLesson204Response{}, err
}

// TellLesson says which it was.
func (s *Server) TellLesson(ctx context.Context, _ TellLessonRequestObject) (TellLessonResponseObject, error) {
	id := lessonOf(ctx)
	if err := s.store.TellLesson(ctx, id); err != nil {
		return nil, err
	}
	out, err := s.lesson(ctx, id)
	return TellLesson200JSONResponse(out), err
}

// WatchLesson tells of one lesson and its answers.
func (s *Server) WatchLesson(ctx context.Context, _ WatchLessonRequestObject) (WatchLessonResponseObject, error) {
	id := lessonOf(ctx)
	return &stream{s, ctx, whoIs(ctx), func(n live.Notice) bool { return n.ID == id },
		func(ctx context.Context, _ []uuid.UUID) (map[string]int64, error) {
			at, answers, err := s.store.LessonVersions(ctx, id)
			return map[string]int64{"lesson": at, "answers": answers}, err
		}}, nil
}

// VisitWatchLessonResponse sends it.
func (x *stream) VisitWatchLessonResponse(w http.ResponseWriter) error { return x.send(w) }

// sensed are how often somebody or a class was right by each sense.
func sensed(of []store.Sensed) []Sensed {
	out := []Sensed{}
	for _, x := range of {
		out = append(out, Sensed{Sense: Sense(x.Sense), Right: x.Right, Of: x.Of})
	}
	return out
}

// GetLineup gives every look that can be drawn of a family, as whoever teaches may see it.
func (s *Server) GetLineup(ctx context.Context, req GetLineupRequestObject) (GetLineupResponseObject, error) {
	cat, w := catalogue.Standard(), wordsOf(ctx)
	if cat.Family(req.Family) == nil {
		return nil, errNotFound
	}
	out, err := heavily(ctx, s, []any{"lineup", req.Family, w.Language}, func(ctx context.Context) ([]Stand, error) {
		all, err := lesson.Lineup(ctx, req.Family)
		out := []Stand{}
		for i := range all {
			x := &all[i]
			st := Stand{Word: *x.Obs.Word, Look: *lookOf(w, cat, &ledger.Line{Test: x.Test, Obs: &x.Obs})}
			if f := x.Fault; f != nil {
				st.Fault = &f.ID
				if f.Mode != "" {
					st.Mode = &f.Mode
				}
				if cat.Fault(f.ID).Graded {
					st.Severity = &f.Severity
				}
			}
			out = append(out, st)
		}
		return out, err
	})
	return GetLineup200JSONResponse(out), err
}
