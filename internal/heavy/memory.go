package heavy

import (
	"os"
	"runtime/debug"
	"syscall"
)

// What the collector keeps to, unless GOMEMLIMIT or GOGC say otherwise. The heap
// is small beside the limit, so it may grow by some times itself before it is
// gone through; near the limit the collector works harder. What one evaluation
// can take is bounded by itself, and the pool lets few of them run at once.
const (
	memoryLimit = 1 << 30
	heapGrowth  = 400
)

// memoryEnd is where the process ends rather than take more from the machine:
// bytes of memory that it may write to, the stacks of its threads among them.
// What it has said to be done is in the database by then.
const memoryEnd = 6 << 30

// SetMemory sets the memory of a server up. A limit that the process was started
// with is not raised.
func SetMemory() {
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(memoryLimit)
	}
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(heapGrowth)
	}
	endAt(memoryEnd)
}

func endAt(bytes uint64) {
	var now syscall.Rlimit
	if syscall.Getrlimit(syscall.RLIMIT_DATA, &now) == nil && now.Cur > bytes {
		// Only the soft limit: a program that is started from here, as PostgreSQL is,
		// may raise it again.
		_ = syscall.Setrlimit(syscall.RLIMIT_DATA, &syscall.Rlimit{Cur: bytes, Max: now.Max})
	}
}
