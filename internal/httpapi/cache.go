package httpapi

import (
	"context"
	"sync"

	"github.com/google/uuid"

	"zanjero/core/ledger"
	"zanjero/core/scenario"
)

// card is what a job says, which never changes once it is set.
type card struct {
	number int
	sc     *scenario.Scenario
}

// card gives a job's, read once.
func (s *Server) card(ctx context.Context, job uuid.UUID) (*card, error) {
	if c, ok := s.cards.Load(job); ok {
		return c.(*card), nil
	}
	j, err := s.store.Job(ctx, job)
	if err != nil {
		return nil, err
	}
	sc, err := scenarioIn(j)
	if err != nil {
		return nil, err
	}
	c := &card{int(j.Number), sc}
	s.cards.Store(job, c)
	return c, nil
}

// ledgerCache keeps the ledgers of the attempts last worked on, so that an act
// need not replay all before it. Losing an entry costs a replay and nothing
// else.
type ledgerCache struct {
	mu    sync.Mutex
	byID  map[uuid.UUID]*ledger.Ledger
	order []uuid.UUID
}

// cached is how many ledgers are kept.
const cached = 400

// get gives a copy, or nil.
func (c *ledgerCache) get(id uuid.UUID) *ledger.Ledger {
	c.mu.Lock()
	defer c.mu.Unlock()
	if l := c.byID[id]; l != nil {
		return l.Clone()
	}
	return nil
}

// put keeps a ledger that nobody else changes, unless a longer one is there.
func (c *ledgerCache) put(id uuid.UUID, l *ledger.Ledger) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.byID == nil {
		c.byID = map[uuid.UUID]*ledger.Ledger{}
	}
	old, known := c.byID[id]
	if known && old.Seq() > l.Seq() {
		return
	}
	if !known {
		c.order = append(c.order, id)
	}
	c.byID[id] = l
	for len(c.order) > cached {
		delete(c.byID, c.order[0])
		c.order = c.order[1:]
	}
}

func (c *ledgerCache) drop(id uuid.UUID) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if _, known := c.byID[id]; known {
		delete(c.byID, id)
		for i, o := range c.order {
			if o == id {
				c.order = append(c.order[:i], c.order[i+1:]...)
				break
			}
		}
	}
}
