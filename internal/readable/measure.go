package main

import (
	_ "embed"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
)

// plain.txt lists hard words that stand: what the trade calls its things, and what
// the program cannot do without. avoid.txt has words that are not to be used, each
// with what to say instead.
var (
	//go:embed plain.txt
	plainList string
	//go:embed avoid.txt
	avoidList string
)

// Limits that the test holds the texts to.
const (
	longest   = 25  // words in a sentence
	hardest   = 6.0 // grade of a group
	syllables = 4   // from which on a word is hard
	leastText = 4   // words of a text that counts as a sentence
)

// level is how hard a group of texts is to read.
type level struct {
	Group            string
	Sentences, Words int
	Mean             float64 // words in a sentence
	Longest          int
	LongestText      string
	// Grade is of Flesch and Kincaid: 0.39 words a sentence + 11.8 syllables a word
	// − 15.59. Source: Kincaid and others, Navy Research Branch Report 8-75, 1975.
	Grade float64
	// Hard are words of many syllables that are not on the list, Avoided those that
	// are not to be used, with the text that they stand in.
	Hard, Avoided map[string]string
}

var (
	letters  = regexp.MustCompile(`[A-Za-z][A-Za-z'’-]*`)
	holder   = regexp.MustCompile(`\{\w+\}`)
	sentence = regexp.MustCompile(`[.!?:;](?:\s|$)`)
	vowels   = regexp.MustCompile(`[aeiouy]+`)
)

// group is the kind of words that a key stands for.
func group(key string) string {
	first, _, _ := strings.Cut(key, ".")
	return first
}

// measure reads a group of texts.
func measure(name string, texts []string) level {
	l := level{Group: name, Hard: map[string]string{}, Avoided: map[string]string{}}
	plain, avoid := lines(plainList), avoided()
	count := 0
	for _, text := range texts {
		text = holder.ReplaceAllString(text, "this")
		low := " " + strings.ToLower(text) + " "
		for bad := range avoid {
			if regexp.MustCompile(`\b` + regexp.QuoteMeta(bad) + `\b`).MatchString(low) {
				l.Avoided[bad] = text
			}
		}
		for _, s := range sentence.Split(text, -1) {
			words := letters.FindAllString(s, -1)
			if len(words) < leastText {
				continue
			}
			l.Sentences++
			l.Words += len(words)
			if len(words) > l.Longest {
				l.Longest, l.LongestText = len(words), strings.TrimSpace(s)
			}
			for _, w := range words {
				n := spoken(w)
				count += n
				w = strings.ToLower(w)
				if n >= syllables && !slices.Contains(plain, w) && !slices.Contains(plain, strings.TrimSuffix(w, "s")) {
					l.Hard[w] = strings.TrimSpace(s)
				}
			}
		}
	}
	if l.Sentences > 0 {
		l.Mean = float64(l.Words) / float64(l.Sentences)
		l.Grade = 0.39*l.Mean + 11.8*float64(count)/float64(l.Words) - 15.59
	}
	return l
}

// spoken is about how many syllables an English word has.
func spoken(word string) int {
	n := 0
	for _, part := range strings.Split(strings.ToLower(word), "-") {
		part = strings.TrimSuffix(part, "'s")
		k := len(vowels.FindAllString(part, -1))
		if k > 1 && (strings.HasSuffix(part, "e") && !strings.HasSuffix(part, "le") || strings.HasSuffix(part, "ed") &&
			!strings.HasSuffix(part, "ted") && !strings.HasSuffix(part, "ded")) {
			k--
		}
		n += max(k, 1)
	}
	return n
}

func lines(list string) (out []string) {
	for _, l := range strings.Split(list, "\n") {
		if l = strings.TrimSpace(l); l != "" && !strings.HasPrefix(l, "#") {
			out = append(out, l)
		}
	}
	return out
}

// avoided are the words that are not to be used, with what to say instead.
func avoided() map[string]string {
	out := map[string]string{}
	for _, l := range lines(avoidList) {
		bad, good, _ := strings.Cut(l, " → ")
		out[bad] = good
	}
	return out
}

// report is the page of the docs.
func report(texts map[string][]string) string {
	var b strings.Builder
	b.WriteString("# How hard the words are to read\n\nMade by `make readable`; the test beside it holds every group to the limits. " +
		fmt.Sprintf("Sentences have at most %d words, no group is above grade %.0f by the formula of Flesch and Kincaid (Kincaid and others, 1975; "+
			"syllables are counted by a rule of thumb, so a grade is good to about half of one), and a word of %d syllables or more stands only if it is on "+
			"the list of trade words in `internal/readable/plain.txt`. ", longest, hardest, syllables) +
		"`internal/readable/avoid.txt` has words that are not used, each with a plainer one.\n\n" +
		"| where | sentences | words in one | longest | grade |\n|---|--:|--:|--:|--:|\n")
	for _, name := range slices.Sorted(maps.Keys(texts)) {
		if l := measure(name, texts[name]); l.Sentences > 0 {
			fmt.Fprintf(&b, "| %s | %d | %.1f | %d | %.1f |\n", l.Group, l.Sentences, l.Mean, l.Longest, l.Grade)
		}
	}
	b.WriteString("\n## The longest sentence of each\n\n")
	for _, name := range slices.Sorted(maps.Keys(texts)) {
		if l := measure(name, texts[name]); l.Longest > 12 {
			fmt.Fprintf(&b, "- %s, %d words: “%s”\n", l.Group, l.Longest, l.LongestText)
		}
	}
	return b.String()
}
