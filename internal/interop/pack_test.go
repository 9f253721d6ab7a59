package interop

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/problem"
	"zanjero/core/procedure"
)

// The schools that ship with the program are written to the published schema.
func TestSchoolsKeepToTheSchema(t *testing.T) {
	r, err := ValidatePack(strings.NewReader(procedure.SchoolsJSON()))
	require.NoError(t, err)
	assert.True(t, r.Valid, r.Findings)
	assert.Len(t, r.Procedures, 55, "five schools, eleven complaints")
}

// A bad pack is answered whole, each fault with where it is and how to mend it.
func TestBadPacks(t *testing.T) {
	head := `{"format":"zanjero.pack","version":1,"name":"x","procedures":[`
	for in, paths := range map[string][]string{
		head + `{"id":"A b","title":"t","revision":0,"families":[],"steps":[]}]}`: {"procedures[0].id", "procedures[0].revision", "procedures[0].families",
			"procedures[0].steps"},
		head + `{"id":"a","title":"t","revision":1,"families":["f4-bowl"],"steps":[{"id":"s","test":"look-fuel","outcome":[]}],` +
			`"color":"red"}]}`: {"procedures[0]", "procedures[0].steps[0]"},
		head + `{"id":"a","title":"t","revision":1,"families":["f4-bowl"],"steps":[{"id":"s","test":7,"outcomes":[{"then":"fly",` +
			`"from":"low"}]}]}]}`: {"procedures[0].steps[0].test", "procedures[0].steps[0].outcomes[0].then", "procedures[0].steps[0].outcomes[0].from"},
		head + `{"id":"a","title":"t","revision":1,"families":["f4-bowl"],"steps":[{"id":"s","test":"look-fuel","outcomes":[{"when":["purple"],` +
			`"then":"next"}]}]}]}`: {"procedures[0].(f4-bowl).steps[0].outcomes[0].when"},
	} {
		r, err := ValidatePack(strings.NewReader(in))
		require.NoError(t, err, in)
		assert.False(t, r.Valid)
		var got []string
		for _, f := range r.Findings {
			got = append(got, f.Path)
			assert.NotEmpty(t, f.Code)
		}
		assert.Subset(t, got, paths, in)
	}
	for in, path := range map[string]string{`{"format":"zanjero.pack","version":2,"name":"x","procedures":[]}`: "version", `{"format":"zanjero.pack",`: "line 1"} {
		_, err := ValidatePack(strings.NewReader(in))
		var p *problem.Problem
		require.ErrorAs(t, err, &p, in)
		assert.Equal(t, path, p.Path, in)
	}
}
