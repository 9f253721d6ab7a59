package httpapi_test

import (
	"bytes"
	"io"
	"maps"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/internal/httpapi"
)

// Every route, for nobody, an instructor, the owner and another apprentice.
func TestRoutesRolesOwnership(t *testing.T) {
	s := open(t)
	inst, ann, bob, nobody := s.as("inst"), s.as("ann"), s.as("bob"), s.anyone()
	attempt := s.job(inst, "main-jet-blocked", 0.6, "ann")
	_, raw := inst.get("/api/jobs")
	job := decode[[]httpapi.Job](t, raw)[0].Id.String()
	hand := map[string]any{"findings": []any{}, "verdict": "x", "proof_seq": -1}
	spec := map[string]any{"machine_id": uuid.NewString(), "faults": []any{}, "words": "", "claim": "", "limit_minutes": 1, "limit_money": 1}
	event := map[string]any{"client_id": uuid.NewString(), "after": 0, "event": map[string]any{"kind": "wait", "minutes": 1}}
	machineSpec := map[string]any{"name": "", "code": "", "family": "f4-bowl", "duty": "", "sheet": []any{}}
	a := "/api/attempts/" + attempt
	const ok, no, none, wrong = 200, 403, 404, 422
	for _, c := range []struct {
		method, path             string
		body                     any
		instructor, owner, other int // the status each may have; nobody gets 401
	}{
		{"GET", "/api/me", nil, ok, ok, ok},
		{"GET", "/api/families/f4-bowl", nil, ok, ok, ok},
		{"GET", "/api/machines", nil, ok, no, no},
		{"POST", "/api/machines", machineSpec, wrong, no, no},
		{"PUT", "/api/machines/" + uuid.NewString(), machineSpec, none, no, no},
		{"GET", "/api/sheets/f4-bowl", nil, ok, no, no},
		{"POST", "/api/sheets/f4-bowl", []any{}, ok, no, no},
		{"GET", "/api/apprentices", nil, ok, no, no},
		{"POST", "/api/preview", spec, wrong, no, no},
		{"GET", "/api/jobs", nil, ok, no, no},
		{"POST", "/api/jobs", spec, wrong, no, no},
		{"POST", "/api/jobs/" + job + "/attempts", map[string]any{"apprentice_id": uuid.NewString()}, wrong, no, no},
		{"GET", "/api/attempts", nil, ok, ok, ok},
		{"GET", a, nil, ok, ok, none},
		{"POST", a + "/events", event, no, ok, none},
		{"PUT", a + "/draft", hand, no, 204, none},
		{"POST", a + "/hand-over", hand, no, wrong, none},
		{"GET", a + "/debrief", nil, 409, 409, none},
		{"GET", a + "/next", nil, no, 409, none},
		{"GET", a + "/inside", nil, 409, 409, none},
		{"POST", "/api/inside", map[string]any{"machine_id": uuid.NewString(), "faults": []any{}, "minutes": 5, "load": "test"}, wrong, no, no},
		{"GET", "/api/aids", nil, ok, ok, ok},
		{"POST", "/api/aids/premix", map[string]any{"fuel": 3}, ok, ok, ok},
		{"POST", "/api/conversions", map[string]any{"reading": "7 1/2", "unit": "psi"}, ok, ok, ok},
		{"DELETE", "/api/session", nil, 204, 204, 204},
	} {
		for _, who := range []struct {
			name string
			u    *user
			want int
		}{{"nobody", nobody, 401}, {"other", bob, c.other}, {"owner", ann, c.owner}, {"instructor", inst, c.instructor}} {
			code, raw := who.u.call(c.method, c.path, c.body)
			assert.Equal(t, who.want, code, "%s %s as %s: %s", c.method, c.path, who.name, raw)
		}
	}
	// The list of attempts is one's own.
	bob = s.as("bob")
	_, raw = bob.get("/api/attempts")
	assert.Equal(t, "[]\n", string(raw))
	// Nothing in the description is missing from this walk.
	doc, err := httpapi.GetSpec()
	require.NoError(t, err)
	n := 0
	for _, p := range doc.Paths.Map() {
		n += len(p.Operations())
	}
	assert.Equal(t, 26, n, "a new operation belongs into the policy and into this walk")
}

var ids = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}`)

// everything an apprentice can fetch of an attempt, with the ids taken out.
func everything(t *testing.T, u *user, attempt string) string {
	var out bytes.Buffer
	for _, p := range []string{"/api/me", "/api/families/f4-bowl", "/api/attempts/" + attempt, "/api/attempts/" + attempt + "/debrief", "/api/attempts/" + attempt + "/inside",
		"/api/attempts/" + attempt + "/events", "/api/machines", "/api/jobs", "/api/preview", "/", "/assets/a.js", "/api/attempts/" + uuid.NewString()} {
		req, err := http.NewRequest("GET", u.url+p, nil)
		require.NoError(t, err)
		res, err := u.c.Do(req)
		require.NoError(t, err)
		body, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		res.Body.Close()
		out.WriteString(p + " ")
		for _, k := range slices.Sorted(maps.Keys(res.Header)) {
			if k != "Date" && k != "Set-Cookie" && k != "Last-Modified" {
				out.WriteString(k + strings.Join(res.Header[k], ","))
			}
		}
		out.Write(body)
	}
	return regexp.MustCompile(`"job_number":\d+`).ReplaceAllString(ids.ReplaceAllString(out.String(), "ID"), "N")
}

// The answer stays hidden: of two jobs that differ only in the fault, an
// apprentice sees the same until a test is made, and never a fault's name, its
// severity, a validity or a true band.
func TestAnswerStaysHidden(t *testing.T) {
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	attempts := map[string]string{}
	for i, f := range catalogue.Standard().FaultsOf("f4-bowl", nil) {
		if i%6 == 0 || f.ID == "switch-off" || f.ID == "valve-shut" || f.ID == "main-jet-blocked" {
			attempts[f.ID] = s.job(inst, f.ID, 0.7319, "ann")
		}
	}
	first := ""
	for fault, a := range attempts {
		seen := everything(t, ann, a)
		if first == "" {
			first = seen
		}
		assert.Equal(t, first, seen, "the job with %s looks different before anything is done", fault)
	}
	// A day's work, and then the same search in every answer on the way.
	for fault, a := range attempts {
		var all bytes.Buffer
		for _, e := range []map[string]any{
			{"kind": "control", "control": map[string]any{"choke": 1}}, {"kind": "take", "test": "start-attempt"}, {"kind": "take", "test": "compression-dry"},
			{"kind": "act", "act": "pull"}, {"kind": "entry", "reading": "62", "unit": "psi", "judged": "within"}, {"kind": "take", "test": "jet-look"},
			{"kind": "repair", "repair": "clean", "reach": "jets"}, {"kind": "mark", "reach": "jets", "mark": "condemned"}, {"kind": "take", "test": "look-switches"}, {"kind": "nonsense"},
		} {
			_, raw := ann.do(a, ann.bench(a).Seq, e)
			all.Write(raw)
		}
		all.WriteString(everything(t, ann, a))
		text := strings.ReplaceAll(all.String(), familyOf(t, ann), "")
		for _, f := range catalogue.Standard().FaultsOf("f4-bowl", nil) {
			assert.NotContains(t, text, f.ID, "with %s hidden", fault)
			assert.NotContains(t, text, f.Name, "with %s hidden", fault)
		}
		for _, word := range []string{"severity", `"valid"`, "invalid_because", `"band"`, "true_band", `"seed"`, "scenario", "0.73"} {
			assert.NotContains(t, text, word, "with %s hidden", fault)
		}
	}
}

// familyOf is the list of every fault there is, the same for every job.
func familyOf(t *testing.T, u *user) string {
	_, raw := u.get("/api/families/f4-bowl")
	return string(raw)
}

func TestSignIn(t *testing.T) {
	s := open(t)
	u := s.anyone()
	wrong := func(name string) (int, string) {
		code, raw := u.call("POST", "/api/session", map[string]string{"name": name, "password": "no"})
		return code, string(raw)
	}
	code, unknown := wrong("zoe")
	assert.Equal(t, 401, code)
	_, known := wrong("ann")
	assert.Equal(t, unknown, known, "nobody learns whether a name exists")
	for range 4 {
		wrong("ann")
	}
	code, _ = wrong("ann")
	assert.Equal(t, 429, code)
	code, raw := u.call("POST", "/api/session", map[string]string{"name": "ann", "password": "pw-ann"})
	assert.Equal(t, 429, code, "the right password must not tell itself by getting through: %s", raw)
	code, _ = u.call("POST", "/api/session", map[string]string{"name": "bob", "password": "pw-bob"})
	assert.Equal(t, 200, code, "somebody else is not held up")
	// Signing out ends the session on the server, not only in the browser.
	before := u.c.Jar.Cookies(mustURL(s.url))
	code, _ = u.call("DELETE", "/api/session", nil)
	assert.Equal(t, 204, code)
	u.c.Jar.SetCookies(mustURL(s.url), before)
	code, _ = u.get("/api/me")
	assert.Equal(t, 401, code)
	// Demo sign-ins are refused on any address but loopback.
	s.serve(false)
	code, raw = s.anyone().call("POST", "/api/session", map[string]string{"name": "bob", "password": "pw-bob"})
	assert.Equal(t, 403, code, string(raw))
}

func TestHeadersAndOrigins(t *testing.T) {
	s := open(t)
	res, err := http.Get(s.url + "/")
	require.NoError(t, err)
	res.Body.Close()
	csp := res.Header.Get("Content-Security-Policy")
	assert.Contains(t, csp, "script-src 'self';")
	assert.NotContains(t, csp, "script-src 'self' 'unsafe-inline'")
	assert.Contains(t, csp, "frame-ancestors 'none'")
	assert.Equal(t, "nosniff", res.Header.Get("X-Content-Type-Options"))
	res, err = http.Get(s.url + "/bench/x")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 200, res.StatusCode, "the page routes for itself")
	ann := s.as("ann")
	for _, c := range ann.c.Jar.Cookies(mustURL(s.url)) {
		assert.NotEmpty(t, c.Value)
	}
	req, _ := http.NewRequest("POST", s.url+"/api/session", strings.NewReader(`{"name":"ann","password":"pw-ann"}`))
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Origin", "https://elsewhere.example")
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	res, err = http.DefaultClient.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 403, res.StatusCode)
	req.Header.Del("Origin")
	req.Header.Del("Sec-Fetch-Site")
	req.Body = io.NopCloser(strings.NewReader(`{"name":"ann","password":"pw-ann"}`))
	res, err = http.DefaultClient.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	cookie := res.Header.Get("Set-Cookie")
	assert.Contains(t, cookie, "HttpOnly")
	assert.Contains(t, cookie, "SameSite=Strict")
}
