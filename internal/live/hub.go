// Package live tells those who watch that something has changed, as it happens. PostgreSQL
// carries the notices between instances of the program; they hold ids and nothing else, so
// who is told still has to ask, and is asked who they are.
package live

import (
	"context"
	"database/sql"
	"log/slog"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/stdlib"
)

// channel is what the database's trigger notifies.
const channel = "zanjero_changes"

// again is how long it waits after the connection was lost, before it listens anew.
const again = 500 * time.Millisecond

// Notice is that an attempt or a wall is another than before.
type Notice struct {
	ID uuid.UUID
	// Class that it was given to, the zero one for none.
	Class uuid.UUID
}

// Hub listens on one connection of a pool, and passes notices on to any number of feeds. It
// is safe for use by many goroutines.
type Hub struct {
	pool  *sql.DB
	mu    sync.Mutex
	feeds map[*Feed]bool
	ended chan struct{}
}

// Start listens until the context ends; then every feed ends.
func Start(ctx context.Context, pool *sql.DB) *Hub {
	h := &Hub{pool: pool, feeds: map[*Feed]bool{}, ended: make(chan struct{})}
	go h.run(ctx)
	return h
}

// Ended is closed once it no longer listens and holds no connection.
func (h *Hub) Ended() <-chan struct{} { return h.ended }

func (h *Hub) run(ctx context.Context) {
	defer close(h.ended)
	for ctx.Err() == nil {
		if err := h.listen(ctx); err != nil && ctx.Err() == nil {
			slog.Warn("listening for changes", "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(again):
		}
	}
}

// listen holds one connection until it fails or the context ends. What was missed before it
// listened is not known, so every feed is told to look at all again.
func (h *Hub) listen(ctx context.Context) error {
	conn, err := h.pool.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	return conn.Raw(func(driver any) error {
		c := driver.(*stdlib.Conn).Conn()
		// A connection that listened is of no use to anybody else.
		defer c.Close(context.WithoutCancel(ctx))
		if _, err := c.Exec(ctx, "LISTEN "+channel); err != nil {
			return err
		}
		h.each(func(f *Feed) { f.missed() })
		for {
			n, err := c.WaitForNotification(ctx)
			if err != nil {
				return err
			}
			if notice, ok := read(n.Payload); ok {
				h.each(func(f *Feed) { f.tell(notice) })
			}
		}
	})
}

func read(payload string) (n Notice, ok bool) {
	of, class, _ := strings.Cut(payload, " ")
	id, err := uuid.Parse(of)
	if class != "" && err == nil {
		n.Class, err = uuid.Parse(class)
	}
	n.ID = id
	return n, err == nil
}

func (h *Hub) each(do func(*Feed)) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for f := range h.feeds {
		do(f)
	}
}

// Follow begins a feed of those notices that are wanted. Close it when done.
func (h *Hub) Follow(wanted func(Notice) bool) *Feed {
	f := &Feed{hub: h, wanted: wanted, waiting: map[Notice]bool{}, bell: make(chan struct{}, 1)}
	h.mu.Lock()
	defer h.mu.Unlock()
	h.feeds[f] = true
	return f
}

// Feed gathers notices for one who watches. What is told often before it is fetched is
// fetched once, so a slow watcher holds nobody up and no more than an id for each thing.
type Feed struct {
	hub    *Hub
	wanted func(Notice) bool
	bell   chan struct{}

	mu      sync.Mutex
	waiting map[Notice]bool
	gap     bool
}

// Close ends it.
func (f *Feed) Close() {
	f.hub.mu.Lock()
	defer f.hub.mu.Unlock()
	delete(f.hub.feeds, f)
}

// Bell rings when there is something to fetch.
func (f *Feed) Bell() <-chan struct{} { return f.bell }

// Fetch gives what has come since the last time. gap says that some may have been missed, so
// that all is to be looked at again.
func (f *Feed) Fetch() (notices []Notice, gap bool) {
	f.mu.Lock()
	defer f.mu.Unlock()
	for n := range f.waiting {
		notices = append(notices, n)
	}
	gap = f.gap
	clear(f.waiting)
	f.gap = false
	return notices, gap
}

func (f *Feed) tell(n Notice) {
	if !f.wanted(n) {
		return
	}
	f.mu.Lock()
	f.waiting[n] = true
	f.mu.Unlock()
	f.ring()
}

func (f *Feed) missed() {
	f.mu.Lock()
	f.gap = true
	f.mu.Unlock()
	f.ring()
}

func (f *Feed) ring() {
	select {
	case f.bell <- struct{}{}:
	default:
	}
}
