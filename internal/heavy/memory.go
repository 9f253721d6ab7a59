package heavy

import (
	"os"
	"runtime/debug"
)

// What the collector keeps to, unless GOMEMLIMIT or GOGC say otherwise. The heap
// is small beside the limit, so it may grow by some times itself before it is
// gone through; near the limit the collector works harder. What one evaluation
// can take is bounded by itself, and the pool lets few of them run at once.
const (
	memoryLimit = 1 << 30
	heapGrowth  = 400
)

// SetMemory sets the collector up for a server.
func SetMemory() {
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(memoryLimit)
	}
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(heapGrowth)
	}
}
