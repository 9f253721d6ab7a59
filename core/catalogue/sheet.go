package catalogue

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"zanjero/core/problem"
)

// Sheet is a service sheet: the figures of one machine by id, and the words
// that say which variant of its family it is.
type Sheet map[string]Figure

// Figure is an entry of a service sheet: a band, of which a single figure has
// Low equal to High, or a word.
type Figure struct {
	Low    float64 `json:"low"`
	High   float64 `json:"high"`
	Unit   string  `json:"unit"`
	Word   string  `json:"word,omitempty"`
	Source string  `json:"source"`
}

// Middle is the middle of the band, in the figure's own unit.
func (f Figure) Middle() float64 { return (f.Low + f.High) / 2 }

// Judge says where a value in the figure's own unit lies: "below", "within"
// or "above".
func (f Figure) Judge(value float64) string {
	switch {
	case value < f.Low:
		return "below"
	case value > f.High:
		return "above"
	}
	return "within"
}

// String writes the entry as a person would: "55 to 75 psi", "0.7 mm", "points".
func (f Figure) String() string {
	switch {
	case f.Word != "":
		return strings.ReplaceAll(f.Word, "-", " ")
	case f.Low == f.High:
		return strings.TrimSpace(fmt.Sprintf("%g %s", f.Low, f.Unit))
	}
	return strings.TrimSpace(fmt.Sprintf("%g to %g %s", f.Low, f.High, f.Unit))
}

// FigureKind is what can stand on a sheet under an id: a band in a unit
// between Least and Most, or one of some words.
type FigureKind struct {
	ID    string   `json:"id"`
	Name  string   `json:"name"`
	Group string   `json:"group"`
	Unit  string   `json:"unit,omitempty"`
	Least float64  `json:"least,omitempty"`
	Most  float64  `json:"most,omitempty"`
	Words []string `json:"words,omitempty"`
	Note  string   `json:"note,omitempty"`
	// Families that have it; empty for all.
	Families []string `json:"families,omitempty"`
	Needs    Needs    `json:"needs,omitempty"`
}

// Needs are the words of a sheet that a thing depends on: any of those listed
// under each id. Nil needs nothing.
type Needs map[string][]string

// met says whether a sheet has what is needed. Without a sheet it is enough
// that some variant of the family has.
func (n Needs) met(fam *Family, s Sheet) bool {
	for id, words := range n {
		has := fam.Variants[id]
		if s != nil {
			has = []string{s[id].Word}
		}
		if !slices.ContainsFunc(words, func(w string) bool { return slices.Contains(has, w) }) {
			return false
		}
	}
	return true
}

// Needing is a fault or test with what it needs of a sheet.
type Needing struct {
	ID    string
	Needs Needs
}

// Variant gives the sheet of the variant of a family that has what some faults
// and tests need, and says what was changed for it; what stands on stated too
// is not changed. at is the place of the first that no one variant has beside
// those before it, or −1.
func (c *Catalogue) Variant(fam *Family, s, stated Sheet, all []Needing) (out Sheet, changed []problem.Problem, at int) {
	out = s
	for i, n := range all {
		if n.Needs.met(fam, out) {
			continue
		}
		for _, figure := range slices.Sorted(maps.Keys(n.Needs)) {
			words := n.Needs[figure]
			k := slices.IndexFunc(words, func(w string) bool { return slices.Contains(fam.Variants[figure], w) })
			if _, fixed := stated[figure]; k < 0 || fixed {
				return s, nil, i
			}
			out = maps.Clone(out)
			out[figure] = Figure{Word: words[k], Source: "variant"}
			changed = append(changed, *problem.New("sheet."+figure, "catalogue.taken-as-a-variant", "id", n.ID, "word", words[k]))
		}
		if slices.ContainsFunc(all[:i], func(n Needing) bool { return !n.Needs.met(fam, out) }) {
			return s, nil, i
		}
	}
	return out, changed, -1
}

// Figure gives a kind of figure by id, or nil.
func (c *Catalogue) Figure(id string) *FigureKind {
	return find(c.Figures, id, func(f *FigureKind) string { return f.ID })
}

// FiguresOf lists what stands on a family's sheet, in order.
func (c *Catalogue) FiguresOf(family string) []FigureKind {
	return slices.DeleteFunc(slices.Clone(c.Figures), func(f FigureKind) bool {
		return len(f.Families) > 0 && !slices.Contains(f.Families, family)
	})
}

// Complete fills what a sheet leaves out with the family's own figures. It
// does not change the sheet it is given.
func (c *Catalogue) Complete(family string, s Sheet) Sheet {
	fam := c.Family(family)
	if fam == nil {
		return s
	}
	out := maps.Clone(fam.Sheet)
	maps.Copy(out, s)
	return out
}

// Given lays figures from outside over a family's sheet: each in its one unit where none
// is said, and said to be given where it names no source. The given figures come back as
// they were understood.
func (c *Catalogue) Given(family string, own Sheet) (whole, given Sheet) {
	given = Sheet{}
	for id, f := range own {
		if k := c.Figure(id); k != nil && f.Word == "" && f.Unit == "" {
			f.Unit = k.Unit
		}
		if f.Source == "" {
			f.Source = "given"
		}
		given[id] = f
	}
	return c.Complete(family, given), given
}

// CheckSheet lists what on a family's sheet cannot be, with where and how to
// mend it, in the order of the sheet. The family must be known.
func (c *Catalogue) CheckSheet(family string, s Sheet) (out []problem.Problem) {
	fam := c.Family(family)
	known := c.FiguresOf(family)
	for _, k := range known {
		f, there := s[k.ID]
		if p := k.check(fam, f, there); p != nil {
			out = append(out, *p)
		}
	}
	for _, id := range slices.Sorted(maps.Keys(s)) {
		if !slices.ContainsFunc(known, func(k FigureKind) bool { return k.ID == id }) {
			out = append(out, *problem.New(id, "catalogue.figure-unknown"))
		}
	}
	if len(out) > 0 {
		return out
	}
	// Displacement is bore and stroke, so the three must agree.
	swept := math.Pi / 4 * s["bore_mm"].Middle() * s["bore_mm"].Middle() * s["stroke_mm"].Middle() / 1000
	if d := s["displacement_ml"].Middle(); math.Abs(swept-d) > 0.03*d {
		out = append(out, *problem.New("displacement_ml", "catalogue.displacement-against-bore", "volume", d, "swept", fmt.Sprintf("%.0f", swept)))
	}
	if s["idle_rpm"].Low > s["governed_rpm"].High {
		out = append(out, *problem.New("idle_rpm", "catalogue.idles-faster-than-governed"))
	}
	return out
}

func (k *FigureKind) check(fam *Family, f Figure, there bool) *problem.Problem {
	say := func(code string, pairs ...any) *problem.Problem { return problem.New(k.ID, code, pairs...) }
	within := []any{"least", k.Least, "most", k.Most, "unit", k.Unit}
	if k.Words != nil {
		can := fam.Variants[k.ID]
		if !there || !slices.Contains(can, f.Word) {
			return say("catalogue.not-what-family-can", "word", f.Word, "can", can)
		}
		return nil
	}
	switch {
	case !there:
		return say("catalogue.figure-missing", within...)
	case f.Word != "":
		return say("catalogue.figure-is-a-word", append(within, "word", f.Word)...)
	case f.Unit != k.Unit:
		return say("catalogue.figure-in-another-unit", "given", f.Unit, "unit", k.Unit)
	case !(f.Low <= f.High):
		return say("catalogue.low-above-high", "low", f.Low, "high", f.High)
	case !(f.Low >= k.Least && f.High <= k.Most):
		return say("catalogue.figure-cannot-be", append(within, "low", f.Low, "high", f.High)...)
	case strings.TrimSpace(f.Source) == "":
		return say("catalogue.figure-without-source")
	}
	return nil
}
