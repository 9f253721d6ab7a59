package core

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// order is every package of the program: each may import only those before it.
// A package that is not here may be imported by none.
var order = []string{
	"core", "core/parallel", "core/problem", "core/units", "core/catalogue", "core/sequencing", "core/machine", "core/aids", "core/setup",
	"core/reading", "core/instrument",
	"core/bench", "core/ledger", "core/ledger/ledgertest", "core/foresee", "core/sim", "core/diagnosis", "core/procedure", "core/scenario", "core/authoring",
	"core/assess", "core/apprentice", "core/roster", "core/record", "core/analysis", "core/wall", "core/lesson", "core/study", "core/shop",
	"messages", "api", "demo", "web",
	"internal/heavy", "internal/password", "internal/photo",
	"internal/cluster", "internal/store", "internal/testdb", "internal/interop", "internal/lrs", "internal/live",
	"internal/httpapi", "internal/yard",
	"internal/benchmark", "internal/soak", "internal/findings", "internal/readable", "cmd/zanjero",
}

// outside are packages that the core must not know: no web, no database, no clock.
var outside = []string{"net/http", "database/sql", "os", "time", "gorm.io", "github.com/labstack"}

// The arrows point one way: cmd → internal → core, and each package knows only
// those before it.
func TestArrowsPointOneWay(t *testing.T) {
	seen := map[string]bool{}
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && slices.Contains([]string{"node_modules", ".git", ".run", "testdata"}, d.Name()) {
			return filepath.SkipDir
		}
		if d.IsDir() || !strings.HasSuffix(path, ".go") {
			return nil
		}
		here := filepath.ToSlash(strings.TrimPrefix(filepath.Dir(path), "../"))
		if here == "tools" {
			return nil // what the build uses, and the program does not
		}
		from := slices.Index(order, here)
		require.GreaterOrEqual(t, from, 0, "%s has no place in the order", path)
		seen[here] = true
		test := strings.HasSuffix(path, "_test.go")
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		require.NoError(t, err)
		for _, spec := range f.Imports {
			to := strings.Trim(spec.Path.Value, `"`)
			inside, ours := strings.CutPrefix(to, "zanjero/")
			isCore := here == "core" || strings.HasPrefix(here, "core/")
			switch {
			case ours:
				at := slices.Index(order, inside)
				require.GreaterOrEqual(t, at, 0, "%s imports %s, which has no place in the order", path, to)
				// A package's tests may use what is built upon it.
				assert.True(t, at <= from || (test && (!isCore || strings.HasPrefix(inside, "core/"))), "%s imports %s against the arrow", path, to)
				assert.True(t, !isCore || strings.HasPrefix(inside, "core/"), "%s imports %s: the core knows nothing outside it", path, to)
			case isCore:
				for _, banned := range outside {
					if test && to == "os" {
						continue // test data
					}
					assert.False(t, to == banned || strings.HasPrefix(to, banned+"/"), "%s imports %s: the core has no web, database or clock", path, to)
				}
			}
		}
		return nil
	}))
	for _, p := range order {
		assert.True(t, seen[p], "%s stands in the order and is no more", p)
	}
}
