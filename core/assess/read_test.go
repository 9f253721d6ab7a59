package assess

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// An assessment of the first form, kept as that program wrote it, is read as it
// was said: its marks stand, its sentences stand, and nothing is judged anew.
func TestOlderFormIsRead(t *testing.T) {
	raw, err := os.ReadFile("testdata/form-0.json")
	require.NoError(t, err)
	var old first
	require.NoError(t, json.Unmarshal(raw, &old))
	a, err := Read(raw)
	require.NoError(t, err)
	assert.Equal(t, FormNow, a.Form)
	assert.Equal(t, Proven, a.Class)
	mark, of := a.Total()
	was, outOf := 0.0, 0.0
	for i, s := range old.Sections {
		was, outOf = was+s.Mark, outOf+s.Of
		require.Len(t, a.Sections[i].Reasons, len(s.Reasons))
		for k, r := range s.Reasons {
			assert.Equal(t, "kept", a.Sections[i].Reasons[k].Code)
			assert.Equal(t, r.Text, a.Sections[i].Reasons[k].Params["text"])
		}
	}
	assert.InDelta(t, was, mark, 0.05)
	assert.Equal(t, outOf, of)
	assert.Len(t, a.Points, len(old.Points))
	assert.Equal(t, "main-jet-blocked", a.Truth[0].ID)
	assert.Equal(t, "2026.3", a.ModelVersion)
	// What is written of it now reads the same again.
	again, err := json.Marshal(a)
	require.NoError(t, err)
	b, err := Read(again)
	require.NoError(t, err)
	assert.Equal(t, a, b)
	assert.NotContains(t, string(again), "null", "the page is sent lists")
	for bad, says := range map[string]string{`{"form":99}`: "knows up to", `{`: "assessment", `{"form":0,"sections":5}`: "assessment"} {
		_, err := Read([]byte(bad))
		assert.ErrorContains(t, err, says, strings.TrimSpace(bad))
	}
}
