// Package bench is the workbench: one machine on it, the covers that are off,
// the instrument in hand, and what has been spent. An act at the bench changes
// the machine as it would a real one and shows what a person would see.
package bench

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"unsafe"

	"zanjero/core/catalogue"
	"zanjero/core/instrument"
	"zanjero/core/machine"
	"zanjero/core/reading"
	"zanjero/core/setup"
	"zanjero/core/units"
)

// Technique is how tests are set up.
type Technique string

// A master sets every test up (Ideal), or only what was set counts (AsSet).
const (
	Ideal Technique = "ideal"
	AsSet Technique = "as-set"
)

// Observation is what one test told. It is not changed once it is given out.
type Observation struct {
	Event   int              `json:"event"`
	Test    string           `json:"test"`
	Kind    string           `json:"kind"` // number or word
	Value   *float64         `json:"value"`
	Unit    string           `json:"unit"`
	Word    *string          `json:"word"`
	Band    *string          `json:"band"`
	Valid   bool             `json:"valid"`
	Because []string         `json:"invalid_because"`
	Minutes float64          `json:"minutes"`
	Also    map[string]any   `json:"also,omitempty"`
	AtLeast bool             `json:"at_least,omitempty"`
	Skipped []string         `json:"skipped,omitempty"` // precautions that were not taken
	Trace   []machine.Sample `json:"trace,omitempty"`
	// Seen is what was met of a look or a feel that is to be named, nil where it can only be told.
	Seen reading.Seen `json:"-"`
	// Plug is what an eye met of a plug that was looked at; Dim that there was little light.
	Plug *machine.PlugSeen `json:"-"`
	Dim  bool              `json:"-"`
	// Rope is what was felt of the rope where it was drawn to feel it.
	Rope *machine.Rope `json:"-"`
	// Heard is what an ear got of a run, nil of anything that makes no sound.
	Heard *machine.Heard `json:"-"`
	// Parts are all of a reading that has several, by id; the first is what the
	// fields above say.
	Parts    map[string]Part `json:"parts,omitempty"`
	FalterAt float64         `json:"-"` // minutes to falter of a long run, 0 if none
	AtMin    float64         `json:"-"` // bench clock when it was taken
}

// Part is one of several parts of a reading: a number with its unit and, where
// the sheet has a figure, its band; or a word. A number without a value is over
// the meter's limit.
type Part struct {
	Value *float64 `json:"value,omitempty"`
	Unit  string   `json:"unit,omitempty"`
	Over  bool     `json:"over_limit,omitempty"`
	Word  *string  `json:"word,omitempty"`
	Band  *string  `json:"band,omitempty"`
}

// Over says that a meter showed over-limit.
func (o *Observation) Over() bool { return o.Kind == catalogue.KindNumber && o.Value == nil }

// Session is one machine on one bench: what was done to it, what it cost and
// what is open. It is deterministic: the same seed and the same acts give the
// same observations. One goroutine at a time may use it; a clone shares nothing
// with it that either writes.
type Session struct {
	cat       *catalogue.Catalogue
	fam       *catalogue.Family
	m         *machine.Machine
	technique Technique
	noise     instrument.Noise
	repeats   map[string]int
	pinned    setup.Settings
	open      []string
	minutes   float64
	money     float64
	events    int
	fitted    *fitted
	fits      []FittedPart
	taken     map[string]bool // precautions
	found     []string        // faults that were in it when it came
	left      map[string]bool // faults that work here has left behind
	ownCare   bool            // precautions count only where they were taken
	foundOil  float64
	sawLeak   bool // a look has found a leak of fuel
	told      string
}

// SessionBytes is about how much memory a session holds that nothing has been
// done on, for whoever keeps many.
const SessionBytes = int64(unsafe.Sizeof(Session{})+unsafe.Sizeof(machine.Machine{})) + 512

// FittedPart is a part that was fitted or work that was done, and whether it
// mended anything.
type FittedPart struct {
	Act, Reach string
	Cost       float64
	Mended     []string
	Left       []string
}

// Options of a session.
type Options struct {
	Technique Technique
	// Noise lays instrument and specimen spread on every reading, from Seed.
	Noise bool
	Seed  uint64
	// FuelML in the tank; negative for three quarters of it.
	FuelML float64
	// Catalogue has a yard's own figures; nil for the standard one.
	Catalogue *catalogue.Catalogue
	// OwnCare: precautions count only where they were taken, in a master's hands too.
	OwnCare bool
	// Told is what the owner answers who is asked how it came about; empty for what the
	// machine's life makes of it.
	Told string
}

// NewSession puts a machine of a family with a sheet and hidden faults on the
// bench. Errors name what of the input cannot be.
func NewSession(family string, sheet catalogue.Sheet, amb machine.Ambient, faults []machine.FaultSpec, o Options) (*Session, error) {
	cat := cmp.Or(o.Catalogue, catalogue.Standard())
	fam := cat.Family(family)
	if fam == nil {
		return nil, fmt.Errorf("unknown family %q", family)
	}
	s := &Session{cat: cat, fam: fam, technique: o.Technique, noise: instrument.Noise{On: o.Noise, Seed: o.Seed}, repeats: map[string]int{},
		pinned: setup.Settings{}, taken: map[string]bool{}, left: map[string]bool{}, told: o.Told, ownCare: o.OwnCare}
	m, err := machine.New(family, sheet, s.noise.Specimen(), amb, faults)
	if err != nil {
		return nil, err
	}
	if o.FuelML >= 0 {
		m.SetFuel(o.FuelML)
	}
	s.m, s.foundOil = m, m.State().OilLevel
	for _, f := range faults {
		s.found = append(s.found, f.ID)
	}
	return s, nil
}

// TestOf gives a test as this machine has it, or nil.
func (s *Session) TestOf(id string) *catalogue.Test { return s.cat.TestFor(s.fam.ID, s.m.Sheet(), id) }

// Catalogue is the one whose figures it goes by. It is not to be changed.
func (s *Session) Catalogue() *catalogue.Catalogue { return s.cat }

// Clone gives an independent copy.
func (s *Session) Clone() *Session {
	c := *s
	c.m = s.m.Clone()
	c.repeats, c.pinned, c.taken, c.left = maps.Clone(s.repeats), maps.Clone(s.pinned), maps.Clone(s.taken), maps.Clone(s.left)
	c.open, c.fits = slices.Clone(s.open), slices.Clone(s.fits)
	c.fitted = s.fitted.clone()
	return &c
}

// Machine is the machine on the bench. It is for authors and assessment; what
// an apprentice may see of it comes from observations.
func (s *Session) Machine() *machine.Machine { return s.m }

// Restore puts the machine back to how it stood: m, which is the session's
// from then on.
func (s *Session) Restore(m *machine.Machine) { s.m = m }

// Minutes and Money spent so far.
func (s *Session) Minutes() float64 { return s.minutes }

// Money spent on parts so far, in the yard's money.
func (s *Session) Money() float64 { return s.money }

// Open lists the covers that are off, sorted.
func (s *Session) Open() []string { return slices.Sorted(slices.Values(s.open)) }

// Fitted lists the work done.
func (s *Session) Fitted() []FittedPart { return slices.Clone(s.fits) }

// Controls are the machine's controls as they stand.
func (s *Session) Controls() setup.Settings {
	return setup.Positions(s.m.State().Controls, s.fam, s.m.Sheet())
}

// Control moves controls; unknown ones must have been refused before. Moving
// one takes no time worth counting.
func (s *Session) Control(c setup.Settings) {
	if n, ok := c["primer"].(float64); ok {
		s.m.Prime(int(n))
	}
	s.m.SetControls(c.Onto(s.m.State().Controls))
	for _, id := range []string{"switch", "bar", "fuel_valve", "cap", "plug_lead", "kill_lead"} {
		if v, ok := c[id]; ok {
			s.pinned[id] = v
		}
	}
}

// Wait lets the machine stand.
func (s *Session) Wait(minutes float64) { s.spend(minutes) }

// ClockAt puts the bench clock to a moment, where a clock on the wall says how long it took.
func (s *Session) ClockAt(minutes float64) { s.minutes = minutes }

// spend moves the bench clock on while the machine stands.
func (s *Session) spend(minutes float64) {
	s.m.Rest(minutes)
	s.minutes += minutes
}

// Cover takes a cover off or puts it back, in its own minutes.
func (s *Session) Cover(id string, off bool) {
	if slices.Contains(s.open, id) == off {
		return
	}
	c := s.cat.Cover(id)
	if off {
		s.open = append(s.open, id)
		s.spend(c.OpenMinutes)
		s.money += c.Money
		s.m.Refit(c.Frees...)
	} else {
		s.open = slices.DeleteFunc(s.open, func(o string) bool { return o == id })
		s.spend(c.CloseMinutes)
		s.m.Refit(c.Refits...) // it goes back as it should have sat
	}
	spilt := s.m.State().SpiltML
	defer func() {
		if s.taken["catch-can"] {
			s.m.WipeUp(spilt) // it ran into the can
		}
	}()
	switch id {
	case "lineoff":
		s.m.OpenLine(off)
	case "bowlopen", "carboff":
		s.m.OpenBowl(off)
	case "filter", "muffoff":
		s.m.Uncover(slices.Contains(s.open, "filter"), slices.Contains(s.open, "muffoff"))
	}
}

// AccessMinutes is what a test's covers would take from here, minutes.
func (s *Session) AccessMinutes(t *catalogue.Test) (total float64) {
	off, on := setup.AccessOf(t)
	for _, id := range off {
		if !slices.Contains(s.open, id) {
			total += s.cat.Cover(id).OpenMinutes
		}
	}
	for _, id := range on {
		if slices.Contains(s.open, id) {
			total += s.cat.Cover(id).CloseMinutes
		}
	}
	return total
}

// AccessMoney is what opening a test's covers would use up from here, in the
// yard's money.
func (s *Session) AccessMoney(t *catalogue.Test) (total float64) {
	off, _ := setup.AccessOf(t)
	for _, id := range off {
		if !slices.Contains(s.open, id) {
			total += s.cat.Cover(id).Money
		}
	}
	return total
}

// OpenFor opens and closes what a test needs.
func (s *Session) OpenFor(t *catalogue.Test) {
	off, on := setup.AccessOf(t)
	for _, id := range on {
		s.Cover(id, false)
	}
	for _, id := range off {
		s.Cover(id, true)
	}
}

// PutBackFor puts back every cover that a run does not need off, as a master
// would before an engine is started.
func (s *Session) PutBackFor(id string) {
	for _, cover := range s.InTheWay(id) {
		s.Cover(cover, false)
	}
}

// InTheWay lists the covers that are off and that a run does not need off, in the
// order in which they came off.
func (s *Session) InTheWay(id string) []string {
	t := s.TestOf(id)
	if t.Kind != catalogue.KindRun {
		return nil
	}
	off, _ := setup.AccessOf(t)
	return slices.DeleteFunc(slices.Clone(s.open), func(cover string) bool { return slices.Contains(off, cover) })
}

// SetupFor works out the whole set-up of a test, by the session's technique.
func (s *Session) SetupFor(t *catalogue.Test, own setup.Settings) setup.Setup {
	var su setup.Setup
	if s.technique == Ideal {
		su = setup.Master(s.m, t, s.pinned)
	} else {
		su = setup.Found(s.m, t)
	}
	return su.With(own)
}

// Test makes a test from set-up to reading. The test must be one of the
// family's and its set-up checked.
func (s *Session) Test(id string, own setup.Settings) Observation {
	t := s.TestOf(id)
	began := s.minutes
	before := s.m.State()
	s.Prepare(t, own)
	// What opening it up has spilt counts, and how far it has cooled meanwhile.
	opened := s.m.State()
	before.SpiltML, before.EngineC, before.CoilC = opened.SpiltML, opened.EngineC, opened.CoilC
	su := s.SetupFor(t, own)
	s.repeats[id]++
	o := s.observe(t, su, before, began)
	return o
}

// TestAs makes a test that everything is opened for with a set-up that is given whole.
func (s *Session) TestAs(t *catalogue.Test, su setup.Setup) Observation {
	s.repeats[t.ID]++
	return s.observe(t, su, s.m.State(), s.minutes)
}

// Prepare opens and closes what a test needs; a master also makes the engine
// ready.
func (s *Session) Prepare(t *catalogue.Test, own setup.Settings) {
	s.OpenFor(t)
	if s.technique == Ideal {
		s.MakeReady(t, own)
	}
}

// MakeReady is what a master does before a test, opened up: a block comes out
// before anything is cranked, a bowl is let fill and a flooded engine left to dry
// before it is started.
func (s *Session) MakeReady(t *catalogue.Test, own setup.Settings) {
	if t.Cranks && s.taken["block-driven"] {
		s.Do("block-driven") // out it comes
	}
	if setup.Starts(t) {
		s.letBowlFill()
		s.clearFlooded(t, own)
	}
}

// MasterSetup is how a master would set a test up on this machine, with the
// controls that somebody has moved left where they are.
func (s *Session) MasterSetup(t *catalogue.Test) setup.Setup { return setup.Master(s.m, t, s.pinned) }

// FoundSetup is how a test is set up by somebody who sets nothing.
func (s *Session) FoundSetup(t *catalogue.Test) setup.Setup { return setup.Found(s.m, t) }

// letBowlFill waits a minute at most for a bowl that fills by itself, as a
// master would after the carburettor has been off.
func (s *Session) letBowlFill() {
	for range 2 {
		if !s.m.BowlFilling() {
			return
		}
		s.spend(0.5)
	}
}

// clearFlooded cranks a flooded engine clear before an attempt, as a master
// would: choke and throttle wide open, then a short wait.
func (s *Session) clearFlooded(t *catalogue.Test, own setup.Settings) {
	if _, set := own["choke"]; set || t.ID == "dose-intake" {
		return
	}
	for range 4 {
		if s.m.State().Wet() <= setup.Soaked {
			return
		}
		s.spend(3)
	}
}

// observe reads a test under a set-up and lays the instrument's noise on it.
// began is the bench clock and before the state when the act began.
func (s *Session) observe(t *catalogue.Test, su setup.Setup, before machine.State, began float64) Observation {
	repeat := s.repeats[t.ID]
	was := s.m.State().Controls
	s.m.SetControls(su.Controls)
	d := s.noise.Draws(t.ID, repeat)
	s.m.Jolt(d)
	su.Listen = true
	r := reading.Read(s.m, t, su, d)
	after := s.m.State().Controls
	if after == su.Controls {
		s.m.SetControls(was)
	}
	o := Observation{Event: s.events, Test: t.ID, Kind: "word", Unit: t.Unit, Because: reading.Missed(t, su, before, r), Also: r.Also, Trace: r.Trace,
		Heard: r.Heard, Dim: su.Dim && t.Kind == catalogue.KindLook, FalterAt: r.Value, AtLeast: r.AtLeast, Skipped: s.skipped(t, before)}
	s.leftBehind()
	o.Valid = len(o.Because) == 0
	if t.Kind == catalogue.KindNumber {
		s.number(&o, t, su, r, repeat)
	} else {
		word := r.Word
		if r.Chances != nil {
			word = s.noise.Pick(t.ID, repeat, r.Chances, r.Word, t.Words)
		}
		if s.told != "" && t.ID == reading.AskHistory {
			word = s.told
		}
		o.Word = &word
		if t.ID == "plug-look" {
			plug := s.m.PlugSeen(word)
			o.Plug = &plug
		}
		if t.ID == "pull-feel" {
			rope := s.m.Rope(word)
			o.Rope = &rope
		}
		if t.ID == "run-listen" && word != "no-run" {
			heard := s.m.Listen(word)
			o.Heard = &heard
		}
		s.sawLeak = s.sawLeak || word == "weeps"
		if r.Grade != nil && t.Named() {
			if o.Also == nil {
				o.Also = map[string]any{}
			}
			o.Also["shown"] = r.Grade.Shown(word) // stands in kept ledgers, which are replayed by it
		}
	}
	s.parts(&o, t, su, r, repeat)
	if t.Named() {
		words := map[string]string{}
		for id, p := range o.Parts {
			if p.Word != nil {
				words[id] = *p.Word
			}
		}
		o.Seen = r.Seen(s.m, t.ID, *o.Word, words)
	}
	own := t.Minutes
	if t.Long {
		own = 0
	}
	if t.Kind == catalogue.KindRun {
		// The machine moved itself on while it ran.
		s.minutes += r.Minutes
	}
	s.spend(own)
	if t.Kind == catalogue.KindRun {
		s.m.JustRan()
	}
	o.Minutes, o.AtMin = math.Round((s.minutes-began)*10)/10, s.minutes
	return o
}

func (s *Session) number(o *Observation, t *catalogue.Test, su setup.Setup, r reading.Reading, repeat int) {
	o.Kind, o.FalterAt = catalogue.KindNumber, 0
	if r.Over {
		if o.Also == nil {
			o.Also = map[string]any{}
		}
		o.Also["over_limit"] = true
		if t.Figure != "" {
			above := "above"
			o.Band = &above
		}
		return
	}
	if len(r.Unmet) > 0 { // there is nothing to blur or to judge
		o.Value = &r.Value
		return
	}
	v, _ := s.noise.Blur(t.ID, t.Instrument, repeat, r.Value)
	if t.Instrument == "meter" {
		v = meterRound(v, t.ID, su.MeterRange)
	}
	o.Value = &v
	o.Band = s.judge(t, v*r.JudgedAs(), su.OtherSheet)
}

// parts reads the parts of a reading that has several: the first as it has been
// read, the others with the noise of their own.
func (s *Session) parts(o *Observation, t *catalogue.Test, su setup.Setup, r reading.Reading, repeat int) {
	if len(t.Parts) == 0 || len(r.Unmet) > 0 {
		return
	}
	o.Parts = map[string]Part{t.Parts[0].ID: {o.Value, o.Unit, o.Over(), o.Word, o.Band}}
	for i := range t.Parts[1:] {
		p := &t.Parts[1+i]
		x, key := r.Parts[p.ID], t.ID+"/"+p.ID
		seen := Part{Unit: p.Unit, Over: x.Over}
		switch {
		case !p.IsNumber():
			word := s.called(t, p, x, repeat)
			seen.Word = &word
		case !x.Over:
			v := s.noise.BlurLike(key, t.AccuracyLike(p), t.Instrument, repeat, x.Value)
			if t.Instrument == "meter" {
				v = meterRound(v, t.ID, su.MeterRange)
			}
			seen.Value = &v
			if f, ok := s.m.Sheet()[p.Figure]; ok {
				band := f.Judge(v)
				seen.Band = &band
			}
		}
		o.Parts[p.ID] = seen
	}
}

// called is the word that an eye or ear gives a part.
func (s *Session) called(t *catalogue.Test, p *catalogue.Part, x reading.Reading, repeat int) string {
	return s.noise.Pick(t.ID+"/"+p.ID, repeat, x.Chances, x.Word, p.Words)
}

// judge holds a value against the sheet's figure, where the sheet has one; or
// against that of another machine, whose sheet lay on the bench.
func (s *Session) judge(t *catalogue.Test, v float64, other bool) *string {
	f, ok := s.m.Sheet()[t.Figure]
	if !ok || t.Figure == "" {
		return nil
	}
	if other {
		i := slices.IndexFunc(s.cat.Families, func(f catalogue.Family) bool { return f.ID == s.fam.ID })
		for k := range s.cat.Families {
			if g, ok := s.cat.Families[(i+1+k)%len(s.cat.Families)].Sheet[t.Figure]; ok {
				f = g
				break
			}
		}
	}
	band := f.Judge(v)
	return &band
}

// meterRound rounds to one of the meter's 2000 counts on a range.
func meterRound(v float64, test, meterRange string) float64 {
	step := setup.MeterRanges[meterRange] / 2000
	if test == "coil-secondary" {
		step /= 1000
	}
	return units.Round(v, step)
}

// Repair does a kind of work at a reach: access, minutes, money, and whatever
// of the machine it mends, by its chance of success when there is noise. It
// says whether the work took, which an apprentice learns only by testing.
func (s *Session) Repair(act, reach, grade string) (r catalogue.Repair, took bool) {
	r = s.cat.Repair(act, reach)
	r.Cost = RepairCost(act, reach, grade)
	if grade == GradeCopy && act == "replace" {
		r.Success *= copyFits
	}
	key := "repair:" + act + "@" + reach
	s.repeats[key]++
	took = !s.noise.On || s.noise.Source(key, s.repeats[key]).Float64() < r.Success
	luck := s.noise.Source("leaves:"+key, s.repeats[key])
	s.RepairAs(r, took, func(l catalogue.Leaving) bool {
		u := luck.Float64()
		return (s.noise.On && u < l.Chance) || (!s.noise.On && Likely(l))
	})
	s.leftBehind()
	return r, took
}

// RepairCost is the price of the parts of a kind of work at a reach.
func RepairCost(act, reach, grade string) float64 {
	cost := catalogue.Standard().Repair(act, reach).Cost
	if grade == GradeCopy && act == "replace" {
		cost *= copyCost
	}
	return cost
}

// leftBehind notes the faults that were not in the machine when it came.
func (s *Session) leftBehind() {
	now := s.m.Faults()
	if len(now) == 0 {
		return
	}
	for _, f := range now {
		if !slices.Contains(s.found, f.ID) && !s.left[f.ID] {
			s.left[f.ID] = true
			if n := len(s.fits); n > 0 {
				s.fits[n-1].Left = append(slices.Clone(s.fits[n-1].Left), f.ID)
			}
		}
	}
}

// Grades of part. A copy costs less and sometimes does not fit, lacks something
// or is wrong (common practice; sizes chosen by us).
const (
	GradeMaker = "maker"
	GradeCopy  = "copy"
	copyCost   = 0.6
	copyFits   = 0.88
)

// Likely says that work leaves this behind more often than not.
func Likely(l catalogue.Leaving) bool { return l.Chance > 0.5 }

// RepairAs does the work with its success, and what it leaves behind, settled.
func (s *Session) RepairAs(r catalogue.Repair, took bool, leaves func(catalogue.Leaving) bool) {
	spent := s.money // the work brings what it opens up anew
	for _, id := range r.Access {
		if !slices.Contains(s.fam.Covers, id) {
			id = "carboff" // what another family reaches through its bowl
		}
		if slices.Contains(s.fam.Covers, id) {
			s.Cover(id, true)
		}
	}
	s.spend(r.Minutes)
	s.money = spent + r.Cost
	if r.Reach == "jets" && took && r.Act != "adjust" {
		s.m.CleanJet()
	}
	part := FittedPart{Act: r.Act, Reach: r.Reach, Cost: r.Cost}
	if took {
		for _, f := range s.m.Faults() {
			if slices.Contains(r.Mends, f.ID) {
				part.Mended = append(part.Mended, f.ID)
			}
		}
		s.m.Mend(r.Mends...)
	}
	s.fits = append(s.fits, part)
	for _, l := range r.Leaves {
		if leaves(l) && slices.Contains(s.cat.Fault(l.Fault).Families, s.fam.ID) {
			s.m.Inflict(machine.FaultSpec{ID: l.Fault, Severity: l.Severity})
		}
	}
}

// Settle ends a test that was foreseen: the minutes that it ran and its own
// pass, and the controls go back from set to was unless the test itself has
// moved them.
func (s *Session) Settle(t *catalogue.Test, set, was machine.Controls, ran float64) {
	s.minutes += ran
	if s.m.State().Controls == set {
		s.m.SetControls(was)
	}
	if !t.Long {
		s.spend(t.Minutes)
	}
	if t.Kind == catalogue.KindRun {
		s.m.JustRan()
	}
}

// Glance gives a copy that one test may be foreseen on. What a test does not
// touch is shared with the session, so nothing else may be done on it.
func (s *Session) Glance() *Session {
	c := *s
	c.m, c.open, c.taken = s.m.Clone(), slices.Clone(s.open), maps.Clone(s.taken)
	return &c
}

// Number says which event of a ledger what is done next belongs to.
func (s *Session) Number(event int) { s.events = event }

// Family is the machine's family. It is the catalogue's own and not to be
// changed.
func (s *Session) Family() *catalogue.Family { return s.fam }

// AsMaster gives a copy on which tests are set up as a master would, whatever
// the controls stand at; a switch somebody has moved stays where it is.
func (s *Session) AsMaster() *Session {
	c := s.Clone()
	c.technique, c.fitted = Ideal, nil
	c.ownCare = false
	moved, ok := c.pinned["switch"]
	c.pinned = setup.Settings{}
	if ok {
		c.pinned["switch"] = moved
	}
	return c
}

// Ideal says that tests are set up as a master would.
func (s *Session) Ideal() bool { return s.technique == Ideal }
