// Package messages puts words to codes. The words of a language stand in one
// file, by key; the web application reads the same files. A parameter of a
// message is written {name}.
package messages

import (
	"embed"
	"encoding/json"
	"fmt"
	"io/fs"
	"maps"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"

	"zanjero/core/problem"
)

//go:embed *.json
var files embed.FS

//go:embed kinds/kinds.json
var kindsFile embed.FS

// English is the language in which everything can be said.
const English = "en"

// Words are the messages of one language. They are not changed once they are
// loaded, and may be used from any goroutine.
type Words struct {
	Language string
	text     map[string]string
}

// all languages by their tag. The files are part of the program, so one that
// cannot be read is a slip that the tests of this package rule out.
var all = sync.OnceValue(func() map[string]*Words {
	out := map[string]*Words{}
	names, err := fs.Glob(files, "*.json")
	if err != nil {
		panic(err)
	}
	for _, name := range names {
		raw, err := files.ReadFile(name)
		if err != nil {
			panic(err)
		}
		var tree map[string]any
		if err := json.Unmarshal(raw, &tree); err != nil {
			panic(fmt.Errorf("%s: %w", name, err))
		}
		w := &Words{Language: strings.TrimSuffix(name, ".json"), text: map[string]string{}}
		flatten(tree, "", w.text)
		out[w.Language] = w
	}
	return out
})

func flatten(tree map[string]any, at string, out map[string]string) {
	for k, v := range tree {
		switch x := v.(type) {
		case string:
			out[at+k] = x
		case map[string]any:
			flatten(x, at+k+".", out)
		}
	}
}

// In gives the words of a language, or of English for one that has none.
func In(language string) *Words {
	if w, ok := all()[language]; ok {
		return w
	}
	return all()[English]
}

// Languages lists those that there are, English first.
func Languages() []string {
	out := slices.Sorted(maps.Keys(all()))
	slices.SortStableFunc(out, func(a, b string) int {
		switch {
		case a == English:
			return -1
		case b == English:
			return 1
		}
		return 0
	})
	return out
}

// Keys lists the keys that there is a message for, sorted.
func (w *Words) Keys() []string { return slices.Sorted(maps.Keys(w.text)) }

// Has says that there is a message for a key.
func (w *Words) Has(key string) bool { _, ok := w.text[key]; return ok }

// kinds says which parameters hold ids of things that have names, and under
// which keys the names stand. The web application reads the same file.
var kinds = sync.OnceValue(func() (k struct {
	One  map[string]string
	Many map[string]struct {
		Keys    []string
		Between string
	}
}) {
	raw, err := kindsFile.ReadFile("kinds/kinds.json")
	if err == nil {
		err = json.Unmarshal(raw, &k)
	}
	if err != nil {
		panic(err)
	}
	return k
})

// Text gives the message of a key, filled in. A key that there is no message for
// gives the key itself, so that nothing is lost; the tests see to it that none is
// asked for. A value that begins with @ is a key itself.
func (w *Words) Text(key string, params problem.Params) string {
	text, ok := w.text[key]
	if !ok {
		return key
	}
	if !strings.Contains(text, "{") {
		return text
	}
	var out strings.Builder
	for {
		i := strings.IndexByte(text, '{')
		k := strings.IndexByte(text, '}')
		if i < 0 || k < i {
			out.WriteString(text)
			return out.String()
		}
		out.WriteString(text[:i])
		out.WriteString(w.value(text[i+1:k], params))
		text = text[k+1:]
	}
}

// value writes a parameter out.
func (w *Words) value(name string, params problem.Params) string {
	v, ok := params[name]
	if !ok {
		return "{" + name + "}"
	}
	switch x := v.(type) {
	case string:
		if key, isKey := strings.CutPrefix(x, "@"); isKey {
			if !w.Has(key) {
				// What is left of a kind is said once for all of it.
				if any := key[:strings.LastIndexByte(key, '.')+1] + "any"; w.Has(any) {
					return w.Text(any, problem.Params{"fault": params["item"]})
				}
			}
			return w.Text(key, params)
		}
		if key, named := kinds().One[name]; named {
			return w.named(x, key)
		}
		if reading.MatchString(x) {
			return w.Number(x)
		}
		return x
	case float64:
		return w.Number(number(x))
	case []string:
		return w.list(name, x)
	case []any:
		var texts []string
		for _, t := range x {
			texts = append(texts, fmt.Sprint(t))
		}
		return w.list(name, texts)
	}
	return fmt.Sprint(v)
}

// named is the name of an id by the first key under which it has one, or the id.
func (w *Words) named(id string, keys ...string) string {
	for _, key := range keys {
		if text, ok := w.text[strings.Replace(key, "*", id, 1)]; ok {
			return text
		}
	}
	return id
}

func (w *Words) list(name string, ids []string) string {
	l, known := kinds().Many[name]
	if !known {
		return strings.Join(ids, ", ")
	}
	out := make([]string, len(ids))
	for i, id := range ids {
		out[i] = w.named(id, l.Keys...)
	}
	return strings.Join(out, l.Between)
}

// reading is a figure that comes written out, with its unit or without.
var reading = regexp.MustCompile(`^[-−]?\d+\.\d+( \S+)?$`)

// commas are the languages that write a comma where English writes a point in a number.
var commas = []string{"es"}

// Number writes a number that has a decimal point, if any, as the language does.
func (w *Words) Number(plain string) string {
	if slices.Contains(commas, w.Language) {
		return strings.Replace(plain, ".", ",", 1)
	}
	return plain
}

// number writes figures as people do: no more than four of them count.
func number(v float64) string {
	if v == math.Trunc(v) && math.Abs(v) < 1e15 {
		return strconv.FormatFloat(v, 'f', -1, 64)
	}
	rounded, err := strconv.ParseFloat(strconv.FormatFloat(v, 'g', 4, 64), 64)
	if err != nil {
		return strconv.FormatFloat(v, 'g', 4, 64)
	}
	return strconv.FormatFloat(rounded, 'f', -1, 64)
}

// Problem gives what is wrong and how to mend it.
func (w *Words) Problem(p problem.Problem) (what, mend string) {
	return w.Text("problem."+p.Code+".what", p.Params), w.Text("problem."+p.Code+".mend", p.Params)
}

// Name gives a field of a thing by its kind and id: the title of a test, the
// name of a reach.
func (w *Words) Name(kind, id, field string) string { return w.text[kind+"."+id+"."+field] }

// Option is the field under which a position of a set-up has its label: "yes" and
// "no" for true and false.
func Option(value any) string {
	switch v := value.(type) {
	case bool:
		if v {
			return "yes"
		}
		return "no"
	case float64:
		value = strconv.FormatFloat(v, 'g', -1, 64)
	}
	var out strings.Builder
	for _, r := range strings.ToLower(fmt.Sprint(value)) {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			out.WriteRune(r)
		case out.Len() > 0 && !strings.HasSuffix(out.String(), "-"):
			out.WriteByte('-')
		}
	}
	return strings.Trim(out.String(), "-")
}

// Explain gives a value as it stands in JSON, with words put to every problem in
// it, "problem" and "mend" beside its code; a list of warnings becomes a list of
// sentences.
func (w *Words) Explain(v any) (any, error) {
	raw, err := json.Marshal(v)
	if err != nil {
		return nil, err
	}
	var tree any
	if err := json.Unmarshal(raw, &tree); err != nil {
		return nil, err
	}
	w.explain(tree)
	return tree, nil
}

func (w *Words) explain(tree any) {
	switch x := tree.(type) {
	case []any:
		for _, v := range x {
			w.explain(v)
		}
	case map[string]any:
		for k, v := range x {
			w.explain(v)
			if list, ok := v.([]any); ok && k == "warnings" {
				x[k] = w.sentences(list)
			}
		}
		code, isProblem := x["code"].(string)
		if _, has := x["path"]; isProblem && has {
			params, _ := x["params"].(map[string]any)
			x["problem"], x["mend"] = w.Problem(problem.Problem{Code: code, Params: params})
		}
	}
}

func (w *Words) sentences(list []any) []any {
	out := []any{}
	for _, v := range list {
		if p, ok := v.(map[string]any); ok {
			v = fmt.Sprintf("%v: %v", p["path"], p["problem"])
		}
		out = append(out, v)
	}
	return out
}
