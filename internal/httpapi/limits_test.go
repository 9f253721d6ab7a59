package httpapi

import (
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/assert"
)

// An answer of the bench leaves at a step of time, however long the work took; on
// a clock of its own, so that nothing is measured.
func TestAnswersLeaveAtSteps(t *testing.T) {
	t.Parallel()
	for _, step := range []time.Duration{actStep, replayStep} {
		for _, work := range []time.Duration{0, 1, step / 3, step - 1, step, step + 1, 7*step + step/2} {
			synctest.Test(t, func(t *testing.T) {
				began := time.Now()
				time.Sleep(work)
				pad(began, step)
				took := time.Since(began)
				assert.Zero(t, took%step, "%v of work in steps of %v", work, step)
				assert.GreaterOrEqual(t, took, work)
				assert.Less(t, took, work+step)
			})
		}
	}
}

// No client may hold a connection for ever, or send a head without end.
func TestConnectionsAreLimited(t *testing.T) {
	t.Parallel()
	srv := limited(nil)
	for _, limit := range []time.Duration{srv.ReadHeaderTimeout, srv.ReadTimeout, srv.WriteTimeout, srv.IdleTimeout} {
		assert.Positive(t, limit)
		assert.LessOrEqual(t, limit, 2*time.Minute)
	}
	assert.Equal(t, maxHeader, srv.MaxHeaderBytes)
}
