package httpapi

import (
	"context"
	"encoding/json"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"zanjero/internal/store"
)

// ownData finds the person of a route whose data is asked for: one's own, or anybody's for a
// coordinator.
func ownData(s *Server, ctx context.Context, who store.Person, c *echo.Context) (context.Context, error) {
	if who.Role != store.Coordinator && c.Param("person") != who.ID.String() {
		return ctx, errNotFound
	}
	return ownRecord(s, ctx, who, c)
}

// keptAttempt is an attempt in the export of a person's data. What is hidden in a machine is
// not the person's, and not in it; marks are, once they are released.
type keptAttempt struct {
	Job        int64           `json:"job"`
	Machine    string          `json:"machine"`
	Words      string          `json:"words"`
	State      string          `json:"state"`
	Begun      time.Time       `json:"begun"`
	HandedOver *time.Time      `json:"handed_over,omitempty"`
	Minutes    float64         `json:"minutes"`
	HandOver   json.RawMessage `json:"hand_over,omitempty"`
	Assessment json.RawMessage `json:"assessment,omitempty"`
	Reviews    []keptReview    `json:"reviews,omitempty"`
	Hints      []keptHint      `json:"hints,omitempty"`
	Signed     []keptSign      `json:"signed,omitempty"`
	Photos     []keptPhoto     `json:"photos,omitempty"`
	Events     []keptEvent     `json:"events"`
}

type keptHint struct {
	At       time.Time `json:"at"`
	Question bool      `json:"question"`
	Words    string    `json:"words"`
}

// keptSign is what somebody who teaches signed at a real engine.
type keptSign struct {
	At       time.Time `json:"at"`
	Kind     string    `json:"kind"`
	Item     string    `json:"item"`
	Initials string    `json:"initials"`
}

// keptPhoto is a photo of what was seen at a real engine, JPEG as base64.
type keptPhoto struct {
	At    time.Time `json:"at"`
	Note  string    `json:"note"`
	Image []byte    `json:"image"`
}

type keptReview struct {
	At   time.Time       `json:"at"`
	Kind string          `json:"kind"`
	Body json.RawMessage `json:"body"`
}

type keptEvent struct {
	At    time.Time       `json:"at"`
	Event json.RawMessage `json:"event"`
	Shown json.RawMessage `json:"shown,omitempty"`
}

// ExportPerson gives everything that is kept of a person.
func (s *Server) ExportPerson(ctx context.Context, _ ExportPersonRequestObject) (ExportPersonResponseObject, error) {
	p, _ := ctx.Value(recordKey{}).(store.Person)
	now, _, err := s.store.Roster(ctx)
	if err != nil {
		return nil, err
	}
	key := p.ID.String()
	if p.SourcedID != nil {
		key = *p.SourcedID
	}
	classes, err := s.store.Classes(ctx, &p.ID)
	if err != nil {
		return nil, err
	}
	titles := []string{}
	for _, c := range classes {
		titles = append(titles, c.Title)
	}
	attempts, err := s.attemptsOf(ctx, p)
	if err != nil {
		return nil, err
	}
	by, err := s.store.SensedBy(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	return ExportPerson200JSONResponse{"senses": sensed(by),
		"person": personOf(p), "here": p.Here(), "roster": now["users"][key].Record, "classes": titles, "attempts": attempts}, nil
}

func (s *Server) attemptsOf(ctx context.Context, p store.Person) ([]keptAttempt, error) {
	rows, err := s.store.Attempts(ctx, store.Page{Apprentice: p.ID})
	if err != nil {
		return nil, err
	}
	marked, acts, err := s.store.MarkedOf(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	events, err := s.store.EventsOf(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	released := map[uuid.UUID]store.Attempt{}
	for _, a := range marked {
		if a.Job.DebriefAt == nil || !time.Now().Before(*a.Job.DebriefAt) {
			released[a.ID] = a
		}
	}
	out := []keptAttempt{}
	for _, a := range rows {
		card, err := s.card(ctx, a.JobID)
		if err != nil {
			return nil, err
		}
		x := keptAttempt{Job: a.Job.Number, Machine: a.Job.Machine.Name + " " + a.Job.Machine.Code, Words: card.sc.Words, State: a.State, Begun: a.CreatedAt,
			HandedOver: a.HandedAt, Minutes: a.Minutes, Events: []keptEvent{}}
		if m, is := released[a.ID]; is {
			x.Assessment = m.Assessment
			for _, r := range acts[a.ID] {
				x.Reviews = append(x.Reviews, keptReview{r.At, r.Kind, r.Body})
			}
		}
		hints, err := s.store.Hints(ctx, a.ID)
		if err != nil {
			return nil, err
		}
		for _, h := range hints {
			x.Hints = append(x.Hints, keptHint{h.At, h.Question, h.Words})
		}
		_, told := released[a.ID]
		for _, e := range events[a.ID] {
			if card.sc.Iron != nil && !told { // it is what the instructor has read of the engine
				e.Observed = nil
			}
			x.Events = append(x.Events, keptEvent{e.At, e.Body, e.Observed})
		}
		signed, err := s.store.ObservedAt(ctx, a.ID)
		if err != nil {
			return nil, err
		}
		for _, o := range signed {
			x.Signed = append(x.Signed, keptSign{o.At, o.Kind, o.Item, o.Initials})
		}
		photos, err := s.store.Photos(ctx, a.ID)
		if err != nil {
			return nil, err
		}
		for i := range photos {
			whole, err := s.store.Photo(ctx, a.ID, photos[i].ID)
			if err != nil {
				return nil, err
			}
			x.Photos = append(x.Photos, keptPhoto{whole.At, whole.Note, whole.Image})
		}
		out = append(out, x)
	}
	return out, nil
}

// ErasePerson leaves of somebody only attempts without a name.
func (s *Server) ErasePerson(ctx context.Context, req ErasePersonRequestObject) (ErasePersonResponseObject, error) {
	p, _ := ctx.Value(recordKey{}).(store.Person)
	switch {
	case p.ID == whoIs(ctx).ID:
		return nil, refuse(http.StatusConflict, "http.not-oneself")
	case p.ErasedAt != nil:
		return nil, errNotFound
	case req.Body.Name != p.Name:
		return nil, refuseAt("name", "http.other-name", "name", p.Name)
	}
	if err := s.store.Erase(ctx, p.ID); err != nil {
		return nil, err
	}
	return ErasePerson204Response{}, nil
}
