package httpapi

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/rivertype"

	"zanjero/core/assess"
	"zanjero/core/authoring"
	"zanjero/core/diagnosis"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/core/shop"
	"zanjero/internal/store"
)

// How marking is done: a few at a time wait here for their turn in the pool, so
// that a class that hands over at once does not hold the benches up. What has
// not been marked by then is taken from whoever had it.
const (
	markAtOnce  = 2
	markPoll    = 250 * time.Millisecond
	markTimeout = 60 * time.Second
	markRescue  = 90 * time.Second
	markTries   = 4
)

// markArgs is the work of marking one attempt.
type markArgs struct {
	Attempt uuid.UUID `json:"attempt"`
}

// Kind names it in the queue.
func (markArgs) Kind() string { return "mark-attempt" }

// InsertOpts has an attempt in the queue once.
func (markArgs) InsertOpts() river.InsertOpts {
	return river.InsertOpts{MaxAttempts: markTries, UniqueOpts: river.UniqueOpts{ByArgs: true}}
}

// marker takes handed-over attempts from the queue and marks them. Any instance
// may take any.
type marker struct {
	river.WorkerDefaults[markArgs]
	s      *Server
	client *river.Client[*sql.Tx]
	// quit ends work that nobody waits for.
	quit context.CancelFunc
}

func startMarker(ctx context.Context, s *Server) (*marker, error) {
	quit, cancel := context.WithCancel(context.WithoutCancel(ctx))
	m := &marker{s: s, quit: cancel}
	workers := river.NewWorkers()
	river.AddWorker(workers, m)
	river.AddWorker(workers, &librarian{s: s, quit: quit})
	var err error
	m.client, err = river.NewClient(riverdatabasesql.New(s.store.SQL()), &river.Config{
		Workers: workers, Queues: map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: markAtOnce}, libraryQueue: {MaxWorkers: 1}},
		FetchPollInterval: markPoll, JobTimeout: markTimeout, RescueStuckJobsAfter: markRescue,
		Logger: slog.New(slog.NewTextHandler(discard{}, nil)), ErrorHandler: m,
	})
	if err != nil {
		return nil, err
	}
	// It goes on until it is stopped, whatever becomes of the context that the
	// server is made under.
	return m, m.client.Start(context.WithoutCancel(ctx))
}

// discard keeps the queue's own log quiet; its errors come to HandleError.
type discard struct{}

func (discard) Write(p []byte) (int, error) { return len(p), nil }

// stop lets what is in hand finish, for as long as marking may take.
func (m *marker) stop() {
	m.quit()
	ctx, cancel := context.WithTimeout(context.Background(), markTimeout)
	defer cancel()
	if err := m.client.Stop(ctx); err != nil {
		slog.Warn("marking was cut short; it is done when a server starts again", "error", err)
	}
}

// queue puts the marking of an attempt into a transaction.
func (m *marker) queue(ctx context.Context, tx *sql.Tx, id uuid.UUID) error {
	_, err := m.client.InsertTx(ctx, tx, markArgs{id}, nil)
	return err
}

// Queue has an attempt that was handed over in a transaction marked, once that holds.
func (s *Server) Queue(ctx context.Context, tx *sql.Tx, attempt uuid.UUID) error {
	return s.marker.queue(ctx, tx, attempt)
}

// Work marks one attempt.
func (m *marker) Work(ctx context.Context, job *river.Job[markArgs]) error {
	return m.s.pool.Do(ctx, "marking", func(ctx context.Context) error { return m.s.mark(ctx, job.Args.Attempt) })
}

// NextRetry tries again soon: somebody waits.
func (m *marker) NextRetry(job *river.Job[markArgs]) time.Time {
	return time.Now().Add(time.Duration(job.Attempt) * 2 * time.Second)
}

// HandleError says what went wrong; an attempt that has been tried often enough
// is frozen, so that somebody sees it.
func (m *marker) HandleError(ctx context.Context, row *rivertype.JobRow, err error) *river.ErrorHandlerResult {
	if errors.Is(err, context.Canceled) {
		return nil // it is taken again
	}
	slog.Error("work from the queue failed", "kind", row.Kind, "try", row.Attempt, "error", err)
	var args markArgs
	if row.Kind == args.Kind() && row.Attempt >= row.MaxAttempts && json.Unmarshal(row.EncodedArgs, &args) == nil {
		_ = m.s.freeze(ctx, store.Attempt{ID: args.Attempt}, *problem.New("", "attempt.not-marked"))
	}
	return nil
}

// HandlePanic is HandleError for a panic.
func (m *marker) HandlePanic(ctx context.Context, row *rivertype.JobRow, value any, trace string) *river.ErrorHandlerResult {
	return m.HandleError(ctx, row, fmt.Errorf("panic: %v\n%s", value, trace))
}

// mark assesses a handed-over attempt from what was recorded, and keeps what it
// comes to.
func (s *Server) mark(ctx context.Context, id uuid.UUID) error {
	a, err := s.store.AttemptRow(ctx, id)
	if err != nil || a.State != store.StateMarking {
		return err // somebody else was quicker
	}
	now, err := s.ledger(ctx, a)
	var refused *refusal
	switch {
	case errors.As(err, &refused) && refused == errFrozen:
		return nil // it has been frozen, and says why
	case errors.As(err, &refused): // of another model
		_ = s.freeze(ctx, a, refused.problem)
		return nil
	case err != nil:
		return err
	}
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return err
	}
	answers, refer, err := s.reference(ctx, c.sc)
	if err != nil {
		return err
	}
	var hand assess.HandOver
	if err := json.Unmarshal(a.Draft, &hand); err != nil {
		return fmt.Errorf("attempt %s: hand-over: %w", id, err)
	}
	result, err := assess.Assess(ctx, assess.Input{Scenario: c.sc, Seed: uint64(a.Seed), Events: now.l.Events(), Hand: hand, Answers: answers,
		Reference: refer})
	if err != nil {
		return err
	}
	raw, err := json.Marshal(result)
	if err != nil {
		return err
	}
	if err := s.store.Marked(ctx, id, raw, standingOf(result), result.Doubt(c.sc.Weights().Threshold)); err != nil {
		return err
	}
	s.kept.benches.Drop(id)
	return nil
}

// reference is how somebody competent gets on with a job, with the answers of its engine;
// both are kept. It is called in the pool.
func (s *Server) reference(ctx context.Context, sc *scenario.Scenario) (*diagnosis.Answers, *authoring.Reference, error) {
	a, err := s.engineAnswers(ctx, sc)
	if err != nil {
		return nil, nil, err
	}
	key, err := keyOf("reference", sc.Family, sc.Sheet, sc.Ambient, sc.FuelML, sc.Faults, sc.Distractors, sc.Claim, sc.Told, sc.Kit, sc.Own)
	if err != nil {
		return nil, nil, err
	}
	if raw, ok := s.kept.answers.Get(key); ok {
		var r authoring.Reference
		return a, &r, json.Unmarshal(raw, &r)
	}
	r, err := authoring.Refer(ctx, sc, a)
	if err != nil {
		return nil, nil, err
	}
	raw, err := json.Marshal(r)
	if err != nil {
		return nil, nil, err
	}
	s.kept.answers.Put(key, raw, int64(len(raw)+128))
	return a, r, nil
}

// HandOver takes an attempt out of the apprentice's hands and answers at once;
// it is marked when its turn comes, whichever instance is running then.
func (s *Server) HandOver(ctx context.Context, req HandOverRequestObject) (HandOverResponseObject, error) {
	defer pad(time.Now(), replayStep) // it may replay, and be refused
	a := attempt(ctx)
	c, err := s.card(ctx, a.JobID)
	if err != nil {
		return nil, err
	}
	if c.sc.Iron != nil {
		if err := s.unsigned(ctx, a, shop.HoldHandBack); err != nil {
			return nil, err
		}
	}
	now, err := s.ledger(ctx, a)
	if err != nil {
		return nil, err
	}
	ps := req.Body.Check(c.sc.Family, now.l.Seq())
	if req.Body.Verdict == assess.Repaired && !req.Body.NamesRoot() { // what was repaired can be named
		ps = append(ps, *problem.New("findings", "assess.no-root-cause-named"))
	}
	if len(ps) > 0 {
		return nil, refuseAll(ps)
	}
	hand, err := json.Marshal(req.Body)
	if err != nil {
		return nil, err
	}
	err = s.store.HandOver(ctx, a.ID, now.l.Seq(), hand, func(tx *sql.Tx) error { return s.marker.queue(ctx, tx, a.ID) })
	if errors.Is(err, store.ErrMoved) {
		return nil, refuse(http.StatusConflict, "http.bench-moved-on-another-window")
	}
	if err != nil {
		return nil, err
	}
	return HandOver202JSONResponse{Attempt: a.ID, State: AttemptStateMarking}, nil
}

// GetDebrief shows the assessment once the job is marked, and nothing of it
// before.
func (s *Server) GetDebrief(ctx context.Context, _ GetDebriefRequestObject) (GetDebriefResponseObject, error) {
	row := attempt(ctx)
	switch row.State {
	case store.StateMarking:
		return GetDebrief202JSONResponse{Attempt: row.ID, State: AttemptStateMarking}, nil
	case store.StateFrozen:
		return nil, errFrozen
	case store.StateHandedOver:
	default:
		return nil, refuse(http.StatusConflict, "http.job-not-handed-over-yet")
	}
	d, err := s.debrief(ctx)
	return GetDebrief200JSONResponse(d), err
}
