package lesson_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/lesson"
	"zanjero/core/machine"
)

// Two machines are put on the sides that were drawn, each as it is sensed; what cannot be told
// apart is refused, and so is a test that is no matter of sense.
func TestTwoMachines(t *testing.T) {
	of := func(test string, asked machine.FaultSpec, beside *machine.FaultSpec, right int) lesson.Lesson {
		return lesson.Lesson{Family: "f4-bowl", Sheet: catalogue.Standard().Family("f4-bowl").Sheet, Test: test, Asked: asked, Beside: beside, Right: right}
	}
	worn := machine.FaultSpec{ID: "rings-worn", Severity: 0.9}
	for right := range 2 {
		l := of("pull-feel", worn, nil, right)
		sides, p := l.Show()
		require.Nil(t, p)
		assert.Equal(t, "strong", *sides[1-right].Word)
		assert.NotEqual(t, "strong", *sides[right].Word)
		assert.NotNil(t, sides[0].Rope)
	}
	l := of("start-attempt", machine.FaultSpec{ID: "main-jet-blocked", Severity: 0.3}, nil, 0)
	sides, p := l.Show()
	require.Nil(t, p)
	assert.NotEqual(t, sides[0].Heard, sides[1].Heard)

	for name, bad := range map[string]struct {
		lesson.Lesson
		code string
	}{
		"sounds the same": {of("start-attempt", machine.FaultSpec{ID: "cap-vent-blocked", Severity: 0.2}, nil, 0), "lesson.cannot-be-told-apart"},
		"the same twice":  {of("pull-feel", worn, &worn, 0), "lesson.cannot-be-told-apart"},
		"measured":        {of("compression-dry", worn, nil, 0), "lesson.not-by-a-sense"},
		"no test":         {of("x", worn, nil, 0), "lesson.not-by-a-sense"},
		"no fault":        {of("pull-feel", machine.FaultSpec{ID: "x", Severity: 1}, nil, 0), "machine.no-fault"},
		"no severity":     {of("pull-feel", machine.FaultSpec{ID: "rings-worn"}, nil, 0), ""},
	} {
		_, p := bad.Show()
		require.NotNil(t, p, name)
		if bad.code != "" {
			assert.Equal(t, bad.code, p.Code, name)
		}
	}
}

// Every look has one sense, and every run is heard.
func TestSenses(t *testing.T) {
	n := map[string]int{}
	for i := range catalogue.Standard().Tests {
		x := &catalogue.Standard().Tests[i]
		n[lesson.Sense(x)]++
		if x.Kind == catalogue.KindNumber {
			assert.Empty(t, lesson.Sense(x), x.ID)
		}
	}
	for _, s := range []string{lesson.Ear, lesson.Hand, lesson.Eye} {
		assert.Positive(t, n[s], s)
	}
}

// A lineup has every kind of look that a fault of the family makes, a sound machine first,
// and no look twice.
func TestLineup(t *testing.T) {
	for _, fam := range catalogue.Standard().Families {
		all, err := lesson.Lineup(t.Context(), fam.ID)
		require.NoError(t, err)
		words, looks, last := map[string]int{}, map[string]bool{}, ""
		for _, s := range all {
			words[s.Test+" "+*s.Obs.Word]++
			look, err := json.Marshal([]any{s.Test, *s.Obs.Word, s.Obs.Seen, s.Obs.Plug, s.Obs.Parts})
			require.NoError(t, err)
			assert.False(t, looks[string(look)], "%s twice", look)
			looks[string(look)] = true
			assert.Equal(t, s.Test != last, s.Fault == nil, "%s: a sound one first", s.Test)
			last = s.Test
		}
		for _, word := range []string{"plug-look wet", "plug-look sooty", "plug-look cracked", "jet-look part", "look-fuel stale", "key-look sheared"} {
			assert.NotZero(t, words[word], "%s on %s", word, fam.ID)
		}
		assert.GreaterOrEqual(t, words["jet-look part"], 2, "little and far")
	}
	_, err := lesson.Lineup(t.Context(), "none")
	assert.Error(t, err)
}
