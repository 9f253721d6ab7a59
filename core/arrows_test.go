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

// The arrows point one way: cmd → internal → core, and inside core each
// package knows only those before it. The core knows no web and no database.
func TestArrowsPointOneWay(t *testing.T) {
	order := []string{"parallel", "problem", "units", "catalogue", "sequencing", "machine", "aids", "setup", "reading", "instrument",
		"bench", "ledger", "foresee", "sim", "diagnosis", "procedure", "scenario", "assess"}
	rank := func(pkg string) int { return slices.Index(order, strings.Split(pkg, "/")[0]) }
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") {
			if d != nil && d.IsDir() && slices.Contains([]string{"node_modules", ".git", ".run"}, d.Name()) {
				return filepath.SkipDir
			}
			return err
		}
		here := filepath.ToSlash(strings.TrimPrefix(filepath.Dir(path), "../"))
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		require.NoError(t, err)
		for _, spec := range f.Imports {
			to := strings.Trim(spec.Path.Value, `"`)
			inside, ours := strings.CutPrefix(to, "zanjero/")
			fromCore, isCore := strings.CutPrefix(here, "core/")
			switch {
			case isCore && ours:
				toCore, ok := strings.CutPrefix(inside, "core/")
				assert.True(t, ok, "%s imports %s: the core knows nothing outside it", path, to)
				assert.GreaterOrEqual(t, rank(toCore), 0, "%s imports %s, which has no place in the order", path, to)
				assert.GreaterOrEqual(t, rank(fromCore), 0, "%s has no place in the order", path)
				assert.LessOrEqual(t, rank(toCore), rank(fromCore), "%s imports %s against the arrow", path, to)
			case isCore:
				for _, banned := range []string{"net/http", "database/sql", "os", "time", "gorm.io", "github.com/labstack"} {
					assert.False(t, to == banned || strings.HasPrefix(to, banned+"/"), "%s imports %s: the core has no web, database or clock", path, to)
				}
			case strings.HasPrefix(here, "internal/"):
				assert.False(t, strings.HasPrefix(to, "zanjero/cmd/"), "%s imports %s against the arrow", path, to)
			}
		}
		return nil
	}))
}
