// Package units converts the quantities of the workshop and reads what people
// type for them.
//
// Factors: NIST Special Publication 811 (2008), appendix B.
package units

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"zanjero/core/problem"
)

// Unit is a unit's symbol as it is printed: "psi", "kΩ", "ml/min".
type Unit string

// The units in use.
const (
	PSI          Unit = "psi"
	KPa          Unit = "kPa"
	Bar          Unit = "bar"
	MM           Unit = "mm"
	Inch         Unit = "in"
	Ohm          Unit = "Ω"
	KOhm         Unit = "kΩ"
	MOhm         Unit = "MΩ"
	ML           Unit = "ml"
	Litre        Unit = "L"
	USGallon     Unit = "US gal"
	MLPerMin     Unit = "ml/min"
	LitrePerHour Unit = "L/h"
	NewtonMetre  Unit = "N·m"
	PoundFoot    Unit = "lbf·ft"
	RPM          Unit = "rpm"
	Celsius      Unit = "°C"
	Fahrenheit   Unit = "°F"
	Minute       Unit = "min"
	Second       Unit = "s"
	Percent      Unit = "%"
	Degree       Unit = "°"
	Turn         Unit = "turns"
)

// scale says how a unit relates to the base unit of its quantity:
// base = value·factor + offset.
type scale struct {
	quantity string
	factor   float64
	offset   float64
}

var scales = map[Unit]scale{
	KPa:          {"pressure", 1, 0},
	PSI:          {"pressure", 6.894757, 0},
	Bar:          {"pressure", 100, 0},
	MM:           {"length", 1, 0},
	Inch:         {"length", 25.4, 0},
	Ohm:          {"resistance", 1, 0},
	KOhm:         {"resistance", 1e3, 0},
	MOhm:         {"resistance", 1e6, 0},
	ML:           {"volume", 1, 0},
	Litre:        {"volume", 1e3, 0},
	USGallon:     {"volume", 3785.412, 0},
	MLPerMin:     {"flow", 1, 0},
	LitrePerHour: {"flow", 1e3 / 60, 0},
	NewtonMetre:  {"torque", 1, 0},
	PoundFoot:    {"torque", 1.355818, 0},
	RPM:          {"speed", 1, 0},
	Celsius:      {"temperature", 1, 0},
	Fahrenheit:   {"temperature", 5.0 / 9, -160.0 / 9},
	Minute:       {"time", 1, 0},
	Second:       {"time", 1.0 / 60, 0},
	Percent:      {"share", 1, 0},
	Degree:       {"crank angle", 1, 0},
	Turn:         {"turns of a screw", 1, 0},
}

// Convert gives a value in another unit of the same quantity. It fails when a
// unit is unknown or the two measure different things.
func Convert(value float64, from, to Unit) (float64, error) {
	if from == to {
		return value, nil
	}
	f, ok := scales[from]
	if !ok {
		return 0, problem.New("", "units.unknown", "unit", string(from))
	}
	t, ok := scales[to]
	if !ok {
		return 0, problem.New("", "units.unknown", "unit", string(to))
	}
	if f.quantity != t.quantity {
		return 0, problem.New("", "units.measure-different-things", "from", string(from), "to", string(to))
	}
	return (value*f.factor + f.offset - t.offset) / t.factor, nil
}

// All lists the units in use.
func All() []Unit { return slices.Clone(inUse) }

var inUse = []Unit{KPa, PSI, Bar, MM, Inch, Ohm, KOhm, MOhm, ML, Litre, USGallon, MLPerMin, LitrePerHour, NewtonMetre, PoundFoot, RPM, Celsius,
	Fahrenheit, Minute, Second, Percent, Degree, Turn}

// Alike lists the units that measure the same quantity as u, u first.
func Alike(u Unit) []Unit {
	out := []Unit{u}
	for _, c := range inUse {
		if c != u && scales[c].quantity == scales[u].quantity {
			out = append(out, c)
		}
	}
	return out
}

// spellings maps how people write a unit (lower case, no spaces) to its symbol.
var spellings = map[string]Unit{
	"psi": PSI, "kpa": KPa, "bar": Bar, "mm": MM, "in": Inch, `"`: Inch, "inch": Inch,
	"ω": Ohm, "ohm": Ohm, "ohms": Ohm, "r": Ohm, "kω": KOhm, "kohm": KOhm, "kohms": KOhm, "k": KOhm,
	"mω": MOhm, "mohm": MOhm, "ml": ML, "cc": ML, "l": Litre, "usgal": USGallon,
	"ml/min": MLPerMin, "l/h": LitrePerHour, "n·m": NewtonMetre, "nm": NewtonMetre, "lbf·ft": PoundFoot, "lb·ft": PoundFoot, "ftlb": PoundFoot,
	"rpm": RPM, "°c": Celsius, "°f": Fahrenheit, "min": Minute, "s": Second, "sec": Second,
	"%": Percent, "°": Degree, "deg": Degree, "turns": Turn, "turn": Turn,
}

// ParseUnit reads a unit as people write it ("kohm", "PSI", "Ω").
func ParseUnit(s string) (Unit, error) {
	key := strings.ToLower(strings.ReplaceAll(strings.TrimSpace(s), " ", ""))
	key = strings.ReplaceAll(key, "\u2126", "ω") // the ohm sign and the letter omega are two characters
	if u, ok := spellings[key]; ok {
		return u, nil
	}
	return "", problem.New("", "units.unknown", "unit", strings.TrimSpace(s))
}

// ParseValue reads a typed number: "62", "0.7", "0,7", "1/2", "2 1/4". A
// comma followed by exactly three digits could be a thousands mark or a
// decimal one, and is refused with how to mend it rather than guessed.
func ParseValue(s string) (float64, error) {
	s = strings.TrimSpace(s)
	if s == "" {
		return 0, problem.New("", "units.no-number")
	}
	if strings.Contains(s, ",") {
		whole, dec, _ := strings.Cut(s, ",")
		if strings.ContainsAny(dec, ",.") || strings.Contains(whole, ".") || len(dec) == 0 {
			return 0, problem.New("", "units.not-one-number", "text", s)
		}
		if len(dec) == 3 && strings.TrimLeft(whole, "-0") != "" {
			return 0, problem.New("", "units.comma-could-mean-two-things", "text", s, "one", whole+dec, "other", whole+"."+dec)
		}
		s = whole + "." + dec
	}
	total, sign := 0.0, 1.0
	if strings.HasPrefix(s, "-") {
		sign, s = -1, s[1:]
	}
	parts := strings.Fields(s)
	for i, p := range parts {
		num, den, frac := strings.Cut(p, "/")
		if len(parts) > 2 || (len(parts) == 2 && (i == 0) == frac) {
			return 0, problem.New("", "units.not-a-number", "text", s)
		}
		v, err := plainNumber(num)
		if err == nil && frac {
			var d float64
			if d, err = plainNumber(den); err == nil && d == 0 {
				return 0, problem.New("", "units.divides-by-zero", "text", s)
			}
			v /= d
		}
		if err != nil {
			return 0, problem.New("", "units.not-a-number", "text", s)
		}
		total += v
	}
	if math.IsInf(total, 0) {
		return 0, problem.New("", "units.too-large", "text", s)
	}
	return sign * total, nil
}

// plainNumber takes digits and one point only: no exponents, hex or "inf",
// none of which anybody means to write in a workshop ledger.
func plainNumber(s string) (float64, error) {
	if s == "" || strings.Trim(s, "0123456789.") != "" {
		return 0, fmt.Errorf("not a plain number")
	}
	return strconv.ParseFloat(s, 64)
}

// ParseReading splits a typed reading into number and unit. The unit is empty
// when none was typed.
func ParseReading(s string) (float64, Unit, error) {
	s = strings.TrimSpace(s)
	cut := strings.IndexFunc(s, func(r rune) bool { return !strings.ContainsRune("0123456789.,/- ", r) })
	if cut < 0 {
		v, err := ParseValue(s)
		return v, "", err
	}
	v, err := ParseValue(s[:cut])
	if err != nil {
		return 0, "", err
	}
	u, err := ParseUnit(s[cut:])
	return v, u, err
}
