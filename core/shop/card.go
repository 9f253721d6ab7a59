// Package shop is about real engines that an instructor has put a fault into: the card that
// goes with one from the bug to its release, and what the model makes of such an engine.
package shop

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/ledger"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/scenario"
	"zanjero/core/units"
)

// Bug is what an instructor did to an engine, and what they read of it before.
type Bug struct {
	// Fault is what it comes to in the model; Fit lays its severity out.
	Fault machine.FaultSpec `json:"fault"`
	// Done says what was done and where, Undo how it is undone.
	Done string `json:"done"`
	Undo string `json:"undo"`
	// Complaint is the id of what the owner complains of, Words in whose words.
	Complaint string `json:"complaint"`
	Words     string `json:"words"`
	// Sound are the readings before the fault was put in.
	Sound []ledger.HandReading `json:"sound"`
}

// Acts of a card, in the order in which they come. A bug can be undone from any of them but
// while somebody works on the engine.
const (
	Bugged   = "bugged"   // the fault was put in
	Seen     = "seen"     // the symptom is there, and how the engine reads with it
	Given    = "given"    // it is given out with a job
	Again    = "again"    // in an exam: the fault is in it as before, for whoever is next
	Back     = "back"     // it was taken back
	Undone   = "undone"   // the fault was taken out, and the engine checked
	Released = "released" // it is fit again, with initials
)

// Act is one step of a card.
type Act struct {
	Kind string `json:"kind"`
	// Readings are of the engine with its fault at Seen and Again, and after it at Undone.
	Readings []ledger.HandReading `json:"readings,omitempty"`
	// Symptom: at Seen and Again that it is there, at Undone that it is gone.
	Symptom bool `json:"symptom,omitempty"`
	// Initials at Released, of whoever releases it.
	Initials string `json:"initials,omitempty"`
}

// follows are the acts that may come after each.
var follows = map[string][]string{
	Bugged: {Seen, Undone}, Seen: {Given, Undone}, Given: {Again, Back}, Again: {Again, Back}, Back: {Undone}, Undone: {Undone, Released}, Released: nil,
}

// most letters of a text on a card.
const mostText = 500

// Check refuses a card that cannot be, with every place.
func (b *Bug) Check(family string, sheet catalogue.Sheet) (out []problem.Problem) {
	add := func(p *problem.Problem) {
		if p != nil {
			out = append(out, *p)
		}
	}
	for at, text := range []string{b.Done, b.Undo, b.Words} {
		name := []string{"done", "undo", "words"}[at]
		switch n := utf8.RuneCountInString(strings.TrimSpace(text)); {
		case n == 0:
			add(problem.New(name, "shop.text-empty"))
		case n > mostText:
			add(problem.New(name, "shop.text-long", "most", mostText))
		}
	}
	sc := b.scenario(family, sheet, nil)
	for _, p := range sc.Check() {
		if p.Path == "complaint" || p.Path == "claim" || strings.HasPrefix(p.Path, "faults") {
			add(&p)
		}
	}
	if len(b.Sound) == 0 {
		add(problem.New("sound", "shop.no-baseline"))
	}
	add((&ledger.Iron{Sound: b.Sound}).Check(family, sheet))
	return out
}

// limits of a job on an engine, until its instructor sets others.
const (
	usualMinutes = 120
	usualMoney   = 100
)

func (b *Bug) scenario(family string, sheet catalogue.Sheet, bugged []ledger.HandReading) *scenario.Scenario {
	return &scenario.Scenario{Family: family, Sheet: sheet, Ambient: machine.Ambient{TemperatureC: 20}, Faults: []machine.FaultSpec{b.Fault},
		Words: b.Words, Claim: b.Complaint, LimitMinutes: usualMinutes, LimitMoney: usualMoney, Iron: &ledger.Iron{Bugged: bugged, Sound: b.Sound}}
}

// Card is a bug with its acts.
type Card struct {
	Bug  Bug
	Acts []Act
}

// State is the last act.
func (c *Card) State() string { return c.Acts[len(c.Acts)-1].Kind }

// Open says that the engine is not fit yet.
func (c *Card) Open() bool { return c.State() != Released }

// SetAgain is how often the fault was put in again for whoever came next.
func (c *Card) SetAgain() (n int) {
	for _, a := range c.Acts {
		if a.Kind == Again {
			n++
		}
	}
	return n
}

// bugged are the readings with the fault in it, nil before there are any.
func (c *Card) bugged() []ledger.HandReading {
	for _, a := range c.Acts {
		if a.Kind == Seen {
			return a.Readings
		}
	}
	return nil
}

// Scenario is the job that is given with the engine: its own readings are what a hand's are
// held against.
func (c *Card) Scenario(family string, sheet catalogue.Sheet) *scenario.Scenario {
	return c.Bug.scenario(family, sheet, c.bugged())
}

// Allow refuses an act that cannot come now, with its place. name is that of whoever does it.
func (c *Card) Allow(a Act, family string, sheet catalogue.Sheet, name string) *problem.Problem {
	may := false
	for _, k := range follows[c.State()] {
		may = may || k == a.Kind
	}
	if !may {
		return problem.New("kind", "shop.not-now", "state", "@shop.state."+c.State())
	}
	switch a.Kind {
	case Seen, Again, Undone:
		if p := (&ledger.Iron{Bugged: a.Readings}).Check(family, sheet); p != nil {
			p.Path = "readings" + strings.TrimPrefix(p.Path, "bugged")
			return p
		}
		if len(a.Readings) == 0 {
			return problem.New("readings", "shop.no-readings")
		}
		if a.Kind != Undone && !a.Symptom {
			return problem.New("symptom", "shop.symptom-not-there")
		}
		if off := Differ(family, sheet, c.bugged(), a.Readings); a.Kind == Again && len(off) > 0 {
			return problem.New("readings", "shop.not-as-bugged", "test", off[0].Test)
		}
	case Released:
		last := c.Acts[len(c.Acts)-1]
		if !last.Symptom {
			return problem.New("kind", "shop.symptom-still-there")
		}
		if off := Differ(family, sheet, c.Bug.Sound, last.Readings); len(off) > 0 {
			return problem.New("kind", "shop.not-as-before", "test", off[0].Test)
		}
		if !IsInitials(a.Initials, name) {
			return problem.New("initials", "shop.not-your-initials", "initials", problem.Show(a.Initials))
		}
	}
	return nil
}

// IsInitials says that some letters are the initials of a name: the first letters of its
// parts, all of them or the first and the last.
func IsInitials(letters, name string) bool {
	var first []rune
	for _, part := range strings.FieldsFunc(name, func(r rune) bool { return unicode.IsSpace(r) || r == '-' }) {
		r, _ := utf8.DecodeRuneInString(part)
		first = append(first, unicode.ToUpper(r))
	}
	typed := strings.ToUpper(strings.NewReplacer(".", "", " ", "", "-", "").Replace(letters))
	if typed == "" || len(first) == 0 {
		return false
	}
	return typed == string(first) || (len(first) > 2 && typed == string([]rune{first[0], first[len(first)-1]}))
}

// Off is a test that was read twice and lies further apart than two readings may.
type Off struct {
	Test string `json:"test"`
	// Was and Is are what was read, as it was written; Apart how often what they may differ
	// by, 0 for words.
	Was   string  `json:"was"`
	Is    string  `json:"is"`
	Apart float64 `json:"apart"`
}

// apartBy is how many divisions two readings of an engine that has not changed may differ
// by: it is warmer, drier, put together anew (common practice; size chosen by us).
const apartBy = 3.0

// Differ lists the tests of two sets of readings that tell of another engine.
func Differ(family string, sheet catalogue.Sheet, was, is []ledger.HandReading) (out []Off) {
	for i := range is {
		for k := range was {
			if was[k].Test != is[i].Test {
				continue
			}
			t := catalogue.Standard().TestFor(family, sheet, is[i].Test)
			off := Off{Test: t.ID, Was: Written(&was[k]), Is: Written(&is[i])}
			if t.Kind != catalogue.KindNumber {
				if was[k].Word != is[i].Word {
					out = append(out, off)
				}
				continue
			}
			a, overA := value(&was[k], t.Unit)
			b, overB := value(&is[i], t.Unit)
			acc := instrument.AccuracyOf(t.ID)
			off.Apart = abs(a-b) / max(acc.Division, acc.Repeat*a, was[k].Within, is[i].Within) / max(was[k].Gauge.Widens(), is[i].Gauge.Widens())
			if overA != overB || (!overA && off.Apart > apartBy) {
				out = append(out, off)
			}
		}
	}
	return out
}

// Written is a reading as it was written down.
func Written(r *ledger.HandReading) string {
	if r.Word != "" {
		return "@word." + r.Word
	}
	if strings.EqualFold(strings.TrimSpace(r.Reading), ledger.OverLimit) {
		return "@word.over-limit"
	}
	return strings.TrimSpace(r.Reading + " " + r.Unit)
}

// value of a number that has been checked, in the unit of its test, the gauge's error taken out.
func value(r *ledger.HandReading, unit string) (v float64, over bool) {
	if strings.EqualFold(strings.TrimSpace(r.Reading), ledger.OverLimit) {
		return 0, true
	}
	v, own, err := units.ParseReading(r.Reading)
	if err != nil {
		return 0, true
	}
	if own == "" {
		own = units.Unit(r.Unit)
	}
	if v, err = units.Convert(v, own, units.Unit(unit)); err != nil {
		return 0, true
	}
	return r.Gauge.Right(r.Test, v), false
}

func abs(x float64) float64 { return max(x, -x) }
