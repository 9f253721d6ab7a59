package bench

import (
	"maps"
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/reading"
	"zanjero/core/setup"
)

// fitted is the instrument in hand: what test it is for, how it is set, and
// where it stands.
type fitted struct {
	test   string
	own    setup.Settings   // set-ups made so far, in the form of Settings
	before machine.State    // the machine when the instrument was fitted
	began  float64          // the bench clock then
	used   bool             // there is something on it to read
	ran    *reading.Reading // what its run came to, where it ran the machine
	kpa    float64          // gauge, above atmosphere
	pulls  int
	poured float64 // oil, ml
	gap    float64 // spark tester, mm as set
	jumped float64 // the widest gap that was jumped
	failed bool    // a gap was refused
	colour string  // of the last pull
	blade  float64 // feeler, mm
	turned float64 // screw, turns in
	// part is which part of a reading with several it is held to, empty for the
	// first; read are those that have been read off.
	part string
	read map[string]bool
}

// clone gives a copy that shares nothing that is written again: a reading is
// never changed once it is made. It may be called on nil.
func (f *fitted) clone() *fitted {
	if f == nil {
		return nil
	}
	c := *f
	c.own, c.read = maps.Clone(f.own), maps.Clone(f.read)
	return &c
}

// set makes a set-up of the test's own.
func (f *fitted) set(id string, v any) *problem.Problem {
	if p := setup.InstrumentSpecs[id].Check("value", v); p != nil {
		return p
	}
	f.own[id] = v
	return nil
}

// Instrument is all that a person would see of the instrument in hand. It
// carries nothing that is not on its face.
type Instrument struct {
	Kind string `json:"kind"`
	Test string `json:"test"`
	// Setup is how it is gone about, by the id of each set-up of the test.
	Setup setup.Settings `json:"setup"`
	// Needle is where its needle, edge or surface stands, in the unit of its
	// scale; Second that of its other needle, hand or line.
	Needle float64 `json:"needle,omitempty"`
	Second float64 `json:"second,omitempty"`
	// Pulls of the rope since a gauge was let off.
	Pulls int `json:"pulls,omitempty"`
	// GapMM of the tester and what the last pull showed: none, orange or blue.
	GapMM float64 `json:"gap_mm,omitempty"`
	Spark string  `json:"spark,omitempty"`
	// Display of a meter and where its leads are.
	Display string `json:"display,omitempty"`
	Leads   string `json:"leads,omitempty"`
	// Seconds on a watch, Turns of a screw, BladeMM of the blade last tried.
	Seconds float64 `json:"seconds,omitempty"`
	Turns   float64 `json:"turns,omitempty"`
	BladeMM float64 `json:"blade_mm,omitempty"`
	// Heard is what the hand or ear tells of the act: goes, drags, stops, seats, …
	Heard string `json:"heard,omitempty"`
	// Part is which part of a reading with several it is held to, empty for the first.
	Part string `json:"part,omitempty"`
	// Seen are the parts that are met in a word, by part: where it hisses, what comes
	// with it; and what is met beside: filings, limiters that are off.
	Seen map[string]string `json:"seen,omitempty"`
	// CoilC is how warm the winding is, °C, where that is noted; 0 where it is not.
	CoilC float64 `json:"coil_c,omitempty"`
	// Scale is what is drawn on its face; nil where it has none. Beyond: what
	// there is to read lies past its end.
	Scale  *catalogue.Scale `json:"scale,omitempty"`
	Beyond bool             `json:"beyond,omitempty"`
	// Ready: there is something on it to read.
	Ready bool `json:"ready"`
}

// Fit takes up the instrument of a test: covers, minutes, and the instrument
// as it comes out of its case. The test must be a number test of the family.
func (s *Session) Fit(id string) {
	t := s.TestOf(id)
	s.fitted = &fitted{test: id, own: setup.Settings{}, read: map[string]bool{}, before: s.m.State(), began: s.minutes, gap: 4}
	s.OpenFor(t)
	opened := s.m.State()
	s.fitted.before.SpiltML, s.fitted.before.EngineC, s.fitted.before.CoilC = opened.SpiltML, opened.EngineC, opened.CoilC
	s.spend(t.Minutes)
	s.repeats[id]++
	// As the last user left it.
	for _, su := range s.cat.SetupsOf(id) {
		s.fitted.own[su.ID] = su.Default()
	}
	if id == "compression-wet" {
		s.fitted.own["oil_drops_ml"] = 0.0
	}
}

// InHand is the test whose instrument is in hand, or "".
func (s *Session) InHand() string {
	if s.fitted == nil {
		return ""
	}
	return s.fitted.test
}

// Act does one thing with the instrument in hand: an act of its own, or, named
// by the set-up's id, going about it in another way. It fails when there is no
// instrument, or the act or value is not for it; then nothing has changed.
func (s *Session) Act(act string, value any) *problem.Problem {
	if s.fitted == nil {
		return problem.New("act", "bench.no-instrument-hand")
	}
	before := s.fitted.clone()
	p := s.actWith(s.fitted, act, value)
	if p != nil {
		s.fitted = before
	} else if s.fitted.used {
		s.fitted.read[s.fitted.part] = true
	}
	return p
}

// ActPart holds the instrument to another part of a reading that has several.
const ActPart = "part"

// hold does it; what was read of the other part stays read.
func (f *fitted) hold(t *catalogue.Test, value any) *problem.Problem {
	id, _ := value.(string)
	var numbers []string
	for i := range t.Parts {
		if p := &t.Parts[i]; p.IsNumber() || i == 0 {
			numbers = append(numbers, p.ID)
		}
	}
	if len(numbers) < 2 || !slices.Contains(numbers, id) {
		return problem.New("value", "bench.no-part", "part", problem.Show(value), "parts", numbers)
	}
	if id == t.Parts[0].ID {
		id = ""
	}
	f.part, f.used, f.blade, f.turned = id, false, 0, 0
	return nil
}

func (s *Session) actWith(f *fitted, act string, value any) *problem.Problem {
	t := s.TestOf(f.test)
	if w, ok := value.(map[string]any); ok && act == "set" {
		id, _ := w["id"].(string)
		return s.setUp(f, id, w["value"])
	}
	k := tools[t.Instrument]
	if act == ActPart {
		return f.hold(t, value)
	}
	if slices.Contains(k.acts, act) {
		return k.do(s, f, act, value)
	}
	return s.setUp(f, act, value)
}

func (s *Session) setUp(f *fitted, id string, value any) *problem.Problem {
	if !slices.ContainsFunc(s.cat.SetupsOf(f.test), func(u catalogue.Setup) bool { return u.ID == id }) {
		return problem.New("act", "bench.cannot-be-done-with-instrument", "id", id)
	}
	return f.set(id, value)
}

// runFor makes the test on the machine and remembers what it came to.
func (s *Session) runFor(f *fitted) {
	su := setup.Found(s.m, s.TestOf(f.test)).With(f.own)
	su.PerRev = 1
	d := s.noise.Draws(f.test, s.repeats[f.test])
	was := s.m.State().Controls
	s.m.Jolt(d)
	r := reading.Read(s.m, s.TestOf(f.test), su, d)
	s.m.SetControls(was)
	f.ran, f.used = &r, true
}

// indication is what the instrument stands at, in the test's unit.
type indication struct {
	value float64
	over  bool
	// beyond: there is more than can be read.
	beyond bool
	setup  setup.Setup
	r      reading.Reading
}

// indicate reads the instrument as it is set and as the controls now stand,
// without moving it.
func (s *Session) indicate(f *fitted) indication {
	t := s.TestOf(f.test)
	su := setup.Found(s.m, t).With(f.own)
	su.GapTo = 20
	repeat := s.repeats[f.test]
	var r reading.Reading
	switch {
	case t.Instrument == "compression-gauge":
		su.Pulls = f.pulls
		if r = gaugeReading(f, su); !s.m.TurnsByRope() {
			r.Unmet = []string{"crank-turns"}
		}
		r.WetOil, r.HasBar = s.m.WetOilML(), s.m.HasBar()
	case f.ran != nil:
		r = *f.ran
		if t.Instrument == "tachometer" {
			r.Value *= setup.PulsesPerRev / su.PerRev
		}
	default:
		m := s.m.Clone()
		m.Jolt(s.noise.Draws(f.test, repeat)) // once for the whole test
		r = reading.Read(m, t, su, machine.Draws{})
	}
	over := r.Over
	v, beyond := s.noise.Blur(f.test, t.Instrument, repeat, r.Value)
	if p := t.Part(f.part); p != nil {
		x := r.Parts[p.ID]
		v, over, beyond = s.noise.BlurLike(f.test+"/"+p.ID, t.AccuracyLike(p), t.Instrument, repeat, x.Value), x.Over, false
	}
	if t.Instrument == "meter" {
		v = meterRound(v, f.test, su.MeterRange)
	}
	return indication{v, over, beyond, su, r}
}

// Instrument is the face of the instrument in hand, or nil.
func (s *Session) Instrument() *Instrument {
	f := s.fitted
	if f == nil {
		return nil
	}
	t := s.TestOf(f.test)
	out := &Instrument{Kind: t.Instrument, Test: f.test, Setup: setup.Settings{}, Ready: f.used || f.read[""], Part: f.part}
	for _, su := range s.cat.SetupsOf(f.test) {
		out.Setup[su.ID] = f.own[su.ID]
	}
	at := s.indicate(f)
	tools[t.Instrument].face(s, f, at, out)
	if in := s.cat.Instrument(t.Instrument); in.Scale != nil {
		scale := *in.Scale
		out.Scale = &scale
		out.Beyond = out.Needle > scale.Most || out.Seconds > scale.Most && t.Instrument == "stopwatch"
	}
	if out.Ready {
		out.Beyond = out.Beyond || at.beyond
		out.Seen = s.seen(t, at.r)
	}
	return out
}

// seen are the parts of a reading that are met in a word.
func (s *Session) seen(t *catalogue.Test, r reading.Reading) map[string]string {
	var out map[string]string
	add := func(part, word string) {
		if out == nil {
			out = map[string]string{}
		}
		out[part] = word
	}
	for i := range t.Parts {
		if x, ok := r.Parts[t.Parts[i].ID]; ok && !t.Parts[i].IsNumber() {
			add(t.Parts[i].ID, s.called(t, &t.Parts[i], x, s.repeats[t.ID]))
		}
	}
	for _, k := range []string{"with", "limiters"} {
		if w, ok := r.Also[k].(string); ok && out[k] == "" {
			add(k, w)
		}
	}
	return out
}

// Read takes the reading off the instrument in hand as an observation, with
// the set-up it really had. The set-up comes back in the form of Settings, so
// that the same test can be made again under other assumptions. ok is false
// when there is nothing to read.
func (s *Session) Read() (o Observation, own setup.Settings, ok bool) {
	f := s.fitted
	if f == nil || !s.Instrument().Ready {
		return o, nil, false
	}
	t := s.TestOf(f.test)
	first := f.clone() // what a reading is, is its first part
	first.part = ""
	at := s.indicate(first)
	before := f.before
	before.BoreOilML = 0
	if f.test == "compression-dry" || f.test == "leak-down" {
		before.BoreOilML = s.m.State().BoreOilML
	}
	r := at.r
	switch {
	case t.Instrument == "spark-tester":
		sheet := s.m.Sheet()[t.Figure]
		r.Value = f.jumped
		r.AtLeast = !f.failed && f.jumped < sheet.Low
		at.value = f.jumped
		f.own["gap_to_mm"] = max(f.jumped, 1)
		if f.failed || f.jumped >= sheet.Low {
			delete(f.own, "gap_to_mm")
		}
	case t.Instrument == "compression-gauge" || f.ran != nil: // it is done
	default: // what the act does to the machine, it does now
		reading.Read(s.m, t, at.setup, machine.Draws{})
	}
	o = Observation{Event: s.events, Test: t.ID, Kind: catalogue.KindNumber, Unit: t.Unit, Because: reading.Missed(t, at.setup, before, r), AtLeast: r.AtLeast,
		Minutes: math.Round((s.minutes-f.began)*10) / 10, AtMin: s.minutes, Also: maps.Clone(r.Also)}
	o.Valid = len(o.Because) == 0
	if !at.over {
		o.Value = &at.value
		if len(r.Unmet) == 0 {
			o.Band = s.judge(t, at.value*r.JudgedAs(), at.setup.OtherSheet)
		}
	} else {
		if o.Also == nil {
			o.Also = map[string]any{}
		}
		o.Also["over_limit"] = true
		if t.Figure != "" {
			above := "above"
			o.Band = &above
		}
	}
	s.parts(&o, t, at.setup, r, s.repeats[f.test])
	maps.DeleteFunc(o.Parts, func(id string, p Part) bool { // what the instrument was not held to
		return p.Word == nil && id != t.Parts[0].ID && !f.read[id]
	})
	o.Skipped = s.skipped(t, before)
	return o, maps.Clone(f.own), true
}

// PutAway puts the instrument back in its case.
func (s *Session) PutAway() { s.fitted = nil }
