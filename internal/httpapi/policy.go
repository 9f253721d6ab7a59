package httpapi

import (
	"context"
	"maps"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"

	"zanjero/internal/store"
)

// rule says who may use a route, and what of theirs it touches.
type rule struct {
	anyone bool
	roles  []string
	// own finds what the route touches, for those who may touch only their own;
	// nil where it touches nothing of anybody's.
	own loader
	// audit is what is kept when it was done to something of others, as a code; empty for
	// nothing.
	audit string
}

// loader finds what a route touches, by its parameters, and puts it into the
// context. It answers for another's as for one that does not exist.
type loader func(s *Server, ctx context.Context, who store.Person, c *echo.Context) (context.Context, error)

var (
	everybody   = store.Roles
	instructors = []string{store.Instructor}
	// hands work at a bench: an apprentice's, and a first job in an instructor's.
	hands = []string{store.Apprentice, store.Instructor}
	// teachers read attempts: who teaches, and who marks.
	teachers = []string{store.Instructor, store.Assessor}
	// officers keep people and classes; what each may do to whom is theirs to check.
	officers = []string{store.Instructor, store.Coordinator}
	// atBench are the apprentice, and those who look over a shoulder.
	atBench = []string{store.Apprentice, store.Instructor, store.Assessor}
)

// policy is the one table of routes, roles and ownership. A route that is not
// here is refused, whoever asks and however it came to be.
var policy = map[string]rule{
	"POST /api/session":                                  {anyone: true},
	"DELETE /api/session":                                {roles: everybody},
	"GET /api/me":                                        {roles: everybody},
	"PUT /api/me/password":                               {roles: everybody, audit: "password-changed"},
	"PUT /api/me/language":                               {roles: everybody},
	"GET /api/people":                                    {roles: officers},
	"POST /api/people":                                   {roles: officers, audit: "person-added"},
	"PUT /api/people/:person":                            {roles: officers, audit: "person-changed"},
	"GET /api/people/:person/record":                     {roles: everybody, own: ownRecord, audit: "record-seen"},
	"GET /api/people/:person/record.csv":                 {roles: everybody, own: ownRecord, audit: "record-saved"},
	"GET /api/people/:person/statements":                 {roles: everybody, own: ownRecord, audit: "record-saved"},
	"GET /api/people/:person/data":                       {roles: everybody, own: ownData, audit: "data-saved"},
	"POST /api/people/:person/erasure":                   {roles: []string{store.Coordinator}, own: ownRecord, audit: "person-erased"},
	"GET /api/audit":                                     {roles: []string{store.Coordinator}},
	"GET /api/audit.csv":                                 {roles: []string{store.Coordinator}, audit: "audit-saved"},
	"GET /api/record-store":                              {roles: officers},
	"GET /api/standard":                                  {roles: everybody},
	"PUT /api/standard":                                  {roles: officers, audit: "standard-changed"},
	"POST /api/standard/lines":                           {roles: officers},
	"POST /api/sign-in-sheets":                           {roles: officers, audit: "sheets-made"},
	"GET /api/classes":                                   {roles: officers},
	"POST /api/classes":                                  {roles: officers, audit: "class-added"},
	"PUT /api/classes/:class":                            {roles: officers, audit: "class-changed"},
	"GET /api/classes/:class/analysis":                   {roles: instructors},
	"GET /api/classes/:class/progress":                   {roles: instructors},
	"GET /api/classes/:class/floor":                      {roles: instructors},
	"GET /api/classes/:class/floor/changes":              {roles: instructors},
	"PUT /api/classes/:class/floor/pause":                {roles: instructors, audit: "benches-paused"},
	"POST /api/studies":                                  {roles: instructors},
	"GET /api/exams":                                     {roles: teachers},
	"POST /api/exams":                                    {roles: instructors, audit: "exam-set"},
	"GET /api/exams/:exam":                               {roles: teachers},
	"PUT /api/givings/:given/debriefs":                   {roles: instructors, audit: "debriefs-moved"},
	"GET /api/instruments":                               {roles: hands},
	"PUT /api/instruments":                               {roles: instructors, audit: "instrument-changed"},
	"POST /api/device-readings":                          {anyone: true},
	"GET /api/engines":                                   {roles: instructors},
	"GET /api/engines/:machine":                          {roles: instructors, own: anEngine},
	"PUT /api/engines/:machine":                          {roles: instructors, own: anEngine, audit: "engine-changed"},
	"POST /api/engines/:machine/bugs":                    {roles: instructors, own: anEngine, audit: "engine-bugged"},
	"POST /api/bugs/:bug/acts":                           {roles: instructors, own: aBug, audit: "engine-card"},
	"GET /api/families/:family/lineup":                   {roles: instructors},
	"GET /api/lessons":                                   {roles: hands},
	"POST /api/lessons":                                  {roles: instructors},
	"GET /api/lessons/:lesson":                           {roles: hands, own: ownLesson},
	"PUT /api/lessons/:lesson/answer":                    {roles: []string{store.Apprentice}, own: ownLesson},
	"POST /api/lessons/:lesson/telling":                  {roles: instructors, own: ownLesson},
	"GET /api/lessons/:lesson/changes":                   {roles: hands, own: ownLesson},
	"GET /api/walls":                                     {roles: hands},
	"POST /api/walls":                                    {roles: instructors},
	"GET /api/walls/:wall":                               {roles: hands, own: ownWall},
	"PUT /api/walls/:wall/vote":                          {roles: []string{store.Apprentice}, own: ownWall},
	"POST /api/walls/:wall/steps":                        {roles: instructors, own: ownWall},
	"GET /api/walls/:wall/changes":                       {roles: hands, own: ownWall},
	"GET /api/roster":                                    {roles: officers, audit: "roster-saved"},
	"POST /api/roster":                                   {roles: []string{store.Coordinator}, audit: "roster-taken"},
	"POST /api/roster/comparison":                        {roles: []string{store.Coordinator}},
	"GET /api/families/:family":                          {roles: everybody},
	"GET /api/aids":                                      {roles: everybody},
	"POST /api/aids/:aid":                                {roles: everybody},
	"POST /api/conversions":                              {roles: everybody},
	"GET /api/machines":                                  {roles: instructors},
	"POST /api/machines":                                 {roles: instructors, audit: "machine-added"},
	"PUT /api/machines/:machine":                         {roles: instructors, audit: "machine-changed"},
	"GET /api/sheets/:family":                            {roles: instructors},
	"POST /api/sheets/:family":                           {roles: instructors},
	"GET /api/apprentices":                               {roles: []string{store.Instructor, store.Coordinator}},
	"POST /api/preview":                                  {roles: instructors},
	"GET /api/scenarios":                                 {roles: instructors},
	"POST /api/scenarios":                                {roles: instructors},
	"GET /api/scenarios/:scenario":                       {roles: instructors},
	"PUT /api/scenarios/:scenario":                       {roles: instructors},
	"PUT /api/scenarios/:scenario/archive":               {roles: instructors},
	"GET /api/scenario-packs":                            {roles: instructors},
	"POST /api/scenario-packs":                           {roles: instructors},
	"POST /api/scenario-checks":                          {roles: instructors},
	"POST /api/symptoms":                                 {roles: instructors},
	"POST /api/trials":                                   {roles: instructors},
	"POST /api/generated-scenarios":                      {roles: instructors},
	"POST /api/inside":                                   {roles: instructors},
	"GET /api/procedures":                                {roles: instructors},
	"POST /api/procedures":                               {roles: instructors},
	"GET /api/procedures/:procedure":                     {roles: instructors},
	"PUT /api/procedures/:procedure":                     {roles: instructors},
	"POST /api/procedures/:procedure/revisions":          {roles: instructors},
	"GET /api/procedures/:procedure/revisions/:revision": {roles: instructors},
	"PUT /api/procedures/:procedure/archive":             {roles: instructors},
	"GET /api/procedures/:procedure/pack":                {roles: instructors},
	"POST /api/packs":                                    {roles: instructors},
	"GET /api/schools":                                   {roles: instructors},
	"GET /api/own-figures":                               {roles: instructors},
	"GET /api/own-rates":                                 {roles: instructors},
	"PUT /api/own-figures":                               {roles: instructors, audit: "figures-changed"},
	"POST /api/evaluations":                              {roles: instructors},
	"POST /api/better-orders":                            {roles: instructors},
	"POST /api/planned-pages":                            {roles: instructors},
	"POST /api/beside":                                   {roles: instructors},
	"GET /api/jobs":                                      {roles: instructors},
	"POST /api/jobs":                                     {roles: instructors, audit: "job-set"},
	"POST /api/jobs/:job/attempts":                       {roles: instructors, audit: "job-given"},
	"GET /api/attempts":                                  {roles: atBench},
	"GET /api/attempts/:attempt":                         {roles: atBench, own: ownAttempt},
	"GET /api/attempts/:attempt/observed":                {roles: atBench, own: ownAttempt},
	"POST /api/attempts/:attempt/observed":               {roles: instructors, own: ownAttempt, audit: "engine-observed"},
	"GET /api/attempts/:attempt/heard/:seq":              {roles: atBench, own: ownAttempt},
	"GET /api/attempts/:attempt/photos":                  {roles: atBench, own: ownAttempt},
	"POST /api/attempts/:attempt/photos":                 {roles: hands, own: inOwnHands, audit: "sheet-typed"},
	"GET /api/attempts/:attempt/photos/:photo":           {roles: atBench, own: ownAttempt},
	"DELETE /api/attempts/:attempt/photos/:photo":        {roles: hands, own: inOwnHands, audit: "photo-dropped"},
	"POST /api/attempts/:attempt/device-code":            {roles: hands, own: inOwnHands},
	"GET /api/attempts/:attempt/device-readings":         {roles: hands, own: inOwnHands},
	"GET /api/attempts/:attempt/hints":                   {roles: atBench, own: ownAttempt},
	"POST /api/attempts/:attempt/hints":                  {roles: hands, own: ownAttempt},
	"PUT /api/attempts/:attempt/pause":                   {roles: instructors, own: ownAttempt, audit: "benches-paused"},
	"GET /api/attempts/:attempt/changes":                 {roles: atBench, own: ownAttempt},
	"GET /api/attempts/:attempt/standing":                {roles: instructors, own: ownAttempt},
	"POST /api/first-job":                                {roles: hands},
	"POST /api/attempts/:attempt/events":                 {roles: hands, own: inOwnHands, audit: "sheet-typed"},
	"PUT /api/attempts/:attempt/draft":                   {roles: hands, own: inOwnHands, audit: "sheet-typed"},
	"POST /api/attempts/:attempt/hand-over":              {roles: hands, own: inOwnHands, audit: "sheet-typed"},
	"GET /api/attempts/:attempt/next":                    {roles: hands, own: inOwnHands},
	"GET /api/attempts/:attempt/debrief":                 {roles: atBench, own: released, audit: "debrief-seen"},
	"GET /api/attempts/:attempt/inside":                  {roles: atBench, own: released},
	"GET /api/attempts/:attempt/behind":                  {roles: instructors, own: inOwnHands},
	"GET /api/attempts/:attempt/ledger":                  {roles: teachers, own: ownAttempt, audit: "ledger-seen"},
	"POST /api/attempts/:attempt/renewal":                {roles: instructors, own: ownAttempt, audit: "given-anew"},
	"POST /api/attempts/:attempt/review":                 {roles: atBench, own: released, audit: "marks-changed"},
	"POST /api/attempts/:attempt/anew":                   {roles: teachers, own: ownAttempt, audit: "judged-again"},
	"POST /api/attempts/:attempt/resit":                  {roles: instructors, own: ownAttempt, audit: "resit-given"},
	"POST /api/attempts/:attempt/practice":               {roles: []string{store.Apprentice}, own: released},
	"GET /api/attempts/:attempt/export":                  {roles: teachers, own: ownAttempt, audit: "attempt-saved"},
	"GET /api/reviews":                                   {roles: teachers},
	"GET /api/markers":                                   {roles: teachers},
	"GET /*":                                             {anyone: true}, // the application's own files
}

// Policy lists the routes of the policy, sorted, for whoever holds them against
// the router's.
func Policy() []string { return slices.Sorted(maps.Keys(policy)) }

// withSheet is what somebody may do who has the password of a sheet.
var withSheet = []string{"GET /api/me", "PUT /api/me/password", "DELETE /api/session"}

type personKey struct{}

// whoIs is the person the policy let through.
func whoIs(ctx context.Context) store.Person {
	p, _ := ctx.Value(personKey{}).(store.Person)
	return p
}

// enforce is the policy as a middleware of every route.
func (s *Server) enforce(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		route := c.RouteInfo()
		if route.Path == "" { // there is no such route
			return errAddress
		}
		method := route.Method
		if method == http.MethodHead {
			method = http.MethodGet
		}
		r, known := policy[method+" "+route.Path]
		if !known {
			return errRole
		}
		if r.anyone {
			return next(c)
		}
		ctx := c.Request().Context()
		p, err := s.caller(ctx)
		if err != nil {
			return err
		}
		if !slices.Contains(r.roles, p.Role) {
			return errRole
		}
		if p.MustChange && !slices.Contains(withSheet, method+" "+route.Path) {
			return errChangePassword
		}
		if r.own != nil {
			if ctx, err = r.own(s, ctx, p, c); err != nil {
				return err
			}
		}
		c.SetRequest(c.Request().WithContext(context.WithValue(ctx, personKey{}, p)))
		if err := next(c); err != nil || r.audit == "" {
			return err
		}
		s.audit(c, p, r.audit)
		return nil
	}
}

type attemptKey struct{}

// ownAttempt finds the attempt of a route.
func ownAttempt(s *Server, ctx context.Context, who store.Person, c *echo.Context) (context.Context, error) {
	id, err := uuid.Parse(c.Param("attempt"))
	if err != nil {
		return ctx, errNotFound
	}
	a, err := s.store.AttemptRow(ctx, id)
	if err != nil {
		return ctx, err
	}
	if who.Role == store.Apprentice {
		if a.ApprenticeID != who.ID || a.State == store.StateClosed {
			return ctx, errNotFound
		}
		card, err := s.card(ctx, a.JobID)
		if err != nil {
			return ctx, err
		}
		if card.times.unopened(who) {
			return ctx, errNotFound
		}
	}
	return context.WithValue(ctx, attemptKey{}, a), nil
}

// inOwnHands finds it for the one who works on it alone: an instructor looks over a
// shoulder and does nothing there, but may have a first job, and types in what somebody
// wrote on paper at a real engine.
func inOwnHands(s *Server, ctx context.Context, who store.Person, c *echo.Context) (context.Context, error) {
	ctx, err := ownAttempt(s, ctx, who, c)
	if err != nil || attempt(ctx).ApprenticeID == who.ID {
		return ctx, err
	}
	card, err := s.card(ctx, attempt(ctx).JobID)
	if err == nil && card.sc.Iron == nil {
		err = errRole
	}
	return ctx, err
}

// released finds an attempt whose debrief may be read by who asks.
func released(s *Server, ctx context.Context, who store.Person, c *echo.Context) (context.Context, error) {
	ctx, err := ownAttempt(s, ctx, who, c)
	if err != nil {
		return ctx, err
	}
	at, err := s.store.DebriefAt(ctx, attempt(ctx).JobID)
	if err == nil && heldBack(at, who) {
		err = refuse(http.StatusConflict, "http.debrief-held-back", "at", at.UTC().Format(time.RFC3339))
	}
	return ctx, err
}

// attempt is the one that the policy let through. It panics on a route whose
// rule does not load one, which the walk over the routes would find.
func attempt(ctx context.Context) store.Attempt { return ctx.Value(attemptKey{}).(store.Attempt) }
