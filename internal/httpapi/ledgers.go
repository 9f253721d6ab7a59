package httpapi

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/internal/heavy"
	"zanjero/internal/store"
	"zanjero/messages"
)

// kept is what the server caches, each within its bytes. All of it can be made
// again from the database, by any instance.
type kept struct {
	*Worked
	building  heavy.Flight[*diagnosis.Population]
	preparing heavy.Flight[*trial]
	answering heavy.Flight[*diagnosis.Answers]
	asking    heavy.Flight[[]byte]
	// cards are what jobs say, which never changes once they are set.
	cards *heavy.Cache[uuid.UUID, *card]
	// benches are the attempts last worked on.
	benches *heavy.Cache[uuid.UUID, *benchNow]
	// hints that follow attempts, and what they said last.
	hints *heavy.Cache[uuid.UUID, *following]
}

const mib = 1 << 20

func newKept(worked *Worked) *kept {
	if worked == nil {
		worked = NewWorked()
	}
	return &kept{Worked: worked, cards: heavy.NewCache[uuid.UUID, *card](8 * mib), benches: heavy.NewCache[uuid.UUID, *benchNow](64 * mib),
		hints: heavy.NewCache[uuid.UUID, *following](48 * mib)}
}

// Worked is what was worked out of engines. It hangs on what was asked and on nothing of a
// database, so servers of one process may share it. It may be used from any goroutine.
type Worked struct {
	// populations over single faults, by engine, sheet and day.
	populations *heavy.Cache[[32]byte, *diagnosis.Population]
	// trials are populations that procedures are tried on, by machine and complaint.
	trials *heavy.Cache[[32]byte, *trial]
	// engines are what every test would say of an engine, by engine, sheet and day.
	engines *heavy.Cache[[32]byte, *diagnosis.Answers]
	// healthy readings of sheets, previews and checks, by what was asked.
	answers *heavy.Cache[[32]byte, []byte]
}

// NewWorked has nothing in it yet.
func NewWorked() *Worked {
	return &Worked{populations: heavy.NewCache[[32]byte, *diagnosis.Population](48 * mib), trials: heavy.NewCache[[32]byte, *trial](256 * mib),
		engines: heavy.NewCache[[32]byte, *diagnosis.Answers](192 * mib), answers: heavy.NewCache[[32]byte, []byte](16 * mib)}
}

// card is what a job says, and what of a bench it settles for good. It is shared
// and not to be changed.
type card struct {
	number int
	times  times
	sc     *scenario.Scenario
	has    []string
	tests  []catalogue.Test
	// fixed are the members of a bench that no act changes, as JSON, by language.
	fixed map[string]map[string]json.RawMessage
}

// fixedMembers are the members of a bench that its job settles.
var fixedMembers = []string{"closes_at", "family", "first", "has", "history", "job_number", "limit_minutes", "limit_money", "machine_code", "machine_name",
	"mode", "proper_only", "sheet", "trial", "words"}

// newCard works out what a job settles.
func newCard(number int, sc *scenario.Scenario, at times) (*card, error) {
	cat := catalogue.Standard()
	c := &card{number: number, times: at, sc: sc, has: []string{}, tests: sc.Tests()}
	for _, x := range cat.ControlsOf(sc.Family, sc.Sheet) {
		c.has = append(c.has, x.ID)
	}
	c.fixed = map[string]map[string]json.RawMessage{}
	for _, language := range messages.Languages() {
		parts, err := partsOf(c.bench(messages.In(language)), nil)
		if err != nil {
			return nil, err
		}
		fixed := map[string]json.RawMessage{}
		for _, name := range fixedMembers {
			if raw, has := parts[name]; has {
				fixed[name] = raw
			}
		}
		c.fixed[language] = fixed
	}
	return c, nil
}

// bench is one with nothing but what the job settles.
func (c *card) bench(w *messages.Words) Bench {
	sc := c.sc
	words, history := sc.Words, historyOf(w, sc)
	if sc.First { // ours, and so in the language of whoever reads it
		words, history = w.Text("first.words", nil), w.Text("first.history", nil)
	}
	return Bench{JobNumber: c.number, Family: sc.Family, MachineName: sc.Name, MachineCode: sc.Code, Words: words, History: history,
		LimitMinutes: sc.LimitMinutes, LimitMoney: sc.LimitMoney, First: sc.First, Trial: sc.Trial, ClosesAt: c.times.closes,
		Sheet: sheetLines(w, sc.Family, sc.Sheet), Has: c.has,
		Mode: BenchMode(sc.Guide()), ProperOnly: sc.ProperOnly}
}

// historyOf is what stands on a job's card of how it came about: what is told, and what the
// author has written.
func historyOf(w *messages.Words, sc *scenario.Scenario) string {
	out := []string{}
	for _, id := range sc.Says() {
		out = append(out, w.Name("statement", id, "says"))
	}
	if sc.History != "" {
		out = append(out, sc.History)
	}
	return strings.Join(out, " ")
}

// card gives a job's, read once.
func (s *Server) card(ctx context.Context, job uuid.UUID) (*card, error) {
	if c, ok := s.kept.cards.Get(job); ok {
		return c, nil
	}
	j, err := s.store.Job(ctx, job)
	if err != nil {
		return nil, err
	}
	sc, err := scenarioIn(j)
	if err != nil {
		return nil, err
	}
	c, err := newCard(int(j.Number), sc, times{j.OpensAt, j.ClosesAt})
	if err != nil {
		return nil, err
	}
	s.kept.cards.Put(job, c, int64(4*len(j.Scenario)+24<<10))
	return c, nil
}

// benchNow is a ledger that nobody changes any more, with the bench as it was
// last sent, part by part. It is shared by requests once it is kept, so none of
// them writes to it.
type benchNow struct {
	l    *ledger.Ledger
	sent map[string]json.RawMessage
	// language that it was sent in.
	language string
}

// bytes is about how much memory it holds: what was sent is about as large as
// what it was made of.
func (b *benchNow) bytes() int64 {
	n := int64(24 << 10)
	for _, raw := range b.sent {
		n += int64(3 * len(raw))
	}
	return n + int64(1500*b.l.Seq())
}

// keep puts a ledger into the cache, unless a longer one is there.
func (s *Server) keep(id uuid.UUID, b *benchNow) {
	if old, ok := s.kept.benches.Get(id); ok && old.l.Seq() > b.l.Seq() {
		return
	}
	s.kept.benches.Put(id, b, b.bytes())
}

// errModel: an attempt belongs to another model and cannot be gone on with.
func errModel(a store.Attempt) error {
	return refuse(409, "http.job-was-begun-on-model", "then", a.ModelVersion, "now", machine.Version)
}

// ledger gives an attempt's ledger after all its events, which is not to be
// changed: what goes on works on a clone. A replay that does not come to what was
// recorded freezes the attempt, and nothing is done or judged from it.
func (s *Server) ledger(ctx context.Context, a store.Attempt) (*benchNow, error) {
	if a.State == store.StateFrozen {
		return nil, errFrozen
	}
	if a.ModelVersion != machine.Version {
		return nil, errModel(a)
	}
	b, ok := s.kept.benches.Get(a.ID)
	if ok && b.l.Seq() == a.Events {
		return b, nil
	}
	var l *ledger.Ledger
	if ok && b.l.Seq() < a.Events {
		l = b.l.Clone()
	} else {
		c, err := s.card(ctx, a.JobID)
		if err != nil {
			return nil, err
		}
		if l, err = c.sc.Ledger(uint64(a.Seed)); err != nil {
			return nil, err
		}
	}
	if err := s.replay(ctx, a, l); err != nil {
		return nil, err
	}
	b = &benchNow{l: l}
	s.keep(a.ID, b)
	return b, nil
}

// replay brings a ledger up to date from what was recorded.
func (s *Server) replay(ctx context.Context, a store.Attempt, l *ledger.Ledger) error {
	es, err := s.store.Events(ctx, a.ID, l.Seq())
	if err != nil {
		return err
	}
	rs := make([]ledger.Recorded, len(es))
	for i, e := range es {
		if err := json.Unmarshal(e.Body, &rs[i].Event); err != nil {
			return s.freeze(ctx, a, *problem.New("", "attempt.act-unreadable", "seq", e.Seq))
		}
		rs[i].Shown = e.Observed
	}
	var d *ledger.Difference
	switch err := l.Replay(rs); {
	case errors.As(err, &d) && d.Refused != nil:
		return s.freeze(ctx, a, *problem.New("", "attempt.act-refused-now", "seq", d.Seq, "code", d.Refused.Code))
	case errors.As(err, &d):
		return s.freeze(ctx, a, *problem.New("", "attempt.shows-otherwise-now", "seq", d.Seq))
	case err != nil:
		return fmt.Errorf("attempt %s: %w", a.ID, err)
	}
	return nil
}

// freeze keeps anything more from being done with an attempt.
func (s *Server) freeze(ctx context.Context, a store.Attempt, why problem.Problem) error {
	raw, err := json.Marshal(why)
	if err != nil {
		return err
	}
	if err := s.store.Freeze(context.WithoutCancel(ctx), a.ID, raw); err != nil {
		return err
	}
	s.kept.benches.Drop(a.ID)
	return errFrozen
}

// population gives that of a scenario's engine over single faults, made once.
func (s *Server) population(ctx context.Context, sc *scenario.Scenario) (*diagnosis.Population, error) {
	key, err := keyOf("population", sc.Family, sc.Sheet, sc.Ambient, sc.FuelML, sc.Own)
	if err != nil {
		return nil, err
	}
	if p, ok := s.kept.populations.Get(key); ok {
		return p, nil
	}
	return s.kept.building.Do(ctx, string(key[:]), func(ctx context.Context) (*diagnosis.Population, error) {
		p, err := sc.Population(ctx, nil)
		if err == nil {
			s.kept.populations.Put(key, p, p.Bytes())
		}
		return p, err
	})
}

// engineAnswers are what every test would say of a scenario's engine, kept warm.
func (s *Server) engineAnswers(ctx context.Context, sc *scenario.Scenario) (*diagnosis.Answers, error) {
	key, err := keyOf("engine", sc.Family, sc.Sheet, sc.Ambient, sc.FuelML, sc.Own)
	if err != nil {
		return nil, err
	}
	a, ok := s.kept.engines.Get(key)
	if !ok {
		a, err = s.kept.answering.Do(ctx, string(key[:]), func(ctx context.Context) (*diagnosis.Answers, error) {
			pop, err := s.population(ctx, sc)
			if err != nil {
				return nil, err
			}
			return pop.Answers(ctx)
		})
		if err != nil {
			return nil, err
		}
	}
	s.kept.engines.Put(key, a, a.Bytes()) // it grows by what is asked
	return a, nil
}

// keyOf is the hash of what an answer depends on.
func keyOf(parts ...any) ([32]byte, error) {
	raw, err := json.Marshal(parts)
	return sha256.Sum256(raw), err
}

// heavily gives an answer that takes long: from the cache, or worked out once
// for all who ask for it, when its turn in the pool comes. What it depends on is
// all in parts.
func heavily[T any](ctx context.Context, s *Server, parts []any, work func(ctx context.Context) (T, error)) (out T, err error) {
	key, err := keyOf(parts...)
	if err != nil {
		return out, err
	}
	raw, ok := s.kept.answers.Get(key)
	if !ok {
		who := whoIs(ctx).ID.String()
		raw, err = s.kept.asking.Do(ctx, string(key[:]), func(ctx context.Context) (raw []byte, err error) {
			err = s.pool.Do(ctx, who, func(ctx context.Context) error {
				v, err := work(ctx)
				if err != nil {
					return err
				}
				raw, err = json.Marshal(v)
				return err
			})
			if err == nil {
				s.kept.answers.Put(key, raw, int64(len(raw)+128))
			}
			return raw, err
		})
		if err != nil {
			return out, err
		}
	}
	return out, json.Unmarshal(raw, &out)
}
