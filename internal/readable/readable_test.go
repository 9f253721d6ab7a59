package main

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Every group of texts keeps to the limits, and no word stands that is not to be used.
func TestWordsArePlain(t *testing.T) {
	for name, texts := range all() {
		l := measure(name, texts)
		assert.LessOrEqual(t, l.Longest, longest, "%s: %s", name, l.LongestText)
		assert.Less(t, l.Grade, hardest, name)
		for w, text := range l.Hard {
			assert.Fail(t, "a hard word that is not on the list", "%s: %s in “%s”", name, w, text)
		}
		for w, text := range l.Avoided {
			assert.Fail(t, "a word that is not used", "%s: say “%s” for “%s” in “%s”", name, avoided()[w], w, text)
		}
	}
}

// The measure finds what it is for: length, grade, hard words and words not used.
func TestMeasure(t *testing.T) {
	easy := measure("x", []string{"The plug is dry. No fuel comes to it."})
	assert.Equal(t, 2, easy.Sentences)
	assert.InDelta(t, 4.5, easy.Mean, 1e-9)
	assert.Less(t, easy.Grade, 2.0)
	hard := measure("x", []string{"Subsequently the operator must ascertain whether inadequate atomisation constitutes the predominating irregularity."})
	assert.Greater(t, hard.Grade, 15.0)
	assert.Contains(t, hard.Hard, "irregularity")
	assert.Contains(t, hard.Avoided, "ascertain")
	for word, n := range map[string]int{"plug": 1, "fuel": 1, "needle": 2, "pulled": 1, "wetted": 2, "carburettor": 4, "crankcase": 2,
		"leak-down": 2, "valve": 1} {
		assert.Equal(t, n, spoken(word), word)
	}
}
