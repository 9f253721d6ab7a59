package httpapi_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/problem"
	"zanjero/internal/httpapi"
)

// A study is worked out, and one with a hole is refused with who and which engine.
func TestAStudyOfReadings(t *testing.T) {
	t.Parallel()
	s := open(t)
	inst := s.as("inst")
	var file strings.Builder
	file.WriteString("person,engine,value\n")
	for p, person := range []string{"Ann", "Bob"} {
		for e, engine := range []string{"A", "B", "C"} {
			for k := range 2 {
				fmt.Fprintf(&file, "%s,%s,%d\n", person, engine, 60+10*e+p*5+k)
			}
		}
	}
	code, raw := inst.call("POST", "/api/studies", map[string]any{"file": file.String()})
	require.Equal(t, 200, code, string(raw))
	got := decode[httpapi.Study](t, raw)
	assert.Len(t, got.Readings, 12)
	assert.InDelta(t, 73, got.Result.Mean, 1e-9)
	assert.Greater(t, got.Result.Part.Sigma, got.Result.Gauge.Sigma)
	assert.Greater(t, got.Result.Each[1].Bias, got.Result.Each[0].Bias, "Bob reads higher")
	code, raw = inst.call("POST", "/api/studies", map[string]any{"file": file.String()[:strings.LastIndex(file.String(), "Bob")]})
	require.Equal(t, 422, code, string(raw))
	refused := decode[struct {
		Code   string
		Params problem.Params
	}](t, raw)
	assert.Equal(t, "study.hole", refused.Code)
	assert.Equal(t, "Bob", refused.Params["person"])
}
