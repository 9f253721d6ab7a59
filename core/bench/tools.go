package bench

import (
	"fmt"
	"slices"

	"zanjero/core/machine"
	"zanjero/core/problem"
	"zanjero/core/reading"
	"zanjero/core/setup"
	"zanjero/core/units"
)

// A tool is a kind of instrument: what can be done with it besides setting it
// up, and what its face shows. do gets only acts of its own.
type tool struct {
	acts []string
	do   func(s *Session, f *fitted, act string, value any) *problem.Problem
	face func(s *Session, f *fitted, at indication, out *Instrument)
}

// once is a tool that is used with a single act and then shows its reading.
func once(act string, face func(s *Session, f *fitted, at indication, out *Instrument)) tool {
	return tool{[]string{act}, func(_ *Session, f *fitted, _ string, _ any) *problem.Problem { f.used = true; return nil }, face}
}

// runOnce is a tool whose single act runs the engine or empties something, so
// it is done on the machine and remembered.
func runOnce(act string, face func(s *Session, f *fitted, at indication, out *Instrument)) tool {
	return tool{[]string{act}, func(s *Session, f *fitted, _ string, _ any) *problem.Problem {
		s.runFor(f)
		return nil
	}, face}
}

// needle stands at rest until the instrument has been used.
func needle(_ *Session, f *fitted, at indication, out *Instrument) {
	if f.used {
		out.Needle = at.value
	}
}

// ActsWith lists what can be done with an instrument besides setting it up; not
// to be changed.
func ActsWith(instrument string) []string { return tools[instrument].acts }

// tools by the instrument that a test names.
var tools = map[string]tool{
	"compression-gauge": {[]string{"zero", "pull", "let-off", "oil", "spin"}, gaugeAct, func(_ *Session, f *fitted, at indication, out *Instrument) {
		out.Needle, out.Pulls, out.Second, out.Ready = at.value, f.pulls, f.poured, f.pulls > 0
	}},
	"spark-tester": {[]string{"gap", "pull"}, testerAct, func(_ *Session, f *fitted, _ indication, out *Instrument) {
		out.GapMM, out.Spark, out.Ready = f.gap, f.colour, f.pulls > 0
	}},
	"meter": {[]string{"null", "touch"}, func(_ *Session, f *fitted, act string, _ any) *problem.Problem {
		if f.used = act == "touch"; !f.used {
			f.own["leads_nulled"] = true
		}
		return nil
	}, meterFace},
	"cup": {[]string{"run"}, func(s *Session, f *fitted, _ string, value any) *problem.Problem {
		if f.test == "bowl-drain" {
			s.runFor(f)
			return nil
		}
		if value != nil {
			if p := f.set("seconds", value); p != nil {
				return p
			}
		}
		f.used = true
		return nil
	}, func(_ *Session, f *fitted, at indication, out *Instrument) {
		if !out.Ready {
			return
		}
		if out.Needle = units.Round(at.value, 0.5); f.test == "fuel-flow" {
			out.Seconds, out.Needle = at.setup.Seconds, units.Round(at.value*at.setup.Seconds/60, 0.5)
		}
	}},
	"leak-down-pair": once("open", func(_ *Session, f *fitted, at indication, out *Instrument) {
		out.Second = at.setup.SupplyPSI
		if out.Needle = 0; f.used {
			out.Needle = at.value
		}
	}),
	"tachometer": runOnce("start", func(_ *Session, f *fitted, at indication, out *Instrument) {
		if out.Display = "----"; f.used {
			out.Display = fmt.Sprintf("%.0f", at.value)
		}
	}),
	"stopwatch": runOnce("let-go", func(_ *Session, f *fitted, at indication, out *Instrument) {
		if out.Seconds = at.value; f.used && at.over {
			out.Heard = "runs-on"
		}
	}),
	"gauge": feelers, "feeler": feelers,
	"degree-mark":   once("turn", needle),
	"torque-wrench": once("pull", needle),
	"steel-rule":    once("lay", needle),
	"jar": once("shake", func(_ *Session, f *fitted, at indication, out *Instrument) {
		// 80 ml of fuel on 20 ml of water: what is ethanol goes over to the water.
		out.Second, out.Needle = jarWaterML, jarWaterML
		if f.used {
			out.Needle = jarWaterML + at.value/100*jarFuelML
		}
	}),
	"line-gauge": pumped, "crankcase-gauge": pumped,
	"pop-off-gauge": {[]string{"squeeze"}, func(s *Session, f *fitted, _ string, value any) *problem.Problem {
		kpa, ok := value.(float64)
		if !ok || kpa < 1 || kpa > 25 {
			return problem.New("value", "bench.no-squeeze", "value", problem.Show(value))
		}
		if f.used {
			return problem.New("act", "bench.needle-let-go")
		}
		if f.kpa += kpa; f.kpa >= s.indicate(f).value {
			f.used = true
		}
		return nil
	}, func(_ *Session, f *fitted, at indication, out *Instrument) {
		if out.Needle, out.Second = f.kpa, f.kpa; f.used {
			out.Second, out.Needle = at.value, 0.35*at.value
			out.Heard = "lets-go"
		}
	}},
	"screw": {[]string{"turn"}, func(s *Session, f *fitted, _ string, value any) *problem.Problem {
		by, ok := value.(float64)
		if !ok || by < 0.125 || by > 1 {
			return problem.New("value", "bench.no-turn", "value", problem.Show(value))
		}
		to := s.indicate(f).value
		if f.used { // it has seated, and is driven on
			f.own["seated"] = "hard"
			f.turned = s.indicate(f).value
			return nil
		}
		f.turned = min(f.turned+by, to)
		f.used = f.turned >= to
		return nil
	}, func(_ *Session, f *fitted, _ indication, out *Instrument) {
		if out.Turns = f.turned; f.used {
			out.Heard = "seats"
		}
	}},
}

// What is poured into the jar, ml.
const (
	jarWaterML = 20
	jarFuelML  = 80
)

// feelers are tried one blade at a time: one that is thinner goes, one that
// fits drags, a thicker one stops.
var feelers = tool{[]string{"blade"}, func(s *Session, f *fitted, _ string, value any) *problem.Problem {
	mm, ok := value.(float64)
	if !ok || !slices.Contains(Blades, mm) {
		return problem.New("value", "bench.no-blade-mm", "value", problem.Show(value))
	}
	f.blade, f.used = mm, true
	return nil
}, func(_ *Session, f *fitted, at indication, out *Instrument) {
	if !f.used {
		return
	}
	out.BladeMM = f.blade
	switch {
	case f.blade > at.value+bladeGrip:
		out.Heard = "stops"
	case f.blade > at.value-bladeGrip:
		out.Heard = "drags"
	default:
		out.Heard = "goes"
	}
}}

// Blades is the set of feelers and wires on the bench, mm; bladeGrip is how
// near one must be to drag.
var Blades = []float64{0.03, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.33, 0.35, 0.40, 0.45, 0.50, 0.55, 0.60, 0.65, 0.70,
	0.75, 0.80, 0.85, 0.90, 1.00, 1.10, 1.20}

const bladeGrip = 0.015

// pumped is a gauge on a hand pump: it is pumped up, shut, and read after a
// minute.
var pumped = tool{[]string{"pump", "hold"}, func(_ *Session, f *fitted, act string, _ any) *problem.Problem {
	if act == "pump" {
		f.kpa, f.used = pumpKPa, false
		return nil
	}
	if f.kpa == 0 {
		return problem.New("act", "bench.nothing-hold")
	}
	f.used = true
	return nil
}, func(_ *Session, f *fitted, at indication, out *Instrument) {
	if out.Needle, out.Second = f.kpa, f.kpa; f.used {
		out.Needle, out.Seconds = at.value, 60
	}
}}

// pumpKPa is what a line or crankcase is pumped up to.
const pumpKPa = 50

func gaugeAct(s *Session, f *fitted, act string, value any) *problem.Problem {
	switch act {
	case "zero":
		if f.pulls == 0 {
			f.own["zeroed"] = true
		}
	case "let-off":
		f.kpa, f.pulls = 0, 0
	case "spin":
		s.m.SpinOut()
		f.own["purged"] = true
	case "oil":
		if p := f.set("oil_drops_ml", value); p != nil {
			return p
		}
		f.poured = value.(float64)
		s.m.OilBore(f.poured)
	case "pull":
		if f.pulls >= 30 {
			return problem.New("act", "bench.thirty-pulls-enough")
		}
		su := setup.Found(s.m, s.TestOf(f.test)).With(f.own)
		if s.m.TurnsByRope() {
			f.kpa = s.m.GaugeStep(f.kpa, s.pullRPM(f), su.HoseML())
		}
		if s.m.State().Controls.PlugLead != machine.LeadEarthed {
			s.m.StrainCoil(1)
		}
		f.pulls++
		f.own["pulls"] = float64(f.pulls)
	}
	return nil
}

func testerAct(s *Session, f *fitted, act string, value any) *problem.Problem {
	if act == "gap" {
		if p := f.set("gap_to_mm", value); p != nil {
			return p
		}
		f.gap, f.colour = value.(float64), ""
		return nil
	}
	if value != nil {
		if p := f.set("pull", value); p != nil {
			return p
		}
	}
	s.sparkPull(f)
	return nil
}

func (s *Session) pullRPM(f *fitted) float64 {
	d := s.noise.Draws("pull:"+f.test, s.repeats[f.test]*40+f.pulls)
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

func meterFace(_ *Session, f *fitted, at indication, out *Instrument) {
	out.Leads = "shorted"
	out.CoilC, _ = at.r.Also["coil_c"].(float64)
	ohm, over := 0.0, false
	if !at.setup.Nulled {
		ohm = reading.LeadOhm
	}
	if f.used {
		out.Leads = "winding"
		ohm, over = at.value, at.over
		if f.test == "coil-secondary" {
			ohm *= 1000
		}
	}
	out.Display = display(ohm, over, at.setup.MeterRange)
}

// display writes ohms as a meter of 2000 counts does on a range.
func display(ohm float64, over bool, meterRange string) string {
	if over || ohm >= setup.MeterRanges[meterRange] {
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

// gaugeReading is what the gauge has been pumped up to.
func gaugeReading(f *fitted, su setup.Setup) reading.Reading {
	psi, _ := units.Convert(f.kpa, units.KPa, units.PSI)
	if !su.Zeroed {
		psi += reading.RestReadingPSI
	}
	return reading.Reading{Value: psi}
}
