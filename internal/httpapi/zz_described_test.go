package httpapi_test

import (
	"flag"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/internal/httpapi"
)

// Every operation has answered well somewhere in these tests, and its answer was
// held against its description. This file's name puts it last.
func TestEveryOperationWasHeldAgainstItsDescription(t *testing.T) {
	if flag.Lookup("test.run").Value.String() != "" {
		t.Skip("only some of the tests were run")
	}
	doc, err := httpapi.GetSpec()
	require.NoError(t, err)
	n := 0
	for path, item := range doc.Paths.Map() {
		for method := range item.Operations() {
			n++
			_, ok := described.Load(method + " " + path)
			assert.True(t, ok, "%s %s has never answered well", method, path)
		}
	}
	assert.Greater(t, n, 20)
}
