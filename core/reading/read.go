// Package reading reads a machine by each test of the catalogue: exact, under
// a set-up, changing the machine as the act does. It knows nothing of faults.
package reading

import (
	"maps"
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/setup"
	"zanjero/core/units"
)

// Reading is what a test would tell before the instrument's noise.
type Reading struct {
	Value float64
	Over  bool // beyond the range of the meter
	// AtLeast: the true value is no lower than this, since the gap was never
	// stepped out until the spark failed.
	AtLeast   bool
	fineRange bool
	warm      bool
	// what of the machine its conditions are held against
	HasBar    bool
	rightDose string
	WetOil    float64
	Word      string
	// Chances is how often a competent eye would use each word (looks only).
	Chances map[string]float64
	// Grade is where it lies on a scale of words, where it does.
	Grade *grade
	kv    float64 // at the plug, of a spark that is looked at
	// asIfCold is what a warm winding's reading is multiplied with to give it at the
	// sheet's 20 °C; 0 where it is judged as it reads.
	asIfCold float64
	// Unmet are conditions that no set-up meets, by id: the crank does not turn,
	// the engine does not run.
	Unmet []string
	// Parts are the others of a reading that has several, by id.
	Parts map[string]Reading
	// Minutes the act took beyond the test's own.
	Minutes float64
	Also    map[string]any
	Trace   []machine.Sample
	// Heard is what an ear got of a run, nil where nobody listened.
	Heard *machine.Heard
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
type reader func(m *machine.Machine, s setup.Setup, d machine.Draws) Reading

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

// Read performs a test on the machine, which it changes as the act does. It is
// exact: noise, resolution and build are laid on elsewhere.
func Read(m *machine.Machine, t *catalogue.Test, s setup.Setup, d machine.Draws) Reading {
	if s.Primer > 0 {
		m.Prime(s.Primer)
	}
	r := read(m, t, s, d)
	r.HasBar, r.rightDose, r.WetOil = m.HasBar(), setup.RightDose(m), m.WetOilML()
	return r
}

// read makes the reading, or says that it cannot be made.
func read(m *machine.Machine, t *catalogue.Test, s setup.Setup, d machine.Draws) Reading {
	if r, stuck := Unturned(m, t); stuck {
		return r
	}
	return readers[t.ID](m, s, d)
}

// Unturned is what a test shows that needs the crank turned when it does not turn:
// no pressure, no spark and no mark to find. stuck is false where it turns, or need
// not.
func Unturned(m *machine.Machine, t *catalogue.Test) (r Reading, stuck bool) {
	needs, by := turned[t.ID]
	if !by || (needs == byRope && m.TurnsByRope()) || (needs == byHand && m.TurnsByHand()) {
		return r, false
	}
	r.Unmet = []string{"crank-turns"}
	switch {
	case slices.Contains(t.Words, "none"):
		none := sure("none")
		r.Word, r.Chances = none.Word, none.Chances
	case t.ID == "leak-down": // the valve of no stroke is known to be shut
		r.Value = 100
	}
	return r, true
}

// How a test turns the crank, where nothing is read without.
type turning int

const (
	byRope turning = iota
	byHand
)

// turned are the tests that need the crank turned. A run says by its word that it
// is locked or that nothing catches.
var turned = map[string]turning{
	"compression-dry": byRope, "compression-wet": byRope, "thumb-hole": byRope,
	"spark-gap": byRope, "spark-kill-off": byRope, "spark-plug-earthed": byRope, "spark-inline": byRope, "oil-lead-off": byRope,
	"tdc-magnet": byHand, "leak-down": byHand, "valve-clearance": byHand,
}

// words are parts that no competent eye gets wrong.
func words(parts map[string]string) map[string]Reading {
	out := map[string]Reading{}
	for id, w := range parts {
		out[id] = sure(w)
	}
	return out
}

// sure is a look that no competent eye gets wrong.
func sure(word string) Reading { return Reading{Word: word, Chances: map[string]float64{word: 1}} }

// grades is a look along a scale: words from low to high with the edges
// between them, blurred by width as eyes and fingers blur them.
func grades(x float64, edges []float64, width float64, words ...string) Reading {
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
	return Reading{Word: likeliest(ch), Chances: ch, Grade: &grade}
}

// Grade is where on a scale of words something lies.
type grade struct {
	x     float64
	edges []float64
	words []string
}

// Shown is where on the scale it lies as an eye takes it, coarse, and within
// the grade that was called.
func (g *grade) Shown(word string) float64 {
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

// ClearFirst has a flooded engine cranked clear, choke and throttle wide open,
// when the operator holds the choke open.
func ClearFirst(m *machine.Machine, a machine.Attempt) machine.Attempt {
	if m.State().Wet() > setup.Soaked && a.Choke < 0.1 {
		a.Throttle = 1
	}
	return a
}

func startReading(m *machine.Machine, s setup.Setup, a machine.Attempt, d machine.Draws, st machine.Start) Reading {
	also := map[string]any{"pulls": st.Pulls, "rpm": math.Round(st.RPM), "plug": m.PlugFace(), "smoke": st.Smoke, "sound": m.Sound(st)}
	if st.Fired {
		also["choke_left"] = st.Choke
	}
	if stop := m.ShutDown(st); stop != "" {
		also["stop"] = stop
	}
	r := Reading{Word: st.Word, Minutes: max(st.Minutes-1, 0), Also: also}
	r.hear(m, s, a, d, st)
	return r
}

// hear notes what was heard of an attempt, where somebody listens.
func (r *Reading) hear(m *machine.Machine, s setup.Setup, a machine.Attempt, d machine.Draws, st machine.Start) {
	if s.Listen {
		h := m.Heard(a, d, st)
		r.Heard = &h
	}
}

func longReading(m *machine.Machine, s setup.Setup, d machine.Draws) Reading {
	a, fuel := s.Attempt(), m.State().FuelML
	a = ClearFirst(m, a)
	st, run := m.Long(a, d, s.Minutes, s.Load)
	r := startReading(m, s, a, d, st)
	r.Minutes, r.Trace = st.Minutes, run.Trace
	if m.State().FuelML < 1 && fuel >= 1 { // it was not the engine that gave out
		r.Also["tank"] = "ran-dry"
		r.Unmet = append(r.Unmet, "fuel-enough")
	}
	if !s.LevelUnknown {
		r.Also["fuel_before_ml"] = math.Round(fuel/50) * 50
	}
	if run.FalterAt >= 0 {
		r.Value = run.FalterAt
		r.Also["minutes_to_falter"] = math.Round(run.FalterAt*10) / 10
	}
	r.Also["ran_min"] = math.Round(st.Minutes*10) / 10
	return r
}

// plugReading is sharp where the face is far from a boundary and blurred near
// one: a competent eye calls "damp" what is nearly wet one time in four.
func plugReading(m *machine.Machine) Reading {
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
	return Reading{Word: likeliest(ch), Chances: ch}
}

// jetReading holds the jet to the light: part shows below nine tenths open.
func jetReading(m *machine.Machine) Reading {
	open := m.MainJetOpen()
	round := logistic((open - 0.88) / 0.025)
	shut := logistic((0.03 - open) / 0.008)
	large := 0.0
	if bore := m.Oversize(); bore > 0 {
		large = logistic((bore - 0.15) / 0.04)
		open *= 1 + bore
	}
	ch := map[string]float64{"daylight": round * (1 - large), "oversize": round * large, "none": shut, "part": max(1-round-shut, 0)}
	return Reading{Word: likeliest(ch), Chances: ch, Also: map[string]any{"open_share": math.Round(open*20) / 20}}
}

func meterReading(m *machine.Machine, test string, s setup.Setup) Reading {
	ohm, secondary, open := m.CoilResistances()
	if test == "coil-secondary" {
		ohm = secondary
		if open {
			ohm = math.Inf(1)
		}
		if s.BadContact {
			ohm += badContactOhm
		}
	}
	if !s.Nulled {
		ohm += LeadOhm
	}
	full := setup.MeterRanges[s.MeterRange]
	r := Reading{Value: ohm, fineRange: s.MeterRange == setup.FinestRange(m, test), Also: map[string]any{"range": s.MeterRange}}
	if ohm >= full {
		r.Over = true
		// Over-limit on the highest range is a finding; on a lower one it may
		// be the range.
		r.fineRange = s.MeterRange == "200 kΩ"
	}
	if test == "coil-secondary" {
		r.Value /= 1000
	}
	if s.TemperatureKnown { // what the sheet says holds at 20 °C
		c := m.State().CoilC
		r.asIfCold = units.CopperResistance(1, 20) / units.CopperResistance(1, c)
		r.Also["coil_c"] = math.Round(c)
		if !r.Over {
			r.Also["at_20c"] = units.Round(r.Value*r.asIfCold, 0.01)
		}
	}
	return r
}

// JudgedAs is what a reading is multiplied with before it is held against the
// sheet.
func (r Reading) JudgedAs() float64 {
	if r.asIfCold == 0 {
		return 1
	}
	return r.asIfCold
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
