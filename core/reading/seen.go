package reading

import (
	"math"

	"zanjero/core/machine"
	"zanjero/core/units"
)

// Seen is what an eye, a finger or an ear meets of a look or a feel, each thing with how far
// it goes: for something to be drawn that a name has to be found for. What the word of the
// look does not name is as on a sound machine, and the rest is cut to what the word says, in
// steps that an eye tells apart (decision 23). It may be shared and is not to be changed.
type Seen map[string]float64

// looked is a machine that was looked at: what it was called, and how far that goes on the
// scale of its words, where it has one.
type looked struct {
	m    *machine.Machine
	in   machine.Inside
	word string
	far  float64
	kv   float64 // of a spark
	// parts are the words of the parts of the reading, each with how far.
	parts map[string]called
}

type called struct {
	word string
	far  float64
}

// is gives how far something goes if the look is called by a word, else 0: from least, since
// it is seen at all, to 1.
func (l *looked) is(word string, far, least float64) float64 {
	if l.word != word {
		return 0
	}
	return share(far, least)
}

// share is a share in tenths, not less than least.
func share(x, least float64) float64 { return units.Round(min(max(x, least), 1), 0.1) }

// yes is 1 for true.
func yes(is bool) float64 {
	if is {
		return 1
	}
	return 0
}

// Seen gives what is met of a machine that was just read by a test and called by a word, with
// the words of its parts; nil of a test that nothing can be drawn of.
func (r *Reading) Seen(m *machine.Machine, test, word string, parts map[string]string) Seen {
	look := looks[test]
	if look == nil {
		return nil
	}
	l := looked{m: m, in: m.Inside(), word: word, kv: r.kv, parts: map[string]called{}}
	if r.Grade != nil {
		l.far = r.Grade.Shown(word)
	}
	for id, w := range parts {
		c := called{word: w}
		if g := r.Parts[id].Grade; g != nil {
			c.far = g.Shown(w)
		}
		l.parts[id] = c
	}
	return look(&l)
}

// looks are the tests that something can be drawn of. Sizes at which a thing fills the eye
// are chosen by us.
var looks = map[string]func(l *looked) Seen{
	"look-fuel": func(l *looked) Seen {
		s := Seen{"level": 1, "stale": l.is("stale", l.far, 0.3), "water": l.is("beads", l.far, 0.2), "oil": 0, "mixed": yes(l.in.TwoStroke)}
		switch l.word {
		case "empty":
			s["level"] = share(l.in.FuelML/glassML, 0.1)
		case "no-oil":
			s["oil"] = -share(l.far, 0.3)
		case "oily":
			s["oil"] = share(l.far, 0.4)
		}
		return s
	},
	"look-oil": func(l *looked) Seen {
		s := Seen{"level": l.far, "thin": 0}
		if l.in.OilFuel > 0.02 { // the word then tells whether it is thin
			s["level"] = units.Round(min(max(l.in.OilLevel, 0.8), 1.1), 0.1)
			s["thin"] = l.is("thin", l.far/0.3, 0.3)
		}
		s["level"] = units.Round(min(max(s["level"], 0.2), 1.9), 0.05)
		return s
	},
	"look-filter": func(l *looked) Seen {
		s := Seen{"shut": 0, "oil": l.is("oily", l.in.FilterShut, 0.3), "wet": l.is("fuel-wet", l.in.FilterShut, 0.3), "tear": l.is("torn", l.in.FilterTear, 0.2),
			"nest": l.is("nest", l.in.FilterShut, 0.2), "rag": l.is("rag", l.in.FilterShut, 0.2)}
		if l.word == "clean" || l.word == "part-clogged" || l.word == "clogged" {
			s["shut"] = share(l.far, 0)
		}
		return s
	},
	"look-choke": func(l *looked) Seen {
		return Seen{"least": l.is("does-not-open", l.far, 0.2), "most": units.Round(1-l.is("does-not-close", l.far, 0.2), 0.1)}
	},
	"look-arrestor": func(l *looked) Seen {
		s := Seen{"shut": 0, "nest": l.is("nest", l.far, 0.2), "hole": l.is("holed", 1, 1)}
		if s["nest"] == 0 && s["hole"] == 0 {
			s["shut"] = share(l.far, 0)
		}
		return s
	},
	"look-fins": func(l *looked) Seen { return Seen{"packed": share(l.far, 0)} },
	"bowl-look": func(l *looked) Seen {
		return Seen{"level": share(l.parts["level"].far, 0), "varnish": l.is("varnish", l.far, 0.4), "water": l.is("water", l.far, 0.2),
			"grit": l.is("grit", l.far, 0.3)}
	},
	"jet-look": func(l *looked) Seen {
		open := map[string]float64{"none": 0, "part": min(share(l.in.MainOpen, 0.1), 0.9)}
		s := Seen{"open": 1, "bored": l.is("oversize", 2*l.m.Oversize(), 0.3)}
		if o, some := open[l.word]; some {
			s["open"] = o
		}
		return s
	},
	"passage-trace": func(l *looked) Seen {
		s := Seen{"main": 1, "sides": 1, "idle": 1}
		switch l.word {
		case "main-part":
			s["main"] = units.Round(1-share(l.far, 0.2), 0.1)
		case "main-shut":
			s["main"], s["sides"] = 0, 0
		case "main-large":
			s["main"] = units.Round(min(max(l.in.MainFlow, 1.2), 2), 0.2)
		case "idle-shut":
			s["idle"] = 0
		case "side-holes-shut":
			s["sides"] = 0
		}
		return s
	},
	"diaphragm-look": func(l *looked) Seen {
		return Seen{"stiff": l.is("stiff", l.far, 0.3), "tear": l.is("torn", l.far, 0.2)}
	},
	"gasket-look": func(l *looked) Seen {
		return Seen{"tear": l.is("torn", gap(l), 0.2), "swollen": l.is("swollen", gap(l), 0.2), "turned": l.is("reversed", 1, 1)}
	},
	"key-look": func(l *looked) Seen {
		s := Seen{"degrees": 0, "parted": l.is("sheared", 1, 1), "flared": l.is("peened", l.in.KeyFlared, 0.2)}
		switch l.word {
		case "offset":
			s["degrees"] = math.Round(min(max(l.far, 3), 13))
		case "sheared":
			s["degrees"] = math.Round(min(max(l.far, 15), 60))
		}
		return s
	},
	"head-look": func(l *looked) Seen {
		return Seen{"track": l.is("gasket-track", l.in.GasketGap, 0.3), "lifted": l.is("valve-open", math.Sqrt(l.in.ValveLeak/fullLift), 0.2),
			"burnt": l.is("valve-burnt", l.in.ValveBurnt, 0.2)}
	},
	"look-piston": func(l *looked) Seen {
		return Seen{"scored": l.is("scored", max(l.in.ScoredDeep, l.far), 0.2), "crust": l.is("carboned", l.far, 0.2), "worn": l.is("worn", wear(l), 0.3)}
	},
	"spark-plug-earthed": spark,
	"oil-lead-off":       spark,
	"spark-inline":       spark,
	// What a hand meets: how hard it holds, and whether it comes back.
	"thumb-hole": func(l *looked) Seen {
		if l.word == "pushes-off" { // a thumb tells no more
			return Seen{"holds": 1}
		}
		return Seen{"holds": share((l.far-1)/3.5, 0)}
	},
	"filter-blow": func(l *looked) Seen { return Seen{"holds": share(l.far, 0.1)} },
	"magnet-pull": func(l *looked) Seen {
		if l.word == "strong" {
			return Seen{"holds": 1}
		}
		return Seen{"holds": share(0.6-0.5*l.far, 0.1)}
	},
	"joint-wiggle":   func(l *looked) Seen { return Seen{"holds": units.Round(1-l.is("moves", gap(l), 0.2), 0.1)} },
	"vent-blow":      ventBlow,
	"primer-press":   primer,
	"vent-hiss":      func(l *looked) Seen { return Seen{"hiss": l.is("hiss", l.far/2, 0.3), "click": 0} },
	"fuel-cut-click": func(l *looked) Seen { return Seen{"hiss": 0, "click": l.is("clicks", 1, 1)} },
}

// What is poured into a glass to look at, ml; the leak of a valve that stands wide open; and
// the false air of a joint that begins to show a gap, and of one that stands open all round.
const (
	glassML           = 100.0
	fullLift          = 15.0
	firstGap, fullGap = 0.02, 0.4
)

// gap is how far a joint stands open by the air that it lets in, by each doubling of it.
func gap(l *looked) float64 { return math.Log1p(l.far/firstGap) / math.Log1p(fullGap/firstGap) }

// wear is how far rings and skirt are worn, by each doubling of a sound engine's leak.
func wear(l *looked) float64 { return math.Log2(l.in.RingLeak/l.in.HealthyRingLeak) / 5 }

// spark is how bright it is, 0 to 1: within its word by the voltage at the plug.
func spark(l *looked) Seen {
	between := map[string][2]float64{"faint": {0.1, 0.2}, "dim": {0.1, 0.3}, "orange": {0.3, 0.6}, "bright": {1, 1}, "blue": {1, 1}}[l.word]
	return Seen{"spark": units.Round(min(max(l.kv/fullKV, between[0]), between[1]), 0.05)}
}

// fullKV at an earthed plug is as bright as a spark gets to the eye; size chosen by us.
const fullKV = 14

func ventBlow(l *looked) Seen {
	s := Seen{"holds": 0.1, "bored": l.is("drilled", 1, 1), "seal": l.is("seal-swollen", l.far, 0.3)}
	switch l.word {
	case "stiff": // by how much less passes, of a hundredth
		s["holds"] = share(0.3+0.3*(l.far-0.5), 0.3)
	case "blocked", "seal-swollen":
		s["holds"] = 1
	case "drilled":
		s["holds"] = 0
	}
	return s
}

func primer(l *looked) Seen {
	s := Seen{"holds": 0.2, "returns": 1, "leaks": 0}
	switch l.word {
	case "hard":
		s["holds"], s["returns"] = 0.8, 0
	case "runs-back":
		s["returns"] = units.Round(1-share(l.far, 0.4), 0.1)
	case "split":
		s["holds"], s["leaks"] = 0.1, 1
	}
	return s
}
