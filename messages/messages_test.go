package messages

import (
	"encoding/json"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zanjero/core/catalogue"
	"zanjero/core/diagnosis"
	"zanjero/core/problem"
	"zanjero/core/units"
)

var code = regexp.MustCompile(`^[a-z]+(\.[a-z0-9-]+)+$`)

// inspect walks the code of the whole program, its tests apart.
func inspect(t *testing.T, see func(path string, n ast.Node)) {
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() {
			if slices.Contains([]string{"node_modules", ".git", ".run"}, d.Name()) {
				return filepath.SkipDir
			}
			return nil
		}
		if !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || strings.HasSuffix(path, ".gen.go") {
			return nil
		}
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
		require.NoError(t, err)
		ast.Inspect(f, func(n ast.Node) bool { see(path, n); return true })
		return nil
	}))
}

// codes finds every code that the program asks words for, and where. Every text
// that looks like a code is one, wherever it stands.
func codes(t *testing.T) map[string]string {
	out := map[string]string{}
	inspect(t, func(path string, n ast.Node) {
		lit, ok := n.(*ast.BasicLit)
		if !ok || lit.Kind != token.STRING {
			return
		}
		text, err := strconv.Unquote(lit.Value)
		if err == nil && code.MatchString(text) {
			out[text] = path
		}
	})
	return out
}

// A problem is made of a code, never of a sentence, and its parameters come in
// pairs of a name and a value.
func TestProblemsAreMadeOfCodes(t *testing.T) {
	first := map[string]int{"New": 1, "refuse": 1} // which argument the code is
	n := 0
	inspect(t, func(path string, node ast.Node) {
		call, ok := node.(*ast.CallExpr)
		if !ok {
			return
		}
		name := ""
		switch fun := call.Fun.(type) {
		case *ast.Ident:
			name = fun.Name
		case *ast.SelectorExpr:
			if pkg, is := fun.X.(*ast.Ident); is && pkg.Name == "problem" {
				name = fun.Sel.Name
			}
		}
		at, known := first[name]
		if !known || len(call.Args) <= at {
			return
		}
		n++
		if lit, ok := call.Args[at].(*ast.BasicLit); ok {
			text, err := strconv.Unquote(lit.Value)
			assert.NoError(t, err)
			assert.Regexp(t, code, text, "%s: a sentence in place of a code", path)
		} else {
			_, isName := call.Args[at].(*ast.Ident)
			assert.True(t, isName, "%s: a code is put together", path)
		}
		if call.Ellipsis.IsValid() {
			return
		}
		pairs := call.Args[at+1:]
		assert.Zero(t, len(pairs)%2, "%s: a parameter without its value", path)
		for i := 0; i < len(pairs); i += 2 {
			lit, ok := pairs[i].(*ast.BasicLit)
			assert.True(t, ok && lit.Kind == token.STRING, "%s: a parameter without a name", path)
		}
	})
	assert.Greater(t, n, 150, "calls were found at all")
}

// Every code that the program gives has its words, in every language. The build
// fails on a message file that lacks one.
func TestEveryCodeHasItsWords(t *testing.T) {
	packages := map[string]bool{}
	w := In(English)
	for _, key := range w.Keys() {
		if parts := strings.Split(key, "."); parts[0] == "problem" || parts[0] == "reason" {
			packages[parts[1]] = true
		}
	}
	n := 0
	for text, path := range codes(t) {
		if !packages[strings.Split(text, ".")[0]] || slices.Contains([]string{"proof.setup", "proof.test"}, text) {
			continue // not a code, or the place of one
		}
		n++
		for _, language := range Languages() {
			l := In(language)
			reason := l.Has("reason." + text)
			problem := l.Has("problem."+text+".what") && l.Has("problem."+text+".mend")
			assert.True(t, reason || problem || l.Has(text), "%s: no words for %s of %s", language, text, path)
		}
	}
	assert.Greater(t, n, 200, "codes were found at all")
}

// Words that nothing asks for are no use to whoever translates them.
func TestNoWordsWithoutACode(t *testing.T) {
	given := codes(t)
	for _, key := range In(English).Keys() {
		parts := strings.Split(key, ".")
		switch {
		case parts[0] == "problem" && parts[1] == "page", key == "problem.attempt.outdated.what", key == "problem.attempt.stopped.what",
			key == "problem.attempt.outdated.mend", key == "problem.attempt.stopped.mend":
			// The page asks for these; its own tests see to them.
		case parts[0] == "problem":
			assert.NotEmpty(t, given[strings.Join(parts[1:3], ".")], "nothing gives %s", key)
		case parts[0] == "reason" && len(parts) == 3 && parts[1] != "conclusion":
			assert.NotEmpty(t, given[strings.Join(parts[1:], ".")], "nothing gives %s", key)
		}
	}
}

// Whatever the catalogue has, has its words.
func TestTheCatalogueHasItsWords(t *testing.T) {
	c := catalogue.Standard()
	for _, language := range Languages() {
		w := In(language)
		has := func(kind, id string, fields ...string) {
			for _, f := range fields {
				assert.NotEmpty(t, w.Name(kind, id, f), "%s: %s.%s.%s", language, kind, id, f)
			}
		}
		for _, x := range c.Laterals {
			has("lateral", x.ID, "name")
		}
		for _, x := range c.Reaches {
			has("reach", x.ID, "name")
		}
		for _, x := range c.Families {
			has("family", x.ID, "name", "kind")
		}
		for _, x := range c.Figures {
			has("figure", x.ID, "name")
			for _, word := range x.Words {
				assert.True(t, w.Has("word."+word), word)
			}
		}
		for _, x := range c.Faults {
			has("fault", x.ID, "name", "account")
			for _, m := range x.Modes {
				assert.True(t, w.Has("mode."+m), m)
			}
		}
		for _, x := range c.Causes {
			has("cause", x.ID, "name")
		}
		for _, x := range c.Advice {
			has("advice", x.ID, "text")
		}
		for _, x := range c.Access {
			has("cover", x.ID, "name", "off", "note")
			assert.True(t, w.Has("left.cover."+x.ID), x.ID)
		}
		for _, x := range c.Controls {
			has("control", x.ID, "name")
			for _, p := range x.Positions {
				assert.True(t, w.Has("position."+p), p)
			}
		}
		for _, x := range c.Hazards {
			has("hazard", x.ID, "caution")
		}
		for _, x := range c.Actions {
			has("action", x.ID, "name")
		}
		for _, x := range c.Repairs.Acts {
			if has("repair", x.ID, "name"); x.Improvised() {
				has("repair", x.ID, "verdict")
			}
		}
		for _, x := range c.Setups {
			has("setup", x.ID, "name")
			for _, v := range x.Options {
				has("setup", x.ID, Option(v))
			}
		}
		for _, x := range c.Statements {
			has("statement", x.ID, "says")
		}
		for _, x := range diagnosis.Complaints {
			has("complaint", x.ID, "name", "said")
		}
		for _, x := range c.Tests {
			has("test", x.ID, "title", "teaches", "cannot")
			for _, id := range x.Conditions {
				has("condition", id, "met", "missed")
			}
			for _, word := range x.Words {
				assert.True(t, w.Has("word."+word), "%s says %s", x.ID, word)
				if x.Kind == catalogue.KindLook || x.Kind == catalogue.KindFeel {
					has("sight", x.ID, word)
				}
			}
			for _, part := range x.Parts {
				for _, word := range part.Words {
					assert.True(t, w.Has("word."+word), "%s says %s of its %s", x.ID, word, part.ID)
				}
			}
		}
	}
}

// Every language says the same things, with the same parameters.
func TestLanguagesSayTheSame(t *testing.T) {
	param := regexp.MustCompile(`\{\w+\}`)
	for _, language := range Languages() {
		assert.Equal(t, In(English).Keys(), In(language).Keys(), language)
		for _, key := range In(English).Keys() {
			want, got := param.FindAllString(In(English).text[key], -1), param.FindAllString(In(language).text[key], -1)
			slices.Sort(want)
			slices.Sort(got)
			assert.Equal(t, slices.Compact(want), slices.Compact(got), "%s: %s", language, key)
		}
	}
}

// The page is held against the same cases.
func TestTextAsEverywhere(t *testing.T) {
	raw, err := os.ReadFile("testdata/texts.json")
	require.NoError(t, err)
	var cases []struct {
		Key, Text string
		Params    problem.Params
	}
	require.NoError(t, json.Unmarshal(raw, &cases))
	for _, c := range cases {
		assert.Equal(t, c.Text, In(English).Text(c.Key, c.Params))
	}
	for _, key := range In(English).Keys() { // these mean something else to the page
		assert.NotContains(t, In(English).text[key], "@", key)
		assert.NotContains(t, In(English).text[key], "|", key)
	}
}

func TestText(t *testing.T) {
	w := In(English)
	what, mend := w.Problem(*problem.New("", "setup.out-of-range", "value", 3.0, "low", 0.5, "high", 2.25))
	assert.Equal(t, "3 is out of range", what)
	assert.Equal(t, "write a number from 0.5 to 2.25", mend)
	assert.Equal(t, "Compression, dry: read right.", strings.Replace(w.Text("reason.reading.read", problem.Pairs("of", []string{"compression-dry"})),
		w.Name("test", "compression-dry", "title"), "Compression, dry", 1))
	assert.Contains(t, w.Text("reason.cause.right", problem.Pairs("chain", []any{"main-jet-blocked", "stored-with-fuel"})), " ← ", "as it comes back from JSON")
	assert.Contains(t, w.Text("reason.ready.left", problem.Pairs("left", "@left.fault.seized", "item", "seized")), w.Name("fault", "seized", "name"))
	assert.Equal(t, "no.such", w.Text("no.such", nil), "nothing is lost")
	assert.Contains(t, w.Text("reason.reading.misread", problem.Pairs("of", []string{"x"})), "{slip}", "a parameter that is missing shows")
	told, err := w.Explain(map[string]any{"warnings": []problem.Problem{*problem.New("a", "sim.control-ignored", "family", "f4-bowl", "control_id",
		"bar")}, "findings": []any{problem.New("b", "setup.not-number", "value", "x")}})
	require.NoError(t, err)
	assert.Equal(t, []any{"a: f4-bowl has no bar; it is ignored"}, told.(map[string]any)["warnings"])
	assert.Equal(t, "x is not a number", told.(map[string]any)["findings"].([]any)[0].(map[string]any)["problem"])
}

// Nothing is left in English: what is the same in another language has no sentence in it, but
// a formula, a list of codes, or a word that both have.
func TestOtherLanguagesAreTranslated(t *testing.T) {
	en := In(English)
	param := regexp.MustCompile(`\{\w+\}`)
	sentence := regexp.MustCompile(`\b(the|is|are|of|and|not|with|for|was|to)\b`)
	for _, language := range Languages()[1:] {
		w, same := In(language), 0
		for _, key := range en.Keys() {
			text := en.text[key]
			if w.text[key] != text {
				continue
			}
			same++
			assert.False(t, sentence.MatchString(param.ReplaceAllString(text, "")), "%s: %s is still in English: %s", language, key, text)
		}
		assert.Less(t, same, len(en.Keys())/20, language)
	}
}

// A number has the decimal mark of the language, as it is worked out and as it comes written.
func TestDecimalMark(t *testing.T) {
	es := In("es")
	assert.Contains(t, es.Text("desk.bits", problem.Params{"bits": 1.25}), "1,25")
	assert.Contains(t, es.Text("reason.reading.misread", problem.Params{"shown": "0.7 mm", "of": "x", "typed": "3.5", "slip": "@slip.unit"}), "0,7 mm")
	assert.Contains(t, In("en").Text("desk.bits", problem.Params{"bits": 1.25}), "1.25")
}

// The units that a language has in place of others are the same quantity, by the factors of
// core/units.
func TestUnitsOfALanguage(t *testing.T) {
	raw, err := kindsFile.ReadFile("kinds/kinds.json")
	require.NoError(t, err)
	var k struct {
		Units map[string]map[units.Unit]struct {
			Unit  units.Unit
			Times float64
		}
	}
	require.NoError(t, json.Unmarshal(raw, &k))
	require.NotEmpty(t, k.Units["es"])
	for language, of := range k.Units {
		assert.Contains(t, Languages(), language)
		for from, to := range of {
			want, err := units.Convert(1, from, to.Unit)
			require.NoError(t, err)
			assert.InEpsilon(t, want, to.Times, 1e-9)
		}
	}
}
