package httpapi

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"

	"zanjero/core/problem"
	"zanjero/core/roster"
	"zanjero/internal/store"
)

// mayKeep says that an officer may add, change and give sheets to people of a role: a
// coordinator to anybody, an instructor to apprentices.
func mayKeep(who store.Person, role string) bool {
	return who.Role == store.Coordinator || role == store.Apprentice
}

// ListPeople lists everybody with their classes.
func (s *Server) ListPeople(ctx context.Context, _ ListPeopleRequestObject) (ListPeopleResponseObject, error) {
	people, err := s.store.People(ctx, "")
	if err != nil {
		return nil, err
	}
	members, err := s.store.Members(ctx)
	if err != nil {
		return nil, err
	}
	classes := map[uuid.UUID][]uuid.UUID{}
	for _, m := range members {
		classes[m.PersonID] = append(classes[m.PersonID], m.ClassID)
	}
	out := ListPeople200JSONResponse{}
	for i := range people {
		out = append(out, personLine(&people[i], classes[people[i].ID]))
	}
	return out, nil
}

func personLine(p *store.Person, classes []uuid.UUID) PersonLine {
	signs := PersonLineSignsInOwn
	switch {
	case p.PasswordHash == "":
		signs = PersonLineSignsInNever
	case p.MustChange:
		signs = PersonLineSignsInSheet
	}
	return PersonLine{Id: p.ID, Name: p.Name, DisplayName: p.DisplayName, Role: PersonLineRole(p.Role), Here: p.Here(), SignsIn: signs, Classes: list(classes)}
}

// editTimes is how often an edit is tried anew that somebody else's came before.
const editTimes = 3

// edit changes the roster by hand, and gives what of it was refused.
func (s *Server) edit(ctx context.Context, make func(now roster.Roster) (*roster.Input, error)) error {
	for n := 1; ; n++ {
		now, changes, err := s.store.Roster(ctx)
		if err != nil {
			return err
		}
		in, err := make(now)
		if err != nil {
			return err
		}
		c := roster.Compare(now, in)
		var bad []problem.Problem
		for i := range c.Changes {
			bad = append(bad, c.Changes[i].Wrong...)
		}
		if len(bad) > 0 {
			return refuseAll(bad)
		}
		if err = s.store.TakeRoster(ctx, changes, c, nil); !errors.Is(err, store.ErrStale) || n == editTimes {
			return err
		}
	}
}

// AddPerson adds somebody to the roster, without a password.
func (s *Server) AddPerson(ctx context.Context, req AddPersonRequestObject) (AddPersonResponseObject, error) {
	line, err := s.putPerson(ctx, uuid.Nil, req.Body)
	return AddPerson201JSONResponse(line), err
}

// ChangePerson changes somebody, lets them go or in again.
func (s *Server) ChangePerson(ctx context.Context, req ChangePersonRequestObject) (ChangePersonResponseObject, error) {
	line, err := s.putPerson(ctx, req.Person, req.Body)
	return ChangePerson200JSONResponse(line), err
}

func (s *Server) putPerson(ctx context.Context, id uuid.UUID, e *PersonEdit) (PersonLine, error) {
	who := whoIs(ctx)
	p := store.Person{}
	key := uuid.NewString()
	if id != uuid.Nil {
		var err error
		if p, err = s.store.Person(ctx, id); err != nil {
			return PersonLine{}, err
		}
		if key = id.String(); p.SourcedID != nil {
			key = *p.SourcedID
		}
	}
	if !mayKeep(who, string(e.Role)) || (p.Role != "" && !mayKeep(who, p.Role)) {
		return PersonLine{}, refuse(http.StatusForbidden, "http.not-yours-to-keep")
	}
	if p.ID == who.ID && (!e.Here || string(e.Role) != who.Role) {
		return PersonLine{}, refuse(http.StatusConflict, "http.not-oneself")
	}
	if id == uuid.Nil && e.DisplayName == "" {
		return PersonLine{}, refuseAt("display_name", "roster.empty-cell", "column", "display_name")
	}
	err := s.edit(ctx, func(now roster.Roster) (*roster.Input, error) {
		return roster.EditPerson(now, roster.ByHand{ID: key, Name: e.DisplayName, SignIn: e.Name, Role: store.RosterRole(string(e.Role)), Here: e.Here}), nil
	})
	if err != nil {
		return PersonLine{}, err
	}
	if p, err = s.store.PersonBySource(ctx, key); err != nil {
		return PersonLine{}, err
	}
	classes, err := s.store.Classes(ctx, &p.ID)
	var ids []uuid.UUID
	for _, c := range classes {
		ids = append(ids, c.ID)
	}
	return personLine(&p, ids), err
}

// MakeSheets gives people passwords that are shown once.
func (s *Server) MakeSheets(ctx context.Context, req MakeSheetsRequestObject) (MakeSheetsResponseObject, error) {
	out := MakeSheets200JSONResponse{}
	hashes := map[uuid.UUID]string{}
	for _, id := range req.Body.People {
		p, err := s.store.Person(ctx, id)
		if err != nil {
			return nil, err
		}
		switch {
		case !mayKeep(whoIs(ctx), p.Role) || p.ID == whoIs(ctx).ID:
			return nil, refuse(http.StatusForbidden, "http.not-yours-to-keep")
		case !p.Here():
			continue
		case p.PasswordHash != "" && !p.MustChange && (req.Body.Again == nil || !*req.Body.Again):
			continue
		}
		pw := readable()
		hashes[p.ID] = s.options.Hashing.Hash(pw)
		out = append(out, Sheet{Person: p.ID, Name: p.Name, DisplayName: p.DisplayName, Password: pw})
	}
	if len(out) == 0 {
		return nil, refuse(http.StatusConflict, "http.nobody-needs-a-sheet")
	}
	return out, s.store.NewPasswords(ctx, hashes)
}

// readable makes a password that is typed from paper: fifteen letters and figures that are
// not taken for one another, 31 of them, which is 74 bits.
func readable() string {
	const letters = "abcdefghjkmnpqrstuvwxyz23456789"
	var out []byte
	raw := make([]byte, 64)
	rand.Read(raw)
	for _, b := range raw {
		if len(out) == 17 {
			break
		}
		if b >= 248 { // so that each is as likely
			continue
		}
		if len(out)%6 == 5 {
			out = append(out, '-')
		}
		out = append(out, letters[int(b)%len(letters)])
	}
	return string(out)
}

// ListClasses lists the classes that are held; an instructor's own first.
func (s *Server) ListClasses(ctx context.Context, _ ListClassesRequestObject) (ListClassesResponseObject, error) {
	classes, err := s.store.Classes(ctx, nil)
	if err != nil {
		return nil, err
	}
	out, err := s.classesOf(ctx, classes)
	mine := func(c Class) int {
		if slices.ContainsFunc(c.Members, func(m ClassMember) bool { return m.Person == whoIs(ctx).ID }) {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(out, func(a, b Class) int { return cmp.Compare(mine(a), mine(b)) })
	return ListClasses200JSONResponse(out), err
}

func (s *Server) classesOf(ctx context.Context, classes []store.Class) ([]Class, error) {
	people, err := s.store.People(ctx, "")
	if err != nil {
		return nil, err
	}
	members, err := s.store.Members(ctx)
	if err != nil {
		return nil, err
	}
	named := map[uuid.UUID]*store.Person{}
	for i := range people {
		named[people[i].ID] = &people[i]
	}
	out := make([]Class, len(classes))
	for i, c := range classes {
		out[i] = Class{Id: c.ID, Title: c.Title, Term: c.Term, Starts: openapi_types.Date{Time: c.Starts}, Ends: openapi_types.Date{Time: c.Ends},
			Members: []ClassMember{}}
		for _, m := range members {
			if m.ClassID == c.ID {
				out[i].Members = append(out[i].Members, ClassMember{Person: m.PersonID, DisplayName: named[m.PersonID].DisplayName, Role: ClassMemberRole(m.Role)})
			}
		}
		slices.SortFunc(out[i].Members, func(a, b ClassMember) int { return cmp.Compare(a.DisplayName, b.DisplayName) })
	}
	return out, nil
}

// AddClass makes a class.
func (s *Server) AddClass(ctx context.Context, req AddClassRequestObject) (AddClassResponseObject, error) {
	c, err := s.putClass(ctx, uuid.NewString(), req.Body)
	return AddClass201JSONResponse(c), err
}

// ChangeClass changes a class and who is in it, or puts it away.
func (s *Server) ChangeClass(ctx context.Context, req ChangeClassRequestObject) (ChangeClassResponseObject, error) {
	old, err := s.store.Class(ctx, req.Class)
	if err != nil {
		return nil, err
	}
	c, err := s.putClass(ctx, old.SourcedID, req.Body)
	return ChangeClass200JSONResponse(c), err
}

func (s *Server) putClass(ctx context.Context, key string, e *ClassEdit) (Class, error) {
	to := roster.ClassByHand{ID: key, Title: e.Title, Term: e.Term, Held: e.Held == nil || *e.Held}
	year := time.Now()
	to.Starts, to.Ends = year.Format(time.DateOnly), year.AddDate(1, 0, 0).Format(time.DateOnly)
	if e.Starts != nil {
		to.Starts = e.Starts.Format(time.DateOnly)
	}
	if e.Ends != nil {
		to.Ends = e.Ends.Format(time.DateOnly)
	}
	for _, id := range e.Members {
		p, err := s.store.Person(ctx, id)
		if err != nil {
			return Class{}, refuseAt("members", "http.no-such-person", "person", id.String())
		}
		key := id.String()
		if p.SourcedID != nil {
			key = *p.SourcedID
		}
		to.Members = append(to.Members, key)
	}
	if err := s.edit(ctx, func(now roster.Roster) (*roster.Input, error) { return roster.EditClass(now, to), nil }); err != nil {
		return Class{}, err
	}
	c, err := s.store.ClassBySource(ctx, key)
	if err != nil {
		return Class{}, err
	}
	out, err := s.classesOf(ctx, []store.Class{c})
	if err != nil {
		return Class{}, err
	}
	return out[0], nil
}
