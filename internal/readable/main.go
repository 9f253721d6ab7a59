// Command readable measures how hard the program's words are to read, and writes the
// report in docs/reading-level.md: sentence length, grade, hard words, and words that
// are not to be used because plainer ones say the same. People read these words in a
// second language, some of them at a bench.
package main

import (
	"flag"
	"fmt"
	"os"

	"zanjero/core/procedure"
	"zanjero/messages"
)

func main() {
	out := flag.String("out", "docs/reading-level.md", "where the report goes")
	flag.Parse()
	if err := os.WriteFile(*out, []byte(report(all())), 0o644); err != nil {
		fmt.Fprintln(os.Stderr, "readable:", err)
		os.Exit(1)
	}
}

// all are the words that people read, by where they stand.
func all() map[string][]string {
	out := map[string][]string{}
	w := messages.In(messages.English)
	for _, key := range w.Keys() {
		out[group(key)] = append(out[group(key)], w.Text(key, nil))
	}
	p := procedure.Schools()
	for _, s := range p.Steps {
		out["schools"] = append(out["schools"], s.Note)
		for _, o := range s.Outcomes {
			out["schools"] = append(out["schools"], o.Why)
		}
	}
	for _, page := range p.Procedures {
		out["schools"] = append(out["schools"], page.About)
	}
	return out
}
