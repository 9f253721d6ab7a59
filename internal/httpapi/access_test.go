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
	"zanjero/core/machine"
	"zanjero/core/scenario"
	"zanjero/messages"
)

var ids = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}`)

// everything an apprentice can fetch, of one attempt where a route is of one, with
// the ids taken out. The list is the router's own.
func everything(t *testing.T, u *user, routes []string, attempt string) string {
	var out bytes.Buffer
	paths := []string{"/", "/assets/a.js", "/api/nowhere", "/api/attempts/" + uuid.NewString()}
	fill := strings.NewReplacer(":attempt", attempt, ":family", "f4-bowl", ":machine", uuid.NewString(), ":bug", uuid.NewString(),
		":photo", uuid.NewString(), ":exam", uuid.NewString(), ":given", uuid.NewString(), ":lesson", uuid.NewString(), ":seq", "1",
		":job", uuid.NewString(), "/*", "/bench/x")
	for _, route := range routes {
		if path, isGet := strings.CutPrefix(route, "GET "); isGet {
			paths = append(paths, fill.Replace(path))
		}
	}
	for _, p := range paths {
		req, err := http.NewRequest("GET", u.url+p, nil)
		require.NoError(t, err)
		res, err := u.c.Do(req)
		require.NoError(t, err)
		var told io.Reader = res.Body
		if strings.HasSuffix(p, "/changes") { // it ends when who asked hangs up
			first := make([]byte, 512)
			n, _ := res.Body.Read(first)
			told = bytes.NewReader(first[:n])
		}
		body, err := io.ReadAll(told)
		require.NoError(t, err)
		res.Body.Close()
		out.WriteString(p + " ")
		for _, k := range slices.Sorted(maps.Keys(res.Header)) {
			if !slices.Contains([]string{"Date", "Set-Cookie", "Last-Modified", "Content-Length", "Etag"}, k) {
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
	t.Parallel()
	s := open(t)
	routes := s.serve(true).Routes()
	inst, ann := s.as("inst"), s.as("ann")
	attempts := map[string]string{}
	sc := &scenario.Scenario{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Ambient: machine.Ambient{TemperatureC: 20}}
	n := 0
	for _, f := range catalogue.Standard().FaultsOf("f4-bowl", sc.Sheet) {
		// Those of which the same complaint is true; some with a distractor beside it.
		so, err := sc.TruthOf("no-start", []machine.FaultSpec{{ID: f.ID, Severity: 0.7319}})
		require.NoError(t, err)
		if so < 0.9 {
			continue
		}
		more := map[string]any{}
		if n++; n%3 == 0 && f.ID != "rings-worn" {
			more["distractors"] = []any{map[string]any{"id": "filter-torn", "severity": 0.7319}}
		}
		if n%2 == 0 || f.ID == "switch-off" || f.ID == "valve-shut" || f.ID == "main-jet-blocked" {
			attempts[f.ID] = s.jobWith(inst, f.ID, 0.7319, "ann", more)
		}
	}
	require.Greater(t, len(attempts), 8)
	first := ""
	for fault, a := range attempts {
		seen := everything(t, ann, routes, a)
		if first == "" {
			first = seen
		}
		if first != seen { // too long to be shown whole
			at := 0
			for at < min(len(first), len(seen)) && first[at] == seen[at] {
				at++
			}
			t.Errorf("the job with %s looks different before anything is done: …%.200s", fault, seen[max(at-80, 0):])
		}
	}
	// A day's work, and then the same search in every answer on the way.
	for fault, a := range attempts {
		var all bytes.Buffer
		for _, e := range []map[string]any{
			{"kind": "control", "control": map[string]any{"choke": 1}}, {"kind": "take", "test": "start-attempt"}, {"kind": "take", "test": "compression-dry"},
			{"kind": "act", "act": "pull"}, {"kind": "entry", "reading": "62", "unit": "psi", "judged": "within"}, {"kind": "take", "test": "jet-look"},
			{"kind": "repair", "repair": "clean", "reach": "jets"}, {"kind": "mark", "reach": "jets", "mark": "condemned"},
			{"kind": "take", "test": "look-switches"}, {"kind": "take", "test": "plug-look"}, {"kind": "take", "test": "bowl-look"},
			{"kind": "take", "test": "key-look"}, {"kind": "nonsense"},
		} {
			_, raw := ann.do(a, ann.bench(a).Seq, e)
			all.Write(raw)
		}
		code, _ := ann.get("/api/attempts/" + a + "/heard/1")
		assert.Equal(t, 200, code, "what it sounded like")
		all.WriteString(everything(t, ann, routes, a))
		text := strings.ReplaceAll(all.String(), familyOf(t, ann), "")
		for _, sensed := range []string{`"beats"`, `"seen"`, `"plug"`} {
			assert.Contains(t, text, sensed, "what was heard and seen is searched too")
		}
		// A time, or the width of a gap, that happens to be the severity.
		text = regexp.MustCompile(`"at":[\d.]+,"kind"|\b\d+\.\d\d mm\b`).ReplaceAllString(text, "")
		hidden := []string{"severity", `"valid"`, "invalid_because", `"band"`, "true_band", `"seed"`, `"scenario"`, "distractors", "0.73"}
		for _, f := range catalogue.Standard().FaultsOf("f4-bowl", nil) {
			hidden = append(hidden, f.ID, messages.In(messages.English).Name("fault", f.ID, "name"))
		}
		for _, word := range hidden { // the answers are too long to be shown whole
			if at := strings.Index(text, word); at >= 0 {
				t.Errorf("with %s hidden, %s is told: …%s…", fault, word, text[max(at-80, 0):min(at+80, len(text))])
			}
		}
	}
}

// familyOf is the list of every fault there is, the same for every job.
func familyOf(t *testing.T, u *user) string {
	_, raw := u.get("/api/families/f4-bowl")
	return string(raw)
}

func TestHeadersAndOrigins(t *testing.T) {
	t.Parallel()
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
