package heavy

import (
	"math"
	"sync"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// A Cache keeps what was last asked for, within so many bytes as its entries
// are said to have. Losing an entry costs the work of making it again and
// nothing else. It may be used from any goroutine; what it gives out is shared.
type Cache[K comparable, V any] struct {
	mu         sync.Mutex
	lru        *simplelru.LRU[K, entry[V]]
	used, most int64
}

type entry[V any] struct {
	value V
	bytes int64
}

// NewCache makes a cache of at most so many bytes.
func NewCache[K comparable, V any](most int64) *Cache[K, V] {
	c := &Cache[K, V]{most: most}
	// Only the bytes bound it.
	c.lru, _ = simplelru.NewLRU(math.MaxInt, func(_ K, e entry[V]) { c.used -= e.bytes })
	return c
}

// Get gives what is kept for a key.
func (c *Cache[K, V]) Get(key K) (v V, ok bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	e, ok := c.lru.Get(key)
	return e.value, ok
}

// Put keeps a value of a size for a key, instead of what was kept for it, and
// lets go of what was not asked for longest. What is larger than the cache is
// not kept.
func (c *Cache[K, V]) Put(key K, v V, bytes int64) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.lru.Remove(key)
	if bytes > c.most {
		return
	}
	c.lru.Add(key, entry[V]{v, bytes})
	for c.used += bytes; c.used > c.most; {
		c.lru.RemoveOldest()
	}
}

// Take gives what is kept for a key and keeps it no longer, for values that one
// at a time may use.
func (c *Cache[K, V]) Take(key K) (v V, ok bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	e, ok := c.lru.Peek(key)
	c.lru.Remove(key)
	return e.value, ok
}

// Drop lets go of a key.
func (c *Cache[K, V]) Drop(key K) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.lru.Remove(key)
}

// Bytes is how much is kept.
func (c *Cache[K, V]) Bytes() int64 {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.used
}
