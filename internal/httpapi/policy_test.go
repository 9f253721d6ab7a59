package httpapi_test

import (
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
	"zanjero/internal/store"
)

// person adds somebody of a role to a site, with the password "pw-" and the name.
func (s *site) person(name, role string) *user {
	require.NoError(s.t, s.store.AddPerson(s.t.Context(), &store.Person{ID: uuid.New(), Name: name, DisplayName: name, Role: role,
		PasswordHash: cheap.Hash("pw-" + name), SessionEpoch: 1}))
	return s.as(name)
}

// The policy is the router's own table, as a set: no route without a rule, no
// rule without a route, and every operation of the description is a route.
func TestPolicyIsTheRoutersTable(t *testing.T) {
	t.Parallel()
	s := &site{t: t, store: open(t).store}
	srv := s.serve(true)
	routes := srv.Routes()
	slices.Sort(routes)
	assert.Equal(t, httpapi.Policy(), routes)
	doc, err := httpapi.GetSpec()
	require.NoError(t, err)
	for path, item := range doc.Paths.Map() {
		for method := range item.Operations() {
			route := method + " " + strings.NewReplacer("{", ":", "}", "").Replace(path)
			assert.Contains(t, routes, route)
		}
	}
}

// Every route is tried as nobody, in each role, and as the owner of what it
// touches and another: what is not allowed is refused before anything is looked
// at, and another's is as if it were not there.
func TestRoutesRolesOwnership(t *testing.T) {
	t.Parallel()
	s := open(t)
	srv := s.serve(true)
	inst, ann, bob := s.as("inst"), s.as("ann"), s.as("bob")
	assessor, coordinator := s.person("ass", store.Assessor), s.person("coo", store.Coordinator)
	attempt := s.job(inst, "main-jet-blocked", 0.7, "ann")
	_, raw := inst.get("/api/jobs")
	job := decode[httpapi.JobPage](t, raw).Items[0].Id.String()
	event := func() any {
		return map[string]any{"client_id": uuid.NewString(), "after": 0, "event": map[string]any{"kind": "wait", "minutes": 1}}
	}
	machine := map[string]any{"name": "", "code": "", "family": "f4-bowl", "duty": "", "sheet": []any{}}
	spec := map[string]any{"machine_id": uuid.NewString(), "faults": []any{}, "words": "", "claim": "", "limit_minutes": 1, "limit_money": 1}
	hand := map[string]any{"findings": []any{}, "verdict": "x", "proof_seq": -1}
	draft := map[string]any{"id": "x", "title": "X", "revision": 1, "families": []any{}, "steps": []any{}}
	form := map[string]any{"machine": "f4-bowl", "faults": []any{}, "complaint": "", "words": "", "limit_minutes": 1, "limit_money": 1}
	// with is a body about a machine that is not there.
	with := func(pairs ...any) func() any {
		body := map[string]any{"machine_id": uuid.NewString()}
		for i := 0; i < len(pairs); i += 2 {
			body[pairs[i].(string)] = pairs[i+1]
		}
		return func() any { return body }
	}
	const ok, no, none, wrong = 200, 403, 404, 422
	// The status for an instructor, the owner, another apprentice, an assessor
	// and a coordinator; nobody gets 401 everywhere but where anyone may go.
	walk := map[string]struct {
		body                                            func() any
		instructor, owner, other, assessor, coordinator int
	}{
		"GET /*":                           {nil, ok, ok, ok, ok, ok},
		"POST /api/session":                {func() any { return map[string]any{"name": uuid.NewString(), "password": "y"} }, 401, 401, 401, 401, 401},
		"GET /api/me":                      {nil, ok, ok, ok, ok, ok},
		"GET /api/families/:family":        {nil, ok, ok, ok, ok, ok},
		"GET /api/families/:family/lineup": {nil, ok, no, no, no, no},
		"PUT /api/me/password":             {func() any { return map[string]any{"old": "x", "new": "y"} }, wrong, wrong, wrong, wrong, wrong},
		"PUT /api/me/language":             {func() any { return map[string]any{"language": "es"} }, 204, 204, 204, 204, 204},
		"GET /api/people":                  {nil, ok, no, no, no, ok},
		"POST /api/people": {func() any {
			return map[string]any{"display_name": "", "name": "", "role": "apprentice", "here": true}
		}, wrong, no, no, no, wrong},
		"PUT /api/people/:person": {func() any {
			return map[string]any{"display_name": "X", "name": "xx", "role": "apprentice", "here": true}
		}, none, no, no, no, none},
		"GET /api/people/:person/record":        {nil, none, none, none, none, none},
		"GET /api/people/:person/record.csv":    {nil, none, none, none, none, none},
		"GET /api/people/:person/statements":    {nil, none, none, none, none, none},
		"GET /api/people/:person/data":          {nil, none, none, none, none, none},
		"POST /api/people/:person/erasure":      {func() any { return map[string]any{"name": "x"} }, no, no, no, no, none},
		"GET /api/audit":                        {nil, no, no, no, no, ok},
		"GET /api/audit.csv":                    {nil, no, no, no, no, ok},
		"GET /api/record-store":                 {nil, ok, no, no, no, ok},
		"GET /api/standard":                     {nil, ok, ok, ok, ok, ok},
		"PUT /api/standard":                     {func() any { return map[string]any{"title": "", "lines": []any{}, "changes": 7} }, 409, no, no, no, 409},
		"POST /api/standard/lines":              {func() any { return map[string]any{"file": ""} }, ok, no, no, no, ok},
		"POST /api/sign-in-sheets":              {func() any { return map[string]any{"people": []any{uuid.NewString()}} }, none, no, no, no, none},
		"GET /api/classes":                      {nil, ok, no, no, no, ok},
		"POST /api/classes":                     {func() any { return map[string]any{"title": "", "term": "T", "members": []any{}} }, wrong, no, no, no, wrong},
		"PUT /api/classes/:class":               {func() any { return map[string]any{"title": "X", "term": "T", "members": []any{}} }, none, no, no, no, none},
		"GET /api/classes/:class/analysis":      {nil, none, no, no, no, no},
		"GET /api/classes/:class/progress":      {nil, none, no, no, no, no},
		"GET /api/classes/:class/floor":         {nil, none, no, no, no, no},
		"GET /api/classes/:class/floor/changes": {nil, none, no, no, no, no},
		"PUT /api/classes/:class/floor/pause":   {func() any { return map[string]any{"giving": uuid.NewString(), "paused": true} }, none, no, no, no, no},
		"POST /api/studies":                     {func() any { return map[string]any{"file": "x"} }, wrong, no, no, no, no},
		"GET /api/exams":                        {nil, ok, no, no, ok, no},
		"POST /api/exams": {func() any {
			return map[string]any{"id": uuid.NewString(), "title": "", "starts_at": "2026-11-27T08:00:00Z", "minutes": 30, "rest": 5, "people": []any{uuid.NewString()},
				"bugs": []any{uuid.NewString()}, "debrief_at": "2026-11-28T08:00:00Z", "limit_money": 1}
		}, wrong, no, no, no, no},
		"GET /api/exams/:exam":             {nil, none, no, no, none, no},
		"PUT /api/givings/:given/debriefs": {func() any { return map[string]any{"at": "2026-11-28T08:00:00Z"} }, none, no, no, no, no},
		"GET /api/instruments":             {nil, ok, ok, ok, no, no},
		"PUT /api/instruments": {func() any {
			return map[string]any{"id": uuid.NewString(), "code": "", "name": "", "checked_on": "2026-01-01", "due_on": "2026-01-01",
				"reads": map[string]any{}, "revision": 0}
		}, wrong, no, no, no, no},
		"POST /api/device-readings": {func() any {
			return map[string]any{"code": "x", "line": "reading test=spark-gap value=6 unit=mm at=2026-11-27T14:03:00Z device=X"}
		}, none, none, none, none, none},
		"GET /api/engines":          {nil, ok, no, no, no, no},
		"GET /api/engines/:machine": {nil, none, no, no, no, no},
		"PUT /api/engines/:machine": {func() any { return map[string]any{"serial": "1", "note": ""} }, none, no, no, no, no},
		"POST /api/engines/:machine/bugs": {func() any {
			bug := map[string]any{"fault": map[string]any{"id": "x", "severity": 1}, "done": "", "undo": "", "complaint": "", "words": "", "sound": []any{}}
			return map[string]any{"id": uuid.NewString(), "bug": bug}
		}, none, no, no, no, no},
		"POST /api/bugs/:bug/acts": {func() any { return map[string]any{"after": 1, "act": map[string]any{"kind": "back"}} }, none, no, no, no, no},
		"GET /api/lessons":         {nil, ok, ok, ok, no, no},
		"POST /api/lessons": {func() any {
			return map[string]any{"id": uuid.NewString(), "class_id": uuid.NewString(), "machine_id": uuid.NewString(), "test": "x",
				"asked": map[string]any{"id": "x", "severity": 1}}
		}, wrong, no, no, no, no},
		"GET /api/lessons/:lesson":          {nil, none, none, none, no, no},
		"PUT /api/lessons/:lesson/answer":   {func() any { return map[string]any{"side": 0} }, no, none, none, no, no},
		"POST /api/lessons/:lesson/telling": {nil, none, no, no, no, no},
		"GET /api/lessons/:lesson/changes":  {nil, none, none, none, no, no},
		"GET /api/walls":                    {nil, ok, ok, ok, no, no},
		"POST /api/walls": {func() any {
			return map[string]any{"id": uuid.NewString(), "class_id": uuid.NewString(), "scenario": uuid.NewString()}
		}, wrong, no, no, no, no},
		"GET /api/walls/:wall":         {nil, none, none, none, no, no},
		"PUT /api/walls/:wall/vote":    {func() any { return map[string]any{"round": 0, "test": "plug-look"} }, no, none, none, no, no},
		"POST /api/walls/:wall/steps":  {func() any { return map[string]any{"version": 0, "step": "close"} }, none, no, no, no, no},
		"GET /api/walls/:wall/changes": {nil, none, none, none, no, no},
		"GET /api/roster":              {nil, ok, no, no, no, ok},
		"POST /api/roster":             {func() any { return map[string]any{"name": "f.csv", "file": ""} }, no, no, no, no, wrong},
		"POST /api/roster/comparison":  {func() any { return map[string]any{"name": "f.csv", "file": ""} }, no, no, no, no, wrong},
		"GET /api/aids":                {nil, ok, ok, ok, ok, ok},
		"POST /api/aids/:aid":          {func() any { return map[string]any{} }, ok, ok, ok, ok, ok},
		"POST /api/conversions":        {func() any { return map[string]any{"reading": "7 1/2", "unit": "psi"} }, ok, ok, ok, ok, ok},
		"GET /api/machines":            {nil, ok, no, no, no, no},
		"POST /api/machines":           {func() any { return machine }, wrong, no, no, no, no},
		"PUT /api/machines/:machine":   {func() any { return machine }, none, no, no, no, no},
		"GET /api/sheets/:family":      {nil, ok, no, no, no, no},
		"POST /api/sheets/:family":     {func() any { return []any{} }, ok, no, no, no, no},
		"GET /api/apprentices":         {nil, ok, no, no, no, ok},
		"POST /api/preview":            {func() any { return spec }, wrong, no, no, no, no},
		"GET /api/scenarios":           {nil, ok, no, no, no, no},
		"POST /api/scenarios": {func() any {
			return map[string]any{"id": uuid.NewString(), "machine_id": uuid.NewString(), "draft": form}
		}, wrong, no, no, no, no},
		"GET /api/scenarios/:scenario":         {nil, none, no, no, no, no},
		"PUT /api/scenarios/:scenario":         {with("changes", 1, "draft", form), wrong, no, no, no, no},
		"PUT /api/scenarios/:scenario/archive": {func() any { return map[string]any{"archived": true} }, none, no, no, no, no},
		"GET /api/scenario-packs":              {nil, 400, no, no, no, no},
		"POST /api/scenario-packs":             {func() any { return map[string]any{} }, wrong, no, no, no, no},
		"POST /api/trials":                     {func() any { return spec }, wrong, no, no, no, no},
		"GET /api/attempts/:attempt/behind":    {nil, no, no, no, no, no},
		"POST /api/scenario-checks":            {func() any { return spec }, wrong, no, no, no, no},
		"POST /api/symptoms":                   {func() any { return spec }, wrong, no, no, no, no},
		"POST /api/generated-scenarios":        {func() any { return map[string]any{"like": spec, "count": 1} }, wrong, no, no, no, no},
		"POST /api/inside": {func() any {
			return map[string]any{"machine_id": uuid.NewString(), "faults": []any{}, "minutes": 5, "load": "test"}
		}, wrong, no, no, no, no},
		"GET /api/procedures": {nil, ok, no, no, no, no},
		"POST /api/procedures": {func() any {
			return map[string]any{"id": uuid.NewString(), "machine_id": uuid.NewString(), "draft": draft}
		}, wrong, no, no, no, no},
		"GET /api/procedures/:procedure":                     {nil, none, no, no, no, no},
		"PUT /api/procedures/:procedure":                     {with("changes", 1, "draft", draft), wrong, no, no, no, no},
		"POST /api/procedures/:procedure/revisions":          {func() any { return map[string]any{"changes": 1} }, none, no, no, no, no},
		"GET /api/procedures/:procedure/revisions/:revision": {nil, none, no, no, no, no},
		"PUT /api/procedures/:procedure/archive":             {func() any { return map[string]any{"archived": true} }, none, no, no, no, no},
		"GET /api/procedures/:procedure/pack":                {nil, none, no, no, no, no},
		"POST /api/packs":                                    {func() any { return map[string]any{} }, 400, no, no, no, no},
		"GET /api/schools":                                   {nil, 400, no, no, no, no},
		"POST /api/attempts/:attempt/review": {func() any {
			return map[string]any{"after": 0, "kind": "comment", "text": "Hm."}
		}, 409, 409, none, 409, no},
		"POST /api/attempts/:attempt/anew":      {func() any { return map[string]any{"after": 0} }, 409, no, no, 409, no},
		"POST /api/attempts/:attempt/resit":     {func() any { return map[string]any{"after": 0} }, 409, no, no, no, no},
		"POST /api/attempts/:attempt/practice":  {nil, no, 409, none, no, no},
		"GET /api/attempts/:attempt/export":     {nil, 409, no, no, 409, no},
		"GET /api/reviews":                      {nil, ok, no, no, ok, no},
		"GET /api/markers":                      {nil, ok, no, no, ok, no},
		"GET /api/own-rates":                    {nil, ok, no, no, no, no},
		"GET /api/own-figures":                  {nil, 200, no, no, no, no},
		"PUT /api/own-figures":                  {func() any { return map[string]any{} }, 400, no, no, no, no},
		"POST /api/evaluations":                 {with("complaint", "", "procedure", draft), wrong, no, no, no, no},
		"POST /api/better-orders":               {with("complaint", "", "procedure", draft), wrong, no, no, no, no},
		"POST /api/planned-pages":               {with("complaint", "", "steps", 3), wrong, no, no, no, no},
		"POST /api/beside":                      {with("complaint", ""), wrong, no, no, no, no},
		"GET /api/jobs":                         {nil, ok, no, no, no, no},
		"POST /api/jobs":                        {func() any { return spec }, wrong, no, no, no, no},
		"POST /api/jobs/:job/attempts":          {func() any { return map[string]any{"apprentices": []any{uuid.NewString()}} }, wrong, no, no, no, no},
		"GET /api/attempts":                     {nil, ok, ok, ok, ok, no},
		"GET /api/attempts/:attempt":            {nil, ok, ok, none, ok, no},
		"POST /api/first-job":                   {nil, ok, ok, ok, no, no},
		"POST /api/attempts/:attempt/events":    {event, no, ok, none, no, no},
		"PUT /api/attempts/:attempt/draft":      {func() any { return hand }, no, 204, none, no, no},
		"POST /api/attempts/:attempt/hand-over": {func() any { return hand }, no, wrong, none, no, no},
		"GET /api/attempts/:attempt/observed":   {nil, ok, ok, none, ok, no},
		"POST /api/attempts/:attempt/observed":  {func() any { return map[string]any{"kind": "hold", "item": "x", "initials": ""} }, none, no, no, no, no},
		"GET /api/attempts/:attempt/heard/:seq": {nil, none, none, none, none, no},
		"GET /api/attempts/:attempt/photos":     {nil, ok, ok, none, ok, no},
		"POST /api/attempts/:attempt/photos": {func() any { return map[string]any{"id": uuid.NewString(), "note": "", "image": "AAAA"} },
			no, none, none, no, no},
		"GET /api/attempts/:attempt/photos/:photo":    {nil, none, none, none, none, no},
		"DELETE /api/attempts/:attempt/photos/:photo": {nil, no, 204, none, no, no},
		"POST /api/attempts/:attempt/device-code":     {nil, no, none, none, no, no},
		"GET /api/attempts/:attempt/device-readings":  {nil, no, ok, none, no, no},
		"GET /api/attempts/:attempt/hints":            {nil, ok, ok, none, ok, no},
		"POST /api/attempts/:attempt/hints":           {func() any { return map[string]any{"id": uuid.NewString(), "words": "Look again."} }, ok, ok, none, no, no},
		"PUT /api/attempts/:attempt/pause":            {func() any { return map[string]any{"paused": true} }, 204, no, no, no, no},
		"GET /api/attempts/:attempt/changes":          {nil, ok, ok, none, ok, no},
		"GET /api/attempts/:attempt/standing":         {nil, ok, no, no, no, no},
		"GET /api/attempts/:attempt/next":             {nil, no, 409, none, no, no},
		"GET /api/attempts/:attempt/debrief":          {nil, 409, 409, none, 409, no},
		"GET /api/attempts/:attempt/inside":           {nil, 409, 409, none, 409, no},
		"GET /api/attempts/:attempt/ledger":           {nil, ok, no, no, ok, no},
		"POST /api/attempts/:attempt/renewal":         {nil, 409, no, no, no, no},
		"DELETE /api/session":                         {nil, 204, 204, 204, 204, 204},
	}
	ids := strings.NewReplacer(":attempt", attempt, ":job", job, ":machine", uuid.NewString(), ":bug", uuid.NewString(),
		":photo", uuid.NewString(), ":exam", uuid.NewString(), ":given", uuid.NewString(), ":lesson", uuid.NewString(), ":seq", "99",
		":procedure", uuid.NewString(), ":scenario", uuid.NewString(),
		":person", uuid.NewString(), ":class", uuid.NewString(), ":wall", uuid.NewString(), "floor/changes", "floor/changes?giving="+uuid.NewString(),
		":revision", "1", ":family", "f4-bowl", ":aid", "premix", "/*", "/bench/x")
	routes := srv.Routes()
	slices.SortFunc(routes, func(a, b string) int { // signing out comes last
		return strings.Compare(strings.Replace(a, "DELETE", "Z", 1), strings.Replace(b, "DELETE", "Z", 1))
	})
	for _, route := range routes {
		c, known := walk[route]
		require.True(t, known, "%s is not in this walk", route)
		method, path, _ := strings.Cut(ids.Replace(route), " ")
		nobody := 401
		switch route {
		case "GET /*":
			nobody = ok
		case "POST /api/device-readings": // by a code, and this is none
			nobody = none
		}
		for _, who := range []struct {
			name string
			u    *user
			want int
		}{{"nobody", s.anyone(), nobody}, {"other", bob, c.other}, {"owner", ann, c.owner}, {"instructor", inst, c.instructor}, {"assessor", assessor,
			c.assessor}, {"coordinator", coordinator, c.coordinator}} {
			var body any
			if c.body != nil {
				body = c.body()
			}
			call := who.u.call
			if strings.HasSuffix(route, "/changes") { // it ends when who asked hangs up
				call = who.u.peek
			}
			code, raw := call(method, path, body)
			assert.Equal(t, who.want, code, "%s as %s: %.200s", route, who.name, raw)
		}
	}
	assert.Len(t, walk, len(routes))
	// The list of attempts is one's own.
	_, raw = s.as("bob").get("/api/attempts")
	assert.NotContains(t, string(raw), attempt)
	assert.Len(t, decode[httpapi.AttemptPage](t, raw).Items, 1, "the first job that he took")
}

// A route that nobody thought of is refused, and so is a method.
func TestUnknownRoutes(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	for _, c := range []struct{ method, path string }{{"GET", "/api/secrets"}, {"POST", "/api/me"}, {"DELETE", "/api/attempts/" + uuid.NewString()},
		{"TRACE", "/api/me"}, {"POST", "/"}} {
		req, err := http.NewRequest(c.method, s.url+c.path, nil)
		require.NoError(t, err)
		res, err := inst.c.Do(req)
		require.NoError(t, err)
		res.Body.Close()
		assert.Contains(t, []int{403, 404, 405}, res.StatusCode, "%s %s", c.method, c.path)
	}
}
