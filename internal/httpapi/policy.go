package httpapi

import (
	"context"
	"slices"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"zanjero/internal/store"
)

// rule says who may call an operation, and whose attempt it may touch.
type rule struct {
	anyone bool
	roles  []string
	// owner: it touches an attempt, and an apprentice only one of their own.
	owner bool
}

var (
	everybody   = []string{store.Instructor, store.Apprentice}
	instructors = []string{store.Instructor}
	apprentices = []string{store.Apprentice}
)

// policy is the one table of operations, roles and ownership. An operation
// that is not here is refused.
var policy = map[string]rule{
	"SignIn":          {anyone: true},
	"SignOut":         {roles: everybody},
	"GetMe":           {roles: everybody},
	"GetFamily":       {roles: everybody},
	"ListAids":        {roles: everybody},
	"ComputeAid":      {roles: everybody},
	"ConvertUnits":    {roles: everybody},
	"ListMachines":    {roles: instructors},
	"AddMachine":      {roles: instructors},
	"ChangeMachine":   {roles: instructors},
	"GetSheetForm":    {roles: instructors},
	"CheckSheet":      {roles: instructors},
	"ListApprentices": {roles: instructors},
	"PreviewJob":      {roles: instructors},
	"ListJobs":        {roles: instructors},
	"CreateJob":       {roles: instructors},
	"GiveJob":         {roles: instructors},
	"ListAttempts":    {roles: everybody},
	"GetBench":        {roles: everybody, owner: true},
	"AddEvent":        {roles: apprentices, owner: true},
	"SaveDraft":       {roles: apprentices, owner: true},
	"HandOver":        {roles: apprentices, owner: true},
	"GetDebrief":      {roles: everybody, owner: true},
	"NextTests":       {roles: apprentices, owner: true},
	"FilmAttempt":     {roles: everybody, owner: true},
	"FilmMachine":     {roles: instructors},
}

type personKey struct{}

// whoIs is the person the policy let through.
func whoIs(ctx context.Context) store.Person {
	p, _ := ctx.Value(personKey{}).(store.Person)
	return p
}

// enforce is the policy as a middleware of every operation.
func (s *Server) enforce(next StrictHandlerFunc, operation string) StrictHandlerFunc {
	return func(c *echo.Context, request any) (any, error) {
		r, known := policy[operation]
		if !known {
			return nil, errRole
		}
		if r.anyone {
			return next(c, request)
		}
		ctx := c.Request().Context()
		p, err := s.caller(ctx)
		if err != nil {
			return nil, err
		}
		if !slices.Contains(r.roles, p.Role) {
			return nil, errRole
		}
		if r.owner {
			a, err := s.ownAttempt(ctx, p, c.Param("attempt"))
			if err != nil {
				return nil, err
			}
			ctx = context.WithValue(ctx, attemptKey{}, a)
		}
		c.SetRequest(c.Request().WithContext(context.WithValue(ctx, personKey{}, p)))
		return next(c, request)
	}
}

type attemptKey struct{}

// ownAttempt finds an attempt that somebody may touch. It answers for
// another's as for one that does not exist.
func (s *Server) ownAttempt(ctx context.Context, p store.Person, attempt string) (store.Attempt, error) {
	id, err := uuid.Parse(attempt)
	if err != nil {
		return store.Attempt{}, errNotFound
	}
	a, err := s.store.AttemptRow(ctx, id)
	if err == nil && p.Role == store.Apprentice && a.ApprenticeID != p.ID {
		err = errNotFound
	}
	return a, err
}

// attempt is the one that the policy let through, or a fresh look at it.
func (s *Server) attempt(ctx context.Context, id uuid.UUID) (store.Attempt, error) {
	if a, ok := ctx.Value(attemptKey{}).(store.Attempt); ok && a.ID == id {
		return a, nil
	}
	return s.store.AttemptRow(ctx, id)
}
