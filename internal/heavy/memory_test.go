package heavy

import (
	"os"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A process that would take more memory than it may ends, and the machine keeps
// the rest.
func TestMemoryHasAnEnd(t *testing.T) {
	const most = 256 << 20
	if os.Getenv("ZANJERO_TEST_HOG") != "" {
		endAt(most)
		var all [][]byte
		for range 64 {
			all = append(all, make([]byte, most/16))
			for i := 0; i < len(all[len(all)-1]); i += 4096 {
				all[len(all)-1][i] = 1
			}
		}
		os.Exit(len(all)) // it took four times what it may
	}
	cmd := exec.Command(os.Args[0], "-test.run=^TestMemoryHasAnEnd$")
	cmd.Env = append(os.Environ(), "ZANJERO_TEST_HOG=1")
	out, err := cmd.CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(out), "out of memory")
}
