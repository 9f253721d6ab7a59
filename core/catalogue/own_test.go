package catalogue

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/problem"
)

func TestOwnFiguresStandInPlaceOfTheCatalogues(t *testing.T) {
	c := Standard()
	own, err := c.ReadOwn(strings.NewReader(`{"tests": {"look-oil": 7}, "covers": {"shroud": {"off": 5, "back": 6}}, "rates": {"plug-fouled": 99},
		"family_rates": {"t2-diaphragm": {"plug-fouled": 7}}, "sources": {"tests.look-oil": "timed here in May"}}`))
	require.NoError(t, err)
	o := c.With(own)
	fam := &c.Families[0]
	assert.Equal(t, 7.0, o.TestFor(fam.ID, fam.Sheet, "look-oil").Minutes)
	assert.Equal(t, [2]float64{5, 6}, [2]float64{o.Cover("shroud").OpenMinutes, o.Cover("shroud").CloseMinutes})
	assert.Equal(t, 99.0, o.Fault("plug-fouled").Rate(fam.ID))
	assert.Equal(t, 7.0, o.Fault("plug-fouled").Rate("t2-diaphragm"))
	// The standard one is as it was, and what is not named is the same in both.
	assert.NotEqual(t, 7.0, c.Test("look-oil").Minutes)
	assert.NotEqual(t, 99.0, c.Fault("plug-fouled").Rate(fam.ID))
	assert.Equal(t, c.Test("look-fuel"), o.Test("look-fuel"))
	assert.Same(t, c, c.With(nil))
	require.NoError(t, o.Validate())
}

// What cannot be a yard's own figure says where it stands.
func FuzzReadOwn(f *testing.F) {
	for _, s := range []string{`{"tests": {"moon": 1}}`, `{"tests": {"run-long": 1}}`, `{"covers": {"shroud": {"off": -1}}}`,
		`{"rates": {"plug-fouled": 1e9}}`, `{"rates": {"moon": 1}}`, `{"moon": 1}`, `[`, ``, `{"covers": {"moon": {"off": 1, "back": 2}}}`,
		`{"family_rates": {"moon": {}}}`, `{"family_rates": {"f4-bowl": {"moon": 1}}}`, `{"sources": {"tests.look-oil": "x"}}`, `{"sources": {"x": ""}}`} {
		f.Add(s)
		_, err := Standard().ReadOwn(strings.NewReader(s))
		var p *problem.Problem
		require.ErrorAs(f, err, &p, s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if own, err := Standard().ReadOwn(strings.NewReader(s)); err == nil {
			require.NoError(t, Standard().With(own).Validate())
		}
	})
}
