package lesson_test

import (
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
