package bench

import (
	"maps"
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/units"
)

// reading is what a test would tell before the instrument's noise.
type reading struct {
	value float64
	over  bool // beyond the range of the meter
	// atLeast: the true value is no lower than this, since the gap was never
	// stepped out until the spark failed.
	atLeast   bool
	fineRange bool
	warm      bool
	// what of the machine its conditions are held against
	hasBar    bool
	rightDose string
	wetOil    float64
	word      string
	// chances is how often a competent eye would use each word (looks only).
	chances map[string]float64
	// grade is where it lies on a scale of words, where it does.
	grade *grade
	// minutes the act took beyond the test's own.
	minutes float64
	also    map[string]any
	trace   []machine.Sample
}

// What a set-up costs physically. Common practice, sizes chosen by us: a gauge
// at rest on 7 psi, leads of 0.4 Ω, a clip on paint that drops 8 kV, a probe
// that sits badly and adds 2.6 kΩ.
const (
	RestReadingPSI = 7.0
	LeadOhm        = 0.4
	paintLossKV    = 8.0
	badContactOhm  = 2600.0
	flatFeelerMM   = 0.12 // the hollow of a worn electrode
	guessedTDC     = 9.0  // degrees
	undrawnMM      = 0.25 // play of a coil that no magnet draws down
	carTesterMM    = 18.0 // the fixed gap of a tester for car coils
	hardSeatTurns  = 0.25
)

// reader makes one test's reading, changing the machine as the act does.
type reader func(m *machine.Machine, s setup, d machine.Draws) reading

// readers of every test, by id.
var readers = merge(runReaders, fuelReaders, airReaders, sparkReaders, compressionReaders)

func merge(all ...map[string]reader) map[string]reader {
	out := map[string]reader{}
	for _, m := range all {
		maps.Copy(out, m)
	}
	return out
}

// HasReader says that the bench knows how to make a test.
func HasReader(test string) bool { return readers[test] != nil }

// read performs a test on the machine, which it changes as the act does. It is
// exact: noise, resolution and build are laid on elsewhere.
func read(m *machine.Machine, t *catalogue.Test, s setup, d machine.Draws) reading {
	if s.primer > 0 {
		m.Prime(s.primer)
	}
	r := readers[t.ID](m, s, d)
	r.hasBar, r.rightDose, r.wetOil = m.HasBar(), rightDose(m), m.WetOilML()
	return r
}

// sure is a look that no competent eye gets wrong.
func sure(word string) reading { return reading{word: word, chances: map[string]float64{word: 1}} }

// grades is a look along a scale: words from low to high with the edges
// between them, blurred by width as eyes and fingers blur them.
func grades(x float64, edges []float64, width float64, words ...string) reading {
	grade := grade{x, edges, words}
	ch, below := map[string]float64{}, 0.0
	for i, w := range words {
		upTo := 1.0
		if i < len(edges) {
			upTo = logistic((edges[i] - x) / width)
		}
		if p := upTo - below; p > 0.001 {
			ch[w] = p
		}
		below = max(below, upTo)
	}
	return reading{word: likeliest(ch), chances: ch, grade: &grade}
}

// grade is where on a scale of words something lies.
type grade struct {
	x     float64
	edges []float64
	words []string
}

// shown is where on the scale it lies as an eye takes it, coarse, and within
// the grade that was called.
func (g *grade) shown(word string) float64 {
	step := g.edges[0] / 5
	low, high := math.Inf(-1), math.Inf(1)
	if i := slices.Index(g.words, word); i >= 0 {
		if i > 0 {
			low = g.edges[i-1] + step
		}
		if i < len(g.edges) {
			high = g.edges[i] - step
		}
	}
	return units.Round(max(low, min(high, g.x)), step)
}

// clearFirst has a flooded engine cranked clear, choke and throttle wide open,
// when the operator holds the choke open.
func clearFirst(m *machine.Machine, a machine.Attempt) machine.Attempt {
	if m.State().Wet() > soaked && a.Choke < 0.1 {
		a.Throttle = 1
	}
	return a
}

func startReading(m *machine.Machine, st machine.Start) reading {
	also := map[string]any{"pulls": st.Pulls, "rpm": math.Round(st.RPM), "plug": m.PlugFace(), "smoke": st.Smoke, "sound": m.Sound(st)}
	if st.Fired {
		also["choke_left"] = st.Choke
	}
	return reading{word: st.Word, minutes: max(st.Minutes-1, 0), also: also}
}

func longReading(m *machine.Machine, s setup, d machine.Draws) reading {
	a, fuel := s.attempt(), m.State().FuelML
	st, run := m.Long(clearFirst(m, a), d, s.minutes, s.load)
	r := startReading(m, st)
	r.minutes, r.trace = st.Minutes, run.Trace
	if !s.levelUnknown {
		r.also["fuel_before_ml"] = math.Round(fuel/50) * 50
	}
	if run.FalterAt >= 0 {
		r.value = run.FalterAt
		r.also["minutes_to_falter"] = math.Round(run.FalterAt*10) / 10
	}
	r.also["ran_min"] = math.Round(st.Minutes*10) / 10
	return r
}

// plugReading is sharp where the face is far from a boundary and blurred near
// one: a competent eye calls "damp" what is nearly wet one time in four.
func plugReading(m *machine.Machine) reading {
	face := m.PlugFace()
	ch := map[string]float64{face: 1}
	film := m.State().Wet()
	blur := func(edge, width float64, below, above string) {
		if face != below && face != above {
			return
		}
		p := logistic((film - edge) / width)
		ch = map[string]float64{below: 1 - p, above: p}
	}
	switch {
	case math.Abs(film-7) < 2:
		blur(7, 0.6, "damp", "wet")
	case math.Abs(film-2.5) < 1 && (face == "dry" || face == "damp"):
		blur(2.5, 0.3, "dry", "damp")
	}
	return reading{word: likeliest(ch), chances: ch}
}

// jetReading holds the jet to the light: part shows below nine tenths open.
func jetReading(m *machine.Machine) reading {
	open := m.MainJetOpen()
	round := logistic((open - 0.88) / 0.025)
	shut := logistic((0.03 - open) / 0.008)
	large := 0.0
	if bore := m.Oversize(); bore > 0 {
		large = logistic((bore - 0.15) / 0.04)
		open *= 1 + bore
	}
	ch := map[string]float64{"daylight": round * (1 - large), "oversize": round * large, "none": shut, "part": max(1-round-shut, 0)}
	return reading{word: likeliest(ch), chances: ch, also: map[string]any{"open_share": math.Round(open*20) / 20}}
}

func meterReading(m *machine.Machine, test string, s setup) reading {
	ohm, secondary, open := m.CoilResistances()
	if test == "coil-secondary" {
		ohm = secondary
		if open {
			ohm = math.Inf(1)
		}
		if s.badContact {
			ohm += badContactOhm
		}
	}
	if !s.nulled {
		ohm += LeadOhm
	}
	full := meterRanges[s.meterRange]
	r := reading{value: ohm, fineRange: s.meterRange == finestRange(m, test), also: map[string]any{"range": s.meterRange}}
	if ohm >= full {
		r.over = true
		// Over-limit on the highest range is a finding; on a lower one it may
		// be the range.
		r.fineRange = s.meterRange == "200 kΩ"
	}
	if test == "coil-secondary" {
		r.value /= 1000
	}
	return r
}

func logistic(x float64) float64 { return 1 / (1 + math.Exp(-x)) }

// likeliest is the word with the greatest chance; ties go by the alphabet.
func likeliest(ch map[string]float64) string {
	best, word := -1.0, ""
	for w, p := range ch {
		if p > best || (p == best && w < word) {
			best, word = p, w
		}
	}
	return word
}
