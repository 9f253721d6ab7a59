package bench

import (
	"fmt"
	"math"
	"slices"

	"zanjero/core/catalogue"
	"zanjero/core/machine"
	"zanjero/core/units"
)

// fitted is the instrument in hand: what test it is for, how it is set, and
// where it stands.
type fitted struct {
	test    string
	own     Settings      // set-ups made so far, in the form of Settings
	before  machine.State // the machine when the instrument was fitted
	began   float64       // the bench clock then
	kpa     float64       // gauge, above atmosphere
	pulls   int
	gap     float64 // spark tester, mm as set
	jumped  float64 // the widest gap that was jumped
	failed  bool    // a gap was refused
	colour  string  // of the last pull
	touched bool    // meter on the winding, or cup filled
}

// Instrument is all that a person would see of the instrument in hand. It
// carries nothing that is not on its face.
type Instrument struct {
	Kind string `json:"kind"`
	Test string `json:"test"`
	// NeedlePSI of a gauge; Pulls since it was let off.
	NeedlePSI float64 `json:"needle_psi,omitempty"`
	Pulls     int     `json:"pulls,omitempty"`
	// GapMM of the tester and what the last pull showed: none, orange or blue.
	GapMM float64 `json:"gap_mm,omitempty"`
	Spark string  `json:"spark,omitempty"`
	Earth string  `json:"earth,omitempty"`
	Pull  string  `json:"pull,omitempty"`
	// Display of a meter, its range and where the leads are.
	Display string `json:"display,omitempty"`
	Range   string `json:"range,omitempty"`
	Leads   string `json:"leads,omitempty"`
	Contact string `json:"contact,omitempty"`
	// CupML in the cup after Seconds.
	CupML   float64 `json:"cup_ml,omitempty"`
	Seconds float64 `json:"seconds,omitempty"`
	// Ready: there is something on it to read.
	Ready bool `json:"ready"`
}

// Fit takes up the instrument of a test: covers, minutes, and the instrument
// as it comes out of its case. The test must be a number test of the family.
func (s *Session) Fit(id string) {
	t := s.test(id)
	s.fitted = &fitted{test: id, own: Settings{}, before: s.m.State(), began: s.minutes, gap: 4}
	s.reachFor(t)
	opened := s.m.State()
	s.fitted.before.SpiltML, s.fitted.before.EngineC, s.fitted.before.CoilC = opened.SpiltML, opened.EngineC, opened.CoilC
	s.spend(t.Minutes)
	if id == "compression-wet" {
		s.m.OilBore(s.m.WetOilML())
	}
	s.repeats[id]++
}

// AtBench says that a test can be made at the drawn bench: it is no number, or
// its instrument is drawn and the sheet has a figure to judge it by. A bowl
// drained into a cup is left out: the cup that is drawn is filled by the clock.
func AtBench(t *catalogue.Test) bool {
	return t.Kind != catalogue.KindNumber || (instrumentActs[t.Instrument] != nil && t.Figure != "" && t.Unit != "ml")
}

// InHand is the test whose instrument is in hand, or "".
func (s *Session) InHand() string {
	if s.fitted == nil {
		return ""
	}
	return s.fitted.test
}

// instrumentActs says what can be done with each kind of instrument.
var instrumentActs = map[string][]string{
	"compression-gauge": {"zero", "pull", "let-off"},
	"spark-tester":      {"gap", "earth", "pull"},
	"meter":             {"range", "null", "contact", "touch"},
	"cup":               {"run"},
}

// Act does one thing with the instrument in hand. It fails when there is none
// or the act or value is not for it.
func (s *Session) Act(act string, value any) *Problem {
	f := s.fitted
	if f == nil {
		return problem("act", "no instrument is in hand", "choose a test first")
	}
	t := s.test(f.test)
	if !slices.Contains(instrumentActs[t.Instrument], act) {
		return problem("act", fmt.Sprintf("%q cannot be done with this instrument", act), "use one of its own acts")
	}
	set := func(id string, v any) *Problem {
		if p := instrumentSpecs[id].check("value", v); p != nil {
			return p
		}
		f.own[id] = v
		return nil
	}
	switch t.Instrument + " " + act {
	case "compression-gauge zero":
		if f.pulls == 0 {
			f.own["zeroed"] = true
		}
	case "compression-gauge let-off":
		f.kpa, f.pulls = 0, 0
	case "compression-gauge pull":
		if f.pulls >= 30 {
			return problem("act", "thirty pulls are enough", "let the gauge off first")
		}
		f.kpa = s.m.GaugeStep(f.kpa, s.pullRPM(f), 0)
		if s.m.State().Controls.PlugLead != machine.LeadEarthed {
			s.m.StrainCoil(1)
		}
		f.pulls++
		f.own["pulls"] = float64(f.pulls)
	case "spark-tester gap":
		if p := set("gap_to_mm", value); p != nil {
			return p
		}
		f.gap, f.colour = value.(float64), ""
	case "spark-tester earth":
		return set("earth", value)
	case "spark-tester pull":
		if p := set("pull", value); p != nil {
			return p
		}
		s.sparkPull(f)
	case "meter range":
		return set("range", value)
	case "meter null":
		f.own["leads_nulled"], f.touched = true, false
	case "meter contact":
		return set("contact", value)
	case "meter touch":
		f.touched = true
	case "cup run":
		if p := set("seconds", value); p != nil {
			return p
		}
		f.touched = true
	}
	return nil
}

func (s *Session) pullRPM(f *fitted) float64 {
	d := s.noise.draws("pull:"+f.test, s.repeats[f.test]*40+f.pulls)
	// Only half of the spread of pulls in anger: the gauge evens it out.
	return s.m.PullRPM(0.5*d.Pull[0], f.own["pull"] == "slow")
}

// sparkPull pulls once at the gap as set. Blue with a fifth of the gap in hand,
// orange near the limit.
func (s *Session) sparkPull(f *fitted) {
	reach := s.indicate(f).value
	switch {
	case reach < f.gap:
		f.colour, f.failed = "none", true
	case reach < f.gap*1.2:
		f.colour = "orange"
	default:
		f.colour = "blue"
	}
	if reach < f.gap && f.gap > 1.3*s.m.Sheet()["spark_mm"].Low {
		s.m.StrainCoil(1) // far past the pass mark, and nowhere to jump
	}
	if reach >= f.gap {
		f.jumped = max(f.jumped, f.gap)
	}
	f.pulls++
}

// indication is what the instrument stands at, in the test's unit.
type indication struct {
	value float64
	over  bool
	setup setup
	r     reading
}

// indicate reads the instrument as it is set and as the controls now stand,
// without moving it.
func (s *Session) indicate(f *fitted) indication {
	t := s.test(f.test)
	su := asFound(s.m, t).with(f.own)
	su.gapTo = 20
	repeat := s.repeats[f.test]
	var r reading
	if t.Instrument == "compression-gauge" {
		su.pulls = f.pulls
		psi, _ := units.Convert(f.kpa, units.KPa, units.PSI)
		if !su.zeroed {
			psi += RestReadingPSI
		}
		r = reading{value: psi}
	} else {
		m := s.m.Clone()
		m.Jolt(s.noise.draws(f.test, repeat)) // once for the whole test
		r = read(m, t, su, machine.Draws{})
	}
	v := s.noise.blur(f.test, t.Instrument, repeat, r.value)
	if t.Instrument == "meter" {
		v = meterRound(v, f.test, su.meterRange)
	}
	return indication{v, r.over, su, r}
}

// Instrument is the face of the instrument in hand, or nil.
func (s *Session) Instrument() *Instrument {
	f := s.fitted
	if f == nil {
		return nil
	}
	t := s.test(f.test)
	at := s.indicate(f)
	out := &Instrument{Kind: t.Instrument, Test: f.test}
	switch t.Instrument {
	case "compression-gauge":
		out.NeedlePSI, out.Pulls, out.Ready = at.value, f.pulls, f.pulls > 0
	case "spark-tester":
		out.GapMM, out.Spark, out.Ready, out.Earth = f.gap, f.colour, f.pulls > 0, "good"
		if at.setup.earthPoor {
			out.Earth = "poor"
		}
		out.Pull = "brisk"
		if at.setup.slow {
			out.Pull = "slow"
		}
	case "meter":
		out.Range, out.Ready, out.Leads, out.Contact = at.setup.meterRange, f.touched, "shorted", "good"
		if at.setup.badContact {
			out.Contact = "poor"
		}
		ohm, over := 0.0, false
		if !at.setup.nulled {
			ohm = LeadOhm
		}
		if f.touched {
			out.Leads = "winding"
			ohm, over = at.value, at.over
			if f.test == "coil-secondary" {
				ohm *= 1000
			}
		}
		out.Display = display(ohm, over, at.setup.meterRange)
	case "cup":
		if out.Ready = f.touched; f.touched {
			out.Seconds = at.setup.seconds
			out.CupML = round(at.value*at.setup.seconds/60, 0.5)
		}
	}
	return out
}

// display writes ohms as a meter of 2000 counts does on a range.
func display(ohm float64, over bool, meterRange string) string {
	if over || ohm >= meterRanges[meterRange] {
		return "OL"
	}
	switch meterRange {
	case "200 Ω":
		return fmt.Sprintf("%.1f", ohm)
	case "2 kΩ":
		return fmt.Sprintf("%.3f", ohm/1e3)
	case "20 kΩ":
		return fmt.Sprintf("%.2f", ohm/1e3)
	}
	return fmt.Sprintf("%.1f", ohm/1e3)
}

// Read takes the reading off the instrument in hand as an observation, with
// the set-up it really had. The set-up comes back in the form of Settings, so
// that the same test can be made again under other assumptions. ok is false
// when there is nothing to read.
func (s *Session) Read() (o Observation, own Settings, ok bool) {
	f := s.fitted
	if f == nil || !s.Instrument().Ready {
		return o, nil, false
	}
	t := s.test(f.test)
	at := s.indicate(f)
	before := f.before
	before.BoreOilML = 0
	if f.test == "compression-dry" {
		before.BoreOilML = s.m.State().BoreOilML
	}
	r := at.r
	if t.Instrument == "spark-tester" {
		sheet := s.m.Sheet()[t.Figure]
		r.value = f.jumped
		r.atLeast = !f.failed && f.jumped < sheet.Low
		at.value = f.jumped
		f.own["gap_to_mm"] = max(f.jumped, 1)
		if f.failed || f.jumped >= sheet.Low {
			delete(f.own, "gap_to_mm")
		}
	}
	if t.Instrument == "cup" {
		s.m.DrawFuel(at.value * at.setup.seconds / 60)
	}
	o = Observation{Event: s.events, Test: t.ID, Kind: catalogue.KindNumber, Unit: t.Unit, Because: missed(t, at.setup, before, r), AtLeast: r.atLeast,
		Minutes: math.Round((s.minutes-f.began)*10) / 10, AtMin: s.minutes}
	o.Valid = len(o.Because) == 0
	band := "above"
	if !at.over {
		o.Value = &at.value
		band = *s.judge(t, at.value, at.setup.otherSheet)
	} else {
		o.Also = map[string]any{"over_limit": true}
	}
	o.Band, o.Skipped = &band, s.skipped(t, before)
	return o, f.own, true
}

// PutAway puts the instrument back in its case.
func (s *Session) PutAway() { s.fitted = nil }
