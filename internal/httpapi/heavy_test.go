package httpapi_test

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// Whoever asks for the same preview many times at once has it worked out once:
// otherwise most would be refused, for a person may have only a few pieces of
// work waiting.
func TestSamePreviewIsOnePieceOfWork(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	_, raw := inst.get("/api/machines")
	m := decode[[]httpapi.Machine](t, raw)[0].Id
	ask := func(severity float64) int {
		code, _ := inst.call("POST", "/api/preview", map[string]any{"machine_id": m, "faults": []map[string]any{{"id": "main-jet-blocked", "severity": severity}},
			"words": "x", "claim": "no-start", "limit_minutes": 60, "limit_money": 1})
		return code
	}
	codes := make([]int, 24)
	var wg sync.WaitGroup
	for i := range codes {
		wg.Add(1)
		go func() {
			defer wg.Done()
			codes[i] = ask(0.7)
		}()
	}
	wg.Wait()
	for _, code := range codes {
		assert.Equal(t, 200, code)
	}
}

// A hand-over that its sender does not wait for is done once or not at all, and
// can be sent again until it is; it is marked once.
func TestHangingUpDuringAHandOver(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst, ann := s.as("inst"), s.as("ann")
	hand, err := json.Marshal(map[string]any{"findings": []map[string]any{{"reach": "jets", "fault": "main-jet-blocked", "filing": "root"}},
		"verdict": "refer-on", "proof_seq": -1})
	require.NoError(t, err)
	for _, patience := range []time.Duration{0, time.Millisecond, 3 * time.Millisecond, 8 * time.Millisecond} {
		a := s.job(inst, "main-jet-blocked", 1, "ann")
		for k := range 3 {
			code, _ := ann.do(a, k, map[string]any{"kind": "wait", "minutes": 1})
			require.Equal(t, 200, code)
		}
		for range 6 {
			ctx, hangUp := context.WithTimeout(t.Context(), patience)
			req, err := http.NewRequestWithContext(ctx, "POST", s.url+"/api/attempts/"+a+"/hand-over", bytes.NewReader(hand))
			require.NoError(t, err)
			req.Header.Set("Content-Type", "application/json")
			if res, err := ann.c.Do(req); err == nil {
				res.Body.Close()
			}
			hangUp()
		}
		code, raw := ann.call("POST", "/api/attempts/"+a+"/hand-over", json.RawMessage(hand))
		require.Contains(t, []int{202, 409}, code, string(raw))
		ann.debrief(a)
		var jobs int
		require.NoError(t, s.store.SQL().QueryRow("SELECT count(*) FROM river_job WHERE args->>'attempt' = $1", uuid.MustParse(a).String()).Scan(&jobs))
		assert.Equal(t, 1, jobs, "marked once")
	}
}
