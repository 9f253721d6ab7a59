package httpapi_test

import (
	"bytes"
	"encoding/json"
	"io"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// nasty are values that turn up where others are looked for.
var nasty = []any{nil, true, "", "x", -1, 0, 1, 7.5, 1e300, -1e300, 2147483648.0, "1e999", "NaN", "∞", "7 1/2", "'; DROP TABLE people; --",
	"<script>", "../../etc/passwd",
	strings.Repeat("w", 3000), "\u202e\u200f", "\x01", []any{}, []any{[]any{}}, map[string]any{}, map[string]any{"id": map[string]any{}},
	uuid.Nil.String(), "f4-bowl", "jets", "main-jet-blocked"}

// spoil changes a body in one place or several: a value for a nasty one, a member
// taken out or put in, a list made long.
func spoil(r *rand.Rand, v any) any {
	if r.IntN(12) == 0 {
		return nasty[r.IntN(len(nasty))]
	}
	switch x := v.(type) {
	case map[string]any:
		out := map[string]any{}
		for k, v := range x {
			if r.IntN(14) != 0 {
				out[k] = spoil(r, v)
			}
		}
		if r.IntN(10) == 0 {
			out[[]string{"kind", "seed", "id", "role", "extra"}[r.IntN(5)]] = nasty[r.IntN(len(nasty))]
		}
		return out
	case []any:
		var out []any
		for _, v := range x {
			out = append(out, spoil(r, v))
		}
		for range r.IntN(3) * r.IntN(60) {
			out = append(out, nasty[r.IntN(len(nasty))])
		}
		return out
	}
	return v
}

// Whatever is sent to whichever operation, the server answers, within its limits,
// and never with a failure of its own. The seed is fixed.
func TestNothingSentBreaksTheServer(t *testing.T) {
	s := open(t)
	srv := s.serve(true)
	inst, ann := s.as("inst"), s.as("ann")
	a := s.job(inst, "main-jet-blocked", 0.7, "ann")
	_, raw := inst.get("/api/machines")
	m := decode[[]httpapi.Machine](t, raw)[0]
	_, raw = inst.get("/api/jobs")
	job := decode[httpapi.JobPage](t, raw).Items[0].Id.String()
	spec := map[string]any{"machine_id": m.Id.String(), "faults": []any{map[string]any{"id": "main-jet-blocked", "severity": 0.5}}, "words": "w",
		"history": "h", "claim": "no-start",
		"limit_minutes": 60, "limit_money": 5, "temperature_c": 10, "altitude_m": 100, "mode": "open", "proper_only": true, "apprentices": []any{}}
	sheet := []any{}
	for _, e := range entries(m.Sheet) {
		raw, _ := json.Marshal(e)
		sheet = append(sheet, decode[any](t, raw))
	}
	machine := map[string]any{"name": "n", "code": "c", "family": "f4-bowl", "duty": "d", "sheet": sheet}
	hand := map[string]any{"findings": []any{map[string]any{"reach": "jets", "fault": "main-jet-blocked", "filing": "root", "evidence": []any{0}}},
		"cause": "stored-with-fuel", "advice": "fresh-fuel", "verdict": "refer-on", "proof_seq": -1, "note": "n"}
	act := func(e map[string]any) map[string]any {
		return map[string]any{"client_id": uuid.NewString(), "after": 0, "event": e}
	}
	bodies := map[string][]any{
		"POST /api/session":     {map[string]any{"name": "ann", "password": "x"}},
		"POST /api/aids/:aid":   {map[string]any{"ratio": 50, "volume": 5}, map[string]any{}},
		"POST /api/conversions": {map[string]any{"reading": "7 1/2", "unit": "psi"}},
		"POST /api/machines":    {machine}, "PUT /api/machines/:machine": {machine}, "POST /api/sheets/:family": {sheet}, "POST /api/preview": {spec},
		"POST /api/jobs":                   {spec},
		"POST /api/inside":                 {map[string]any{"machine_id": m.Id.String(), "faults": []any{}, "minutes": 2, "load": "test"}},
		"POST /api/jobs/:job/attempts":     {map[string]any{"apprentices": []any{uuid.NewString()}}},
		"PUT /api/attempts/:attempt/draft": {hand}, "POST /api/attempts/:attempt/hand-over": {hand},
		"POST /api/attempts/:attempt/events": {act(map[string]any{"kind": "take", "test": "compression-dry", "setup": map[string]any{"gauge": "x"}}),
			act(map[string]any{"kind": "control", "control": map[string]any{"choke": 1}}),
			act(map[string]any{"kind": "act", "act": "pull", "value": 3}), act(map[string]any{"kind": "entry", "reading": "62", "unit": "psi",
				"judged": "within", "word": "x"}), act(map[string]any{"kind": "mark", "reach": "jets", "mark": "clear"}),
			act(map[string]any{"kind": "repair", "repair": "clean", "reach": "jets", "grade": "copy"}), act(map[string]any{"kind": "cover",
				"cover": "bowlopen", "off": true}), act(map[string]any{"kind": "wait", "minutes": 3}), act(map[string]any{"kind": "do", "do": "goggles"}),
			act(map[string]any{"kind": "by-hand", "test": "compression-dry", "reading": "62", "unit": "psi", "judged": "within",
				"missed": []any{"zeroed"}, "clock_min": 3})},
	}
	routes := srv.Routes()
	slices.Sort(routes)
	r := rand.New(rand.NewPCG(10, 2026))
	ids := func() string {
		return []string{a, job, m.Id.String(), uuid.NewString(), "f4-bowl", "premix", "x", "%00", "..%2f..", strings.Repeat("9", 300)}[r.IntN(10)]
	}
	rounds := 300
	if testing.Short() {
		rounds = 30
	}
	answers := map[int]int{}
	for range rounds {
		for _, route := range routes {
			method, path, _ := strings.Cut(route, " ")
			if route == "DELETE /api/session" || strings.HasSuffix(route, "/changes") { // a stream does not end
				continue
			}
			for _, part := range []string{":attempt", ":job", ":machine", ":family", ":aid"} {
				to := map[string]string{":attempt": a, ":job": job, ":machine": m.Id.String(), ":family": "f4-bowl", ":aid": "premix"}[part]
				if r.IntN(6) == 0 {
					to = ids()
				}
				path = strings.Replace(path, part, to, 1)
			}
			if r.IntN(5) == 0 {
				path += []string{"?limit=-1", "?limit=9999999999", "?below=x", "?before=a/b", "?before=%00", "?x=" + strings.Repeat("y", 2000)}[r.IntN(6)]
			}
			var body io.Reader
			if of := bodies[route]; len(of) > 0 {
				raw, err := json.Marshal(spoil(r, of[r.IntN(len(of))]))
				require.NoError(t, err)
				if r.IntN(15) == 0 { // and some that are cut or mangled
					raw = raw[:r.IntN(len(raw)+1)]
				}
				if r.IntN(15) == 0 && len(raw) > 0 {
					raw[r.IntN(len(raw))] = byte(r.IntN(256))
				}
				body = bytes.NewReader(raw)
			}
			u := []*user{inst, ann}[r.IntN(2)]
			req, err := http.NewRequest(method, s.url+path, body)
			if err != nil {
				continue // no address at all
			}
			req.Header.Set("Content-Type", "application/json")
			res, err := u.c.Do(req)
			if !assert.NoError(t, err, "%s %s", method, path) {
				return
			}
			answer, _ := io.ReadAll(res.Body)
			res.Body.Close()
			answers[res.StatusCode]++
			if res.StatusCode >= 500 {
				t.Errorf("%s %.200s answered %d: %.300s", method, path, res.StatusCode, answer)
			}
		}
	}
	assert.Greater(t, answers[200], 100, "some of it was good: %v", answers)
	assert.Greater(t, answers[422]+answers[400], 100, "and some bad: %v", answers)
	t.Logf("answers by status: %v", answers)
}
